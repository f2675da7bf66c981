// The real window, driven by mouse and keys: from the customer's file to films on disk.
#include "app/bench/bench_window.h"
#include "app/bench/core_sample_bar.h"
#include "app/laydown/plate_row.h"
#include "app/lighttable/light_table.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/release/film_thumbnails.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QAbstractButton>
#include <QCheckBox>
#include <QComboBox>
#include <QDropEvent>
#include <QLabel>
#include <QMenu>
#include <QMimeData>
#include <QProgressBar>
#include <QPushButton>
#include <QRegularExpression>
#include <QSettings>
#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const QPointF on_wing(120, 135); // solid Luna Green, nothing else
const QPointF on_vein(112, 120); // a vein: green 100 %, rust 35 %
const QPointF on_tint(146, 339); // of the row of tints at the foot

} // namespace

class TestBench : public QObject
{
    Q_OBJECT

    QTemporaryDir m_settings;

private Q_SLOTS:
    void initTestCase()
    {
        keep_settings_apart(m_settings);
        theme::apply(*qApp);
    }
    void init() { QSettings().clear(); }
    void cleanup()
    {
        for (const QWidget *widget : QApplication::topLevelWidgets()) {
            QVERIFY2(!widget->isVisible(), qPrintable(widget->objectName()));
        }
    }

    void fromTheCustomersFileToFilms()
    {
        Bench bench;
        bench.answers.open_file = demo_file();
        bench.find<QAction>(QStringLiteral("open"))->trigger();
        QTRY_VERIFY(bench.window.session().isOpen());
        QCOMPARE(bench.window.session().job().plates.size(), std::size_t(4));

        // Hiding a plate takes its colour off the light table, and showing brings it back.
        auto *green = bench.find<PlateRow>(QStringLiteral("plate Luna Green"));
        const QColor with_green = bench.shownAt(on_wing);
        QVERIFY2(with_green.green() > with_green.red() + 20, qPrintable(with_green.name()));
        bench.click(green->findChild<QAbstractButton *>(QStringLiteral("show")));
        QVERIFY(!bench.window.view().isShown(QStringLiteral("Luna Green")));
        const QColor without = bench.shownAt(on_wing);
        QVERIFY2(without.red() > 240 && without.green() > 240 && without.blue() > 240,
                 qPrintable(without.name()));
        bench.click(green->findChild<QAbstractButton *>(QStringLiteral("show")));
        QCOMPARE(bench.shownAt(on_wing), with_green);

        // One plate alone is a grey film.
        bench.click(green->findChild<QAbstractButton *>(QStringLiteral("alone")));
        QCOMPARE(bench.shownAt(on_wing), QColor(Qt::black));
        bench.click(green->findChild<QAbstractButton *>(QStringLiteral("alone")));

        // The core sample reads every plate at the pointer.
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        bench.pointAt(on_wing);
        QTRY_VERIFY(sample->reading());
        QCOMPARE(sample->reading()->tones, (std::vector<double>{0, 0, 1, 0}));
        QCOMPARE(sample->reading()->painted, 1.0);
        bench.pointAt({2, 2});
        QTRY_VERIFY(sample->reading());
        QCOMPARE(sample->reading()->tones, (std::vector<double>{0, 0, 0, 0}));
        QCOMPARE(sample->reading()->painted, 0.0);

        // A ruling is changed, undone by keys, and changed again.
        bench.click(bench.find<QWidget>(QStringLiteral("stage4")));
        auto *row = bench.find<QWidget>(QStringLiteral("screen Luna Green"));
        auto *ruling = row->findChild<NumberField *>(QStringLiteral("ruling"));
        bench.enter(ruling, QStringLiteral("45 lpi"));
        const auto &plates = bench.window.session().job().plates;
        QCOMPARE(plates[2].screen.ruling.value, 45.0);
        QCOMPARE(bench.window.session().undoStack().undoText(), QStringLiteral("Luna Green: 45 lpi"));
        bench.table()->setFocus();
        QTest::keyClick(bench.table(), Qt::Key_Z, Qt::ControlModifier);
        QCOMPARE(plates[2].screen.ruling.value, 55.0);
        QCOMPARE(ruling->text(), QStringLiteral("55 lpi"));
        QTest::keyClick(bench.table(), Qt::Key_Z, Qt::ControlModifier | Qt::ShiftModifier);
        QCOMPARE(plates[2].screen.ruling.value, 45.0);
        bench.enter(bench.find<NumberField>(QStringLiteral("resolution")), QStringLiteral("600"));

        // Films from the window are those of the command line, byte for byte.
        QTemporaryDir folder;
        bench.click(bench.find<QWidget>(QStringLiteral("stage5")));
        bench.answers.folder = folder.filePath(QStringLiteral("window"));
        bench.click(bench.find<QPushButton>(QStringLiteral("chooseFolder")));
        bench.click(bench.find<QPushButton>(QStringLiteral("writeFilms")));
        QTRY_VERIFY_WITH_TIMEOUT(bench.find<QLabel>(QStringLiteral("writeResult"))->isVisible(), 60'000);
        QVERIFY(
            bench.find<QLabel>(QStringLiteral("writeResult"))->text().contains(QStringLiteral("4 films")));
        QCOMPARE(bench.find<FilmThumbnails>(QStringLiteral("filmThumbnails"))->count(), 4);

        bench.answers.save_file = folder.filePath(QStringLiteral("tote.bichrom"));
        bench.find<QAction>(QStringLiteral("save"))->trigger();
        QTRY_VERIFY_WITH_TIMEOUT(!bench.window.session().isModified(), 30'000);
        QProcess cli;
        cli.start(QStringLiteral(BICHROM_CLI),
                  {QStringLiteral("film"), bench.answers.save_file, QStringLiteral("--out"),
                   folder.filePath(QStringLiteral("cli"))});
        QVERIFY(cli.waitForFinished(60'000));
        QCOMPARE(cli.exitCode(), 0);
        const QStringList films =
            QDir(folder.filePath(QStringLiteral("window"))).entryList({QStringLiteral("*.tif")});
        QCOMPARE(films.size(), 4);
        for (const QString &film : films) {
            QCOMPARE(contents(folder.filePath(QStringLiteral("cli/") + film)),
                     contents(folder.filePath(QStringLiteral("window/") + film)));
        }
        bench.window.close();
    }

    void theLightTableZoomsPansAndPeeks()
    {
        Bench bench;
        bench.open(demo_file());
        LightTable *table = bench.table();
        const double fitted = table->viewDpi();
        const QPointF anchor = table->widgetFromPage(on_wing);
        QWheelEvent wheel(anchor, table->mapToGlobal(anchor), {}, {0, 480}, Qt::NoButton, Qt::NoModifier,
                          Qt::NoScrollPhase, false);
        QCoreApplication::sendEvent(table, &wheel);
        QVERIFY(std::fabs(table->viewDpi() / fitted - 2.0) < 1e-6);
        QVERIFY((table->widgetFromPage(on_wing) - anchor).manhattanLength() <
                2); // the point under the pointer stays
        QTest::mousePress(table, Qt::LeftButton, {}, anchor.toPoint());
        QTest::mouseMove(table, anchor.toPoint() + QPoint(60, 40));
        QTest::mouseRelease(table, Qt::LeftButton, {}, anchor.toPoint() + QPoint(60, 40));
        QVERIFY((table->widgetFromPage(on_wing) - anchor - QPointF(60, 40)).manhattanLength() < 2);
        table->setFocus();
        QTest::keyClick(table, Qt::Key_0);
        QCOMPARE(table->viewDpi(), fitted);

        // Held, O shows the untouched original, whatever plates are hidden.
        bench.window.view().setShown(QStringLiteral("Luna Green"), false);
        QVERIFY(bench.shownAt(on_wing).red() > 240);
        QTest::keyPress(table, Qt::Key_O);
        QVERIFY(table->isPeeking());
        const QColor peek = bench.shownAt(on_wing);
        QVERIFY2(peek.green() > peek.red() + 20, qPrintable(peek.name()));
        QTest::keyRelease(table, Qt::Key_O);
        QVERIFY(!table->isPeeking());

        // Dots need some zoom; before it the view says so.
        QTest::keyClick(table, Qt::Key_3);
        QCOMPARE(bench.window.view().look(), Look::Dots);
        QVERIFY(table->showsTonesInstead());
        table->zoomTo(1200, table->rect().center());
        QVERIFY(!table->showsTonesInstead());
        table->centreOn(on_vein);
        QTRY_VERIFY((bench.window.repaint(), table->isComplete()));
        bench.window.close();
    }

    void theOriginalStandsBesideThePrint()
    {
        Bench bench;
        bench.open(demo_file());
        LightTable *table = bench.table();
        bench.press("lookPrint");
        const QColor print = bench.shownAt(on_wing);
        bench.press("wipe");
        const double middle = table->pageFromWidget({table->width() / 2.0, 0}).x();
        QVERIFY(on_wing.x() < middle); // left of the line: the customer's
        const QColor original = bench.shownAt(on_wing);
        QVERIFY2(original.name() != print.name(), qPrintable(original.name()));
        const auto line = [&] { // where the pointer would seize it
            for (int x = 40; x < table->width(); ++x) {
                QTest::mouseMove(table, QPoint(x, table->height() / 2));
                if (table->cursor().shape() == Qt::SplitHCursor) {
                    return x;
                }
            }
            return -1;
        };
        // It is dragged to the left of the place.
        const int from = line() + 3;
        const int to = table->widgetFromPage(on_wing).toPoint().x() - 30;
        QVERIFY(from > to);
        QTest::mousePress(table, Qt::LeftButton, {}, QPoint(from, 300));
        QTest::mouseMove(table, QPoint((from + to) / 2, 300));
        QTest::mouseMove(table, QPoint(to, 300));
        QTest::mouseRelease(table, Qt::LeftButton, {}, QPoint(to, 300));
        QCOMPARE(bench.shownAt(on_wing).name(), print.name());
        bench.press("wipe");
        QCOMPARE(line(), -1);
        // What is set for one job is not for the next.
        bench.press("wipe");
        bench.open(QStringLiteral(BICHROM_SOURCE_DIR "/demo/handbill.pdf"));
        QVERIFY(!bench.find<QAbstractButton>(QStringLiteral("wipe"))->isChecked());
        QCOMPARE(line(), -1);
        bench.window.close();
    }

    void theLookChangeSaysHowNearThePrintComes()
    {
        Bench bench;
        bench.open(demo_file());
        LightTable *table = bench.table();
        using State = Fact<SeparationReport>::State;
        QCOMPARE(table->nearness().report().state(), State::Unknown); // nobody looks
        bench.press("lookChange");
        QTRY_VERIFY2_WITH_TIMEOUT(table->nearness().report().state() == State::Known,
                                  qPrintable(table->nearness().words()), 30'000);
        const SeparationReport before = *table->nearness().report().value();
        const double wide = bench.window.session().page()->content().width().value * 25.4 / 72;
        QVERIFY(before.median >= 0 && before.median <= before.p95 && before.worst <= 150);
        QVERIFY(before.worst_x >= 0 && before.worst_x <= wide);
        QVERIFY(table->nearness().words().startsWith(QStringLiteral("ΔE median ")));
        // An ink of quite another colour: it comes less near, and says so without being asked.
        Job job = bench.window.session().job();
        for (Plate &plate : job.plates) {
            if (plate.kind == InkUse::Spot) {
                plate.solid = {30, 60, -90};
            }
        }
        bench.window.session().change(job, QStringLiteral("Other colours"));
        const auto measured = [&] {
            return table->nearness().report().state() == State::Known &&
                   table->nearness().report().value()->mean > before.mean + 1;
        };
        QVERIFY2(QTest::qWaitFor(measured, patience_ms),
                 qPrintable(QStringLiteral("%1: %2 after %3")
                                .arg(static_cast<int>(table->nearness().report().state()))
                                .arg(table->nearness().report().value()->mean)
                                .arg(before.mean)));
        QVERIFY(table->nearness().worst().has_value());
        bench.press("lookPrint");
        QCOMPARE(table->nearness().report().state(), State::Unknown);
        bench.window.close();
    }

    void dotsAreSeenFromAfar()
    {
        Bench bench;
        bench.open(demo_file());
        LightTable *table = bench.table();
        bench.press("lookDots");
        table->zoomTo(600, table->widgetFromPage(on_tint));
        table->centreOn(on_tint);
        const auto contrast = [&] { // of a tint's dots
            (void)bench.shownAt(on_tint);
            const QImage picture = table->grab().toImage();
            const QPoint at = (table->widgetFromPage(on_tint) * picture.devicePixelRatio()).toPoint();
            int least = 255, most = 0;
            for (int y = -12; y <= 12; ++y) {
                for (int x = -12; x <= 12; ++x) {
                    const int grey = qGray(picture.pixel(at + QPoint(x, y)));
                    least = std::min(least, grey);
                    most = std::max(most, grey);
                }
            }
            return most - least;
        };
        const int near = contrast();
        // A click reads the film there, as a densitometer does.
        const QImage before = table->grab().toImage();
        QTest::mouseClick(table, Qt::LeftButton, {}, table->widgetFromPage(on_tint).toPoint());
        QTRY_VERIFY(table->dotsRead().join(QLatin1Char('\n')).contains(QStringLiteral("Luna Green: ")));
        const QString words = table->dotsRead().filter(QStringLiteral("Luna Green")).front();
        QVERIFY2(words.contains(QRegularExpression(QStringLiteral("ink, 5[45]\\.?\\d* lpi at "))),
                 qPrintable(words));
        QVERIFY(table->grab().toImage() != before);
        QTest::keyClick(&bench.window, Qt::Key_Z, Qt::ControlModifier); // nothing to undo
        auto *from = bench.find<QComboBox>(QStringLiteral("seenFrom"));
        QVERIFY(from->isVisible());
        from->setFocus();
        QTest::keyClick(from, Qt::Key_End); // 10 m
        const int far = contrast();
        QVERIFY2(near > 40 && far < near / 5, qPrintable(QStringLiteral("%1, %2").arg(near).arg(far)));
        QTest::keyClick(from, Qt::Key_Home);
        QCOMPARE(contrast(), near);
        bench.window.close();
    }

    void filesCanBeDroppedAndAreRemembered()
    {
        {
            Bench bench;
            QMimeData data;
            data.setUrls({QUrl::fromLocalFile(demo_file())});
            QDragEnterEvent enter({200, 200}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&bench.window, &enter);
            QVERIFY(enter.isAccepted());
            QDropEvent drop({200, 200}, Qt::CopyAction, &data, Qt::LeftButton, Qt::NoModifier);
            QCoreApplication::sendEvent(&bench.window, &drop);
            QTRY_VERIFY(bench.window.session().isOpen());
            bench.window.setStage(Stage::Screen);
            bench.window.close();
        }
        Bench again;
        QCOMPARE(QSettings().value(QStringLiteral("recent")).toStringList(),
                 QStringList{QFileInfo(demo_file()).absoluteFilePath()});
        QVERIFY(again.find<QWidget>(QStringLiteral("screenWorktop"))->isVisible()); // the stage is kept
        auto *recent = again.find<QMenu>(QStringLiteral("recentMenu"));
        QCOMPARE(recent->actions().size(), 1);
        recent->actions().front()->trigger();
        QTRY_VERIFY(again.window.session().isOpen());
        again.window.close();
    }

    void whatCannotBeOpenedIsExplainedAndLosesNothing()
    {
        Bench bench;
        bench.open(demo_file());
        const Job before = bench.window.session().job();
        bench.window.openPath(QStringLiteral("/no/such/file.pdf"));
        QTRY_COMPARE(bench.answers.errors.size(), 1);
        QVERIFY(bench.answers.errors[0].contains(QStringLiteral("/no/such/file.pdf")));
        QVERIFY(bench.window.session().job() == before);
        QVERIFY(!bench.window.session().isLoading());
        bench.window.close();
    }

    void whatTakesLongGoesOnOnlyWhenAsked()
    {
        Bench bench;
        const Error slow{ErrorCode::TakesLong, "It takes very long.", {}, {}};
        Q_EMIT bench.window.session().openFailed(slow, demo_file(), 0);
        QCOMPARE(bench.answers.asked_patience, 1);
        QVERIFY(!bench.window.session().isLoading());
        bench.answers.patient = true;
        Q_EMIT bench.window.session().openFailed(slow, demo_file(), 0);
        QVERIFY(bench.window.session().isLoading());
        QTRY_VERIFY_WITH_TIMEOUT(bench.window.session().isOpen(), 30'000);
        QVERIFY(bench.answers.errors.isEmpty());
    }

    void aPasswordIsAskedForUntilItFits()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("locked.pdf"));
        save_bytes(encrypted(spots_page("/A cs 1 scn 0 0 72 72 re f").bytes(), "lamp"), path);
        Bench bench;
        bench.window.openPath(path);
        QTRY_COMPARE(bench.answers.asked_password, 1); // dismissed
        QVERIFY(!bench.window.session().isOpen());
        bench.answers.password = QStringLiteral("lamp");
        bench.open(path);
        QCOMPARE(bench.answers.asked_password, 2);
        bench.window.close();
    }

    void unsavedWorkIsAskedAbout()
    {
        Bench bench;
        bench.open(demo_file());
        Job job = bench.window.session().job();
        job.plates[0].screen.ruling = Lpi(33);
        bench.window.session().change(job, QStringLiteral("test"));
        QVERIFY(bench.find<QLabel>(QStringLiteral("jobState"))->text().contains(QStringLiteral("not saved")));
        bench.answers.unsaved = UnsavedChoice::Stay;
        QVERIFY(!bench.window.close());
        QVERIFY(bench.window.isVisible());
        bench.answers.unsaved = UnsavedChoice::Discard;
        QVERIFY(bench.window.close());
        QCOMPARE(bench.answers.asked_unsaved, 2);
    }

    void writingCanBeStopped()
    {
        Bench bench;
        bench.open(demo_file());
        QTemporaryDir folder;
        bench.click(bench.find<QWidget>(QStringLiteral("stage5")));
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmFolder")), folder.path());
        const Job before = bench.window.session().job();
        bench.click(bench.find<QPushButton>(QStringLiteral("writeFilms")));
        auto *stop = bench.find<QPushButton>(QStringLiteral("stopWriting"));
        QTRY_VERIFY(stop->isVisible());
        QTRY_VERIFY(bench.find<QProgressBar>(QStringLiteral("writeProgress"))->value() > 0);
        bench.click(stop);
        auto *result = bench.find<QLabel>(QStringLiteral("writeResult"));
        QTRY_VERIFY(result->isVisible());
        QVERIFY2(result->text().contains(QStringLiteral("Stopped")), qPrintable(result->text()));
        QVERIFY(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).isEmpty());
        QVERIFY(bench.window.session().job() == before);
        QVERIFY(bench.find<QPushButton>(QStringLiteral("writeFilms"))->isEnabled());
        bench.window.close();
    }

    void everyFilmOptionIsAnUndoableStep()
    {
        Bench bench;
        bench.open(demo_file());
        bench.click(bench.find<QWidget>(QStringLiteral("stage5")));
        const FilmOptions before = bench.window.session().job().film;
        for (const char *name : {"filmMarks", "filmMirror", "filmNegative"}) {
            bench.click(bench.find<QCheckBox>(QString::fromLatin1(name)));
        }
        const FilmOptions &film = bench.window.session().job().film;
        QVERIFY(!film.marks && film.mirror && film.negative);
        QCOMPARE(bench.window.session().undoStack().count(), 3);
        auto *box = bench.find<QComboBox>(QStringLiteral("filmBox"));
        box->setFocus();
        QTest::keyClick(box, Qt::Key_Down);
        QTest::keyClick(box, Qt::Key_Down);
        QTest::keyClick(box, Qt::Key_Down);
        QTRY_COMPARE(film.box, PageBox::Trim);
        // The light table follows the last of the quick changes: it shows what goes onto film.
        QTRY_COMPARE(
            std::lround(to_millimetres(bench.window.session().page()->plate_line->page().width()).value),
            300L);
        while (bench.window.session().undoStack().canUndo()) {
            bench.window.session().undoStack().undo();
        }
        QVERIFY(film == before);
        bench.answers.unsaved = UnsavedChoice::Discard;
        bench.window.close();
    }

    void theLastOfManyQuickChangesWins()
    {
        // Pages of several boxes are interpreted at the same time; whichever ends last, the
        // table must show the box the job says. (Only an unlucky order would show a mistake here.)
        Bench bench;
        bench.open(demo_file());
        for (int round = 0; round < 12; ++round) {
            for (const PageBox box : {PageBox::Trim, PageBox::Bleed, PageBox::Trim, PageBox::Media,
                                      round % 2 == 0 ? PageBox::Trim : PageBox::Crop}) {
                Job job = bench.window.session().job();
                job.film.box = box;
                bench.window.session().change(job, QStringLiteral("box"));
            }
            QTest::qWait(round * 3);
        }
        QTest::qWait(1500); // everything started has ended
        const double shown = to_millimetres(bench.window.session().page()->plate_line->page().width()).value;
        QCOMPARE(std::lround(shown),
                 std::lround(
                     bench.window.session().page()->info.box(bench.window.session().job().film.box).width));
        bench.window.close();
    }

    void screensThatNeedTheArtistAreMarked()
    {
        Bench bench;
        bench.open(demo_file());
        auto *stage = bench.find<StageButton>(QStringLiteral("stage4"));
        QCOMPARE(stage->state(), StageState::NotLookedAt);
        bench.click(stage);
        QCOMPARE(stage->state(), StageState::InWork);
        auto *angle = bench.find<QWidget>(QStringLiteral("screen Lamp Yellow"))
                          ->findChild<NumberField *>(QStringLiteral("angle"));
        bench.enter(angle, QStringLiteral("80"));
        auto *remarks = bench.find<QLabel>(QStringLiteral("screenRemarks"));
        QVERIFY(remarks->isVisible());
        QVERIFY2(remarks->text().contains(QStringLiteral("closer than 15°")), qPrintable(remarks->text()));
        const auto *pair = bench.find<QWidget>(QStringLiteral("meantAngles"))->findChild<QCheckBox *>();
        QVERIFY(pair != nullptr);
        QCOMPARE(pair->text(), QStringLiteral("Lamp Yellow and Luna Green, 2.5° apart"));
        QCOMPARE(stage->state(), StageState::FindingsOpen);
        bench.window.session().undoStack().undo();
        QVERIFY(!remarks->isVisible());
        QCOMPARE(stage->state(), StageState::InWork);
        bench.window.close();
    }

    void oddPagesCanBeLookedAt_data()
    {
        QTest::addColumn<double>("width");
        QTest::addColumn<QString>("contents");
        QTest::newRow("a page that paints nothing") << 72.0 << QString();
        QTest::newRow("ten metres wide")
            << 10'000 * 72 / 25.4 << QStringLiteral("/A cs 1 scn 0 0 20000 72 re f");
    }
    void oddPagesCanBeLookedAt()
    {
        QFETCH(double, width);
        QFETCH(QString, contents);
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("odd.pdf"));
        MiniPdf pdf = spots_page(contents.toStdString());
        pdf.width = width;
        pdf.save(path);
        Bench bench;
        bench.open(path);
        QTRY_VERIFY((bench.window.repaint(), bench.table()->isComplete()));
        for (int stage = 0; stage < 6; ++stage) {
            bench.click(bench.find<QWidget>(QStringLiteral("stage%1").arg(stage)));
            bench.window.repaint();
        }
        // Films of such a page are refused with the reason, and the job stays.
        bench.enter(bench.find<QLineEdit>(QStringLiteral("filmFolder")),
                    folder.filePath(QStringLiteral("films")));
        bench.click(bench.find<QPushButton>(QStringLiteral("writeFilms")));
        auto *result = bench.find<QLabel>(QStringLiteral("writeResult"));
        QTRY_VERIFY(result->isVisible());
        QVERIFY2(result->text().contains(contents.isEmpty() ? QStringLiteral("paints nothing")
                                                            : QStringLiteral("Lower the resolution")),
                 qPrintable(result->text()));
        QVERIFY(bench.window.session().isOpen());
        bench.window.close();
    }

    void printingOrderIsMovedByKeys()
    {
        Bench bench;
        bench.open(demo_file());
        auto *green = bench.find<PlateRow>(QStringLiteral("plate Luna Green"));
        green->setFocus();
        QTest::keyClick(green, Qt::Key_Up, Qt::AltModifier);
        QCOMPARE(bench.window.session().job().plates[3].ink, std::string("Luna Green"));
        // Values stay with their inks.
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        bench.pointAt(on_wing);
        QTRY_VERIFY(sample->reading());
        QCOMPARE(sample->reading()->tones, (std::vector<double>{0, 0, 0, 1}));
        bench.window.session().undoStack().undo();
        QCOMPARE(bench.window.session().job().plates[2].ink, std::string("Luna Green"));
        bench.window.close();
    }
};

BICHROM_TEST(TestBench, QApplication)
#include "tst_bench.moc"
