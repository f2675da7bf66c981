/// \file
/// Plates shown as a print, from the stock up.
/// Layer: core/proof. May use core/colour, core/print, core/job, core/line.
#pragma once

#include "core/colour/process_profile.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/print/print_stack.h"

#include <array>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Linear sRGB of a unit of reflectance in each band: IEC 61966-2-1 with Bradford's adaptation from D50.
[[nodiscard]] const std::array<std::array<float, 3>, band_count> &band_light();

/// How a print is shown.
struct PrintView
{
    int checker = 8;                 ///< pixels of a square of the pattern that clear film is shown with, its
                                     ///< colour and a darker one; 0 = without
    std::vector<std::string> hidden; ///< inks that are not shown
    bool marks = true;               ///< with what no colour tells; without, for colours that are compared
};

/// Shows plates as a print (print_stack.h), with what no colour tells: gloss as stripes, metal as a calm
/// gradient, since no metal can be predicted, and dots on an ink that is hardly to be seen on what is under
/// it (about ΔE 10).
class PrintLook
{
public:
    /// \param planes  the inks of the tiles that will be shown; those that the job does not print are not
    /// seen
    PrintLook(const Job &job, const std::vector<std::string> &planes, const ProcessProfile &condition,
              const PrintView &view = {});

    /// \param pixels  width × height words 0xFFRRGGBB, rows top down without padding
    void compose(const PlateTile &tile, std::span<std::uint32_t> pixels) const;

    /// Makes what all looks under \p condition share, some tenths of a second of work, so that the first one,
    /// and whoever else asks for a print's colour, need not wait.
    static void prepare(const ProcessProfile &condition);

private:
    enum class Surface
    {
        Plain,
        Sheen,
        Metal
    };
    void mark(Surface surface, const PlateTile &tile, std::size_t start, PrintStack::Pixels &pixels) const;

    PrintStack m_stack;
    std::vector<Surface> m_surfaces;          ///< by ink of the stack
    std::array<float, band_count> m_darker{}; ///< roots of the checker's other squares
    int m_checker = 0;
    bool m_marks = true;
};

} // namespace bichrom
