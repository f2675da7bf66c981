#include "core/job/edits/resize.h"

#include "core/artwork/placed_artwork.h"
#include "core/job/edits/reading.h"
#include "core/line/painted_area.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

constexpr double mm = 25.4 / 72; // a point

MiniPdf boxed_page()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 36 36 72 36 re f 4 w /B CS 1 SCN 30 100 m 150 100 l S");
    pdf.width = 216;
    pdf.height = 144;
    pdf.page_extra = "/TrimBox [18 9 198 135] /BleedBox [9 0 207 144]";
    return pdf;
}

OpenedJob at_scale(const MiniPdf &pdf, double scale)
{
    OpenedJob opened = pdf.job();
    opened.job = take(resized(std::move(opened.job), scale, *opened.artwork));
    opened.artwork = take(assemble(opened.artwork, opened.job.placements));
    opened.read = nullptr;
    return opened;
}

} // namespace

class TestResize : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aWantedSizeGivesItsFactor()
    {
        const Rect size{0, 0, 100, 50};
        QCOMPARE(take(factor_for(size, 355.6, 0)), 3.556);
        QCOMPARE(take(factor_for(size, 0, 25)), 0.5);
        QCOMPARE(take(factor_for(size, 300, 100)), 2.0); // it fits both
        QCOMPARE(factor_for({}, 10, 0).error().code, ErrorCode::OutOfRange);
        QCOMPARE(factor_for(size, 0, 0).error().code, ErrorCode::OutOfRange);
        QCOMPARE(factor_for(size, -1, 0).error().code, ErrorCode::OutOfRange);
    }

    void whatIsMeasuredIsTrimPageOrArt()
    {
        const MiniPdf pdf = boxed_page();
        const PageInfo page = take(pdf.artwork()->page_info(1));
        const auto line = take(PlateLine::make(pdf.content(), pdf.job().job.inks()));
        const Rect painted = take(painted_area(*line));
        const auto near = [](const Rect &a, double x, double y, double width, double height) {
            return std::fabs(a.x - x) < 0.03 && std::fabs(a.y - y) < 0.03 &&
                   std::fabs(a.width - width) < 0.03 && std::fabs(a.height - height) < 0.03;
        };
        QVERIFY(near(area_of_size(page, painted, SizeOf::Page), 0, 0, 76.2, 50.8));
        QVERIFY(near(area_of_size(page, painted, SizeOf::Trim), 18 * mm, 9 * mm, 180 * mm, 126 * mm));
        // The rectangle, and above it the stroke, 2 points to either side: its pixels, no box around them.
        QVERIFY(near(area_of_size(page, painted, SizeOf::Art), 30 * mm, 42 * mm, 120 * mm, 66 * mm));
        MiniPdf bare = boxed_page();
        bare.contents = "";
        QCOMPARE(take(painted_area(*take(PlateLine::make(bare.content(), {"Alpha"})))).width, 0.0);
    }

    void everyPlaceMovesAndNoLengthOfThePrint()
    {
        const auto artwork = boxed_page().artwork();
        Job job = boxed_page().job().job;
        job.pins.push_back({10, 20, 2, 4, 1});
        job.areas.push_back({AreaKind::Fold, "spine", {3, 0, 0, 9}, 1});
        job.traps.on = true;
        job.traps.width = 0.2;
        job.traps.zones.push_back({{1, 2, 3, 4}, 1, 0.1});
        RecipeStep drawn;
        drawn.source.from = RecipeFrom::Drawn;
        drawn.source.areas = {{5, 6, 7, 8}};
        drawn.distance = 0.3;
        RecipeStep objects;
        objects.source.from = RecipeFrom::Objects;
        objects.source.objects = {{1, 0, ObjectKind::Fill, {1, 1, 2, 2}}};
        job.plates[0].recipe = {drawn, objects};
        Route route;
        route.by = RouteBy::Objects;
        route.objects = {{1, 1, ObjectKind::Stroke, {4, 4, 4, 4}}};
        job.routes.push_back(route);
        const Job twice = take(resized(job, 2, *artwork));
        QVERIFY((twice.areas[0].area == Rect{6, 0, 0, 18}));
        QVERIFY((twice.pins[0] == Pin{20, 40, 4, 8, 1}));
        QVERIFY((twice.traps.zones[0].area == Rect{2, 4, 6, 8}));
        QVERIFY((twice.plates[0].recipe[0].source.areas[0] == Rect{10, 12, 14, 16}));
        QVERIFY((twice.plates[0].recipe[1].source.objects[0].bounds == Rect{2, 2, 4, 4}));
        QVERIFY((twice.routes[0].objects[0].bounds == Rect{8, 8, 8, 8}));
        QCOMPARE(twice.traps.width, 0.2);
        QCOMPARE(twice.traps.zones[0].width, 0.1);
        QCOMPARE(twice.plates[0].recipe[0].distance, 0.3);
        QCOMPARE(twice.placements.scale, 2.0);
        QVERIFY(take(resized(twice, 0.5, *artwork)) == job);

        // Read at another size while something else was edited: the places of that follow too.
        Job edited = job;
        edited.pins.push_back({3, 3, 0, 0, 1});
        const Scene scene = boxed_page().scene();
        const Job both = with_reading(edited, twice, scene, scene, *artwork);
        QCOMPARE(both.pins[1].x, 6.0);
        QCOMPARE(both.placements.scale, 2.0);
    }

    void stretchingMovesPlacesAlongAndAcross()
    {
        Job job = boxed_page().job().job;
        job.pins.push_back({10, 20, 2, 4, 1});
        job.film.across = 1.1;
        job.film.along = 0.9;
        const Job stretched = stretched_for_press(job);
        QCOMPARE(stretched.pins[0].x, 11.0);
        QCOMPARE(stretched.pins[0].y, 18.0);
        QCOMPARE(stretched.placements.across, 1.1);
        QCOMPARE(stretched.placements.along, 0.9);
        QCOMPARE(stretched.film.across, 1.0);
        QCOMPARE(stretched.placements.scale, 1.0);
    }

    void pagesAndPixelsAreThoseOfArtDrawnThatLarge()
    {
        // The same page, drawn twice as large by its own contents.
        MiniPdf large = boxed_page();
        large.contents = "2 0 0 2 0 0 cm " + large.contents;
        large.width = 432;
        large.height = 288;
        large.page_extra = "/TrimBox [36 18 396 270] /BleedBox [18 0 414 288]";
        const OpenedJob made = at_scale(boxed_page(), 2), drawn = large.job();
        const PageInfo page = take(made.artwork->page_info(1)), same = take(drawn.artwork->page_info(1));
        for (const PageBox box : all_page_boxes) {
            QVERIFY(std::fabs(page.box(box).x - same.box(box).x) < 1e-6);
            QVERIFY(std::fabs(page.box(box).width - same.box(box).width) < 1e-6);
        }
        const auto tile_of = [](const OpenedJob &opened) {
            const auto content = take(opened.artwork->interpret(1, PageBox::Media));
            return take(
                take(PlateLine::make(content, setup_of(opened.job)))->whole_page(Dpi(150), Edges::Crisp));
        };
        const PlateTile a = tile_of(made), b = tile_of(drawn);
        QCOMPARE(a.rect, b.rect);
        for (std::size_t i = 0; i < a.plates.size(); ++i) {
            QVERIFY(a.plates[i].pixels == b.plates[i].pixels);
        }
    }

    void turnedPagesStretchAsTheyAreSeen()
    {
        MiniPdf pdf = boxed_page();
        pdf.page_extra += " /Rotate 90"; // seen 144 wide, 216 high
        OpenedJob opened = pdf.job();
        opened.job.film.across = 1.5;
        const Job stretched = stretched_for_press(opened.job);
        const auto artwork = take(assemble(opened.artwork, stretched.placements));
        const auto content = take(artwork->interpret(1, PageBox::Media));
        QVERIFY(std::fabs(content->width().value - 216) < 1e-3);
        QVERIFY(std::fabs(content->height().value - 216) < 1e-3);
        const PageInfo page = take(artwork->page_info(1)); // in the axes of the file, where it is up
        QVERIFY(std::fabs(page.box(PageBox::Media).width - 216 * mm) < 1e-6);
        QVERIFY(std::fabs(page.box(PageBox::Media).height - 216 * mm) < 1e-6);
    }

    void placedArtworkStaysWhereItWasOnTheArt()
    {
        MiniPdf small = spots_page("/B cs 1 scn 0 0 36 36 re f");
        small.width = small.height = 36;
        OpenedJob opened = boxed_page().job();
        PlacedArtwork placed;
        placed.name = "small";
        placed.original = small.artwork();
        placed.x = 150 * mm;
        placed.y = 18 * mm;
        opened.job.placements.artworks.push_back(placed);
        const Job twice = take(resized(opened.job, 2, *opened.artwork));
        QCOMPARE(twice.placements.artworks[0].scale, 2.0);
        const auto artwork = take(assemble(opened.artwork, twice.placements));
        const auto plates =
            take(take(PlateLine::make(take(artwork->interpret(1, PageBox::Media)), twice.inks()))
                     ->whole_page(Dpi(72), Edges::Crisp));
        const Plane &beta = plates.plates[1];
        for (const auto &[x, y, inked] : {std::tuple(301, 37, true),
                                          {371, 107, true},
                                          {298, 37, false},
                                          {374, 37, false},
                                          {301, 34, false}}) {
            QCOMPARE(beta.at(x, y) > 0, inked);
        }
    }

    void jobsRememberTheirSize()
    {
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        const OpenedJob made = at_scale(boxed_page(), 1.5);
        QVERIFY(save_job(path, made.job, *made.artwork));
        const OpenedJob opened = take(open_job(path));
        QVERIFY(opened.job == made.job);
        QVERIFY(std::fabs(take(opened.artwork->page_info(1)).box(PageBox::Media).width - 114.3) < 1e-6);
    }

    void impossibleSizesAreRefused()
    {
        OpenedJob opened = boxed_page().job();
        for (const double factor : {0.001, 200.0, std::nan(""), -1.0}) {
            const auto made =
                assemble(opened.artwork, take(resized(opened.job, factor, *opened.artwork)).placements);
            QVERIFY(!made);
            QCOMPARE(made.error().code, ErrorCode::OutOfRange);
        }
    }
};

BICHROM_TEST(TestResize, QCoreApplication)
#include "tst_resize.moc"
