// Traps, the slip test and overprint in the real window.
#include "app/bench/core_sample_bar.h"
#include "app/worktops/fit/slip_chart.h"
#include "app/worktops/fit/slip_panel.h"
#include "app/worktops/fit/trap_panel.h"
#include "core/job/print_model.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QTreeWidget>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// 25.4 mm wide: Alpha left and Beta right of the middle, between 5 and 20.4 mm from the top.
MiniPdf page(const std::string &more = {})
{
    return spots_page("/A cs 1 scn 8 14.17 28 43.65 re f /B cs 1 scn 36 14.17 28 43.65 re f " + more);
}

struct Fit : Bench
{
    QTemporaryDir folder;
    TrapPanel *traps = find<TrapPanel>(QStringLiteral("trapPanel"));
    SlipPanel *slip = find<SlipPanel>(QStringLiteral("slipPanel"));

    explicit Fit(const MiniPdf &pdf = page())
    {
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        pdf.save(path);
        open(path);
        waitForPlates();
        Job next = job();
        for (Plate &plate : next.plates) {
            plate.traits.density = plate.ink == "Alpha" ? 0.1 : 0.9;
        }
        window.session().change(next, QStringLiteral("densities"));
        actions = 0;
    }
    const Job &job() { return window.session().job(); }
    void follow()
    {
        waitFor([&] { return window.session().page()->computed == computed_key(job()); },
                "plates do not follow");
    }
    void waitForPairs()
    {
        waitFor([&] { return traps->isMeasured(); }, "nobody measures the pairs");
    }
    void waitForTest()
    {
        waitFor([&] { return slip->isTested(); }, "nobody tests");
    }
    QString words(const char *name) { return find<QLabel>(QString::fromLatin1(name))->text(); }
    int tone(const char *ink, double x_mm)
    {
        const auto &line = *window.session().page()->plate_line;
        const PixelRect at{static_cast<int>(x_mm / 25.4 * 1200), 600, 1, 1};
        const PlateTile tile = take(line.render(at, Dpi(1200), Edges::Crisp));
        const auto plate = std::find(line.inks().begin(), line.inks().end(), ink) - line.inks().begin();
        return tile.plates.at(static_cast<std::size_t>(plate)).at(0, 0);
    }
};

} // namespace

class TestFit : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void aTwoColourJobIsTrapped()
    {
        Fit bench;
        bench.chooseStage(Stage::Fit);
        bench.waitForPairs();
        auto *pairs = bench.find<QTreeWidget>(QStringLiteral("trapPairs"));
        QCOMPARE(pairs->topLevelItemCount(), 1);
        QCOMPARE(pairs->topLevelItem(0)->text(0), QStringLiteral("Alpha\nunder Beta"));
        QVERIFY(pairs->topLevelItem(0)->text(1).startsWith(QStringLiteral("15"))); // mm of edge
        QVERIFY(bench.words("trapWords").startsWith(QStringLiteral("Off")));
        QCOMPARE(bench.tone("Alpha", 12.75), 0);
        bench.click(bench.find<QCheckBox>(QStringLiteral("trapsOn")));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("trapWidth")), QStringLiteral("0.2"));
        QCOMPARE(bench.actions, 3); // the stage, the switch, the width
        bench.follow();
        QCOMPARE(bench.tone("Alpha", 12.75), 255);
        QCOMPARE(bench.tone("Alpha", 12.95), 0);
        // The artist wants it the other way for these two.
        bench.waitForPairs();
        pairs->setCurrentItem(pairs->topLevelItem(0));
        auto *side = bench.find<QComboBox>(QStringLiteral("trapSide"));
        QVERIFY(side->isVisible());
        side->setCurrentIndex(2);
        Q_EMIT side->activated(2);
        bench.follow();
        QCOMPARE(bench.tone("Alpha", 12.75), 0);
        const int lightened = bench.tone("Beta", 12.65); // so that the overlap hides in the lighter ink
        QVERIFY(lightened > 100 && lightened < 255);
        bench.waitForPairs();
        QCOMPARE(pairs->topLevelItem(0)->text(0), QStringLiteral("Beta\nunder Alpha"));
        // An area without.
        Q_EMIT bench.table()->areaDrawn(QRectF(11, 10, 4, 5), {});
        bench.follow();
        QCOMPARE(bench.job().traps.zones.size(), std::size_t(1));
        QCOMPARE(bench.tone("Beta", 12.65), 0);
        QTest::keyClick(&bench.window, Qt::Key_Z, Qt::ControlModifier);
        bench.follow();
        QCOMPARE(bench.tone("Beta", 12.65), lightened);
    }

    void trapsAreDrawnOverThePage()
    {
        Fit bench;
        bench.chooseStage(Stage::Fit);
        bench.click(bench.find<QCheckBox>(QStringLiteral("showTraps")));
        bench.waitForPairs();
        bench.waitFor([&] { return bench.window.view().overlay() != nullptr; }, "nothing is drawn");
        const QColor in_trap = bench.shownAt({12.75, 12.7});
        QVERIFY2(in_trap.lightness() < 60, qPrintable(in_trap.name()));
        QVERIFY(bench.shownAt({8, 12.7}).lightness() > 160); // the rest is pale
        bench.chooseStage(Stage::Ink);
        QVERIFY(bench.window.view().overlay() == nullptr);
    }

    void theSlipTestTellsWhatShowsAndTrapsCloseIt()
    {
        Fit bench;
        bench.chooseStage(Stage::Fit);
        bench.press("panelSlip");
        bench.waitForTest();
        auto *chart = bench.find<SlipChart>(QStringLiteral("slipChart"));
        // 0.3 mm either way along 15.4 mm.
        QCOMPARE(chart->rows().size(), std::size_t(2));
        QVERIFY(std::abs(chart->rows().front().now - 0.3 * 15.4) < 0.2);
        QVERIFY2(bench.words("slipSum").startsWith(QStringLiteral("Bare stock: 9")),
                 qPrintable(bench.words("slipSum")));
        QVERIFY(bench.window.view().overlay() != nullptr);
        const QColor shown = bench.shownAt({12.55, 12.7});
        QVERIFY2(shown.red() > 180 && shown.blue() < 110, qPrintable(shown.name())); // the lamp's amber
        bench.press("closeGaps");
        QVERIFY(bench.job().traps.on);
        QVERIFY(bench.job().traps.width >= 0.29 && bench.job().traps.width <= 0.31);
        bench.follow();
        bench.press("panelSlip");
        bench.waitForTest();
        QVERIFY2(chart->rows().front().now < 0.3, qPrintable(QString::number(chart->rows().front().now)));
        QVERIFY(std::abs(chart->rows().front().plain - 0.3 * 15.4) < 0.2);
        QTest::keyClick(&bench.window, Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(!bench.job().traps.on);
    }

    void aPlateIsDraggedOutOfRegister()
    {
        Fit bench;
        bench.window.view().setLook(Look::Plates);
        bench.chooseStage(Stage::Fit);
        bench.press("panelSlip");
        bench.choosePlate("Beta");
        QCOMPARE(bench.window.view().sliding(), QStringLiteral("Beta"));
        const QPointF from = bench.table()->widgetFromPage({18, 12.7});
        const QPointF to = bench.table()->widgetFromPage({20, 12.7});
        QTest::mousePress(bench.table(), Qt::LeftButton, {}, from.toPoint());
        QTest::mouseMove(bench.table(), ((from + to) / 2).toPoint());
        QTest::mouseMove(bench.table(), to.toPoint());
        QTest::mouseRelease(bench.table(), Qt::LeftButton, {}, to.toPoint());
        bench.waitForTest();
        QCOMPARE(bench.window.view().slips().size(), std::size_t(1));
        const Slip slip = bench.window.view().slips().front();
        QVERIFY2(std::abs(slip.x - 2) < 0.1 && std::abs(slip.y) < 0.1, qPrintable(QString::number(slip.x)));
        auto *chart = bench.find<SlipChart>(QStringLiteral("slipChart"));
        QVERIFY(std::abs(chart->rows().front().now - slip.x * 15.4) < 0.4);
        // The stock is seen between them, and the job is as it was.
        QVERIFY(bench.shownAt({13.5, 12.7}).lightness() > 240);
        QCOMPARE(bench.window.session().undoStack().count(), 1); // the densities of this test
        bench.enter(bench.find<QLineEdit>(QStringLiteral("slipRight")), QStringLiteral("0.5"));
        bench.waitForTest();
        QVERIFY(std::abs(chart->rows().front().now - 0.5 * 15.4) < 0.2);
        bench.press("slipBack");
        QVERIFY(bench.window.view().slips().empty());
        QVERIFY(bench.shownAt({13.5, 12.7}).lightness() < 200);
        // Another stage: plates lie where they are, and the page is dragged again.
        bench.enter(bench.find<QLineEdit>(QStringLiteral("slipRight")), QStringLiteral("0.5"));
        bench.chooseStage(Stage::Screen);
        QVERIFY(bench.window.view().slips().empty());
        QVERIFY(bench.window.view().sliding().isEmpty());
    }

    void overprintIsDecidedForAPlateAndAnObject()
    {
        Fit bench(page("/A cs 1 scn 40 30 10 10 re f "));
        const auto alpha_over_beta = [&] { return bench.tone("Beta", 16); };
        QCOMPARE(alpha_over_beta(), 0);
        bench.chooseStage(Stage::Fit);
        bench.press("panelOverprint");
        bench.choosePlate("Alpha");
        QCOMPARE(bench.words("overprintWhat"), QStringLiteral("all that prints on Alpha"));
        bench.press("wish overprint");
        bench.follow();
        QCOMPARE(alpha_over_beta(), 255);
        // That object alone knocks out again.
        const QPointF at = bench.table()->widgetFromPage({16, 12.7});
        QTest::mouseClick(bench.table(), Qt::LeftButton, {}, at.toPoint());
        bench.waitFor([&] { return bench.words("overprintWhat").startsWith(QStringLiteral("object 3")); },
                      "the object is not chosen");
        bench.press("wish knock out");
        bench.follow();
        QCOMPARE(alpha_over_beta(), 0);
        QCOMPARE(bench.find<QListWidget>(QStringLiteral("overprintRules"))->count(), 2);
        bench.waitFor(
            [&] { return bench.words("overprintWords").contains(QStringLiteral("1 more are made to")); },
            "nobody counts what overprints");
        bench.find<QListWidget>(QStringLiteral("overprintRules"))->setCurrentRow(1);
        bench.press("removeRule");
        bench.follow();
        QCOMPARE(alpha_over_beta(), 255);
        bench.click(bench.find<QCheckBox>(QStringLiteral("foilKnocksOut")));
        QVERIFY(bench.job().overprint.house.foil_knocks_out);
    }
};

BICHROM_TEST(TestFit, QApplication)
#include "tst_fit.moc"
