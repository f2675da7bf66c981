/// \file
/// Picture files made in tests by the libraries that own their formats.
#pragma once

#include <QByteArray>
#include <QImage>

#include <array>

namespace bichrom::test {

[[nodiscard]] QByteArray encoded(const QImage &image, const char *format);
/// \p png without its chunks of that name.
[[nodiscard]] QByteArray without_chunk(const QByteArray &png, const char *name);
/// \p jpeg with EXIF data that holds only this orientation.
[[nodiscard]] QByteArray with_orientation(const QByteArray &jpeg, int orientation);

/// Rows of red, green, blue (and alpha) bytes without padding.
[[nodiscard]] QByteArray rgb_rows(const QImage &image);
[[nodiscard]] QByteArray rgba_rows(const QImage &image);
/// Each byte twice: 8-bit samples as 16-bit ones.
[[nodiscard]] QByteArray doubled(const QByteArray &bytes);

/// Tags of a TIFF; numbers as in TIFF 6.0.
struct TiffLayout
{
    int width = 1, height = 1, samples = 1, bits = 8, photometric = 1, planar = 1, compression = 1;
    int tile = 0;   ///< side of a tile; 0 for strips
    int extra = 0;  ///< kind of the extra samples; 0 = none, 9 = of no declared kind
    int extras = 1; ///< how many there are
    double ppi = 300;
    QByteArray inks{}; ///< InkNames, each with its NUL
};
[[nodiscard]] QByteArray tiff_file(const TiffLayout &layout, const QByteArray &rows);

/// A 16 × 16 JPEG of one CMYK colour (255 = solid), with the marker of inversion and complemented,
/// or without both.
[[nodiscard]] QByteArray cmyk_jpeg(const std::array<int, 4> &cmyk, bool inverted);

} // namespace bichrom::test
