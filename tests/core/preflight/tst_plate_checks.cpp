// Checks of a job's plates, on pages made for them.
#include "core/preflight/preflight.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

RecipeStep drawn(std::vector<Rect> areas)
{
    RecipeStep step;
    step.source.from = RecipeFrom::Drawn;
    step.source.areas = std::move(areas);
    return step;
}

Plate computed(const char *ink, InkUse kind, Recipe recipe, Lab solid = {96, 0, 0})
{
    Plate plate = propose_plate({}, ink, kind, solid);
    plate.recipe = std::move(recipe);
    return plate;
}

struct Checked
{
    OpenedJob job;
    ShopRules rules;
    explicit Checked(const MiniPdf &pdf, const char *check) : job(pdf.job())
    {
        rules.checks[check].severity = Severity::Warning;
    }
    std::vector<Finding> find() const
    {
        const auto page = take(job.artwork->interpret(1, PageBox::Media));
        return take(check_plates(*job.artwork, page, take(record_scene(*page)), job.job, rules));
    }
    /// The only finding about \p subject; none when there is no such finding.
    std::optional<Finding> about(const std::string &subject) const
    {
        for (const Finding &finding : find()) {
            if (finding.subject == subject) {
                return finding;
            }
        }
        return std::nullopt;
    }
};

constexpr double point = 25.4 / 72;

} // namespace

class TestPlateChecks : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void tintsOnAPlateWithoutHalftone()
    {
        // A solid, whose edges are grey, and a tint of 12 × 12 points.
        Checked c(spots_page("/A cs 1 scn 4.3 4.3 20.2 60 re f 0.4 scn 40 40 12 12 re f"), "unscreened_tint");
        QVERIFY(c.find().empty()); // it has dots
        c.job.job.plates[0].screen.kind = ScreenKind::None;
        const auto found = c.about("Alpha");
        QVERIFY(found && found->places.size() == 1);
        QVERIFY(std::fabs(found->places[0].area.x - 40 * point) < 0.2);
        QVERIFY(std::fabs(found->places[0].area.width - 12 * point) < 0.3);
        // Too small to matter, or too dark to be a tint.
        c.rules.checks["unscreened_tint"].limits["area_mm2"] = 50;
        QVERIFY(c.find().empty());
        c.rules.checks["unscreened_tint"].limits = {{"most_percent", 30}};
        QVERIFY(c.find().empty());
    }

    void printOnGlueAndBesideThePlaten()
    {
        // Alpha fills 10 to 30 points from the left and the foot.
        Checked c(spots_page("/A cs 1 scn 10 10 20 20 re f"), "named_areas");
        QVERIFY(c.find().empty());
        const auto at = [](double x, double y, double width, double height) {
            return Rect{x * point, y * point, width * point, height * point};
        };
        c.job.job.areas = {{AreaKind::Glue, "tab", at(20, 45, 20, 5), 0},  // 10 × 5 points of it are inked
                           {AreaKind::KeepOut, {}, at(50, 50, 10, 10), 0}, // bare
                           {AreaKind::Glue, "other page", at(0, 0, 72, 72), 2}};
        auto found = c.find();
        QCOMPARE(found.size(), std::size_t(1));
        QCOMPARE(found[0].subject, std::string("glue 'tab'"));
        const double mm2 = 50 * point * point;
        QVERIFY2(std::fabs(
                     QString::fromStdString(found[0].places[0].measured).split(' ')[0].toDouble() / mm2 - 1) <
                     0.1,
                 found[0].places[0].measured.c_str());
        QVERIFY(std::fabs(found[0].places[0].area.width - 10 * point) < 0.3);
        // A platen that holds all of it is none the worse; one that cuts it off is.
        c.job.job.areas = {{AreaKind::Platen, {}, at(5, 40, 40, 30), 0}};
        QVERIFY(c.find().empty());
        c.job.job.areas[0].area = at(15, 40, 30, 30);
        found = c.find();
        QCOMPARE(found.size(), std::size_t(1));
        QVERIFY(std::fabs(found[0].places[0].area.x - 10 * point) < 0.3);
        QVERIFY(std::fabs(found[0].places[0].area.width - 5 * point) < 0.3);
        c.job.job.areas.push_back({AreaKind::Platen, "second pallet", at(5, 40, 12, 30), 0});
        QVERIFY(c.find().empty()); // the two together hold it
        // A cut line is no ink.
        c.job.job.areas = {{AreaKind::KeepOut, {}, at(0, 0, 72, 72), 0}};
        c.job.job.plates[0].kind = InkUse::Technical;
        QVERIFY(c.find().empty());
    }

    void textAndLinesAtAFold()
    {
        Checked c(spots_page("/A cs 0 0 72 72 re 1 scn f 0 G 1 w 10 30 m 60 30 l S"), "named_areas");
        const double line = (72 - 30) * point;
        c.job.job.areas = {{AreaKind::Fold, "spine", {0, line + 0.4, 72 * point, 0}, 0}};
        auto found = c.find(); // the area it crosses may be folded, the line beside it breaks
        QCOMPARE(found.size(), std::size_t(1));
        QCOMPARE(found[0].places.size(), std::size_t(1));
        QCOMPARE(found[0].places[0].object, 1);
        c.job.job.areas[0].area.y = line + 2;
        QVERIFY(c.find().empty());
        c.rules.checks["named_areas"].limits["distance_mm"] = 3;
        QCOMPARE(c.find().size(), std::size_t(1));
        c.job.job.areas[0].area = {5 * point, 0, 0.1, 72 * point}; // upright, 5 points left of the line's end
        c.rules.checks["named_areas"].limits["distance_mm"] = 1;
        QVERIFY(c.find().empty());
        c.job.job.areas[0].area.x = 30 * point;
        QCOMPARE(c.find().size(), std::size_t(1));
    }

    void whiteMissingUnderColour()
    {
        // Two fields of Alpha; a base lies under the left one only.
        Checked c(spots_page("/A cs 1 scn 4 4 28 64 re f 40 4 28 64 re f"), "white_missing");
        c.job.job.plates[0].solid = {80, 5, 90};
        c.job.job.stock.colour = {16, 0, 0};
        c.job.job.plates.insert(c.job.job.plates.begin(),
                                computed("White", InkUse::White, {drawn({{0, 0, 36 * point, 72 * point}})}));
        const auto found = c.about("Alpha");
        QVERIFY(found && found->places.size() == 1);
        const FindingPlace &place = found->places[0];
        QVERIFY(std::fabs(place.area.x - 40 * point) < 0.1 && std::fabs(place.area.width - 28 * point) < 0.2);
        const double mm2 = 28 * point * 64 * point;
        QVERIFY2(std::fabs(QString::fromStdString(place.measured).split(' ')[0].toDouble() / mm2 - 1) < 0.02,
                 place.measured.c_str());
        // White over it instead of under it does not help, on film it does.
        std::swap(c.job.job.plates[0], c.job.job.plates[1]);
        QCOMPARE(c.about("Alpha")->places.size(), std::size_t(2));
        c.job.job.stock.clear = true;
        QCOMPARE(c.about("Alpha")->places.size(), std::size_t(1));
        // A white stock asks for none, nor an ink that covers, nor black on black.
        Checked other = c;
        other.job.job.stock = Stock();
        QVERIFY(other.find().empty());
        other = c;
        other.job.job.plates[0].traits.opacity = 1;
        QVERIFY(other.find().empty());
        other = c;
        other.job.job.stock.clear = false;
        other.job.job.plates[0].solid = {14, 0, 0};
        QVERIFY(other.find().empty());
    }

    void aChokedBaseIsNoFault()
    {
        Checked c(spots_page("/A cs 1 scn 4 4 64 64 re f"), "white_missing");
        c.job.job.plates[0].solid = {80, 5, 90};
        c.job.job.stock.colour = {16, 0, 0};
        RecipeStep choke;
        choke.does = RecipeDo::Choke;
        choke.distance = 0.3;
        c.job.job.plates.insert(c.job.job.plates.begin(),
                                computed("White", InkUse::White, {RecipeStep(), choke}));
        QVERIFY(c.find().empty());
        c.rules.checks["white_missing"].limits["rim_mm"] = 0.1;
        QVERIFY(c.about("Alpha"));
    }

    void thinLinesOfVarnish()
    {
        Checked c(spots_page("/A cs 1 scn 4 4 64 64 re f"), "finish_thin");
        c.job.job.plates.push_back(computed("Varnish", InkUse::Varnish,
                                            {drawn({{2, 2, 8, 8}, {12, 2, 0.2, 10}, {14, 2, 0.5, 10}})}));
        const auto found = c.about("Varnish");
        QVERIFY(found && found->places.size() == 1);
        QVERIFY(std::fabs(found->places[0].area.x - 12) < 0.15);
        QVERIFY(std::fabs(found->places[0].area.height - 10) < 0.3);
        c.rules.checks["finish_thin"].limits["line_mm"] = 0.15;
        QVERIFY(c.find().empty());
        c.rules.checks["finish_thin"].limits["line_mm"] = 0.7;
        QCOMPARE(c.about("Varnish")->places.size(), std::size_t(2));
        c.job.job.plates.back().kind = InkUse::Spot; // not a finish
        QVERIFY(c.find().empty());
    }

    void largeAreasAndNearEdges()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 4 4 64 64 re f");
        pdf.page_extra = "/TrimBox [6 6 66 66]"; // 21.17 mm wide
        Checked c(pdf, "finish_large");
        c.job.job.plates.push_back(computed("Foil", InkUse::Foil, {drawn({{5, 5, 10, 12}})}));
        QVERIFY(c.find().empty()); // 1.2 cm² of 100 allowed
        c.rules.checks["finish_large"].limits["area_cm2"] = 1;
        const auto large = c.about("Foil");
        QVERIFY(large && large->places[0].measured == "1.2 cm²");
        Checked near(pdf, "finish_near_edge");
        near.job = c.job;
        near.rules.checks["finish_near_edge"].limits["distance_mm"] = 2;
        QVERIFY(near.find().empty()); // 5 − 2.12 mm from the left
        near.rules.checks["finish_near_edge"].limits["distance_mm"] = 3;
        QCOMPARE(near.about("Foil")->places.size(), std::size_t(2)); // left and top
        near.rules.checks["finish_near_edge"].limits["distance_mm"] = 1;
        near.rules.folds = {{true, Millimetres(8)}}; // runs through the foil
        const auto fold = near.about("Foil");
        QVERIFY(fold && fold->places.size() == 1);
        QVERIFY(QString::fromStdString(fold->places[0].measured).endsWith(QStringLiteral("a fold")));
    }

    void artworkUnderFoil()
    {
        Checked c(spots_page("/A cs 1 scn 0 0 72 72 re f"), "under_foil");
        c.job.job.plates.push_back(computed("Foil", InkUse::Foil, {drawn({{5, 5, 10, 10}})}));
        const auto found = c.about("Alpha / Foil");
        QVERIFY(found);
        const double side = 10 - 2 * 0.3; // without the rim
        QVERIFY(std::fabs(QString::fromStdString(found->places[0].measured).split(' ')[0].toDouble() /
                              (side * side) -
                          1) < 0.02);
        RecipeStep own;
        own.source.from = RecipeFrom::Plate;
        own.source.inks = {"Alpha"};
        RecipeStep away;
        away.does = RecipeDo::TakeAway;
        away.source = own.source;
        away.source.inks = {"Foil"};
        away.distance = 0.2;
        c.job.job.plates[0].recipe = {own, away};
        QVERIFY(c.find().empty());
    }

    void namesAndEmptyPlates()
    {
        Checked c(spots_page("/A cs 1 scn 0 0 72 72 re f"), "plate_not_in_list");
        c.job.job.plates.push_back(computed("base white", InkUse::White, {RecipeStep()}));
        c.job.job.plates.push_back(computed("Glitter", InkUse::Spot, {drawn({})}));
        QVERIFY(c.find().empty()); // no list, no fault
        c.rules.inks = {"Base White", "Alpha"};
        QCOMPARE(c.find().size(), std::size_t(2));
        QCOMPARE(c.about("base white")->limit, std::string("Base White"));
        QVERIFY(c.about("Glitter")->limit.empty());
        c.rules.checks.clear();
        c.rules.checks["plate_empty"].severity = Severity::Error;
        QCOMPARE(c.find().size(), std::size_t(1));
        QCOMPARE(c.find()[0].subject, std::string("Glitter"));
        QCOMPARE(c.find()[0].severity, Severity::Error);
    }

    void specialInksThatKnockOut()
    {
        Checked c(
            spots_page("0 0 0 1 k 0 0 72 72 re f /A cs 1 scn 10 10 20 20 re f /OP gs /A cs 1 scn 40 40 20 20 "
                       "re f"),
            "finish_knocks_out");
        QVERIFY(c.find().empty()); // a spot may
        c.job.job.plates[static_cast<std::size_t>(c.job.job.find_plate("Alpha"))].kind = InkUse::Varnish;
        const auto found = c.about("Alpha");
        QVERIFY(found && found->places.size() == 1 && found->places[0].object == 1);
    }

    void picturesOnLinePlates()
    {
        const MiniPdf pdf =
            spots_page("q 50 0 0 50 10 10 cm BI /W 2 /H 1 /CS /G /BPC 8 /F /AHx ID 20 C0 > EI Q "
                       "/A cs 1 scn 0 0 5 5 re f");
        Checked c(pdf, "picture_in_line_plate");
        RecipeStep poured;
        poured.source.from = RecipeFrom::Objects;
        poured.source.objects = {{1, 1, ObjectKind::Fill, {}}};
        c.job.job.plates.push_back(computed("Foil", InkUse::Foil, {poured}));
        QVERIFY(c.find().empty());
        c.job.job.plates.back().recipe[0].source.objects.push_back({1, 0, ObjectKind::Image, {}});
        QVERIFY(c.about("Foil"));
        c.job.job.plates.back().recipe.clear();
        QVERIFY(c.find().empty());
        Route route;
        route.by = RouteBy::Objects;
        route.objects = {{1, 0, ObjectKind::Image, {}}};
        route.targets = {{"Foil", true, 1.0, {}}};
        c.job.job.routes = {route};
        QVERIFY(c.about("Foil"));
    }
};

BICHROM_TEST(TestPlateChecks, QCoreApplication)
#include "tst_plate_checks.moc"
