/// \file
/// Plates shown as a print, from the stock up.
/// Layer: core/proof. May use core/colour, core/job, core/plates.
#pragma once

#include "core/colour/ink_film.h"
#include "core/colour/process_profile.h"
#include "core/job/job.h"
#include "core/plates/plate_renderer.h"

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// One plate of a print.
struct PrintedInk
{
    /// What a film does not tell, drawn over the estimate.
    enum class Surface
    {
        Plain,
        Sheen, ///< gloss: stripes
        Metal  ///< a calm gradient, since no metal can be predicted
    };

    int process = -1; ///< 0 to 3 for cyan, magenta, yellow, black; −1 for an ink by its film
    bool shown = true;
    int order = 0;      ///< of printing, the lowest first
    PrintedLayer layer; ///< of an ink by its film
    ToneCurve gain;     ///< from tone to coverage
    Surface surface = Surface::Plain;
};

/// A print to be shown.
struct PrintSetup
{
    std::vector<PrintedInk> inks; ///< in the order of a tile's planes
    Lab stock{100, 0, 0};
    double floor = 0; ///< reflection of the surface itself (ink_film.h)
    int checker = 0;  ///< pixels of a square when the stock is clear film, shown with a checker of its colour
                      ///< and a darker one; 0 for plain stock
    double transfer = wet_transfer;        ///< exponent of a film printed on wet ink
    std::optional<Spectrum> reflectance{}; ///< of the stock, where it was measured
};

/// The inks of a renderer as the job prints them on its stock; inks that it does not print are not shown.
/// \param checker  pixels of a square, should the stock be clear
[[nodiscard]] PrintSetup print_setup(const std::vector<std::string> &inks, const Job &job, int checker = 8);

/// Shows plates as a print: each ink a film over what is under it (ink_film.h), in printing order; process
/// inks that follow each other together, through the printing condition's profile relative to its paper.
/// An ink that is hardly to be seen on what is under it (about ΔE 10) is dotted.
class PrintLook
{
public:
    PrintLook(const PrintSetup &setup, const ProcessProfile &condition);

    /// \param pixels  width × height words 0xFFRRGGBB, rows top down without padding
    void compose(const PlateTile &tile, std::span<std::uint32_t> pixels) const;

    /// Makes what all looks share, some tenths of a second of work, so that the first one need not wait.
    static void prepare();

private:
    struct Step; ///< a film, or a run of process inks
    struct Chunk;
    void film(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const;
    void process(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const;
    void surface(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const;

    struct Step
    {
        int plate = -1;                                  ///< of a film
        std::array<int, 4> run = {-1, -1, -1, -1};       ///< plates of process inks; −1 = none
        std::array<float, band_count> body{}, through{}; ///< of a film
        std::array<float, band_count> wet_through{};
        std::array<float, 256> coverage{}; ///< by tone
        int hits = 1;
        bool wet = false, dries = true;
        PrintedInk::Surface look = PrintedInk::Surface::Plain;
    };
    std::vector<Step> m_steps;
    std::array<std::array<float, band_count>, 2>
        m_stock{}; ///< square roots; the second differs for clear film
    std::array<float, 256>
        m_passed{}; ///< by root of the profile's reflectance: what process ink lets through
    float m_floor = 0;
    int m_checker = 0;
    const ProcessProfile *m_condition;
};

} // namespace bichrom
