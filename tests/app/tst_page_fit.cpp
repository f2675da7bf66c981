// What stands around and over the page, in the real window: bleed, named areas, templates, marks of the file.
#include "app/lighttable/plate_sheet.h"
#include "app/services/kept_sets.h"
#include "app/widgets/controls.h"
#include "core/job/kept_sets.h"
#include "core/job/route.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QUndoStack>

#include <algorithm>
#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// 50.8 × 50.8 mm, trimmed 5.08 mm inside; a bar from the trim's left, and a mark beside it.
MiniPdf trimmed_page()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 14.4 40 30 60 re f 0 60 8 2 re f /B cs 1 scn 70 40 20 60 re f");
    pdf.width = pdf.height = 144;
    pdf.page_extra = "/TrimBox [14.4 14.4 129.6 129.6]";
    return pdf;
}

struct PageFit : Bench
{
    QTemporaryDir folder;
    explicit PageFit(const MiniPdf &pdf = trimmed_page())
    {
        const QString path = folder.filePath(QStringLiteral("page.pdf"));
        pdf.save(path);
        open(path);
        waitForPlates();
        window.view().setLook(Look::Plates);
        chooseStage(Stage::Fit);
        actions = 0;
    }
    [[nodiscard]] const Job &job() { return window.session().job(); }
    NumberField *field(const char *name) { return find<NumberField>(QString::fromLatin1(name)); }
    QString words(const char *name) { return find<QLabel>(QString::fromLatin1(name))->text(); }
    /// The next entry of a list, by its key.
    void next(const char *name)
    {
        auto *combo = find<QComboBox>(QString::fromLatin1(name));
        QVERIFY(combo->isEnabled() && combo->isVisible());
        ++actions;
        combo->setFocus();
        QTest::keyClick(combo, Qt::Key_Down);
    }
    void waitUntilRead()
    {
        waitFor([&] { return !window.session().isLoading(); }, "the page is not read");
        waitForPlates();
    }
};

} // namespace

class TestPageFit : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void bleedIsMadeAndTakenBack()
    {
        PageFit bench;
        bench.press("panelSize");
        QVERIFY(bench.shownAt({3.5, 25}).lightness() > 240); // bare, beside the trim
        bench.enter(bench.field("bleedWidth"), QStringLiteral("3 mm"));
        QCOMPARE(bench.actions, 2);
        bench.waitUntilRead();
        QCOMPARE(bench.job().placements.bleed.width, 3.0);
        QVERIFY(bench.shownAt({3.5, 25}).lightness() < 200);
        bench.next("bleedBy");
        bench.waitUntilRead();
        QCOMPARE(bench.job().placements.bleed.by, BleedBy::Extend);
        // More than the page has room for: it grows, and what the artist marked stays on the art.
        Job pinned = bench.job();
        pinned.pins.push_back({20, 20, 0, 0, 1});
        bench.window.session().change(pinned, QStringLiteral("a pin"));
        bench.enter(bench.field("bleedWidth"), QStringLiteral("8"));
        bench.waitUntilRead();
        QVERIFY(std::abs(bench.window.session().page()->info.box(PageBox::Media).width - (50.8 + 2 * 2.92)) <
                1e-4);
        QVERIFY(std::abs(bench.job().pins.front().x - 22.92) < 1e-4);
        QUndoStack &undo = bench.window.session().undoStack();
        undo.undo();
        undo.undo();
        undo.undo();
        undo.undo();
        bench.waitUntilRead();
        QCOMPARE(bench.job().placements.bleed.width, 0.0);
        QVERIFY(std::abs(bench.window.session().page()->info.box(PageBox::Media).width - 50.8) < 1e-4);
        QVERIFY(bench.shownAt({3.5, 25}).lightness() > 240);
    }

    void anAreaIsDrawnTypedAndFound()
    {
        PageFit bench;
        bench.press("panelAreas");
        auto *list = bench.find<QListWidget>(QStringLiteral("areaList"));
        QCOMPARE(list->count(), 0);
        bench.table()->setHand(Hand::Area);
        const QPoint from = bench.table()->widgetFromPage({26, 20}).toPoint();
        const QPoint to = bench.table()->widgetFromPage({36, 30}).toPoint();
        QTest::mousePress(bench.table(), Qt::LeftButton, {}, from);
        QTest::mouseMove(bench.table(), (from + to) / 2);
        QTest::mouseMove(bench.table(), to);
        QTest::mouseRelease(bench.table(), Qt::LeftButton, {}, to);
        QCOMPARE(list->count(), 1);
        QCOMPARE(bench.job().areas.front().kind, AreaKind::KeepOut);
        QVERIFY(std::abs(bench.job().areas.front().area.x - 26) < 0.5);
        // Its place counts from the trim.
        bench.enter(bench.field("areaX"), QStringLiteral("20"));
        QVERIFY(std::abs(bench.job().areas.front().area.x - 25.08) < 1e-4);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("areaName")), QStringLiteral("window"));
        QCOMPARE(bench.job().areas.front().name, std::string("window"));
        // Beta prints there: a finding with the area's name, which goes when it moves away.
        const auto found = [&] {
            const std::vector<Finding> all = bench.window.session().facts().plateFindings();
            return std::any_of(all.begin(), all.end(),
                               [](const Finding &one) { return one.subject == "keep out 'window'"; });
        };
        bench.waitFor(found, "nobody says that something prints there");
        bench.enter(bench.field("areaWidth"), QStringLiteral("0")); // not a size
        QVERIFY(bench.words("areasWords").contains(QStringLiteral("width")));
        QVERIFY(bench.field("areaWidth")->value() > 1);
        bench.enter(bench.field("areaY"), QStringLiteral("33"));
        bench.waitFor([&] { return !found(); }, "the finding stays");
        // It is drawn over the page, never the same as without; hidden by one click.
        const auto seen = [&] {
            (void)bench.shownAt({30, 41}); // once all is painted
            const QRect around(bench.table()->widgetFromPage({28, 39}).toPoint(), QSize(30, 30));
            return bench.table()->grab(around).toImage();
        };
        const QImage with = seen();
        bench.press("areasShown");
        QVERIFY(!bench.window.view().showsAreas());
        QVERIFY(seen() != with);
        bench.press("removeArea");
        QVERIFY(bench.job().areas.empty());
        bench.window.session().undoStack().undo();
        QCOMPARE(bench.job().areas.size(), std::size_t(1));
    }

    void aKeptSetOfAStockIsUsed()
    {
        PageFit bench;
        QVERIFY(KeptSets(QStringLiteral("areas"))
                    .keep(QStringLiteral("Trail box"),
                          area_set_text("Trail box", {{AreaKind::Fold, "lid", {0, 10, 40, 0}, 0},
                                                      {AreaKind::Glue, "tab", {30, 0, 10, 5}, 0}})));
        bench.press("panelAreas");
        auto *kept = bench.find<QComboBox>(QStringLiteral("areasKept"));
        const int row = kept->findText(QStringLiteral("Trail box"));
        QVERIFY(row >= 0);
        kept->setCurrentIndex(row);
        Q_EMIT kept->activated(row);
        QCOMPARE(bench.job().areas.size(), std::size_t(2));
        QVERIFY(std::abs(bench.job().areas[0].area.y - 15.08) < 1e-4);
    }

    void aTemplateIsLookedAtAndNeverPrints()
    {
        PageFit bench;
        MiniPdf lines = spots_page("0 0 0 1 k 0 30 72 4 re f");
        const QString path = bench.folder.filePath(QStringLiteral("lines.pdf"));
        lines.save(path);
        bench.answers.open_file = path;
        bench.press("panelAreas");
        const QColor before = bench.shownAt({40, 25.4});
        const std::size_t plates = bench.job().plates.size();
        bench.press("layTemplate");
        bench.waitFor([&] { return bench.job().placements.artworks.size() == 1; }, "no template is placed");
        bench.waitUntilRead();
        QVERIFY(!bench.job().placements.artworks.front().prints);
        QCOMPARE(bench.job().plates.size(), plates);
        // In the middle of the page: its line is 30 to 34 of 72 points from its foot.
        const double y = 25.4 + (36 - 32) * 25.4 / 72;
        bench.waitFor([&] { return bench.shownAt({36, y}).lightness() < 90; }, "the template is not drawn");
        QVERIFY(bench.shownAt({40, 25.4}) == before); // its paper is not seen
        bench.press("areasShown");
        QVERIFY(bench.shownAt({36, y}).lightness() > 200);
        bench.press("removeArea");
        bench.waitFor([&] { return bench.job().placements.artworks.empty(); }, "the template stays");
        bench.waitUntilRead();
    }

    void filmsHoldWhatPrintsAndTheFilesMarksGo()
    {
        PageFit bench;
        bench.press("panelMarks");
        const QString page = bench.words("marksWords");
        bench.next("marksAround");
        QVERIFY(bench.job().film.around_art);
        bench.waitFor(
            [&] { return bench.words("marksWords") != page && !bench.words("marksWords").isEmpty(); },
            "the film stays as large");
        const QString with_mark = bench.words("marksWords");
        bench.next("ownMarks"); // left out: what prints ends at the bar
        bench.waitForPlates();
        bench.waitFor(
            [&] {
                return bench.words("marksWords") != with_mark &&
                       bench.words("marksWords").contains(QStringLiteral("mm"));
            },
            "the mark still prints");
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        bench.next("ownMarks");
        QCOMPARE(bench.job().routes.front().targets.size(), bench.job().plates.size());
        bench.window.session().undoStack().undo();
        bench.window.session().undoStack().undo();
        QVERIFY(bench.job().routes.empty());
    }

    void platesStandSideBySide()
    {
        PageFit bench;
        bench.press("lookPlates");
        bench.press("sideBySide");
        auto *sheet = bench.find<PlateSheet>(QStringLiteral("plateSheet"));
        bench.waitFor([&] { return sheet->isVisible() && sheet->isCurrent(); }, "no plates are seen");
        const QRect alpha = sheet->cellOf(QStringLiteral("Alpha")),
                    beta = sheet->cellOf(QStringLiteral("Beta"));
        QVERIFY(!alpha.isEmpty() && !beta.isEmpty() && !alpha.intersects(beta));
        const QImage seen = sheet->grab().toImage();
        // Alpha's bar is left of the middle, Beta's right of it; films are grey, ink is black.
        const auto dark = [&](const QRect &cell, double x) {
            const double side = std::min(cell.width(), cell.height() - 20);
            return seen.pixelColor(int(cell.left() + x * side), int(cell.top() + 20 + 0.5 * side))
                       .lightness() < 60;
        };
        QVERIFY(dark(alpha, 0.2) && !dark(alpha, 0.55));
        QVERIFY(!dark(beta, 0.2) && dark(beta, 0.55));
        // They follow what is done: Beta goes to Alpha's plate.
        Job job = bench.job();
        Route route;
        route.by = RouteBy::Ink;
        route.name = "Beta";
        route.targets = {{"Alpha", true, 1, {}}};
        (void)add_route(job.routes, route);
        bench.window.session().change(job, QStringLiteral("a route"));
        bench.waitForPlates();
        bench.waitFor([&] { return sheet->isCurrent(); }, "the plates do not follow");
        bench.waitFor(
            [&] {
                const QRect cell = sheet->cellOf(QStringLiteral("Alpha"));
                const double side = std::min(cell.width(), cell.height() - 20);
                return !cell.isEmpty() &&
                       sheet->grab()
                               .toImage()
                               .pixelColor(int(cell.left() + 0.55 * side), int(cell.top() + 20 + 0.5 * side))
                               .lightness() < 60;
            },
            "Beta is not on Alpha's film");
        // A click shows one alone, on the light table itself.
        QTest::mouseClick(sheet, Qt::LeftButton, {}, sheet->cellOf(QStringLiteral("Alpha")).center());
        QVERIFY(!sheet->isVisible());
        QCOMPARE(bench.window.view().alone(), QStringLiteral("Alpha"));
    }
};

BICHROM_TEST(TestPageFit, QApplication)
#include "tst_page_fit.moc"
