// Operations on plates follow each other in the order in which they look at each other, as far as they look.
#include "core/artwork/scene.h"
#include "core/line/plate_plan.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

RecipeStep add(const std::string &ink)
{
    RecipeStep step;
    step.source.from = RecipeFrom::Plate;
    step.source.inks = {ink};
    return step;
}

RecipeStep moved(RecipeDo does, double mm)
{
    RecipeStep step;
    step.does = does;
    step.distance = mm;
    return step;
}

/// Plates of \p recipes, by ink; without a recipe the artwork makes them.
PlateSetup setup_of(const std::vector<std::pair<std::string, Recipe>> &recipes)
{
    PlateSetup setup;
    for (const auto &[ink, recipe] : recipes) {
        setup.inks.push_back(ink);
        setup.plates.push_back(propose_plate({}, ink, InkUse::Spot, {}));
        setup.plates.back().recipe = recipe;
    }
    return setup;
}

/// What \p plan makes of a square of 20 pixels in the middle of 100, on plate \p number of as many as there
/// are inks: the planes of all.
Outcome<std::vector<Plane>> follow(const PlatePlan &plan, std::size_t count, std::size_t number,
                                   const JobControl &control = {})
{
    constexpr int side = 100;
    const PixelRect page = {0, 0, side, side};
    RowFlow flow(page, control, EdgePixels::Grey);
    const auto painted = [&](bool inked) {
        return flow.painted(page, [inked](int first, int last) -> Outcome<RunPlane> {
            RunPlane made(side, last - first);
            for (int y = first; y < last; ++y) {
                if (inked && y >= 40 && y < 60) {
                    made.add({40, 60, 255, nullptr});
                }
                made.end_row();
            }
            return made;
        });
    };
    PaintedNumbers numbers;
    numbers.area = painted(true);
    for (std::size_t i = 0; i < count; ++i) {
        numbers.plates.push_back(painted(i == number));
    }
    std::vector<RowFlow::Number> made = plan.flow(flow, numbers, Dpi(254), {});
    std::vector<Plane> planes;
    for (std::size_t i = 0; i < count; ++i) {
        RunPlane rows(side, side);
        const auto plane = plan.computes(i) ? made[i] : numbers.plates[i];
        if (const Done done = flow.add_rows(rows, plane, 0, 0, side); !done) {
            return done.error();
        }
        planes.push_back(rows.plane());
    }
    return planes;
}

int inked_across(const Plane &plane)
{
    const auto row = plane.row(50);
    return static_cast<int>(std::count_if(row.begin(), row.end(), [](std::uint8_t v) { return v >= 128; }));
}

} // namespace

class TestPlatePlan : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void withoutRecipesNothingIsComputed()
    {
        const PlateSetup setup = setup_of({{"A", {}}, {"B", {}}});
        const PlatePlan plan(setup, setup.inks, {});
        QVERIFY(plan.empty());
        QCOMPARE(plan.reach(), 0.0);
        QVERIFY(plan.needed() == std::vector<bool>({true, true}));
        QVERIFY(plan.read() == std::vector<bool>({false, false}));
        QVERIFY(!plan.computes(0));
        QCOMPARE(inked_across(take(follow(plan, 2, 1))[1]), 20);
    }

    void whatIsReadIsMadeFirst_data()
    {
        QTest::addColumn<QStringList>("order");
        QTest::newRow("the reader before") << QStringList{"A", "B", "C"};
        QTest::newRow("the reader behind") << QStringList{"C", "B", "A"};
        QTest::newRow("the artwork's between") << QStringList{"A", "C", "B"};
    }
    void whatIsReadIsMadeFirst()
    {
        // A is B spread by 0.5 mm, B is C spread by 1 mm, C comes from the artwork.
        QFETCH(QStringList, order);
        const std::map<std::string, Recipe> recipes = {{"A", {add("B"), moved(RecipeDo::Spread, 0.5)}},
                                                       {"B", {add("C"), moved(RecipeDo::Spread, 1)}},
                                                       {"C", {}}};
        std::vector<std::pair<std::string, Recipe>> plates;
        for (const QString &ink : order) {
            plates.emplace_back(ink.toStdString(), recipes.at(ink.toStdString()));
        }
        const PlateSetup setup = setup_of(plates);
        const PlatePlan plan(setup, setup.inks, {});
        const auto at = [&](const char *ink) {
            return static_cast<std::size_t>(order.indexOf(QLatin1String(ink)));
        };
        QVERIFY(std::fabs(plan.reach() - 1.5) < 1e-9); // through both
        QVERIFY(plan.computes(at("A")) && plan.computes(at("B")) && !plan.computes(at("C")));
        QVERIFY(!plan.read()[at("A")] && plan.read()[at("B")] && plan.read()[at("C")]);
        QVERIFY(!plan.needed()[at("A")]); // nobody sees what the artwork puts there
        QVERIFY(plan.needed()[at("C")]);
        const std::vector<Plane> made = take(follow(plan, 3, at("C")));
        QCOMPARE(inked_across(made[at("C")]), 20);
        QCOMPARE(inked_across(made[at("B")]), 40);
        QCOMPARE(inked_across(made[at("A")]), 50);
    }

    void inksThatAreNotThereAreBare()
    {
        const PlateSetup setup = setup_of({{"A", {add("Nobody"), moved(RecipeDo::Spread, 1)}}, {"B", {}}});
        const PlatePlan plan(setup, setup.inks, {});
        const std::vector<Plane> made = take(follow(plan, 2, 0)); // what the artwork puts on A does not count
        QCOMPARE(inked_across(made[0]), 0);
        QCOMPARE(inked_across(made[1]), 0);
    }

    void platesThatLookAtEachOtherEnd()
    {
        // Each takes the other as the artwork makes it where it would have to wait for itself.
        const PlateSetup setup = setup_of({{"A", {add("B"), moved(RecipeDo::Spread, 1)}},
                                           {"B", {add("A"), moved(RecipeDo::Spread, 0.5)}},
                                           {"C", {add("C"), moved(RecipeDo::Choke, 0.2)}}});
        const PlatePlan plan(setup, setup.inks, {});
        QVERIFY(plan.reach() >= 1 && plan.reach() <= 1.5 + 1e-9);
        QVERIFY(plan.needed() == std::vector<bool>({true, true, true}));
        QCOMPARE(inked_across(take(follow(plan, 3, 2))[2]), 16); // from its own artwork
    }

    void planningAsksForMasksOnlyWhereARecipeDoes()
    {
        RecipeStep objects;
        objects.source.from = RecipeFrom::Objects;
        objects.source.objects = {{1, 0, ObjectKind::Fill, {}}};
        const PlateSetup with = setup_of({{"A", {objects}}, {"B", {}}});
        Scene scene;
        scene.objects.emplace_back();
        scene.colours.emplace_back(); // which the object is of
        const PlatePlan asks(with, with.inks, scene);
        QCOMPARE(asks.masks().sources.size(), std::size_t(1));
        QVERIFY(!asks.masks().pages.empty());
        const PlateSetup without = setup_of({{"A", {add("B")}}, {"B", {}}});
        QVERIFY(PlatePlan(without, without.inks, scene).masks().pages.empty());
    }

    void itStopsWhenAsked()
    {
        const PlateSetup setup = setup_of({{"A", {add("B")}}, {"B", {}}});
        const PlatePlan plan(setup, setup.inks, {});
        CancelSwitch stop;
        stop.cancel();
        const auto made = follow(plan, 2, 1, JobControl(stop));
        QVERIFY(!made);
        QCOMPARE(made.error().code, ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestPlatePlan, QCoreApplication)
#include "tst_plate_plan.moc"
