/// \file
/// SVG drawings as PDF pages.
/// Layer: core/artwork/intake. librsvg and cairo stay inside.
#pragma once

#include "core/artwork/damage.h"
#include "core/base/outcome.h"

#include <cstddef>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Draws an SVG onto a PDF page of its own size; a pixel is 1/96 inch (CSS 2.1, 4.3.2).
/// Nothing is fetched; pictures it refers to are read only from \p folder and below, and not at
/// all when that is empty.
/// \param assumptions  sizes that had to be assumed, missing fonts by name
/// \return CannotRead, TooLarge
[[nodiscard]] Outcome<std::vector<std::byte>> svg_to_pdf(std::span<const std::byte> bytes,
                                                         const std::filesystem::path &folder,
                                                         std::vector<std::string> &assumptions,
                                                         std::vector<Damage> &damage);

} // namespace bichrom
