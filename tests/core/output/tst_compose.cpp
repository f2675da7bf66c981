// PDFs of plates, read again by this program and by Ghostscript's separation device.
#include "core/job/edits/make_plates.h"
#include "core/job/edits/pour.h"
#include "core/line/plate_line.h"
#include "core/output/compose.h"

#include "support/ghostscript_plates.h"
#include "support/mini_pdf.h"
#include "support/picture_files.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QImage>
#include <QtTest>

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// The job's plates at \p dpi.
PlateTile plates_of(const OpenedJob &job, double dpi)
{
    const auto made =
        take(PlateLine::make(take(job.artwork->interpret(job.job.page, PageBox::Media)), setup_of(job.job)));
    return take(made->render(made->extent(Dpi(dpi)), Dpi(dpi)));
}

struct Composition
{
    QTemporaryDir folder;
    QString path = folder.filePath(QStringLiteral("plates.pdf"));
    std::vector<ComposedPlate> plates;
    explicit Composition(const OpenedJob &job)
        : plates(take(compose_pdf(job, path.toStdString())).pages.front().plates)
    {
    }
};

RecipeStep area()
{
    return {};
}

RecipeStep by_distance(RecipeDo does, double mm)
{
    RecipeStep step;
    step.does = does;
    step.distance = mm;
    return step;
}

OpenedJob with_plate(OpenedJob job, const char *ink, InkUse kind, Recipe recipe)
{
    Plate plate = propose_plate(job.job.plates, ink, kind, {96, 0, 0});
    plate.recipe = std::move(recipe);
    job.job.plates.push_back(std::move(plate));
    return job;
}

double inked(const Plane &plane)
{
    double sum = 0;
    for (const std::uint8_t value : plane.pixels) {
        sum += value / 255.0;
    }
    return sum;
}

} // namespace

class TestCompose : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void whatIsWrittenIsReadAgain_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::addColumn<QString>("resources");
        const QString none;
        QTest::newRow("fills that knock out and overprint")
            << "/A cs 1 scn 5 5 40 40 re f /B cs 0.5 scn 20 20 40 40 re f /OP gs /A cs 0.7 scn 30 30 30 10 "
               "re f"
            << none;
        QTest::newRow("even-odd and curves")
            << "/A cs 1 scn 10 10 50 50 re 20 20 30 30 re f* /B cs 1 scn 40 40 m 60 80 20 80 40 40 c f"
            << none;
        QTest::newRow("dashed and scaled strokes")
            << "/A CS 1 SCN q 2 0 0 1 0 0 cm 3 w [6 4] 2 d 1 J 5 20 m 30 20 l S Q "
               "/B CS 0.6 SCN 4 w 1 j 10 40 m 35 65 l 60 40 l S"
            << none;
        QTest::newRow("process and spots in one colour")
            << "/N cs 0.3 0.8 scn 5 5 60 30 re f 0.2 0.4 0.6 0.1 k 5 40 60 25 re f" << none;
        QTest::newRow("half transparent and multiplied") << "/A cs 1 scn 5 5 40 60 re f /Half gs /B cs 1 scn "
                                                            "20 20 45 20 re f /Mul gs 0 0.5 0 0 k 5 45 60 10 "
                                                            "re f"
                                                         << none;
        QTest::newRow("text")
            << "/A cs 1 scn BT /F 30 Tf 5 30 Td (Ag) Tj ET /B CS 1 SCN BT /F 20 Tf 1 Tr 5 8 Td "
               "(Mo) Tj ET"
            << "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>";
        QTest::newRow("text as a clip")
            << "q BT /F 50 Tf 7 Tr 5 20 Td (M) Tj ET /A cs 0.8 scn 0 0 72 72 re f Q"
            << "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>";
        QTest::newRow("a clip inside a clip") << "q 10 10 50 50 re W n q 36 0 72 72 re W n /A cs 1 scn 0 0 "
                                                 "72 72 re f Q /B cs 0.5 scn 0 0 36 36 re f "
                                                 "Q /A cs 0.2 scn 0 60 72 12 re f"
                                              << none;
        QTest::newRow("a linear and a radial shading")
            << "q 5 5 60 25 re W n /Lin sh Q q 5 35 60 35 re W n /Rad sh Q"
            << "/Shading << /Lin << /ShadingType 2 /ColorSpace [/Separation /Alpha /DeviceCMYK << "
               "/FunctionType 2 "
               "/Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>] /Coords [5 0 65 0] /Function << "
               "/FunctionType 2 "
               "/Domain [0 1] /C0 [0.1] /C1 [0.9] /N 1 >> /Extend [true true] >> /Rad << /ShadingType 3 "
               "/ColorSpace "
               "/DeviceCMYK /Coords [36 52 2 36 52 16] /Function << /FunctionType 2 /Domain [0 1] /C0 [1 0 0 "
               "0] "
               "/C1 [0 0 1 0] /N 1 >> /Extend [true false] >> >>";
        QTest::newRow("a picture and a stencil")
            << "q 50 0 0 30 10 5 cm BI /W 4 /H 2 /CS /CMYK /BPC 8 /F /AHx ID "
               "FF000000 00FF0000 0000FF00 000000FF 80000000 00800000 00008000 00000080 > EI Q "
               "q /A cs 0.7 scn 40 0 0 20 10 45 cm BI /W 8 /H 2 /IM true /F /AHx ID AA 55 > EI Q"
            << none;
        QTest::newRow("a soft mask and a pattern")
            << "q /SM gs /A cs 1 scn 0 0 72 36 re f Q /Pattern cs /P scn 5 40 60 28 re f"
            << "/ExtGState << /SM << /SMask << /S /Luminosity /G 10 0 R >> >> >> /Pattern << /P 11 0 R >>";
    }
    void whatIsWrittenIsReadAgain()
    {
        QFETCH(QString, contents);
        QFETCH(QString, resources);
        MiniPdf pdf = spots_page(contents.toStdString(), resources.toStdString());
        if (resources.contains(QStringLiteral("/SM "))) {
            pdf = spots_page(contents.toStdString(), "/Pattern << /P 11 0 R >>");
            const std::size_t at = pdf.resources.find("/ExtGState <<");
            QVERIFY(at != std::string::npos);
            pdf.resources.insert(at + 13, " /SM << /SMask << /S /Luminosity /G 10 0 R >> >> ");
            const std::string mask = "0.3 g 0 0 36 72 re f 0.9 g 36 0 36 72 re f";
            pdf.objects = {
                "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency /CS "
                "/DeviceGray >> /Length " +
                    std::to_string(mask.size()) + " >>\nstream\n" + mask + "\nendstream",
                "<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 8 8] /XStep 10 "
                "/YStep 9 /Resources << >> /Matrix [1 0.2 0 1 2 3] /Length 31 >>\nstream\n0 0 0 1 k 0 0 "
                "5 5 re f          \nendstream"};
        }
        // Beside the artwork's own plates a base under everything, as exact shapes or traced.
        const OpenedJob job =
            with_plate(pdf.job(), "Base White", InkUse::White, {area(), by_distance(RecipeDo::Choke, 0.3)});
        const Composition made(job);
        for (const ComposedPlate &plate : made.plates) {
            QCOMPARE(plate.how, plate.ink == "Base White" ? Composed::Shapes : Composed::Artwork);
        }
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        const PlateTile before = plates_of(job, 288);
        const PlateTile after = plates_of(again, 288);
        QStringList inks;
        for (const Plate &plate : job.job.plates) {
            inks << QString::fromStdString(plate.ink);
        }
        const bool process_only_in_part = inks.size() < 8; // Ghostscript always has the four
        QVERIFY(process_only_in_part);
        const auto theirs = ghostscript_plates(made.path, 288, inks);
        double most = 0;
        for (std::size_t i = 0; i < job.job.plates.size(); ++i) {
            const int at = again.job.find_plate(job.job.plates[i].ink);
            const Plane &first = before.plates[i];
            QVERIFY2(inked(first) > 0 ? at >= 0 : true, job.job.plates[i].ink.c_str());
            if (at >= 0) {
                const double difference = mean_difference(first, after.plates[static_cast<std::size_t>(at)]);
                // The base is traced at 600 dpi where it is no exact shape: edges may lie a tenth of a pixel
                // off.
                QVERIFY2(difference <
                             (inks[static_cast<int>(i)] == QStringLiteral("Base White") ? 0.004 : 0.002),
                         qPrintable(inks[static_cast<int>(i)] + QString::number(difference, 'f', 4)));
            }
            const FlatDifference other = flat_difference(first, theirs.at(inks[static_cast<int>(i)]));
            most = std::max(most, other.mean);
            QVERIFY2(other.mean < 0.012, // 8-bit tint functions and blending of its own
                     qPrintable(inks[static_cast<int>(i)] + QString::number(other.mean, 'f', 4)));
        }
        qInfo("against Ghostscript at most %.3f %% away from edges", most * 100);
    }

    void tintsAreWrittenAsTheyWere()
    {
        const std::vector<float> tints = {0.3f, 1.0f, 0.123f, 0.5f};
        std::string art = "/A cs ";
        for (std::size_t i = 0; i < tints.size(); ++i) {
            art += std::to_string(tints[i]) + " scn " + std::to_string(i * 18) + " 0 9 9 re f ";
        }
        const Composition made(spots_page(art).job());
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        const Scene scene = take(record_scene(*take(again.artwork->interpret(1, PageBox::Media))));
        QCOMPARE(scene.objects.size(), tints.size());
        for (std::size_t i = 0; i < tints.size(); ++i) {
            QVERIFY2(std::fabs(scene.objects[i].colour.values[0] - tints[i]) < 1e-4f,
                     qPrintable(QString::number(static_cast<double>(scene.objects[i].colour.values[0]))));
        }
    }

    void textStaysText_data()
    {
        QTest::addColumn<QString>("file");
        // LaTeX embeds Type 1 programs; cairo, which SVGs pass through, TrueType and CFF.
        QTest::newRow("Type 1, by LaTeX") << QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/latex-spots.pdf");
        QTest::newRow("a font of the page's own, and a standard one") << QString();
        QTest::newRow("by cairo") << QStringLiteral("svg");
    }
    /// The same letters, read by Poppler, in embedded fonts; the same plates, by Ghostscript.
    void textStaysText()
    {
        QFETCH(QString, file);
        QTemporaryDir folder;
        if (file.isEmpty()) {
            file = folder.filePath(QStringLiteral("art.pdf"));
            spots_page(
                "/A cs 1 scn BT /F 9 Tf 0.2 Tc 5 50 Td [(Moth) -300 (fli) 40 (ght)] TJ ET /B CS 0.8 SCN "
                "BT /F 20 Tf 1 Tr 1 0 0.2 1 5 8 Tm (Moon) Tj ET",
                "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Times-Italic >> >>")
                .save(file);
        } else if (file == QStringLiteral("svg")) {
            file = folder.filePath(QStringLiteral("art.svg"));
            QFile svg(file);
            QVERIFY(svg.open(QIODevice::WriteOnly));
            svg.write("<svg xmlns='http://www.w3.org/2000/svg' width='200' height='80'><text x='8' y='40' "
                      "font-size='24' fill='#a02040'>Quarry <tspan font-style='italic'>moths</tspan></text>"
                      "<text x='8' y='70' font-size='9' transform='rotate(-5)'>by night</text></svg>");
            svg.close();
        }
        const OpenedJob job = take(open_job_or_artwork(file.toStdString()));
        const Composition made(job);
        const auto letters = [](const QString &pdf) {
            return output_of(QStringLiteral("pdftotext"),
                             {QStringLiteral("-l"), QStringLiteral("1"), pdf, QStringLiteral("-")})
                .simplified();
        };
        QVERIFY(letters(made.path).size() > 8);
        QCOMPARE(letters(made.path), file.endsWith(QStringLiteral(".svg"))
                                         ? QStringLiteral("Quarry moths by night")
                                         : letters(file));
        const QStringList fonts =
            output_of(QStringLiteral("pdffonts"), {made.path}).split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        QVERIFY(fonts.size() > 2);
        for (const QString &font : fonts.mid(2)) {
            QVERIFY2(!font.contains(QStringLiteral("Type 3")), qPrintable(font));
            QVERIFY2(font.contains(QRegularExpression(QStringLiteral(" yes (yes|no) +yes "))),
                     qPrintable(font));
        }
        QStringList inks;
        for (const Plate &plate : job.job.plates) {
            inks << QString::fromStdString(plate.ink);
        }
        const PlateTile ours = plates_of(job, 288);
        const auto theirs = ghostscript_plates(made.path, 288, inks);
        const PlateTile again = plates_of(take(open_job_or_artwork(made.path.toStdString())), 288);
        for (std::size_t i = 0; i < ours.plates.size() && i < again.plates.size(); ++i) {
            const Plane &other = theirs.at(inks[static_cast<int>(i)]);
            const double difference = mean_difference(ours.plates[i], other);
            // Glyphs are many edges, which both smooth in their own way.
            QVERIFY2(difference < 0.01, qPrintable(inks[static_cast<int>(i)] + QString::number(difference)));
            QVERIFY(inked(ours.plates[i]) == 0 || std::fabs(inked(other) / inked(ours.plates[i]) - 1) < 0.05);
            QVERIFY(mean_difference(ours.plates[i], again.plates[i]) < 0.002);
        }
    }

    void untouchedJpegsStayWhatTheyAre_data()
    {
        QTest::addColumn<bool>("cmyk");
        QTest::addColumn<QString>("extra");
        QTest::addColumn<bool>("kept");
        QTest::newRow("CMYK") << true << QString() << true;
        QTest::newRow("CMYK that is decoded the other way")
            << true << QStringLiteral("/Decode [1 0 1 0 1 0 1 0]") << true;
        QTest::newRow("grey becomes black ink") << false << QString() << true;
        QTest::newRow("RGB is converted") << false << QStringLiteral("rgb") << false;
    }
    void untouchedJpegsStayWhatTheyAre()
    {
        QFETCH(bool, cmyk);
        QFETCH(QString, extra);
        QFETCH(bool, kept);
        const bool rgb = extra == QStringLiteral("rgb");
        QImage image(48, 40, QImage::Format_RGB32);
        for (int y = 0; y < image.height(); ++y) {
            for (int x = 0; x < image.width(); ++x) {
                image.setPixel(x, y, qRgb(x * 5, y * 6, 90));
            }
        }
        const QByteArray jpeg =
            cmyk ? cmyk_jpeg({40, 90, 200, 20}, false)
                 : encoded(rgb ? image : image.convertToFormat(QImage::Format_Grayscale8), "JPEG");
        const int width = cmyk ? 16 : image.width();
        const int height = cmyk ? 16 : image.height();
        MiniPdf pdf = spots_page("q 60 0 0 60 6 6 cm /Im Do Q", "/XObject << /Im 10 0 R >>");
        pdf.objects = {"<< /Type /XObject /Subtype /Image /BitsPerComponent 8 /Width " +
                       std::to_string(width) + " /Height " + std::to_string(height) + " /ColorSpace /Device" +
                       (cmyk  ? "CMYK"
                        : rgb ? "RGB"
                              : "Gray") +
                       " /Filter /DCTDecode " + (rgb ? "" : extra.toStdString()) + " /Length " +
                       std::to_string(jpeg.size()) + " >>\nstream\n" + jpeg.toStdString() + "\nendstream"};
        const OpenedJob job = pdf.job();
        const Composition made(job);
        QTemporaryDir folder;
        (void)output_of(QStringLiteral("pdfimages"),
                        {QStringLiteral("-all"), made.path, folder.filePath(QStringLiteral("p"))});
        const QStringList pictures = QDir(folder.path()).entryList({QStringLiteral("*.jpg")});
        QCOMPARE(pictures.size(), kept ? 1 : 0);
        QFile file(made.path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QCOMPARE(file.readAll().contains(jpeg), kept);
        const PlateTile before = plates_of(job, 288);
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        const PlateTile after = plates_of(again, 288);
        for (std::size_t i = 0; i < before.plates.size(); ++i) {
            const int at = again.job.find_plate(job.job.plates[i].ink);
            QVERIFY(at >= 0 || inked(before.plates[i]) == 0);
            QVERIFY(at < 0 ||
                    mean_difference(before.plates[i], after.plates[static_cast<std::size_t>(at)]) < 0.002);
        }
        const auto theirs = ghostscript_plates(made.path, 288, {QStringLiteral("Black")});
        const int black = job.job.find_plate("Black");
        QVERIFY(black >= 0);
        QVERIFY(flat_difference(before.plates[static_cast<std::size_t>(black)], theirs.begin()->second).mean <
                0.01);
    }

    void aDamagedJpegIsNotHandedOn()
    {
        // What others would make of it nobody knows: its pixels are written as they were read here.
        const QByteArray whole = encoded(QImage(64, 64, QImage::Format_Grayscale8), "JPEG");
        const QByteArray cut = whole.left(whole.size() - 40);
        MiniPdf pdf = spots_page("q 60 0 0 60 6 6 cm /Im Do Q", "/XObject << /Im 10 0 R >>");
        pdf.objects = {
            "<< /Type /XObject /Subtype /Image /BitsPerComponent 8 /Width 64 /Height 64 /ColorSpace "
            "/DeviceGray /Filter /DCTDecode /Length " +
            std::to_string(cut.size()) + " >>\nstream\n" + cut.toStdString() + "\nendstream"};
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("plates.pdf"));
        QVERIFY(!compose_pdf(pdf.job(), path.toStdString()));
        ComposeRequest request;
        request.accept_damage = "the customer knows";
        QVERIFY(!take(compose_pdf(pdf.job(), path.toStdString(), request)).damage.empty());
        QFile file(path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(!file.readAll().contains("DCTDecode"));
    }

    void glyphsThatOverlapPaintTwiceWhereTheFileSaysSo()
    {
        // Half transparent letters on each other: once with text knockout, twice without (ISO
        // 32000-1, 9.3.8).
        const std::string font =
            "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >> ";
        double inks[2] = {};
        for (const bool knocks : {true, false}) {
            MiniPdf pdf = spots_page("/Half gs " + std::string(knocks ? "" : "/TkOff gs ") +
                                         "/A cs 1 scn BT /F 60 Tf 10 15 Td -50 Tc (HH) Tj ET",
                                     font);
            const std::size_t at = pdf.resources.find("/ExtGState <<");
            QVERIFY(at != std::string::npos);
            pdf.resources.insert(at + 13, " /TkOff << /TK false >> ");
            const OpenedJob job = pdf.job();
            const Composition made(job);
            const PlateTile before = plates_of(job, 144);
            const PlateTile after = plates_of(take(open_job_or_artwork(made.path.toStdString())), 144);
            const auto alpha = static_cast<std::size_t>(job.job.find_plate("Alpha"));
            QVERIFY(mean_difference(before.plates[alpha], after.plates[0]) < 0.003);
            inks[knocks ? 0 : 1] = inked(after.plates[0]);
        }
        QVERIFY2(inks[1] > inks[0] * 1.05, qPrintable(QStringLiteral("%1 %2").arg(inks[0]).arg(inks[1])));
    }

    void moreInksThanOneRunPaints()
    {
        // 40 spots in a row, each under a later one that knocks it out in part.
        MiniPdf pdf;
        pdf.width = 420;
        pdf.height = 40;
        std::string spaces;
        for (int i = 0; i < 40; ++i) {
            const std::string key = "S" + std::to_string(i);
            spaces += separation(key, "Ink" + std::to_string(i)) + " ";
            pdf.contents += "/" + key + " cs " + (i % 2 == 0 ? "1" : "0.5") + " scn " +
                            std::to_string(10 + i * 10) + " 5 15 " + std::to_string(10 + i % 3 * 10) +
                            " re f ";
        }
        pdf.resources = "/ColorSpace << " + spaces + ">>";
        const OpenedJob job = pdf.job();
        QCOMPARE(job.job.plates.size(), std::size_t(40));
        const Composition made(job);
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        QCOMPARE(again.job.plates.size(), std::size_t(40));
        const PlateTile before = plates_of(job, 144);
        const PlateTile after = plates_of(again, 144);
        for (std::size_t i = 0; i < before.plates.size(); ++i) {
            const auto at = static_cast<std::size_t>(again.job.find_plate(job.job.plates[i].ink));
            QVERIFY(at < after.plates.size());
            QVERIFY(inked(before.plates[i]) > 100);
            QVERIFY2(mean_difference(before.plates[i], after.plates[at]) < 1e-3,
                     job.job.plates[i].ink.c_str());
        }
    }

    void computedPlatesBecomeOutlines()
    {
        // A disc of 25 pt choked by 1 mm, under artwork that stays as it is.
        const double k = 0.5522847498 * 25;
        const auto n = [](double value) { return std::to_string(value) + " "; };
        const std::string disc = "61 36 m " + n(61) + n(36 + k) + n(36 + k) + "61 36 61 c " + n(36 - k) +
                                 n(61) + "11 " + n(36 + k) + "11 36 c 11 " + n(36 - k) + n(36 - k) +
                                 "11 36 11 c " + n(36 + k) + "11 " + "61 " + n(36 - k) + "61 36 c f";
        OpenedJob job = spots_page("/A cs 1 scn " + disc).job();
        job = with_plate(std::move(job), "Base White", InkUse::White,
                         {area(), by_distance(RecipeDo::Choke, 1)});
        const Composition made(job);
        QCOMPARE(made.plates.back().how, Composed::Shapes);
        const auto theirs =
            ghostscript_plates(made.path, 600, {QStringLiteral("Alpha"), QStringLiteral("Base White")});
        const double pixel = 72.0 / 600;
        const double radius = 25 - 72 / 25.4;
        const double expected = std::numbers::pi * radius * radius / pixel / pixel;
        const double found = inked(theirs.at(QStringLiteral("Base White")));
        QVERIFY2(std::fabs(found / expected - 1) < 0.005, qPrintable(QString::number(found / expected)));
        const double whole = std::numbers::pi * 25 * 25 / pixel / pixel; // overprinted, not knocked out
        const double alpha = inked(theirs.at(QStringLiteral("Alpha")));
        QVERIFY2(std::fabs(alpha / whole - 1) < 0.005, qPrintable(QString::number(alpha / whole)));
    }

    void exactShapesAreExact()
    {
        // Overlapping squares, a ring and a line, choked, kept off a drawn area and the edge: areas by
        // formula in points, read again from the outlines themselves.
        OpenedJob job = spots_page("/A cs 1 scn 10 10 30 30 re f 0 0 0 0 k 25 25 30 30 re f "
                                   "/A CS 1 SCN 4 w 5 65 m 45 65 l S")
                            .job();
        const double mm = 25.4 / 72;
        RecipeStep away = by_distance(RecipeDo::KeepAway, 1 * mm);
        away.source.from = RecipeFrom::Drawn;
        away.source.areas = {{20 * mm, 40 * mm, 5 * mm, 5 * mm}}; // inside the lower square, y down
        job = with_plate(std::move(job), "Base White", InkUse::White,
                         {area(), by_distance(RecipeDo::Choke, 1 * mm), away});
        const auto plate_line =
            take(PlateLine::make(take(job.artwork->interpret(1, PageBox::Media)), setup_of(job.job)));
        const auto shapes = take(plate_line->exact_shapes(job.job.find_plate("Base White")));
        QVERIFY(shapes);
        const double expected_area = 2 * 28 * 28 - 13 * 13 + 38 * 2 - 49; // white counts as area
        QVERIFY2(std::fabs(area_of(*shapes) - expected_area) < 2 * (1 - std::numbers::pi / 4) + 0.05,
                 qPrintable(QString::number(area_of(*shapes))));
        const Composition made(job);
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        const PlateTile read = plates_of(again, 2400);
        const double pixels =
            inked(read.plates[static_cast<std::size_t>(again.job.find_plate("Base White"))]);
        const double points = pixels / std::pow(2400.0 / 72, 2);
        // The union of squares of 28 with the inner corners rounded outwards by the choke, the line 38 × 2,
        // less 7 × 7.
        const double squares = 2 * 28 * 28 - 13 * 13;
        const double corners =
            2 * (1 - std::numbers::pi / 4); // a choke rounds where the outline turns inwards
        const double expected = squares + 38 * 2 - 49;
        QVERIFY2(std::fabs(points - expected) < corners + 0.05,
                 qPrintable(QString::number(points - expected)));
        // A shading or a tint of transparency is no flat shape: traced then.
        for (const char *content :
             {"/Half gs /A cs 1 scn 0 0 20 20 re f", "/A CS 1 SCN [3 2] 0 d 2 w 5 5 m 60 5 l S"}) {
            const OpenedJob traced =
                with_plate(spots_page(content).job(), "Base White", InkUse::White, {area()});
            const auto other = take(
                PlateLine::make(take(traced.artwork->interpret(1, PageBox::Media)), setup_of(traced.job)));
            QVERIFY2(!take(other->exact_shapes(traced.job.find_plate("Base White"))), content);
            // What no recipe computes has no shapes of its own either.
            QVERIFY2(!take(other->exact_shapes(traced.job.find_plate("Alpha"))), content);
        }
    }

    void popplerSeesTheSameShape()
    {
        // A ring alone, its colour black in composite viewers: the area that Poppler's pdftoppm paints at 600
        // dpi.
        OpenedJob job = spots_page("/A cs 1 scn 10 10 52 52 re 22 22 28 28 re f*").job();
        job = with_plate(std::move(job), "Ring", InkUse::Spot, {area(), by_distance(RecipeDo::Choke, 0.5)});
        job.job.plates.front().solid = {100, 0, 0}; // not seen in the composite
        job.job.plates.back().solid = {0, 0, 0};
        for (const bool traced : {false, true}) {
            if (traced) { // single plates are known as pixels only
                job.job.plates.back().recipe[0].source.from = RecipeFrom::Plate;
                job.job.plates.back().recipe[0].source.inks = {"Alpha"};
            }
            const Composition made(job);
            QCOMPARE(made.plates.back().how, Composed::Shapes);
            const QString picture = made.folder.filePath(QStringLiteral("page"));
            (void)output_of(QStringLiteral("pdftoppm"),
                            {QStringLiteral("-r"), QStringLiteral("600"), QStringLiteral("-gray"),
                             QStringLiteral("-singlefile"), made.path, picture});
            const QImage grey(picture + QStringLiteral(".pgm"));
            QCOMPARE(grey.size(), QSize(600, 600));
            double dark = 0;
            for (int y = 0; y < grey.height(); ++y) {
                for (int x = 0; x < grey.width(); ++x) {
                    dark += 1 - qGray(grey.pixel(x, y)) / 255.0;
                }
            }
            const double by = 0.5 * 72 / 25.4; // points, inwards at both edges; inner corners are round
            const double points =
                std::pow(52 - 2 * by, 2) - std::pow(28 + 2 * by, 2) + (4 - std::numbers::pi) * by * by;
            const double share = dark / (points * std::pow(600.0 / 72, 2));
            QVERIFY2(std::fabs(share - 1) < 0.012, qPrintable(QString::number(share)));
        }
    }

    void flatTintsToneAndLines()
    {
        OpenedJob job = spots_page("/A cs 1 scn 16 16 40 40 re f").job();
        RecipeStep tint;
        tint.does = RecipeDo::Tint;
        tint.amount = 0.4;
        job = with_plate(std::move(job), "Half", InkUse::White, {area(), tint});
        RecipeStep fade;
        fade.source.from = RecipeFrom::Drawn;
        fade.source.areas = {{2, 2, 10, 10}};
        fade.source.fade = {0, 1, 0};
        job = with_plate(std::move(job), "Fade", InkUse::Spot, {fade});
        job = with_plate(std::move(job), "Cut", InkUse::Technical,
                         {area(), by_distance(RecipeDo::Spread, 2), by_distance(RecipeDo::Outline, 0.5)});
        RecipeStep nothing;
        nothing.source.from = RecipeFrom::Drawn;
        job = with_plate(std::move(job), "Empty", InkUse::Spot, {nothing});
        const Composition made(job);
        QCOMPARE(made.plates[1].how, Composed::Shapes);
        QCOMPARE(made.plates[2].how, Composed::Picture);
        QCOMPARE(made.plates[3].how, Composed::Line);
        QCOMPARE(made.plates[4].how, Composed::Nothing);
        const auto theirs = ghostscript_plates(
            made.path, 600, {QStringLiteral("Half"), QStringLiteral("Fade"), QStringLiteral("Cut")});
        const Plane &half = theirs.at(QStringLiteral("Half"));
        QVERIFY(std::abs(half.at(300, 300) - 102) <= 2);
        const PlateTile ours = plates_of(job, 600);
        QVERIFY(mean_difference(ours.plates[2], theirs.at(QStringLiteral("Fade"))) < 0.004);
        // The line's area: its length times its width; corners of the spread square are round.
        const double mm = 600 / 25.4;
        const double side = 40 * 25.4 / 72;
        const double length = 4 * side + 2 * std::numbers::pi * 2;
        const double expected = length * 0.5 * mm * mm;
        const OpenedJob again = take(open_job_or_artwork(made.path.toStdString()));
        const PlateTile read = plates_of(again, 600);
        const double line = inked(read.plates[static_cast<std::size_t>(again.job.find_plate("Cut"))]);
        QVERIFY2(std::fabs(line / expected - 1) < 0.01, qPrintable(QString::number(line / expected)));
        // Ghostscript paints every subpixel a line touches: up to a quarter of a pixel more on 11.8.
        const double other = inked(theirs.at(QStringLiteral("Cut")));
        QVERIFY2(other / expected > 0.99 && other / expected < 1.04,
                 qPrintable(QString::number(other / expected)));
    }

    void whatLiesUnderFoilStaysArtwork()
    {
        // A gradient, text and a tint under a disc of foil: their plates stay as they were, less the foil's
        // shape.
        OpenedJob job =
            spots_page("q 0 0 72 72 re W n /Sh sh Q /B cs 0.4 scn 0 0 72 20 re f 0 0 0 1 k "
                       "BT /F 7 Tf 8 34 Td (Quarry Moth) Tj ET /OP gs /A cs 1 scn 30 30 24 24 re f",
                       "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >> "
                       "/Shading << /Sh << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 72 0] "
                       "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.8 0 0 0] /C1 [0 0.6 0 0] "
                       ">> >> >>")
                .job();
        const Scene scene = take(record_scene(*take(job.artwork->interpret(1, PageBox::Media))));
        const auto presets = recipe_presets(preset_table(job.job, scene));
        const auto foil = std::find_if(presets.begin(), presets.end(),
                                       [](const RecipePreset &one) { return one.name == "Foil"; });
        QVERIFY(foil != presets.end());
        auto with_foil = take(make_preset_plate(job.job, *foil));
        job.job = pour_object(std::move(with_foil.job), with_foil.ink, 0,
                              {1, scene.objects.back().own_index, ObjectKind::Fill, {}});
        const Composition made(job);
        QStringList inks;
        for (std::size_t i = 0; i < job.job.plates.size(); ++i) {
            const Plate &plate = job.job.plates[i];
            inks << QString::fromStdString(plate.ink);
            QVERIFY2(made.plates[i].how ==
                         (plate.ink == with_foil.ink ? Composed::Shapes : Composed::Artwork),
                     plate.ink.c_str());
        }
        QFile file(made.path);
        QVERIFY(file.open(QIODevice::ReadOnly));
        QVERIFY(!file.readAll().contains("/Subtype /Image"));
        const auto theirs = ghostscript_plates(made.path, 1200, inks);
        const PlateTile ours = plates_of(job, 1200);
        for (std::size_t i = 0; i < job.job.plates.size(); ++i) {
            const double difference = mean_difference(ours.plates[i], theirs.at(inks[static_cast<int>(i)]));
            QVERIFY2(difference < 0.01, qPrintable(inks[static_cast<int>(i)] + QString::number(difference)));
        }
        const Plane &black = theirs.at(QStringLiteral("Black"));
        QCOMPARE(int(black.at(700, 580)), 0); // in the foil
    }

    void aPlateKnockedOutByARecipeStaysArtwork()
    {
        OpenedJob job = spots_page("/A cs 1 scn 0 0 72 72 re f").job();
        RecipeStep own;
        own.source.from = RecipeFrom::Plate;
        own.source.inks = {"Alpha"};
        RecipeStep hole;
        hole.does = RecipeDo::TakeAway;
        hole.source.from = RecipeFrom::Drawn;
        hole.source.areas = {{5, 5, 10, 10}};
        job.job.plates[0].recipe = {own, hole};
        const Composition made(job);
        QCOMPARE(made.plates[0].how, Composed::Artwork);
        const auto theirs = ghostscript_plates(made.path, 300, {QStringLiteral("Alpha")});
        const Plane &alpha = theirs.at(QStringLiteral("Alpha"));
        QCOMPARE(int(alpha.at(118, 118)), 0);
        QCOMPARE(int(alpha.at(250, 250)), 255);
        // Who looks at that plate sees it less what is taken away: the base is thinned by what prints.
        OpenedJob based = job;
        RecipeStep less = own;
        less.does = RecipeDo::TakeAway;
        based = with_plate(std::move(based), "Base", InkUse::White, {area(), less});
        const Composition with_base(based);
        QCOMPARE(with_base.plates[0].how, Composed::Artwork);
        const auto base = ghostscript_plates(with_base.path, 300, {QStringLiteral("Base")});
        QCOMPARE(int(base.at(QStringLiteral("Base")).at(118, 118)), 255);
        QCOMPARE(int(base.at(QStringLiteral("Base")).at(250, 250)), 0);
        // What is taken away in tones is no shape: the plate is as it is computed.
        job.job.plates[0].recipe[1].source.fade = {1, 0, 0};
        QCOMPARE(Composition(job).plates[0].how, Composed::Picture);
    }

    void theDemoAndItsBase()
    {
        OpenedJob job = take(open_job_or_artwork(demo_file().toStdString()));
        job = with_plate(std::move(job), "Base White", InkUse::White,
                         {area(), by_distance(RecipeDo::Choke, 0.2)});
        const Composition made(job);
        QStringList inks;
        for (const Plate &plate : job.job.plates) {
            inks << QString::fromStdString(plate.ink);
        }
        const auto theirs = ghostscript_plates(made.path, 100, inks);
        const PlateTile ours = plates_of(job, 100);
        for (std::size_t i = 0; i < job.job.plates.size(); ++i) {
            const FlatDifference difference =
                flat_difference(ours.plates[i], theirs.at(inks[static_cast<int>(i)]));
            QVERIFY2(difference.mean < 0.015, job.job.plates[i].ink.c_str());
        }
        // A third reader agrees about the size and that the file is whole.
        const QString info = output_of(QStringLiteral("pdfinfo"), {made.path});
        QVERIFY(info.contains(QStringLiteral("Pages:           1")));
        const auto artwork = take(Artwork::open(made.path.toStdString()));
        const auto page = take(artwork->page_info(1));
        const auto source = take(job.artwork->page_info(1));
        for (const PageBox box : {PageBox::Media, PageBox::Trim}) {
            QVERIFY(std::fabs(page.box(box).width - source.box(box).width) < 0.01);
            QVERIFY(std::fabs(page.box(box).height - source.box(box).height) < 0.01);
        }
    }

    void pagesAndPlatesAreChosen()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        pdf.more_pages = {"/B cs 1 scn 0 0 36 72 re f",
                          "/A cs 0.5 scn 0 0 72 72 re f /OP gs /B cs 1 scn 36 0 36 72 re f"};
        const OpenedJob job = pdf.job();
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        ComposeRequest request;
        request.pages = {2, 3};
        request.inks = {"Beta"};
        // Alpha is no plate of page 1, which opens first, but Beta is of both pages asked for.
        const ComposedPdf made = take(compose_pdf(job, path.toStdString(), request));
        QCOMPARE(made.pages.size(), std::size_t(2));
        QCOMPARE(made.pages[0].number, 2);
        for (const ComposedPage &page : made.pages) {
            QCOMPARE(page.plates.size(), std::size_t(1));
            QCOMPARE(page.plates[0].ink, std::string("Beta"));
        }
        const QString info = output_of(QStringLiteral("pdfinfo"), {path});
        QVERIFY(info.contains(QStringLiteral("Pages:           2")));
        // Read again: Beta where it was, nothing else anywhere.
        { // of its own: what is open is not written over
            const auto again = take(Artwork::open(path.toStdString()));
            for (int number = 1; number <= 2; ++number) {
                const auto content = take(again->interpret(number, PageBox::Media));
                const Job read = propose_job(take(record_scene(*content)), "again", number);
                QCOMPARE(read.inks(), std::vector<std::string>{"Beta"});
                const auto line = take(PlateLine::make(content, setup_of(read)));
                const PlateTile tile = take(line->render({0, 0, 72, 72}, Dpi(72)));
                QCOMPARE(int(tile.plates[0].at(10, 36)), number == 1 ? 255 : 0);
                QCOMPARE(int(tile.plates[0].at(60, 36)), number == 1 ? 0 : 255);
            }
        }
        // By Ghostscript, a page by itself: ISO 32000-1, 8.6.6.4, the colourant None never paints.
        request.pages = {3};
        const QString single = folder.filePath(QStringLiteral("one.pdf"));
        (void)take(compose_pdf(job, single.toStdString(), request));
        const auto theirs = ghostscript_plates(single, 72, {QStringLiteral("Beta")});
        QVERIFY(theirs.at(QStringLiteral("Beta")).at(60, 36) > 250);
        QVERIFY(theirs.at(QStringLiteral("Beta")).at(10, 36) < 5);
        request.inks = {"Gamma"};
        QCOMPARE(compose_pdf(job, path.toStdString(), request).error().code, ErrorCode::UnknownInk);
        request = {};
        request.pages = {4};
        QCOMPARE(compose_pdf(job, path.toStdString(), request).error().code, ErrorCode::NoSuchPage);
        QCOMPARE(take(Artwork::open(path.toStdString()))->page_count(), 2); // and the file stands as it was
    }

    void nothingIsLeftWhenItCannotBeWritten()
    {
        const OpenedJob job = spots_page("/A cs 1 scn 0 0 72 72 re f").job();
        const auto failed = compose_pdf(job, "/nowhere/at/all.pdf");
        QVERIFY(!failed);
        QCOMPARE(failed.error().code, ErrorCode::CannotWrite);
        OpenedJob bare = job;
        bare.job.plates.clear();
        QCOMPARE(compose_pdf(bare, "/nowhere/at/all.pdf").error().code, ErrorCode::NothingToPrint);
    }

    void trapsAreShapesThatOverprint()
    {
        // A disc of Alpha in Beta, and a rich black beside: read by Ghostscript at the film's resolution.
        const MiniPdf pdf = spots_page(
            "/B cs 1 scn 6 6 60 60 re f /A cs 1 scn 54 36 m 54 45.9 45.9 54 36 54 c 26.1 54 18 45.9 18 36 c "
            "18 26.1 26.1 18 36 18 c 45.9 18 54 26.1 54 36 c f 0.6 0 0 1 k 6 6 12 12 re f");
        OpenedJob job = pdf.job();
        for (Plate &plate : job.job.plates) {
            plate.traits.density = plate.ink == "Alpha"  ? 0.1
                                   : plate.ink == "Beta" ? 0.8
                                                         : plate.traits.density;
        }
        job.job.traps.on = true;
        job.job.traps.width = 0.2;
        job.job.traps.hold_back = 0.1;
        const Composition made(job);
        const QStringList inks = {QStringLiteral("Alpha"), QStringLiteral("Beta"), QStringLiteral("Cyan"),
                                  QStringLiteral("Black")};
        const auto theirs = ghostscript_plates(made.path, 1200, inks);
        const auto line =
            take(PlateLine::make(take(job.artwork->interpret(1, PageBox::Media)), setup_of(job.job)));
        const PlateTile ours = take(line->whole_page(Dpi(1200), Edges::Crisp));
        OpenedJob plain = job;
        plain.job.traps.on = false;
        const auto untrapped =
            take(PlateLine::make(take(job.artwork->interpret(1, PageBox::Media)), setup_of(plain.job)));
        const PlateTile before = take(untrapped->whole_page(Dpi(1200), Edges::Crisp));
        for (std::size_t i = 0; i < line->inks().size(); ++i) {
            const auto known = theirs.find(QString::fromStdString(line->inks()[i]));
            if (known == theirs.end()) {
                continue;
            }
            // Every pixel that differs lies within one of an edge.
            const Plane &a = known->second;
            const Plane &b = ours.plates[i];
            int wrong = 0;
            for (int y = 2; y < std::min(a.height, b.height) - 2; ++y) {
                for (int x = 2; x < std::min(a.width, b.width) - 2; ++x) {
                    if (std::abs(int(a.at(x, y)) - int(b.at(x, y))) <= 26) {
                        continue;
                    }
                    bool edge = false;
                    for (int dy = -1; dy <= 1; ++dy) {
                        for (int dx = -1; dx <= 1; ++dx) {
                            edge = edge || b.at(x + dx, y + dy) != b.at(x, y);
                        }
                    }
                    wrong += edge ? 0 : 1;
                }
            }
            QVERIFY2(wrong == 0, qPrintable(known->first + QString::number(wrong)));
            QVERIFY(mean_difference(a, b) < 0.002);
        }
        const auto number = [&](const char *ink) {
            return static_cast<std::size_t>(std::find(line->inks().begin(), line->inks().end(), ink) -
                                            line->inks().begin());
        };
        QVERIFY(inked(ours.plates[number("Alpha")]) > inked(before.plates[number("Alpha")]) + 10000);
        QVERIFY(inked(ours.plates[number("Cyan")]) < inked(before.plates[number("Cyan")]) - 1000);
        QCOMPARE(ours.plates[number("Black")], before.plates[number("Black")]);
    }
};

BICHROM_TEST(TestCompose, QCoreApplication)
#include "tst_compose.moc"
