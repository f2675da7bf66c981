/// \file
/// Screening: tones into dots.
/// Layer: core/screen. May use core/job, core/raster, core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/screen_settings.h"
#include "core/raster/run_plane.h"
#include "core/screen/diffusion.h"
#include "core/screen/threshold_tile.h"

#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

class TintRows;

/// Turns tones into dots. Immutable, shareable between threads.
///
/// The screen is a tile of thresholds laid over all of the film by absolute pixel position, so that any part
/// of a film gives the same bits as the whole and nothing drifts. What the press does to tones is folded into
/// the tile: tones keep the 16 bits between plate and dot. Error diffusion alone has no tile: its dots depend
/// on the tones around them.
class Halftone
{
public:
    /// OutOfRange as check_screen() and check_press_curve(). Takes as long as threshold_tile() where the
    /// screen is not known.
    [[nodiscard]] static Outcome<Halftone> make(const Screen &screen, Dpi resolution,
                                                const PressCurve &press = {});

    /// How far around a part, in pixels, tones decide what stands in it: 0, but of error diffusion.
    [[nodiscard]] int reach() const { return m_diffusion == nullptr ? 0 : m_diffusion->reach(); }

    /// The dots in \p part, by absolute position, from \p tones, which are those of \p around: \p part, and
    /// reach() more on each side where anything is printed; what lies outside is bare.
    [[nodiscard]] Bitmap dots(const Plane &tones, const PixelRect &around, const PixelRect &part) const;

    // A row at a time. \pre reach() is 0

    /// \param tones   \p count plate values, 0 = bare, 255 = solid
    /// \param x, y    absolute position of the first pixel
    /// \param bits    (count + 63) / 64 × 8 bytes, written whole; 1 = ink, leftmost in
    ///                the highest bit, padding 0
    void screen_row(const std::uint8_t *tones, int count, std::int64_t x, std::int64_t y,
                    std::uint8_t *bits) const;

    /// The same for \p runs of \p width pixels; what is bare costs nothing, what is solid next to
    /// nothing, a flat tint that much of the film has no more than copying its dots.
    /// \param bits     bare before
    /// \param scratch  kept between calls to save allocations
    void screen_runs(std::span<const ToneRun> runs, int width, std::int64_t x, std::int64_t y,
                     std::uint8_t *bits, std::vector<std::uint8_t> &scratch) const;

    /// The threshold at a place: ink where the plate's tone > threshold, 0 to 254.
    [[nodiscard]] std::uint8_t threshold_at(std::int64_t x, std::int64_t y) const;

private:
    Halftone() = default;
    std::shared_ptr<const Diffusion> m_diffusion; ///< instead of the tile
    std::shared_ptr<const ThresholdTile> m_tile;  ///< before the curve
    int m_stride = 0; ///< of a row: its width and 64 places of its beginning again
    std::shared_ptr<const std::vector<std::uint8_t>> m_rows;
    std::shared_ptr<TintRows> m_tints; ///< of these rows; as they fill, what is printed stays the same
};

} // namespace bichrom
