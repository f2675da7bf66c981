// Plates made from names, kinds, colours found and ready-made recipes.
#include "core/job/edits/make_plates.h"

#include "core/colour/colour_difference.h"
#include "core/job/routing.h"
#include "core/job/stocks.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Job with_plates(const std::vector<std::string> &inks)
{
    Job job;
    for (const std::string &ink : inks) {
        job = take(add_named_plate(std::move(job), ink, InkBook{}, Scene{}));
    }
    return job;
}

} // namespace

class TestMakePlates : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aNameSaysKindAndPlace_data()
    {
        QTest::addColumn<QString>("name");
        QTest::addColumn<int>("kind");
        QTest::addColumn<int>("place"); ///< among Alpha and Beta
        QTest::addColumn<bool>("coloured");
        const auto row = [](const char *name, InkUse kind, int place, bool coloured) {
            QTest::newRow(name) << QString::fromLatin1(name) << static_cast<int>(kind) << place << coloured;
        };
        row("White", InkUse::White, 0, true);
        row("Base White", InkUse::White, 0, true);
        row("Clear", InkUse::Varnish, 2, true);
        row("Spot Varnish", InkUse::Varnish, 2, true);
        row("Gold", InkUse::Metallic, 2, true);
        row("Copper", InkUse::Metallic, 2, true);
        row("Silver", InkUse::Metallic, 2, true);
        row("Foil", InkUse::Foil, 2, false); // of which colour nobody has said
        row("Cut line", InkUse::Technical, 2, true);
        row("Crease", InkUse::Technical, 2, true);
        row("Moss", InkUse::Spot, 2, false);
    }

    void aNameSaysKindAndPlace()
    {
        QFETCH(const QString, name);
        QFETCH(const int, kind);
        QFETCH(const int, place);
        QFETCH(const bool, coloured);
        const Job job = with_plates({"Alpha", "Beta", name.toStdString()});
        const int at = job.find_plate(name.toStdString());
        QCOMPARE(at, place);
        const Plate &plate = job.plates[static_cast<std::size_t>(at)];
        QCOMPARE(static_cast<int>(plate.kind), kind);
        QCOMPARE(!plate.uncoloured, coloured);
        QVERIFY(plate.kind != InkUse::White || plate.traits.opacity > 0.5);
    }

    void finishingStandsOverWhatIsAddedLater()
    {
        QCOMPARE(with_plates({"Varnish", "Cut", "White", "Alpha", "Foil"}).inks(),
                 (std::vector<std::string>{"White", "Alpha", "Foil", "Varnish", "Cut"}));
        // On film seen from behind white is printed last of the colours.
        Job film;
        film.stock.clear = film.stock.behind = true;
        for (const char *ink : {"White", "Alpha"}) {
            film = take(add_named_plate(std::move(film), ink, InkBook{}, Scene{}));
        }
        QCOMPARE(film.inks(), (std::vector<std::string>{"Alpha", "White"}));
    }

    void twoPlatesOfOneInkAndNamelessOnesAreRefused()
    {
        QCOMPARE(add_named_plate(with_plates({"Alpha"}), "Alpha", InkBook{}, Scene{}).error().code,
                 ErrorCode::OutOfRange);
        QCOMPARE(add_named_plate(Job{}, "", InkBook{}, Scene{}).error().code, ErrorCode::OutOfRange);
        QCOMPARE(declare_kind(Job{}, "Alpha", InkUse::White).error().code, ErrorCode::OutOfRange);
    }

    void aPlateTakesTheColourOfWhatIsFirstSentToIt()
    {
        Job job = with_plates({"Moss"});
        Route route;
        route.by = RouteBy::Colour;
        route.appearance = {40, -30, 20};
        route.targets = {{"Moss", false, 1, {}}};
        job = with_route(std::move(job), route);
        QCOMPARE(job.plates[0].solid.a, -30.0);
        QVERIFY(!job.plates[0].uncoloured);
        route.appearance = {80, 0, 60};
        route.colour.space = "another";
        QCOMPARE(with_route(job, route).plates[0].solid.a, -30.0); // not of what is sent later
        // A colour from the book is not overruled.
        InkBook book;
        book.inks.push_back({"Moss", InkUse::Spot, {50, -20, 30}, {}, false});
        Job known = take(add_named_plate(Job{}, "Moss", book, Scene{}));
        QCOMPARE(with_route(known, route).plates[0].solid.b, 30.0);
    }

    void aCustomersPinkWhiteIsWhiteOnceItIsSaid()
    {
        Job job;
        job.plates = {propose_plate({}, "Alpha", InkUse::Spot, {50, 0, 0}),
                      propose_plate({}, "Milk", InkUse::Spot, {60, 70, -10})};
        const Job said = take(declare_kind(job, "Milk", InkUse::White));
        QCOMPARE(said.inks(), (std::vector<std::string>{"Milk", "Alpha"}));
        QVERIFY(said.plates[0].solid.l > 90 && std::abs(said.plates[0].solid.a) < 3);
        QCOMPARE(said.plates[0].shown().a, 70.0); // on the screen only
        QVERIFY(said.plates[0].traits.opacity > 0.5);
        QVERIFY(take(declare_kind(said, "Milk", InkUse::White)) == said);
        const Job varnish = take(declare_kind(job, "Milk", InkUse::Varnish));
        QCOMPARE(varnish.plates.back().kind, InkUse::Varnish);
        QCOMPARE(varnish.plates.back().shown().a, 70.0);
    }

    void eachColourOfALogoGetsAPlate()
    {
        // Six RGB colours, two of them nearly alike, white paper, and a spot ink of its own.
        MiniPdf pdf =
            spots_page("1 0 0 rg 0 0 10 10 re f 0.98 0 0.01 rg 10 0 10 10 re f 0 0 1 rg 20 0 10 10 re f "
                       "0 0.6 0 rg 30 0 10 10 re f 1 0.8 0 rg 40 0 10 10 re f 0 0 0 rg 50 0 10 10 re f "
                       "1 1 1 rg 0 20 10 10 re f /A cs 1 scn 20 20 10 10 re f");
        const OpenedJob opened = pdf.job();
        const Scene scene = pdf.scene();
        const auto groups = group_colours(scene.colours, {}, 5);
        const Job job =
            plates_from_colours(opened.job, scene, groups, 5, ColourMeasure::DeltaE, shipped_inks(), true);
        QCOMPARE(job.plates.size(), std::size_t(6)); // five colours and Alpha
        QVERIFY(job.find_plate("Alpha") >= 0);
        QCOMPARE(job.routes.size(), std::size_t(5));
        for (const Plate &plate : job.plates) {
            QVERIFY(process_channel(plate.ink) < 0); // nothing is left for process inks
            QVERIFY(plate.ink == "Alpha" || plate.ink.rfind("Colour ", 0) == 0 ||
                    std::any_of(shipped_inks().inks.begin(), shipped_inks().inks.end(),
                                [&](const BookInk &ink) { return ink.name == plate.ink; }));
        }
        // All that has ink reaches exactly one plate, solid.
        int reached = 0;
        each_reach(scene, job, [&](int colour, const Reach &reach) {
            if (scene.colours[static_cast<std::size_t>(colour)].inks.empty()) {
                return;
            }
            ++reached;
            QCOMPARE(reach.plates.size(), std::size_t(1));
            QCOMPARE(double(reach.plates[0].amount), 1.0);
        });
        QVERIFY(reached >= 7);
        // The plate looks like its colour.
        for (const Route &route : job.routes) {
            const Plate &plate = job.plates[static_cast<std::size_t>(job.find_plate(route.targets[0].ink))];
            QVERIFY(ciede2000(plate.solid, route.appearance) < 0.01);
        }
    }

    void tintsOfAColourAreTintsOfItsPlate()
    {
        const auto page = [](const char *contents) {
            MiniPdf pdf;
            pdf.contents = contents;
            return pdf;
        };
        const auto plates = [](const Job &job, const Scene &scene) {
            return plates_from_colours(job, scene, group_colours(scene.colours, {}, 0), 0,
                                       ColourMeasure::DeltaE, shipped_inks(), false);
        };
        // A build, half of it, three quarters of black, black, and a build of the same inks in other shares.
        const MiniPdf first =
            page("0.8 0.1 0.9 0.1 k 0 0 9 9 re f 0.4 0.05 0.45 0.05 k 9 0 9 9 re f 0 0 0 0.75 k 18 0 "
                 "9 9 re f 0 g 27 0 9 9 re f 0.4 0.4 0.45 0.05 k 36 0 9 9 re f");
        const Job before = first.job().job;
        const Job job = plates(before, first.scene());
        QCOMPARE(job.plates.size(), before.plates.size() + 3); // green, black, and the other build
        QCOMPARE(job.routes.size(), std::size_t(5));
        std::vector<double> tints;
        for (const Route &route : job.routes) {
            tints.push_back(route.targets[0].tint);
        }
        std::sort(tints.begin(), tints.end());
        QVERIFY(std::fabs(tints[0] - 0.5) < 1e-3 && std::fabs(tints[1] - 0.75) < 1e-3 && tints[2] == 1.0);
        QCOMPARE(plates(job, first.scene()), job); // all of it is decided
        // Another page's quarter of the green goes to the green that is there.
        const MiniPdf second = page("0.2 0.025 0.225 0.025 k 0 0 9 9 re f 0 0 0 1 k 9 0 9 9 re f");
        const Job both = plates(job, second.scene());
        QCOMPARE(both.plates.size(), job.plates.size());
        QVERIFY(std::any_of(both.routes.begin(), both.routes.end(), [](const Route &route) {
            return std::fabs(route.targets[0].tint - 0.25) < 1e-3;
        }));
    }

    void registrationColourAndFinishingAreNeverTakenAlong()
    {
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("R", "All", "1 1 1 1") +
                        separation("W", "White", "0 0 0 0.05") + separation("K", "Night", "1 1 1 1") + " >>";
        pdf.contents = "/R cs 1 scn 0 0 10 10 re f /W cs 1 scn 20 0 10 10 re f /K cs 1 scn 40 0 10 10 re f "
                       "0 0 0 0.05 k 60 0 10 10 re f";
        const Scene scene = pdf.scene();
        const auto groups = group_colours(scene.colours, {}, 50);
        for (const ColourGroup &group : groups) {
            for (const int member : group.members) {
                const auto &names = scene.colours[static_cast<std::size_t>(member)].colour.colorants;
                const bool alone =
                    names == std::vector<std::string>{"All"} || names == std::vector<std::string>{"White"};
                QVERIFY(!alone || group.members.size() == 1);
            }
        }
        // Nor by a route of everything alike.
        Route route = route_from(scene, 1, {2}, 100);
        route.by = RouteBy::Similar;
        route.tolerance = 100;
        int taken = 0;
        for (const FoundColour &colour : scene.colours) {
            taken += takes(route, {1, 0, {}, &colour}) ? 1 : 0;
        }
        QCOMPARE(taken, 2); // Night and the tint of black
        // And no plate is made of registration colour.
        const Job job = plates_from_colours(pdf.job().job, scene, groups, 50, ColourMeasure::DeltaE,
                                            shipped_inks(), true);
        for (const Route &made : job.routes) {
            QVERIFY(made.colour.colorants != std::vector<std::string>{"All"});
        }
    }

    void theStockAsksForItsWhite_data()
    {
        QTest::addColumn<QString>("stock");
        QTest::addColumn<QString>("preset"); // empty: none
        QTest::addColumn<int>("place");      // of the white among Alpha and Beta
        QTest::newRow("white stock") << "White stock" << QString() << 0;
        QTest::newRow("a dark garment") << "Black cotton"
                                        << "Base for a coloured garment" << 0;
        QTest::newRow("clear film") << "Clear film over wood"
                                    << "White behind colour" << 0;
        QTest::newRow("film printed on its back") << "Clear film, printed on its back"
                                                  << "White behind colour" << 2;
    }

    void theStockAsksForItsWhite()
    {
        QFETCH(const QString, stock);
        QFETCH(const QString, preset);
        QFETCH(const int, place);
        Job job = with_plates({"Alpha", "Beta"});
        const auto &stocks = shipped_stocks();
        const auto found = std::find_if(stocks.begin(), stocks.end(), [&](const ShippedStock &one) {
            return one.stock.name == stock.toStdString();
        });
        QVERIFY(found != stocks.end());
        job.stock = found->stock;
        QCOMPARE(lacks_white(job), !preset.isEmpty());
        if (!preset.isEmpty()) {
            const RecipePreset wanted = usual_white(job, Scene{});
            QCOMPARE(QString::fromStdString(wanted.name), preset);
            const MadePlate made = take(make_preset_plate(job, wanted));
            QCOMPARE(made.job.plates[static_cast<std::size_t>(place)].kind, InkUse::White);
            QVERIFY(!lacks_white(made.job)); // it is there now
        }
        Job named = job; // a customer's ink that nobody has said to be white yet
        named.plates[0].ink = "White";
        QVERIFY(!lacks_white(named));
        job.plates.clear();
        QVERIFY(!lacks_white(job));
    }

    void readyMadeRecipesTakeAName()
    {
        Job job = with_plates({"Alpha"});
        const auto presets = recipe_presets(preset_table(job, Scene{}));
        const MadePlate made = take(make_preset_plate(job, presets.front(), "Under"));
        QCOMPARE(made.ink, std::string("Under"));
        QCOMPARE(made.job.plates.front().ink, std::string("Under"));
        QVERIFY(made.job.plates.front().recipe == presets.front().recipe);
        QCOMPARE(make_preset_plate(made.job, presets.front(), "Under").error().code, ErrorCode::OutOfRange);
        const MadePlate second =
            take(make_preset_plate(take(make_preset_plate(job, presets.front())).job, presets.front()));
        QCOMPARE(second.ink, presets.front().ink + " 2");
    }
};

BICHROM_TEST(TestMakePlates, QCoreApplication)
#include "tst_make_plates.moc"
