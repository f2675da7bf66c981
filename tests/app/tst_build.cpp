// Plates that the artwork does not contain, in the real window.
#include "app/bench/core_sample_bar.h"
#include "app/widgets/theme.h"
#include "core/job/print_model.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QCheckBox>
#include <QComboBox>
#include <QLabel>
#include <QListWidget>
#include <QMenu>
#include <QPlainTextEdit>
#include <QPushButton>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const QPointF on_wing(120, 135); // of the tote, green
const QPointF off_art(40, 20);

struct Build : Bench
{
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
        const auto &plate_line = *window.session().page()->plate_line;
        const PixelRect at{static_cast<int>(mm.x() / 25.4 * 100), static_cast<int>(mm.y() / 25.4 * 100), 1,
                           1};
        const PlateTile tile = take(plate_line.render(at, Dpi(100)));
        const auto plate =
            std::find(plate_line.inks().begin(), plate_line.inks().end(), ink) - plate_line.inks().begin();
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
        QVERIFY(bench.find<QLabel>(QStringLiteral("chosenPlate"))
                    ->toolTip()
                    .endsWith(QStringLiteral("Base White.")));
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

    void dotsLieOnTheStock()
    {
        Build bench;
        bench.openTote();
        bench.window.view().setLook(Look::Dots);
        bench.table()->zoomTo(600, bench.table()->widgetFromPage(off_art));
        QVERIFY(!bench.table()->showsTonesInstead());
        QVERIFY(bench.shownAt(off_art).lightness() < 60); // black cotton
        bench.window.view().setAlone(QStringLiteral("Luna Green"));
        QVERIFY(bench.shownAt(off_art).lightness() > 200); // a film
    }

    void theCoreSampleReadsComputedPlates()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        bench.pointAt(on_wing);
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        const auto white = [&] { // −1 until it is read
            const auto line = bench.window.session().page()->plate_line;
            const auto &inks = line->inks();
            const auto at = std::find(inks.begin(), inks.end(), "Base White") - inks.begin();
            const auto &reading = sample->reading();
            return reading ? reading->tones.at(static_cast<std::size_t>(at)) : -1.0;
        };
        QTRY_COMPARE(white(), 1.0);
        bench.pointAt(off_art);
        QTRY_COMPARE(white(), 0.0);
        QTRY_VERIFY(bench.window.session().facts().coverage("Base White") > 0.1); // in the lay-down
    }

    void aFirstStepKeepsWhatIsOnThePlate()
    {
        Build bench;
        bench.openTote();
        bench.choosePlate("Luna Green");
        const int before = bench.tone("Luna Green", on_wing);
        QVERIFY(before > 200);
        bench.choose("addStep", 1 + static_cast<int>(RecipeDo::Sharpen));
        QCOMPARE(bench.steps->count(), 2); // the plate itself, then the step
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("stepAmount"))->isVisible());
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("stepDistance"))->isVisible());
        bench.waitForComputed();
        QCOMPARE(bench.tone("Luna Green", on_wing), before);
    }

    void stepsAreEditedAddedMovedAndRemoved()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        QCOMPARE(bench.steps->count(),
                 5); // the glow keeps its tones: taken away, added by its inks, and trimmed
        bench.steps->setCurrentRow(1);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("stepDistance")), QStringLiteral("1pt"));
        QVERIFY(std::fabs(bench.job().plates[0].recipe[1].distance - 25.4 / 72) < 0.001);
        bench.choose("addStep", 1 + static_cast<int>(RecipeDo::Tint));
        QCOMPARE(bench.steps->count(), 6);
        QCOMPARE(bench.steps->currentRow(), 5);
        bench.enter(bench.find<QLineEdit>(QStringLiteral("stepAmount")), QStringLiteral("40 %"));
        bench.waitForComputed();
        QVERIFY(std::abs(bench.tone("Base White", on_wing) - 102) <= 1);
        bench.press("stepUp");
        QCOMPARE(bench.job().plates[0].recipe[4].does, RecipeDo::Tint);
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("stepAmount"))->isVisible());
        QVERIFY(!bench.find<QLineEdit>(QStringLiteral("stepDistance"))->isVisible());
        bench.press("stepRemove");
        QCOMPARE(bench.steps->count(), 5);
        for (int i = 0; i < 3; ++i) { // those of the glow
            bench.steps->setCurrentRow(2);
            bench.press("stepRemove");
        }
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
        bench.make("Varnish on all artwork");
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
        Q_EMIT table->areaDrawn(QRectF(on_wing.x() - 5, on_wing.y() - 5, 10, 10), {});
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 255);
        QCOMPARE(bench.tone("Varnish", on_wing + QPointF(8, 0)), 0);
        QTest::mouseClick(table, Qt::LeftButton, {},
                          table->widgetFromPage(on_wing).toPoint()); // and taken away
        QTRY_VERIFY(bench.job().plates.back().recipe[0].source.areas.empty());
    }

    void whiteBehindAClearLabelIsThreeActions()
    {
        Build bench;
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("label.pdf"));
        // A ring of ink with a window in it.
        spots_page("/A cs 1 scn 10 10 52 52 re 26 26 20 20 re f*").save(file);
        bench.open(file);
        bench.actions = 0;
        // The stock's menu: opened by a click, chosen by another.
        QTimer::singleShot(300, qApp, [&] {
            auto *menu = qobject_cast<QMenu *>(QApplication::activePopupWidget());
            QVERIFY(menu != nullptr);
            ++bench.actions;
            QTest::mouseClick(
                menu, Qt::LeftButton, {},
                menu->actionGeometry(menu->findChild<QAction *>(QStringLiteral("stockClear"))).center());
        });
        bench.press("stock");
        QTRY_VERIFY(bench.job().stock.clear);
        bench.press("whiteWanted");
        QCOMPARE(bench.actions, 3);
        QCOMPARE(bench.job().plates.front().kind, InkUse::White);
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("whiteWanted"))->isVisible());
        bench.waitForComputed();
        const double mm = millimetres_per_inch / points_per_inch;
        QCOMPARE(bench.tone("Base White", QPointF(15, 36) * mm), 255); // behind the ink
        QCOMPARE(bench.tone("Base White", QPointF(36, 36) * mm), 0);   // the window
        QCOMPARE(bench.tone("Base White", QPointF(4, 4) * mm), 0);
        bench.window.session().undoStack().undo();
        QVERIFY(bench.find<QPushButton>(QStringLiteral("whiteWanted"))->isVisible());
    }

    void varnishOnThreeObjectsIsFiveActions()
    {
        Build bench;
        bench.openTote();
        bench.actions = 0;
        bench.chooseStage(Stage::Build);
        bench.press("pourVarnish");
        LightTable *table = bench.table();
        QCOMPARE(table->hand(), Hand::Pour);
        const auto click = [&](QPointF mm, Qt::KeyboardModifiers keys = {}) {
            ++bench.actions;
            QTest::mouseClick(table, Qt::LeftButton, keys, table->widgetFromPage(mm).toPoint());
        };
        const auto poured = [&]() -> std::size_t {
            const int at = bench.job().find_plate("Varnish");
            return at < 0 ? 0
                          : bench.job().plates[static_cast<std::size_t>(at)].recipe[0].source.objects.size();
        };
        const auto before = static_cast<int>(bench.window.session().undoStack().count());
        std::size_t number = 0;
        for (const QPointF &mm : {on_wing, QPointF(105, 107), QPointF(210, 107)}) { // a wing and two eyes
            click(mm);
            ++number;
            QTRY_COMPARE(poured(), number);
        }
        QCOMPARE(bench.actions, 5);
        QCOMPARE(bench.job().plates.back().kind, InkUse::Varnish);
        QCOMPARE(bench.window.session().undoStack().count(), before + 3); // the first made the plate too
        QCOMPARE(bench.window.choice().plate(), QStringLiteral("Varnish"));
        bench.waitForComputed();
        QCOMPARE(bench.tone("Varnish", on_wing), 255);
        QTRY_VERIFY(
            bench.find<QLabel>(QStringLiteral("buildResult"))->text().contains(QStringLiteral("cm²")));
        // With Alt one is taken away, whichever step is looked at.
        click(on_wing, Qt::AltModifier);
        QTRY_COMPARE(poured(), std::size_t(2));
        // What is under the pointer is framed, with its size.
        bench.pointAt(on_wing);
        QTRY_VERIFY(bench.find<CoreSampleBar>(QStringLiteral("coreSample"))
                        ->objectText()
                        .contains(QStringLiteral("Luna Green")));
        // Another hand, and the next click pours no more; back at it, it goes on with the same plate.
        QTest::keyClick(table, Qt::Key_Escape);
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("pourVarnish"))->isChecked());
        bench.press("pourVarnish");
        click(on_wing);
        QTRY_COMPARE(poured(), std::size_t(3));
        QCOMPARE(bench.job().plates.size(), std::size_t(5));
    }

    void anAreaBeginsARecipeAndTheStepWorkedOnTakesIt()
    {
        Build bench;
        bench.openTote();
        bench.chooseStage(Stage::Build);
        bench.choosePlate("Luna Green");
        LightTable *table = bench.table();
        const QRectF area(on_wing.x() - 5, on_wing.y() - 5, 10, 10);
        Q_EMIT table->areaDrawn(area, gesture_of(Qt::AltModifier));
        const auto recipe = [&] {
            return bench.job().plates[static_cast<std::size_t>(bench.job().find_plate("Luna Green"))].recipe;
        };
        QCOMPARE(recipe().size(), std::size_t(2)); // its own, and the area taken away
        QCOMPARE(recipe()[1].does, RecipeDo::TakeAway);
        bench.waitForComputed();
        QCOMPARE(bench.tone("Luna Green", on_wing), 0);
        QCOMPARE(bench.tone("Luna Green", on_wing + QPointF(8, 0)), 255);
        bench.steps->setCurrentRow(1);
        Q_EMIT table->areaDrawn(area.translated(20, 0), {});
        QCOMPARE(recipe().size(), std::size_t(2));
        QCOMPARE(recipe()[1].source.areas.size(), std::size_t(2));
    }

    void theLayDownIsReorderedByDragging()
    {
        Build bench;
        bench.openTote();
        bench.make("Base for a coloured garment");
        bench.pointAt(on_wing);
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        QTRY_VERIFY(sample->reading() && sample->reading()->artwork);
        QTRY_COMPARE(sample->reading()->tones.front(), 1.0);
        // White first: green on white, near to what the customer sees.
        const PrintEstimate under = sample->reading()->estimate;
        QCOMPARE(under.after.size(), bench.job().plates.size());
        QVERIFY(under.stock.l < 20 && under.after.front().l > 70 && under.print().a < -15);
        const double near = sample->reading()->difference().value();
        // Dragged above all others it is printed last, and hides them.
        auto *row = bench.find<QWidget>(QStringLiteral("plate Base White"));
        auto *top = bench.find<QWidget>(QStringLiteral("plate Wing Rust"));
        const QPoint from = row->rect().center();
        const QPoint to = row->mapFromGlobal(top->mapToGlobal(QPoint(from.x(), 4)));
        QTest::mousePress(row, Qt::LeftButton, {}, from);
        for (const QPoint &at : {from - QPoint(0, 12), (from + to) / 2, to}) {
            QMouseEvent move(QEvent::MouseMove, at, row->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                             Qt::NoModifier);
            QCoreApplication::sendEvent(row, &move);
        }
        QTest::mouseRelease(row, Qt::LeftButton, {}, to);
        QCOMPARE(bench.job().plates.back().ink, std::string("Base White"));
        bench.waitForComputed();
        bench.pointAt(on_wing);
        QTRY_VERIFY(sample->reading() && sample->reading()->artwork &&
                    sample->reading()->estimate.print().l > under.print().l + 5);
        QVERIFY(sample->reading()->difference().value() > near + 5);
        // Back by keys, as far as it goes; a click alone moves nothing.
        row = bench.find<QWidget>(QStringLiteral("plate Base White"));
        row->setFocus();
        for (std::size_t i = 0; i < bench.job().plates.size() + 2; ++i) {
            row = bench.find<QWidget>(QStringLiteral("plate Base White"));
            QTest::keyClick(row, Qt::Key_Down, Qt::AltModifier);
        }
        QCOMPARE(bench.job().plates.front().ink, std::string("Base White"));
        QTest::mouseClick(bench.find<QWidget>(QStringLiteral("plate Luna Green")), Qt::LeftButton);
        QCOMPARE(bench.job().plates.front().ink, std::string("Base White"));
    }

    void aSampledAreaFollowsThePlates()
    {
        Build bench;
        bench.openTote();
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        sample->setArea(QRectF(on_wing.x() - 2, on_wing.y() - 2, 4, 4));
        QTRY_VERIFY(sample->reading());
        const double bare = sample->reading()->estimate.print().l;
        bench.make("Base under everything");
        bench.window.repaint(); // with more plates than were read
        QTRY_VERIFY(sample->reading() && sample->reading()->tones.size() == bench.job().plates.size());
        QTRY_VERIFY(sample->reading() && sample->reading()->tones.front() > 0.99);
        QVERIFY(sample->reading()->estimate.print().l > bare + 20);
    }

    void whiteMissingIsListedAndLit()
    {
        Build bench;
        bench.openTote();
        auto *faults = bench.find<QListWidget>(QStringLiteral("plateFaults"));
        const auto rows_about = [&](const char *words) {
            return faults->findItems(QString::fromLatin1(words), Qt::MatchContains);
        };
        QTRY_VERIFY_WITH_TIMEOUT(!rows_about("No white under Luna Green on Black cotton").isEmpty() &&
                                     !rows_about("No white under Lamp Yellow").isEmpty(),
                                 30'000);
        faults->setCurrentItem(rows_about("No white under Luna Green").front());
        const Spotlight &spotlight = bench.window.spotlight();
        QVERIFY(!spotlight.areas().empty());
        bench.make("Base under everything");
        // Its smallest letters stay without: they are thinner than the choke.
        QTRY_VERIFY_WITH_TIMEOUT(rows_about("No white under Lamp Yellow").isEmpty(), 30'000);
    }

    void checkingIsNotFoundNothing()
    {
        Build bench;
        bench.openTote();
        auto *faults = bench.find<QListWidget>(QStringLiteral("plateFaults"));
        using State = Fact<Facts::Followed>::State;
        const auto state = [&] { return bench.window.session().facts().followed().state(); };
        QTRY_VERIFY_WITH_TIMEOUT(state() == State::Known, 30'000);
        // A white stock needs no white, so that nothing is listed; then it is looked for again.
        Job job = bench.job();
        job.stock = {};
        bench.window.session().change(job, QStringLiteral("white stock"));
        QCOMPARE(state(), State::Running);
        const auto first = [&] { return faults->count() == 0 ? QString() : faults->item(0)->text(); };
        const bool listed = faults->count() > 0 && faults->item(0)->flags() != Qt::NoItemFlags;
        QVERIFY2(listed || first().contains(QStringLiteral("being checked")), qPrintable(first()));
        QVERIFY(!first().contains(QStringLiteral("no fault")));
        QTRY_VERIFY_WITH_TIMEOUT(state() == State::Known, 30'000);
        QTRY_COMPARE(faults->findItems(QStringLiteral("being checked"), Qt::MatchContains).size(), 0);
    }

    void oneTinForTwoPlates()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        bench.make("Highlight white");
        QCOMPARE(bench.job().plates.back().ink, std::string("Highlight White"));
        auto *tin = bench.find<QComboBox>(QStringLiteral("plateTin"));
        bench.choose("plateTin", tin->findData(QStringLiteral("Base White")));
        QCOMPARE(bench.job().plates.back().tin, std::string("Base White"));
        QCOMPARE(bench.job().tins(), static_cast<int>(bench.job().plates.size()) - 1);
        bench.choose("plateOpacity", 1); // of the tin, and so of both
        QCOMPARE(bench.job().plates.front().traits.opacity, 0.5);
        QCOMPARE(bench.job().plates.back().traits.opacity, 0.5);
    }

    void foilTakesWhatLiesUnderIt()
    {
        Build bench;
        bench.openTote();
        bench.make("Foil");
        const int green = bench.job().find_plate("Luna Green");
        QCOMPARE(bench.job().plates[static_cast<std::size_t>(green)].recipe.size(), std::size_t(2));
        QCOMPARE(bench.tone("Luna Green", on_wing), 255); // nothing is poured yet
        LightTable *table = bench.table();
        QTest::keyClick(table, Qt::Key_P);
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_wing).toPoint());
        QTRY_VERIFY(!bench.job().plates.back().recipe[0].source.objects.empty());
        bench.waitForComputed();
        QCOMPARE(bench.tone("Foil", on_wing), 255);
        QCOMPARE(bench.tone("Luna Green", on_wing), 0);
        bench.window.session().undoStack().undo();
        bench.window.session().undoStack().undo();
        QVERIFY(bench.job()
                    .plates[static_cast<std::size_t>(bench.job().find_plate("Luna Green"))]
                    .recipe.empty());
    }

    void areasAreTypedAndFade()
    {
        Build bench;
        bench.openTote();
        bench.make("Crease lines");
        bench.steps->setCurrentRow(0);
        auto *areas = bench.find<QPlainTextEdit>(QStringLiteral("stepAreas"));
        QVERIFY(areas->isVisible());
        areas->setPlainText(QStringLiteral("100 120 40")); // not whole yet
        QVERIFY(bench.job().plates.back().recipe[0].source.areas.empty());
        areas->setPlainText(QStringLiteral("100 120 40 30\n5; 5; 1; 1"));
        QCOMPARE(bench.job().plates.back().recipe[0].source.areas.size(), std::size_t(2));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("stepFadeEnd")), QStringLiteral("0 %"));
        QVERIFY(bench.find<QLineEdit>(QStringLiteral("stepFadeAngle"))->isVisible());
        bench.waitForComputed();
        const int left = bench.tone("Crease", QPointF(105, 135));
        const int right = bench.tone("Crease", QPointF(135, 135));
        QVERIFY2(left > 190 && right < 60 && right > 0, qPrintable(QString::number(left)));
    }

    void platesAreWrittenAsOnePdf()
    {
        Build bench;
        bench.openTote();
        bench.make("Base under everything");
        QTemporaryDir folder;
        bench.answers.save_file = folder.filePath(QStringLiteral("plates.pdf"));
        bench.window.setStage(Stage::Release);
        bench.press("writePlatePdf");
        auto *result = bench.find<QLabel>(QStringLiteral("writeResult"));
        QTRY_VERIFY_WITH_TIMEOUT(result->isVisible() && result->text().startsWith(QStringLiteral("5 plates")),
                                 60'000);
        QCOMPARE(bench.answers.uses.back(), FileUse::PlatePdf);
        const auto again = take(open_job_or_artwork(bench.answers.save_file.toStdString()));
        QVERIFY(again.job.find_plate("Base White") >= 0 && again.job.find_plate("Luna Green") >= 0);
        // The customer's own file is not written over.
        bench.answers.save_file = demo_file();
        const QByteArray before = contents(demo_file());
        bench.press("writePlatePdf");
        QVERIFY(result->text().contains(QStringLiteral("never changed")));
        QCOMPARE(contents(demo_file()), before);
    }
};

BICHROM_TEST(TestBuild, QApplication)
#include "tst_build.moc"
