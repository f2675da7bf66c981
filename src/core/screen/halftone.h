/// \file
/// Amplitude-modulated screening: tones into dots.
/// Layer: core/screen. May use core/job, core/raster, core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/screen_settings.h"
#include "core/raster/run_plane.h"

#include <array>
#include <cstdint>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// Turns rows of tones into rows of dots. Immutable, shareable between threads.
///
/// The screen is a function of the absolute pixel position in 32-bit fixed point
/// (1 cell = 2^32), so any ruling and angle is held exactly over any length (the step
/// is right to 2^-33 cells a pixel: over 48000 pixels 6 millionths of a cell), and any
/// part of a film gives the same bits as the whole.
/// Tones are linear: of the screen's 65536 positions in a cell, value/255 are ink. Where
/// cells are a whole number of pixels and only some positions occur, tones are calibrated
/// to the nearest share of ink that the pixels allow.
class Halftone
{
public:
    /// OutOfRange as check_screen().
    [[nodiscard]] static Outcome<Halftone> make(const Screen &screen, Dpi resolution);

    /// \param tones   \p count plate values, 0 = bare, 255 = solid
    /// \param x, y    absolute position of the first pixel
    /// \param bits    (count + 63) / 64 × 8 bytes, written whole; 1 = ink, leftmost in
    ///                the highest bit, padding 0
    void screen_row(const std::uint8_t *tones, int count, std::int64_t x, std::int64_t y,
                    std::uint8_t *bits) const;

    /// The same for \p runs of \p width pixels; what is bare costs nothing, what is solid next to nothing.
    /// \param bits     bare before
    /// \param scratch  kept between calls to save allocations
    void screen_runs(std::span<const ToneRun> runs, int width, std::int64_t x, std::int64_t y,
                     std::uint8_t *bits, std::vector<std::uint8_t> &scratch) const;

    /// The threshold at a place in the cell: ink where the calibrated tone > threshold, 0 to 254.
    [[nodiscard]] std::uint8_t threshold_at(std::int64_t x, std::int64_t y) const;

private:
    Halftone() = default;
    void calibrate();
    std::uint32_t m_ux = 0, m_uy = 0, m_vx = 0, m_vy = 0;         ///< cells a pixel × 2^32, modulo 1
    std::shared_ptr<const std::array<std::uint8_t, 256>> m_tones; ///< null where tones are linear as they are
    std::shared_ptr<const std::vector<std::uint8_t>> m_cell; ///< 256 × 256 thresholds, then 4 spare bytes
};

/// Ink where the tone is at least one half; for linework that must not be screened.
/// Same layout as Halftone::screen_row().
void threshold_row(const std::uint8_t *tones, int count, std::uint8_t *bits);

} // namespace bichrom
