// A job of several pages: what holds for which of them, and what each puts on plates.
#include "core/base/page_list.h"
#include "core/job/edits/reading.h"
#include "core/job/replace_artwork.h"
#include "core/job/routing.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Alpha on page 1, Alpha and Beta on page 2, the square of Alpha at the same place.
OpenedJob three_pages()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f");
    pdf.more_pages = {"/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 36 72 re f", "/A cs 1 scn 0 0 36 72 re f"};
    return pdf.job();
}

/// Mean tone of a plate on a page, 0 to 255; −1 when the job has no such plate.
double tone(const OpenedJob &job, int page, const std::string &ink)
{
    const OpenedJob turned = take(turn_to(job, page));
    const int plate = turned.job.find_plate(ink);
    if (plate < 0) {
        return -1;
    }
    const auto line = take(PlateLine::make(
        take(turned.artwork->interpret(page, PageBox::Media, turned.job.colours)), setup_of(turned.job)));
    const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
    const Plane &plane = tile.plates[static_cast<std::size_t>(plate)];
    double sum = 0;
    for (int y = 0; y < plane.height; ++y) {
        for (int x = 0; x < plane.width; ++x) {
            sum += plane.at(x, y);
        }
    }
    return sum / (plane.width * plane.height);
}

Route to_ink(const char *from, const char *to)
{
    Route route;
    route.by = RouteBy::Ink;
    route.name = from;
    route.targets = {{to, true, 1, {}}};
    return route;
}

} // namespace

class TestPages : public QObject
{
    Q_OBJECT

private:
    /// Alpha prints on its own plate on page 1, and on that of \p ink on \p page.
    static void alphaGoesTo(const char *ink, const OpenedJob &job, int page)
    {
        QVERIFY(tone(job, 1, "Alpha") > 100);
        QCOMPARE(tone(job, 1, ink), 0.0);
        QCOMPARE(tone(job, page, "Alpha"), 0.0);
        QVERIFY(tone(job, page, ink) > 100);
    }

private Q_SLOTS:
    void listsAreRead_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<QString>("pages"); ///< empty = refused
        QTest::newRow("one") << "3"
                             << "3";
        QTest::newRow("all") << " all "
                             << "1-8";
        QTest::newRow("a range and one") << "1-3,5"
                                         << "1-3,5";
        QTest::newRow("blanks, out of order, twice") << " 5 , 2 - 3, 2"
                                                     << "2,3,5";
        QTest::newRow("touching ranges join") << "1-2,3-4"
                                              << "1-4";
        QTest::newRow("the last") << "8"
                                  << "8";
        QTest::newRow("beyond the end") << "7-9"
                                        << "";
        QTest::newRow("nought") << "0-2"
                                << "";
        QTest::newRow("backwards") << "3-1"
                                   << "";
        QTest::newRow("no number") << "1,,2"
                                   << "";
        QTest::newRow("empty") << ""
                               << "";
        QTest::newRow("open range") << "3-"
                                    << "";
        QTest::newRow("words") << "one"
                               << "";
        QTest::newRow("too large a number") << "99999999999"
                                            << "";
        QTest::newRow("negative") << "-1"
                                  << "";
    }

    void listsAreRead()
    {
        QFETCH(const QString, text);
        QFETCH(const QString, pages);
        const auto read = parse_pages(text.toStdString(), 8);
        QCOMPARE(read.ok(), !pages.isEmpty());
        if (read) {
            QCOMPARE(QString::fromStdString(format_pages(*read)), pages);
            QCOMPARE(take(parse_pages(format_pages(*read), 8)), *read);
        } else {
            QVERIFY(!read.error().reason.empty() && !read.error().remedy.empty());
        }
    }

    void anEmptyListMeansAllPages()
    {
        QVERIFY(holds_for({}, 7));
        QVERIFY(holds_for({2, 7}, 7) && !holds_for({2, 7}, 3));
        QCOMPARE(format_pages({}), std::string("all"));
        QCOMPARE(describe_pages({4}), std::string("on page 4"));
        QCOMPARE(describe_pages({1, 2, 3, 9}), std::string("on pages 1-3,9"));
    }

    void inksOfAnotherPageGetPlates()
    {
        const OpenedJob job = three_pages();
        QCOMPARE(job.job.inks(), std::vector<std::string>{"Alpha"});
        const OpenedJob second = take(turn_to(job, 2));
        QCOMPARE(second.job.inks(), (std::vector<std::string>{"Alpha", "Beta"}));
        QCOMPARE(second.job.page, 2);
        // Back on page 1 they stay, and print nothing there.
        const OpenedJob first = take(turn_to(second, 1));
        QCOMPARE(first.job.inks(), second.job.inks());
        QCOMPARE(tone(first, 1, "Beta"), 0.0);
        QVERIFY(tone(first, 2, "Beta") > 100);
        QCOMPARE(turn_to(job, 4).error().code, ErrorCode::NoSuchPage);
    }

    void inksThatWereTakenAwayOrSentElsewhereGetNone()
    {
        OpenedJob job = three_pages();
        job.job.removed = {"Beta"};
        QCOMPARE(take(turn_to(job, 2)).job.inks(), std::vector<std::string>{"Alpha"});
        OpenedJob sent = three_pages();
        sent.job = with_route(sent.job, to_ink("Beta", "Alpha"));
        QCOMPARE(take(turn_to(sent, 2)).job.inks(), std::vector<std::string>{"Alpha"});
        // Sent elsewhere on another page only: here it needs its plate.
        OpenedJob elsewhere = three_pages();
        Route route = to_ink("Beta", "Alpha");
        route.pages = {3};
        elsewhere.job = with_route(elsewhere.job, route);
        QCOMPARE(take(turn_to(elsewhere, 2)).job.inks(), (std::vector<std::string>{"Alpha", "Beta"}));
    }

    void routesHoldOnTheirPages_data()
    {
        QTest::addColumn<int>("by");
        for (const RouteBy by : {RouteBy::Ink, RouteBy::Colour, RouteBy::Similar}) {
            QTest::newRow(to_string(by)) << static_cast<int>(by);
        }
    }

    void routesHoldOnTheirPages()
    {
        QFETCH(const int, by);
        OpenedJob job = three_pages();
        const Scene scene = take(record_scene(*take(job.artwork->interpret(1, PageBox::Media))));
        Route route = to_ink("Alpha", "Gamma");
        if (static_cast<RouteBy>(by) != RouteBy::Ink) {
            route = route_from(scene, 1, {0}, 5);
            route.by = static_cast<RouteBy>(by);
            route.targets = {{"Gamma", false, 1, {}}};
        }
        route.pages = {3};
        job.job = with_route(job.job, route);
        alphaGoesTo("Gamma", job, 3);
        // The same for all pages is another route, and the particular one decides on its page.
        route.pages.clear();
        route.to = RouteTo::Nothing;
        route.targets.clear();
        add_route(job.job.routes, route);
        QCOMPARE(job.job.routes.size(), std::size_t(2));
    }

    void routesOfLayersHoldOnTheirPages()
    {
        MiniPdf pdf = spots_page("/OC /L BDC /A cs 1 scn 0 0 36 72 re f EMC", "/Properties << /L 11 0 R >>");
        pdf.more_pages = {pdf.contents};
        pdf.objects = {"null", "<< /Type /OCG /Name (Shine) >>"};
        pdf.catalog_extra = "/OCProperties << /OCGs [11 0 R] /D << /ON [11 0 R] >> >>";
        OpenedJob job = pdf.job();
        Route route;
        route.by = RouteBy::Layer;
        route.name = "Shine";
        route.targets = {{"Gloss", false, 1, {}}};
        route.pages = {2};
        job.job = with_route(job.job, route);
        alphaGoesTo("Gloss", job, 2);
    }

    void recipesHoldOnTheirPages()
    {
        OpenedJob job = three_pages();
        Plate white = propose_plate(job.job.plates, "White", InkUse::White, {96, 0, 0});
        white.recipe = {RecipeStep{}}; // the artwork area
        white.recipe_pages = {2};
        job.job.plates.push_back(white);
        QCOMPARE(tone(job, 1, "White"), 0.0);
        QCOMPARE(tone(job, 2, "White"), 255.0);
        QCOMPARE(tone(job, 3, "White"), 0.0);
    }

    void eachPageMayHaveItsStock()
    {
        OpenedJob job = three_pages();
        Stock black;
        black.name = "Black stock";
        black.colour = {16, 0, 0};
        job.job.page_stocks[3] = black;
        QCOMPARE(job.job.stock_here().name, job.job.stock.name);
        job.job.page = 3;
        QCOMPARE(job.job.stock_here().name, std::string("Black stock"));
        QCOMPARE(setup_of(job.job).stock.name, std::string("Black stock"));
    }

    void allOfItIsSaved()
    {
        OpenedJob job = three_pages();
        Route route = to_ink("Alpha", "Gamma");
        route.pages = {1, 3};
        job.job = with_route(job.job, route);
        job.job.plates[0].recipe = {RecipeStep{}};
        job.job.plates[0].recipe_pages = {2};
        job.job.plates[0].uncoloured = true;
        job.job.page_stocks[2].name = "Another";
        job.job.page_stocks[2].clear = true;
        job.job.pins = {{1, 2, 3, 4, 2}};
        QTemporaryDir folder;
        const std::string path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        QVERIFY(save_job(path, job.job, *job.artwork));
        QVERIFY(take(open_job(path)).job == job.job);
    }
};

BICHROM_TEST(TestPages, QCoreApplication)
#include "tst_pages.moc"
