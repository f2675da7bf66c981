// Expected values are worked out by hand from ISO 32000-1, 8.6.6.4–5 (Separation, DeviceN),
// 8.6.7 and 11.7.4 (overprint), 11.3 (blending). Tones: share × 255, rounded.
#include "core/line/coverage.h"
#include "core/line/plate_line.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <atomic>
#include <cmath>
#include <lcms2.h>
#include <thread>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const std::string left_half = " 0 0 36 72 re f ";
const std::string all = " 0 0 72 72 re f ";

/// The tones of some inks at the middle of the page.
std::map<std::string, int> middle(const MiniPdf &pdf)
{
    const Scene scene = pdf.scene();
    const PlateTile tile = pdf.plates();
    std::map<std::string, int> tones;
    for (const FoundInk &ink : scene.inks) {
        tones[ink.name] = plane(tile, scene, ink.name).at(36, 36);
    }
    tones["area"] = tile.area.at(36, 36);
    return tones;
}

} // namespace

class TestPlates : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void solidIs255AndBareIs0()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn" + left_half);
        const PlateTile tile = pdf.plates();
        QCOMPARE(tile.plates.size(), std::size_t(1));
        QCOMPARE(tile.plates[0].at(10, 36), std::uint8_t(255));
        QCOMPARE(tile.plates[0].at(60, 36), std::uint8_t(0));
        QCOMPARE(tile.area.at(10, 36), std::uint8_t(255));
        QCOMPARE(tile.area.at(60, 36), std::uint8_t(0));
    }

    void everyTintIsItsNearestTone()
    {
        for (int percent = 0; percent <= 100; percent += 5) {
            const double share = percent / 100.0;
            const auto tones = middle(spots_page("/A cs " + format_number(share, 2) + " scn" + all));
            QCOMPARE(tones.at("Alpha"), static_cast<int>(std::lround(share * 255)));
            QCOMPARE(tones.at("area"), 255); // a tint of 0 % paints too
        }
    }

    void coloursMeetAsTheStandardSays_data()
    {
        using Tones = std::map<std::string, int>;
        QTest::addColumn<QString>("contents");
        QTest::addColumn<Tones>("expected");
        const auto row = [](const char *name, const std::string &contents, Tones expected) {
            QTest::newRow(name) << QString::fromStdString(contents) << expected;
        };
        const std::string alpha = "/A cs 1 scn" + all;
        row("a spot knocks out another", alpha + "/B cs 0.6 scn" + all, {{"Alpha", 0}, {"Beta", 153}});
        row("an overprinting spot leaves another alone", alpha + "/OP gs /B cs 0.6 scn" + all,
            {{"Alpha", 255}, {"Beta", 153}});
        row("an overprinting tint replaces the same ink", alpha + "/OP gs /A cs 0.2 scn" + all,
            {{"Alpha", 51}});
        row("an overprinting 0 % of the same ink removes it", alpha + "/OP gs /A cs 0 scn" + all,
            {{"Alpha", 0}});
        row("OPM 1 does not protect a spot at 0 %", alpha + "/OPM1 gs /A cs 0 scn" + all, {{"Alpha", 0}});
        row("DeviceN names both", "/N cs 0.4 0.8 scn" + all, {{"Alpha", 102}, {"Beta", 204}});
        row("overprinting DeviceN with 0 % knocks that ink out", alpha + "/OP gs /N cs 0 1 scn" + all,
            {{"Alpha", 0}, {"Beta", 255}});
        row("DeviceN with None leaves the rest alone", "/B cs 1 scn" + all + "/OP gs /AN cs 0.4 1 scn" + all,
            {{"Alpha", 102}, {"Beta", 255}});
        row("Separation None paints nothing", alpha + "/No cs 1 scn" + all, {{"Alpha", 255}});
        row("Separation All paints every plate", alpha + "/B cs 1 scn" + all + "/All cs 0.2 scn" + all,
            {{"Alpha", 51}, {"Beta", 51}});
        row("process knocks out a spot", alpha + "0.5 0 0 0 k" + all, {{"Alpha", 0}, {"Cyan", 128}});
        row("overprinting process leaves a spot alone", alpha + "/OP gs 0.5 0 0 0 k" + all,
            {{"Alpha", 255}, {"Cyan", 128}});
        row("OPM 0: process at zero knocks out process", "1 0 0 0 k" + all + "/OP gs 0 1 0 0 k" + all,
            {{"Cyan", 0}, {"Magenta", 255}});
        row("OPM 1: process at zero is left alone", "1 0 0 0 k" + all + "/OPM1 gs 0 1 0 0 k" + all,
            {{"Cyan", 255}, {"Magenta", 255}});
        row("OPM 1 is nothing without overprint", "1 0 0 0 k" + all + "0 1 0 0 k" + all,
            {{"Cyan", 0}, {"Magenta", 255}});
        row("white in process under OPM 1 paints nothing", "1 0 0 0 k" + all + "/OPM1 gs 0 0 0 0 k" + all,
            {{"Cyan", 255}});
        row("grey is black only", "0.2 g" + all, {{"Black", 204}});
        row("overprinting grey knocks out process, not spots",
            alpha + "/OP gs 1 0 0 0 k" + all + "0.5 g" + all, {{"Alpha", 255}, {"Cyan", 0}, {"Black", 128}});
        row("half-transparent spot over a solid one", alpha + "/Half gs /B cs 1 scn" + all,
            {{"Alpha", 127}, {"Beta", 128}});
        row("multiply keeps both inks", alpha + "/Mul gs /B cs 0.6 scn" + all,
            {{"Alpha", 255}, {"Beta", 153}});
        row("multiply of the same ink: 1 − (1 − 0.6)(1 − 0.5) = 0.8",
            "/A cs 0.6 scn" + all + "/Mul gs /A cs 0.5 scn" + all, {{"Alpha", 204}});
        row("an Indexed fill over a spot", "/Pal cs 2 scn" + all, {{"Alpha", 170}});
        row("an overprinting Indexed fill leaves other spots alone",
            "/B cs 1 scn" + all + "/OP gs /Pal cs 1 scn" + all, {{"Alpha", 85}, {"Beta", 255}});
        row("a stroke follows the stroking overprint", alpha + "/OP gs /B CS 0.6 SCN 20 w 0 36 m 72 36 l S ",
            {{"Alpha", 255}, {"Beta", 153}});
    }
    void coloursMeetAsTheStandardSays()
    {
        using Tones = std::map<std::string, int>;
        QFETCH(QString, contents);
        QFETCH(Tones, expected);
        const auto tones = middle(spots_page(contents.toStdString()));
        for (const auto &[ink, tone] : expected) {
            QVERIFY2(tones.count(ink) == 1 || tone == 0, ink.c_str());
            const int got = tones.count(ink) == 1 ? tones.at(ink) : 0;
            // Blending happens in 8 bits: within one step; half strength is 127/256 there, one more.
            const int allowed = contents.contains(QStringLiteral("/Half")) ? 2 : 1;
            QVERIFY2(std::abs(got - tone) <= allowed, qPrintable(QStringLiteral("%1: %2, expected %3")
                                                                     .arg(QString::fromStdString(ink))
                                                                     .arg(got)
                                                                     .arg(tone)));
        }
    }

    void aPageGroupInRgbDoesNotTouchPlates()
    {
        MiniPdf pdf = spots_page("/B cs 0.6 scn" + all + "/OP gs /A cs 1 scn" + all + "0 0 0 0.5 k" + all);
        const auto plain = middle(pdf);
        pdf.page_extra = "/Group << /S /Transparency /CS /DeviceRGB /I true >>";
        QCOMPARE(middle(pdf), plain);
        QCOMPARE(plain.at("Black"), 128);
        QCOMPARE(plain.at("Alpha"), 255);
    }

    void aGroupKeepsSpotsAndItsAlpha()
    {
        // A form group at half strength: 100 % Beta becomes 50 %, Alpha beneath halves.
        MiniPdf pdf = spots_page("/A cs 1 scn" + all + "/Half gs /G Do ", "/XObject << /G 11 0 R >>");
        const std::string drawing = "/B cs 1 scn 0 0 72 72 re f";
        pdf.objects.push_back(
            "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency /CS /DeviceRGB >> "
            "/Resources << /ColorSpace << " +
            separation("B", "Beta") + " >> >> /Length " + std::to_string(drawing.size()) + " >>\nstream\n" +
            drawing + "\nendstream");
        const auto tones = middle(pdf);
        QVERIFY(std::abs(tones.at("Alpha") - 127) <= 1);
        QVERIFY(std::abs(tones.at("Beta") - 128) <= 1);
    }

    void glyphsOverlapAsTextKnockoutSays_data()
    {
        QTest::addColumn<QString>("state");
        QTest::addColumn<int>("mode");
        QTest::addColumn<int>("tone");
        // ISO 32000-1, 9.3.8: as one object, else each over the one before: 1 − (1 − ½)².
        for (const int mode : {0, 1}) {
            const char *how = mode == 0 ? "filled" : "stroked";
            QTest::addRow("%s, not said", how) << QString() << mode << 128;
            QTest::addRow("%s, knocks out", how) << QStringLiteral("/TK true") << mode << 128;
            QTest::addRow("%s, does not", how) << QStringLiteral("/TK false") << mode << 191;
            QTest::addRow("%s, black point compensation is another thing", how)
                << QStringLiteral("/UseBlackPtComp /OFF") << mode << 128;
        }
    }
    void glyphsOverlapAsTextKnockoutSays()
    {
        QFETCH(QString, state);
        QFETCH(int, mode);
        QFETCH(int, tone);
        // The I of Helvetica is 278 wide of 1000: the second stands on the first, its stem under the middle.
        MiniPdf pdf = spots_page("/Half gs /A cs /A CS 1 scn 1 SCN 12 w BT " + std::to_string(mode) +
                                     " Tr /F 72 Tf -20.016 Tc 26 10 Td (II) Tj ET",
                                 "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>");
        pdf.resources.insert(pdf.resources.find("/ca 0.5"), state.toStdString() + " ");
        const PlateTile tile = pdf.plates();
        const Plane &alpha = plane(tile, pdf.scene(), "Alpha");
        const int there = alpha.at(36, 40);
        QVERIFY2(std::abs(there - tone) <= 2, qPrintable(QString::number(there)));
    }

    void aSoftMaskScalesInk()
    {
        MiniPdf pdf = spots_page("/Mask gs /A cs 1 scn" + all, "");
        // Replace the graphics states by one with a luminosity mask of grey 0.4.
        const std::size_t at = pdf.resources.find("/Half");
        pdf.resources.insert(at, "/Mask << /SMask << /S /Luminosity /G 11 0 R >> >> ");
        const std::string drawing = "0.4 g 0 0 72 72 re f";
        pdf.objects.push_back("<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency "
                              "/CS /DeviceGray >> "
                              "/Length " +
                              std::to_string(drawing.size()) + " >>\nstream\n" + drawing + "\nendstream");
        const auto tones = middle(pdf);
        QVERIFY(std::abs(tones.at("Alpha") - 102) <= 1);
        QVERIFY2(tones.count("Black") == 0, "what paints a mask is not an ink");
    }

    void imagesKeepTheirInks()
    {
        // One DeviceN pixel: Alpha 0x33, Beta 0xCC; over solid black, which it knocks out.
        MiniPdf pdf = spots_page("0 g" + all + "72 0 0 72 0 0 cm /Im Do ", "/XObject << /Im 11 0 R >>");
        pdf.objects.push_back(
            "<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 /ColorSpace [/DeviceN "
            "[/Alpha /Beta] "
            "/DeviceCMYK 10 0 R] /Filter /ASCIIHexDecode /Length 5 >>\nstream\n33CC>\nendstream");
        auto tones = middle(pdf);
        QCOMPARE(tones.at("Alpha"), 0x33);
        QCOMPARE(tones.at("Beta"), 0xCC);
        QCOMPARE(tones.at("Black"), 0);
        pdf.contents = "0 g" + all + "/OP gs 72 0 0 72 0 0 cm /Im Do ";
        tones = middle(pdf);
        QCOMPARE(tones.at("Alpha"), 0x33);
        QCOMPARE(tones.at("Black"), 255);
    }

    void imagesMixProcessAndSpots_data()
    {
        QTest::addColumn<QString>("space");
        QTest::addColumn<QString>("pixel");
        QTest::addColumn<int>("black");
        QTest::addColumn<int>("alpha");
        QTest::newRow("DeviceN of black and a spot") << "[/DeviceN [/Black /Alpha] /DeviceCMYK 10 0 R]"
                                                     << "33CC" << 0x33 << 0xCC;
        QTest::newRow("DeviceGray") << "/DeviceGray"
                                    << "33" << 0xCC << 0;
        QTest::newRow("DeviceCMYK") << "/DeviceCMYK"
                                    << "00000033" << 0x33 << 0;
        QTest::newRow("Separation Black")
            << "[/Separation /Black /DeviceGray << /FunctionType 2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>]"
            << "33" << 0x33 << 0;
        QTest::newRow("Indexed over a spot") << "[/Indexed [/Separation /Alpha /DeviceGray << /FunctionType "
                                                "2 /Domain [0 1] /N 1 /C0 [1] /C1 [0] >>] 1 <0077>]"
                                             << "01" << 0 << 0x77;
    }
    void imagesMixProcessAndSpots()
    {
        QFETCH(QString, space);
        QFETCH(QString, pixel);
        QFETCH(int, black);
        QFETCH(int, alpha);
        MiniPdf pdf =
            spots_page("/B cs 1 scn" + all + "72 0 0 72 0 0 cm /Im Do ", "/XObject << /Im 11 0 R >>");
        pdf.objects.push_back(
            "<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 /ColorSpace " +
            space.toStdString() + " /Filter /ASCIIHexDecode /Length " + std::to_string(pixel.size() + 1) +
            " >>\nstream\n" + pixel.toStdString() + ">\nendstream");
        const auto tones = middle(pdf);
        QCOMPARE(tones.count("Black") == 1 ? tones.at("Black") : 0, black);
        QCOMPARE(tones.count("Alpha") == 1 ? tones.at("Alpha") : 0, alpha);
        QCOMPARE(tones.at("Beta"), 0); // knocked out
    }

    void processShadingsStayProcess()
    {
        MiniPdf pdf = spots_page(
            "/Sh sh ",
            "/Shading << /Sh << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 72 0] /Function "
            "<< /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [1 0 0 0.5] >> >> >>");
        const auto tones = middle(pdf);
        QVERIFY(std::abs(tones.at("Cyan") - 129) <= 3);
        QVERIFY(std::abs(tones.at("Black") - 65) <= 3);
    }

    void rgbGoesThroughTheProfileAndNoOtherWay_data()
    {
        QTest::addColumn<bool>("image");
        QTest::newRow("a fill") << false;
        QTest::newRow("an image") << true;
    }
    void rgbGoesThroughTheProfileAndNoOtherWay()
    {
        // Against a conversion made here by lcms2 itself; MuPDF's own would be 1 − RGB.
        QFETCH(bool, image);
        MiniPdf pdf = spots_page("0.8 0.4 0.2 rg" + all);
        if (image) {
            pdf = spots_page("72 0 0 72 0 0 cm /Im Do ", "/XObject << /Im 11 0 R >>");
            pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 "
                                  "/ColorSpace /DeviceRGB "
                                  "/Filter /ASCIIHexDecode /Length 7 >>\nstream\nCC6633>\nendstream");
        }
        const QByteArray icc = QByteArrayLiteral(BICHROM_SOURCE_DIR "/data/icc/FOGRA39L_coated.icc");
        const cmsHPROFILE press = cmsOpenProfileFromFile(icc.constData(), "r");
        const cmsHPROFILE srgb = cmsCreate_sRGBProfile();
        const cmsHTRANSFORM transform =
            cmsCreateTransform(srgb, TYPE_RGB_8, press, TYPE_CMYK_8, INTENT_RELATIVE_COLORIMETRIC,
                               cmsFLAGS_BLACKPOINTCOMPENSATION);
        const unsigned char rgb[3] = {0xCC, 0x66, 0x33};
        unsigned char cmyk[4];
        cmsDoTransform(transform, rgb, cmyk, 1);
        const auto tones = middle(pdf);
        const char *names[] = {"Cyan", "Magenta", "Yellow", "Black"};
        for (int i = 0; i < 4; ++i) {
            const int got = tones.count(names[i]) == 1 ? tones.at(names[i]) : 0;
            QVERIFY2(std::abs(got - cmyk[i]) <= 1, qPrintable(QStringLiteral("%1: %2, lcms2 says %3")
                                                                  .arg(QLatin1String(names[i]))
                                                                  .arg(got)
                                                                  .arg(cmyk[i])));
        }
        cmsDeleteTransform(transform);
        cmsCloseProfile(press);
        cmsCloseProfile(srgb);
    }

    void shadingsKeepTheirInks_data()
    {
        QTest::addColumn<QString>("shading");
        QTest::addColumn<QString>("stream");
        QTest::newRow("axial with a function")
            << QStringLiteral("/ShadingType 2 /Coords [0 0 72 0] /Extend [true true] /Function << "
                              "/FunctionType 2 /Domain [0 1] /N 1 /C0 [0] /C1 [1] >>")
            << QString();
        QTest::newRow("function-based")
            << QStringLiteral("/ShadingType 1 /Domain [0 1 0 1] /Matrix [72 0 0 72 0 0] /Function 12 0 R")
            << QString();
        QTest::newRow("radial, far from its centre nearly straight")
            << QStringLiteral("/ShadingType 3 /Coords [-7200 36 7200 -7200 36 7272] /Function << "
                              "/FunctionType 2 /Domain [0 1] /N 1 /C0 [0] /C1 [1] >>")
            << QString();
        // Meshes over the whole page with 8-bit coordinates and tones; the tone rises from left to right.
        const QString bits = QStringLiteral(
            "/BitsPerCoordinate 8 /BitsPerComponent 8 /Decode [0 72 0 72 0 1] /Filter /ASCIIHexDecode ");
        const QString edge =
            QStringLiteral("000000550 0AA00FF55FFAAFFFFFFFFAAFF55FF00AA005500").remove(QLatin1Char(' '));
        QTest::newRow("two free triangles: flag, x, y, tone")
            << QStringLiteral("/ShadingType 4 /BitsPerFlag 8 ") + bits
            << QStringLiteral("00000000"
                              "00FF00FF"
                              "0000FF00"
                              "00FF00FF"
                              "0000FF00"
                              "00FFFFFF");
        QTest::newRow("a lattice: x, y, tone") << QStringLiteral("/ShadingType 5 /VerticesPerRow 2 ") + bits
                                               << QStringLiteral("000000"
                                                                 "FF00FF"
                                                                 "00FF00"
                                                                 "FFFFFF");
        QTest::newRow("a Coons patch: flag, twelve points, four tones")
            << QStringLiteral("/ShadingType 6 /BitsPerFlag 8 ") + bits
            << QStringLiteral("00") + edge + QStringLiteral("0000FFFF");
        QTest::newRow("a tensor patch: flag, sixteen points, four tones")
            << QStringLiteral("/ShadingType 7 /BitsPerFlag 8 ") + bits
            << QStringLiteral("00") + edge +
                   QStringLiteral("555555AAAAAAAA55"
                                  "0000FFFF");
    }
    void shadingsKeepTheirInks()
    {
        QFETCH(QString, shading);
        QFETCH(QString, stream);
        MiniPdf pdf = spots_page("/Sh sh ", "/Shading << /Sh 11 0 R >>");
        std::string head = "<< /ColorSpace [/Separation /Alpha /DeviceCMYK << /FunctionType 2 /Domain [0 1] "
                           "/N 1 /C0 [0 0 0 0] /C1 [0 1 0 0] >>] " +
                           shading.toStdString();
        if (stream.isEmpty()) {
            pdf.objects.push_back(head + " >>");
        } else {
            const std::string data = stream.toStdString() + ">";
            pdf.objects.push_back(head + " /Length " + std::to_string(data.size()) + " >>\nstream\n" + data +
                                  "\nendstream");
        }
        const std::string function = "{ pop }";
        pdf.objects.push_back("<< /FunctionType 4 /Domain [0 1 0 1] /Range [0 1] /Length " +
                              std::to_string(function.size()) + " >>\nstream\n" + function + "\nendstream");
        const Scene scene = pdf.scene();
        QCOMPARE(scene.inks.size(), std::size_t(1));
        const PlateTile tile = pdf.plates();
        for (const int x : {8, 36, 64}) {
            const double expected = (x + 0.5) / 72 * 255;
            const int got = tile.plates[0].at(x, 30);
            QVERIFY2(std::fabs(got - expected) <= 5,
                     qPrintable(QStringLiteral("at %1: %2, expected %3").arg(x).arg(got).arg(expected)));
        }
    }

    void aSlowMeshHasNoBands()
    {
        // From 64 to 68 of 255 over 300 pixels: between two steps the mean is as it should be.
        MiniPdf pdf = spots_page("/Sh sh ", "/Shading << /Sh 11 0 R >>");
        const std::string data = "000040FF004400FF40FFFF44>";
        pdf.objects.push_back(
            "<< /ColorSpace [/Separation /Alpha /DeviceCMYK << /FunctionType 2 /Domain [0 1] "
            "/N 1 /C0 [0 0 0 0] /C1 [0 1 0 0] >>] /ShadingType 5 /VerticesPerRow 2 "
            "/BitsPerCoordinate 8 /BitsPerComponent 8 /Decode [0 72 0 72 0 1] /Filter "
            "/ASCIIHexDecode /Length " +
            std::to_string(data.size()) + " >>\nstream\n" + data + "\nendstream");
        const PlateTile tile = pdf.plates(300, Edges::Crisp);
        const Plane &plate = tile.plates[0];
        constexpr int wide = 20;
        for (int left = 0; left + wide <= 300; left += wide) {
            double sum = 0;
            for (int y = 0; y < 300; ++y) {
                for (int x = left; x < left + wide; ++x) {
                    sum += plate.at(x, y);
                }
            }
            const double mean = sum / (300 * wide), expected = 64 + 4 * (left + wide / 2.0) / 300;
            QVERIFY2(std::fabs(mean - expected) <= 0.05,
                     qPrintable(QStringLiteral("at %1: %2, expected %3").arg(left).arg(mean).arg(expected)));
        }
    }

    void patternsKeepTheirInks_data()
    {
        QTest::addColumn<QString>("cell");
        QTest::addColumn<QString>("paint");
        QTest::newRow("coloured") << QStringLiteral("/PaintType 1") << QStringLiteral("/Pattern cs /P scn");
        QTest::newRow("uncoloured, painted in a spot")
            << QStringLiteral("/PaintType 2") << QStringLiteral("/UP cs 0.6 /P scn");
    }
    void patternsKeepTheirInks()
    {
        // Stripes of 4 points, half of each inked at 60 %.
        QFETCH(QString, cell);
        QFETCH(QString, paint);
        MiniPdf pdf = spots_page(paint.toStdString() + all, "/Pattern << /P 11 0 R >>");
        const std::size_t at = pdf.resources.find("/A [");
        pdf.resources.insert(at, "/UP [/Pattern [/Separation /Beta /DeviceCMYK << /FunctionType 2 /Domain [0 "
                                 "1] /N 1 /C0 [0 0 0 0] /C1 [1 0 0 0] >>]] ");
        const std::string drawing =
            cell.endsWith(QLatin1Char('1')) ? "/B cs 0.6 scn 0 0 2 4 re f" : "0 0 2 4 re f";
        pdf.objects.push_back(
            "<< /Type /Pattern /PatternType 1 " + cell.toStdString() +
            " /TilingType 1 /BBox [0 0 4 4] /XStep 4 /YStep 4 /Resources << /ColorSpace << " +
            separation("B", "Beta", "1 0 0 0") + " >> >> /Length " + std::to_string(drawing.size()) +
            " >>\nstream\n" + drawing + "\nendstream");
        const Scene scene = pdf.scene();
        QCOMPARE(scene.inks.size(), std::size_t(1));
        const PlateTile tile = pdf.plates();
        for (int x = 8; x < 64; ++x) {
            QCOMPARE(tile.plates[0].at(x, 30), std::uint8_t(x % 4 < 2 ? 153 : 0));
            QCOMPARE(tile.area.at(x, 30), std::uint8_t(x % 4 < 2 ? 255 : 0));
        }
    }

    void aPatternIsPaintedAtItsOwnPlaces_data()
    {
        QTest::addColumn<QString>("matrix");
        QTest::addColumn<QString>("box");
        QTest::newRow("steps that are no whole pixels")
            << QStringLiteral("1 0 0 1 0 0") << QStringLiteral("0 0 4 4");
        QTest::newRow("moved") << QStringLiteral("1 0 0 1 0.37 2.61") << QStringLiteral("0 0 4 4");
        QTest::newRow("turned") << QStringLiteral("0.9 0.2 -0.2 0.9 3 1") << QStringLiteral("0 0 4 4");
        QTest::newRow("cut by its cell") << QStringLiteral("1 0 0 1 0 0") << QStringLiteral("0.5 0.5 2.5 3");
        QTest::newRow("cells that overlap") << QStringLiteral("1 0 0 1 0 0") << QStringLiteral("-2 -2 6 6");
    }
    void aPatternIsPaintedAtItsOwnPlaces()
    {
        // The same drawn by hand, wherever the cell stands.
        QFETCH(QString, matrix);
        QFETCH(QString, box);
        constexpr double step = 4.03;
        const std::string drawing =
            "/A cs 1 scn 0.3 0.3 m 3.1 0.7 l 2 3.3 l f /B cs 0.6 scn 1 2 1.5 0.4 re f ";
        MiniPdf pattern = spots_page("/Pattern cs /P scn 10 10 50 40 re f", "/Pattern << /P 11 0 R >>");
        pattern.objects.push_back(
            "<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [" + box.toStdString() +
            "] /XStep 4.03 /YStep 4.03 /Matrix [" + matrix.toStdString() + "] /Resources << /ColorSpace << " +
            separation("A", "Alpha") + separation("B", "Beta", "1 0 0 0") + " >> >> /Length " +
            std::to_string(drawing.size()) + " >>\nstream\n" + drawing + "\nendstream");
        const QStringList edges = box.split(QLatin1Char(' '));
        std::string by_hand = "10 10 50 40 re W n " + matrix.toStdString() + " cm ";
        for (int row = -6; row < 26; ++row) {
            for (int column = -6; column < 26; ++column) {
                by_hand +=
                    "q 1 0 0 1 " + format_number(column * step, 2) + " " + format_number(row * step, 2) +
                    " cm " + edges[0].toStdString() + " " + edges[1].toStdString() + " " +
                    format_number(edges[2].toDouble() - edges[0].toDouble(), 2) + " " +
                    format_number(edges[3].toDouble() - edges[1].toDouble(), 2) + " re W n " + drawing + "Q ";
            }
        }
        const PlateTile expected = spots_page(by_hand).plates(300, Edges::Crisp);
        const PlateTile made = pattern.plates(300, Edges::Crisp);
        QCOMPARE(made.plates.size(), expected.plates.size());
        int wrong = 0;
        std::int64_t ink = 0;
        for (std::size_t i = 0; i < made.plates.size(); ++i) {
            for (int y = 0; y < made.rect.height; ++y) {
                for (int x = 0; x < made.rect.width; ++x) {
                    wrong += made.plates[i].at(x, y) != expected.plates[i].at(x, y) ? 1 : 0;
                    ink += made.plates[i].at(x, y);
                }
            }
        }
        QVERIFY(ink > 0);
        QVERIFY2(wrong <= 40,
                 qPrintable(QString::number(wrong))); // of 87 000: single precision rounds otherwise
    }

    void aColouredType3GlyphKeepsItsInk()
    {
        MiniPdf pdf = spots_page("BT /T3 72 Tf 0 0 Td (a) Tj ET ", "/Font << /T3 11 0 R >>");
        pdf.objects.push_back("<< /Type /Font /Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] "
                              "/CharProcs << /a 12 0 R >> "
                              "/Encoding << /Type /Encoding /Differences [97 /a] >> /FirstChar 97 /LastChar "
                              "97 /Widths [1] /Resources << /ColorSpace << " +
                              separation("B", "Beta") + " >> >> >>");
        const std::string glyph = "1 0 d0 /B cs 0.6 scn 0 0 1 1 re f";
        pdf.objects.push_back("<< /Length " + std::to_string(glyph.size()) + " >>\nstream\n" + glyph +
                              "\nendstream");
        const auto tones = middle(pdf);
        QVERIFY(tones.count("Beta") == 1);
        QCOMPARE(tones.at("Beta"), 153);
    }

    // Writers give every group the size of the page; it is cut to what is painted in it, which nobody may
    // see.
    void groupsLoseNothingAtTheirEdges_data()
    {
        QTest::addColumn<QString>("contents");
        QTest::newRow("a small shape") << "/B cs 1 scn 10 12 9 7 re f";
        QTest::newRow("at the page's edge") << "/B cs 1 scn -5 -5 9 9 re f 68 60 20 20 re f";
        QTest::newRow("a thick line with mitres") << "/B CS 1 SCN 14 w 0 j 20 M 20 30 m 36 60 l 52 30 l S";
        QTest::newRow("a hairline") << "/B CS 1 SCN 0 w 5 5 m 60 66 l S";
        QTest::newRow("stroked text") << "BT 1 Tr 3 w /B CS 1 SCN /F 30 Tf 8 20 Td (Moth) Tj ET";
        QTest::newRow("text") << "BT /B cs 1 scn /F 30 Tf 8 20 Td (Moth) Tj ET";
        QTest::newRow("a Type 3 glyph beyond its box") << "BT /B cs 1 scn /T3 20 Tf 30 30 Td (a) Tj ET";
        QTest::newRow("clipped")
            << "q 30 30 10 10 re W n /B cs 1 scn 0 0 72 72 re f Q /B cs 1 scn 2 2 3 3 re f";
        QTest::newRow("a pattern") << "/Pattern cs /P scn 20 20 30 30 re f";
        QTest::newRow("a picture, turned") << "q 20 20 -20 20 40 20 cm /Im Do Q";
        QTest::newRow("groups in groups") << "/G2 Do /B cs 1 scn 50 50 4 4 re f";
    }
    void groupsLoseNothingAtTheirEdges()
    {
        QFETCH(QString, contents);
        // What they need: the font, a glyph larger than its font says, a pattern, a picture, a group.
        const std::string own =
            "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> /T3 14 0 R >> "
            "/Pattern << /P 12 0 R >> /XObject << /G 11 0 R /Im 13 0 R /G2 16 0 R >>";
        const auto stream = [](const std::string &dict, const std::string &data) {
            return "<< " + dict + " /Length " + std::to_string(data.size()) + " >>\nstream\n" + data +
                   "\nendstream";
        };
        const auto page = [&](const std::string &inside) {
            // Something before, so that the group is not left out as a whole.
            MiniPdf pdf = spots_page("/A cs 0.3 scn 0 0 72 72 re f /G Do", own);
            pdf.resources.insert(pdf.resources.find("/Half"), "/Unseen << /ca 0 >> ");
            const std::string groups = "/Group << /S /Transparency >> ";
            const std::string resources = "/Resources << " + pdf.resources + " >>";
            pdf.objects.push_back(
                stream("/Type /XObject /Subtype /Form /BBox [0 0 72 72] " + groups + resources, inside));
            pdf.objects.push_back(
                stream("/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 6 6] "
                       "/XStep 6 /YStep 6 " +
                           resources,
                       "/B cs 1 scn 1 1 3 3 re f"));
            pdf.objects.push_back(
                stream("/Type /XObject /Subtype /Image /Width 1 /Height 1 /BitsPerComponent 8 "
                       "/ColorSpace [/Separation /Beta /DeviceCMYK 10 0 R]",
                       "\xC0"));
            pdf.objects.push_back(
                "<< /Type /Font /Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] "
                "/CharProcs << /a 15 0 R >> /Encoding << /Type /Encoding /Differences [97 /a] >> "
                "/FirstChar 97 /LastChar 97 /Widths [1] >>");
            pdf.objects.push_back(stream("", "1 0 0 0 1 1 d1 -1 -1 3 3 re f"));
            pdf.objects.push_back(stream(
                "/Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency >> " + resources,
                "/B cs 0.5 scn 5 40 12 12 re f"));
            return pdf;
        };
        for (const double dpi : {200.0, 72.0, 36.0}) {
            for (const Edges edges : {Edges::Smooth, Edges::Crisp}) {
                const PlateTile cut = page(contents.toStdString()).plates(dpi, edges);
                // What is not seen keeps the group as large as the page.
                const PlateTile whole =
                    page("q /Unseen gs /B cs 1 scn 0 0 72 72 re f Q " + contents.toStdString())
                        .plates(dpi, edges);
                QCOMPARE(cut.plates.size(), whole.plates.size());
                for (std::size_t i = 0; i < cut.plates.size(); ++i) {
                    int most = 0;
                    int differing = 0;
                    for (std::size_t p = 0; p < cut.plates[i].pixels.size(); ++p) {
                        const int away =
                            std::abs(int(cut.plates[i].pixels[p]) - int(whole.plates[i].pixels[p]));
                        most = std::max(most, away);
                        differing += away > 0 ? 1 : 0;
                    }
                    // Blending rounds a tone otherwise where something unseen has been blended before.
                    QVERIFY2(most <= 2, qPrintable(QStringLiteral("plate %1 at %2 dpi: %3 in %4 pixels")
                                                       .arg(i)
                                                       .arg(dpi)
                                                       .arg(most)
                                                       .arg(differing)));
                }
            }
        }
    }

    // A coloured Type 3 glyph may hold groups of its own: the page's are still told apart.
    void groupsOfGlyphsAreNotThePages()
    {
        MiniPdf pdf = spots_page("/A cs 0.3 scn 0 0 72 72 re f BT /T3 20 Tf 2 2 Td (a) Tj ET /G Do",
                                 "/Font << /T3 11 0 R >> /XObject << /G 14 0 R >>");
        const std::string colours = "/ColorSpace << " + separation("B", "Beta", "1 0 0 0") + " >>";
        const auto stream = [](const std::string &dict, const std::string &data) {
            return "<< " + dict + " /Length " + std::to_string(data.size()) + " >>\nstream\n" + data +
                   "\nendstream";
        };
        const std::string form =
            "/Type /XObject /Subtype /Form /Group << /S /Transparency >> /Resources << " + colours +
            " >> /BBox ";
        pdf.objects.push_back(
            "<< /Type /Font /Subtype /Type3 /FontBBox [0 0 1 1] /FontMatrix [1 0 0 1 0 0] "
            "/CharProcs << /a 12 0 R >> /Encoding << /Type /Encoding /Differences [97 /a] >> "
            "/FirstChar 97 /LastChar 97 /Widths [1] /Resources << /XObject << /I 13 0 R >> >> >>");
        pdf.objects.push_back(stream("", "1 0 d0 /I Do"));
        pdf.objects.push_back(stream(form + "[0 0 1 1]", "/B cs 1 scn 0 0 1 1 re f"));
        pdf.objects.push_back(stream(form + "[0 0 72 72]", "/B cs 0.6 scn 50 50 10 10 re f"));
        const PlateTile tile = pdf.plates();
        const Plane &beta = plane(tile, pdf.scene(), "Beta");
        QCOMPARE(int(beta.at(10, 60)), 255); // the glyph
        QCOMPARE(int(beta.at(55, 17)), 153); // the page's group, right and above
        QCOMPARE(int(beta.at(40, 40)), 0);
    }

    void manySpotsTakeSeveralPasses()
    {
        MiniPdf pdf;
        pdf.resources = "/ExtGState << /OP << /op true >> >> /ColorSpace << ";
        pdf.contents = "/OP gs 0 0 0 0.5 k 0 0 72 72 re f ";
        for (int i = 0; i < 61; ++i) {
            const std::string name = "Ink" + std::to_string(i);
            pdf.resources += separation("S" + std::to_string(i), name);
            pdf.contents += "/S" + std::to_string(i) + " cs " + format_number((i + 1) / 100.0, 2) +
                            " scn 0 0 72 72 re f ";
        }
        pdf.resources += ">>";
        const auto tones = middle(pdf);
        QCOMPARE(tones.size(), std::size_t(63)); // 61 spots, black, area
        for (int i = 0; i < 61; ++i) {
            QVERIFY(std::fabs(tones.at("Ink" + std::to_string(i)) - (i + 1) * 2.55) <= 0.51);
        }
        QCOMPARE(tones.at("Black"), 128);
    }

    void spotsAloneUseEveryPlane()
    {
        // Without process ink the planes of cyan to black carry spots: same values, fewer planes.
        const std::string art =
            "/A cs 0.7 scn" + all + "/OP gs /B cs 0.3 scn 0 0 72 40 re f 1 g 0 0 72 20 re f ";
        const MiniPdf pdf = spots_page(art);
        const auto plate_line = take(PlateLine::make(pdf.content(), {"Alpha", "Beta"}));
        QCOMPARE(plate_line->band_rows(1000, std::size_t(5) * 1000 * 128), 128); // five bytes a pixel
        const PlateTile tile = take(plate_line->render({0, 0, 72, 72}, Dpi(72)));
        QCOMPARE(tile.plates[0].at(36, 10), std::uint8_t(179));
        QCOMPARE(tile.plates[1].at(36, 10), std::uint8_t(0));
        QCOMPARE(tile.plates[1].at(36, 40), std::uint8_t(77));
        QCOMPARE(tile.plates[0].at(36, 65),
                 std::uint8_t(179)); // overprinting process white leaves spots alone
        const auto knocked = middle(spots_page("/A cs 0.7 scn" + all + "1 g" + all));
        QCOMPARE(knocked.at("Alpha"), 0); // process white without overprint knocks spots out
    }

    void anInkThatIsNotPrintedLeavesTheOthers()
    {
        const MiniPdf pdf = spots_page("/N cs 0.4 0.8 scn" + all);
        const auto plate_line = take(PlateLine::make(pdf.content(), {"Beta"}));
        const PlateTile tile = take(plate_line->render({0, 0, 72, 72}, Dpi(72)));
        QCOMPARE(tile.plates.size(), std::size_t(1));
        QCOMPARE(tile.plates[0].at(36, 36), std::uint8_t(204));
    }

    void partsOfAPageAreThoseOfTheWhole_data()
    {
        QTest::addColumn<int>("edges");
        QTest::newRow("smooth edges") << static_cast<int>(Edges::Smooth);
        QTest::newRow("crisp edges") << static_cast<int>(Edges::Crisp);
    }
    void partsOfAPageAreThoseOfTheWhole()
    {
        QFETCH(int, edges);
        const auto rule = static_cast<Edges>(edges);
        const auto artwork = take(Artwork::open(demo_file().toStdString()));
        const auto page = take(artwork->interpret(1, PageBox::Media));
        const auto plate_line =
            take(PlateLine::make(page, propose_job(take(record_scene(*page)), {}).inks()));
        const Dpi dpi(97.3);
        const PixelRect extent = plate_line->extent(dpi);
        const PlateTile whole = take(plate_line->render(extent, dpi, rule));
        const int wide = extent.width;
        for (const PixelRect &rect :
             {PixelRect{0, 0, wide, 100}, PixelRect{0, 333, wide, 1}, PixelRect{0, 401, wide, 191},
              PixelRect{0, extent.height - 60, wide, 60}, PixelRect{333, 401, 257, 191}}) {
            const PlateTile part = take(plate_line->render(rect, dpi, rule));
            // Full rows are the same bits; a cut at the sides may move an antialiased edge by a few tones.
            const int allowed = rect.width == wide || rule == Edges::Crisp ? 0 : 6;
            for (std::size_t i = 0; i < whole.plates.size(); ++i) {
                int differing = 0;
                for (int y = 0; y < rect.height; ++y) {
                    for (int x = 0; x < rect.width; ++x) {
                        differing += std::abs(part.plates[i].at(x, y) -
                                              whole.plates[i].at(rect.x + x, rect.y + y)) > allowed
                                         ? 1
                                         : 0;
                    }
                }
                QCOMPARE(differing, 0);
            }
        }
    }

    void crispEdgesFollowPixelCentres()
    {
        // 2.4 … 6.6 pt at 72 dpi covers the centres 2.5 … 6.5: five pixels, none grey.
        const PlateTile tile = spots_page("/A cs 1 scn 2.4 30 4.2 10 re f").plates(72, Edges::Crisp);
        for (int x = 0; x < 12; ++x) {
            QCOMPARE(tile.plates[0].at(x, 36), std::uint8_t(x >= 2 && x <= 6 ? 255 : 0));
        }
        // A line thinner than a pixel still prints, one pixel wide.
        const PlateTile line = spots_page("/A CS 1 SCN 0.05 w 0 36.3 m 72 36.3 l S").plates(72, Edges::Crisp);
        int inked = 0;
        for (int y = 0; y < 72; ++y) {
            inked += line.plates[0].at(20, y) == 255 ? 1 : 0;
        }
        QVERIFY2(inked == 1 || inked == 2, qPrintable(QString::number(inked)));
    }

    void aPatternThatNeverEndsIsToldAndPaintedOnce()
    {
        MiniPdf pdf = spots_page("/Pattern cs /P scn" + all, "/Pattern << /P 11 0 R >>");
        const std::string cell = "0 0 .001 .001 re f";
        pdf.objects.push_back("<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 .01 "
                              ".01] /XStep .01 /YStep .01 "
                              "/Resources << >> /Length " +
                              std::to_string(cell.size()) + " >>\nstream\n" + cell + "\nendstream");
        const auto page = pdf.content();
        const auto plate_line = take(PlateLine::make(page, {"Black"}));
        QCOMPARE(page->damage().size(), std::size_t(1));
        QVERIFY(page->damage().front().note.find("repeats") != std::string::npos);
        QVERIFY(plate_line->render({0, 0, 72, 72}, Dpi(72)));
    }

    void renderingStopsWhenAsked()
    {
        const auto plate_line = take(PlateLine::make(spots_page("/A cs 1 scn" + all).content(), {"Alpha"}));
        CancelSwitch cancel;
        cancel.cancel();
        const auto coverage = measure_coverage(*plate_line, Dpi(150), JobControl(cancel));
        QVERIFY(!coverage);
        QCOMPARE(coverage.error().code, ErrorCode::Cancelled);
    }

    void paintersCanBeMadeWhileOthersPaint()
    {
        // Each part painted looks up its pictures in a store that all threads share.
        std::string contents;
        for (int i = 0; i < 64; ++i) {
            contents += "q 8 0 0 8 " + std::to_string(i % 8 * 9) + " " + std::to_string(i / 8 * 9) +
                        " cm /I" + std::to_string(i % 4) + " Do Q ";
        }
        MiniPdf pdf = spots_page(contents, "/XObject << /I0 11 0 R /I1 12 0 R /I2 13 0 R /I3 14 0 R >>");
        pdf.objects.resize(1, "null");
        for (int i = 0; i < 4; ++i) {
            pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width 1 /Height 2 /BitsPerComponent 8 "
                                  "/ColorSpace /DeviceGray /Length 2 >>\nstream\n" +
                                  std::string(1, static_cast<char>('A' + i)) + "Z\nendstream");
        }
        const auto content = pdf.content();
        const auto line = take(PlateLine::make(content, {"Alpha", "Black"}));
        const PlateTile expected = take(line->whole_page(Dpi(72), Edges::Smooth));
        std::atomic<bool> stop = false;
        std::atomic<int> wrong = 0;
        std::vector<std::thread> threads;
        for (int i = 0; i < 3; ++i) {
            threads.emplace_back([&] {
                while (!stop) {
                    const auto tile = line->whole_page(Dpi(72), Edges::Smooth);
                    wrong += tile && tile->plates == expected.plates ? 0 : 1;
                }
            });
        }
        for (int i = 0; i < 1500; ++i) {
            (void)take(PlateLine::make(content, {"Alpha", "Black"}));
        }
        stop = true;
        for (std::thread &thread : threads) {
            thread.join();
        }
        QCOMPARE(wrong.load(), 0);
    }

    void strokesKeepTheirWidthOnFilm()
    {
        // A line of ten pixels inks exactly ten rows or columns wherever it lies.
        for (const double offset : {0.0, 0.1, 0.3, 0.45, 0.7, 0.9}) {
            const std::string at = format_number(30 + offset, 2);
            const PlateTile across =
                spots_page("/A CS 1 SCN 10 w 0 " + at + " m 72 " + at + " l S").plates(72, Edges::Crisp);
            const PlateTile down =
                spots_page("/A CS 1 SCN 10 w " + at + " 0 m " + at + " 72 l S").plates(72, Edges::Crisp);
            int rows = 0, columns = 0;
            for (int i = 0; i < 72; ++i) {
                rows += across.plates[0].at(40, i) == 255 ? 1 : 0;
                columns += down.plates[0].at(i, 40) == 255 ? 1 : 0;
            }
            QVERIFY2(
                rows == 10 && columns == 10,
                qPrintable(QStringLiteral("at %1: %2 rows, %3 columns").arg(offset).arg(rows).arg(columns)));
        }
    }

    void coverageIsTheMeanTone()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn" + left_half + "/OP gs /B cs 0.4 scn" + all);
        const auto plate_line = take(PlateLine::make(pdf.content(), {"Alpha", "Beta"}));
        const std::vector<double> coverage = take(measure_coverage(*plate_line));
        QVERIFY(std::fabs(coverage[0] - 0.5) < 0.002);
        QVERIFY(std::fabs(coverage[1] - 0.4) < 0.002);
        // Over part of the page: three quarters of this rectangle are left of the middle (12.7 mm).
        const std::vector<double> part =
            take(measure_coverage(*plate_line, Dpi(254), {}, {12.7 - 6, 3, 8, 7.5}));
        QVERIFY2(std::fabs(part[0] - 0.75) < 0.002, qPrintable(QString::number(part[0])));
        QVERIFY(std::fabs(part[1] - 0.4) < 0.002);
    }

    void reducedPicturesAreTheSameWhateverWasPaintedBefore_data()
    {
        QTest::addColumn<QByteArray>("extra");
        QTest::addColumn<QByteArray>("second");
        QTest::newRow("a picture") << QByteArray("/ColorSpace /DeviceGray ") << QByteArray();
        QTest::newRow("a picture with a soft mask")
            << QByteArray("/ColorSpace /DeviceGray /SMask 12 0 R ") << QByteArray("/ColorSpace /DeviceGray ");
    }
    void reducedPicturesAreTheSameWhateverWasPaintedBefore()
    {
        QFETCH(QByteArray, extra);
        QFETCH(QByteArray, second);
        // The interpreter keeps decoded pictures, halved as often as they were needed: one that was painted
        // larger before must not look otherwise.
        const int side = 600;
        std::string data;
        for (int i = 0; i < side * side; ++i) {
            data += static_cast<char>((i % side * 7 + i / side * 13) % 61 < 20 ? 0 : i % 251);
        }
        MiniPdf pdf = spots_page("q 60 0 0 60 6 6 cm /I Do Q", "/XObject << /I 11 0 R >>");
        pdf.objects.resize(1, "null");
        const auto add = [&](const QByteArray &more, const std::string &samples) {
            pdf.objects.push_back(
                "<< /Type /XObject /Subtype /Image /Width 600 /Height 600 /BitsPerComponent 8 " +
                more.toStdString() + "/Length " + std::to_string(samples.size()) + " >>\nstream\n" + samples +
                "\nendstream");
        };
        add(extra, second.isEmpty() ? data : std::string(data.size(), '\0'));
        if (!second.isEmpty()) {
            add(second, data);
        }
        const auto line_of = [&] { return take(PlateLine::make(pdf.content(), {"Black"})); };
        for (const double dpi : {72.0, 150.0, 300.0}) {
            const auto fresh = line_of(), used = line_of();
            (void)take(used->whole_page(Dpi(720), Edges::Smooth));
            (void)take(used->whole_page(Dpi(dpi * 1.9), Edges::Smooth));
            QVERIFY2(take(used->whole_page(Dpi(dpi), Edges::Smooth)).plates ==
                         take(fresh->whole_page(Dpi(dpi), Edges::Smooth)).plates,
                     qPrintable(QString::number(dpi)));
        }
    }

    void reducedPicturesHaveNoSeamsWhereStripsMeet_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::newRow("half its pixels") << 576.0;
        QTest::newRow("an eighth of them") << 144.0;
        QTest::newRow("a tenth of them") << 115.2;
    }
    void reducedPicturesHaveNoSeamsWhereStripsMeet()
    {
        // A picture of 1152 ppi with lines across it, on a page where strips of 256 rows meet within it, and
        // on one that is higher by as many rows as make them meet elsewhere.
        QFETCH(double, dpi);
        const int side = 4608, rows_lower = 100;
        std::string data;
        for (int y = 0; y < side; ++y) {
            data += std::string(16, static_cast<char>(y % 37 < 9 ? 0 : (y * 7) % 256));
        }
        const auto page_of = [&](double higher) {
            const double top = 288; // of the picture
            MiniPdf pdf =
                spots_page("q 2 0 0 " + std::to_string(top) + " 10 0 cm /I Do Q", "/XObject << /I 11 0 R >>");
            pdf.height = top + higher;
            pdf.objects.resize(1, "null");
            pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width 16 /Height " +
                                  std::to_string(side) +
                                  " /BitsPerComponent 8 /ColorSpace /DeviceGray /Length " +
                                  std::to_string(data.size()) + " >>\nstream\n" + data + "\nendstream");
            return pdf;
        };
        const MiniPdf low = page_of(0), high = page_of(rows_lower * 72.0 / dpi);
        const auto column = [&](const MiniPdf &pdf, int from) {
            const PlateTile tile = pdf.plates(dpi);
            const Plane &black = plane(tile, pdf.scene(), "Black");
            std::vector<int> tones;
            for (int y = from; y < black.height; ++y) {
                tones.push_back(black.at(static_cast<int>(11 * dpi / 72), y));
            }
            return tones;
        };
        const std::vector<int> a = column(low, 0), b = column(high, rows_lower);
        QCOMPARE(a.size(), b.size());
        for (std::size_t y = 0; y < a.size(); ++y) {
            QVERIFY2(std::abs(a[y] - b[y]) <= 1,
                     qPrintable(QStringLiteral("row %1: %2, %3").arg(y).arg(a[y]).arg(b[y])));
        }
    }
};

BICHROM_TEST(TestPlates, QCoreApplication)
#include "tst_plates.moc"
