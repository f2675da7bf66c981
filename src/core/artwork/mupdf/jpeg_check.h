/// \file
/// Whether the data of a JPEG picture is whole.
/// Layer: core/artwork/mupdf, private to the core. libjpeg stays inside.
#pragma once

#include <cstddef>
#include <span>

namespace bichrom {

inline constexpr std::size_t most_jpeg_text = 200;

struct JpegSize
{
    unsigned width = 0, height = 0; ///< pixels
    bool possible = true;           ///< false: no data so short holds as many
};

/// Reads all of \p data. The interpreter's own decoder prints its warnings and goes on, so that a picture of
/// which a half is noise looks like a good one; and what is damaged often decodes without a warning, for JPEG
/// has no checksum. Then all that follows is lighter, darker or of another colour, and where that is paper or
/// black it is beyond what samples of eight bits can be, which is looked for in pictures of up to 89 million
/// pixels.
/// \param fault  what is wrong, as text that ends in 0. No objects in sight: MuPDF throws over the caller
/// \param size   as the data says it, 0 × 0 where it does not
[[nodiscard]] bool jpeg_is_whole(std::span<const unsigned char> data, char (&fault)[most_jpeg_text],
                                 JpegSize &size);

} // namespace bichrom
