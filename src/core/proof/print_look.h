/// \file
/// What the plates will look like on the stock, estimated.
/// Layer: core/proof. May use core/job, core/plates, core/colour.
#pragma once

#include "core/colour/process_profile.h"
#include "core/job/job.h"
#include "core/plates/plate_renderer.h"

#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// One plate of a print.
struct PrintedInk
{
    int process = -1; ///< 0 to 3 for cyan, magenta, yellow, black; −1 for a spot
    Lab solid;        ///< of a spot, over white
    bool shown = true;
};

/// The inks of a renderer as the job prints them; inks that the job does not print are not shown.
[[nodiscard]] std::vector<PrintedInk> printed_inks(const std::vector<std::string> &inks, const Job &job);

/// Shows plates as a print: process inks together through the printing condition's profile, relative
/// to its paper; each spot as a transparent film over that, tints mixed on the square root of
/// reflectance (Yule–Nielsen n = 2) in linear sRGB; all over the stock. Inks that cover (white,
/// metallic) are shown as if they were transparent.
class PrintLook
{
public:
    /// \param stock  what is printed on; {100, 0, 0} is the ideal white sheet
    /// \param checker  pixels of a square when the stock is clear film, shown with a checker of the
    ///                 stock's colour and a darker one; 0 for plain stock
    PrintLook(std::vector<PrintedInk> inks, const Lab &stock, const ProcessProfile &condition,
              int checker = 0);

    /// \param pixels  width × height words 0xFFRRGGBB, rows top down without padding; tile planes in
    ///                the order of the inks
    void compose(const PlateTile &tile, std::span<std::uint32_t> pixels) const;

private:
    struct Film
    {
        std::size_t plate;
        std::vector<float> left; ///< what each of 256 tones leaves of linear red, green, blue
    };
    std::vector<PrintedInk> m_inks;
    std::vector<Film> m_films;
    std::array<std::array<float, 3>, 2> m_stock{}; ///< linear; the second differs for clear film
    int m_checker = 0;
    const ProcessProfile *m_condition;
    bool m_process = false;
};

} // namespace bichrom
