/// \file
/// What kind of file the customer sent, told by its first bytes.
/// Layer: core/artwork.
#pragma once

#include <cstddef>
#include <span>

namespace bichrom {

enum class InputKind
{
    Unknown,
    Pdf,
    PostScript,
    Eps,
    Svg,
    Png,
    Jpeg,
    Tiff
};

/// "PDF", "PostScript", "EPS", "SVG", "PNG", "JPEG", "TIFF"; "unknown".
[[nodiscard]] const char *to_string(InputKind kind);

/// Looks at the contents, never at the name.
[[nodiscard]] InputKind input_kind(std::span<const std::byte> bytes);

} // namespace bichrom
