// Plates of the demo against an independent interpreter: Ghostscript's tiffsep device at
// 300 dpi, TextAlphaBits 4 and GraphicsAlphaBits 4, no halftoning, process colours through its
// own defaults. Mean absolute difference at most 1.5 % of full tone away from edges.
#include "core/output/output_set.h"

#include "support/mini_pdf.h"
#include "support/tiff_reader.h"

#include <QtTest>

#include <cmath>
#include <tiffio.h>

using namespace bichrom;
using namespace bichrom::test;

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

class TestGhostscript : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void platesOfTheDemoAgree()
    {
        const QString gs = QStandardPaths::findExecutable(QStringLiteral("gs"));
        if (gs.isEmpty()) {
            QSKIP("Ghostscript is not installed");
        }
        QTemporaryDir folder;
        QProcess process;
        process.setWorkingDirectory(folder.path());
        process.start(gs, {QStringLiteral("-q"), QStringLiteral("-dSAFER"), QStringLiteral("-dBATCH"),
                           QStringLiteral("-dNOPAUSE"), QStringLiteral("-sDEVICE=tiffsep"),
                           QStringLiteral("-r300"), QStringLiteral("-dTextAlphaBits=4"),
                           QStringLiteral("-dGraphicsAlphaBits=4"), QStringLiteral("-sOutputFile=gs.tif"),
                           demo_file()});
        QVERIFY(process.waitForFinished(100'000));
        QCOMPARE(process.exitCode(), 0);

        OutputRequest request;
        request.folder = folder.filePath(QStringLiteral("ours")).toStdString();
        const auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        const Manifest manifest = take(write_plates(opened, Dpi(300), PageBox::Media, request));
        QCOMPARE(manifest.plates.size(), std::size_t(4));
        for (const WrittenPlate &written : manifest.plates) {
            const QString ink = QString::fromStdString(written.ink);
            const Plane ours =
                read_tiff(folder.filePath(QStringLiteral("ours/") + QString::fromStdString(written.file)))
                    .plate;
            // Ghostscript's separations hold 0 = full ink (MinIsBlack).
            TiffFile theirs = read_tiff(folder.filePath(QStringLiteral("gs(%1).tif").arg(ink)));
            QVERIFY(std::abs(theirs.width - ours.width) <= 1 && std::abs(theirs.height - ours.height) <= 1);
            if (theirs.photometric == PHOTOMETRIC_MINISBLACK) {
                for (std::uint8_t &value : theirs.plate.pixels) {
                    value = static_cast<std::uint8_t>(255 - value);
                }
            }
            double sum = 0;
            std::int64_t count = 0;
            double inked = 0;
            for (int y = 3; y < std::min(ours.height, theirs.height) - 3; ++y) {
                for (int x = 3; x < std::min(ours.width, theirs.width) - 3; ++x) {
                    if (is_flat(ours, x, y) && is_flat(theirs.plate, x, y)) {
                        sum += std::abs(ours.at(x, y) - theirs.plate.at(x, y));
                        ++count;
                        inked += ours.at(x, y) > 0 ? 1 : 0;
                    }
                }
            }
            const double mean = sum / static_cast<double>(count) / 255.0;
            qInfo("%s: mean difference %.3f %% over %lld flat pixels", written.ink.c_str(), mean * 100,
                  static_cast<long long>(count));
            QVERIFY2(mean <= 0.015, written.ink.c_str());
            QVERIFY(inked > 0 || written.ink == "Black");
            // Taken over inked pixels alone, so that bare paper does not hide a difference.
            if (inked > 0) {
                QVERIFY2(
                    sum / inked / 255.0 <= 0.015,
                    qPrintable(QStringLiteral("%1: %2 % of inked pixels").arg(ink).arg(sum / inked / 2.55)));
            }
        }
    }
};

QTEST_GUILESS_MAIN(TestGhostscript)
#include "tst_ghostscript.moc"
