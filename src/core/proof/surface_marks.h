/// \file
/// The pattern that keeps an ink from being invisible.
/// Layer: core/proof.
#pragma once

namespace bichrom {

/// Tone from which an ink that cannot be told from what is under it gets the pattern.
inline constexpr int marked_from = 128;

/// How far, in sRGB steps of 255, an ink must change a pixel to be seen: about ΔE 10.
inline constexpr int hardly_seen_steps = 24;

/// Whether the pixel of the page's picture lies on one of the dots.
[[nodiscard]] constexpr bool on_mark(int x, int y)
{
    return ((x + y) & 7) < 2 && ((x - y) & 7) < 2;
}

} // namespace bichrom
