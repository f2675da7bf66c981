// Plates of the demo against an independent interpreter: Ghostscript's tiffsep device at
// 300 dpi, TextAlphaBits 4 and GraphicsAlphaBits 4, no halftoning, process colours through its
// own defaults. Mean absolute difference at most 1.5 % of full tone away from edges.
#include "core/output/output_set.h"

#include "support/ghostscript_plates.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

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
        OutputRequest request;
        request.folder = folder.filePath(QStringLiteral("ours")).toStdString();
        const auto opened = take(open_job_or_artwork(demo_file().toStdString()));
        const Manifest manifest = take(write_plates(opened, Dpi(300), PageBox::Media, request));
        QCOMPARE(manifest.plates.size(), std::size_t(4));
        QStringList inks;
        for (const WrittenPlate &written : manifest.plates) {
            inks << QString::fromStdString(written.ink);
        }
        const auto theirs = ghostscript_plates(demo_file(), 300, inks);
        for (const WrittenPlate &written : manifest.plates) {
            const QString ink = QString::fromStdString(written.ink);
            const Plane ours =
                read_tiff(folder.filePath(QStringLiteral("ours/") + QString::fromStdString(written.file)))
                    .plate;
            const Plane &other = theirs.at(ink);
            QVERIFY(std::abs(other.width - ours.width) <= 1 && std::abs(other.height - ours.height) <= 1);
            const FlatDifference difference = flat_difference(ours, other);
            qInfo("%s: mean difference %.3f %% over %lld flat pixels", written.ink.c_str(),
                  difference.mean * 100, difference.pixels);
            QVERIFY2(difference.mean <= 0.015, written.ink.c_str());
            QVERIFY(difference.inked > 0 || written.ink == "Black");
            // Taken over inked pixels alone, so that bare paper does not hide a difference.
            QVERIFY2(
                difference.over_inked <= 0.015,
                qPrintable(QStringLiteral("%1: %2 % of inked pixels").arg(ink).arg(difference.over_inked)));
        }
    }
};

BICHROM_TEST(TestGhostscript, QCoreApplication)
#include "tst_ghostscript.moc"
