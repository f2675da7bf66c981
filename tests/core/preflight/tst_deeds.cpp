// What can be done about a finding at once.
#include "core/preflight/deeds.h"

#include "core/job/edits/plates.h"
#include "core/job/routing.h"
#include "core/line/page_inks.h"
#include "core/preflight/lost_artwork.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Finding finding_of(const std::string &check, std::vector<int> objects, const std::string &subject = {})
{
    Finding finding;
    finding.check = check;
    finding.subject = subject;
    for (const int object : objects) {
        finding.places.push_back({object, {}, {}});
    }
    return finding;
}

} // namespace

class TestDeeds : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void objectsAreSentWhereTheyLookAlike()
    {
        // Alpha is magenta by its alternate, Beta too; a magenta build, and black of all inks.
        const MiniPdf pdf =
            spots_page("/A cs 1 scn 0 0 9 9 re f 0 1 0 0 k 9 0 9 9 re f 0.6 0.6 0.6 1 k 20 0 9 9 re f");
        OpenedJob opened = pdf.job();
        const Scene scene = pdf.scene();
        const Finding stray = finding_of("process_in_spot_job", {1, 2, 1});
        auto deeds = deeds_for(stray, opened.job, scene, {});
        QCOMPARE(deeds.size(), std::size_t(1)); // process plates are what is too much
        QCOMPARE(deeds[0].words, std::string("Send these 2 objects to Alpha"));
        QCOMPARE(deeds[0].objects, (std::vector<int>{1, 2}));
        QVERIFY(!deeds[0].own_tint); // builds have no one tint
        QVERIFY(deeds_for(finding_of(lost_check, {0}), opened.job, scene, {})[0].own_tint);
        Finding many = stray;
        many.places_in_all = 500; // of which the first are listed
        QCOMPARE(deeds_for(many, opened.job, scene, {})[0].words,
                 std::string("Send the first 2 objects to Alpha"));
        deeds = deeds_for(finding_of("built_black", {2}), opened.job, scene, {});
        QCOMPARE(deeds[0].words, std::string("Send this object to Black"));
        QVERIFY(deeds.size() == opened.job.plates.size());
        // The chosen plate comes first, unless it is no plate to send to.
        deeds = deeds_for(finding_of(lost_check, {2}), opened.job, scene, "Alpha");
        QCOMPARE(deeds[0].into, std::string("Alpha"));
        QCOMPARE(deeds_for(finding_of(lost_check, {2}), opened.job, scene, "Gamma")[0].into,
                 std::string("Black"));
        // Nothing for what is solved, for places without an object, and where judgement is asked for.
        Finding solved = stray;
        solved.solved = "a route";
        QVERIFY(deeds_for(solved, opened.job, scene, {}).empty());
        QVERIFY(deeds_for(finding_of("built_black", {-1, 99}), opened.job, scene, {}).empty());
        QVERIFY(deeds_for(finding_of("thin_line", {0}), opened.job, scene, {}).empty());
    }

    void namesAreMadeOne()
    {
        const MiniPdf pdf = spots_page("/A cs 1 scn 0 0 9 9 re f /B cs 1 scn 9 0 9 9 re f");
        const OpenedJob opened = pdf.job();
        const Scene scene = pdf.scene();
        auto deeds = deeds_for(finding_of("ink_twice", {}, "Alpha / Beta"), opened.job, scene, {});
        QCOMPARE(deeds.size(), std::size_t(2)); // either way
        QCOMPARE(deeds[0].words, std::string("Print Beta as Alpha"));
        QCOMPARE(take(rename_plate(opened.job, deeds[0].from, deeds[0].into)).inks(),
                 std::vector<std::string>{"Alpha"});
        Finding process = finding_of("process_as_spot", {}, "Alpha");
        process.limit = "Cyan";
        deeds = deeds_for(process, opened.job, scene, {});
        QCOMPARE(deeds.size(), std::size_t(1));
        QCOMPARE(deeds[0].words, std::string("Print Alpha as Cyan"));
        process.subject = "Gamma"; // has no plate any more
        QVERIFY(deeds_for(process, opened.job, scene, {}).empty());
    }

    void routesTellWhatTheyDecide()
    {
        const MiniPdf pdf =
            spots_page("/A cs 1 scn 0 0 9 9 re f /A cs 0.5 scn 9 0 9 9 re f /B cs 1 scn 20 0 9 "
                       "9 re f 1 scn 40 0 9 9 re f");
        OpenedJob opened = pdf.job();
        const Scene scene = pdf.scene();
        Route objects;
        objects.by = RouteBy::Objects;
        objects.objects = {{1, 3, ObjectKind::Fill, {}}};
        objects.to = RouteTo::Nothing;
        Route ink;
        ink.by = RouteBy::Ink;
        ink.name = "Alpha";
        ink.targets = {{"Beta", true, 1, {}}};
        opened.job.routes = {objects, route_from(scene, 1, {scene.objects[2].colour_number}, 0), ink};
        QCOMPARE(decided_by(opened.job, scene, 0), std::vector<int>{3});
        QCOMPARE(decided_by(opened.job, scene, 1), std::vector<int>{2}); // of the same colour, 3 is decided
        QCOMPARE(decided_by(opened.job, scene, 2), (std::vector<int>{0, 1}));
        QVERIFY(decided_by(opened.job, scene, 7).empty());
    }

    void pagesTellTheirInks()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f");
        pdf.more_pages = {"", "0 0 0 0.5 k 0 0 72 72 re f /B cs 1 scn 0 0 72 7.2 re f"};
        const auto pages = take(measure_page_inks(*pdf.artwork(), {}));
        QCOMPARE(pages.size(), std::size_t(3));
        const double page = 2.54 * 2.54; // cm²
        QCOMPARE(pages[0].inks.size(), std::size_t(1));
        QVERIFY(std::fabs(pages[0].inks[0].square_cm - page / 2) < 0.01);
        QVERIFY(pages[1].inks.empty());
        QCOMPARE(pages[2].inks.size(), std::size_t(2));
        QCOMPARE(pages[2].inks[0].name, std::string("Black"));
        QVERIFY(std::fabs(pages[2].inks[0].square_cm - page * 0.5 * 0.9) < 0.05);
        QVERIFY(std::fabs(pages[2].inks[1].square_cm - page * 0.1) < 0.05);
    }
};

BICHROM_TEST(TestDeeds, QCoreApplication)
#include "tst_deeds.moc"
