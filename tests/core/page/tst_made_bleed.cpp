// Bleed made from the art, against arithmetic of its own and against Ghostscript.
#include "core/artwork/page_boxes.h"
#include "core/artwork/placed_artwork.h"
#include "core/job/change_slip.h"
#include "core/job/edits/bleed.h"
#include "core/job/edits/reading.h"
#include "core/job/edits/resize.h"
#include "core/output/compose.h"

#include "support/ghostscript_plates.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double mm = 25.4 / 72; // a point

/// 216 × 144 points; the trim lies 18 points inside, and what is painted ends at it on no two sides alike. A
/// mark stands far outside.
MiniPdf lopsided_page()
{
    MiniPdf pdf =
        spots_page("/A cs 1 scn 18 18 30 108 re f 0.5 scn 120 60 78 66 re f /B cs 1 scn 60 18 90 9 re f "
                   "100 117 m 140 126 l 100 126 l h f /A cs 1 scn 2 2 6 6 re f");
    pdf.width = 216;
    pdf.height = 144;
    pdf.page_extra = "/TrimBox [18 18 198 126]";
    return pdf;
}

OpenedJob bled(const MiniPdf &pdf, double width, BleedBy by = BleedBy::Mirror)
{
    OpenedJob opened = pdf.job();
    opened.job = take(with_made_bleed(std::move(opened.job), *opened.artwork, {width, by}));
    opened.artwork = take(assemble(opened.artwork, opened.job.placements));
    opened.read = nullptr;
    return opened;
}

std::shared_ptr<const PlateLine> line_of(const OpenedJob &opened)
{
    return take(PlateLine::make(take(opened.artwork->interpret(1, PageBox::Media)), setup_of(opened.job)));
}

/// The pixel that stands at \p at, by the words of the manual: turned over at the trim, or the trim's last.
int expected_source(int at, int low, int high, BleedBy by)
{
    if (at < low) {
        return by == BleedBy::Mirror ? low + (low - at) - 1 : low;
    }
    if (at >= high) {
        return by == BleedBy::Mirror ? high - (at - high) - 1 : high - 1;
    }
    return at;
}

} // namespace

class TestMadeBleed : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void eachPixelBeyondTheTrimIsOneInsideIt_data()
    {
        QTest::addColumn<int>("by");
        QTest::addColumn<double>("dpi");
        QTest::newRow("mirrored, 300 dpi") << 0 << 300.0;
        QTest::newRow("mirrored, an odd resolution") << 0 << 217.3;
        QTest::newRow("drawn out, 300 dpi") << 1 << 300.0;
        QTest::newRow("drawn out, 1200 dpi") << 1 << 1200.0;
    }
    void eachPixelBeyondTheTrimIsOneInsideIt()
    {
        QFETCH(int, by);
        QFETCH(double, dpi);
        const BleedBy how = static_cast<BleedBy>(by);
        const MiniPdf pdf = lopsided_page();
        const PlateTile plain = pdf.plates(dpi, Edges::Crisp);
        const auto line = line_of(bled(pdf, 3, how));
        const PlateTile made = take(line->whole_page(Dpi(dpi), Edges::Crisp));
        QCOMPARE(made.rect, plain.rect);        // the page is large enough
        const auto pixel = [&](double points) { // whose centre lies inside
            return static_cast<int>(std::ceil(points * dpi / 72 - 0.5));
        };
        const double wide = 3 / mm;
        const int left = pixel(18), right = pixel(198), top = pixel(18), bottom = pixel(126);
        const int bleed_left = pixel(18 - wide), bleed_right = pixel(198 + wide);
        const int bleed_top = pixel(18 - wide), bleed_bottom = pixel(126 + wide);
        int beyond = 0;
        for (std::size_t i = 0; i < 2; ++i) {
            for (int y = 0; y < made.rect.height; ++y) {
                for (int x = 0; x < made.rect.width; ++x) {
                    const bool in = x >= bleed_left && x < bleed_right && y >= bleed_top && y < bleed_bottom;
                    const int from_x = in ? expected_source(x, left, right, how) : x;
                    const int from_y = in ? expected_source(y, top, bottom, how) : y;
                    const int wanted = plain.plates[i].at(from_x, from_y);
                    if (made.plates[i].at(x, y) != wanted) {
                        QFAIL(qPrintable(QStringLiteral("plate %1 at %2, %3: %4 for %5")
                                             .arg(i)
                                             .arg(x)
                                             .arg(y)
                                             .arg(made.plates[i].at(x, y))
                                             .arg(wanted)));
                    }
                    beyond += in && (from_x != x || from_y != y) && wanted > 0 ? 1 : 0;
                }
            }
        }
        QVERIFY(beyond > 500);
        // Any part of it is that part.
        const PlateTile part = take(line->render({bleed_left - 3, 7, 41, 50}, Dpi(dpi), Edges::Crisp));
        for (int y = 0; y < 50; ++y) {
            for (int x = 0; x < 41; ++x) {
                QCOMPARE(part.plates[0].at(x, y), made.plates[0].at(bleed_left - 3 + x, 7 + y));
            }
        }
    }

    void bandsAndThreadsGiveTheSameRows()
    {
        const auto line = line_of(bled(lopsided_page(), 4));
        const PlateTile whole = take(line->whole_page(Dpi(1200), Edges::Crisp));
        for (const auto &[rows, threads] : {std::pair(64, 1), {192, 2}, {1024, 2}}) {
            int different = 0;
            PlateSink sink;
            struct None final : BandResult
            {
            };
            std::mutex guard;
            sink.compute = [&](const Band &, const PlateRuns &runs) -> Outcome<std::unique_ptr<BandResult>> {
                const Plane plane = runs.plates[0].plane();
                const std::lock_guard lock(guard);
                for (int y = 0; y < plane.height; ++y) {
                    different += std::equal(plane.row(y).begin(), plane.row(y).end(),
                                            whole.plates[0].row(runs.rect.y + y).begin())
                                     ? 0
                                     : 1;
                }
                return std::unique_ptr<BandResult>(std::make_unique<None>());
            };
            sink.take = [](const Band &, BandResult &) -> Done { return {}; };
            PlateRun how;
            how.resolution = Dpi(1200);
            how.edges = Edges::Crisp;
            how.height = whole.rect.height;
            how.band_rows = rows;
            how.threads = threads;
            QVERIFY(line->run(how, sink));
            QCOMPARE(different, 0);
        }
    }

    void pagesThatEndAtTheTrimGrow()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 20 re f");
        const OpenedJob opened = bled(pdf, 3);
        const PageInfo info = take(opened.artwork->page_info(1));
        QVERIFY(std::fabs(info.box(PageBox::Media).width - 31.4) < 1e-6);
        QVERIFY(std::fabs(box_within(info, PageBox::Trim, PageBox::Media).x - 3) < 1e-6);
        QVERIFY(std::fabs(info.box(PageBox::Bleed).width - 31.4) < 1e-6);
        QVERIFY(std::fabs(info.own_media.width - 25.4) < 1e-6);
        // 20 points of ink at the foot become 20 points and 3 mm, over the whole width.
        const PlateTile tile = take(line_of(opened)->whole_page(Dpi(254), Edges::Smooth));
        QCOMPARE(tile.rect.width, 314);
        QCOMPARE(tile.rect.height, 314);
        for (const int x : {0, 15, 150, 313}) {
            QCOMPARE(int(tile.plates[0].at(x, 313)), 255);
            QCOMPARE(int(tile.plates[0].at(x, 220)), 255);
            QCOMPARE(int(tile.plates[0].at(x, 205)), 0);
            QCOMPARE(int(tile.area.at(x, 313)), 255);
        }
        // The file itself knows nothing of it.
        QVERIFY(std::fabs(take(pdf.artwork()->page_info(1)).box(PageBox::Media).width - 25.4) < 1e-6);
    }

    void turnedPagesGrowOnTheirOwnSides()
    {
        for (const int turn : {90, 180, 270}) {
            MiniPdf pdf = spots_page("/A cs 1 scn 0 0 20 144 re f"); // the file's left edge
            pdf.height = 144;
            pdf.page_extra = "/Rotate " + std::to_string(turn);
            const OpenedJob opened = bled(pdf, 3);
            const PlateTile tile = take(line_of(opened)->whole_page(Dpi(254), Edges::Crisp));
            const int wide = tile.rect.width, high = tile.rect.height;
            QCOMPARE(wide, turn == 180 ? 314 : 568);
            // Clockwise: the left edge turns to the top, the right, the foot.
            const auto inked = [&](int x, int y) { return tile.plates[0].at(x, y) > 0; };
            QCOMPARE(inked(wide / 2, 2), turn == 90);
            QCOMPARE(inked(wide - 3, high / 2), turn == 180);
            QCOMPARE(inked(wide / 2, high - 3), turn == 270);
        }
    }

    void recipesAndTrapsGoOnInIt()
    {
        OpenedJob opened = lopsided_page().job();
        Plate base = propose_plate(opened.job.plates, "Base", InkUse::White, {96, 0, 0});
        RecipeStep area, choke;
        choke.does = RecipeDo::Choke;
        choke.distance = 0.2;
        base.recipe = {area, choke};
        opened.job.plates.push_back(base);
        opened.job = take(with_made_bleed(std::move(opened.job), *opened.artwork, {3, BleedBy::Extend}));
        opened.artwork = take(assemble(opened.artwork, opened.job.placements));
        const PlateTile tile = take(line_of(opened)->whole_page(Dpi(600), Edges::Crisp));
        // Alpha's bar at the trim's left, 30 points wide: the base under it is not drawn back at the trim.
        const int y = 72 * 600 / 72, trim = 18 * 600 / 72;
        QCOMPARE(int(tile.plates[2].at(trim, y)), 255);
        QCOMPARE(int(tile.plates[2].at(trim - 60, y)), 255);
        QCOMPARE(int(tile.plates[2].at(trim + 30 * 600 / 72 - 2, y)), 0); // but at its other edge
    }

    void composedPagesHoldIt_data()
    {
        QTest::addColumn<int>("by");
        QTest::addColumn<bool>("narrow");
        QTest::newRow("mirrored") << 0 << false;
        QTest::newRow("drawn out") << 1 << false;
        QTest::newRow("mirrored, an art narrower than its bleed") << 0 << true;
        QTest::newRow("drawn out, an art narrower than its bleed") << 1 << true;
    }
    void composedPagesHoldIt()
    {
        QFETCH(int, by);
        QFETCH(bool, narrow);
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("bled.pdf"));
        MiniPdf page = lopsided_page();
        if (narrow) { // five points and four, of three millimetres
            page = spots_page("/A cs 1 scn 18 18 2 9 re f /B cs 1 scn 21 20 2 2 re f");
            page.width = page.height = 144;
            page.page_extra = "/TrimBox [18 18 23 22]";
        }
        const OpenedJob opened = bled(page, 3, static_cast<BleedBy>(by));
        (void)take(compose_pdf(opened, path.toStdString()));
        const QStringList inks = {QStringLiteral("Alpha"), QStringLiteral("Beta")};
        const auto theirs = ghostscript_plates(path, 300, inks);
        const PlateTile ours = take(line_of(opened)->whole_page(Dpi(300), Edges::Smooth));
        for (std::size_t i = 0; i < 2; ++i) {
            const FlatDifference difference = flat_difference(ours.plates[i], theirs.at(inks[int(i)]));
            QVERIFY2(difference.mean < 0.002, qPrintable(QString::number(difference.mean)));
            QVERIFY(difference.inked > (narrow ? 50 : 1000));
        }
        if (narrow) {
            return;
        }
        // A place in the bleed of each corner that is inked only there.
        const int corner = int((18 - 1.5 / mm) * 300 / 72);
        QCOMPARE(int(theirs.at(inks[0]).at(corner, 599 - corner)), 255);
        QCOMPARE(int(ours.plates[0].at(corner, 599 - corner)), 255);
    }

    void everyPlaceGoesAlongAndComesBack()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 9 9 20 20 re f");
        const OpenedJob before = [&] {
            OpenedJob opened = pdf.job();
            opened.job.pins.push_back({10, 20, 2, 4, 1});
            opened.job.traps.zones.push_back({{1, 2, 3, 4}, 1, 0.1});
            opened.job.areas.push_back({AreaKind::Glue, {}, {5, 5, 5, 5}, 0});
            PlacedArtwork placed;
            placed.original = pdf.artwork();
            placed.name = "again";
            placed.x = 7;
            opened.job.placements.artworks.push_back(placed);
            opened.artwork = take(assemble(opened.artwork, opened.job.placements));
            return opened;
        }();
        const Job after = take(with_made_bleed(before.job, *before.artwork, {3, BleedBy::Mirror}));
        QVERIFY((after.pins[0] == Pin{13, 23, 2, 4, 1}));
        QVERIFY((after.traps.zones[0].area == Rect{4, 5, 3, 4}));
        QVERIFY((after.areas[0].area == Rect{8, 8, 5, 5}));
        QCOMPARE(after.placements.artworks[0].x, 10.0);
        const auto grown = take(assemble(before.artwork, after.placements));
        const Job back = take(with_made_bleed(after, *grown, {}));
        QVERIFY(back == before.job);
        // At another size the bleed stays, and places go with the art.
        const Job twice = take(resized(after, 2, *grown));
        QCOMPARE(twice.placements.bleed.width, 3.0);
        QCOMPARE(twice.pins[0].x, 23.0); // 3 + 2 × 10
        // What was edited meanwhile follows too.
        const Scene scene = pdf.scene();
        QVERIFY((with_reading(before.job, after, scene, scene, *before.artwork).pins[0] == after.pins[0]));
        // The placed file stands where it stood on the art.
        const PlateTile plain = take(line_of(before)->whole_page(Dpi(254), Edges::Crisp));
        OpenedJob opened{after, grown, {}, nullptr};
        const PlateTile made = take(line_of(opened)->whole_page(Dpi(254), Edges::Crisp));
        for (int y = 0; y < plain.rect.height; ++y) {
            for (int x = 0; x < plain.rect.width; ++x) {
                QCOMPARE(made.plates[0].at(x + 30, y + 30), plain.plates[0].at(x, y));
            }
        }
    }

    void jobsKeepItAndTheSlipSaysSo()
    {
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        const OpenedJob made = bled(lopsided_page(), 2.5, BleedBy::Extend);
        QVERIFY(save_job(path, made.job, *made.artwork));
        const OpenedJob opened = take(open_job(path));
        QVERIFY(opened.job == made.job);
        QVERIFY(std::fabs(take(opened.artwork->page_info(1)).box(PageBox::Bleed).width - (180 * mm + 5)) <
                1e-6);
        const auto changes = list_changes(opened.job);
        QVERIFY(std::any_of(changes.begin(), changes.end(), [](const ChangeEntry &entry) {
            return entry.what.find("2.50 mm of bleed") != std::string::npos ||
                   entry.what.find("2.5 mm of bleed") != std::string::npos;
        }));
        const OpenedJob plain = lopsided_page().job();
        for (const double width : {-1.0, 51.0, std::nan("")}) {
            QCOMPARE(with_made_bleed(plain.job, *plain.artwork, {width, BleedBy::Mirror}).error().code,
                     ErrorCode::OutOfRange);
        }
    }

    void bleedWiderThanTheArtStaysWithinIt()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 9 re f /B cs 1 scn 36 0 36 9 re f");
        pdf.height = 9; // 3.2 mm high
        const PlateTile tile = take(line_of(bled(pdf, 20))->whole_page(Dpi(254), Edges::Crisp));
        QCOMPARE(tile.rect.height, 432); // 3.175 mm and 40
        QCOMPARE(int(tile.plates[0].at(260, 5)), 255);
        QCOMPARE(int(tile.plates[1].at(400, 430)), 255);
    }
};

BICHROM_TEST(TestMadeBleed, QCoreApplication)
#include "tst_made_bleed.moc"
