#include "support/picture_files.h"

#include <QBuffer>
#include <QFile>
#include <QTemporaryDir>
#include <QtEndian>

#include <cstdio>
#include <cstring>

#include <jpeglib.h>
#include <tiffio.h>

namespace bichrom::test {

QByteArray encoded(const QImage &image, const char *format)
{
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    if (!image.save(&buffer, format, 100)) {
        qFatal("no %s", format);
    }
    return bytes;
}

QByteArray without_chunk(const QByteArray &png, const char *name)
{
    QByteArray result = png.left(8);
    for (qsizetype at = 8; at + 12 <= png.size();) {
        const auto length = static_cast<qsizetype>(qFromBigEndian<quint32>(png.constData() + at)) + 12;
        if (png.mid(at + 4, 4) != name) {
            result += png.mid(at, length);
        }
        at += length;
    }
    return result;
}

QByteArray with_orientation(const QByteArray &jpeg, int orientation)
{
    QByteArray exif("Exif\0\0II*\0\x08\0\0\0\x01\0\x12\x01\x03\0\x01\0\0\0", 24);
    exif += static_cast<char>(orientation);
    exif += QByteArray(7, '\0');
    const auto length = static_cast<quint16>(exif.size() + 2);
    QByteArray marker("\xff\xe1", 2);
    marker += static_cast<char>(length >> 8);
    marker += static_cast<char>(length & 0xFF);
    return jpeg.left(2) + marker + exif + jpeg.mid(2);
}

QByteArray rgb_rows(const QImage &image)
{
    QByteArray rows;
    const QImage rgb = image.convertToFormat(QImage::Format_RGB888);
    for (int y = 0; y < rgb.height(); ++y) {
        rows.append(reinterpret_cast<const char *>(rgb.constScanLine(y)), rgb.width() * 3);
    }
    return rows;
}

QByteArray rgba_rows(const QImage &image)
{
    QByteArray rows; // premultiplied values as they are
    for (int y = 0; y < image.height(); ++y) {
        const auto *line = reinterpret_cast<const QRgb *>(image.constScanLine(y));
        for (int x = 0; x < image.width(); ++x) {
            for (const int value : {qRed(line[x]), qGreen(line[x]), qBlue(line[x]), qAlpha(line[x])}) {
                rows += static_cast<char>(value);
            }
        }
    }
    return rows;
}

QByteArray doubled(const QByteArray &bytes)
{
    QByteArray out;
    for (const char byte : bytes) {
        out += byte;
        out += byte;
    }
    return out;
}

QByteArray tiff_file(const TiffLayout &layout, const QByteArray &rows)
{
    const QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("t.tif"));
    TIFF *tiff = TIFFOpen(path.toUtf8().constData(), "w");
    TIFFSetField(tiff, TIFFTAG_IMAGEWIDTH, layout.width);
    TIFFSetField(tiff, TIFFTAG_IMAGELENGTH, layout.height);
    TIFFSetField(tiff, TIFFTAG_BITSPERSAMPLE, layout.bits);
    TIFFSetField(tiff, TIFFTAG_SAMPLESPERPIXEL, layout.samples);
    TIFFSetField(tiff, TIFFTAG_PHOTOMETRIC, layout.photometric);
    TIFFSetField(tiff, TIFFTAG_PLANARCONFIG, layout.planar);
    TIFFSetField(tiff, TIFFTAG_COMPRESSION, layout.compression);
    TIFFSetField(tiff, TIFFTAG_RESOLUTIONUNIT, RESUNIT_INCH);
    TIFFSetField(tiff, TIFFTAG_XRESOLUTION, layout.ppi);
    TIFFSetField(tiff, TIFFTAG_YRESOLUTION, layout.ppi);
    if (layout.extra > 0) {
        const std::vector<std::uint16_t> kinds(
            static_cast<std::size_t>(layout.extras),
            static_cast<std::uint16_t>(layout.extra == 9 ? 0 : layout.extra));
        TIFFSetField(tiff, TIFFTAG_EXTRASAMPLES, layout.extras, kinds.data());
    }
    if (!layout.inks.isEmpty()) {
        TIFFSetField(tiff, TIFFTAG_INKSET, INKSET_MULTIINK);
        TIFFSetField(tiff, TIFFTAG_NUMBEROFINKS, layout.samples);
        TIFFSetField(tiff, TIFFTAG_INKNAMES, static_cast<int>(layout.inks.size()), layout.inks.constData());
    }
    const int row_bytes = (layout.width * layout.samples * layout.bits + 7) / 8;
    const int pixel = layout.samples * layout.bits / 8;
    QByteArray line;
    if (layout.tile > 0) {
        TIFFSetField(tiff, TIFFTAG_TILEWIDTH, layout.tile);
        TIFFSetField(tiff, TIFFTAG_TILELENGTH, layout.tile);
        for (int y = 0; y < layout.height; y += layout.tile) {
            for (int x = 0; x < layout.width; x += layout.tile) {
                QByteArray tile(layout.tile * layout.tile * pixel, '\0');
                for (int r = 0; r < layout.tile && y + r < layout.height; ++r) {
                    const int columns = std::min(layout.tile, layout.width - x);
                    std::memcpy(tile.data() + r * layout.tile * pixel,
                                rows.constData() + (y + r) * row_bytes + x * pixel,
                                static_cast<std::size_t>(columns * pixel));
                }
                TIFFWriteTile(tiff, tile.data(), static_cast<std::uint32_t>(x), static_cast<std::uint32_t>(y),
                              0, 0);
            }
        }
    } else {
        for (int plane = 0; plane < (layout.planar == 2 ? layout.samples : 1); ++plane) {
            for (int y = 0; y < layout.height; ++y) {
                line = rows.mid(y * row_bytes, row_bytes);
                if (layout.planar == 2) {
                    QByteArray one;
                    for (int x = 0; x < layout.width; ++x) {
                        one += line[x * layout.samples + plane];
                    }
                    line = one;
                }
                TIFFWriteScanline(tiff, line.data(), static_cast<std::uint32_t>(y),
                                  static_cast<std::uint16_t>(plane));
            }
        }
    }
    TIFFClose(tiff);
    QFile file(path);
    file.open(QIODevice::ReadOnly);
    return file.readAll();
}

QByteArray cmyk_jpeg(const std::array<int, 4> &cmyk, bool inverted)
{
    jpeg_compress_struct info{};
    jpeg_error_mgr errors{};
    info.err = jpeg_std_error(&errors);
    jpeg_create_compress(&info);
    unsigned char *memory = nullptr;
    unsigned long size = 0;
    jpeg_mem_dest(&info, &memory, &size);
    info.image_width = 16;
    info.image_height = 16;
    info.input_components = 4;
    info.in_color_space = JCS_CMYK;
    jpeg_set_defaults(&info);
    jpeg_set_quality(&info, 100, TRUE);
    jpeg_start_compress(&info, TRUE);
    std::array<unsigned char, 64> row{};
    for (std::size_t i = 0; i < row.size(); ++i) {
        row[i] = static_cast<unsigned char>(inverted ? 255 - cmyk[i % 4] : cmyk[i % 4]);
    }
    JSAMPROW rows[] = {row.data()};
    while (info.next_scanline < info.image_height) {
        jpeg_write_scanlines(&info, rows, 1);
    }
    jpeg_finish_compress(&info);
    QByteArray bytes(reinterpret_cast<const char *>(memory), static_cast<qsizetype>(size));
    jpeg_destroy_compress(&info);
    std::free(memory);
    if (!inverted) {
        const qsizetype at = bytes.indexOf("\xff\xee"); // the marker, which libjpeg always writes for CMYK
        bytes.remove(at, 2 + (static_cast<unsigned char>(bytes[at + 2]) << 8) +
                             static_cast<unsigned char>(bytes[at + 3]));
    }
    return bytes;
}

} // namespace bichrom::test
