#include "core/job/change_slip.h"
#include "core/job/edits/own_marks.h"
#include "core/job/edits/plates.h"
#include "core/job/edits/pour.h"
#include "core/job/routing.h"
#include "core/job/savings.h"
#include "core/job/screen_angles.h"
#include "core/line/coverage.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

RecipeStep reads(const std::string &ink, RecipeDo does = RecipeDo::Add)
{
    RecipeStep step;
    step.does = does;
    step.source.from = RecipeFrom::Plate;
    step.source.inks = {ink};
    return step;
}

Plate plate_of(const std::string &ink)
{
    Plate plate;
    plate.ink = ink;
    plate.solid = {50, 10, 10};
    return plate;
}

/// Alpha and Beta as in spots_page(), and a base computed from Alpha that shares Beta's tin.
Job job_with_base()
{
    Job job;
    job.plates = {plate_of("Base"), plate_of("Alpha"), plate_of("Beta")};
    job.plates[0].recipe = {reads("Alpha")};
    job.plates[0].tin = "Beta";
    Route route;
    route.by = RouteBy::Ink;
    route.name = "Gamma";
    route.targets = {{"Alpha", true, 1.0, {}}};
    job.routes = {route};
    job.accepted = {{"plate_empty", 1, "Alpha", "as agreed"}};
    job.change_states["recipe Base"] = ChangeState::Agreed;
    job.change_states[key_of(route)] = ChangeState::Agreed;
    return job;
}

std::vector<double> covered(const MiniPdf &pdf, const Job &job)
{
    const auto plate_line = take(PlateLine::make(pdf.content(), setup_of(job)));
    return take(measure_coverage(*plate_line, Dpi(72)));
}

} // namespace

class TestPlateEdits : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aRenameKeepsEverythingTogether()
    {
        const Job job = take(rename_plate(job_with_base(), "Alpha", "Moss"));
        QCOMPARE(job.inks(), (std::vector<std::string>{"Base", "Moss", "Beta"}));
        QCOMPARE(job.plates[0].recipe[0].source.inks, std::vector<std::string>{"Moss"});
        QCOMPARE(job.routes[0].targets[0].ink, std::string("Moss"));
        QVERIFY(std::any_of(job.accepted.begin(), job.accepted.end(),
                            [](const AcceptedFinding &one) { return one.subject == "Moss"; }));
        // The agreement with the customer stands: the line about the route says Moss now.
        QCOMPARE(job.change_states.at(key_of(job.routes[0])), ChangeState::Agreed);
        const Job base = take(rename_plate(job, "Base", "Underbase"));
        QCOMPARE(base.change_states.at("recipe Underbase"), ChangeState::Agreed);
        const Job tin = take(rename_plate(job, "Beta", "Sky"));
        QCOMPARE(tin.plates[0].tin, std::string("Sky"));
        QVERIFY(!rename_plate(job, "Nobody", "Moss"));
        QVERIFY(!rename_plate(job, "Moss", ""));
        QCOMPARE(take(rename_plate(job, "Moss", "Moss")), job);
    }

    // Seen in a job: renaming an ink of the artwork emptied the base that was made from it.
    void aBaseOutlivesTheRenameOfItsInk()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 10 10 30 30 re f");
        Job job = pdf.job().job;
        job.plates.insert(job.plates.begin(), plate_of("Base"));
        job.plates[0].recipe = {reads("Alpha")};
        const auto before = covered(pdf, job);
        QVERIFY(before[0] > 0.15);
        const Job renamed = take(merge_inks(job, pdf.scene(), {"Alpha", "Moss", NameMatch::Exact, {}}));
        QCOMPARE(renamed.inks(), (std::vector<std::string>{"Base", "Moss"}));
        QCOMPARE(covered(pdf, renamed), before);
    }

    void mergedPlatesHoldBoth()
    {
        const MiniPdf pdf = spots_page(
            "/A cs 1 scn 0 0 36 36 re f /B cs 1 scn 36 36 36 36 re f /B cs 0.5 scn 36 0 36 36 re f");
        Job job = pdf.job().job;
        job.plates.insert(job.plates.begin(), plate_of("Base"));
        job.plates[0].recipe = {reads("Alpha"), reads("Beta")};
        const auto before = covered(pdf, job);
        const Job merged = take(merge_inks(job, pdf.scene(), {"Beta", "Alpha", NameMatch::Exact, {}}));
        QCOMPARE(merged.inks(), (std::vector<std::string>{"Base", "Alpha"}));
        const auto after = covered(pdf, merged);
        QVERIFY(std::fabs(after[1] - before[1] - before[2]) < 0.003);
        QVERIFY(std::fabs(after[0] - before[0]) < 0.003);
        // Into a computed plate: its recipe, and what the artwork puts there.
        Job computed = pdf.job().job;
        computed.plates[static_cast<std::size_t>(computed.find_plate("Beta"))].recipe = {
            reads("Alpha", RecipeDo::Add)};
        const Job joined = take(merge_plates(computed, "Alpha", "Beta"));
        const auto reads_itself = plates_read(joined.plates[0].recipe);
        QCOMPARE(reads_itself, std::vector<std::string>{"Beta"});
        QVERIFY(!merge_plates(computed, "Beta", "Alpha")); // a recipe cannot be joined
        QVERIFY(!merge_plates(computed, "Alpha", "Alpha"));
        QVERIFY(!merge_plates(computed, "Alpha", "Nobody"));
    }

    void trapsAndOverprintFollowTheirPlates()
    {
        Job job;
        job.plates = {plate_of("Alpha"), plate_of("Beta"), plate_of("Gamma")};
        job.traps.pairs = {{"Beta", "Gamma", TrapSide::First, 0.2},
                           {"Alpha", "Gamma", TrapSide::Second},
                           {"Alpha", "Beta", TrapSide::None}};
        const auto rule = [](const char *ink, OverprintWish wish) {
            OverprintRule made;
            made.source.by = RouteBy::Ink;
            made.source.name = ink;
            made.wish = wish;
            return made;
        };
        job.overprint.rules = {rule("Alpha", OverprintWish::Overprint),
                               rule("Beta", OverprintWish::KnockOut)};
        const Job renamed = take(rename_plate(job, "Alpha", "Moss"));
        QCOMPARE(renamed.traps.pair_of("Moss", "Gamma").side, TrapSide::Second);
        QCOMPARE(renamed.traps.pair_of("Gamma", "Moss").side, TrapSide::First);
        QCOMPARE(wish_about(renamed.overprint, rule("Moss", {}).source), OverprintWish::Overprint);
        // Merged: what was decided for the ink that stays counts, and no pair stands twice.
        const Job merged = take(merge_plates(job, "Alpha", "Beta"));
        QCOMPARE(merged.traps.pairs, (std::vector<TrapPair>{{"Beta", "Gamma", TrapSide::First, 0.2}}));
        QCOMPARE(merged.overprint.rules, (std::vector<OverprintRule>{rule("Beta", OverprintWish::KnockOut)}));
        Job apart = job; // inks that never share a place: who is gone is spoken of no more
        Route solved;
        solved.separated = true;
        solved.targets = {{"Alpha", true, 1, {}, {1, {}, {"Beta"}}}, {"Beta", true, 1, {}}};
        apart.routes.push_back(solved);
        QVERIFY(remove_plate(apart, "Beta", false).routes.back().targets.front().control.never_with.empty());
        const Job without = remove_plate(job, "Beta", false);
        QCOMPARE(without.traps.pairs, (std::vector<TrapPair>{{"Alpha", "Gamma", TrapSide::Second}}));
        QCOMPARE(without.overprint.rules,
                 (std::vector<OverprintRule>{rule("Alpha", OverprintWish::Overprint)}));
    }

    void closeAnglesAreToldUnlessMeant()
    {
        Job job;
        job.plates = {plate_of("White"), plate_of("Black"), plate_of("Rust"), plate_of("Moss"),
                      plate_of("Yellow")};
        job.plates[0].kind = InkUse::White;
        const double angles[] = {45, 45, 75, 85, 80};
        for (std::size_t i = 0; i < 5; ++i) {
            job.plates[i].screen.angle = Degrees(angles[i]);
        }
        auto pairs = close_pairs(job);
        QCOMPARE(pairs.size(), std::size_t(1)); // white may share black's angle; yellow hides it
        QCOMPARE(job.plates[pairs[0].first].ink, std::string("Rust"));
        QCOMPARE(pairs[0].degrees, 10.0);
        QVERIFY(!pairs[0].meant);
        job.plates[3].screen.angle = Degrees(-15); // as 75°, for dots
        QCOMPARE(close_pairs(job)[0].degrees, 0.0);
        job.plates[3].screen.dot = DotShape::Line; // lines lie across each other
        QVERIFY(close_pairs(job).empty());
        job.plates[3].screen.dot = DotShape::Round;
        const Job meant = with_meant_angles(job, "Moss", "Rust", true);
        QVERIFY(close_pairs(meant)[0].meant);
        QVERIFY(close_pairs(take(rename_plate(meant, "Rust", "Ochre")))[0].meant);
        QVERIFY(remove_plate(meant, "Moss", false).meant_angles.empty());
        QVERIFY(!close_pairs(with_meant_angles(meant, "Rust", "Moss", false))[0].meant);
        QVERIFY(take(merge_plates(meant, "Moss", "Rust")).meant_angles.empty());
    }

    void aRouteHasOneTargetAnInk()
    {
        Job job = job_with_base();
        job.routes[0].targets = {{"Alpha", false, 0.3, {}}, {"Beta", false, 0.8, {}}};
        const Job merged = take(merge_plates(job, "Alpha", "Beta"));
        QCOMPARE(merged.routes[0].targets.size(), std::size_t(1));
        QCOMPARE(merged.routes[0].targets[0].ink, std::string("Beta"));
        QCOMPARE(merged.routes[0].targets[0].tint, 0.8); // the stronger prints
    }

    void aPlateThatGoesLeavesNothingBehind()
    {
        Job job = job_with_base();
        job.plates[0].recipe.push_back(reads("Beta", RecipeDo::TakeAway));
        const Job without = remove_plate(job, "Alpha", false);
        QCOMPARE(without.inks(), (std::vector<std::string>{"Base", "Beta"}));
        QCOMPARE(without.plates[0].recipe.size(), std::size_t(1)); // the step that looked at it is gone
        QVERIFY(without.routes.empty());
        QVERIFY(without.removed.empty()); // it held only what was sent there, which is as it was before
        // An ink that the artwork holds too is told of, whatever else was sent to its plate.
        QCOMPARE(remove_plate(job, "Alpha", true).removed, std::vector<std::string>{"Alpha"});
        const Job no_tin = remove_plate(job, "Beta", true);
        QVERIFY(no_tin.plates[0].tin.empty());
        QCOMPARE(no_tin.removed, std::vector<std::string>{"Beta"});
        const auto slip = list_changes(no_tin);
        QVERIFY(std::any_of(slip.begin(), slip.end(),
                            [](const ChangeEntry &line) { return line.key == "removed Beta"; }));
        // A plate of that ink again: it prints, and there is nothing to tell.
        const Job again = take(add_plate(no_tin, plate_of("Beta")));
        QVERIFY(again.removed.empty());
        QVERIFY(!add_plate(again, plate_of("Beta"))); // never two plates of one ink
        QVERIFY(!add_plate(again, plate_of("")));
        QCOMPARE(remove_plate(job, "Nobody", true), job);
    }

    void colourOfAPictureWithoutItsPlateIsTold()
    {
        Job job = job_with_base();
        Route picture;
        picture.by = RouteBy::Objects;
        picture.objects.push_back({1, 4, ObjectKind::Image, {}});
        PaletteSplit split;
        split.colours = {{{255, 0, 0}, "Alpha", 1}, {{0, 0, 255}, "Beta", 1}};
        job.routes = {with_split(picture, split)};
        QCOMPARE(job.routes[0].targets.size(), std::size_t(2));
        const Job without = remove_plate(job, "Alpha", false);
        QCOMPARE(without.routes.size(), std::size_t(1));
        QCOMPARE(without.routes[0].targets.size(), std::size_t(1));
        QCOMPARE(without.routes[0].split.colours[0].ink, std::string("Alpha")); // not made background
        QCOMPARE(without.removed, std::vector<std::string>{"Alpha"});
        // The last plate gone, the picture prints as it came.
        const Job none = remove_plate(without, "Beta", false);
        QVERIFY(none.routes.empty());
    }

    void anInkSavedIsStillRead()
    {
        Job job = job_with_base();
        Saving saving;
        Route route;
        route.by = RouteBy::Ink;
        route.name = "Alpha";
        route.targets = {{"Beta", true, 1.0, {}}};
        saving.routes = {route};
        saving.frees = {"Alpha"};
        const Job saved = with_saving(job, saving);
        QCOMPARE(saved.inks(), (std::vector<std::string>{"Base", "Beta"}));
        QCOMPARE(saved.plates[0].recipe[0].source.inks, std::vector<std::string>{"Beta"});
        QVERIFY(saved.removed.empty());
    }

    void whatIsPouredGoesToItsStep()
    {
        const ObjectMark wing{1, 4, ObjectKind::Fill, {}}, eye{1, 9, ObjectKind::Fill, {}};
        const auto objects = [](const Job &job, std::size_t step) {
            return job.plates[0].recipe.at(step).source.objects;
        };
        Job job = job_with_base(); // "add Alpha"
        job = pour_object(job, "Base", 0, wing);
        QCOMPARE(job.plates[0].recipe.size(), std::size_t(2)); // before what works on it
        QCOMPARE(job.plates[0].recipe[0].source.from, RecipeFrom::Objects);
        job = pour_object(job, "Base", 0, eye);
        QCOMPARE(objects(job, 0).size(), std::size_t(2));
        QVERIFY(objects(pour_object(job, "Base", 0, eye), 0) == std::vector<ObjectMark>{wing}); // out again
        // Another placed file's objects are another step's.
        QCOMPARE(pour_object(job, "Base", 3, wing).plates[0].recipe.size(), std::size_t(3));
        // Away: it leaves the step that adds it, else a step at the end takes it away.
        const Pouring away{-1, true};
        job = pour_object(job, "Base", 0, eye, away);
        QVERIFY(objects(job, 0) == std::vector<ObjectMark>{wing});
        job = pour_object(job, "Base", 0, eye, away);
        QCOMPARE(job.plates[0].recipe.back().does, RecipeDo::TakeAway);
        QVERIFY(objects(job, 2) == std::vector<ObjectMark>{eye});
        // The step that is worked on takes it, whatever it does; one of another kind does not.
        QCOMPARE(objects(pour_object(job, "Base", 0, wing, {2, false}), 2).size(), std::size_t(2));
        QVERIFY(objects(pour_object(job, "Base", 0, eye, {1, false}), 0) ==
                (std::vector<ObjectMark>{wing, eye}));
        // A plate that the artwork makes is not begun by an object, nor is one that is not there.
        QCOMPARE(pour_object(job, "Alpha", 0, wing), job);
        QCOMPARE(pour_object(job, "Gamma", 0, wing), job);
    }

    void anAreaBeginsARecipe()
    {
        Job job = job_with_base();
        const Rect area{1, 2, 3, 4};
        job = pour_area(job, "Alpha", area);
        const Recipe &recipe = job.plates[1].recipe;
        QCOMPARE(recipe.size(), std::size_t(2));
        QVERIFY(recipe[0].source.areas == std::vector<Rect>{area});
        QVERIFY(recipe[1] == reads("Alpha"));
        QCOMPARE(pour_area(job, "Alpha", area, {-1, true}).plates[1].recipe.back().does, RecipeDo::TakeAway);
        QCOMPARE(pour_area(job, "Alpha", area).plates[1].recipe[0].source.areas.size(), std::size_t(2));
        QVERIFY(check_recipe(job.plates[1].recipe));
        QCOMPARE(pour_area(job, "Gamma", area), job);
    }

    void orderAndTins()
    {
        const Job job = job_with_base();
        QCOMPARE(move_plate(job, 0, 2).inks(), (std::vector<std::string>{"Alpha", "Beta", "Base"}));
        QCOMPARE(move_plate(job, 0, 3), job);
        Job changed = job;
        changed.plates[0].solid = {90, 0, 0};
        const Job kept = keep_tins(job, changed);
        QCOMPARE(kept.plates[2].solid.l, 90.0); // Beta's tin is the base's
    }

    void marksOfTheFileAreLeftOutOrOnEveryPlate()
    {
        // Art within the trim; two marks beside it in Alpha, and one object that reaches into the trim.
        MiniPdf pdf =
            spots_page("/A cs 1 scn 20 20 20 20 re f 2 30 6 1 re f 30 66 1 4 re f /B cs 1 scn 8 40 8 8 re f");
        pdf.page_extra = "/TrimBox [12 12 60 60]";
        const OpenedJob opened = [&] {
            OpenedJob made = pdf.job();
            Plate base = propose_plate(made.job.plates, "Base", InkUse::White, {96, 0, 0});
            RecipeStep from_alpha;
            from_alpha.source.from = RecipeFrom::Box;
            base.recipe = {from_alpha};
            made.job.plates.push_back(base);
            return made;
        }();
        const PageInfo page = take(opened.artwork->page_info(1));
        const auto marks = find_own_marks(pdf.scene(), page, PageBox::Media);
        QCOMPARE(marks.size(), std::size_t(2));
        QCOMPARE(marks[0].index, 1);
        QVERIFY(own_marks_of(opened.job, marks) == OwnMarks::AsInFile);
        const auto inked = [&](const Job &job, std::size_t plate) {
            const auto line =
                take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(job)));
            const PlateTile tile = take(line->whole_page(Dpi(72), Edges::Crisp));
            return std::pair(tile.plates[plate].at(4, 41) > 0, tile.plates[plate].at(30, 4) > 0);
        };
        using Both = std::pair<bool, bool>;
        QVERIFY((inked(opened.job, 0) == Both{true, true}));
        QVERIFY((inked(opened.job, 1) == Both{false, false}));
        const Job without = with_own_marks(opened.job, marks, OwnMarks::LeftOut);
        QVERIFY(own_marks_of(without, marks) == OwnMarks::LeftOut);
        QVERIFY((inked(without, 0) == Both{false, false}));
        const Job everywhere = with_own_marks(without, marks, OwnMarks::OnEveryPlate);
        QVERIFY(own_marks_of(everywhere, marks) == OwnMarks::OnEveryPlate);
        for (std::size_t plate = 0; plate < 3; ++plate) { // the computed one too
            QVERIFY((inked(everywhere, plate) == Both{true, true}));
        }
        QVERIFY(!list_changes(everywhere).empty());
        QVERIFY(with_own_marks(everywhere, marks, OwnMarks::AsInFile) == opened.job);
        // Some other route for one of them: neither.
        Job routed = opened.job;
        Route one;
        one.by = RouteBy::Objects;
        one.objects = {marks[0]};
        one.to = RouteTo::Nothing;
        (void)add_route(routed.routes, one);
        QVERIFY(!own_marks_of(routed, marks));
        // Without a trim nothing is beside it.
        pdf.page_extra.clear();
        QVERIFY(find_own_marks(pdf.scene(), take(pdf.artwork()->page_info(1)), PageBox::Media).empty());
    }
};

BICHROM_TEST(TestPlateEdits, QCoreApplication)
#include "tst_plate_edits.moc"
