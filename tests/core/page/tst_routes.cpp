// Routes against tones worked out by hand: share × 255, rounded. Overprint as in ISO 32000-1, 11.7.4.
#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"
#include "core/line/plate_line.h"
#include "core/page/picture_pixels.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <numeric>
#include <random>
#include <set>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const std::string all = " 0 0 72 72 re f ";
const std::string left = " 0 0 36 72 re f ";

using Tones = std::map<std::string, int>;

/// The tones at a point of the page, at 72 dpi.
Tones tones(const MiniPdf &pdf, PlateSetup setup, int x = 36, int y = 36)
{
    const auto plate_line = take(PlateLine::make(pdf.content(), std::move(setup)));
    const PlateTile tile = take(plate_line->render({0, 0, 72, 72}, Dpi(72)));
    Tones found;
    for (std::size_t i = 0; i < plate_line->inks().size(); ++i) {
        found[plate_line->inks()[i]] = tile.plates[i].at(x, y);
    }
    found["area"] = tile.area.at(x, y);
    return found;
}

Route by_ink(const std::string &ink, std::vector<RouteTarget> targets, RouteTo to = RouteTo::Plates)
{
    Route route;
    route.by = RouteBy::Ink;
    route.name = ink;
    route.to = to;
    route.targets = std::move(targets);
    return route;
}

Route by_object(int index, std::vector<RouteTarget> targets, RouteTo to = RouteTo::Plates)
{
    Route route;
    route.by = RouteBy::Objects;
    route.objects = {{1, index, ObjectKind::Fill, {}}};
    route.to = to;
    route.targets = std::move(targets);
    return route;
}

/// By the colour that the page uses as its \p number th.
Route by_colour(const MiniPdf &pdf, std::size_t number, std::vector<RouteTarget> targets,
                RouteTo to = RouteTo::Plates)
{
    const Scene scene = pdf.scene();
    Route route;
    route.colour = scene.colours.at(number).colour;
    route.appearance = scene.colours.at(number).appearance;
    route.to = to;
    route.targets = std::move(targets);
    return route;
}

RouteTarget solid(const std::string &ink, double tint = 1)
{
    return {ink, false, tint, {}};
}
RouteTarget own(const std::string &ink, double tint = 1)
{
    return {ink, true, tint, {}};
}

/// An image XObject of 8-bit pixels, and the operators that paint it over the page.
MiniPdf picture_page(const std::string &space, int width, int height, const std::string &bytes)
{
    MiniPdf pdf = spots_page("q 72 0 0 72 0 0 cm /Im Do Q", "/XObject << /Im 11 0 R >>");
    pdf.objects.push_back("<< /Type /XObject /Subtype /Image /Width " + std::to_string(width) + " /Height " +
                          std::to_string(height) + " /BitsPerComponent 8 /ColorSpace " + space + " /Length " +
                          std::to_string(bytes.size()) + " >>\nstream\n" + bytes + "\nendstream");
    return pdf;
}

} // namespace

class TestRoutes : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aProcessBuildPrintsAsOneSpot()
    {
        // A letterhead built from process inks on two spots: process plates exactly empty, spots solid.
        const MiniPdf pdf = spots_page("0.8 0 1 0.1 k" + left + "0 0.7 1 0 k 36 0 36 72 re f ");
        const std::vector<std::string> inks = {"Cyan", "Magenta", "Yellow", "Black", "Green", "Rust"};
        PlateSetup setup{inks};
        setup.routes = {by_colour(pdf, 0, {solid("Green")}), by_colour(pdf, 1, {solid("Rust")})};
        const auto plate_line = take(PlateLine::make(pdf.content(), setup));
        const PlateTile tile = take(plate_line->render({0, 0, 72, 72}, Dpi(72)));
        for (int y = 0; y < 72; ++y) {
            for (int x = 0; x < 72; ++x) {
                for (std::size_t i = 0; i < 4; ++i) {
                    QCOMPARE(tile.plates[i].at(x, y), std::uint8_t(0));
                }
                QCOMPARE(tile.plates[4].at(x, y), std::uint8_t(x < 36 ? 255 : 0));
                QCOMPARE(tile.plates[5].at(x, y), std::uint8_t(x < 36 ? 0 : 255));
            }
        }
    }

    void onlyTheColourAsWrittenIsTaken()
    {
        const MiniPdf pdf = spots_page("0.8 0 1 0 k" + left + "0.79 0 1 0 k 36 0 36 72 re f ");
        PlateSetup setup{{"Cyan", "Green"}};
        setup.routes = {by_colour(pdf, 0, {solid("Green")})};
        QCOMPARE(tones(pdf, setup, 10), (Tones{{"Cyan", 0}, {"Green", 255}, {"area", 255}}));
        QCOMPARE(tones(pdf, setup, 50), (Tones{{"Cyan", 201}, {"Green", 0}, {"area", 255}}));
    }

    void whatLooksAlikeIsTakenWithinTheTolerance()
    {
        const MiniPdf pdf = spots_page(
            "0.8 0 1 0 k 0 0 24 72 re f 0.78 0.02 1 0 k 24 0 24 72 re f 0.5 0 1 0 k 48 0 24 72 re f ");
        const Scene scene = pdf.scene();
        Route route = by_colour(pdf, 0, {solid("Green")});
        route.by = RouteBy::Similar;
        route.tolerance = 3;
        PlateSetup setup{{"Cyan", "Green"}, {route}};
        QCOMPARE(tones(pdf, setup, 10).at("Green"), 255);
        QCOMPARE(tones(pdf, setup, 36).at("Green"), 255);
        QCOMPARE(tones(pdf, setup, 60).at("Green"), 0);
        route.measure = ColourMeasure::Colourants;
        route.tolerance = 1.9; // the second differs by 2 percent
        setup.routes = {route};
        QCOMPARE(tones(pdf, setup, 10).at("Green"), 255);
        QCOMPARE(tones(pdf, setup, 36).at("Green"), 0);
        setup.routes.front().tolerance = 2.01;
        QCOMPARE(tones(pdf, setup, 36).at("Green"), 255);
        QCOMPARE(tones(pdf, setup, 60).at("Green"), 0);
    }

    void endsOfARoute_data()
    {
        QTest::addColumn<int>("to");
        QTest::addColumn<Tones>("expected");
        // Alpha solid below; the routed object, 60 % Beta, above it.
        QTest::newRow("solid") << 0 << Tones{{"Alpha", 0}, {"Beta", 0}, {"Gamma", 255}};
        QTest::newRow("its own tint") << 1 << Tones{{"Alpha", 0}, {"Beta", 0}, {"Gamma", 153}};
        QTest::newRow("half its own tint") << 2 << Tones{{"Alpha", 0}, {"Beta", 0}, {"Gamma", 77}};
        QTest::newRow("a fixed tint") << 3 << Tones{{"Alpha", 0}, {"Beta", 0}, {"Gamma", 51}};
        QTest::newRow("two plates") << 4 << Tones{{"Alpha", 51}, {"Beta", 0}, {"Gamma", 255}};
        QTest::newRow("does not print: what is below stays")
            << 5 << Tones{{"Alpha", 255}, {"Beta", 0}, {"Gamma", 0}};
        QTest::newRow("bare stock: what is below goes")
            << 6 << Tones{{"Alpha", 0}, {"Beta", 0}, {"Gamma", 0}};
    }
    void endsOfARoute()
    {
        QFETCH(int, to);
        QFETCH(Tones, expected);
        const MiniPdf pdf = spots_page("/A cs 1 scn" + all + "/B cs 0.6 scn" + all);
        const std::vector<std::vector<RouteTarget>> targets = {{solid("Gamma")},
                                                               {own("Gamma")},
                                                               {own("Gamma", 0.5)},
                                                               {solid("Gamma", 0.2)},
                                                               {solid("Gamma"), solid("Alpha", 0.2)}};
        const RouteTo end = to < 5 ? RouteTo::Plates : to == 5 ? RouteTo::Nothing : RouteTo::BareStock;
        const auto given = to < 5 ? targets[static_cast<std::size_t>(to)] : std::vector<RouteTarget>{};
        expected["area"] = 255;
        for (const Route &route :
             {by_colour(pdf, 1, given, end), by_object(1, given, end), by_ink("Beta", given, end)}) {
            PlateSetup setup{{"Alpha", "Beta", "Gamma"}, {route}};
            QCOMPARE(tones(pdf, setup), expected);
        }
    }

    void aRoutedColourKeepsItsOverprint()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn" + all + "/OP gs /B cs 0.6 scn" + all);
        PlateSetup setup{{"Alpha", "Gamma"}, {by_colour(pdf, 1, {own("Gamma")})}};
        QCOMPARE(tones(pdf, setup), (Tones{{"Alpha", 255}, {"Gamma", 153}, {"area", 255}}));
        // Onto the plate that is below: an overprinting tint replaces the same ink, it does not add up.
        setup.routes = {by_ink("Beta", {own("Alpha")})};
        QCOMPARE(tones(pdf, setup).at("Alpha"), 153);
    }

    void twoInksOfAColourOnOnePlateAddUp()
    {
        PlateSetup setup{{"Gamma"}, {by_ink("Alpha", {own("Gamma")}), by_ink("Beta", {own("Gamma")})}};
        QCOMPARE(tones(spots_page("/N cs 0.2 0.4 scn" + all), setup).at("Gamma"), 153);
        QCOMPARE(tones(spots_page("/N cs 0.7 0.8 scn" + all), setup).at("Gamma"), 255);
    }

    void processInksAreRoutedOneByOne()
    {
        PlateSetup setup{{"Magenta", "Blue"}, {by_ink("Cyan", {own("Blue")})}};
        QCOMPARE(tones(spots_page("0.6 0.2 0 0 k" + all), setup),
                 (Tones{{"Blue", 153}, {"Magenta", 51}, {"area", 255}}));
        // OPM 1: cyan at zero leaves its new plate alone.
        QCOMPARE(tones(spots_page("0.6 0 0 0 k" + all + "/OPM1 gs 0 0.4 0 0 k" + all), setup),
                 (Tones{{"Blue", 153}, {"Magenta", 102}, {"area", 255}}));
        // No process plate is left at all.
        PlateSetup none{{"Blue"}, {by_ink("Cyan", {own("Blue")})}};
        QCOMPARE(tones(spots_page("0.6 0.2 0 0 k" + all), none).at("Blue"), 153);
        // A grey is black ink.
        PlateSetup black{{"Ink"}, {by_ink("Black", {own("Ink")})}};
        QCOMPARE(tones(spots_page("0.2 g" + all), black).at("Ink"), 204);
    }

    void aSpotPrintsAsItsProcessBuild()
    {
        // The stand-in colour of Beta is 100 % cyan, of Alpha 100 % magenta.
        PlateSetup setup{{"Cyan", "Magenta", "Yellow", "Black"}, {by_ink("Beta", {}, RouteTo::Process)}};
        const MiniPdf pdf = spots_page("0 0 0.5 0 k 0 0 1 1 re f /B cs 0.6 scn" + all);
        const Tones found = tones(pdf, setup);
        QCOMPARE(found.at("Cyan"), 153);
        QCOMPARE(found.at("Yellow"), 0);
        setup.routes = {by_colour(pdf, 1, {}, RouteTo::Process)};
        QCOMPARE(tones(pdf, setup).at("Cyan"), 153);
        QCOMPARE(tones(pdf, setup).at("Yellow"), 0); // it knocks out like any process colour
    }

    void theFirstRouteThatFitsDecides()
    {
        const MiniPdf pdf = spots_page("/B cs 0.6 scn" + all);
        const Route colour = by_colour(pdf, 0, {solid("One")});
        const Route object = by_object(0, {solid("Two")});
        const Route ink = by_ink("Beta", {solid("Three")});
        PlateSetup setup{{"One", "Two", "Three"}, {ink, object, colour}};
        QCOMPARE(tones(pdf, setup), (Tones{{"One", 0}, {"Two", 255}, {"Three", 0}, {"area", 255}}));
        setup.routes = {ink, colour, object};
        QCOMPARE(tones(pdf, setup), (Tones{{"One", 255}, {"Two", 0}, {"Three", 0}, {"area", 255}}));
        // By hand or by add_route(): the more particular comes first.
        std::vector<Route> routes;
        add_route(routes, ink);
        add_route(routes, colour);
        add_route(routes, object);
        QCOMPARE(routes.size(), std::size_t(3));
        QVERIFY(routes[0] == object && routes[1] == colour && routes[2] == ink);
        Route again = colour;
        again.targets = {solid("Three")};
        add_route(routes, again); // the same colour: it takes the other's place
        QCOMPARE(routes.size(), std::size_t(3));
        QVERIFY(routes[1] == again);
    }

    void layersAreRoutedByName()
    {
        MiniPdf pdf = spots_page("/OC /L1 BDC /B cs 0.6 scn" + left + "EMC /B cs 0.6 scn 36 0 36 72 re f ",
                                 "/Properties << /L1 11 0 R >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Notes) >>");
        pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /Order [11 0 R] >> >>";
        Route route;
        route.by = RouteBy::Layer;
        route.name = "Notes";
        route.to = RouteTo::Nothing;
        PlateSetup setup{{"Beta"}, {route}};
        QCOMPARE(tones(pdf, setup, 10).at("Beta"), 0);
        QCOMPARE(tones(pdf, setup, 50).at("Beta"), 153);
    }

    void objectsAreCountedAsInTheScene()
    {
        // Fills, strokes, text, coloured and plain glyphs, pictures, stencils, shadings, patterns, masks and
        // forms: routing object k changes nothing outside its bounds, and something inside.
        MiniPdf pdf = spots_page(
            "/B cs 1 scn 2 2 8 8 re f /B CS 1 SCN 1 w 14 2 8 8 re S BT /F1 10 Tf 26 2 Td (ab) Tj ET "
            "q 10 0 0 10 50 2 cm BI /W 2 /H 2 /CS /G /BPC 8 ID " +
                std::string("\x10\x20\x30\x40", 4) +
                " EI Q q /Soft gs 0 0.6 0 0 k 2 20 10 10 re f Q q 16 20 10 10 re W n /Sh sh Q "
                "/Pattern cs /P scn 30 20 12 12 re f BT 1 Tr /F2 12 Tf /B CS 1 SCN 46 22 Td (x) Tj ET "
                "q 1 0 0 1 0 40 cm /Form Do Q 0 1 0 0 k 40 40 10 10 re f ",
            "/Font << /F1 11 0 R /F2 << /Type /Font /Subtype /Type1 /BaseFont /Times-Bold >> >> "
            "/Shading << /Sh << /ShadingType 2 /ColorSpace /DeviceCMYK /Coords [16 0 26 0] /Extend [true "
            "true] "
            "/Function << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0.2 0 0 0] /C1 [1 0 0 0] >> >> >> "
            "/Pattern << /P 14 0 R >> /XObject << /Form 15 0 R >>");
        pdf.resources.replace(pdf.resources.find("/Diff <<"), 0,
                              "/Soft << /SMask << /S /Alpha /G 16 0 R >> >> ");
        const auto stream = [](const std::string &dict, const std::string &body) {
            return "<< " + dict + " /Length " + std::to_string(body.size()) + " >>\nstream\n" + body +
                   "\nendstream";
        };
        pdf.objects.push_back(
            "<< /Type /Font /Subtype /Type3 /FontBBox [0 0 1000 1000] /FontMatrix [0.001 0 0 0.001 0 0] "
            "/FirstChar 97 /LastChar 98 /Widths [1000 1000] /Encoding << /Differences [97 /a /b] >> "
            "/CharProcs << /a 12 0 R /b 13 0 R >> /Resources << >> >>");
        pdf.objects.push_back(
            stream("", "1000 0 d0 1 0 0 0 k 100 100 600 600 re f 0 0 1 0 k 300 300 200 200 re f"));
        pdf.objects.push_back(stream("", "1000 0 0 0 1000 1000 d1 100 100 600 600 re f"));
        pdf.objects.push_back(
            stream("/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 4 4] "
                   "/XStep 4 /YStep 4 /Resources << >>",
                   "0 0 0 1 k 1 1 2 2 re f"));
        pdf.objects.push_back(stream("/Type /XObject /Subtype /Form /BBox [0 0 40 20] /Resources << >>",
                                     "0 0.5 0.5 0 k 2 2 10 10 re f 0.5 0 0 0 k 16 2 10 10 re f"));
        pdf.objects.push_back(
            stream("/Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency "
                   ">> /Resources << >>",
                   "0 0 0 1 k 0 0 72 72 re f 0.5 g 3 3 4 4 re f"));
        const auto page = pdf.content();
        const Scene scene = take(record_scene(*page));
        QCOMPARE(scene.objects.size(), std::size_t(13));
        const std::vector<std::string> inks = {"Cyan", "Magenta", "Yellow", "Black", "Beta", "Mark"};
        const auto render = [&](std::vector<Route> routes) {
            const auto plate_line = take(PlateLine::make(page, PlateSetup{inks, std::move(routes)}));
            return take(plate_line->render({0, 0, 288, 288}, Dpi(288)));
        };
        const PlateTile before = render({});
        for (const SceneObject &object : scene.objects) {
            const PlateTile after = render({by_object(object.index, {solid("Mark")})});
            int marked = 0;
            for (int y = 0; y < 288; ++y) {
                for (int x = 0; x < 288; ++x) {
                    const double px = (x + 0.5) / 4.0;
                    const double py = (y + 0.5) / 4.0;
                    const Rect &b = object.bounds;
                    const bool near =
                        px > b.x - 1 && px < b.x + b.width + 1 && py > b.y - 1 && py < b.y + b.height + 1;
                    const bool tiled = object.index == 8; // a pattern's cell is listed once, and repeated
                    marked += after.plates[5].at(x, y) > 0 ? 1 : 0;
                    for (std::size_t i = 0; i < inks.size() && !near && !tiled; ++i) {
                        QVERIFY2(after.plates[i].at(x, y) == before.plates[i].at(x, y),
                                 qPrintable(
                                     QStringLiteral("object %1 at %2 %3").arg(object.index).arg(px).arg(py)));
                    }
                }
            }
            QVERIFY2(marked > 0, qPrintable(QStringLiteral("object %1").arg(object.index)));
        }
    }

    void aPictureBecomesATintOfOneInk_data()
    {
        QTest::addColumn<QString>("space");
        QTest::addColumn<QByteArray>("pixel");
        QTest::addColumn<int>("expected");
        const auto row = [](const char *name, const char *space, std::initializer_list<int> pixel,
                            int expected) {
            QByteArray bytes;
            for (const int v : pixel) {
                bytes.append(static_cast<char>(v));
            }
            QTest::newRow(name) << QString::fromLatin1(space) << bytes << expected;
        };
        row("grey keeps its numbers", "/DeviceGray", {77}, 178);
        row("a neutral of RGB keeps its numbers", "/DeviceRGB", {77, 77, 77}, 178);
        row("white holds no ink", "/DeviceRGB", {255, 255, 255}, 0);
        row("black is solid", "/DeviceRGB", {0, 0, 0}, 255);
        // Luminance of sRGB green, 0.7152, encoded: 1.055 × 0.7152^(1/2.4) − 0.055 = 0.8626 (IEC 61966-2-1).
        row("green by its luminance", "/DeviceRGB", {0, 255, 0}, 255 - 220);
        // ISO 32000-1, 10.3.2: grey = 1 − min(1, 0.3 c + 0.59 m + 0.11 y + k).
        row("CMYK by the standard's formula", "/DeviceCMYK", {100, 50, 200, 20}, 30 + 30 + 22 + 20);
        row("a spot by its tint", "/A", {90}, 90);
    }
    void aPictureBecomesATintOfOneInk()
    {
        QFETCH(QString, space);
        QFETCH(QByteArray, pixel);
        QFETCH(int, expected);
        std::string bytes;
        for (int i = 0; i < 4; ++i) {
            bytes += pixel.toStdString();
        }
        const std::string named =
            space == QStringLiteral("/A")
                ? "[/Separation /Alpha /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 "
                  "[0 0 0 0] /C1 [0 1 0 0] >>]"
                : space.toStdString();
        const MiniPdf pdf = picture_page(named, 2, 2, bytes);
        PlateSetup setup{{"Rust"}, {by_object(0, {own("Rust")})}};
        const int found = tones(pdf, setup).at("Rust");
        QVERIFY2(std::abs(found - expected) <= 1, qPrintable(QString::number(found)));
    }

    void aPictureBecomesTwoInksByTheirCurves()
    {
        const MiniPdf pdf = picture_page("/DeviceGray", 2, 2, std::string("\x40\x40\x40\x40", 4));
        RouteTarget light = own("Rust", 0.5);
        RouteTarget dark = own("Black");
        dark.curve = take(ToneCurve::through({{0, 0}, {0.5, 0}, {1, 1}}));
        PlateSetup setup{{"Black", "Rust"}, {by_object(0, {light, dark})}};
        const Tones found = tones(pdf, setup);
        const double tone = 191.0 / 255.0;
        QCOMPARE(found.at("Rust"), static_cast<int>(std::lround(tone * 0.5 * 255)));
        QCOMPARE(found.at("Black"), static_cast<int>(std::lround(dark.curve.at(tone) * 255)));
    }

    void aPictureKeptFromAnEarlierRunIsThatOfItsRoutes()
    {
        // One page, separated again and again: every time as a page read anew.
        std::string bytes;
        for (int i = 0; i < 8 * 8 * 4; ++i) {
            bytes += static_cast<char>(i * 41);
        }
        const MiniPdf pdf = picture_page("/DeviceCMYK", 8, 8, bytes);
        const auto content = pdf.content();
        Route dark = by_object(0, {solid("Alpha", 0.5)});
        dark.objects.front().kind = ObjectKind::Image;
        Route darker = dark;
        darker.targets = {solid("Alpha", 1), solid("Black", 0.3)};
        Route process = dark;
        process.to = RouteTo::Process;
        process.targets.clear();
        Route blacker = process;
        blacker.black.amount = BlackAmount::Most;
        const Route ink = by_ink("Cyan", {own("Alpha")});
        const std::vector<std::string> inks = {"Cyan", "Magenta", "Yellow", "Black", "Alpha"};
        const std::vector<PlateSetup> setups = {{inks, {}},
                                                {inks, {dark}},
                                                {inks, {}},
                                                {inks, {darker}},
                                                {inks, {ink}},
                                                {inks, {process}},
                                                {inks, {blacker}},
                                                {{"Cyan", "Black"}, {}},
                                                {inks, {dark}},
                                                {{"Alpha", "Black"}, {darker}},
                                                {inks, {}, 1, Overprint::Ignored}};
        for (std::size_t i = 0; i < setups.size(); ++i) {
            const auto again = take(PlateLine::make(content, setups[i]));
            const auto fresh = take(PlateLine::make(pdf.content(), setups[i]));
            const PlateTile a = take(again->render({0, 0, 72, 72}, Dpi(72)));
            const PlateTile b = take(fresh->render({0, 0, 72, 72}, Dpi(72)));
            QVERIFY2(a.plates == b.plates, qPrintable(QString::number(i)));
            QVERIFY(a.area == b.area);
        }
    }

    void picturesFollowInkRoutes()
    {
        const std::string four("\x20\x40\x60\x80\x20\x40\x60\x80\x20\x40\x60\x80\x20\x40\x60\x80", 16);
        const MiniPdf pdf = picture_page("/DeviceCMYK", 2, 2, four);
        PlateSetup setup{{"Blue", "Magenta", "Ink"},
                         {by_ink("Cyan", {own("Blue")}), by_ink("Black", {own("Ink", 0.5)})}};
        QCOMPARE(tones(pdf, setup), (Tones{{"Blue", 32}, {"Magenta", 64}, {"Ink", 64}, {"area", 255}}));
        PlateSetup dropped{{"Cyan", "Magenta"}, {by_object(0, {}, RouteTo::Nothing)}};
        QCOMPARE(tones(pdf, dropped).at("area"), 0);
        PlateSetup plain{{"Cyan", "Magenta", "Yellow", "Black"}};
        QCOMPARE(tones(pdf, plain),
                 (Tones{{"Cyan", 32}, {"Magenta", 64}, {"Yellow", 96}, {"Black", 128}, {"area", 255}}));
    }

    void aPhotoIsSeparatedIntoExistingPlates()
    {
        // A grey ramp beside a rust ramp, for a white and two inks on a black shirt: what is printed looks
        // like the picture, judged by the layers themselves.
        std::string bytes;
        for (int y = 0; y < 16; ++y) {
            for (int x = 0; x < 64; ++x) {
                const int v = x * 4;
                for (const int c : {v, y < 8 ? v : v / 2, y < 8 ? v : v / 4}) {
                    bytes += static_cast<char>(c);
                }
            }
        }
        const MiniPdf pdf = picture_page("/DeviceRGB", 64, 16, bytes);
        PlateSetup setup{{"White", "Rust", "Blue"}, {by_object(0, {own("White"), own("Rust"), own("Blue")})}};
        setup.routes[0].separated = true;
        setup.plates = {{"White", InkUse::White, {96, 0, 0}, {}, usual_traits(InkUse::White)},
                        {"Rust", InkUse::Spot, {45, 50, 42}, {}, {}},
                        {"Blue", InkUse::Spot, {38, -5, -40}, {}, {}}};
        setup.stock.colour = {14, 0, -2};
        const auto plate_line = take(PlateLine::make(pdf.content(), setup));
        const PlateTile tile = take(plate_line->render({0, 0, 64, 64}, Dpi(64)));
        const InkSolver print = solver_of(setup.plates, setup.stock, setup.inks, *ProcessProfile::fogra39());
        const auto seen = [&](int x, int y) {
            std::vector<double> tones;
            for (std::size_t i = 0; i < 3; ++i) {
                tones.push_back(tile.plates[i].at(x, y) / 255.0);
            }
            return print.print().colour(tones);
        };
        double before = 0;
        for (int x = 1; x < 64; x += 4) {
            const Lab grey = seen(x, 16);
            QVERIFY2(std::hypot(grey.a, grey.b) < 6, qPrintable(QString::number(std::hypot(grey.a, grey.b))));
            QVERIFY(grey.l > before - 0.5);
            before = grey.l;
        }
        QVERIFY2(tile.plates[0].at(2, 16) < 12, // the shirt is the black
                 qPrintable(QString::number(tile.plates[0].at(2, 16))));
        QVERIFY(tile.plates[0].at(62, 16) > 220);
        const Lab rust = seen(60, 48);
        QVERIFY2(rust.a > 20 && rust.b > 15, qPrintable(QStringLiteral("%1 %2").arg(rust.a).arg(rust.b)));
        QVERIFY(tile.plates[1].at(60, 48) > 100 && tile.plates[2].at(60, 48) < 40);
        // Other looks of the inks give other tones; without their looks nothing is separated.
        setup.plates[0].traits.opacity = 0.4;
        const auto thinner = take(PlateLine::make(pdf.content(), setup));
        QVERIFY(!(take(thinner->render({0, 0, 64, 64}, Dpi(64))).plates[0] == tile.plates[0]));
    }

    void aPictureInSquareDotsIsOneInkADot()
    {
        // 64 × 16 pixels on a page of 72 × 72 pt, turned into dots of 1 mm: 25 × 25 of them, by hand from
        // 25.4 mm. Crisp at 254 dpi a dot is 10.16 pixels.
        std::string bytes;
        for (int y = 0; y < 16; ++y) {
            for (int x = 0; x < 64; ++x) {
                for (const int c : {x * 4, x * 2, y * 8}) {
                    bytes += static_cast<char>(c);
                }
            }
        }
        const MiniPdf pdf = picture_page("/DeviceRGB", 64, 16, bytes);
        PlateSetup setup{{"White", "Rust", "Blue"}, {by_object(0, {own("White"), own("Rust"), own("Blue")})}};
        setup.routes[0].separated = true;
        setup.routes[0].dots = {1, true};
        setup.plates = {{"White", InkUse::White, {96, 0, 0}, {}, usual_traits(InkUse::White)},
                        {"Rust", InkUse::Spot, {45, 50, 42}, {}, {}},
                        {"Blue", InkUse::Spot, {38, -5, -40}, {}, {}}};
        setup.stock.colour = {14, 0, -2};
        const auto line = take(PlateLine::make(pdf.content(), setup));
        const PixelRect all = line->extent(Dpi(254));
        const PlateTile tile = take(line->render(all, Dpi(254), Edges::Crisp));
        std::set<int> columns;
        int rust = 0, blue = 0;
        for (int y = 0; y < all.height; ++y) {
            for (int x = 0; x < all.width; ++x) {
                const int white = tile.plates[0].at(x, y);
                const int one = tile.plates[1].at(x, y), other = tile.plates[2].at(x, y);
                QVERIFY((white == 0 || white == 255) && (one == 0 || one == 255));
                QVERIFY(one == 0 || other == 0);                   // one ink a dot
                QVERIFY(white == 255 || (one == 0 && other == 0)); // colours stand on white
                rust += one / 255;
                blue += other / 255;
                if (x > 0 && tile.plates[1].at(x - 1, y) != one) {
                    columns.insert(x);
                }
            }
        }
        QVERIFY(rust > 500 && blue > 0);
        for (const int x : columns) { // edges of dots and nowhere else
            const double dots = x * 25.0 / all.width;
            QVERIFY2(std::fabs(dots - std::round(dots)) * all.width / 25.0 <= 1,
                     qPrintable(QString::number(x)));
        }
        // Another size is another picture; tones are back when none is asked for.
        setup.routes[0].dots.size_mm = 2;
        const auto larger = take(PlateLine::make(pdf.content(), setup));
        QVERIFY(!(take(larger->render(all, Dpi(254), Edges::Crisp)).plates == tile.plates));
        setup.routes[0].dots = {};
        const PlateTile toned =
            take(take(PlateLine::make(pdf.content(), setup))->render(all, Dpi(254), Edges::Crisp));
        QVERIFY(std::any_of(toned.plates[0].pixels.begin(), toned.plates[0].pixels.end(),
                            [](std::uint8_t v) { return v > 20 && v < 235; }));
    }

    void controlsReachThePlatesAndAreSaid()
    {
        std::string bytes;
        for (int i = 0; i < 256; ++i) {
            for (const int c : {i, i / 2, 255 - i}) {
                bytes += static_cast<char>(c);
            }
        }
        const MiniPdf pdf = picture_page("/DeviceRGB", 16, 16, bytes);
        PlateSetup setup{{"White", "Rust", "Blue"}, {by_object(0, {own("White"), own("Rust"), own("Blue")})}};
        Route &route = setup.routes[0];
        route.separated = true;
        setup.plates = {{"White", InkUse::White, {96, 0, 0}, {}, usual_traits(InkUse::White)},
                        {"Rust", InkUse::Spot, {45, 50, 42}, {}, {}},
                        {"Blue", InkUse::Spot, {38, -5, -40}, {}, {}}};
        setup.stock.colour = {14, 0, -2};
        const auto rust_of = [&] {
            const auto line = take(PlateLine::make(pdf.content(), setup));
            const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
            return std::pair(std::accumulate(tile.plates[1].pixels.begin(), tile.plates[1].pixels.end(), 0),
                             line->separations());
        };
        const auto [plain, notes] = rust_of();
        QVERIFY(plain > 0);
        QCOMPARE(notes.size(), std::size_t(1));
        QCOMPARE(notes[0].inks[1].step, notes[0].inks[1].step_before);
        route.targets[1].control.strength = 0.5;
        const auto [half, less] = rust_of();
        QVERIFY(std::abs(half * 2 - plain) < plain / 20);
        QVERIFY(less[0].inks[1].step < notes[0].inks[1].step_before * 0.6);
        route.targets[1].control = {1, {220, 40}, {}};
        QVERIFY(rust_of().first < plain / 4);
        const std::string said = describe_end(route);
        QVERIFY2(said.find("Rust in hues 200° to 240°") != std::string::npos, said.c_str());
    }

    void aPictureInProcessInksTakesTheBlackChosen()
    {
        const MiniPdf pdf = picture_page("/DeviceRGB", 1, 1, std::string(3, char(0x60)));
        PlateSetup setup{{"Cyan", "Magenta", "Yellow", "Black"}, {by_object(0, {}, RouteTo::Process)}};
        const Tones usual = tones(pdf, setup);
        setup.routes[0].black.amount = BlackAmount::Least;
        const Tones least = tones(pdf, setup);
        setup.routes[0].black.amount = BlackAmount::Most;
        const Tones most = tones(pdf, setup);
        QVERIFY(least.at("Black") < usual.at("Black") && usual.at("Black") < most.at("Black"));
        QVERIFY(most.at("Cyan") < least.at("Cyan"));
        const ProcessProfile &condition = *ProcessProfile::fogra39();
        const auto printed = [&](const Tones &at) {
            Cmyk inks{};
            for (std::size_t i = 0; i < 4; ++i) {
                inks[i] = static_cast<float>(at.at(process_names[i])) / 255.0f;
            }
            return condition.to_lab(inks);
        };
        for (const Tones *other : {&least, &most}) {
            QVERIFY(ciede2000(printed(*other), printed(usual)) < 1.0);
        }
        setup.routes[0].black = {BlackAmount::Least, 2};
        const Tones limited = tones(pdf, setup);
        QVERIFY(limited.at("Cyan") + limited.at("Magenta") + limited.at("Yellow") + limited.at("Black") <=
                512);
    }

    void flatColoursOfAPictureGoToTheirPlates()
    {
        // Paper, a green square with one column half way at its edge, rust beside it.
        std::string bytes;
        const auto put = [&](int r, int g, int b) {
            for (const int v : {r, g, b}) {
                bytes += static_cast<char>(v);
            }
        };
        for (int y = 0; y < 24; ++y) {
            for (int x = 0; x < 24; ++x) {
                x < 8    ? put(250, 250, 240)
                : x == 8 ? put(145, 185, 150)
                : x < 16 ? put(40, 120, 60)
                         : put(180, 70, 30);
            }
        }
        const MiniPdf pdf = picture_page("/DeviceRGB", 24, 24, bytes);
        const RgbPicture picture = take(picture_pixels(*pdf.content(), 0));
        QCOMPARE(picture.width, 24);
        QVERIFY((picture.at(12, 5) == EncodedRgb{40, 120, 60}));
        QVERIFY(!picture_pixels(*pdf.content(), 1));
        PaletteSplit split;
        split.colours = {{{250, 250, 240}, "", 1}, {{40, 120, 60}, "Green", 1}, {{180, 70, 30}, "Rust", 0.5}};
        PlateSetup setup{{"Green", "Rust"}, {with_split(by_object(0, {}), split)}};
        const auto plate_line = take(PlateLine::make(pdf.content(), setup));
        const PlateTile tile = take(plate_line->render({0, 0, 24, 24}, Dpi(24)));
        QCOMPARE(tile.plates[0].at(4, 12), std::uint8_t(0));
        QVERIFY(std::abs(tile.plates[0].at(8, 12) - 128) <= 1);
        QCOMPARE(tile.plates[0].at(12, 12), std::uint8_t(255));
        QCOMPARE(tile.plates[0].at(20, 12), std::uint8_t(0));
        QCOMPARE(tile.plates[1].at(12, 12), std::uint8_t(0));
        QVERIFY(std::abs(tile.plates[1].at(20, 12) - 128) <= 1);
        // The same again comes from the page's memory; another tolerance, palette or plate is worked out.
        const auto page = pdf.content();
        const auto tones_of = [&](const PaletteSplit &how) {
            const auto made = take(
                PlateLine::make(page, PlateSetup{{"Green", "Rust"}, {with_split(by_object(0, {}), how)}}));
            return take(made->render({0, 0, 24, 24}, Dpi(24))).plates;
        };
        const auto first = tones_of(split);
        QVERIFY(tones_of(split) == first);
        PaletteSplit other = split;
        other.colours[1].ink = "Rust"; // the same planes, on another plate
        other.colours[1].tint = 1;
        QCOMPARE(tones_of(other)[1].at(12, 12), std::uint8_t(255));
        QCOMPARE(tones_of(other)[0].at(12, 12), std::uint8_t(0));
        other.colours.pop_back(); // without rust in the palette its pixels are green
        QVERIFY(!(tones_of(other) == first));
        QVERIFY(tones_of(split) == first);
        // As outlines: the edge stands at 8.5 pixels and is crisp at ten times the resolution.
        split.outlines = true;
        PlateSetup traced{{"Green", "Rust", "Alpha"}, {with_split(by_object(1, {}), split)}};
        MiniPdf over = pdf; // an ink below, which the picture knocks out
        over.contents = "/A cs 1 scn 0 0 72 72 re f " + pdf.contents;
        const auto fine = take(PlateLine::make(over.content(), traced));
        const PlateTile sharp = take(fine->render({0, 0, 240, 240}, Dpi(240)));
        for (int y = 40; y < 200; ++y) {
            QCOMPARE(sharp.plates[0].at(82, y), std::uint8_t(0));
            QCOMPARE(sharp.plates[0].at(88, y), std::uint8_t(255));
            QCOMPARE(sharp.plates[0].at(156, y), std::uint8_t(255));
            QCOMPARE(sharp.plates[0].at(164, y), std::uint8_t(0));
            QCOMPARE(sharp.plates[1].at(200, y), std::uint8_t(128));
            QCOMPARE(sharp.plates[2].at(20, y), std::uint8_t(0));
        }
    }

    void anyPartOfAPictureIsPainted()
    {
        const OpenedJob badge = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/moth-badge.png"));
        const auto page = take(badge.artwork->interpret(1, PageBox::Media));
        PaletteSplit split;
        split.colours = {{{255, 255, 255}, "", 1}, {{130, 190, 130}, "Green", 1}, {{200, 90, 60}, "Rust", 1}};
        for (const PlateSetup &setup : {PlateSetup{{"Green", "Rust"}, {with_split(by_object(0, {}), split)}},
                                        PlateSetup{{"Cyan", "Magenta", "Yellow", "Black"}, {}}}) {
            const auto line = take(PlateLine::make(page, setup));
            for (const double dpi : {300.0, 200.0, 471.3, 96.0}) {
                const PixelRect all = line->extent(Dpi(dpi));
                for (const PixelRect &part :
                     {PixelRect{1, 1, all.width - 2, all.height - 2}, PixelRect{0, 0, 7, 9},
                      PixelRect{all.width - 9, all.height - 3, 40, 40}}) {
                    for (const Edges edges : {Edges::Smooth, Edges::Quick, Edges::Crisp}) {
                        const PlateTile tile = take(line->render(part, Dpi(dpi), edges));
                        const PlateTile whole = take(line->whole_page(Dpi(dpi), edges));
                        for (std::size_t plate = 0; plate < setup.inks.size(); ++plate) {
                            for (int y = 0; y < part.height; y += 3) {
                                for (int x = 0; x < part.width; x += 3) {
                                    const bool inside = part.x + x < all.width && part.y + y < all.height;
                                    const int there =
                                        inside ? int(whole.plates[plate].at(part.x + x, part.y + y)) : 0;
                                    const int here = tile.plates[plate].at(x, y);
                                    QVERIFY2(
                                        std::abs(there - here) <= 2,
                                        qPrintable(QStringLiteral("%1 dpi, plate %2 at %3, %4: %5, not %6")
                                                       .arg(dpi)
                                                       .arg(plate)
                                                       .arg(part.x + x)
                                                       .arg(part.y + y)
                                                       .arg(here)
                                                       .arg(there)));
                                }
                            }
                        }
                    }
                }
            }
        }
    }

    void aPlateOfAnotherPassIsKnockedOutToo()
    {
        // More inks than fit into one pass: the last is in another one than the first.
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << ";
        for (int i = 0; i < 40; ++i) {
            pdf.resources += separation("S" + std::to_string(i), "Ink" + std::to_string(i));
        }
        pdf.resources += ">>";
        pdf.contents = "/S0 cs 1 scn" + all + "/S39 cs 1 scn" + left;
        PlateSetup setup;
        for (int i = 0; i < 40; ++i) {
            setup.inks.push_back("Ink" + std::to_string(i));
        }
        QCOMPARE(tones(pdf, setup, 10).at("Ink0"), 0);
        QCOMPARE(tones(pdf, setup, 50).at("Ink0"), 255);
        QCOMPARE(tones(pdf, setup, 10).at("Ink39"), 255);
    }

    void whatReachesNoPlateIsCollected()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn" + all + "/B cs 0.3 scn" + left);
        PlateSetup setup{{"Alpha"}};
        setup.lost = Lost::Inks;
        QCOMPARE(tones(pdf, setup, 10).at(lost_ink), 255); // however light it is
        QCOMPARE(tones(pdf, setup, 10).at("Alpha"), 255);  // and it changes nothing else
        QCOMPARE(tones(pdf, setup, 50).at(lost_ink), 0);
        setup.routes = {by_ink("Beta", {}, RouteTo::Nothing)}; // meant so
        QCOMPARE(tones(pdf, setup, 10).at(lost_ink), 0);
        // Covered by something that prints, it is not missed.
        PlateSetup covered{{"Beta"}};
        covered.lost = Lost::Inks;
        QCOMPARE(tones(pdf, covered, 10).at(lost_ink), 0);
        QCOMPARE(tones(pdf, covered, 50).at(lost_ink), 255);
        // Paper-white is lost only where white is asked about.
        const MiniPdf white = spots_page("/A cs 1 scn" + all + "0 0 0 0 k" + left);
        PlateSetup stock{{"Alpha"}};
        stock.lost = Lost::Inks;
        QCOMPARE(tones(white, stock, 10).at(lost_ink), 0);
        stock.lost = Lost::InksAndWhite;
        QCOMPARE(tones(white, stock, 10).at(lost_ink), 255);
        QCOMPARE(tones(white, stock, 50).at(lost_ink), 0);
        // In pictures pixel by pixel.
        const MiniPdf photo =
            picture_page("/DeviceCMYK", 2, 1, std::string("\x00\x00\x00\x50\x00\x30\x00\x50", 8));
        PlateSetup magenta{{"Magenta"}};
        magenta.lost = Lost::Inks;
        QCOMPARE(tones(photo, magenta, 5).at(lost_ink), 255);
        QCOMPARE(tones(photo, magenta, 66).at(lost_ink), 0);
    }

    void theTableSaysWhatThePlatesShow()
    {
        // reach_of() and the routing device must agree, for all kinds of routes and colours.
        const MiniPdf pdf =
            spots_page("/A cs 0.4 scn 0 0 9 9 re f /B cs 1 scn 9 0 9 9 re f /N cs 0.2 0.6 scn 18 0 9 9 "
                       "re f 0.8 0 1 0 k 27 0 9 9 re f 1 0 0 rg 36 0 9 9 re f 0.5 g 45 0 9 9 re f "
                       "/Pal cs 1 scn 54 0 9 9 re f /All cs 0.3 scn 63 0 9 9 re f ");
        const Scene scene = pdf.scene();
        QCOMPARE(scene.colours.size(), std::size_t(8));
        std::vector<Route> routes = {by_colour(pdf, 3, {solid("One"), own("Two", 0.5)}),
                                     by_colour(pdf, 4, {}, RouteTo::Process),
                                     by_colour(pdf, 6, {}, RouteTo::BareStock), by_ink("Beta", {own("Two")}),
                                     by_ink("Black", {solid("One", 0.3)})};
        const std::vector<std::string> inks = {"Cyan", "Magenta", "Yellow", "Black", "Alpha", "One", "Two"};
        PlateSetup setup{inks, routes};
        for (const SceneObject &object : scene.objects) {
            const auto x = static_cast<int>(object.bounds.x) + 4;
            const Tones found = tones(pdf, setup, x, 68);
            const Reach reach = reach_of({1, object.index, object.layer,
                                          &scene.colours[static_cast<std::size_t>(object.colour_number)]},
                                         routes, inks);
            for (const std::string &ink : inks) {
                double amount = 0;
                for (const InkAmount &one : reach.plates) {
                    amount = one.ink == ink ? static_cast<double>(one.amount) : amount;
                }
                QVERIFY2(std::abs(found.at(ink) - static_cast<int>(std::lround(amount * 255))) <= 1,
                         qPrintable(QStringLiteral("object %1, %2: %3")
                                        .arg(object.index)
                                        .arg(QString::fromStdString(ink))
                                        .arg(found.at(ink))));
            }
        }
    }

    void anyRoutesDoWhatTheTableSays()
    {
        // Random colours under random routes: what the plates hold is what the table says, whatever the
        // order.
        std::mt19937 random(20261125);
        const auto share = [&] { return static_cast<double>(random() % 21) / 20.0; };
        const std::vector<std::string> inks = {"Cyan",  "Magenta", "Yellow", "Black",
                                               "Alpha", "Beta",    "One",    "Two"};
        for (int round = 0; round < 40; ++round) {
            std::string contents;
            constexpr int patches = 8;
            for (int i = 0; i < patches; ++i) {
                const auto number = [&] { return format_number(share(), 2) + " "; };
                switch (random() % 5) {
                case 0:
                    contents += "/A cs " + number() + "scn";
                    break;
                case 1:
                    contents += "/N cs " + number() + number() + "scn";
                    break;
                case 2:
                    contents += number() + "g";
                    break;
                case 3:
                    contents += "/B cs " + number() + "scn";
                    break;
                default:
                    contents += number() + number() + number() + number() + "k";
                }
                contents += " " + std::to_string(i * 9) + " 0 9 9 re f ";
            }
            const MiniPdf pdf = spots_page(contents);
            const Scene scene = pdf.scene();
            std::vector<Route> routes;
            for (int i = 0; i < 4; ++i) {
                std::vector<RouteTarget> targets;
                for (std::size_t k = 0; k <= random() % 2; ++k) {
                    targets.push_back({inks[4 + random() % 4], random() % 2 == 0, share(), {}});
                }
                const auto end = static_cast<RouteTo>(random() % 4);
                switch (random() % 4) {
                case 0:
                    routes.push_back(by_ink(inks[random() % 6], targets, end));
                    break;
                case 1:
                    routes.push_back(by_object(static_cast<int>(random() % patches), targets, end));
                    break;
                case 2:
                    routes.push_back(by_colour(pdf, random() % scene.colours.size(), targets, end));
                    break;
                default:
                    routes.push_back(by_colour(pdf, random() % scene.colours.size(), targets, end));
                    routes.back().by = RouteBy::Similar;
                    routes.back().tolerance = share() * 30;
                }
            }
            const auto plate_line = take(PlateLine::make(pdf.content(), PlateSetup{inks, routes}));
            const PlateTile tile = take(plate_line->render({0, 0, 72, 72}, Dpi(72)));
            for (const SceneObject &object : scene.objects) {
                const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
                const Reach reach = reach_of({1, object.index, object.layer, &colour}, routes, inks);
                // A spot of a mixture in process inks: the table gives the whole mixture's build.
                const bool mixed =
                    colour.inks.size() > 1 && reach.route < 0 &&
                    std::any_of(colour.inks.begin(), colour.inks.end(), [&](const InkAmount &ink) {
                        const int number = ink_route(routes, ink.ink, 1);
                        return number >= 0 && routes[static_cast<std::size_t>(number)].to == RouteTo::Process;
                    });
                for (std::size_t i = 0; i < inks.size() && !mixed; ++i) {
                    double amount = 0;
                    for (const InkAmount &one : reach.plates) {
                        amount = one.ink == inks[i] ? static_cast<double>(one.amount) : amount;
                    }
                    const int found = tile.plates[i].at(static_cast<int>(object.bounds.x) + 4, 68);
                    QVERIFY2(std::abs(found - static_cast<int>(std::lround(amount * 255))) <= 1,
                             qPrintable(QStringLiteral("round %1, object %2, %3: %4, the table says %5")
                                            .arg(round)
                                            .arg(object.index)
                                            .arg(QString::fromStdString(inks[i]))
                                            .arg(found)
                                            .arg(amount * 255)));
                }
            }
        }
    }
};

BICHROM_TEST(TestRoutes, QCoreApplication)
#include "tst_routes.moc"
