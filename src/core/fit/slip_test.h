/// \file
/// What shows when plates move against each other.
/// Layer: core/fit. May use core/job, core/line, core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/line/plate_line.h"
#include "core/raster/bit_plane.h"

#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// Where the plates of a page hold ink.
struct SlipPlates
{
    Dpi resolution{600};
    int width = 0, height = 0;
    std::vector<std::string> inks;
    /// Of those that a slip shows, in printing order, not varnish, not technical: at least a tenth.
    std::vector<BitPlane> plates;
    /// At least a hundredth: where a plate fades out it uncovers nothing.
    std::vector<BitPlane> traces;
    std::vector<bool> white; ///< by plate: a base, that shows beside the colours on it
};

/// The plates of the page as they print, traps and all.
/// \param resolution  600 dpi tells areas to 1 or 2 percent
/// Errors as PlateLine::run(); TooLarge above 400 million pixels.
[[nodiscard]] Outcome<SlipPlates> slip_plates(const PlateLine &line, const Job &job, Dpi resolution,
                                              const JobControl &control = {});

/// A resolution of 450 to 900 dpi, the coarser the better, at which a slip of \p within mm and the widths of
/// the traps are whole pixels as nearly as can be.
[[nodiscard]] Dpi slip_resolution(const TrapSettings &traps, double within);

/// How one plate has moved: stretched and turned about the middle of the page, then shifted.
struct Slip
{
    std::string ink;
    double x = 0, y = 0; ///< mm to the right and down
    double degrees = 0;  ///< clockwise
    double stretch = 0;  ///< percent that it has grown, in both directions
    friend bool operator==(const Slip &, const Slip &) = default;
};

/// Where ink of a plate that has slipped lay before.
class SlipBack
{
public:
    /// \param width, height  pixels of the page; \p per_mm of them are a millimetre
    SlipBack(const Slip &slip, double width, double height, double per_mm);
    /// The place that the ink at a place came from; pixels from the page's top left.
    [[nodiscard]] std::pair<double, double> place(double x, double y) const
    {
        const double dx = x - m_middle_x, dy = y - m_middle_y;
        return {m_xx * dx + m_xy * dy + m_middle_x + m_x, m_yx * dx + m_yy * dy + m_middle_y + m_y};
    }

private:
    double m_xx, m_xy, m_yx, m_yy, m_x, m_y, m_middle_x, m_middle_y;
};

/// A pair of plates between which stock shows.
struct SlipPair
{
    std::string moved, other; ///< the one that leaves the place, and the one that would have to be there
    double bare = 0;          ///< mm² that show
    double darker = 0;        ///< mm² in which the two newly lie on each other
    double worst_x = 0, worst_y = 0; ///< mm from the page's top left, where most of it shows
    double closes = 0;               ///< mm: a trap so wide between the two closes it
    bool base = false;               ///< not bare stock shows but the white that other is
};

struct SlipResult
{
    double bare = 0; ///< mm² of bare stock, each place once
    double base = 0; ///< mm² of white base that shows beside colours
    double darker = 0;
    double worst_x = 0, worst_y = 0; ///< mm from the page's top left; 0 0 when nothing shows
    std::vector<SlipPair> pairs;     ///< the largest first
    BitPlane map;                    ///< where it shows, bare stock and base
};

/// What shows when plates have moved so. Areas are the mean over parts of a pixel, so that slips of less than
/// one count as they are. The map is that of the slip rounded to pixels.
/// \return UnknownInk; OutOfRange beyond 20 mm, 10° or 5 %; Cancelled
[[nodiscard]] Outcome<SlipResult> slip(const SlipPlates &plates, const std::vector<Slip> &slips,
                                       const JobControl &control = {});

/// What may show when any one plate moves up to \p within mm in any direction against the others: the places
/// of all such slips together. Edges of the whole print, that merely move, do not count.
/// \param within  above 0, to 5 mm
/// \return OutOfRange, Cancelled
[[nodiscard]] Outcome<SlipResult> slip_within(const SlipPlates &plates, double within,
                                              const JobControl &control = {});

} // namespace bichrom
