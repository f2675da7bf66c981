// Plates computed by recipes: values worked out by hand, and independence of how a page is cut.
#include "core/job/recipe.h"
#include "core/line/plate_line.h"
#include "core/output/output_set.h"

#include "support/mini_pdf.h"
#include "support/recipe_by_pixels.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <array>
#include <cmath>
#include <cstring>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

RecipeStep step(RecipeDo does, double amount = 1, double mm = 0)
{
    RecipeStep made;
    made.does = does;
    made.amount = amount;
    made.distance = mm;
    return made;
}

RecipeStep from(RecipeDo does, RecipeFrom kind, std::vector<std::string> inks = {}, double amount = 1)
{
    RecipeStep made = step(does, amount);
    made.source.from = kind;
    made.source.inks = std::move(inks);
    return made;
}

std::shared_ptr<const PlateLine> plate_line(const MiniPdf &pdf, Recipe recipe,
                                            std::vector<std::string> inks = {"Black", "Alpha", "White"})
{
    PlateSetup setup;
    setup.inks = inks;
    for (const std::string &ink : inks) {
        setup.plates.push_back(propose_plate({}, ink, ink == "White" ? InkUse::White : InkUse::Spot, {}));
    }
    setup.plates.back().recipe = std::move(recipe);
    return take(PlateLine::make(pdf.content(), std::move(setup)));
}

/// The last plate's tone at a point, 72 dpi.
int tone(const MiniPdf &pdf, const Recipe &recipe, int x, int y)
{
    const PlateTile tile = take(plate_line(pdf, recipe)->render({0, 0, 72, 72}, Dpi(72)));
    return tile.plates.back().at(x, y);
}

/// Left half Alpha at 60 %, a black bar at 40 % below across all, bare at the right.
MiniPdf page()
{
    return spots_page("/A cs 0.6 scn 0 0 36 72 re f 0 0 0 0.4 k 0 0 54 18 re f");
}

/// The plates of the whole page, put together from bands.
std::vector<Plane> in_bands(const PlateLine &line, Dpi dpi, Edges edges, int rows, int threads)
{
    const PixelRect all = line.extent(dpi);
    std::vector<Plane> planes(line.inks().size(), Plane(all.width, all.height));
    PlateSink sink;
    sink.compute = [&](const Band &band, const PlateRuns &plates) {
        for (int y = 0; y < band.rows; ++y) {
            for (std::size_t i = 0; i < planes.size(); ++i) {
                plates.plates[i].write_row(y, planes[i].row(band.top + y).data());
            }
        }
        return Outcome<std::unique_ptr<BandResult>>(std::make_unique<BandResult>());
    };
    sink.take = [](const Band &, BandResult &) { return Done(); };
    const Done done = line.run({dpi, edges, 0, all.height, rows, threads}, sink);
    return done ? planes : std::vector<Plane>();
}

/// What \p recipe makes pixel by pixel of the whole of \p pdf's page, with as much around it as it looks at.
Plane by_pixels(const MiniPdf &pdf, const Recipe &recipe, Dpi dpi, Edges edges)
{
    const auto artwork = plate_line(pdf, {}); // as it comes
    const PixelRect all = artwork->extent(dpi);
    const int rim = static_cast<int>(std::ceil(reach_of(recipe) * dpi.value / millimetres_per_inch)) + 2;
    PixelsAround around;
    around.rect = {-rim, -rim, all.width + 2 * rim, all.height + 2 * rim};
    around.resolution = dpi;
    around.crisp = edges == Edges::Crisp;
    PlateTile tile = take(artwork->render(around.rect, dpi, edges));
    around.area = std::move(tile.area);
    around.plate = [&](const std::string &ink) {
        const std::vector<std::string> &inks = artwork->inks();
        const auto at = std::find(inks.begin(), inks.end(), ink);
        return at == inks.end() ? nullptr : &tile.plates[static_cast<std::size_t>(at - inks.begin())];
    };
    for (const PageBox box : {PageBox::Media, PageBox::Trim}) {
        around.boxes[static_cast<std::size_t>(box)] = artwork->box(box);
    }
    const Plane wide = recipe_by_pixels(recipe, around);
    Plane made(all.width, all.height);
    for (int y = 0; y < all.height; ++y) {
        std::copy_n(wide.row(y + rim).begin() + rim, all.width, made.row(y).begin());
    }
    return made;
}

} // namespace

Q_DECLARE_METATYPE(bichrom::Recipe)

class TestRecipes : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void stepsDoWhatTheySay_data()
    {
        QTest::addColumn<int>("number");
        QTest::addColumn<int>("alpha"); // expected in the Alpha half, in the black bar, on bare stock
        QTest::addColumn<int>("black");
        QTest::addColumn<int>("bare");
        QTest::newRow("the artwork area") << 0 << 255 << 255 << 0;
        QTest::newRow("a plate") << 1 << 153 << 0 << 0;
        QTest::newRow("half of a plate") << 2 << 77 << 0 << 0;
        QTest::newRow("thinned under black: 1 − k × black") << 3 << 255 << 173 << 0; // 255 × (1 − 0.8 × 0.4)
        QTest::newRow("area without black") << 4 << 255 << 153 << 0;
        QTest::newRow("inverse inside the area") << 5 << 102 << 255 << 0;
        QTest::newRow("levels") << 6 << 204 << 0 << 0; // (0.6 − 0.2) / 0.5
        QTest::newRow("a threshold below") << 7 << 255 << 0 << 0;
        QTest::newRow("a threshold above") << 8 << 0 << 0 << 0;
        QTest::newRow("a tint") << 9 << 64 << 64 << 0;
        QTest::newRow("the sum of plates") << 10 << 153 << 102 << 0;
        QTest::newRow("kept inside a plate") << 11 << 153 << 0 << 0;
        QTest::newRow("a page box") << 12 << 255 << 255 << 255;
        QTest::newRow("a tone curve") << 13 << 204 << 0 << 0;
    }
    void stepsDoWhatTheySay()
    {
        QFETCH(int, number);
        QFETCH(int, alpha);
        QFETCH(int, black);
        QFETCH(int, bare);
        const RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area);
        const RecipeStep plate = from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"});
        RecipeStep levels = step(RecipeDo::Levels);
        levels.low = 0.2;
        levels.high = 0.7;
        RecipeStep curve = step(RecipeDo::Curve);
        curve.curve = take(ToneCurve::through({{0, 0}, {0.6, 0.8}, {1, 1}}));
        const std::vector<Recipe> recipes = {
            {area},
            {plate},
            {from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"}, 0.5)},
            {area, from(RecipeDo::TakeAway, RecipeFrom::Plate, {"Black"}, 0.8)},
            {area, from(RecipeDo::TakeAway, RecipeFrom::Plate, {"Black"})},
            {plate, step(RecipeDo::Invert)},
            {plate, levels},
            {plate, step(RecipeDo::Threshold, 0.55)},
            {plate, step(RecipeDo::Threshold, 0.65)},
            {area, step(RecipeDo::Tint, 0.25)},
            {from(RecipeDo::Add, RecipeFrom::Sum, {"Alpha", "Black"})},
            {area, from(RecipeDo::Keep, RecipeFrom::Largest, {"Alpha"})},
            {from(RecipeDo::Add, RecipeFrom::Box)},
            {plate, curve},
        };
        const Recipe &recipe = recipes.at(static_cast<std::size_t>(number));
        const MiniPdf pdf = page();
        QVERIFY(std::abs(tone(pdf, recipe, 18, 20) - alpha) <= 1);
        QVERIFY(std::abs(tone(pdf, recipe, 45, 63) - black) <= 1); // black on bare stock
        QVERIFY(std::abs(tone(pdf, recipe, 65, 20) - bare) <= 1);
    }

    void distancesAreInMillimetresAtAnyResolution()
    {
        // A square of 40 points, choked by 2 mm = 5.67 points on each side.
        const MiniPdf pdf = spots_page("/A cs 1 scn 16 16 40 40 re f");
        const Recipe recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Choke, 1, 2)};
        for (const double dpi : {72.0, 144.0, 600.0}) {
            const auto made = plate_line(pdf, recipe);
            const PlateTile tile = take(made->render(made->extent(Dpi(dpi)), Dpi(dpi)));
            double sum = 0;
            for (const std::uint8_t value : tile.plates.back().pixels) {
                sum += value / 255.0;
            }
            const double side = std::sqrt(sum) / dpi * 72;
            QVERIFY2(std::fabs(side - (40 - 2 * 2 / 25.4 * 72)) < 0.15, qPrintable(QString::number(side)));
        }
    }

    void objectsLayersAndDrawnAreasAreSources()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 20 72 re f /OC /L BDC 0 0 0 1 k 20 0 20 72 re f EMC "
                                 "/A cs 1 scn 30 0 20 36 re f",
                                 "/Properties << /L 11 0 R >>");
        pdf.objects.push_back("<< /Type /OCG /Name (Shine) >>");
        pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /ON [11 0 R] >> >>";
        RecipeStep objects = from(RecipeDo::Add, RecipeFrom::Objects);
        objects.source.objects = {{1, 0, ObjectKind::Fill, {}}, {1, 2, ObjectKind::Fill, {}}};
        QCOMPARE(tone(pdf, {objects}, 10, 36), 255);
        QCOMPARE(tone(pdf, {objects}, 25, 36), 0);
        QCOMPARE(tone(pdf, {objects}, 45, 60), 255);
        RecipeStep layer = from(RecipeDo::Add, RecipeFrom::Layer);
        layer.source.layer = "Shine";
        QCOMPARE(tone(pdf, {layer}, 25, 36), 255);
        QCOMPARE(tone(pdf, {layer}, 35, 60), 0); // hidden by what lies over it
        RecipeStep drawn = from(RecipeDo::Add, RecipeFrom::Drawn);
        const double mm = 25.4 / 72;
        drawn.source.areas = {{50 * mm, 10 * mm, 10 * mm, 20 * mm}};
        QCOMPARE(tone(pdf, {drawn}, 55, 20), 255);
        QCOMPARE(tone(pdf, {drawn}, 55, 31), 0);
        QCOMPARE(tone(pdf, {layer, drawn}, 55, 20), 255);
    }

    void platesMayChooseTheSameObjects()
    {
        // Two fills; one recipe pours both, another one of them, a third takes small text only.
        const MiniPdf pdf =
            spots_page("/A cs 1 scn 0 0 20 72 re f 20 0 20 72 re f BT /F 6 Tf 45 30 Td (MM) Tj ET "
                       "BT /F 20 Tf 45 50 Td (M) Tj ET",
                       "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>");
        PlateSetup setup;
        setup.inks = {"Alpha", "Two", "One", "Small"};
        for (const std::string &ink : setup.inks) {
            setup.plates.push_back(propose_plate({}, ink, InkUse::Spot, {}));
        }
        RecipeStep two = from(RecipeDo::Add, RecipeFrom::Objects);
        two.source.objects = {{1, 0, ObjectKind::Fill, {}}, {1, 1, ObjectKind::Fill, {}}};
        RecipeStep one = from(RecipeDo::Add, RecipeFrom::Objects);
        one.source.objects = {{1, 1, ObjectKind::Fill, {}}};
        RecipeStep small = from(RecipeDo::Add, RecipeFrom::SmallText);
        small.source.size = 8;
        setup.plates[1].recipe = {two};
        setup.plates[2].recipe = {one};
        setup.plates[3].recipe = {small};
        const auto made = take(PlateLine::make(pdf.content(), setup));
        const PlateTile tile = take(made->render({0, 0, 72, 72}, Dpi(72)));
        QCOMPARE(int(tile.plates[1].at(10, 36)), 255);
        QCOMPARE(int(tile.plates[1].at(30, 36)), 255);
        QCOMPARE(int(tile.plates[2].at(10, 36)), 0);
        QCOMPARE(int(tile.plates[2].at(30, 36)), 255);
        const auto most = [&](int top, int bottom) {
            int found = 0;
            for (int y = top; y < bottom; ++y) {
                for (int x = 44; x < 72; ++x) {
                    found = std::max(found, int(tile.plates[3].at(x, y)));
                }
            }
            return found;
        };
        QVERIFY(most(36, 44) > 200); // letters of 6 pt
        QCOMPARE(most(2, 22), 0);    // one of 20 pt
    }

    void theBareStockIsNoArtworkArea()
    {
        // A white fill on a coloured field goes to the bare stock: no base under it, unless windows are
        // meant.
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f 0 0 0 0 k 20 20 30 30 re f");
        Route bare;
        bare.by = RouteBy::Colour;
        bare.colour = pdf.scene().objects[1].colour;
        bare.to = RouteTo::BareStock;
        for (const bool windows : {false, true}) {
            PlateSetup setup;
            setup.inks = {"Alpha", "White"};
            setup.routes = {bare};
            setup.plates = {propose_plate({}, "Alpha", InkUse::Spot, {}),
                            propose_plate({}, "White", InkUse::White, {96, 0, 0})};
            RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area);
            area.source.windows = windows;
            setup.plates[1].recipe = {area};
            const PlateTile tile =
                take(take(PlateLine::make(pdf.content(), setup))->render({0, 0, 72, 72}, Dpi(72)));
            QCOMPARE(int(tile.plates[1].at(10, 36)), 255);
            QCOMPARE(int(tile.plates[1].at(36, 36)), windows ? 255 : 0);
            QCOMPARE(int(tile.plates[0].at(36, 36)), 0);
        }
        // Poured as an object, the window is in that mask whatever its route.
        PlateSetup setup;
        setup.inks = {"Alpha", "White"};
        setup.routes = {bare};
        setup.plates = {propose_plate({}, "Alpha", InkUse::Spot, {}),
                        propose_plate({}, "White", InkUse::White, {96, 0, 0})};
        RecipeStep objects = from(RecipeDo::Add, RecipeFrom::Objects);
        objects.source.objects = {{1, 1, ObjectKind::Fill, {}}};
        setup.plates[1].recipe = {objects, from(RecipeDo::TakeAway, RecipeFrom::Area)};
        const PlateTile tile =
            take(take(PlateLine::make(pdf.content(), setup))->render({0, 0, 72, 72}, Dpi(72)));
        QCOMPARE(int(tile.plates[1].at(36, 36)), 255);
        QCOMPARE(int(tile.plates[1].at(10, 36)), 0);
    }

    void areasOfChosenInks()
    {
        RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area, {"Black"});
        QCOMPARE(tone(page(), {area}, 45, 63), 255); // solid where the tint of black prints
        QCOMPARE(tone(page(), {area}, 18, 20), 0);
        area.source.inks = {"Black", "Alpha"};
        QCOMPARE(tone(page(), {area}, 18, 20), 255);
    }

    void tonesRunAcrossDrawnAreas()
    {
        const double mm = 25.4 / 72;
        RecipeStep drawn = from(RecipeDo::Add, RecipeFrom::Drawn);
        drawn.source.areas = {{10 * mm, 10 * mm, 50 * mm, 20 * mm}};
        drawn.source.fade = {0.2, 0.8, 0};
        // The middle of pixel x lies (x + 0.5 − 10) / 50 of the way.
        for (const int x : {10, 34, 59}) {
            const double expected = 255 * (0.2 + 0.6 * (x + 0.5 - 10) / 50);
            QVERIFY(std::fabs(tone(page(), {drawn}, x, 20) - expected) <= 1);
        }
        drawn.source.fade = {1, 0, 90};
        QVERIFY(std::fabs(tone(page(), {drawn}, 30, 10) - 255 * (1 - 0.5 / 20)) <= 1);
        QVERIFY(std::fabs(tone(page(), {drawn}, 30, 29) - 255 * (0.5 / 20)) <= 1);
        drawn.source.fade = {0.5, 0.5, 0};
        QVERIFY(std::abs(tone(page(), {drawn}, 30, 20) - 128) <= 1);
    }

    void sourcesAreMadeNarrowerFirst()
    {
        const double mm = 25.4 / 72;
        const MiniPdf pdf = spots_page("/A cs 1 scn 16 16 40 40 re f");
        RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area);
        area.distance = 4 * mm;
        QCOMPARE(tone(pdf, {area}, 18, 36), 0);
        QCOMPARE(tone(pdf, {area}, 22, 36), 255);
        area.distance = -4 * mm;
        QCOMPARE(tone(pdf, {area}, 13, 36), 255);
        QCOMPARE(tone(pdf, {area}, 10, 36), 0);
        RecipeStep fold = from(RecipeDo::Add, RecipeFrom::Drawn); // a line without width
        fold.source.areas = {{36 * mm, 0, 0, 72 * mm}};
        QCOMPARE(tone(pdf, {fold}, 36, 36), 0);
        fold.distance = -2 * mm;
        QCOMPARE(tone(pdf, {fold}, 35, 36), 255);
        QCOMPARE(tone(pdf, {fold}, 39, 36), 0);
        RecipeStep away = fold;
        away.does = RecipeDo::KeepAway;
        away.distance = 6 * mm;
        const Recipe kept = {from(RecipeDo::Add, RecipeFrom::Area), away};
        QCOMPARE(tone(pdf, kept, 32, 36), 0);
        QCOMPARE(tone(pdf, kept, 28, 36), 255);
        RecipeStep off = from(RecipeDo::KeepAway, RecipeFrom::Area); // and away from artwork
        off.distance = 6 * mm;
        RecipeStep box = from(RecipeDo::Add, RecipeFrom::Box);
        box.source.box = PageBox::Media;
        QCOMPARE(tone(pdf, {box, off}, 12, 36), 0);
        QCOMPARE(tone(pdf, {box, off}, 8, 36), 255);
    }

    void anOutlineLiesOnTheEdge()
    {
        const double mm = 25.4 / 72;
        const MiniPdf pdf = spots_page("/A cs 1 scn 16 16 40 40 re f");
        const Recipe recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Outline, 1, 4 * mm)};
        QCOMPARE(tone(pdf, recipe, 15, 36), 255);
        QCOMPARE(tone(pdf, recipe, 17, 36), 255);
        QCOMPARE(tone(pdf, recipe, 12, 36), 0);
        QCOMPARE(tone(pdf, recipe, 20, 36), 0);
        QCOMPARE(tone(pdf, recipe, 36, 36), 0);
    }

    void platesLookedAtAreComputedFirst()
    {
        // The first plate looks at the last; the order of printing does not matter. What looks back sees the
        // plate as the artwork makes it.
        PlateSetup setup;
        setup.inks = {"Black", "Alpha", "White"};
        for (const std::string &ink : setup.inks) {
            setup.plates.push_back(propose_plate({}, ink, InkUse::Spot, {}));
        }
        setup.plates[2].recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Tint, 0.4)};
        setup.plates[0].recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"White"})};
        const PlateTile tile =
            take(take(PlateLine::make(page().content(), setup))->render({0, 0, 72, 72}, Dpi(72)));
        QVERIFY(std::abs(tile.plates[0].at(18, 20) - 102) <= 1);
        setup.plates[2].recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"Black"}),
                                  from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"})};
        setup.plates[1].recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"}),
                                  from(RecipeDo::TakeAway, RecipeFrom::Plate, {"White"})};
        const PlateTile knot =
            take(take(PlateLine::make(page().content(), setup))->render({0, 0, 72, 72}, Dpi(72)));
        // Black ← White ← Black as it was and Alpha ← (itself as it was, minus White as it was: bare).
        QVERIFY(std::abs(knot.plates[1].at(18, 20) - 153) <= 1);
        QVERIFY(std::abs(knot.plates[2].at(18, 20) - 153) <= 1);
        QVERIFY(std::abs(knot.plates[0].at(18, 20) - 153) <= 1);
    }

    void aBaseKeepsTheTonesOfGradientsAndFades_data()
    {
        QTest::addColumn<QString>("preset");
        for (const char *name : {"Base under everything", "Base for a coloured garment", "Base without black",
                                 "White behind colour"}) {
            QTest::newRow(name) << QString::fromLatin1(name);
        }
    }

    void aBaseKeepsTheTonesOfGradientsAndFades()
    {
        QFETCH(const QString, preset);
        // Flat Alpha, then a gradient of it to nothing; below, flat Alpha that fades by a soft mask; a flat
        // tint.
        MiniPdf pdf = spots_page(
            "/A cs 1 scn 0 36 36 36 re f q 36 36 36 36 re W n /S sh Q q /Fade gs 1 scn 0 0 36 30 re f Q "
            "0.2 scn 40 0 30 30 re f",
            "/Shading << /S << /ShadingType 2 /ColorSpace [/Separation /Alpha /DeviceCMYK << /FunctionType 2 "
            "/Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>] /Coords [36 0 72 0] /Function << "
            "/FunctionType 2 "
            "/Domain [0 1] /C0 [1] /C1 [0] /N 1 >> >> >>");
        const std::string states = "/ExtGState << ";
        const std::size_t at = pdf.resources.find(states);
        QVERIFY(at != std::string::npos);
        pdf.resources.insert(at + states.size(), "/Fade << /SMask << /S /Luminosity /G 10 0 R >> >> ");
        const std::string mask = "/M sh";
        pdf.objects = {
            "<< /Type /XObject /Subtype /Form /BBox [0 0 72 72] /Group << /S /Transparency /CS /DeviceGray "
            ">> /Resources << /Shading << /M << /ShadingType 2 /ColorSpace /DeviceGray /Coords [0 0 36 0] "
            "/Function << /FunctionType 2 /Domain [0 1] /C0 [1] /C1 [0] /N 1 >> >> >> >> /Length " +
            std::to_string(mask.size()) + " >>\nstream\n" + mask + "\nendstream"};
        const Scene scene = pdf.scene();
        QVERIFY(std::count_if(scene.objects.begin(), scene.objects.end(), is_tonal) == 2);
        PresetTable table{{"Alpha"}, "", {}, true};
        const auto presets = recipe_presets(table);
        const auto chosen = std::find_if(presets.begin(), presets.end(), [&](const RecipePreset &one) {
            return one.name == preset.toStdString();
        });
        QVERIFY(chosen != presets.end());
        QVERIFY(chosen->about.find("keep their tones") != std::string::npos); // and says so
        const PlateTile tile = take(plate_line(pdf, chosen->recipe)->render({0, 0, 72, 72}, Dpi(72)));
        const Plane &alpha = tile.plates[1];
        const Plane &white = tile.plates[2];
        QCOMPARE(int(white.at(10, 18)), 255);          // flat: solid
        QCOMPARE(int(white.at(55, 58)), 255);          // a flat tint too
        for (const int x : {40, 46, 52, 58, 64, 69}) { // gradient: by its tone, a step narrower at most
            QVERIFY2(std::abs(white.at(x, 18) - alpha.at(x, 18)) <= 9, qPrintable(QString::number(x)));
        }
        for (const int x : {4, 12, 20, 28, 33}) {
            QVERIFY2(std::abs(white.at(x, 58) - alpha.at(x, 58)) <= 9, qPrintable(QString::number(x)));
        }
        QVERIFY(white.at(70, 18) < 16 && white.at(34, 58) < 16); // no hard edge where it ends
        // Without the tones it was a solid block: the artwork area, choked.
        table.tonal = false;
        QVERIFY(recipe_presets(table)[0].about.find("tones") == std::string::npos);
        QCOMPARE(tone(pdf, recipe_presets(table)[0].recipe, 66, 18), 255);
    }

    void foilKnocksOutWhatLiesUnderItButForItsRim()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f /B cs 1 scn 20 20 30 30 re f");
        const auto presets = recipe_presets({{"Alpha", "Beta"}, "", {}});
        const auto foil = std::find_if(presets.begin(), presets.end(),
                                       [](const RecipePreset &one) { return one.name == "Foil"; });
        QVERIFY(foil != presets.end() && foil->others.size() == 1);
        PlateSetup setup;
        setup.inks = {"Alpha", "Foil"};
        setup.plates = {propose_plate({}, "Alpha", InkUse::Spot, {}),
                        propose_plate({}, "Foil", InkUse::Foil, {})};
        setup.plates[1].recipe = foil->recipe;
        setup.plates[1].recipe[0].source.objects = {{1, 1, ObjectKind::Fill, {}}};
        setup.plates[0].recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"}), foil->others[0]};
        setup.plates[0].recipe[1].source.inks = {"Foil"};
        setup.routes.resize(1); // Beta overprints nothing: as artwork it would knock Alpha out by itself
        setup.routes[0].by = RouteBy::Ink;
        setup.routes[0].name = "Beta";
        setup.routes[0].to = RouteTo::Nothing;
        const double dpi = 720; // 10 pixels a point; 0.2 mm are 5.67 pixels
        const auto made = take(PlateLine::make(pdf.content(), setup));
        const PlateTile tile = take(made->render({0, 350, 720, 20}, Dpi(dpi)));
        QCOMPARE(int(tile.plates[1].at(199, 5)), 0);
        QCOMPARE(int(tile.plates[1].at(201, 5)), 255);
        QCOMPARE(int(tile.plates[0].at(204, 5)), 255); // under the rim
        QCOMPARE(int(tile.plates[0].at(207, 5)), 0);
        QCOMPARE(int(tile.plates[0].at(350, 5)), 0);
    }

    void thinPartsGoAndGapsClose()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 4 4 30 64 re f 44 4 2 64 re f 48 4 20 64 re f");
        const RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area);
        const double mm = 25.4 / 72;
        const Recipe thin = {area, step(RecipeDo::RemoveThin, 1, 4 * mm)};
        QCOMPARE(tone(pdf, thin, 20, 36), 255);
        QCOMPARE(tone(pdf, thin, 44, 36), 0);
        QCOMPARE(tone(pdf, thin, 58, 36), 255);
        const Recipe closed = {area, step(RecipeDo::FillHoles, 1, 4 * mm)};
        QCOMPARE(tone(pdf, closed, 47, 36), 255); // a gap of 2
        QCOMPARE(tone(pdf, closed, 39, 36), 0);   // one of 10
        RecipeStep away = step(RecipeDo::KeepAway, 1, 10 * mm);
        away.source.from = RecipeFrom::Box;
        away.source.box = PageBox::Media;
        QCOMPARE(tone(pdf, {area, away}, 5, 36), 0);
        QCOMPARE(tone(pdf, {area, away}, 20, 36), 255);
        QCOMPARE(tone(pdf, {area, away}, 20, 66), 0);
    }

    void aViewFromFarIsTheMeanOfACloserOne()
    {
        // A choke of half a pixel at 36 dpi: looked at twice as close, so that sizes stay right.
        const MiniPdf pdf = spots_page("/A cs 1 scn 16 16 40 40 re f");
        const Recipe recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Choke, 1, 0.35)};
        const auto made = plate_line(pdf, recipe);
        const PlateTile far = take(made->render(made->extent(Dpi(36)), Dpi(36)));
        const PlateTile near = take(made->render({0, 0, 72, 72}, Dpi(72)));
        double far_sum = 0, near_sum = 0;
        for (const std::uint8_t value : far.plates.back().pixels) {
            far_sum += value / 255.0;
        }
        for (const std::uint8_t value : near.plates.back().pixels) {
            near_sum += value / 255.0;
        }
        QVERIFY2(std::fabs(far_sum * 4 / near_sum - 1) < 0.02,
                 qPrintable(QString::number(far_sum * 4 / near_sum)));
    }

    void filmsHoldComputedPlates()
    {
        QTemporaryDir folder;
        OpenedJob job = page().job();
        Plate base = propose_plate(job.job.plates, "White", InkUse::White, {96, 0, 0});
        base.recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Choke, 1, 1)};
        job.job.plates.insert(job.job.plates.begin(), base);
        job.job.film.marks = false;
        job.job.film.resolution = Dpi(300);
        OutputRequest request;
        request.folder = folder.path().toStdString();
        const Manifest manifest = take(write_films(job, request));
        QCOMPARE(manifest.plates.size(), job.job.plates.size());
        const Bitmap film = read_tiff(folder.filePath(QString::fromStdString(manifest.plates[0].file))).film;
        const auto made =
            take(PlateLine::make(take(job.artwork->interpret(1, PageBox::Media)), setup_of(job.job)));
        const PlateTile tile = take(made->render(made->extent(Dpi(300)), Dpi(300), Edges::Crisp));
        int differing = 0;
        for (int y = 0; y < film.height; ++y) {
            for (int x = 0; x < film.width; ++x) {
                const int tone = tile.plates[0].at(x, y);
                differing += (tone == 255 && !film.at(x, y)) || (tone == 0 && film.at(x, y)) ? 1 : 0;
            }
        }
        QCOMPARE(differing, 0); // solid is solid and bare is bare, whatever the screen does between
    }

    void sharpeningGoesFurtherFromWhatLiesAround()
    {
        // A tint of 40 % with a square of 60 % in it. At their edge the mean over a large disc is about one
        // half: by amount 0.5 the one loses half of 10 %, the other gains it; far from it nothing changes.
        const MiniPdf pdf = spots_page("/A cs 0.4 scn 0 0 72 72 re f 0.6 scn 36 0 36 72 re f");
        const Recipe recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"}),
                               step(RecipeDo::Sharpen, 0.5, 1)};
        const auto sharp = plate_line(pdf, recipe);
        const PixelRect all = sharp->extent(Dpi(300));
        const PlateTile tile = take(sharp->render(all, Dpi(300), Edges::Crisp));
        const auto made = [&](int x) { return int(tile.plates.back().at(x, all.height / 2)); };
        QCOMPARE(made(110), 102);
        QCOMPARE(made(190), 153);
        QVERIFY2(std::abs(made(149) - (102 - 12)) <= 2, qPrintable(QString::number(made(149))));
        QVERIFY2(std::abs(made(150) - (153 + 12)) <= 2, qPrintable(QString::number(made(150))));
    }

    void anyCutOfThePageGivesTheSameBits_data()
    {
        QTest::addColumn<Recipe>("recipe");
        const RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area);
        const auto tonal = [](RecipeDo does, double mm) {
            RecipeStep made = step(does, 1, mm);
            made.tonal = true;
            return made;
        };
        RecipeStep drawn = from(RecipeDo::Add, RecipeFrom::Drawn);
        drawn.source.areas = {{2, 3, 8, 9}, {14, 2, 6, 20}};
        drawn.source.fade = {1, 0.2, 30};
        RecipeStep anywhere = from(RecipeDo::Keep, RecipeFrom::Area);
        anywhere.source.anywhere = true;
        anywhere.distance = 0.2;
        QTest::newRow("a base that is choked, thinned, smoothed and sharpened") << Recipe{
            area, step(RecipeDo::Choke, 1, 1.5), from(RecipeDo::TakeAway, RecipeFrom::Plate, {"Black"}, 0.5),
            step(RecipeDo::Smooth, 1, 0.7), step(RecipeDo::Sharpen, 0.4, 0.5)};
        QTest::newRow("a base that keeps the tones of gradients")
            << Recipe{area, step(RecipeDo::Choke, 1, 0.2), from(RecipeDo::TakeAway, RecipeFrom::Tonal),
                      from(RecipeDo::Add, RecipeFrom::Tonal, {"Black", "Alpha"}), anywhere};
        QTest::newRow("spread, thin parts gone, gaps closed")
            << Recipe{from(RecipeDo::Add, RecipeFrom::Plate, {"Alpha"}), step(RecipeDo::Spread, 1, 0.4),
                      step(RecipeDo::RemoveThin, 1, 0.6), step(RecipeDo::FillHoles, 1, 2)};
        QTest::newRow("an outline") << Recipe{area, step(RecipeDo::Outline, 1, 0.8)};
        QTest::newRow("tones choked and spread")
            << Recipe{from(RecipeDo::Add, RecipeFrom::Sum, {"Alpha", "Black"}), tonal(RecipeDo::Choke, 0.3),
                      tonal(RecipeDo::Spread, 0.5)};
        QTest::newRow("inverted, half of it, kept off a plate")
            << Recipe{from(RecipeDo::Add, RecipeFrom::Plate, {"Black"}, 0.7), step(RecipeDo::Invert),
                      step(RecipeDo::Tint, 0.5), [] {
                          RecipeStep away = from(RecipeDo::KeepAway, RecipeFrom::Plate, {"Alpha"});
                          away.distance = 0.5;
                          return away;
                      }()};
        const auto away = [](RecipeFrom kind) {
            RecipeStep made = from(RecipeDo::KeepAway, kind);
            made.distance = 1;
            made.source.areas = {{2, 3, 8, 9}, {14, 2, 6, 20}};
            return made;
        };
        QTest::newRow("kept inside the page, and off areas drawn")
            << Recipe{area, away(RecipeFrom::Box), away(RecipeFrom::Drawn), step(RecipeDo::Spread, 1, 0.2)};
        QTest::newRow("areas drawn, with a fade") << Recipe{drawn, step(RecipeDo::Choke, 1, 0.3)};
    }
    void anyCutOfThePageGivesTheSameBits()
    {
        QFETCH(const Recipe, recipe);
        // A slant, a bar, a gradient, and much that is even: at 1500 dpi more columns than are looked at
        // together.
        const MiniPdf pdf =
            spots_page("/A cs 1 scn 10 10 30 50 re f 0 0 0 0.5 k 30 20 30 30 re f 0 0 0 1 k 12 8 m 68 62 l "
                       "69 64 l 12 12 l f 0 0 0 0.3 k 62 4 6 2 re f");
        const auto made = plate_line(pdf, recipe);
        for (const Edges edges : {Edges::Smooth, Edges::Crisp}) {
            const PlateTile whole = take(made->render(made->extent(Dpi(300)), Dpi(300), edges));
            for (const int rows : {7, 64, 100}) {
                for (const int threads : {1, 4}) {
                    QVERIFY2(in_bands(*made, Dpi(300), edges, rows, threads) == whole.plates,
                             qPrintable(QStringLiteral("%1 rows").arg(rows)));
                }
            }
        }
        const PlateTile fine = take(made->render(made->extent(Dpi(1500)), Dpi(1500), Edges::Crisp));
        QVERIFY(std::any_of(fine.plates.back().pixels.begin(), fine.plates.back().pixels.end(),
                            [](std::uint8_t tone) { return tone != 0; }));
        QVERIFY(in_bands(*made, Dpi(1500), Edges::Crisp, 512, 2) == fine.plates);
    }

    void whateverStepsFollowEachOther()
    {
        const MiniPdf pdf = spots_page(
            "/A cs 1 scn 10 10 30 50 re f 0 0 0 0.5 k 30 20 30 30 re f 0 0 0 1 k 12 8 m 68 62 l "
            "69 64 l 12 12 l f 0 0 0 0.3 k 62 4 6 2 re f q 20 40 30 25 re W n /A cs 0.8 scn 0 45 72 5 "
            "re f Q");
        std::mt19937 random(2026);
        const auto any = [&](double low, double high) {
            return low + (high - low) * static_cast<double>(random() % 1000) / 999;
        };
        for (int round = 0; round < 60; ++round) {
            Recipe recipe;
            for (int i = 0; i < 2 + round % 4; ++i) {
                RecipeStep one;
                one.does = i == 0 ? RecipeDo::Add : all_recipe_steps[random() % all_recipe_steps.size()];
                constexpr std::array sources = {RecipeFrom::Area, RecipeFrom::Plate, RecipeFrom::Largest,
                                                RecipeFrom::Sum,  RecipeFrom::Box,   RecipeFrom::Drawn};
                one.source.from = sources[random() % sources.size()];
                one.source.inks = {"Alpha"};
                if (one.source.from != RecipeFrom::Plate && random() % 2 == 0) {
                    one.source.inks.emplace_back("Black");
                }
                one.source.anywhere = random() % 3 == 0;
                one.source.areas = {{any(0, 10), any(0, 10), any(1, 15), any(1, 15)}, {14, 2, 6, 20}};
                one.source.fade = random() % 2 == 0 ? Fade() : Fade{any(0, 1), any(0, 1), any(0, 90)};
                one.amount = random() % 2 == 0 ? 1 : any(0.1, 1);
                one.low = any(0, 0.4);
                one.high = any(0.5, 1);
                one.curve = take(ToneCurve::through({{0, any(0, 0.3)}, {1, 1}}));
                one.distance = has_distance(one.does) ? any(0.1, 1.2)
                               : random() % 2 == 0    ? 0
                               : has_source(one.does) ? any(-0.6, 0.6)
                                                      : 0;
                one.tonal = random() % 4 == 0;
                recipe.push_back(one);
            }
            const auto made = plate_line(pdf, recipe);
            const Edges edges = round % 2 == 0 ? Edges::Crisp : Edges::Smooth;
            const PlateTile whole = take(made->render(made->extent(Dpi(250)), Dpi(250), edges));
            QString words;
            for (const RecipeStep &one : recipe) {
                words += QString::fromStdString(describe(one)) + QStringLiteral("; ");
            }
            QVERIFY2(whole.plates.back() == by_pixels(pdf, recipe, Dpi(250), edges), qPrintable(words));
            QVERIFY2(in_bands(*made, Dpi(250), edges, 90, 2) == whole.plates, qPrintable(words));
        }
    }

    void areasAreDrawnOnBareStockToo()
    {
        RecipeStep drawn = from(RecipeDo::Add, RecipeFrom::Drawn);
        const double mm = 25.4 / 1500;
        drawn.source.areas = {{700 * mm, 200 * mm, 500 * mm, 900 * mm}, {5 * mm, 5 * mm, 20 * mm, 1490 * mm}};
        const auto made = plate_line(spots_page(""), {drawn});
        const Plane plane = in_bands(*made, Dpi(1500), Edges::Crisp, 128, 2).back();
        for (int y = 0; y < plane.height; ++y) {
            for (int x = 0; x < plane.width; ++x) {
                const bool first = x >= 700 && x < 1200 && y >= 200 && y < 1100;
                const bool second = x >= 5 && x < 25 && y >= 5 && y < 1495;
                QVERIFY2(std::abs(plane.at(x, y) - (first || second ? 255 : 0)) <= 1,
                         qPrintable(QStringLiteral("at %1, %2").arg(x).arg(y)));
            }
        }
    }

    void whatFillsThePageEndsAtItsEdge()
    {
        // Bare beside the page, however even it is within.
        const auto made =
            plate_line(spots_page("/A cs 1 scn 0 0 72 72 re f"),
                       {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Choke, 1, 0.254)});
        const Plane plane = in_bands(*made, Dpi(1500), Edges::Crisp, 512, 2).back();
        for (const int x : {20, 700, 1024, 1480}) {
            QCOMPARE(int(plane.at(x, 10)), 0);
            QCOMPARE(int(plane.at(x, 1490)), 0);
            QCOMPARE(int(plane.at(x, 750)), 255);
        }
        QCOMPARE(int(plane.at(10, 750)), 0);
        QCOMPARE(int(plane.at(1490, 750)), 0);
    }

    void aLaterPlateSeesAnEarlierOneAsComputed()
    {
        PlateSetup setup;
        setup.inks = {"Base", "Second", "Alpha"};
        setup.plates = {propose_plate({}, "Base", InkUse::White, {}),
                        propose_plate({}, "Second", InkUse::White, {})};
        setup.plates[0].recipe = {from(RecipeDo::Add, RecipeFrom::Area), step(RecipeDo::Tint, 0.5)};
        setup.plates[1].recipe = {from(RecipeDo::Add, RecipeFrom::Plate, {"Base"}, 0.5)};
        const auto made = take(PlateLine::make(page().content(), setup));
        const PlateTile tile = take(made->render({0, 0, 72, 72}, Dpi(72)));
        QVERIFY(std::abs(tile.plates[0].at(18, 20) - 128) <= 1);
        QVERIFY(std::abs(tile.plates[1].at(18, 20) - 64) <= 1);
    }

    void recipesAreKeptInTheJob()
    {
        OpenedJob job = page().job();
        Plate plate = propose_plate(job.job.plates, "White", InkUse::White, {96, 0, 0});
        for (const RecipePreset &preset : recipe_presets({job.job.inks(), "", {{10, 0, 0, 20}}})) {
            QVERIFY2(bool(check_recipe(preset.recipe)), preset.name.c_str());
            plate.recipe.insert(plate.recipe.end(), preset.recipe.begin(), preset.recipe.end());
        }
        RecipeStep objects = from(RecipeDo::Keep, RecipeFrom::Objects);
        objects.source.objects = {{1, 3, ObjectKind::Text, {1, 2, 3, 4}}};
        RecipeStep drawn = from(RecipeDo::TakeAway, RecipeFrom::Drawn, {}, 0.5);
        drawn.source.areas = {{1, 2, 3, 4}};
        RecipeStep layer = from(RecipeDo::Add, RecipeFrom::Layer);
        layer.source.layer = "Shine";
        layer.source.artwork = 2;
        RecipeStep curve = step(RecipeDo::Curve);
        curve.curve = take(ToneCurve::through({{0, 1}, {1, 0}}));
        drawn.source.fade = {0.1, 0.9, 45};
        drawn.distance = -0.5;
        RecipeStep file = from(RecipeDo::Keep, RecipeFrom::File);
        file.source.artwork = 3;
        RecipeStep small = from(RecipeDo::TakeAway, RecipeFrom::SmallText);
        small.source.size = 7.5;
        RecipeStep area = from(RecipeDo::Add, RecipeFrom::Area, {"Black"});
        area.source.windows = true;
        RecipeStep tonal = from(RecipeDo::Add, RecipeFrom::Tonal, {"Alpha"});
        tonal.tonal = true;
        for (const RecipeStep &one : {objects, drawn, layer, curve, file, small, area, tonal}) {
            plate.recipe.push_back(one);
        }
        plate.printing = {2, true, true, 43};
        job.job.plates.push_back(plate);
        const Job back = take(job_from_json(job_to_json(job.job, *job.artwork), "x"));
        QVERIFY(back.plates.back() == plate);
        for (const RecipeStep &one : plate.recipe) {
            QVERIFY(!describe(one).empty());
        }
        // Recipes that cannot be are refused with the job, not followed.
        const std::string text = job_to_json(job.job, *job.artwork);
        for (const auto &[from_text, to_text] :
             {std::pair("\"choke\"", "\"chock\""), std::pair("\"distance_mm\": 0.15", "\"distance_mm\": 99"),
              std::pair("\"from\": \"area\"", "\"from\": \"afar\""),
              std::pair("\"hits\": 2", "\"hits\": 9")}) {
            std::string damaged = text;
            const std::size_t at = damaged.find(from_text);
            QVERIFY2(at != std::string::npos, from_text);
            damaged.replace(at, std::strlen(from_text), to_text);
            QCOMPARE(job_from_json(damaged, "x").error().code, ErrorCode::WrongFormat);
        }
        Recipe wrong = {step(RecipeDo::Choke, 1, 11)};
        QCOMPARE(check_recipe(wrong).error().code, ErrorCode::OutOfRange);
    }
};

BICHROM_TEST(TestRecipes, QCoreApplication)
#include "tst_recipes.moc"
