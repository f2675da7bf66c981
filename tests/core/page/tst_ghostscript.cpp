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

    /// What is faint leaves spots under it as strong as it lets through, on plates and on films.
    void faintPicturesLeaveOfSpotsWhatTheyLetThrough_data()
    {
        QTest::addColumn<std::string>("art");
        const std::string ground = "/A cs 0.7 scn 0 0 40 72 re f /B cs 0.4 scn 0 0 72 30 re f /Half gs ";
        QTest::newRow("a picture") << ground + "q 48 0 0 48 12 12 cm /I Do Q";
        QTest::newRow("turned") << ground + "q 40 12 -12 40 20 10 cm /I Do Q";
        QTest::newRow("with a mask of its own") << ground + "q 48 0 0 48 12 12 cm /M Do Q";
        QTest::newRow("multiplied") << ground + "/Mul gs q 48 0 0 48 12 12 cm /I Do Q";
        QTest::newRow("with a mask of its own, multiplied: a cast shadow")
            << ground + "/Mul gs q 48 0 0 48 12 12 cm /M Do Q";
        QTest::newRow("of grey") << ground + "q 48 0 0 48 12 12 cm /K Do Q";
        QTest::newRow("in a group") << ground + "/T Do";
        QTest::newRow("something faint under a soft mask") << ground + "/W Do";
        QTest::newRow("a gradient that overprints") << ground + "/Z Do";
    }
    void faintPicturesLeaveOfSpotsWhatTheyLetThrough()
    {
        QFETCH(std::string, art);
        if (QStandardPaths::findExecutable(QStringLiteral("gs")).isEmpty()) {
            QSKIP("Ghostscript is not installed");
        }
        MiniPdf pdf =
            spots_page(art, "/XObject << /I 11 0 R /M 12 0 R /K 14 0 R /T 15 0 R /W 16 0 R /Z 18 0 R >>");
        const auto picture = [](const std::string &space, const std::string &hex, const std::string &more) {
            return "<< /Type /XObject /Subtype /Image /Width 2 /Height 2 /BitsPerComponent 8 /ColorSpace /" +
                   space + " /Filter /ASCIIHexDecode " + more + " /Length " + std::to_string(hex.size()) +
                   " >>\nstream\n" + hex + "\nendstream";
        };
        const std::string cmyk = "00FF0000800000000000FF40FF000000>";
        pdf.objects.push_back(picture("DeviceCMYK", cmyk, ""));
        pdf.objects.push_back(picture("DeviceCMYK", cmyk, "/SMask 13 0 R"));
        pdf.objects.push_back(picture("DeviceGray", "80FF40C0>", ""));
        pdf.objects.push_back(picture("DeviceGray", "00408000>", ""));
        const std::string inner = "q 48 0 0 48 12 12 cm /I Do Q";
        pdf.objects.push_back(
            "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency >> "
            "/Resources << /XObject << /I 11 0 R >> >> /Length " +
            std::to_string(inner.size()) + " >>\nstream\n" + inner + "\nendstream");
        const auto form = [](const std::string &resources, const std::string &content) {
            return "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] " + resources + " /Length " +
                   std::to_string(content.size()) + " >>\nstream\n" + content + "\nendstream";
        };
        pdf.objects.push_back(
            form("/Resources << /ExtGState << /S << /ca 0.5 /SMask << /S /Luminosity /G 17 0 R "
                 ">> >> >> >>",
                 "/S gs 0 0 0 1 k 6 6 60 60 re f"));
        pdf.objects.push_back(form("/Group << /S /Transparency /CS /DeviceGray >>",
                                   "0.3 g 0 0 72 72 re f 1 g 20 10 30 50 re f"));
        pdf.objects.push_back(form("/Resources << /ExtGState << /O << /op true /ca 0.3 >> >> /Shading << /S "
                                   "<< /ShadingType 2 /ColorSpace "
                                   "/DeviceCMYK /Coords [0 0 72 0] /Function << /FunctionType 2 /Domain [0 "
                                   "1] /N 1 /C0 [0 0 0 0] /C1 [1 0.5 "
                                   "0 0.2] >> >> >> >>",
                                   "/O gs 12 12 44 44 re W n /S sh"));
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("faint.pdf"));
        pdf.save(path);
        constexpr int dpi = 144;
        const Scene scene = pdf.scene();
        for (const Edges edges : {Edges::Smooth, Edges::Crisp}) {
            const PlateTile ours = pdf.plates(dpi, edges);
            QStringList inks;
            for (const FoundInk &ink : scene.inks) {
                inks << QString::fromStdString(ink.name);
            }
            const auto theirs = ghostscript_plates(path, dpi, inks);
            for (int i = 0; i < inks.size(); ++i) {
                const FlatDifference off =
                    flat_difference(ours.plates[static_cast<std::size_t>(i)], theirs.at(inks[i]));
                // Strengths are cut down to 127 of 255 by one and rounded to 128 by the other.
                QVERIFY2(
                    off.mean <= 0.01 && off.over_inked <= 0.015,
                    qPrintable(QStringLiteral("%1: %2, %3").arg(inks[i]).arg(off.mean).arg(off.over_inked)));
            }
        }
    }
};

BICHROM_TEST(TestGhostscript, QCoreApplication)
#include "tst_ghostscript.moc"
