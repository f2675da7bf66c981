// Recipes are tried over what is painted already; what is shown is what a new line would show.
#include "core/artwork/scene.h"
#include "core/line/kept_tiles.h"
#include "core/line/plate_line.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

MiniPdf page()
{
    return spots_page(
        "/A cs 1 scn 10 10 30 50 re f 0 0 0 0.5 k 30 20 30 30 re f /A cs 0.4 scn 50 5 15 15 re f");
}

RecipeStep step(RecipeDo does, double mm, RecipeFrom from = RecipeFrom::Area)
{
    RecipeStep made;
    made.does = does;
    made.distance = mm;
    made.source.from = from;
    return made;
}

/// Of inks Black, Alpha and White, with a base in white.
PlateSetup setup_with(Recipe recipe)
{
    PlateSetup setup;
    setup.inks = {"Black", "Alpha", "White"};
    for (const std::string &ink : setup.inks) {
        setup.plates.push_back(propose_plate({}, ink, ink == "White" ? InkUse::White : InkUse::Spot, {}));
    }
    setup.plates.back().recipe = std::move(recipe);
    return setup;
}

} // namespace

class TestKeptTiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aRectangleIsPaintedOnce()
    {
        const MiniPdf pdf = page();
        const auto content = pdf.content();
        const auto scene = take(shared_scene(*content));
        const PlateSetup setup = setup_with({});
        const KeptTiles tiles(
            take(PagePainter::make(content, setup, *scene, std::vector<bool>(3, true), {})));
        const PixelRect rect = {5, 5, 200, 200};
        const auto first = take(tiles.paint(rect, Dpi(300), Edges::Smooth, {}));
        QVERIFY(take(tiles.paint(rect, Dpi(300), Edges::Smooth, {})) == first);
        QVERIFY(take(tiles.paint(rect, Dpi(301), Edges::Smooth, {})) != first);
        QVERIFY(take(tiles.paint(rect, Dpi(300), Edges::Quick, {})) != first);
        QVERIFY(take(tiles.paint({6, 5, 200, 200}, Dpi(300), Edges::Smooth, {})) != first);
        const PlateTile painted = take(tiles.painter().paint(rect, Dpi(300), Edges::Smooth, {}));
        for (std::size_t i = 0; i < painted.plates.size(); ++i) {
            QVERIFY(first->plates[i]->plane() == painted.plates[i]);
        }
        QVERIFY(first->area->plane() == painted.area);
        // Many others, of 4 MB each, take its place.
        for (int i = 0; i < 20; ++i) {
            (void)take(tiles.paint({i, 0, 1000, 1000}, Dpi(1200), Edges::Smooth, {}));
        }
        QVERIFY(take(tiles.paint(rect, Dpi(300), Edges::Smooth, {})) != first);
        // One of 64 MB is not kept.
        const PixelRect huge = {0, 0, 4000, 4000};
        QVERIFY(take(tiles.paint(huge, Dpi(1200), Edges::Quick, {})) !=
                take(tiles.paint(huge, Dpi(1200), Edges::Quick, {})));
    }

    void aLineMadeAfterAnotherShowsTheSame_data()
    {
        QTest::addColumn<int>("change");
        QTest::newRow("another distance") << 0;
        QTest::newRow("a plate looked at that was not before") << 1;
        QTest::newRow("objects looked at") << 2;
        QTest::newRow("no recipe any more") << 3;
        QTest::newRow("another order of plates") << 4;
        QTest::newRow("another route") << 5;
        QTest::newRow("traps") << 6;
        QTest::newRow("nothing") << 7;
    }
    void aLineMadeAfterAnotherShowsTheSame()
    {
        QFETCH(const int, change);
        const MiniPdf pdf = page();
        const auto content = pdf.content();
        const PlateSetup base = setup_with({step(RecipeDo::Add, 0), step(RecipeDo::Choke, 0.4)});
        const auto before = take(PlateLine::make(content, base));
        const PixelRect rect = {0, 0, 150, 150};
        (void)take(before->render(rect, Dpi(150)));
        PlateSetup setup = base;
        Recipe &recipe = setup.plates.back().recipe;
        if (change == 0) {
            recipe.back().distance = 0.9;
        } else if (change == 1) {
            recipe.push_back(step(RecipeDo::TakeAway, 0, RecipeFrom::Plate));
            recipe.back().source.inks = {"Black"};
        } else if (change == 2) {
            recipe.push_back(step(RecipeDo::TakeAway, -0.3, RecipeFrom::Objects));
            recipe.back().source.objects = {{1, 0, ObjectKind::Fill, {}}};
        } else if (change == 3) {
            recipe.clear();
        } else if (change == 4) {
            std::swap(setup.inks[0], setup.inks[1]);
            std::swap(setup.plates[0], setup.plates[1]);
        } else if (change == 5) {
            Route route;
            route.by = RouteBy::Objects;
            route.objects = {{1, 0, ObjectKind::Fill, {}}};
            route.targets = {{"Black", false, 1.0, {}}};
            setup.routes = {route};
        } else if (change == 6) {
            setup.traps.on = true;
            setup.traps.width = 0.3;
        }
        const auto after = take(PlateLine::make(content, setup, {}, before.get()));
        const auto anew = take(PlateLine::make(content, setup));
        for (const Edges edges : {Edges::Smooth, Edges::Seen, Edges::Crisp}) {
            for (const double dpi : {60.0, 150.0}) {
                const PlateTile a = take(after->render(rect, Dpi(dpi), edges));
                const PlateTile b = take(anew->render(rect, Dpi(dpi), edges));
                QVERIFY(a.plates == b.plates && a.area == b.area);
            }
        }
        QVERIFY(change == 7 ||
                !(take(before->render(rect, Dpi(150))).plates == take(after->render(rect, Dpi(150))).plates));
    }
};

BICHROM_TEST(TestKeptTiles, QCoreApplication)
#include "tst_kept_tiles.moc"
