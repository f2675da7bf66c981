/// \file
/// Two usual ways of separating a picture for a dark shirt, to compare with: how near their prints come is
/// computed by the same model of print.
#pragma once

#include "core/colour/ink_book.h"
#include "core/job/job_file.h"

#include <cstddef>
#include <vector>

namespace bichrom::bench {

/// CIEDE2000 between picture and print, over what is painted.
struct Nearness
{
    double median = 0, p95 = 0;
};

/// \p count colours found by k-means in the picture's linear light, mixed as opaque inks of just those
/// colours (which no shop has on its shelf); each pixel their nearest mixture with the stock, by non-negative
/// linear unmixing in linear light.
[[nodiscard]] Nearness by_palette(const OpenedJob &opened, std::size_t count);

/// The steps done by hand in a picture editor (common practice, no source): a grey copy by luminance; the
/// base its inverse as film, opened by a curve, drawn back in the shadows; for each coloured ink the pixels
/// of its hue, fading towards the next inks' hues, times their chroma; light inks pulled under dark ones; the
/// highlight from what is bright and grey. White first, inks in the order given.
[[nodiscard]] Nearness by_hand(const OpenedJob &opened, const std::vector<BookInk> &inks);

} // namespace bichrom::bench
