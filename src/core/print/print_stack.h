/// \file
/// What layers of ink look like on their stock: the one place where plates become a colour.
/// Layer: core/print. May use core/colour, core/base.
#pragma once

#include "core/colour/ink_film.h"
#include "core/colour/process_profile.h"
#include "core/colour/tone_curve.h"

#include <array>
#include <cstdint>
#include <optional>
#include <span>
#include <vector>

namespace bichrom {

/// What ink is printed on, as it enters the model.
struct StackGround
{
    Bands stock{};       ///< without the floor; of clear film what lies behind it
    double floor = 0;    ///< reflection of the surface itself (ink_film.h)
    double transfer = 1; ///< exponent of a film printed on wet ink
    bool behind = false; ///< printed on the back of a film and seen through it: the inks are given in order
                         ///< of sight, and of two wet ones the first took less
};

/// One ink of a stack. Inks that do not print, and those not to be seen, are left out of it.
struct StackInk
{
    std::size_t plane = 0; ///< where its tones stand
    int process = -1;      ///< 0 to 3 for cyan, magenta, yellow, black; −1 for an ink by its film
    InkFilm film;          ///< of an ink by its film
    int hits = 1;          ///< 1 to 3
    int wet_group = -1;    ///< films of one number lie wet on each other; −1 = dry
    ToneCurve gain;        ///< from tone to coverage
};

/// Immutable; may be used from any thread. Process inks that follow each other go together, through the
/// printing condition's profile relative to its paper; each other ink is a film over what is under it.
class PrintStack
{
public:
    /// \param inks  from the stock, or what lies behind the film, to the eye
    PrintStack(const StackGround &ground, std::vector<StackInk> inks, const ProcessProfile &condition);
    /// The same with process inks that were measured otherwise; null where there are none.
    PrintStack(const StackGround &ground, std::vector<StackInk> inks, const ProcessRoots *process);

    /// Colours from the stock up.
    struct Colours
    {
        Lab stock;              ///< bare
        std::vector<Lab> after; ///< with each ink of the stack and all under it
        [[nodiscard]] const Lab &print() const { return after.empty() ? stock : after.back(); }
    };
    /// \param tones  by plane, 0 to 1; missing ones count as bare
    [[nodiscard]] Colours at(std::span<const double> tones) const;

    /// The print alone.
    [[nodiscard]] Lab colour(std::span<const double> tones) const;
    /// Planes that slopes are told of: the first.
    static constexpr std::size_t most_slopes = 8;
    /// \param slopes  by plane, most_slopes at most: how the colour changes with the coverage of its ink, as
    ///                differences of L*, a*, b*; with the tone of a process ink
    [[nodiscard]] Lab colour(std::span<const double> tones, std::span<Lab> slopes) const;

    /// A film, or a run of process inks.
    struct Step
    {
        int ink = -1;                              ///< of the stack; −1 for a run
        std::array<int, 4> run = {-1, -1, -1, -1}; ///< inks of the stack; −1 = none
    };
    [[nodiscard]] std::span<const Step> steps() const { return m_steps; }
    [[nodiscard]] const StackInk &ink(std::size_t number) const { return m_inks[number]; }

    /// Pixels while ink is laid on them.
    struct Pixels
    {
        static constexpr std::size_t most = 512;
        std::size_t count = 0;
        std::array<std::array<float, most>, band_count> dry;   ///< root of reflectance of what is dry
        std::array<std::array<float, most>, band_count> inked; ///< and of what carries wet ink
        std::array<float, most> bare;                          ///< share without wet ink
        std::array<float, most> cover;                         ///< of the film laid last
        std::array<float, most> change; ///< it made in the root of reflectance, the largest of all bands
        bool wet = false;               ///< some ink is wet

        std::array<std::uint8_t, most * 4> cmyk;
        std::array<float, most * band_count> roots;
    };
    /// Begins with \p count pixels of bare stock.
    void begin(Pixels &pixels, std::size_t count) const;
    /// Lays one of steps(). \param tones  by plane, the first pixel's; null where a plane is missing
    /// \return false when no pixel has any of it; \c cover and \c change are of a film only
    bool lay(const Step &step, std::span<const std::uint8_t *const> tones, Pixels &pixels) const;
    /// Reflectance of pixel \p i, with the floor.
    [[nodiscard]] std::array<float, band_count> reflectance(const Pixels &pixels, std::size_t i) const
    {
        std::array<float, band_count> out{};
        for (std::size_t k = 0; k < band_count; ++k) {
            const float root =
                pixels.bare[i] * pixels.dry[k][i] + (1.0f - pixels.bare[i]) * pixels.inked[k][i];
            out[k] = root * root + m_floor;
        }
        return out;
    }

private:
    [[nodiscard]] double tone_of(int ink, std::span<const double> tones) const;
    bool lay_film(std::size_t ink, const std::uint8_t *tones, Pixels &pixels) const;
    bool lay_run(const Step &step, std::span<const std::uint8_t *const> tones, Pixels &pixels) const;

    StackGround m_ground;
    std::vector<StackInk> m_inks;
    std::vector<std::array<Bands, 3>> m_films;      ///< body, through, wet through, by ink
    std::vector<bool> m_dries;                      ///< by ink: what lies under it has dried
    std::vector<std::array<float, 256>> m_coverage; ///< by ink and tone
    std::vector<Step> m_steps;
    std::array<float, band_count> m_stock{}; ///< roots
    float m_floor = 0;
    const ProcessRoots *m_process; ///< null where there are no process inks
};

} // namespace bichrom
