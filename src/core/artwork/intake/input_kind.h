/// \file
/// What kind of file the customer sent, told by its contents.
/// Layer: core/artwork.
#pragma once

#include <cstddef>
#include <span>
#include <string_view>

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

/// Looks at the contents; what is compressed as a whole is unpacked first (unpack.h). \p name only decides
/// whether PostScript that does not say so is EPS: by its ending, or where there is a bounding box and
/// neither a sheet nor several pages.
[[nodiscard]] InputKind input_kind(std::span<const std::byte> bytes, std::string_view name = {});

} // namespace bichrom
