#include "support/tiff_reader.h"

#include <tiffio.h>

#include <QtTest>

#include <cstring>

namespace bichrom::test {

TiffFile read_tiff(const QString &path)
{
    TIFFSetErrorHandler(nullptr);
    TiffFile out;
    TIFF *tiff = TIFFOpen(path.toLocal8Bit().constData(), "r");
    if (tiff == nullptr) {
        qFatal("cannot open %s", qPrintable(path));
    }
    uint32_t width = 0, height = 0;
    uint16_t bits = 0, photometric = 0, compression = 0, unit = 0, samples = 0;
    float x = 0, y = 0;
    char *text = nullptr;
    TIFFGetField(tiff, TIFFTAG_IMAGEWIDTH, &width);
    TIFFGetField(tiff, TIFFTAG_IMAGELENGTH, &height);
    TIFFGetField(tiff, TIFFTAG_BITSPERSAMPLE, &bits);
    TIFFGetField(tiff, TIFFTAG_SAMPLESPERPIXEL, &samples);
    TIFFGetField(tiff, TIFFTAG_PHOTOMETRIC, &photometric);
    TIFFGetField(tiff, TIFFTAG_COMPRESSION, &compression);
    TIFFGetField(tiff, TIFFTAG_RESOLUTIONUNIT, &unit);
    TIFFGetField(tiff, TIFFTAG_XRESOLUTION, &x);
    TIFFGetField(tiff, TIFFTAG_YRESOLUTION, &y);
    if (TIFFGetField(tiff, TIFFTAG_IMAGEDESCRIPTION, &text) != 0) {
        out.description = text;
    }
    out.width = static_cast<int>(width);
    out.height = static_cast<int>(height);
    out.bits = bits;
    out.samples = samples;
    out.photometric = photometric;
    out.compression = compression;
    out.resolution_unit = unit;
    out.x_resolution = static_cast<double>(x);
    out.y_resolution = static_cast<double>(y);
    std::vector<std::uint8_t> row(static_cast<std::size_t>(TIFFScanlineSize(tiff)));
    if (bits == 1) {
        out.film = Bitmap(out.width, out.height);
    } else {
        out.plate = Plane(out.width, out.height);
    }
    for (int r = 0; r < out.height; ++r) {
        if (TIFFReadScanline(tiff, row.data(), static_cast<uint32_t>(r), 0) < 0) {
            qFatal("libtiff cannot decode row %d of %s", r, qPrintable(path));
        }
        if (bits == 1) {
            // In MinIsWhite a set bit is black, as in Bitmap.
            std::memcpy(out.film.row(r), row.data(), std::min(row.size(), out.film.stride));
        } else {
            std::memcpy(out.plate.row(r).data(), row.data(), row.size());
        }
    }
    TIFFClose(tiff);
    return out;
}

} // namespace bichrom::test
