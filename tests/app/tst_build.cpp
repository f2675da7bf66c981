// Plates that the artwork does not contain, in the real window.
#include "app/bench/core_sample_bar.h"
#include "app/widgets/theme.h"
#include "core/job/print_model.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const QPointF on_wing(120, 135); // of the tote, green
const QPointF off_art(40, 20);

struct Build : Bench
{
    QListWidget *plates = find<QListWidget>(QStringLiteral("buildPlates"));
    QListWidget *steps = find<QListWidget>(QStringLiteral("recipeSteps"));

    void openTote()
    {
        open(demo_file());
        find<QAction>(QStringLiteral("stockBlack"))->trigger();
        window.setStage(Stage::Build);
    }
    const Job &job() { return window.session().job(); }
    void choose(const char *name, int row)
    {
        auto *chooser = find<QComboBox>(QString::fromLatin1(name));
        if (!chooser->isEnabled() || !chooser->isVisible()) {
            qFatal("%s cannot be chosen from", name);
        }
        chooser->setCurrentIndex(row);
        Q_EMIT chooser->activated(row);
    }
    void make(const char *preset)
    {
        auto *presets = find<QComboBox>(QStringLiteral("presets"));
        presets->setCurrentIndex(presets->findText(QString::fromLatin1(preset)));
        press("makePlate");
        waitForComputed();
    }
    void waitForComputed()
    {
        waitFor([&] { return window.session().page()->computed == computed_key(job()); },
                "the computed plates do not follow");
        waitForPlates();
    }
    int tone(const char *ink, QPointF mm)
    {
        const auto &renderer = *window.session().page()->renderer;
        const PixelRect at{static_cast<int>(mm.x() / 25.4 * 100), static_cast<int>(mm.y() / 25.4 * 100), 1,
                           1};
        const PlateTile tile = take(renderer.render(at, Dpi(100)));
        const auto plate =
            std::find(renderer.inks().begin(), renderer.inks().end(), ink) - renderer.inks().begin();
        return tile.plates.at(static_cast<std::size_t>(plate)).at(0, 0);
    }
};

} // namespace

class TestBuild : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void theTotesBaseIsMadeAndShows()
    {
        Build bench;
        bench.openTote();
        bench.window.view().setLook(Look::Print);
        const QColor without = bench.shownAt(on_wing);
        bench.make("Base for a coloured garment");
        QCOMPARE(bench.job().plates.front().ink, std::string("Base White"));
        QCOMPARE(bench.job().plates.front().kind, InkUse::White);
        QCOMPARE(bench.tone("Base White", on_wing), 255);
        QCOMPARE(bench.tone("Base White", off_art), 0);
        // Green on white on black cotton is green; without the white it is nearly black.
        const QColor with = bench.shownAt(on_wing);
        QVERIFY2(without.lightness() < 70, qPrintable(without.name()));
        QVERIFY2(with.green() > 110 && with.green() > with.red() + 25, qPrintable(with.name()));
        // Printed last, the white covers the green.
        for (int i = 0; i + 1 < static_cast<int>(bench.job().plates.size()); ++i) {
            bench.press("plateLater");
        }
        QCOMPARE(bench.job().plates.back().ink, std::string("Base White"));
        const QColor covered = bench.shownAt(on_wing);
        QVERIFY2(std::abs(covered.green() - covered.red()) < 40 && covered.lightness() > 150,
                 qPrintable(covered.name()));
        QVERIFY(
            bench.find<QLabel>(QStringLiteral("orderWords"))->text().endsWith(QStringLiteral("Base White.")));
        // One hit more makes it lighter; everything undoes.
        bench.choose("plateHits", 1);
        QCOMPARE(bench.job().plates.back().printing.hits, 2);
        QVERIFY(bench.shownAt(on_wing).lightness() > covered.lightness());
        while (bench.window.session().undoStack().canUndo()) {
            bench.window.session().undoStack().undo();
        }
        bench.waitForComputed();
        QCOMPARE(bench.job().find_plate("Base White"), -1);
    }

    void theCoreSampleReadsComputedPlates()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        bench.pointAt(on_wing);
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        QTRY_VERIFY(sample->reading());
        const auto &inks = bench.window.session().page()->renderer->inks();
        const auto white = std::find(inks.begin(), inks.end(), "Base White") - inks.begin();
        QTRY_COMPARE(sample->reading()->tones.at(static_cast<std::size_t>(white)), 1.0);
        bench.pointAt(off_art);
        QTRY_COMPARE(sample->reading()->tones.at(static_cast<std::size_t>(white)), 0.0);
        QTRY_VERIFY(bench.window.session().coverage("Base White") > 0.1); // in the lay-down
    }

    void stepsAreEditedAddedMovedAndRemoved()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        QCOMPARE(bench.steps->count(), 2);
        bench.steps->setCurrentRow(1);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("stepDistance")), QStringLiteral("1pt"));
        QVERIFY(std::fabs(bench.job().plates[0].recipe[1].distance - 25.4 / 72) < 0.001);
        bench.choose("addStep", 1 + static_cast<int>(RecipeDo::Tint));
        QCOMPARE(bench.steps->count(), 3);
        QCOMPARE(bench.steps->currentRow(), 2);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("stepAmount")), QStringLiteral("40 %"));
        bench.waitForComputed();
        QVERIFY(std::abs(bench.tone("Base White", on_wing) - 102) <= 1);
        bench.press("stepUp");
        QCOMPARE(bench.job().plates[0].recipe[1].does, RecipeDo::Tint);
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("stepAmount"))->isVisible());
        QVERIFY(!bench.find<QLineEdit>(QStringLiteral("stepDistance"))->isVisible());
        bench.press("stepRemove");
        QCOMPARE(bench.steps->count(), 2);
        // Another source: the green plate alone.
        bench.steps->setCurrentRow(0);
        bench.choose("stepFrom", static_cast<int>(RecipeFrom::Plate));
        auto *inks = bench.find<QListWidget>(QStringLiteral("stepInks"));
        QVERIFY(inks->isVisible());
        for (int row = 0; row < inks->count(); ++row) {
            if (inks->item(row)->text() == QStringLiteral("Wing Rust")) {
                inks->item(row)->setCheckState(Qt::Checked);
            }
        }
        QCOMPARE(bench.job().plates[0].recipe[0].source.inks, std::vector<std::string>{"Wing Rust"});
        bench.waitForComputed();
        QCOMPARE(bench.tone("Base White", on_wing), 0);
        bench.choose("plateHits", 2);
        bench.click(bench.find<QCheckBox>(QStringLiteral("plateFlash")));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("plateMesh")), QStringLiteral("43"));
        QVERIFY((bench.job().plates[0].printing == Printing{3, false, true, 43}));
    }

    void objectsAndAreasArePouredIntoAPlate()
    {
        Build bench;
        bench.openTote();
        bench.make("Spot varnish");
        QCOMPARE(bench.job().plates.back().ink, std::string("Varnish"));
        // Only what is poured: the first step goes.
        bench.steps->setCurrentRow(0);
        bench.press("stepRemove");
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 0);
        LightTable *table = bench.table();
        QTest::keyClick(table, Qt::Key_P); // pour
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_wing).toPoint());
        QTRY_VERIFY(!bench.job().plates.back().recipe.empty() &&
                    bench.job().plates.back().recipe[0].source.from == RecipeFrom::Objects);
        QVERIFY(bench.job().routes.empty()); // nothing is routed by it
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 255);
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_wing).toPoint()); // taken away
        QTRY_VERIFY(bench.job().plates.back().recipe[0].source.objects.empty());
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 0);
        Q_EMIT table->areaDrawn(QRectF(on_wing.x() - 5, on_wing.y() - 5, 10, 10));
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 255);
        QCOMPARE(bench.tone("Varnish", on_wing + QPointF(8, 0)), 0);
    }
};

QTEST_MAIN(TestBuild)
#include "tst_build.moc"
