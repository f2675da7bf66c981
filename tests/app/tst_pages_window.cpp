// Pages, plates and films as an artist handles them: by keys and mouse in the real window.
#include "app/laydown/page_strip.h"
#include "app/laydown/plate_row.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/receive_worktop.h"
#include "core/job/change_slip.h"
#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QAction>
#include <QComboBox>
#include <QLabel>
#include <QListView>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QTableWidget>
#include <QToolButton>
#include <QTreeWidget>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Pages : Bench
{
    QTemporaryDir folder;

    Pages()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f");
        pdf.more_pages = {"/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 36 72 re f",
                          "/B cs 0.5 scn 0 0 72 36 re f"};
        openPdf(pdf);
    }
    ~Pages()
    {
        answers.unsaved = UnsavedChoice::Discard;
        window.close();
    }
    void openPdf(const MiniPdf &pdf)
    {
        const QString path = folder.filePath(QStringLiteral("book.pdf"));
        pdf.save(path);
        open(path);
    }
    [[nodiscard]] Session &session() { return window.session(); }
    [[nodiscard]] const Job &job() { return window.session().job(); }
    void key(int which, Qt::KeyboardModifiers with = {})
    {
        QTest::keyClick(&window, static_cast<Qt::Key>(which), with);
    }
    void waitForPage(int number)
    {
        waitFor([&] { return session().page()->info.number == number && !session().isLoading(); },
                "the page does not come");
    }
    PlateRow *row(const char *ink)
    {
        return find<PlateRow>(QStringLiteral("plate ") + QString::fromLatin1(ink));
    }
    void waitForCoverage()
    {
        using State = Fact<Facts::Coverage>::State;
        waitFor([&] { return session().facts().coverages().state() == State::Known; }, "no coverage");
    }
};

} // namespace

class TestPagesWindow : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void pagesAreTurnedByKeys()
    {
        Pages bench;
        QVERIFY(bench.find<PageStrip>(QStringLiteral("pageStrip"))->isVisible());
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.key(Qt::Key_PageDown); // before the first is there
        bench.waitForPage(3);
        QCOMPARE(bench.find<PageStrip>(QStringLiteral("pageStrip"))->currentRow(), 2);
        bench.key(Qt::Key_PageDown); // the last stays
        QVERIFY(!bench.session().isLoading());
        bench.key(Qt::Key_PageUp);
        bench.waitForPage(2);
        QVERIFY(!bench.session().isModified() && !bench.session().undoStack().canUndo());
        QCOMPARE(bench.job().inks(), (std::vector<std::string>{"Alpha", "Beta"}));
        // In every stage.
        for (int stage = 0; stage < 6; ++stage) {
            bench.key(Qt::Key_1 + stage, Qt::AltModifier);
            QVERIFY(bench.find<PageStrip>(QStringLiteral("pageStrip"))->isVisible());
        }
    }

    void aPlateIsRenamedInPlaceAndRemoved()
    {
        Pages bench;
        bench.row("Alpha")->setFocus();
        QTest::keyClick(bench.row("Alpha"), Qt::Key_F2);
        auto *name = bench.find<QLineEdit>(QStringLiteral("renamePlate"));
        QVERIFY(name->hasFocus());
        QTest::keyClicks(name, QStringLiteral("Moss"));
        QTest::keyClick(name, Qt::Key_Escape); // not this time
        QCOMPARE(bench.job().inks(), std::vector<std::string>{"Alpha"});
        QTRY_VERIFY(bench.window.findChild<QLineEdit *>(QStringLiteral("renamePlate")) == nullptr);
        QTest::mouseDClick(bench.row("Alpha"), Qt::LeftButton, {}, QPoint(60, 12)); // on the name
        name = bench.find<QLineEdit>(QStringLiteral("renamePlate"));
        name->selectAll();
        QTest::keyClicks(name, QStringLiteral("Moss"));
        QTest::keyClick(name, Qt::Key_Return);
        QTRY_COMPARE(bench.job().inks(), std::vector<std::string>{"Moss"});
        bench.waitForPlates();
        bench.waitForCoverage();
        QTRY_VERIFY(bench.session().facts().coverage("Moss") >
                    0.4); // what the artwork calls Alpha prints there
        bench.row("Moss")->setFocus();
        QTest::keyClick(bench.row("Moss"), Qt::Key_Delete);
        QTRY_VERIFY(bench.job().plates.empty());
        bench.session().undoStack().undo();
        bench.session().undoStack().undo();
        QCOMPARE(bench.job().inks(), std::vector<std::string>{"Alpha"});
    }

    void whatAPlateIsIsSaidInItsMenu()
    {
        Pages bench;
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        QContextMenuEvent ask(QContextMenuEvent::Mouse, QPoint(60, 30),
                              bench.row("Beta")->mapToGlobal(QPoint(60, 30)));
        QCoreApplication::sendEvent(bench.row("Beta"), &ask);
        auto *menu = bench.find<QMenu>(QStringLiteral("plateMenu"));
        menu->findChild<QAction *>(QStringLiteral("kind white"))->trigger();
        menu->close();
        QCOMPARE(bench.job().plates[0].ink, std::string("Beta")); // white is printed first
        QCOMPARE(bench.job().plates[0].kind, InkUse::White);
        const auto slip = list_changes(bench.job());
        QVERIFY(std::any_of(slip.begin(), slip.end(), [](const auto &line) {
            return line.what.find("Beta prints as opaque white") != std::string::npos;
        }));
    }

    void platesAreShownByKindAndSteppedThrough()
    {
        Pages bench;
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        Job job = bench.job();
        job.plates.push_back(propose_plate(job.plates, "Gloss", InkUse::Varnish, {98, 0, 1}));
        bench.session().change(job, QStringLiteral("test"));
        ViewState &view = bench.window.view();
        bench.key(Qt::Key_4, Qt::ControlModifier);
        QVERIFY(!view.isShown(QStringLiteral("Alpha")) && view.isShown(QStringLiteral("Gloss")));
        bench.key(Qt::Key_2, Qt::ControlModifier);
        QVERIFY(view.isShown(QStringLiteral("Alpha")) && !view.isShown(QStringLiteral("Gloss")));
        bench.key(Qt::Key_1, Qt::ControlModifier);
        QVERIFY(view.isShown(QStringLiteral("Alpha")) && view.isShown(QStringLiteral("Gloss")));
        bench.key(Qt::Key_Period);
        QCOMPARE(view.alone(), QStringLiteral("Gloss")); // from the top of the pile down
        bench.key(Qt::Key_Period);
        QCOMPARE(view.alone(), QStringLiteral("Beta"));
        bench.key(Qt::Key_Comma);
        QCOMPARE(view.alone(), QStringLiteral("Gloss"));
    }

    void keysComeHomeToTheTable()
    {
        Pages bench;
        LightTable *table = bench.table();
        ViewState &view = bench.window.view();
        const auto press = [&](Qt::Key key) { QTest::keyClick(QApplication::focusWidget(), key); };
        bench.click(bench.find<QWidget>(QStringLiteral("stage4"))); // a stage
        QTRY_VERIFY(table->hasFocus());
        press(Qt::Key_1);
        QCOMPARE(view.look(), Look::Print);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("resolution")), QStringLiteral("600"));
        QTRY_VERIFY(table->hasFocus()); // after Enter in a field
        press(Qt::Key_2);
        QCOMPARE(view.look(), Look::Plates);
        QCOMPARE(bench.job().film.resolution.value, 600.0);
        auto *field = bench.find<QLineEdit>(QStringLiteral("resolution"));
        field->setFocus();
        press(Qt::Key_Escape);
        QTRY_VERIFY(table->hasFocus());
        // A list does not swallow the table's keys, though it keeps the focus.
        bench.key(Qt::Key_2, Qt::AltModifier);
        auto *list = bench.find<QWidget>(QStringLiteral("routeList"));
        list->setFocus();
        press(Qt::Key_3);
        QCOMPARE(view.look(), Look::Dots);
        QVERIFY(list->hasFocus());
        // Who goes by Tab stays where he is.
        auto *button = bench.find<QPushButton>(QStringLiteral("plateEach"));
        button->setFocus();
        press(Qt::Key_Space);
        QTest::qWait(20);
        QVERIFY(button->hasFocus());
    }

    void aPlateAloneThatThePageLacksIsShownWithAllOthers()
    {
        Pages bench;
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        bench.waitForCoverage();
        bench.window.view().setAlone(QStringLiteral("Beta"));
        bench.key(Qt::Key_PageUp); // page 1 has no Beta
        bench.waitForPage(1);
        QTRY_VERIFY_WITH_TIMEOUT(bench.window.view().alone().isEmpty(), 30'000);
        // One that the page has stays alone.
        bench.window.view().setAlone(QStringLiteral("Alpha"));
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        bench.waitForCoverage();
        QCOMPARE(bench.window.view().alone(), QStringLiteral("Alpha"));
    }

    void aStockIsOfOnePageWhenToldSo()
    {
        Pages bench;
        auto *menu = bench.find<QMenu>(QStringLiteral("stockMenu"));
        Q_EMIT menu->aboutToShow();
        auto *here = menu->findChild<QAction *>(QStringLiteral("stockHere"));
        QVERIFY(here->isVisible() && !here->isChecked());
        here->trigger();
        for (QAction *action : menu->actions()) {
            if (action->text() == QStringLiteral("Black cotton")) {
                action->trigger();
            }
        }
        QCOMPARE(bench.job().stock_here().name, std::string("Black cotton"));
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        QVERIFY(bench.job().stock_here().name != "Black cotton");
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("stock"))
                     ->text()
                     .contains(QStringLiteral("Black cotton")));
    }

    void filmsAreTickedBeforeTheyAreWritten()
    {
        Pages bench;
        bench.table()->setFocus();
        bench.key(Qt::Key_PageDown);
        bench.waitForPage(2);
        bench.key(Qt::Key_PageUp);
        bench.waitForPage(1);
        bench.waitForCoverage();
        bench.key(Qt::Key_6, Qt::AltModifier);
        auto *films = bench.find<QTreeWidget>(QStringLiteral("filmList"));
        QTRY_COMPARE(films->topLevelItemCount(), 2);
        QTRY_COMPARE(films->topLevelItem(0)->checkState(0), Qt::Checked); // Alpha
        QCOMPARE(films->topLevelItem(1)->checkState(0), Qt::Unchecked);   // Beta prints nothing on page 1
        QVERIFY(bench.find<QLabel>(QStringLiteral("filmListNote"))->text().contains(QStringLiteral("Beta")));
        // Hidden plates are written all the same, and it says so.
        bench.window.view().setShown(QStringLiteral("Alpha"), false);
        QVERIFY(
            bench.find<QLabel>(QStringLiteral("filmListNote"))->text().contains(QStringLiteral("Hidden")));
        Job job = bench.job();
        job.film.resolution = Dpi(300);
        bench.session().change(job, QStringLiteral("test"));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmFolder")),
                    bench.folder.filePath(QStringLiteral("out")));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmPages")), QStringLiteral("all"));
        bench.press("writeFilms");
        auto *result = bench.find<QLabel>(QStringLiteral("writeResult"));
        QTRY_VERIFY_WITH_TIMEOUT(result->isVisible(), 30'000);
        QVERIFY2(result->text().contains(QStringLiteral("4 films of 3 pages")), qPrintable(result->text()));
        QVERIFY(QFile::exists(bench.folder.filePath(QStringLiteral("out/page-3/book-p3-2-Beta.tif"))));
        // Ticked off by the artist: not on any page.
        const QRect box = films->visualItemRect(films->topLevelItem(0));
        QTest::mouseClick(films->viewport(), Qt::LeftButton, {}, QPoint(box.x() + 10, box.center().y()));
        QCOMPARE(films->topLevelItem(0)->checkState(0), Qt::Unchecked);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmFolder")),
                    bench.folder.filePath(QStringLiteral("two")));
        bench.press("writeFilms");
        QTRY_VERIFY_WITH_TIMEOUT(
            result->isVisible() && result->text().contains(QStringLiteral("2 films of 2 pages")), 30'000);
    }

    void objectsChosenByAnAreaAreSentWithoutTheirColour()
    {
        Pages bench;
        MiniPdf pdf = spots_page("/A cs 1 scn 5 50 10 10 re f 30 50 10 10 re f 50 5 10 10 re f");
        bench.openPdf(pdf);
        bench.key(Qt::Key_2, Qt::AltModifier);
        bench.press("handArea");
        const double mm = millimetres_per_inch / points_per_inch;
        const QPoint from = bench.table()->widgetFromPage({2 * mm, 5 * mm}).toPoint();
        const QPoint to = bench.table()->widgetFromPage({45 * mm, 30 * mm}).toPoint();
        QTest::mousePress(bench.table(), Qt::LeftButton, {}, from);
        QTest::mouseMove(bench.table(), to);
        QTest::mouseRelease(bench.table(), Qt::LeftButton, {}, to);
        QVERIFY(
            bench.find<QLabel>(QStringLiteral("colourDetail"))->text().contains(QStringLiteral("2 objects")));
        bench.press("endProcess");
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].by, RouteBy::Objects);
        QCOMPARE(bench.job().routes[0].objects.size(), std::size_t(2));
        bench.press("endNothing"); // the same objects once more: one route
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        bench.press("endRelease");
        QVERIFY(bench.job().routes.empty());
    }

    void aFindingIsMendedByOneKeyAndTheWalkGoesOn()
    {
        Pages bench;
        bench.openPdf(
            spots_page("/A cs 1 scn 0 0 20 20 re f 0 1 0 0 k 30 0 20 20 re f 0 1 0 0 k 30 40 20 20 re f"));
        const Facts &facts = bench.session().facts();
        bench.waitFor([&] { return facts.findings() && facts.followed().value() != nullptr; }, "no findings");
        FindingsPanel &findings = bench.window.receive().findings();
        auto *deed = bench.find<QToolButton>(QStringLiteral("doDeed"));
        for (int i = 0; i < 20 && !deed->isVisible(); ++i) {
            bench.key(Qt::Key_N);
        }
        QVERIFY(deed->isVisible());
        QCOMPARE(deed->text(), QStringLiteral("Send these 2 objects to Alpha"));
        // A click in the artwork looks there, and the walk stays where it is.
        const QPointF on_second(40.0 / 72 * 25.4, 62.0 / 72 * 25.4);
        QTest::mouseClick(bench.table(), Qt::LeftButton, {},
                          bench.table()->widgetFromPage(on_second).toPoint());
        QTRY_COMPARE(bench.window.spotlight().object(), 1);
        QVERIFY(findings.isVisible());
        bench.key(Qt::Key_D);
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].targets[0].ink, std::string("Alpha"));
        QTRY_VERIFY(!deed->isVisible()); // solved; nothing else is thrown at the artist
        QCOMPARE(findings.currentPlace(), -1);
        QVERIFY(bench.window.spotlight().areas().empty());
    }

    void wordsAndInksAreFound()
    {
        Pages bench;
        bench.openPdf(
            spots_page("/A cs 1 scn 0 0 9 9 re f BT /F 12 Tf 5 30 Td (Quarry Moth) Tj 0 20 Td (Other) Tj ET "
                       "/B cs 0.5 scn 30 0 20 20 re f",
                       "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> >>"));
        bench.chooseStage(Stage::Build);
        bench.key(Qt::Key_F, Qt::ControlModifier);
        auto *find = bench.find<QLineEdit>(QStringLiteral("objectFind"));
        auto *count = bench.find<QLabel>(QStringLiteral("objectCount"));
        QVERIFY(find->isVisible() && find->hasFocus());
        QTest::keyClicks(find, QStringLiteral("moth"));
        QTRY_VERIFY2(count->text().startsWith(QStringLiteral("1 of")), qPrintable(count->text()));
        QTest::keyClick(find, Qt::Key_Return);
        QCOMPARE(bench.window.spotlight().areas().size(), std::size_t(1));
        find->setText(QStringLiteral("beta fill"));
        QTRY_VERIFY(count->text().startsWith(QStringLiteral("1 of")));
        find->setText(QStringLiteral("fill alpha"));
        const int first = bench.window.spotlight().object();
        bench.table()->setFocus();
        bench.key(Qt::Key_N); // goes on among what was found
        QVERIFY(bench.window.spotlight().object() != first);
        find->setText(QStringLiteral("nothing like it"));
        QTRY_VERIFY(count->text().startsWith(QStringLiteral("0 of")));
    }

    void whatWasSetForOneJobIsNotForTheNext()
    {
        Pages bench;
        bench.chooseStage(Stage::Ink);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("alikeWithin")), QStringLiteral("12"));
        auto *amount = bench.find<QComboBox>(QStringLiteral("routeAmount"));
        amount->setCurrentIndex(1);
        Q_EMIT amount->activated(1);
        bench.window.view().setHonoursOverprint(false);
        bench.openPdf(spots_page("/A cs 1 scn 0 0 9 9 re f"));
        QCOMPARE(bench.find<QLineEdit>(QStringLiteral("alikeWithin"))->text().trimmed(), QStringLiteral("0"));
        QCOMPARE(amount->currentIndex(), 0);
        QVERIFY(bench.window.view().honoursOverprint());
    }

    void theNearestInksStandAtThePointer()
    {
        Pages bench;
        bench.openPdf(spots_page("0.9 0.3 0.1 rg 0 0 40 40 re f /A cs 1 scn 50 50 9 9 re f"));
        bench.waitForCoverage();
        LightTable *table = bench.table();
        const QPoint place = table->widgetFromPage({10.0 / 72 * 25.4, 62.0 / 72 * 25.4}).toPoint();
        QTest::mouseClick(table, Qt::RightButton, {}, place);
        QMenu *menu = nullptr;
        bench.waitFor(
            [&] {
                menu = bench.window.findChild<QMenu *>(QStringLiteral("colourMenu"));
                return menu != nullptr && menu->isVisible();
            },
            "no menu");
        QCOMPARE(menu->findChildren<QAction *>(QStringLiteral("nearInk")).size(), 5);
        const auto before = bench.job().plates.size();
        const int steps = bench.session().undoStack().count();
        QTest::keyClick(menu, Qt::Key_Return); // the nearest: a plate and the route to it
        QTRY_COMPARE(bench.job().plates.size(), before + 1);
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        const std::string ink = bench.job().routes[0].targets[0].ink;
        QVERIFY(bench.job().find_plate(ink) >= 0);
        QCOMPARE(bench.session().undoStack().count(), steps + 1);
        // Its colour is the book's, not the artwork's.
        const auto &book = shipped_inks().inks;
        QVERIFY(std::any_of(book.begin(), book.end(), [&](const BookInk &one) {
            return one.name == ink &&
                   one.solid ==
                       bench.job().plates[static_cast<std::size_t>(bench.job().find_plate(ink))].solid;
        }));
    }

    void aPlateIsDraggedOntoAnObject()
    {
        Pages bench;
        bench.openPdf(spots_page("/A cs 1 scn 0 0 20 20 re f /B cs 1 scn 30 0 20 20 re f"));
        bench.chooseStage(Stage::Ink);
        bench.waitFor([&] { return bench.row("Beta")->isVisible(); }, "no plate");
        PlateRow *row = bench.row("Beta");
        const QPoint place = bench.table()->mapToGlobal(
            bench.table()->widgetFromPage({10.0 / 72 * 25.4, 62.0 / 72 * 25.4}).toPoint());
        const QPoint from = row->rect().center();
        QTest::mousePress(row, Qt::LeftButton, {}, from);
        for (const QPoint &at : {from + QPoint(20, 0), row->mapFromGlobal(place)}) {
            QMouseEvent move(QEvent::MouseMove, at, row->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                             Qt::NoModifier);
            QCoreApplication::sendEvent(row, &move);
        }
        QTest::mouseRelease(row, Qt::LeftButton, {}, row->mapFromGlobal(place));
        QTRY_COMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].targets[0].ink, std::string("Beta"));
        QCOMPARE(bench.job().plates.front().ink, std::string("Alpha")); // the order is as it was
    }

    void severalAreChosenAtOnce()
    {
        Pages bench;
        bench.openPdf(
            spots_page("/A cs 1 scn 0 0 9 9 re f /B cs 1 scn 20 0 9 9 re f 0 0 0 1 k 40 0 9 9 re f"));
        bench.waitFor([&] { return bench.row("Beta")->isVisible(); }, "no plate");
        // Plates: with Ctrl one more, with Shift all between; one deed for all of them.
        bench.choosePlate("Beta");
        QTest::mouseClick(bench.row("Black"), Qt::LeftButton, Qt::ControlModifier);
        QCOMPARE(bench.window.choice().plate(), QStringLiteral("Beta"));
        QVERIFY(bench.window.choice().isChosen(QStringLiteral("Black")));
        QVERIFY(!bench.window.choice().isChosen(QStringLiteral("Alpha")));
        QTest::mouseClick(bench.row("Black"), Qt::LeftButton, Qt::ControlModifier); // and one less
        QVERIFY(!bench.window.choice().isChosen(QStringLiteral("Black")));
        bench.choosePlate("Black");
        QTest::mouseClick(bench.row("Beta"), Qt::LeftButton, Qt::ShiftModifier);
        QVERIFY(bench.window.choice().isChosen(QStringLiteral("Alpha")));
        const int steps = bench.session().undoStack().count();
        bench.row("Beta")->setFocus();
        QTest::keyClick(bench.row("Beta"), Qt::Key_Delete);
        QTRY_VERIFY(bench.job().plates.empty());
        QCOMPARE(bench.session().undoStack().count(), steps + 1);
        bench.session().undoStack().undo();
        bench.waitForPlates();
        // Objects, and what Ink's buttons do with them.
        bench.press("panelObjects");
        auto *list = bench.find<QListView>(QStringLiteral("objectList"));
        const auto click = [&](int row, Qt::KeyboardModifiers keys) {
            QTest::mouseClick(list->viewport(), Qt::LeftButton, keys,
                              list->visualRect(list->model()->index(row, 0)).center());
        };
        click(0, {});
        click(2, Qt::ControlModifier);
        QCOMPARE(bench.window.choice().objects().size(), std::size_t(2));
        QCOMPARE(bench.window.spotlight().areas().size(), std::size_t(2));
        bench.chooseStage(Stage::Ink);
        bench.press("endNothing");
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].objects.size(), std::size_t(2));
        bench.press("endBare");
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
    }

    void layersAreSentOrLeftOut()
    {
        Pages bench;
        MiniPdf pdf =
            spots_page("/OC /First BDC /A cs 1 scn 0 0 20 20 re f EMC /OC /Second BDC /B cs 1 scn 30 0 "
                       "20 20 re f EMC",
                       "/Properties << /First 10 0 R /Second 11 0 R >>");
        pdf.objects = {"<< /Type /OCG /Name (Art) >>", "<< /Type /OCG /Name (Guides) >>",
                       "<< /Type /OCG /Name (Notes) >>"};
        pdf.catalog_extra = "/OCProperties << /OCGs [10 0 R 11 0 R 12 0 R] /D << /OFF [12 0 R] >> >>";
        bench.openPdf(pdf);
        bench.press("panelContents");
        const auto choose = [&](const char *layer, int row) {
            const QString name = QStringLiteral("layer ") + QLatin1String(layer);
            auto *chooser = bench.find<QWidget>(QStringLiteral("layersFound"))->findChild<QComboBox *>(name);
            if (chooser == nullptr || !chooser->isVisible()) {
                qFatal("no chooser for %s", layer);
            }
            chooser->setCurrentIndex(row);
            Q_EMIT chooser->activated(row);
        };
        choose("Guides", 1);
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].by, RouteBy::Layer);
        QCOMPARE(bench.job().routes[0].to, RouteTo::Nothing);
        bench.waitForPlates();
        bench.waitForCoverage();
        QTRY_COMPARE(bench.session().facts().coverage("Beta"), 0.0);
        choose("Guides", 2); // instead: to the first plate
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].targets[0].ink, std::string("Alpha"));
        choose("Guides", 0);
        QVERIFY(bench.job().routes.empty());
        QVERIFY(bench.window.findChild<QComboBox *>(QStringLiteral("layer Notes")) ==
                nullptr); // hidden: told
    }

    void inksByPagesLeadToPageAndPlate()
    {
        Pages bench;
        bench.press("panelContents");
        auto *grid = bench.find<QTableWidget>(QStringLiteral("pageInks"));
        QTRY_VERIFY(grid->isVisible() && grid->columnCount() == 3);
        QCOMPARE(grid->rowCount(), 2);
        QCOMPARE(grid->item(0, 0)->text(), QStringLiteral("3.2")); // cm², half of a page of an inch
        QVERIFY(grid->item(1, 0) == nullptr);                      // Beta is not on the first page
        QTest::mouseClick(grid->viewport(), Qt::LeftButton, {},
                          grid->visualItemRect(grid->item(1, 2)).center());
        bench.waitForPage(3);
        QCOMPARE(bench.window.view().alone(), QStringLiteral("Beta"));
    }

    void pouringGoesToWhatIsDown()
    {
        Pages bench;
        bench.openPdf(spots_page("/A cs 1 scn 0 0 20 20 re f /A cs 1 scn 30 0 20 20 re f"));
        bench.chooseStage(Stage::Ink);
        LightTable *table = bench.table();
        QTest::keyClick(table, Qt::Key_P);
        bench.press("endBare");
        QVERIFY(bench.job().routes.empty()); // it is what a click pours to
        const QPoint first = table->widgetFromPage({10.0 / 72 * 25.4, 62.0 / 72 * 25.4}).toPoint();
        QTest::mouseClick(table, Qt::LeftButton, Qt::ShiftModifier, first);
        QTRY_COMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].by, RouteBy::Objects);
        QCOMPARE(bench.job().routes[0].to, RouteTo::BareStock);
        bench.press("endNothing");
        QTest::mouseClick(table, Qt::LeftButton, {}, first);
        QTRY_COMPARE(bench.job().routes.size(),
                     std::size_t(2)); // the colour, wherever no other route decides
        QVERIFY(bench.job().routes[1].to == RouteTo::Nothing || bench.job().routes[0].to == RouteTo::Nothing);
        // A route lights what it decides while the pointer is on it.
        auto *list = bench.find<QListWidget>(QStringLiteral("routeList"));
        const QPoint on_route = list->visualItemRect(list->item(0)).center();
        QMouseEvent move(QEvent::MouseMove, on_route, list->viewport()->mapToGlobal(on_route), Qt::NoButton,
                         Qt::NoButton, Qt::NoModifier);
        QCoreApplication::sendEvent(list->viewport(), &move);
        QTRY_VERIFY(!bench.window.spotlight().areas().empty());
        QEvent leave(QEvent::Leave);
        QCoreApplication::sendEvent(list->viewport(), &leave);
        QVERIFY(bench.window.spotlight().areas().empty());
        // Both routes are chosen, and removed together.
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, list->visualItemRect(list->item(0)).center());
        QTest::mouseClick(list->viewport(), Qt::LeftButton, Qt::ControlModifier,
                          list->visualItemRect(list->item(1)).center());
        bench.press("routeRemove");
        QVERIFY(bench.job().routes.empty());
        QTest::keyClick(table, Qt::Key_Escape);
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("endNothing"))->isCheckable()); // a button again
        // Pouring goes on from stage to stage.
        bench.chooseStage(Stage::Build);
        QTest::keyClick(table, Qt::Key_P);
        bench.chooseStage(Stage::Ink);
        QVERIFY(bench.find<QPushButton>(QStringLiteral("endNothing"))->isCheckable());
    }

    void fromOpeningToFilmsIsThreeActions()
    {
        Pages bench;
        QTemporaryDir out;
        bench.openPdf(spots_page("/A cs 1 scn 0 0 20 20 re f /B cs 1 scn 30 0 20 20 re f")); // 1
        bench.actions = 1;
        bench.waitForCoverage();
        bench.chooseStage(Stage::Release); // 2
        bench.press("writeFilms");         // 3
        QVERIFY(bench.actions <= 12);
        QTRY_VERIFY_WITH_TIMEOUT(bench.find<QLabel>(QStringLiteral("writeResult"))
                                     ->text()
                                     .startsWith(QStringLiteral("2 films written")),
                                 30'000);
    }

    void aNewsletterInTwoInksIsEightActions()
    {
        // Two pages of black and a green build, with tints of both.
        Pages bench;
        QTemporaryDir out;
        MiniPdf pdf;
        pdf.contents =
            "0 0 0 1 k 0 0 20 20 re f 0.8 0.1 0.9 0.1 k 30 0 20 20 re f 0.4 0.05 0.45 0.05 k 30 30 20 20 "
            "re f 0 0 0 0.5 k 0 30 20 20 re f";
        pdf.more_pages = {"0 0 0 1 k 0 0 20 20 re f 0.2 0.025 0.225 0.025 k 30 0 20 20 re f"};
        bench.openPdf(pdf); // 1
        bench.actions = 1;
        bench.key(Qt::Key_2, Qt::AltModifier); // 2
        ++bench.actions;
        bench.press("plateEach"); // 3
        bench.waitForPlates();
        bench.key(Qt::Key_PageDown); // 4
        ++bench.actions;
        QTRY_COMPARE_WITH_TIMEOUT(bench.session().page()->info.number, 2, 30'000);
        bench.press("plateEach"); // 5
        bench.waitForPlates();
        bench.chooseStage(Stage::Release);                                                      // 6
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmPages")), QStringLiteral("all")); // 7
        bench.find<QLineEdit>(QStringLiteral("filmFolder"))->setText(out.path()); // where it is, is known
        bench.press("writeFilms");                                                // 8
        QVERIFY(bench.actions <= 8);
        QTRY_VERIFY_WITH_TIMEOUT(
            bench.find<QLabel>(QStringLiteral("writeResult"))->text().contains(QStringLiteral("written")),
            30'000);
        QStringList films;
        QDirIterator it(out.path(), {QStringLiteral("*.tif")}, QDir::Files, QDirIterator::Subdirectories);
        while (it.hasNext()) {
            films << it.next();
        }
        QVERIFY2(films.size() == 4,
                 qPrintable(films.join(QLatin1Char('\n')))); // two inks on each page, nothing else
        // The quarter of the green prints on the green's film.
        for (const Plate &plate : bench.job().plates) {
            const double share = bench.session().facts().coverage(plate.ink);
            QVERIFY(process_channel(plate.ink) >= 0 ? share <= 0 : share > 0);
        }
    }

    void aLogoIsSeparatedInThreeActions()
    {
        Pages bench;
        MiniPdf pdf;
        pdf.contents = "1 0 0 rg 0 0 10 10 re f 0 0 1 rg 20 0 10 10 re f 0 0.6 0 rg 40 0 10 10 re f";
        bench.openPdf(pdf);                    // 1
        bench.key(Qt::Key_2, Qt::AltModifier); // 2
        bench.press("plateEach");              // 3
        QCOMPARE(bench.job().plates.size(), std::size_t(3));
        bench.waitForPlates();
        bench.waitForCoverage();
        for (const Plate &plate : bench.job().plates) {
            QTRY_VERIFY(bench.session().facts().coverage(plate.ink) > 0);
        }
    }
};

BICHROM_TEST(TestPagesWindow, QApplication)
#include "tst_pages_window.moc"
