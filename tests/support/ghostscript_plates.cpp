#include "support/ghostscript_plates.h"

#include "support/tiff_reader.h"

#include <QtTest>

#include <tiffio.h>

namespace bichrom::test {

namespace {

/// Whether the pixels around (x, y) are all close to it: no edge nearby.
bool is_flat(const Plane &plane, int x, int y)
{
    constexpr int reach = 3;
    const int centre = plane.at(x, y);
    for (int dy = -reach; dy <= reach; dy += reach) {
        for (int dx = -reach; dx <= reach; dx += reach) {
            const int px = std::clamp(x + dx, 0, plane.width - 1);
            const int py = std::clamp(y + dy, 0, plane.height - 1);
            if (std::abs(plane.at(px, py) - centre) > 8) {
                return false;
            }
        }
    }
    return true;
}

} // namespace

std::map<QString, Plane> ghostscript_plates(const QString &pdf, int dpi, const QStringList &inks)
{
    QTemporaryDir folder;
    QProcess process;
    process.setWorkingDirectory(folder.path());
    process.start(QStringLiteral("gs"),
                  {QStringLiteral("-q"), QStringLiteral("-dSAFER"), QStringLiteral("-dBATCH"),
                   QStringLiteral("-dNOPAUSE"), QStringLiteral("-sDEVICE=tiffsep"),
                   QStringLiteral("-r%1").arg(dpi), QStringLiteral("-dTextAlphaBits=4"),
                   QStringLiteral("-dGraphicsAlphaBits=4"), QStringLiteral("-sOutputFile=gs.tif"), pdf});
    if (!process.waitForFinished(100'000) || process.exitCode() != 0) {
        qFatal("gs fails: %s", process.readAllStandardError().constData());
    }
    std::map<QString, Plane> plates;
    for (const QString &ink : inks) {
        // Ghostscript's separations hold 0 = full ink (MinIsBlack).
        TiffFile file = read_tiff(folder.filePath(QStringLiteral("gs(%1).tif").arg(ink)));
        if (file.photometric == PHOTOMETRIC_MINISBLACK) {
            for (std::uint8_t &value : file.plate.pixels) {
                value = static_cast<std::uint8_t>(255 - value);
            }
        }
        plates[ink] = std::move(file.plate);
    }
    return plates;
}

FlatDifference flat_difference(const Plane &a, const Plane &b)
{
    FlatDifference found;
    double sum = 0;
    for (int y = 3; y < std::min(a.height, b.height) - 3; ++y) {
        for (int x = 3; x < std::min(a.width, b.width) - 3; ++x) {
            if (is_flat(a, x, y) && is_flat(b, x, y)) {
                sum += std::abs(a.at(x, y) - b.at(x, y)) / 255.0;
                ++found.pixels;
                found.inked += a.at(x, y) > 0 ? 1 : 0;
            }
        }
    }
    found.mean = found.pixels > 0 ? sum / static_cast<double>(found.pixels) : 1;
    found.over_inked = found.inked > 0 ? sum / static_cast<double>(found.inked) : 0;
    return found;
}

double mean_difference(const Plane &a, const Plane &b)
{
    double sum = 0;
    const int width = std::min(a.width, b.width);
    const int height = std::min(a.height, b.height);
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            sum += std::abs(a.at(x, y) - b.at(x, y)) / 255.0;
        }
    }
    return sum / std::max(1, width * height);
}

} // namespace bichrom::test
