// Sending colours to plates in the real window.
#include "app/laydown/lay_down.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/flow_picture.h"

#include "core/colour/ink_book.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Routes : Bench
{
    FlowPicture *flow = find<FlowPicture>(QStringLiteral("flowPicture"));
    QListWidget *list = find<QListWidget>(QStringLiteral("routeList"));

    void openCard()
    {
        open(QStringLiteral(BICHROM_SOURCE_DIR "/demo/trail-card-messy.pdf"));
        window.setStage(Stage::Ink);
        waitFor([&] { return !window.session().facts().colourAreas().empty(); }, "colours are not measured");
    }
    const Job &job() { return window.session().job(); }
    int source(const QString &name)
    {
        for (std::size_t i = 0; i < flow->sources().size(); ++i) {
            if (flow->sources()[i].name == name) {
                return static_cast<int>(i);
            }
        }
        qFatal("no colour %s", qPrintable(name));
    }
    int end(const QString &name)
    {
        for (std::size_t i = 0; i < flow->ends().size(); ++i) {
            if (flow->ends()[i].name == name) {
                return static_cast<int>(i);
            }
        }
        qFatal("no end %s", qPrintable(name));
    }
    QStringList reached(const QString &name)
    {
        QStringList ends;
        for (const FlowSource::Stream &stream :
             flow->sources()[static_cast<std::size_t>(source(name))].streams) {
            ends << flow->ends()[static_cast<std::size_t>(stream.to)].name;
        }
        return ends;
    }
    void clickSource(const QString &name)
    {
        QTest::mouseClick(flow, Qt::LeftButton, {}, flow->sourceRect(source(name)).center());
    }
    void clickEnd(const QString &name)
    {
        QTest::mouseClick(flow, Qt::LeftButton, {}, flow->endRect(end(name)).center());
    }
};

const QPointF on_leaf(36, 114); // a process build
const QPointF on_sign(99, 142); // Dusk Blue
const QPointF on_frame(9, 80);  // Trail Green
const QString leaf = QStringLiteral("C 80 M 20 Y 85 K 20");

} // namespace

class TestRoutesWindow : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void everyColourIsShownWithWhereItGoes()
    {
        Routes bench;
        bench.openCard();
        QCOMPARE(bench.flow->sources().size(), std::size_t(16));
        QCOMPARE(bench.flow->ends().size(), std::size_t(13)); // 11 plates, bare stock, no print
        QCOMPARE(bench.reached(QStringLiteral("Dusk Blue")), QStringList(QStringLiteral("Dusk Blue")));
        QCOMPARE(bench.reached(leaf).size(), 4);
        QVERIFY(bench.flow->sources()[0].area >= bench.flow->sources()[1].area); // the largest first
        for (const FlowSource &source : bench.flow->sources()) {
            QVERIFY(!source.lost);
        }
    }

    void severalColoursAreSentInOneStep()
    {
        Routes bench;
        bench.openCard();
        bench.clickEnd(QStringLiteral("Trail Green"));
        bench.clickSource(QStringLiteral("Path Green"));
        QTest::mouseClick(bench.flow, Qt::LeftButton, Qt::ControlModifier,
                          bench.flow->sourceRect(bench.source(leaf)).center());
        QVERIFY(bench.find<QLabel>(QStringLiteral("colourDetail"))
                    ->text()
                    .contains(QStringLiteral("1 more colour")));
        const int steps = bench.window.session().undoStack().count();
        bench.press("sendColour");
        QCOMPARE(bench.window.session().undoStack().count(), steps + 1);
        QCOMPARE(bench.reached(QStringLiteral("Path Green")), QStringList(QStringLiteral("Trail Green")));
        QCOMPARE(bench.reached(leaf), QStringList(QStringLiteral("Trail Green")));
        // Dragged together to another end; a click without Ctrl chooses one again.
        QTest::mousePress(bench.flow, Qt::LeftButton, {},
                          bench.flow->sourceRect(bench.source(leaf)).center());
        const QPoint bare = bench.flow->endRect(bench.end(QStringLiteral("bare stock"))).center();
        QTest::mouseMove(bench.flow, bare);
        QTest::mouseRelease(bench.flow, Qt::LeftButton, {}, bare);
        QCOMPARE(bench.reached(QStringLiteral("Path Green")), QStringList(QStringLiteral("bare stock")));
        QCOMPARE(bench.reached(leaf), QStringList(QStringLiteral("bare stock")));
        QCOMPARE(bench.window.session().undoStack().count(), steps + 2);
        bench.press("endRelease");
        QVERIFY(bench.job().routes.empty());
        bench.clickSource(leaf);
        QVERIFY(bench.flow->besides().empty());
        bench.press("endNothing");
        QCOMPARE(bench.reached(QStringLiteral("Path Green")), QStringList(QStringLiteral("Path Green")));
    }

    void objectsOfARouteHaveARow()
    {
        Routes bench;
        bench.openCard();
        const std::size_t colours = bench.flow->sources().size();
        bench.clickEnd(QStringLiteral("Moth Copper"));
        bench.press("handPour");
        QTest::mouseClick(bench.table(), Qt::LeftButton, Qt::ShiftModifier,
                          bench.table()->widgetFromPage(on_leaf).toPoint());
        bench.waitFor([&] { return bench.flow->sources().size() == colours + 1; }, "the object has no row");
        const FlowSource &row = bench.flow->sources().back();
        QCOMPARE(row.places.size(), std::size_t(1));
        QVERIFY(row.places[0].contains(QPointF(on_leaf.x() / 111, on_leaf.y() / 154)));
        QCOMPARE(bench.reached(row.name), QStringList(QStringLiteral("Moth Copper")));
        // Lit under the pointer, chosen by a click, sent elsewhere by the buttons, let go by Delete.
        const QPoint at = bench.flow->sourceRect(static_cast<int>(colours)).center();
        bench.waitFor(
            [&] { // as by the wheel
                qobject_cast<QScrollArea *>(bench.flow->parentWidget()->parentWidget())
                    ->ensureVisible(at.x(), at.y());
                return bench.flow->visibleRegion().contains(at);
            },
            "the row cannot be seen");
        QTest::mouseMove(bench.flow, at);
        QTRY_COMPARE(bench.window.spotlight().areas().size(), std::size_t(1));
        QTest::mouseClick(bench.flow, Qt::LeftButton, {}, at);
        bench.press("handMove");
        bench.press("endBare");
        QCOMPARE(bench.reached(bench.flow->sources().back().name), QStringList(QStringLiteral("bare stock")));
        bench.flow->setFocus();
        QTest::mouseClick(bench.flow, Qt::LeftButton, {}, at);
        QTest::keyClick(bench.flow, Qt::Key_Delete);
        QVERIFY(bench.job().routes.empty());
        QCOMPARE(bench.flow->sources().size(), colours);
    }

    void objectsDrawnAroundAreSentTogether()
    {
        Routes bench;
        bench.openCard();
        bench.clickEnd(QStringLiteral("Moth Copper"));
        // Around the first leaf and its neighbours; nothing that reaches beyond is taken.
        const QRectF around(15, 95, 45, 40);
        Q_EMIT bench.table()->areaDrawn(around, {});
        const auto &scene = bench.window.session().page()->scene;
        const std::size_t lit = bench.window.spotlight().areas().size();
        QVERIFY(lit > 1 && lit < scene.objects.size());
        for (const QRectF &area : bench.window.spotlight().areas()) {
            QVERIFY(around.contains(area));
        }
        QTest::keyClick(&bench.window, Qt::Key_R);
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.job().routes[0].objects.size(), lit);
        QCOMPARE(bench.job().routes[0].targets[0].ink, std::string("Moth Copper"));
        bench.waitForPlates();
        const QColor leaf_now = bench.shownAt(on_leaf);
        QVERIFY2(leaf_now.red() > leaf_now.green(), qPrintable(leaf_now.name()));
        // The selection is used up: the key takes the chosen colour again.
        bench.clickSource(QStringLiteral("Dusk Blue"));
        QTest::keyClick(&bench.window, Qt::Key_R);
        QCOMPARE(bench.job().routes.size(), std::size_t(2));
        QVERIFY(bench.job().routes[1].by == RouteBy::Colour || bench.job().routes[0].by == RouteBy::Colour);
    }

    void oneKeySendsTheChosenColourToTheChosenPlate()
    {
        Routes bench;
        bench.openCard();
        const QColor before = bench.shownAt(on_leaf);
        bench.clickSource(leaf);
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("sendColour"))->isEnabled()); // no plate yet
        bench.clickEnd(QStringLiteral("Moth Copper"));
        QTest::keyClick(&bench.window, Qt::Key_R);
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.reached(leaf), QStringList(QStringLiteral("Moth Copper")));
        bench.waitForPlates();
        const QColor after = bench.shownAt(on_leaf);
        QVERIFY2(after != before && after.red() > after.green(), qPrintable(after.name()));
        QVERIFY(bench.window.session().undoStack().undoText().contains(QStringLiteral("Moth Copper")));
        bench.window.session().undoStack().undo();
        QVERIFY(bench.job().routes.empty());
        bench.waitForPlates();
        QCOMPARE(bench.shownAt(on_leaf), before);
        bench.window.session().undoStack().redo();
        bench.waitForPlates();
        QCOMPARE(bench.shownAt(on_leaf), after);
    }

    void dragAndKeysDoTheSame()
    {
        Routes bench;
        bench.openCard();
        const QPoint from = bench.flow->sourceRect(bench.source(leaf)).center();
        const QPoint to = bench.flow->endRect(bench.end(QStringLiteral("White"))).center();
        QTest::mousePress(bench.flow, Qt::LeftButton, {}, from);
        QTest::mouseMove(bench.flow, (from + to) / 2);
        QTest::mouseMove(bench.flow, to);
        QTest::mouseRelease(bench.flow, Qt::LeftButton, {}, to);
        QCOMPARE(bench.reached(leaf), QStringList(QStringLiteral("White")));
        // By keys: the next colour, the plate below, Return; Delete takes it back.
        bench.flow->setFocus();
        bench.clickSource(leaf);
        bench.clickEnd(QStringLiteral("White"));
        QTest::keyClick(bench.flow, Qt::Key_Right);
        QTest::keyClick(bench.flow, Qt::Key_Return);
        QCOMPARE(bench.job().routes.size(), std::size_t(1)); // the same colour: the route is replaced
        QVERIFY(bench.reached(leaf) != QStringList(QStringLiteral("White")));
        QTest::keyClick(bench.flow, Qt::Key_Delete);
        QVERIFY(bench.job().routes.empty());
        QCOMPARE(bench.reached(leaf).size(), 4);
    }

    void theOtherEndsAreButtonsAndTargets()
    {
        Routes bench;
        bench.openCard();
        const QString blue = QStringLiteral("Dusk Blue");
        bench.clickSource(blue);
        bench.press("endBare");
        QCOMPARE(bench.reached(blue), QStringList(QStringLiteral("bare stock")));
        bench.press("endNothing");
        QCOMPARE(bench.reached(blue), QStringList(QStringLiteral("no print")));
        bench.press("endProcess");
        QCOMPARE(bench.reached(blue).size(), 4);
        bench.press("endWhite"); // the card has a spot of that name: it is white ink from now on
        QCOMPARE(bench.reached(blue), QStringList(QStringLiteral("White")));
        QCOMPARE(bench.job().plates[static_cast<std::size_t>(bench.job().find_plate("White"))].kind,
                 InkUse::White);
        QCOMPARE(bench.list->count(), 1);
        bench.press("endRelease");
        QCOMPARE(bench.reached(blue), QStringList(blue));
        QCOMPARE(bench.list->count(), 0);
    }

    void amountsAreSolidOwnOrFixed()
    {
        Routes bench;
        bench.openCard();
        const QString tint = QStringLiteral("Moth Copper 60");
        bench.clickSource(tint);
        bench.clickEnd(QStringLiteral("White"));
        auto *amount = bench.find<QComboBox>(QStringLiteral("routeAmount"));
        const auto choose = [&](int index) {
            amount->setCurrentIndex(index);
            Q_EMIT amount->activated(index);
        };
        const auto strength = [&] {
            return bench.flow->sources()[static_cast<std::size_t>(bench.source(tint))].streams.at(0).amount;
        };
        bench.press("sendColour");
        QCOMPARE(strength(), 1.0);
        choose(1);
        bench.press("sendColour");
        QVERIFY(std::fabs(strength() - 0.6) < 1e-6);
        choose(2);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("routeTint")), QStringLiteral("25 %"));
        bench.press("sendColour");
        QCOMPARE(strength(), 0.25);
    }

    void alikeColoursGoTogether()
    {
        Routes bench;
        bench.openCard();
        bench.enter(bench.find<QLineEdit>(QStringLiteral("alikeWithin")), QStringLiteral("2"));
        QVERIFY(bench.flow->sources().size() < 12);
        const QString greens = QStringLiteral("Trail Green  +4");
        bench.clickSource(greens);
        bench.clickEnd(QStringLiteral("Trail Green"));
        bench.press("sendColour");
        QCOMPARE(bench.job().routes.at(0).by, RouteBy::Similar);
        bench.waitForPlates();
        bench.window.view().setAlone(QStringLiteral("Trail Green"));
        QCOMPARE(bench.shownAt(on_leaf), QColor(Qt::black)); // as film: solid
        // By colourants the two other leaf builds are within 1 %, and the spots stay apart.
        auto *measure = bench.find<QComboBox>(QStringLiteral("alikeMeasure"));
        measure->setCurrentIndex(1);
        Q_EMIT measure->activated(1);
        auto *alike = bench.find<QLineEdit>(QStringLiteral("alikeWithin"));
        bench.enter(alike, QStringLiteral("1.5"));
        QVERIFY(bench.source(leaf + QStringLiteral("  +2")) >= 0);
        QVERIFY(bench.source(QStringLiteral("Path Green")) >= 0);
        measure->setCurrentIndex(0);
        Q_EMIT measure->activated(0);
        bench.enter(alike, QStringLiteral("2"));
        bench.press("likeThis");
        QCOMPARE(bench.window.spotlight().areas().size(), std::size_t(8)); // six leaves, the frame, the path
    }

    void pouringSendsTheColourUnderThePointer()
    {
        Routes bench;
        bench.openCard();
        LightTable *table = bench.table();
        table->setFocus();
        QTest::keyClick(table, Qt::Key_P);
        QCOMPARE(table->hand(), Hand::Pour);
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_sign).toPoint());
        QTest::qWait(300);
        QVERIFY(bench.job().routes.empty()); // no plate is chosen: nothing happens, and the table says why
        bench.window.choice().choosePlate(QStringLiteral("Trail Green"));
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_sign).toPoint());
        bench.waitFor([&] { return bench.job().routes.size() == 1; }, "nothing was poured");
        QCOMPARE(bench.job().routes[0].by, RouteBy::Colour);
        QCOMPARE(bench.reached(QStringLiteral("Dusk Blue")), QStringList(QStringLiteral("Trail Green")));
        // With Shift only the object: one leaf of its colour's two.
        bench.window.choice().choosePlate(QStringLiteral("White"));
        QTest::mouseClick(table, Qt::LeftButton, Qt::ShiftModifier, table->widgetFromPage(on_leaf).toPoint());
        bench.waitFor([&] { return bench.job().routes.size() == 2; }, "nothing was poured");
        QCOMPARE(bench.job().routes[0].by, RouteBy::Objects); // the more particular route comes first
        bench.waitForPlates();
        QCOMPARE(bench.reached(leaf).size(), 4); // the colour itself stays
        bench.window.view().setAlone(QStringLiteral("White"));
        QCOMPARE(bench.shownAt(on_leaf), QColor(Qt::black));
    }

    void anInkOfTheBookIsDraggedOntoTheArtwork()
    {
        Routes bench;
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("two.pdf"));
        MiniPdf pdf;
        pdf.contents = "0 0.9 0.8 0.1 k 0 0 30 72 re f 0.9 0.6 0 0.1 k 40 0 30 30 re f 40 40 30 30 re f";
        pdf.save(file);
        bench.open(file);
        bench.window.setStage(Stage::Ink);
        bench.press("panelBook");
        auto *book = bench.find<QListWidget>(QStringLiteral("inkBook"));
        LightTable *table = bench.table();
        const double mm = millimetres_per_inch / points_per_inch;
        const auto drag = [&](int row, QPointF points, Qt::KeyboardModifiers keys = {}) {
            book->scrollToItem(book->item(row));
            QWidget *from = book->viewport();
            const QPoint start = book->visualItemRect(book->item(row)).center();
            const QPoint end =
                from->mapFromGlobal(table->mapToGlobal(table->widgetFromPage(points * mm).toPoint()));
            if (keys != Qt::NoModifier) {
                QTest::keyPress(&bench.window, Qt::Key_Shift);
            }
            QTest::mousePress(from, Qt::LeftButton, keys, start);
            QTest::mouseMove(from, start + QPoint(-20, 0));
            QMouseEvent move(QEvent::MouseMove, end, from->mapToGlobal(end), Qt::NoButton, Qt::LeftButton,
                             keys);
            QCoreApplication::sendEvent(from, &move);
            QTest::mouseRelease(from, Qt::LeftButton, keys, end);
            if (keys != Qt::NoModifier) {
                QTest::keyRelease(&bench.window, Qt::Key_Shift);
            }
        };
        const QString first = QString::fromStdString(shipped_inks().inks[4].name);
        drag(4, {15, 36}); // the plate is made, and the colour goes there: one step
        QTRY_COMPARE(bench.job().routes.size(), std::size_t(1));
        QVERIFY(bench.job().find_plate(first.toStdString()) >= 0);
        QCOMPARE(bench.job().routes[0].targets[0].ink, first.toStdString());
        QVERIFY(bench.job().routes[0].by != RouteBy::Objects);
        QCOMPARE(bench.window.choice().plate(), first);
        bench.window.session().undoStack().undo();
        QVERIFY(bench.job().routes.empty() && bench.job().find_plate(first.toStdString()) < 0);
        // Over the lay-down a plate is made; one that is there already is told of.
        const auto over_pile = [&](int row) {
            const auto *pile = bench.window.findChild<LayDown *>();
            drag(row,
                 table->pageFromWidget(table->mapFromGlobal(pile->mapToGlobal(pile->rect().center()))) / mm);
        };
        over_pile(4);
        QVERIFY(bench.job().find_plate(first.toStdString()) >= 0);
        QVERIFY(bench.job().routes.empty());
        QCOMPARE(bench.window.choice().plate(), first);
        const auto plates = bench.job().plates.size();
        over_pile(4);
        QCOMPARE(bench.job().plates.size(), plates);
        QVERIFY(table->said().contains(first));
        bench.window.session().undoStack().undo();
        // Beside the artwork nothing happens; a click in the list still chooses.
        drag(4, {36, 20});
        QTest::qWait(200);
        QVERIFY(bench.job().routes.empty());
        QTest::mouseClick(book->viewport(), Qt::LeftButton, {}, book->visualItemRect(book->item(2)).center());
        QCOMPARE(book->currentRow(), 2);
    }

    void whatReachesNoPlateIsFoundAndBlinks()
    {
        Routes bench;
        bench.openCard();
        const Facts &facts = bench.window.session().facts();
        bench.waitFor([&] { return facts.findings() && facts.followed().value() != nullptr; }, "no check");
        const auto before = facts.findings()->size();
        bench.clickEnd(QStringLiteral("Dusk Blue"));
        bench.press("removePlate");
        QCOMPARE(bench.job().find_plate("Dusk Blue"), -1);
        QVERIFY(
            bench.flow->sources()[static_cast<std::size_t>(bench.source(QStringLiteral("Dusk Blue")))].lost);
        bench.waitFor([&] { return bench.window.session().facts().openLosses().size() == 1; },
                      "the loss is not found");
        bench.waitFor([&] { return bench.window.session().facts().findings()->size() == before + 1; },
                      "no finding");
        LightTable *table = bench.table();
        table->setFocus();
        QTest::keyClick(table, Qt::Key_B);
        QCOMPARE(bench.window.spotlight().areas().size(), std::size_t(1));
        QVERIFY(bench.window.spotlight().areas()[0].contains(on_sign));
        QTRY_VERIFY(bench.window.spotlight().isDark());
        QTRY_VERIFY(!bench.window.spotlight().isDark());
        // Sent elsewhere it is lost no more.
        bench.clickSource(QStringLiteral("Dusk Blue"));
        bench.clickEnd(QStringLiteral("Black"));
        bench.press("sendColour");
        bench.waitFor([&] { return bench.window.session().facts().openLosses().empty(); }, "still lost");
        // A new plate by name: colour and kind come from the book.
        auto *name = bench.find<QLineEdit>(QStringLiteral("newPlate"));
        name->setText(QStringLiteral("Luna Green")); // typing would open the list of the book's names
        QTest::keyClick(name, Qt::Key_Return);
        QCOMPARE(bench.job().plates.back().ink, std::string("Luna Green"));
        QVERIFY(bench.job().plates.back().solid.a < -10);
        QCOMPARE(bench.window.choice().plate(), QStringLiteral("Luna Green"));
    }

    void proposalsAreAcceptedOneByOneOrDownToACount()
    {
        Routes bench;
        bench.openCard();
        bench.press("panelSavings");
        auto *savings = bench.find<QListWidget>(QStringLiteral("savings"));
        QVERIFY(savings->count() >= 5);
        QVERIFY(savings->item(0)->text().contains(QStringLiteral("MOTH COPPER")));
        savings->setCurrentRow(0);
        bench.press("takeSaving");
        QCOMPARE(bench.job().plates.size(), std::size_t(10));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("savingTarget")), QStringLiteral("8"));
        bench.press("takeSavings");
        QCOMPARE(bench.job().plates.size(), std::size_t(8));
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("takeSavings"))->isEnabled()); // there already
        bench.window.session().undoStack().undo();
        QCOMPARE(bench.job().plates.size(), std::size_t(10));
        bench.waitForPlates();
        bench.waitFor([&] { return bench.window.session().facts().openLosses().empty(); },
                      "something got lost");
    }

    void inksAreMergedWithAPreview()
    {
        Routes bench;
        bench.openCard();
        bench.press("panelSavings");
        auto *from = bench.find<QLineEdit>(QStringLiteral("mergeFrom"));
        auto *to = bench.find<QLineEdit>(QStringLiteral("mergeTo"));
        auto *match = bench.find<QComboBox>(QStringLiteral("mergeMatch"));
        auto *preview = bench.find<QLabel>(QStringLiteral("mergePreview"));
        from->setText(QStringLiteral("moth copper"));
        QVERIFY(preview->text().contains(QStringLiteral("No ink")));
        match->setCurrentIndex(1);
        QCOMPARE(preview->text(), QStringLiteral("Moth Copper\nMOTH COPPER"));
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("mergeInks"))->isEnabled()); // no new name yet
        to->setText(QStringLiteral("Copper"));
        QVERIFY(preview->text().contains(QStringLiteral("MOTH COPPER → Copper")));
        bench.press("mergeInks");
        QCOMPARE(bench.job().plates.size(), std::size_t(10));
        QVERIFY(bench.job().find_plate("Copper") >= 0);
        match->setCurrentIndex(2);
        from->setText(QStringLiteral("("));
        QVERIFY(preview->text().size() > 20); // what is wrong with it
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("mergeInks"))->isEnabled());
    }

    void aRevisedFileTakesThePlaceOfTheOld()
    {
        Routes bench;
        bench.openCard();
        bench.clickSource(QStringLiteral("Dusk Blue")); // not in the new file
        bench.clickEnd(QStringLiteral("Trail Green"));
        bench.press("sendColour");
        bench.clickSource(QStringLiteral("K 100"));
        bench.clickEnd(QStringLiteral("Moth Copper"));
        bench.press("sendColour");
        const auto old_artwork = bench.window.session().opened().artwork;
        bench.answers.open_file = QStringLiteral(BICHROM_SOURCE_DIR "/demo/trail-card.pdf");
        bench.find<QAction>(QStringLiteral("replaceArtwork"))->trigger();
        bench.waitFor([&] { return bench.window.session().page()->artwork != old_artwork; },
                      "nothing is replaced");
        QCOMPARE(bench.answers.uses.back(), FileUse::Artwork);
        QCOMPARE(bench.answers.errors.size(), 1); // what no longer matches is listed
        QVERIFY(bench.answers.errors[0].contains(QStringLiteral("Dusk Blue")));
        QVERIFY(!bench.answers.errors[0].contains(QStringLiteral("Moth Copper")));
        QCOMPARE(bench.job().routes.size(), std::size_t(1));
        QCOMPARE(bench.reached(QStringLiteral("K 100")), QStringList(QStringLiteral("Moth Copper")));
        QCOMPARE(bench.job().find_plate("MOTH COPPER"), -1);
        // The look Change shows what is different: the sign's blue became green, the ground is alike.
        QCOMPARE(bench.window.view().look(), Look::Change);
        QVERIFY(bench.shownAt(on_sign).lightness() < 100);
        QCOMPARE(bench.shownAt(QPointF(20, 30)), QColor(Qt::white));
        // Against the print: black type was sent to copper.
        bench.click(bench.find<QPushButton>(QStringLiteral("compareFiles")));
        QVERIFY(!bench.window.view().comparesFiles());
        QCOMPARE(bench.shownAt(QPointF(20, 30)), QColor(Qt::white));
        QTest::keyClick(bench.table(), Qt::Key_2);
        // Undo brings the old file back with all routes.
        bench.window.session().undoStack().undo();
        bench.waitFor([&] { return bench.window.session().page()->artwork == old_artwork; },
                      "the old file stays away");
        QCOMPARE(bench.job().routes.size(), std::size_t(2));
        QCOMPARE(bench.job().plates.size(), std::size_t(11));
        // A file that cannot be read changes nothing.
        QTemporaryDir folder;
        bench.answers.open_file = folder.filePath(QStringLiteral("broken.pdf"));
        save_bytes(std::vector<std::byte>(100, std::byte('x')), bench.answers.open_file);
        bench.find<QAction>(QStringLiteral("replaceArtwork"))->trigger();
        bench.waitFor([&] { return bench.answers.errors.size() == 2; }, "nothing is said");
        QVERIFY(bench.window.session().opened().artwork == old_artwork);
        QCOMPARE(bench.job().routes.size(), std::size_t(2));
    }

    void routesAreKeptInTheJobAndOrdered()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("card.bichrom"));
        {
            Routes bench;
            bench.openCard();
            for (const char *plate : {"White", "Moth Copper"}) {
                bench.clickSource(plate[0] == 'W' ? leaf : QStringLiteral("Dusk Blue"));
                bench.clickEnd(QString::fromLatin1(plate));
                bench.press("sendColour");
            }
            QCOMPARE(bench.list->count(), 2);
            const QString first = bench.list->item(0)->text();
            bench.list->setCurrentRow(0);
            bench.press("routeDown");
            QCOMPARE(bench.list->item(1)->text(), first);
            bench.window.session().save(path);
            QTRY_VERIFY_WITH_TIMEOUT(!bench.window.session().isSaving(), 30000);
        }
        Routes bench;
        bench.open(path);
        bench.window.setStage(Stage::Ink);
        QCOMPARE(bench.list->count(), 2);
        QCOMPARE(bench.reached(leaf), QStringList(QStringLiteral("White")));
        QCOMPARE(bench.window.session().page()->routes, bench.job().routes);
        bench.list->setCurrentRow(0);
        bench.press("routeRemove");
        QCOMPARE(bench.list->count(), 1);
    }
};

BICHROM_TEST(TestRoutesWindow, QApplication)
#include "tst_routes_window.moc"
