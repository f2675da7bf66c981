// Crisp pages are painted as runs: the rule of edges, and that away from edges they are the tones of the same
// page.
#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include "core/artwork/scene.h"
#include "core/line/plate_line.h"

#include <cmath>
#include <numbers>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const std::string all = " 0 0 72 72 re f ";

std::string number(double value)
{
    return format_number(value, 4) + " ";
}

/// A circle of four Bézier curves; off a true one by less than 0.03 % of its radius.
std::string circle(double x, double y, double r)
{
    const double k = 0.5522847 * r;
    return number(x + r) + number(y) + "m " + number(x + r) + number(y + k) + number(x + k) + number(y + r) +
           number(x) + number(y + r) + "c " + number(x - k) + number(y + r) + number(x - r) + number(y + k) +
           number(x - r) + number(y) + "c " + number(x - r) + number(y - k) + number(x - k) + number(y - r) +
           number(x) + number(y - r) + "c " + number(x + k) + number(y - r) + number(x + r) + number(y - k) +
           number(x + r) + number(y) + "c h ";
}

/// Pixels of \p crisp that differ by more than a tone from \p smooth where that is even all around.
int wrong_off_edges(const Plane &crisp, const Plane &smooth, int allowed = 1)
{
    int wrong = 0;
    for (int y = 1; y + 1 < smooth.height; ++y) {
        for (int x = 1; x + 1 < smooth.width; ++x) {
            const int tone = smooth.at(x, y);
            bool even = true;
            for (int dy = -1; dy <= 1 && even; ++dy) {
                for (int dx = -1; dx <= 1 && even; ++dx) {
                    even = std::abs(smooth.at(x + dx, y + dy) - tone) <= allowed;
                }
            }
            wrong += even && std::abs(crisp.at(x, y) - tone) > allowed ? 1 : 0;
        }
    }
    return wrong;
}

double mean(const Plane &plane)
{
    double sum = 0;
    for (const std::uint8_t tone : plane.pixels) {
        sum += tone;
    }
    return sum / static_cast<double>(plane.pixels.size());
}

/// Rows of \p plane as text, # where it is inked.
QStringList drawn(const Plane &plane, const PixelRect &part)
{
    QStringList rows;
    for (int y = part.y; y < part.y + part.height; ++y) {
        QString row;
        for (int x = part.x; x < part.x + part.width; ++x) {
            row += QLatin1Char(plane.at(x, y) > 0 ? '#' : '.');
        }
        rows += row;
    }
    return rows;
}

} // namespace

class TestRuns : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void awayFromEdgesTheyAreTheTones_data()
    {
        QTest::addColumn<std::string>("art");
        QTest::addColumn<std::string>("resources");
        const auto row = [](const char *name, std::string art, std::string resources = {}) {
            QTest::newRow(name) << std::move(art) << std::move(resources);
        };
        const std::string across =
            "<< /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 72 0] /Extend [true true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [1 0.5 0 0.2] >> >>";
        row("a spot knocks out what lies under it", "0 0 0 1 k" + all + "/A cs 0.6 scn 20 20 30 30 re f");
        row("a spot overprints", "0 0 0 1 k" + all + "/OP gs /A cs 0.6 scn 20 20 30 30 re f");
        row("process colour with overprint mode 1 leaves zeros alone",
            "0.3 0 0 0 k" + all + "/OPM1 gs 0 0.5 0 0 k 20 20 30 30 re f");
        row("half strength over tones and over bare stock",
            "/A cs 1 scn 0 0 36 72 re f /Half gs /B cs 0.8 scn 10 10 50 50 re f");
        row("half strength that overprints",
            "/A cs 1 scn 0 0 36 72 re f /Half gs /OP gs /B cs 0.8 scn 10 10 50 50 re f");
        row("Multiply", "/A cs 0.7 scn 0 0 40 72 re f /Mul gs /A cs 0.5 scn 20 20 40 40 re f");
        row("Multiply at half strength over a gradient",
            "/S sh /Mul gs /Half gs 0 0.6 0 0.5 k 20 20 40 40 re f", "/Shading << /S " + across + " >>");
        row("a gradient that is multiplied",
            "/A cs 0.7 scn 0 0 40 72 re f 0.3 0 0 0.2 k 0 0 72 30 re f /Mul gs /S sh",
            "/Shading << /S " + across + " >>");
        row("blend modes but Multiply are painted by pixels",
            "/A cs 0.7 scn 0 0 40 72 re f /Luna gs /A cs 0.5 scn 20 20 40 40 re f");
        const std::string ground = "/A cs 0.7 scn 0 0 40 72 re f /B cs 0.4 scn 0 0 72 30 re f ";
        const std::string body = "0 0.3 0 0.8 k 10 10 50 50 re f ";
        row("a soft mask by luminosity", ground + "/L gs " + body, "masks");
        row("one by alpha", ground + "/P gs " + body, "masks");
        row("one whose content has a mask, with a backdrop", ground + "/N gs " + body, "masks");
        row("a mask over a group", ground + "/L gs /G Do", "masks");
        row("a faint thing through a mask", ground + "/L gs /T gs " + body, "masks");
        row("two things through one mask, each by itself",
            ground + "/L gs " + body + "/B cs 1 scn 30 5 9 60 re f", "masks");
        row("what overprints through a mask is painted by pixels", ground + "/OP gs /L gs " + body, "masks");
        row("a picture with a soft mask", ground + "q 60 0 0 60 5 5 cm /I Do Q", "masks");
        row("the same, faint", ground + "/T gs q 60 0 0 60 5 5 cm /I Do Q", "masks");
        row("the same, multiplied", ground + "/M gs q 60 0 0 60 5 5 cm /I Do Q", "masks");
        row("the same, faint and multiplied", ground + "/M gs /T gs q 60 0 0 60 5 5 cm /I Do Q", "masks");
        row("two pictures with masks over each other",
            ground + "q 60 0 0 60 5 5 cm /I Do Q q 50 0 0 50 20 20 cm /I Do Q", "masks");
        // Fill and stroke of one path make a knocking-out group (ISO 32000-1, 11.7.4.4).
        row("half strength, filled and stroked at once",
            "/A cs 0.2 scn" + all + "/Half gs /A cs 0.6 scn /A CS 1 SCN 6 w 20 20 30 30 re B");
        row("a group at half strength", "/A cs 0.2 scn" + all + "/Half gs /G Do", "/XObject << /G 11 0 R >>");
        row("even-odd leaves the hole", "/A cs 1 scn 10 10 50 50 re 25 25 20 20 re f*");
        row("winding fills what turns the same way", "/A cs 1 scn 10 10 50 50 re 25 25 20 20 re f");
        row("a clip in a clip", "q " + circle(36, 36, 30) + "W n 20 0 30 72 re W n " + circle(30, 36, 25) +
                                    "W* n /A cs 1 scn" + all + "Q /B cs 1 scn 0 0 10 10 re f");
        row("clips of nothing hide all",
            "q 80 80 10 10 re W n /A cs 1 scn" + all + "Q /B cs 1 scn 30 30 9 9 re f");
        row("a clip by text", "q BT /F 60 Tf 7 Tr 5 15 Td (AB) Tj ET /A cs 1 scn" + all + "Q",
            "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>");
        row("text, filled and stroked", "/A cs 1 scn /B CS 0.5 SCN 3 w BT /F 50 Tf 2 Tr 5 15 Td (ag) Tj ET",
            "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>");
        row("a linear gradient", "/S sh",
            "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [10 10 60 50] /Extend [true "
            "true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [1 0.5 0 0.2] >> >> >>");
        row("a linear gradient that ends", "/S sh",
            "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [10 10 60 50] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.1 0 0 0] /C1 [1 0.5 0 0.2] >> >> >>");
        row("a radial gradient off its middle, extended outwards", "/S sh",
            "/Shading << /S << /ShadingType 3 /ColorSpace /DeviceCMYK /Coords [30 40 5 36 36 30] /Extend "
            "[false true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.1 0 0 0] /C1 [1 0.5 0 0.2] >> >> >>");
        row("a radial gradient that shrinks", "/S sh",
            "/Shading << /S << /ShadingType 3 /ColorSpace /DeviceCMYK /Coords [36 36 30 30 40 0] /Extend "
            "[false true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.1 0 0 0] /C1 [1 0.5 0 0.2] >> >> >>");
        row("a radial gradient of two circles apart is painted by pixels", "/S sh",
            "/Shading << /S << /ShadingType 3 /ColorSpace /DeviceCMYK /Coords [15 15 5 55 55 12] /Extend "
            "[false true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.1 0 0 0] /C1 [1 0.5 0 0.2] >> >> >>");
        row("a group at half strength over a gradient", "/S sh /Half gs /G Do",
            "/Shading << /S " + across + " >> /XObject << /G 11 0 R >>");
        row("two groups at half strength over each other", "/Half gs /G Do 1 0 0 1 12 9 cm /G Do",
            "/XObject << /G 11 0 R >>");
        row("a group at half strength in another", "/Half gs /H Do", "/XObject << /H 12 0 R >>");
        row("a group in one that knocks out", "/A cs 0.2 scn" + all + "/K Do", "/XObject << /K 13 0 R >>");
        row("a gradient at half strength over tones",
            "/A cs 0.7 scn 0 0 40 72 re f 0 0.2 0 0 k 0 0 72 30 re f /Half gs /S sh",
            "/Shading << /S " + across + " >>");
        row("a gradient at half strength over a gradient", "/S sh /Half gs /T sh",
            "/Shading << /S " + across +
                " "
                "/T << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 0 72] /Extend [true true] "
                "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [0 0.7 1 0.2] >> >> >>");
        const std::string picture = "q 48 0 0 48 12 12 cm BI /W 2 /H 2 /CS /CMYK /BPC 8 /F /AHx ID "
                                    "00FF0000 80000000 0000FF40 FF000000> EI Q";
        row("a picture at half strength over tones", "/A cs 0.7 scn 0 0 40 72 re f /Half gs " + picture);
        row("a picture at half strength, overprinting",
            "0.3 0.3 0 0 k 0 0 40 72 re f /A cs 0.7 scn 0 0 72 30 re f /OP gs /Half gs " + picture);
        row("letters at half strength that overlap",
            "/A cs 0.2 scn" + all + "/Half gs /A cs 1 scn BT /F 50 Tf -20 Tc 5 15 Td (ag) Tj ET",
            "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>");
        row("a gradient under half strength", "/S sh /Half gs /A cs 1 scn 10 10 40 40 re f",
            "/Shading << /S " + across + " >>");
    }
    void awayFromEdgesTheyAreTheTones()
    {
        QFETCH(std::string, art);
        QFETCH(std::string, resources);
        const bool in_form = resources == "masks";
        MiniPdf pdf = in_form ? spots_page("/F Do", "/XObject << /F 20 0 R >>") : spots_page(art, resources);
        const auto add_group = [&](const std::string &more, const std::string &content) {
            pdf.objects.push_back(
                "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency " + more +
                " >> /Resources << /XObject << /G 11 0 R /N 14 0 R >> /ExtGState << /Half << "
                "/ca 0.5 >> >> /ColorSpace << " +
                separation("A", "Alpha") + separation("B", "Beta", "1 0 0 0") + " >> >> /Length " +
                std::to_string(content.size()) + " >>\nstream\n" + content + "\nendstream");
        };
        add_group("", "/A cs 1 scn 10 10 30 30 re f 0.4 scn 25 25 35 35 re f");
        add_group("", "/A cs 1 scn 5 5 30 60 re f /Half gs /G Do");
        add_group("/K true", "/A cs 1 scn 5 5 40 60 re f /N Do");
        add_group("", "/Half gs /A cs 1 scn 10 10 30 30 re f /B cs 1 scn 25 25 35 35 re f");
        const auto add_stream = [&](const std::string &dictionary, const std::string &content) {
            pdf.objects.push_back("<< " + dictionary + " /Length " + std::to_string(content.size()) +
                                  " >>\nstream\n" + content + "\nendstream");
        };
        const std::string mask_form =
            "/Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency "
            "/CS /DeviceGray >> /Resources 19 0 R";
        add_stream(mask_form, "/S sh 1 g 20 10 20 50 re f 0 0.5 1 rg 5 40 50 9 re f"); // 15
        add_stream(mask_form, "/T gs 0 g 15 5 40 60 re f 30 30 40 40 re f");           // 16
        add_stream(mask_form, "/L gs 1 g 0 0 50 72 re f");                             // 17
        add_stream(
            "/Type /XObject /Subtype /Image /Width 2 /Height 2 /BitsPerComponent 8 /ColorSpace /DeviceGray "
            "/Filter /ASCIIHexDecode",
            "00FF8040>"); // 18
        pdf.objects.push_back(
            "<< /ExtGState << /OP << /op true >> /T << /ca 0.5 >> /M << /BM /Multiply >> /L << /SMask << /S "
            "/Luminosity /G 15 0 R >> >> /P << /SMask << /S /Alpha /G 16 0 R >> >> /N << /SMask << /S "
            "/Luminosity /BC [0.4] /G 17 0 R >> >> >> /ColorSpace << " +
            separation("A", "Alpha") + separation("B", "Beta", "1 0 0 0") +
            " >> /Shading << /S << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 72 30] /Extend [true "
            "true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0] /C1 [1] >> >> >> /XObject << /G 11 0 R "
            "/I 21 0 R "
            ">> >>"); // 19
        add_stream("/Type /XObject /Subtype /Form /BBox [0 0 72 72] /Resources 19 0 R", in_form ? art : "");
        add_stream(
            "/Type /XObject /Subtype /Image /Width 2 /Height 2 /BitsPerComponent 8 /ColorSpace /DeviceCMYK "
            "/SMask 18 0 R /Filter /ASCIIHexDecode",
            "00FF0000 80000000 0000FF40 FF000000>"); // 21
        constexpr double dpi = 301;
        const PlateTile smooth = pdf.plates(dpi);
        const PlateTile crisp = pdf.plates(dpi, Edges::Crisp);
        QCOMPARE(crisp.plates.size(), smooth.plates.size());
        // Gradients change by a step somewhere between two pixels: two tones there, and another for runs are
        // rounded by chance, the interpreter's pixels always down.
        const int allowed =
            std::string(QTest::currentDataTag()).find("gradient") != std::string::npos || in_form ? 3 : 2;
        const auto compare = [allowed](const Plane &a, const Plane &b) {
            const int wrong = wrong_off_edges(a, b, allowed);
            QVERIFY2(wrong == 0, qPrintable(QString::number(wrong)));
            // Edges along the axes fall on whole pixels: up to half a pixel all along, and clips that are
            // rectangles are whole pixels in tones too, rounded outwards.
            const double off = std::fabs(mean(a) - mean(b));
            QVERIFY2(off < 2, qPrintable(QString::number(off)));
        };
        for (std::size_t i = 0; i < smooth.plates.size(); ++i) {
            compare(crisp.plates[i], smooth.plates[i]);
        }
        compare(crisp.area, smooth.area);
    }

    void slowGradientsHaveNoBands_data()
    {
        QTest::addColumn<std::string>("shading");
        QTest::addColumn<bool>("radial");
        // Over 800 pixels from 40 % to 42 %: steps of 8 bits would be 157 pixels wide.
        const std::string function =
            " /Extend [true true] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0.4] "
            "/C1 [0 0 0 0.42] >>";
        QTest::newRow("linear") << "/ShadingType 2 /ColorSpace /DeviceCMYK /Coords [10 0 58 0]" + function
                                << false;
        QTest::newRow("radial") << "/ShadingType 3 /ColorSpace /DeviceCMYK /Coords [10 36 0 10 36 48]" +
                                       function
                                << true;
    }
    void slowGradientsHaveNoBands()
    {
        QFETCH(std::string, shading);
        QFETCH(bool, radial);
        const MiniPdf pdf = spots_page("/S sh", "/Shading << /S << " + shading + " >> >>");
        constexpr double dpi = 1200;
        const PlateTile crisp = pdf.plates(dpi, Edges::Crisp);
        const Scene scene = pdf.scene();
        const Plane &black = plane(crisp, scene, "Black");
        // Means of 20 pixels along it, over many pixels across, against the gradient itself.
        std::vector<double> sum(40), count(40), wanted(40);
        for (int y = 590; y < 610; ++y) {
            for (int far = 0; far < 800; ++far) {
                for (int turn = 0; turn < (radial ? 1 : 30); ++turn) {
                    const int x = 167 + far, row = radial ? y : (y - 590) * 30 + turn;
                    const double px = (x + 0.5) * 72 / dpi - 10, py = 36 - (row + 0.5) * 72 / dpi;
                    const double t = (radial ? std::hypot(px, py) : px) / 48;
                    const auto bin = static_cast<std::size_t>(far / 20);
                    sum[bin] += black.at(x, row);
                    wanted[bin] += 255 * (0.4 + 0.02 * t);
                    count[bin] += 1;
                }
            }
        }
        for (std::size_t bin = 2; bin < sum.size() - 1; ++bin) {
            const double off = (sum[bin] - wanted[bin]) / count[bin];
            // By chance alone 400 pixels of one step differ by 0.025.
            QVERIFY2(std::fabs(off) < 0.1, qPrintable(QStringLiteral("%1: %2").arg(bin).arg(off)));
        }
        // A flat colour stays flat.
        const MiniPdf flat =
            spots_page("/S sh", "/Shading << /S << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [0 0 "
                                "72 0] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0.4] "
                                "/C1 [0 0 0 0.4] >> >> >>");
        const PlateTile even = flat.plates(300, Edges::Crisp);
        for (const std::uint8_t tone : plane(even, flat.scene(), "Black").pixels) {
            QCOMPARE(int(tone), 102);
        }
    }

    void linesAreAsTheInterpreterDrawsThem_data()
    {
        QTest::addColumn<std::string>("line");
        const std::string corner = "12 12 m 40 60 l 60 20 l ";
        QTest::newRow("butt ends and miters") << std::string() + "5 w " + corner + "S";
        QTest::newRow("a miter past its limit is cut") << std::string() + "5 w 1.2 M " + corner + "S";
        QTest::newRow("round ends and joins") << std::string() + "8 w 1 J 1 j " + corner + "S";
        QTest::newRow("square ends, bevelled") << std::string() + "8 w 2 J 2 j " + corner + "S";
        QTest::newRow("closed") << std::string() + "5 w " + corner + "s";
        QTest::newRow("a curve") << std::string() + "9 w 10 20 m 20 70 50 70 60 20 c S";
        QTest::newRow("a tight curve, wide") << std::string() + "16 w 20 20 m 20 60 28 60 28 20 c S";
        QTest::newRow("a circle") << std::string() + "6 w " + circle(36, 36, 20) + "S";
        QTest::newRow("dashes with a phase") << std::string() + "4 w [9 5] 3 d " + corner + "S";
        QTest::newRow("dashes begin anew with each line")
            << std::string() + "4 w [9 5] 3 d 5 10 m 65 10 l 5 30 m 65 34 l 5 60 m 5 50 l 60 66 l S";
        QTest::newRow("three lengths turn over") << std::string() + "4 w [9 5 2] 0 d " + corner + "S";
        QTest::newRow("dotted by round ends") << std::string() + "9 w 1 J [0 12] 0 d " + corner + "S";
        QTest::newRow("dashes of a line that begins and ends far away")
            << std::string() + "4 w [9 5 2] 3 d -3000 20 m 4000 60 l S";
        QTest::newRow("dashes finer than a pixel are a line")
            << std::string() + "4 w [0.001] 0 d " + corner + "S";
        QTest::newRow("a dashed curve") << std::string() + "4 w [7 4] 0 d 10 20 m 20 70 50 70 60 20 c S";
        QTest::newRow("a pen squeezed and turned")
            << std::string() + "q 1 0.4 -0.2 0.4 10 5 cm 8 w 1 J 10 20 m 40 50 l 50 10 l S Q";
        QTest::newRow("a dot by a round end") << std::string() + "20 w 1 J 36 36 m 36 36 l S";
    }
    void linesAreAsTheInterpreterDrawsThem()
    {
        QFETCH(std::string, line);
        const MiniPdf pdf = spots_page("/A CS 1 SCN " + line);
        const PlateTile smooth = pdf.plates(600);
        const PlateTile crisp = pdf.plates(600, Edges::Crisp);
        const int wrong = wrong_off_edges(crisp.plates[0], smooth.plates[0]);
        QVERIFY2(wrong == 0, qPrintable(QString::number(wrong)));
        // Its chords are off by up to a third of a pixel inside round ends, which is 1.5 % of these dots.
        const double area = mean(smooth.plates[0]);
        QVERIFY2(std::fabs(mean(crisp.plates[0]) - area) < 0.015 * area,
                 qPrintable(QStringLiteral("%1 %2").arg(mean(crisp.plates[0])).arg(area)));
    }

    void linesAreTheSameByRunsAndByPixels_data() { linesAreAsTheInterpreterDrawsThem_data(); }
    void linesAreTheSameByRunsAndByPixels()
    {
        // Nothing, multiplied over all of the page, changes no tone, but has it painted by pixels: one rule.
        QFETCH(std::string, line);
        const std::string art = "/A CS 1 SCN " + line;
        const PlateTile runs = spots_page(art).plates(300, Edges::Crisp);
        const PlateTile pixels = spots_page(art + " /Mul gs /B cs 0 scn" + all).plates(300, Edges::Crisp);
        QVERIFY(runs.plates[0] == pixels.plates[0]);
    }

    void shapesAreTheSameByRunsAndByPixels_data()
    {
        QTest::addColumn<std::string>("art");
        const std::string font = "BT /F 40 Tf 5 15 Td (ag) Tj ET";
        QTest::newRow("shapes") << "/A cs 1 scn " + circle(30, 40, 20) + "f 0.5 scn 3.3 5.1 40.7 0.05 re f";
        QTest::newRow("a clip") << "q " + circle(36, 36, 25) + "W n 10 20 50 30 re W n /A cs 0.7 scn" + all +
                                       "Q";
        QTest::newRow("a clip by a line") << "q 12 w 10 10 m 60 60 l 60 10 l S Q /A cs 1 scn" + all;
        QTest::newRow("letters") << "/A cs 1 scn " + font;
        QTest::newRow("a clip by letters") << "q 7 Tr " + font + " /A cs 1 scn" + all + "Q";
        QTest::newRow("half strength")
            << "/A cs 0.4 scn" + all + "/Half gs /A cs 1 scn " + circle(36, 36, 22) + "f";
    }
    void shapesAreTheSameByRunsAndByPixels()
    {
        QFETCH(std::string, art);
        const std::string font = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>";
        const PlateTile runs = spots_page(art, font).plates(300, Edges::Crisp);
        const PlateTile pixels =
            spots_page("q " + art + " Q /Mul gs /B cs 0 scn" + all, font).plates(300, Edges::Crisp);
        int differing = 0;
        for (std::size_t i = 0; i < runs.plates[0].pixels.size(); ++i) {
            differing += std::abs(runs.plates[0].pixels[i] - pixels.plates[0].pixels[i]) > 1 ? 1 : 0;
        }
        QCOMPARE(differing, 0);
    }

    void thousandsOfObjectsAreSeenAsBySmoothPainting()
    {
        // Lines, discs and a group that runs cannot say, on top of each other.
        std::mt19937 random(5);
        std::string art = "/A cs /A CS 1.3 w ";
        for (int i = 0; i < 2100; ++i) {
            const auto number = [&] {
                return format_number(static_cast<double>(random() % 7200) / 100.0, 2) + " ";
            };
            art += std::string(i % 3 == 0 ? "0.3 SCN " : "1 SCN ") + number() + number() + "m " + number() +
                   number() + "l S " + (i % 7 == 0 ? "0 scn 20 20 9 9 re f " : "");
        }
        const MiniPdf pdf = spots_page(art + "q /Mul gs /B cs 0.5 scn 3 3 4 4 re f Q");
        const auto made = take(PlateLine::make(pdf.content(), {"Alpha", "Beta"}));
        const PixelRect page = made->extent(Dpi(96));
        for (const Edges edges : {Edges::Seen, Edges::Quick}) {
            const PlateTile seen = take(made->render(page, Dpi(96), edges));
            const PlateTile smooth = take(made->render(page, Dpi(96), Edges::Smooth));
            for (std::size_t plate = 0; plate < 2; ++plate) {
                double sum = 0, worst = 0;
                for (std::size_t i = 0; i < seen.plates[plate].pixels.size(); ++i) {
                    const int difference = seen.plates[plate].pixels[i] - smooth.plates[plate].pixels[i];
                    sum += difference;
                    worst = std::max(worst, std::abs(double(difference)));
                }
                const auto pixels = static_cast<double>(seen.plates[plate].pixels.size());
                // 4 × 4 samples tell 17 tones and 2 × 2 five; the mean is of all pixels. Lines over lines
                // blend their edges in smooth painting and not in averages, which is why they are darker
                // there.
                QVERIFY2(std::fabs(sum / pixels) < (edges == Edges::Seen ? 8 : 12),
                         qPrintable(QString::number(sum / pixels)));
            }
            // The same bits cut at any side, and in bands.
            const PixelRect part = {page.width / 3, page.height / 4, page.width / 2, page.height / 2};
            const PlateTile cut = take(made->render(part, Dpi(96), edges));
            const PlateTile whole = take(made->whole_page(Dpi(96), edges));
            for (int y = 0; y < part.height; ++y) {
                for (int x = 0; x < part.width; ++x) {
                    QCOMPARE(cut.plates[0].at(x, y), seen.plates[0].at(part.x + x, part.y + y));
                }
            }
            QVERIFY(whole.plates == seen.plates);
        }
    }

    void manyObjectsLieOverEachOtherInTheirOrder()
    {
        // Rectangles on whole pixels: some knock out, some overprint, some at half strength. Every row is
        // crossed by dozens of them.
        std::mt19937 random(17);
        const auto below = [&](unsigned most) { return static_cast<int>(random() % most); };
        std::string art;
        Plane alpha(72, 72), beta(72, 72);
        for (int i = 0; i < 300; ++i) {
            const int x = below(70), y = below(70), kind = below(4);
            const int width = 1 + below(static_cast<unsigned>(72 - x)), height = 1 + below(40);
            const bool in_alpha = below(2) == 0;
            const int tone = 51 * below(6);
            art += std::string("q ") +
                   (kind == 1   ? "/OP gs "
                    : kind == 2 ? "/Half gs "
                                : "") +
                   (in_alpha ? "/A cs " : "/B cs ") + number(tone / 255.0) + "scn " + std::to_string(x) +
                   " " + std::to_string(72 - y - std::min(height, 72 - y)) + " " + std::to_string(width) +
                   " " + std::to_string(std::min(height, 72 - y)) + " re f Q ";
            for (int v = y; v < y + std::min(height, 72 - y); ++v) {
                for (int u = x; u < x + width; ++u) {
                    const auto at = static_cast<std::size_t>(u);
                    std::uint8_t &own = (in_alpha ? alpha : beta).row(v)[at];
                    std::uint8_t &other = (in_alpha ? beta : alpha).row(v)[at];
                    const auto blend = [](int over, int under) { // ca 0.5, as bytes
                        const int strength = 128 + (128 >> 7);
                        return static_cast<std::uint8_t>(((over - under) * strength + (under << 8)) >> 8);
                    };
                    own = kind == 2 ? blend(tone, own) : static_cast<std::uint8_t>(tone);
                    other = kind == 1 ? other : kind == 2 ? blend(0, other) : std::uint8_t(0);
                }
            }
        }
        const MiniPdf pdf = spots_page(art);
        const auto line = take(PlateLine::make(pdf.content(), {"Alpha", "Beta"}));
        const PlateTile made = take(line->render({0, 0, 72, 72}, Dpi(72), Edges::Crisp));
        for (int y = 0; y < 72; ++y) {
            for (int x = 0; x < 72; ++x) {
                QVERIFY2(std::abs(made.plates[0].at(x, y) - alpha.at(x, y)) <= 2 &&
                             std::abs(made.plates[1].at(x, y) - beta.at(x, y)) <= 2,
                         qPrintable(QStringLiteral("at %1, %2: %3 %4, not %5 %6")
                                        .arg(x)
                                        .arg(y)
                                        .arg(int(made.plates[0].at(x, y)))
                                        .arg(int(made.plates[1].at(x, y)))
                                        .arg(int(alpha.at(x, y)))
                                        .arg(int(beta.at(x, y)))));
            }
        }
    }

    void gradientsEndWhereTheySay_data()
    {
        QTest::addColumn<bool>("backwards");
        QTest::newRow("to the right") << false;
        QTest::newRow("to the left") << true;
    }
    void gradientsEndWhereTheySay()
    {
        // From a third to two thirds of the page, and what lies before and behind goes on as it ends.
        QFETCH(const bool, backwards);
        const std::string coords = backwards ? "48 0 24 0" : "24 0 48 0";
        const MiniPdf pdf = spots_page(
            "/S sh", "/Shading << /S << /ShadingType 2 /ColorSpace [/Separation /Alpha /DeviceCMYK << "
                     "/FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [0 1 0 0] >>] /Coords [" +
                         coords +
                         "] /Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.2] /C1 [0.8] >> /Extend "
                         "[true true] >> >>");
        const PlateTile made = pdf.plates(720, Edges::Crisp);
        for (const int x : {0, 100, 239, 240, 300, 360, 420, 479, 480, 719}) {
            const double along = std::clamp((x + 0.5 - 240) / 240, 0.0, 1.0);
            const double wanted = 255 * (0.2 + 0.6 * (backwards ? 1 - along : along));
            double sum = 0;
            for (int y = 0; y < 720; ++y) {
                sum += made.plates[0].at(x, y);
            }
            QVERIFY2(std::fabs(sum / 720 - wanted) < 0.7,
                     qPrintable(QStringLiteral("column %1: %2, not %3").arg(x).arg(sum / 720).arg(wanted)));
        }
    }

    void moreInksThanFitTogetherAreFilmedToo()
    {
        MiniPdf pdf;
        pdf.resources = "/ExtGState << /OP << /op true >> >> /ColorSpace << ";
        pdf.contents = "/OP gs 0 0 0 0.5 k 0 0 72 72 re f ";
        for (int i = 0; i < 61; ++i) {
            const std::string name = "Ink" + std::to_string(i);
            pdf.resources += separation("S" + std::to_string(i), name);
            pdf.contents += "/S" + std::to_string(i) + " cs " + format_number((i + 1) / 100.0, 2) + " scn " +
                            std::to_string(i) + " 0 11 72 re f ";
        }
        pdf.resources += ">>";
        const PlateTile smooth = pdf.plates(72);
        const PlateTile crisp = pdf.plates(72, Edges::Crisp);
        QCOMPARE(crisp.plates.size(), std::size_t(62));
        QVERIFY(crisp.plates == smooth.plates); // all edges lie on pixels
        QVERIFY(crisp.area == smooth.area);
    }

    void hostileLinesNeitherHangNorCrash()
    {
        // Numbers that a damaged or hostile file may hold; what they paint is nobody's wish.
        for (const char *line :
             {"4 w [0.5 0.3] 0 d -9e8 30 m 9e8 31 l S", "1e30 w 0 0 m 9 9 l S",
              "4 w [1e-30 1e-30] 1e30 d 0 0 m 70 70 l S", "4 w 1 J 1 j 1e38 1e38 m -1e38 3 l 5 5 l S",
              "1e20 0 0 1e20 0 0 cm 1 w 0 0 m 1 1 l S",
              "1e-20 0 0 1e-20 0 0 cm 1 w [3] 0 d 0 0 m 1e20 1e20 l S", "0 0 0 0 0 0 cm 1 w 0 0 m 9 9 l S",
              "3 w 0 0 m 1e9 1e9 -1e9 1e9 70 0 c S", "-1e9 -1e9 2e9 2e9 re f",
              "5 w [0 0] 0 d 0 0 m 9 9 l S"}) {
            const MiniPdf pdf = spots_page(std::string("/A cs 1 scn /A CS 1 SCN ") + line);
            const auto made = take(PlateLine::make(pdf.content(), {"Alpha"}));
            for (const Edges edges : {Edges::Crisp, Edges::Quick}) {
                QVERIFY2(made->render({0, 0, 72, 72}, Dpi(72), edges), line);
            }
        }
    }

    void circlesHaveTheirSizeAndPlace()
    {
        // Common practice, no source: a film that is to fit shows no error of a twentieth of a pixel.
        std::mt19937 random(7);
        std::uniform_real_distribution<double> shift(-1, 1);
        MiniPdf pdf = spots_page("");
        pdf.width = pdf.height = 500;
        pdf.contents = "/A cs 1 scn ";
        struct Disc
        {
            double x, y, r;
        };
        std::vector<Disc> discs;
        for (int i = 0; i < 50; ++i) {
            discs.push_back({35.0 + i % 7 * 70 + 5 * shift(random), 35.0 + i / 7 * 60 + 5 * shift(random),
                             14 + 6 * shift(random)});
            pdf.contents += circle(discs.back().x, 500 - discs.back().y, discs.back().r) + "f ";
        }
        constexpr double dpi = 144;
        const Plane film = pdf.plates(dpi, Edges::Crisp).plates[0];
        double radius = 0, right = 0, down = 0;
        for (const Disc &disc : discs) {
            const double s = dpi / 72;
            double area = 0, x_sum = 0, y_sum = 0;
            for (int y = static_cast<int>((disc.y - 26) * s); y < (disc.y + 26) * s; ++y) {
                for (int x = static_cast<int>((disc.x - 26) * s); x < (disc.x + 26) * s; ++x) {
                    if (film.at(x, y) > 0) {
                        area += 1;
                        x_sum += x + 0.5;
                        y_sum += y + 0.5;
                    }
                }
            }
            radius += std::sqrt(area / std::numbers::pi) - disc.r * s;
            right += x_sum / area - disc.x * s;
            down += y_sum / area - disc.y * s;
        }
        for (const double off : {radius / 50, right / 50, down / 50}) {
            QVERIFY2(std::fabs(off) < 0.05, qPrintable(QString::number(off)));
        }
    }

    void aPixelIsInkWhenItsCentreIs()
    {
        // Half open: a left or top edge on a centre counts, a right or bottom one does not. A page of ten
        // pixels; PDF's y runs up.
        MiniPdf pdf = spots_page("/A cs 1 scn 2.5 3.5 3 4 re f");
        pdf.width = pdf.height = 10;
        QCOMPARE(drawn(pdf.plates(72, Edges::Crisp).plates[0], {0, 0, 10, 10}),
                 QStringList({"..........", "..........", "..###.....", "..###.....", "..###.....",
                              "..###.....", "..........", "..........", "..........", ".........."}));
    }

    void nothingThinIsLost()
    {
        MiniPdf pdf = spots_page({});
        pdf.width = pdf.height = 10;
        const auto inked = [&](const std::string &art) {
            pdf.contents = "/A cs 1 scn /A CS 1 SCN " + art;
            return drawn(pdf.plates(72, Edges::Crisp).plates[0], {0, 0, 10, 10});
        };
        // Upright, between two centres: one column.
        QStringList rows = inked("4.6 0 0.2 10 re f");
        QCOMPARE(rows, QStringList(10, "....#....."));
        // Lying, between two centres of rows: one row. From the top 3.7 to 3.9.
        rows = inked("1 6.1 8 0.2 re f");
        QCOMPARE(rows.at(3), QStringLiteral(".########."));
        QCOMPARE(rows.filter("#").size(), 1);
        // Smaller than a pixel both ways.
        QCOMPARE(inked("6.1 6.1 0.1 0.1 re f").filter("#"), QStringList("......#..."));
        // Hairlines are a pixel wide.
        QCOMPARE(inked("0 w 0 4.2 m 10 4.2 l S").filter("#"), QStringList("##########"));
        QCOMPARE(inked("0.01 w 4.2 0 m 4.2 10 l S"), QStringList(10, "....#....."));
        QCOMPARE(inked("0 w 0 0 m 10 10 l S").join("").count('#') >= 10, true);
    }

    void shapesThatTouchNeitherOverlapNorGape()
    {
        // A page cut into slanting strips of four tones: every pixel belongs to one of them.
        std::string art = "/A cs ";
        for (int i = -8; i < 80; ++i) {
            const double x = i * 1.37;
            art += number(0.2 + 0.2 * (std::abs(i) % 4)) + "scn " + number(x) + "0 m " + number(x + 1.37) +
                   "0 l " + number(x + 11.37) + "72 l " + number(x + 10) + "72 l f ";
        }
        const Plane film = spots_page(art).plates(144, Edges::Crisp).plates[0];
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < film.width; ++x) {
                QVERIFY2(film.at(x, y) >= 50, qPrintable(QStringLiteral("%1 %2").arg(x).arg(y)));
            }
        }
    }

    void whatIsPaintedByPixelsMeetsTheRestWithoutASeam()
    {
        // The same art, once wholly as runs and once with a corner that has to be painted by pixels.
        const std::string art = "/A cs 1 scn " + circle(36, 36, 30) + "f /OP gs /B cs 0.6 scn 5 " +
                                "20 m 70 33 l 68 40 l 3 28 l f 0.3 w /B CS 1 SCN 0 0 m 72 70 l S ";
        const PlateTile whole = spots_page(art).plates(300, Edges::Crisp);
        const PlateTile part =
            spots_page(art + "/Mul gs /B cs 0 scn 30 30 12 12 re f").plates(300, Edges::Crisp);
        int differing = 0;
        for (std::size_t i = 0; i < 2; ++i) {
            for (int y = 0; y < whole.plates[i].height; ++y) {
                for (int x = 0; x < whole.plates[i].width; ++x) {
                    differing += whole.plates[i].at(x, y) != part.plates[i].at(x, y) ? 1 : 0;
                }
            }
        }
        // Of about four hundred pixels along its edges; by rounding only.
        QVERIFY2(differing <= 4, qPrintable(QString::number(differing)));
    }

    void patternsAreFilmedWhereverTheyLie_data()
    {
        QTest::addColumn<QString>("matrix");
        QTest::addColumn<QString>("cell");
        const QString squares = QStringLiteral("/B cs 1 scn 0 0 15 15 re f");
        QTest::newRow("as it is") << QStringLiteral("1 0 0 1 0 0") << squares;
        QTest::newRow("its origin beside the page") << QStringLiteral("1 0 0 1 -900 -1300") << squares;
        QTest::newRow("turned") << QStringLiteral("0.866 0.5 -0.5 0.866 7 11") << squares;
        QTest::newRow("a line, a clip and text in it")
            << QStringLiteral("1 0 0 1 3 5")
            << QStringLiteral(
                   "/B CS 1 SCN 3 w 2 2 m 28 20 l S q 16 2 12 12 re W n /B cs 1 scn 10 0 30 8 re f Q "
                   "BT /F 14 Tf 2 18 Td (M) Tj ET");
    }
    /// A page of many strips, the pattern away from where its cell has its origin.
    void patternsAreFilmedWhereverTheyLie()
    {
        QFETCH(QString, matrix);
        QFETCH(QString, cell);
        MiniPdf pdf = spots_page("/Pattern cs /P scn 60 150 200 190 re f /A cs 1 scn 10 10 20 20 re f",
                                 "/Pattern << /P 11 0 R >>");
        pdf.width = 300;
        pdf.height = 400;
        pdf.objects.push_back(("<< /Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 30 "
                               "30] /XStep 30 /YStep 30 "
                               "/Matrix [" +
                               matrix +
                               "] /Resources << /Font << /F << /Type /Font /Subtype /Type1 /BaseFont "
                               "/Helvetica >> >> /ColorSpace << ")
                                  .toStdString() +
                              separation("B", "Beta") + " >> >> /Length " + std::to_string(cell.size()) +
                              " >>\nstream\n" + cell.toStdString() + "\nendstream");
        const PlateTile crisp = pdf.plates(300, Edges::Crisp), smooth = pdf.plates(300, Edges::Smooth);
        const Scene scene = pdf.scene();
        const Plane &film = plane(crisp, scene, "Beta"), &tones = plane(smooth, scene, "Beta");
        QVERIFY(mean(tones) > 4); // it is there
        QVERIFY2(std::fabs(mean(film) / mean(tones) - 1) < 0.03,
                 qPrintable(QStringLiteral("%1, not %2").arg(mean(film)).arg(mean(tones))));
        // In every strip of the page alike.
        for (int top = 0; top < tones.height; top += 64) {
            double ours = 0, theirs = 0;
            for (int y = top; y < std::min(top + 64, tones.height); ++y) {
                for (int x = 0; x < tones.width; ++x) {
                    ours += film.at(x, y);
                    theirs += tones.at(x, y);
                }
            }
            QVERIFY2(
                std::fabs(ours - theirs) <= 0.08 * theirs + 255.0 * 200,
                qPrintable(
                    QStringLiteral("rows from %1: %2, not %3").arg(top).arg(ours / 255).arg(theirs / 255)));
        }
    }

    /// Ordinary things and faults alike: what plates hold, films hold; hairlines, which films widen to a
    /// pixel, may be more.
    void filmsHoldWhatPlatesHold()
    {
        const QDir faults(QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/faults"));
        int looked = 0;
        for (const QString &name : faults.entryList({QStringLiteral("*.pdf")})) {
            const auto artwork = take(Artwork::open(faults.filePath(name).toStdString()));
            for (int number = 1; number <= artwork->page_count(); ++number) {
                const auto page = take(artwork->interpret(number, PageBox::Media));
                const Job job = propose_job(take(record_scene(*page)), "x", number);
                if (job.plates.empty()) {
                    continue;
                }
                const auto line = take(PlateLine::make(page, setup_of(job)));
                const Dpi dpi(200);
                const PlateTile film = take(line->render(line->extent(dpi), dpi, Edges::Crisp));
                const PlateTile tones = take(line->render(line->extent(dpi), dpi, Edges::Smooth));
                for (std::size_t i = 0; i < job.plates.size(); ++i) {
                    const double ours = mean(film.plates[i]), theirs = mean(tones.plates[i]);
                    ++looked;
                    QVERIFY2(ours > 0.9 * theirs - 0.1 && ours < 1.35 * theirs + 0.6,
                             qPrintable(QStringLiteral("%1, %2: %3, not %4")
                                            .arg(name, QString::fromStdString(job.plates[i].ink))
                                            .arg(ours)
                                            .arg(theirs)));
                }
            }
        }
        QVERIFY(looked > 80);
    }

    void lettersAreClosedHoweverTheyAreDrawn()
    {
        // The same stroked letters at full and at half strength cover the same: corners are joined, not cut
        // off.
        const std::string font = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>";
        const std::string text = "/A CS 1 SCN 4 w BT /F 60 Tf 1 Tr 5 15 Td (ag) Tj ET";
        for (const Edges edges : {Edges::Smooth, Edges::Crisp}) {
            const double full = mean(spots_page(text, font).plates(301, edges).area);
            const double half = mean(spots_page("/Half gs " + text, font).plates(301, edges).area);
            // Blending at 127 of 255 gives 126. Tones of whole letters come from the font library's own pen.
            const double allowed = edges == Edges::Crisp ? 0.05 : 0.01 * full;
            QVERIFY2(full > 20 && std::fabs(half - full * 126 / 255) < allowed,
                     qPrintable(QStringLiteral("%1 %2").arg(full).arg(half)));
        }
    }

    void anchorsOfLettersInkNothing_data()
    {
        QTest::addColumn<std::string>("before");
        QTest::newRow("by runs") << std::string();
        QTest::newRow("by pixels") << std::string("/Mul gs ");
        QTest::newRow("stroked too") << std::string("/A CS 1 SCN 1 w 2 Tr ");
        QTest::newRow("as a clip") << std::string("q 7 Tr ");
    }
    void anchorsOfLettersInkNothing()
    {
        QFETCH(std::string, before);
        // A font of one letter: a square from 100, 0 to 400, 300 of 1000, and an anchor at 700, 700.
        const auto number16 = [](std::initializer_list<int> values) {
            std::string bytes;
            for (const int value : values) {
                bytes += static_cast<char>(value >> 8 & 255);
                bytes += static_cast<char>(value & 255);
            }
            return bytes;
        };
        const std::string glyph = number16({2, 100, 0, 700, 700, 3, 4, 0}) + std::string(5, '\x01') +
                                  number16({100, 0, 300, 0, 300}) + number16({0, 300, 0, -300, 700}) + '\0';
        const std::vector<std::pair<std::string, std::string>> tables = {
            {"glyf", glyph},
            {"head", number16({1, 0, 1, 0, 0, 0, 0x5F0F, 0x3CF5, 0, 1000, 0, 0, 0, 0,
                               0, 0, 0, 0, 0, 0, 700,    700,    0, 8,    2, 0, 0})},
            {"hhea", number16({1, 0, 800, -200, 0, 1000, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 2})},
            {"hmtx", number16({1000, 0, 1000, 100})},
            {"loca", number16({0, 0, static_cast<int>(glyph.size() / 2)})},
            {"maxp", number16({1, 0, 2, 5, 2, 0, 0, 1, 0, 0, 0, 0, 0, 0, 0, 0})}};
        std::string font = number16({1, 0, static_cast<int>(tables.size()), 64, 2, 32});
        std::string body;
        for (const auto &[tag, table] : tables) {
            const int at = 12 + 16 * static_cast<int>(tables.size()) + static_cast<int>(body.size());
            font += tag + number16({0, 0, 0, at, 0, static_cast<int>(table.size())});
            body += table + std::string((4 - table.size() % 4) % 4, '\0');
        }
        font += body;
        std::string hex;
        for (const char byte : font) {
            hex +=
                QByteArray::number(static_cast<unsigned char>(byte), 16).rightJustified(2, '0').toStdString();
        }
        hex += '>';
        MiniPdf pdf = spots_page(before + "/A cs 1 scn BT /F 60 Tf 5 15 Td <0001> Tj ET " +
                                     (before.starts_with('q') ? "0 0 72 72 re f Q" : ""),
                                 "/Font << /F 11 0 R >>");
        pdf.objects.push_back("<< /Type /Font /Subtype /Type0 /BaseFont /One /Encoding /Identity-H "
                              "/DescendantFonts [12 0 R] >>");
        pdf.objects.push_back(
            "<< /Type /Font /Subtype /CIDFontType2 /BaseFont /One /CIDSystemInfo << /Registry (One) "
            "/Ordering (Identity) /Supplement 0 >> /CIDToGIDMap /Identity /FontDescriptor 13 0 R >>");
        pdf.objects.push_back(
            "<< /Type /FontDescriptor /FontName /One /Flags 4 /FontBBox [0 0 700 700] /ItalicAngle 0 "
            "/Ascent 800 /Descent -200 /CapHeight 700 /StemV 80 /FontFile2 14 0 R >>");
        pdf.objects.push_back("<< /Filter /ASCIIHexDecode /Length1 " + std::to_string(font.size()) +
                              " /Length " + std::to_string(hex.size()) + " >>\nstream\n" + hex +
                              "\nendstream");
        constexpr double dpi = 300;
        const PlateTile film = pdf.plates(dpi, Edges::Crisp);
        std::int64_t inside = 0, outside = 0;
        for (int y = 0; y < film.rect.height; ++y) {
            for (int x = 0; x < film.rect.width; ++x) {
                const double px = (x + 0.5) * 72 / dpi, py = 72 - (y + 0.5) * 72 / dpi;
                const bool near = px > 10 && px < 30 && py > 14 && py < 34; // the square and its stroke
                (near ? inside : outside) += film.plates[0].at(x, y) != 0 ? 1 : 0;
            }
        }
        QVERIFY2(inside > 5000, qPrintable(QString::number(inside))); // 18 by 18 points
        QCOMPARE(outside, std::int64_t(0));
    }

    void picturesTakeThePixelTheirCentreLiesIn()
    {
        MiniPdf pdf =
            spots_page("q 8 0 0 8 1.3 1.3 cm BI /W 2 /H 2 /CS /G /BPC 8 /F /AHx ID 00 40 80 FF> EI Q");
        pdf.width = pdf.height = 10;
        const PlateTile film = pdf.plates(72, Edges::Crisp);
        const Plane &black = plane(film, pdf.scene(), "Black");
        // From x 1.3 to 9.3: centres 1.5 to 8.5; the middle is at 5.3. From the top 0.7 to 8.7.
        QCOMPARE(black.at(1, 1), std::uint8_t(255));
        QCOMPARE(black.at(4, 4), std::uint8_t(255));
        QCOMPARE(black.at(5, 4), std::uint8_t(255 - 0x40));
        QCOMPARE(black.at(8, 4), std::uint8_t(255 - 0x40));
        QCOMPARE(black.at(4, 5), std::uint8_t(255 - 0x80));
        QCOMPARE(black.at(5, 5), std::uint8_t(0));
        QCOMPARE(black.at(0, 4), std::uint8_t(0));
        QCOMPARE(black.at(9, 4), std::uint8_t(0));
        QCOMPARE(film.area.at(8, 8), std::uint8_t(255));
        QCOMPARE(film.area.at(8, 9), std::uint8_t(0));
    }

    void interpolatedPicturesBlendBetweenTheMiddlesOfTheirPixels_data()
    {
        QTest::addColumn<QList<double>>("matrix");
        QTest::newRow("enlarged") << QList<double>{54.3, 0, 0, 50.7, 3.1, 4.4};
        QTest::newRow("turned over") << QList<double>{-54.3, 0, 0, 50.7, 60.2, 4.4};
        QTest::newRow("upside down") << QList<double>{54.3, 0, 0, -50.7, 3.1, 60};
        QTest::newRow("turned by a quarter") << QList<double>{0, 50, -48, 0, 60, 6};
        QTest::newRow("turned by three") << QList<double>{0, -50, 48, 0, 6, 60};
    }
    void interpolatedPicturesBlendBetweenTheMiddlesOfTheirPixels()
    {
        QFETCH(QList<double>, matrix);
        constexpr int wide = 7, high = 5;
        std::mt19937 random(5);
        std::vector<int> tones;
        QByteArray hex;
        for (int i = 0; i < wide * high; ++i) {
            tones.push_back(static_cast<int>(random() % 256));
            hex += QByteArray::number(255 - tones.back(), 16).rightJustified(2, '0');
        }
        std::string place = "q ";
        for (const double one : matrix) {
            place += format_number(one, 2) + " ";
        }
        MiniPdf pdf = spots_page(place + "cm BI /W 7 /H 5 /CS /G /BPC 8 /I true /F /AHx ID " +
                                 hex.toStdString() + "> EI Q");
        constexpr double dpi = 200;
        const PlateTile film = pdf.plates(dpi, Edges::Crisp), smooth = pdf.plates(dpi, Edges::Smooth);
        const Plane &black = plane(film, pdf.scene(), "Black"), &seen = plane(smooth, pdf.scene(), "Black");
        const double det = matrix[0] * matrix[3] - matrix[1] * matrix[2];
        int looked_at = 0;
        for (int y = 0; y < film.rect.height; ++y) {
            for (int x = 0; x < film.rect.width; ++x) {
                const double dx = (x + 0.5) * 72 / dpi - matrix[4],
                             dy = 72 - (y + 0.5) * 72 / dpi - matrix[5];
                const double u = (matrix[3] * dx - matrix[2] * dy) / det * wide;
                const double v = (1 - (matrix[0] * dy - matrix[1] * dx) / det) * high;
                if (u < 0.1 || u > wide - 0.1 || v < 0.1 || v > high - 0.1) {
                    continue; // at its edge
                }
                const double across = std::clamp(u - 0.5, 0.0, wide - 1.0),
                             down = std::clamp(v - 0.5, 0.0, high - 1.0);
                const int left = std::min(static_cast<int>(across), wide - 2),
                          above = std::min(static_cast<int>(down), high - 2);
                const auto tone = [&](int i, int j) {
                    return tones[static_cast<std::size_t>((above + j) * wide + left + i)];
                };
                const double upper = tone(0, 0) + (tone(1, 0) - tone(0, 0)) * (across - left);
                const double lower = tone(0, 1) + (tone(1, 1) - tone(0, 1)) * (across - left);
                const double wanted = upper + (lower - upper) * (down - above);
                const QString where = QStringLiteral("%1, %2: %3, not %4; by pixels %5")
                                          .arg(x)
                                          .arg(y)
                                          .arg(black.at(x, y))
                                          .arg(wanted)
                                          .arg(seen.at(x, y));
                // Half a tone of rounding, and places are known to 256ths of a pixel; the interpreter cuts
                // down.
                QVERIFY2(std::fabs(black.at(x, y) - wanted) < 0.5 + 2 * 255.0 / 256, qPrintable(where));
                QVERIFY2(std::abs(black.at(x, y) - seen.at(x, y)) <= 12,
                         qPrintable(where)); // it fits pictures to pixels
                ++looked_at;
            }
        }
        QVERIFY(looked_at > 10000);
    }

    void stencilsLetThroughWhereTheirPixelSaysSo_data()
    {
        QTest::addColumn<QList<double>>("matrix");
        QTest::addColumn<bool>("masks");
        const std::pair<const char *, QList<double>> places[] = {
            {"enlarged", {54.3, 0, 0, 50.7, 3.1, 4.4}},
            {"turned over", {-54.3, 0, 0, 50.7, 60.2, 4.4}},
            {"upside down", {54.3, 0, 0, -50.7, 3.1, 60}},
            {"on its side", {0, 50, -48, 0, 60, 6}},
            {"askew", {40, 23.1, -21, 38, 27, 3}}};
        for (const auto &[name, matrix] : places) {
            QTest::addRow("a stencil, %s", name) << matrix << false;
            QTest::addRow("what cuts a picture, %s", name) << matrix << true;
        }
    }
    void stencilsLetThroughWhereTheirPixelSaysSo()
    {
        QFETCH(QList<double>, matrix);
        QFETCH(bool, masks);
        constexpr int side = 16; // pixels; painted where a bit is 0 (ISO 32000-1, 8.9.6.2)
        std::mt19937 random(3);
        std::vector<std::uint16_t> rows;
        std::string hex;
        for (int y = 0; y < side; ++y) {
            rows.push_back(static_cast<std::uint16_t>(random()));
            hex += QStringLiteral("%1").arg(rows.back(), 4, 16, QLatin1Char('0')).toStdString();
        }
        std::string place = "/A cs 1 scn 20 20 30 9 re W n q ";
        for (const double number : matrix) {
            place += format_number(number, 2) + " ";
        }
        MiniPdf pdf = spots_page(place + "cm /I Do Q", "/XObject << /I 11 0 R >>");
        const std::string stencil = "/Type /XObject /Subtype /Image /Width 16 /Height 16 /ImageMask true "
                                    "/BitsPerComponent 1 /Filter /ASCIIHexDecode /Length 65 >>\nstream\n" +
                                    hex + ">\nendstream";
        if (masks) { // 2 × 2 pixels of full ink; where a bit of the mask is 1 it is not painted, the same
            pdf.objects.push_back(
                "<< /Type /XObject /Subtype /Image /Width 2 /Height 2 /BitsPerComponent 8 "
                "/ColorSpace [/Separation /Alpha /DeviceCMYK << /FunctionType 2 /Domain [0 1] "
                "/N 1 /C0 [0 0 0 0] /C1 [0 1 0 0] >>] /Mask 12 0 R /Filter /ASCIIHexDecode "
                "/Length 9 >>\nstream\nFFFFFFFF>\nendstream");
        }
        pdf.objects.push_back("<< " + stencil);
        constexpr double dpi = 300;
        const PlateTile film = pdf.plates(dpi, Edges::Crisp);
        QCOMPARE(film.plates.size(), std::size_t(1));
        const double det = matrix[0] * matrix[3] - matrix[1] * matrix[2];
        int wrong = 0, ink = 0;
        for (int y = 0; y < film.rect.height; ++y) {
            for (int x = 0; x < film.rect.width; ++x) {
                const double px = (x + 0.5) * 72 / dpi, py = 72 - (y + 0.5) * 72 / dpi;
                const double dx = px - matrix[4], dy = py - matrix[5];
                const double u = (matrix[3] * dx - matrix[2] * dy) / det;
                const double v = 1 - (matrix[0] * dy - matrix[1] * dx) / det; // the first row is the top one
                const bool within =
                    u >= 0 && u < 1 && v >= 0 && v < 1 && px >= 20 && px < 50 && py >= 20 && py < 29;
                const bool open =
                    within &&
                    (rows[static_cast<std::size_t>(v * side)] >> (15 - static_cast<int>(u * side)) & 1) == 0;
                wrong += (film.plates[0].at(x, y) == 255) != open ? 1 : 0;
                ink += open ? 1 : 0;
            }
        }
        QVERIFY(ink > 500);
        QVERIFY2(wrong <= 12, qPrintable(QString::number(wrong))); // single precision rounds otherwise
    }

    void aPictureThatFitsItsPixelsStaysAsItIs()
    {
        std::string pixels;
        for (int i = 0; i < 64; ++i) {
            pixels += QByteArray::number((i * 37) % 256, 16).rightJustified(2, '0').toStdString();
        }
        const std::string art =
            "q 8 0 0 8 1 1 cm BI /W 8 /H 8 /CS /G /BPC 8 /F /AHx ID " + pixels + "> EI Q ";
        // Once as runs, once where the page has to be painted by pixels.
        for (const char *more : {"", "/Mul gs /B cs 0 scn 0 0 10 10 re f"}) {
            MiniPdf pdf = spots_page(art + more);
            pdf.width = pdf.height = 10;
            const PlateTile film = pdf.plates(72, Edges::Crisp);
            const Plane &black = plane(film, pdf.scene(), "Black");
            for (int i = 0; i < 64; ++i) {
                QCOMPARE(int(black.at(1 + i % 8, 1 + i / 8)), 255 - (i * 37) % 256);
            }
            QCOMPARE(black.at(0, 4), std::uint8_t(0));
            QCOMPARE(black.at(9, 4), std::uint8_t(0));
        }
    }

    void theDemoIsTheSameOffEdges_data()
    {
        QTest::addColumn<QString>("file");
        for (const char *file : {"night-tote.pdf", "trail-card-messy.pdf", "handbill.pdf"}) {
            QTest::newRow(file) << QString::fromLatin1(file);
        }
    }
    void theDemoIsTheSameOffEdges()
    {
        QFETCH(QString, file);
        const auto artwork =
            take(Artwork::open((QStringLiteral(BICHROM_SOURCE_DIR "/demo/") + file).toStdString()));
        const auto page = take(artwork->interpret(1, PageBox::Media));
        const auto inks = propose_job(take(record_scene(*page)), {}).inks();
        const auto line = take(PlateLine::make(page, inks));
        const Dpi dpi(300);
        const PlateTile smooth = take(line->whole_page(dpi, Edges::Smooth));
        const PlateTile crisp = take(line->whole_page(dpi, Edges::Crisp));
        for (std::size_t i = 0; i < inks.size(); ++i) {
            // Gradients and pictures may be a step off where they change; a thousandth of the page is nothing
            // else.
            const int wrong = wrong_off_edges(crisp.plates[i], smooth.plates[i], 3);
            QVERIFY2(wrong < static_cast<int>(smooth.area.pixels.size() / 1000),
                     qPrintable(QStringLiteral("%1: %2").arg(QString::fromStdString(inks[i])).arg(wrong)));
            QVERIFY2(std::fabs(mean(crisp.plates[i]) - mean(smooth.plates[i])) <
                         0.01 * mean(smooth.plates[i]) + 0.1,
                     qPrintable(QStringLiteral("%1: %2 %3")
                                    .arg(QString::fromStdString(inks[i]))
                                    .arg(mean(crisp.plates[i]))
                                    .arg(mean(smooth.plates[i]))));
        }
    }
};

BICHROM_TEST(TestRuns, QCoreApplication)
#include "tst_runs.moc"
