/// \file
/// Pages to measure with, made on the spot.
#pragma once

#include <cstddef>
#include <string>
#include <vector>

namespace bichrom::bench {

/// A page of \p width × \p height mm painted in six spot inks: shapes, tints, lines and small
/// marks, with overprint; or one RGB photo over the whole page (six plates: four process, two spots).
[[nodiscard]] std::vector<std::byte> line_art(double width_mm, double height_mm);
/// Two spots, pictures with soft edges and cast shadows, and what fades.
[[nodiscard]] std::vector<std::byte> soft_edges(double width_mm, double height_mm);
[[nodiscard]] std::vector<std::byte> photo(double width_mm, double height_mm, double ppi);

} // namespace bichrom::bench
