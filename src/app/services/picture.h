/// \file
/// Pixels of the core as pictures of the window.
/// Layer: app/services.
#pragma once

#include "core/report/html_pdf.h"

#include <QImage>

#include <cstdint>
#include <span>

namespace bichrom {

/// A copy of \p pixels, 0xFFRRGGBB, row by row; null where there are none.
[[nodiscard]] inline QImage picture_of(std::span<const std::uint32_t> pixels, int width, int height)
{
    return pixels.empty() ? QImage()
                          : QImage(reinterpret_cast<const uchar *>(pixels.data()), width, height, width * 4,
                                   QImage::Format_RGB32)
                                .copy();
}
[[nodiscard]] inline QImage picture_of(const ReportPicture &picture)
{
    return picture_of(picture.pixels, picture.width, picture.height);
}

} // namespace bichrom
