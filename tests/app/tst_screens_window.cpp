#include "app/bench/bench_window.h"
#include "app/widgets/controls.h"
#include "app/worktops/fit/sheet_picture.h"
#include "app/worktops/screen/angle_dial.h"
#include "app/worktops/screen/beat_picture.h"
#include "app/worktops/screen/beats_panel.h"
#include "core/job/edits/plates.h"
#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QCheckBox>
#include <QComboBox>
#include <QPlainTextEdit>
#include <QTreeWidget>

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Two spots at part strength, one on the other; 76.2 × 50.8 mm.
struct Sized : Bench
{
    QTemporaryDir folder;

    Sized()
    {
        MiniPdf pdf = spots_page("/A cs 0.4 scn 0 0 144 144 re f /OP gs /B cs 0.5 scn 36 0 180 144 re f");
        pdf.width = 216;
        pdf.height = 144;
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        pdf.save(path);
        open(path);
        waitForPlates();
        actions = 0;
    }
    const Job &job() { return window.session().job(); }
    QString words(const char *name) { return find<QLabel>(QString::fromLatin1(name))->text(); }
    void type(const char *field, const char *text)
    {
        enter(find<QLineEdit>(QString::fromLatin1(field)), QString::fromUtf8(text));
    }
    void undo() { QTest::keyClick(&window, Qt::Key_Z, Qt::ControlModifier); }
    double pageWidth() { return to_millimetres(window.session().page()->plate_line->page().width()).value; }
};

} // namespace

class TestScreensWindow : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void aWidthTypedInInchesSizesThePrint()
    {
        Sized bench;
        bench.chooseStage(Stage::Fit);
        bench.press("panelSize");
        bench.type("finishedWidth", "6in");
        QCOMPARE(bench.actions, 3); // the stage, the panel, the width
        bench.waitFor([&] { return std::fabs(bench.pageWidth() - 152.4) < 1e-3; }, "the page keeps its size");
        QCOMPARE(bench.job().placements.scale, 2.0);
        QCOMPARE(bench.find<NumberField>(QStringLiteral("finishedHeight"))->value(), 101.6);
        QCOMPARE(bench.find<NumberField>(QStringLiteral("scale"))->value(), 200.0);
        // Leaving a field that shows a rounded number changes nothing.
        bench.type("scale", "33.3333");
        bench.waitFor([&] { return std::fabs(bench.pageWidth() - 25.4) < 0.01; }, "it is not scaled");
        const double scale = bench.job().placements.scale;
        auto *width = bench.find<NumberField>(QStringLiteral("finishedWidth"));
        width->setFocus();
        QTest::keyClick(width, Qt::Key_Return);
        QCOMPARE(bench.job().placements.scale, scale);
        bench.undo();
        bench.waitFor([&] { return std::fabs(bench.pageWidth() - 152.4) < 1e-3; }, "it is not undone");
        bench.press("ownSize");
        bench.waitFor([&] { return std::fabs(bench.pageWidth() - 76.2) < 1e-3; }, "it keeps its scale");
        // What is painted is measured when it is asked for.
        auto *of = bench.find<QComboBox>(QStringLiteral("sizeOf"));
        of->setCurrentIndex(2);
        Q_EMIT of->activated(2);
        bench.waitFor([&] { return std::fabs(width->value() - 76.2) < 0.05; }, "nobody measures");
    }

    void plateRowsStayWhileTheirPlatesDo()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        const std::vector<std::string> inks = bench.job().inks();
        QCOMPARE(inks.size(), std::size_t(2));
        const auto row = [&](int number) { // as printed at first
            return bench.find<QWidget>(QStringLiteral("screen ") +
                                       QString::fromStdString(inks[static_cast<std::size_t>(number)]));
        };
        const auto place = [](const QWidget *one) { return one->mapToGlobal(QPoint()).y(); };
        const QWidget *first = row(0);
        QTRY_VERIFY(place(row(1)) < place(first)); // the last printed on top
        bench.type("allRulings", "61");
        QCOMPARE(row(0)->findChild<NumberField *>(QStringLiteral("ruling"))->value(), 61.0);
        QVERIFY(row(0) == first);
        // Another order is seen at once; so is one that was chosen while nobody looked.
        Session &session = bench.window.session();
        session.change(move_plate(session.job(), 0, 1), QStringLiteral("the first last"));
        QTRY_VERIFY(place(row(0)) < place(row(1)));
        bench.chooseStage(Stage::Ink);
        bench.undo();
        bench.chooseStage(Stage::Screen);
        QTRY_VERIFY(place(row(1)) < place(row(0)));
    }

    void copiesAndMarksShowTheFilmThatIsWritten()
    {
        Sized bench;
        bench.chooseStage(Stage::Fit);
        bench.press("panelSize");
        bench.type("copiesAcross", "2");
        bench.type("copyGap", "4");
        bench.press("panelMarks");
        bench.click(bench.find<QCheckBox>(QStringLiteral("markRuler")));
        bench.click(bench.find<QCheckBox>(QStringLiteral("markCrop")));
        bench.type("wedgeSteps", "5, 50, 95 %");
        const FilmOptions &film = bench.job().film;
        QVERIFY(film.columns == 2 && film.gap == 4 && film.mark_set.ruler && !film.mark_set.crop);
        QVERIFY((film.mark_set.wedge_steps == std::vector<double>{5, 50, 95}));
        bench.type("wedgeSteps", "5, many");
        QVERIFY(bench.words("marksWords").contains(QStringLiteral("many")));
        QCOMPARE(film.mark_set.wedge_steps.size(), std::size_t(3));
        // The size that the panel promises is the size of the film, label and all.
        bench.undo();
        bench.window.session().undoStack().redo();
        const QString promised = bench.find<QWidget>(QStringLiteral("marksPanel"))
                                     ->findChild<SheetPicture *>(QStringLiteral("sheetPicture"))
                                     ->toolTip();
        bench.chooseStage(Stage::Release);
        bench.find<QLineEdit>(QStringLiteral("filmFolder"))
            ->setText(bench.folder.filePath(QStringLiteral("out")));
        bench.press("writeFilms");
        bench.waitFor([&] { return bench.words("writeResult").contains(QStringLiteral("films")); },
                      "nothing is written");
        const QStringList films = QDir(bench.folder.filePath(QStringLiteral("out")))
                                      .entryList({QStringLiteral("*.tif")}, QDir::Files);
        QCOMPARE(films.size(), 2);
        const TiffFile written = read_tiff(bench.folder.filePath(QStringLiteral("out/") + films.front()));
        const auto mm = [](int pixels) {
            return QString::fromStdString(format_number(pixels * 25.4 / 1200, 1));
        };
        QVERIFY2(promised.startsWith(QStringLiteral("%1 × %2 mm").arg(mm(written.width), mm(written.height))),
                 qPrintable(promised));
    }

    void aHandOfTheDialIsDragged()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        auto *dial = bench.window.findChild<AngleDial *>();
        QVERIFY(dial != nullptr && dial->isVisible());
        const auto at = [&](double degrees) {
            const double a = degrees * std::numbers::pi / 180, radius = 60;
            return QPointF(dial->width() / 2.0 + std::cos(a) * radius,
                           dial->height() - 8.0 - std::sin(a) * radius)
                .toPoint();
        };
        const double first = bench.job().plates[0].screen.angle.value;
        QTest::mousePress(dial, Qt::LeftButton, {}, at(first));
        for (const double degrees : {first + 10, 60.0, 66.0}) {
            QTest::mouseMove(dial, at(degrees));
            QCoreApplication::processEvents();
        }
        QTest::mouseRelease(dial, Qt::LeftButton, {}, at(66));
        QCOMPARE(bench.job().plates[0].screen.angle.value, 67.5); // held at a multiple of 7.5°
        bench.undo();                                             // all of the drag
        QCOMPARE(bench.job().plates[0].screen.angle.value, first);
        // Close to the other plate: the stage says so.
        const double second = bench.job().plates[1].screen.angle.value;
        bench.enter(bench.window.findChild<QWidget *>(QStringLiteral("screen Alpha"))
                        ->findChild<QLineEdit *>(QStringLiteral("angle")),
                    QString::number(second + 4));
        QVERIFY(bench.words("screenRemarks").contains(QStringLiteral("closer than 15°")));
        // Meant so: nothing more is said, until it is not.
        const auto tick = [&] {
            auto *box =
                bench.window.findChild<QWidget *>(QStringLiteral("meantAngles"))->findChild<QCheckBox *>();
            QVERIFY(box != nullptr && box->isVisible());
            QVERIFY(box->text().contains(QStringLiteral("4° apart")));
            bench.click(box);
            QCoreApplication::processEvents();
        };
        tick();
        QVERIFY(bench.words("screenRemarks").isEmpty());
        QCOMPARE(bench.job().meant_angles.size(), std::size_t(1));
        tick();
        QVERIFY(bench.words("screenRemarks").contains(QStringLiteral("closer than 15°")));
    }

    void aPairThatBeatsIsSeenAsItLooks()
    {
        Sized bench;
        Job job = bench.job();
        job.plates[0].screen.angle = Degrees(45);
        job.plates[1].screen.angle = Degrees(49); // bands 6.6 mm apart
        bench.window.session().change(job, QStringLiteral("Close angles"));
        bench.chooseStage(Stage::Screen);
        bench.press("panelBeats");
        auto *panel = bench.find<BeatsPanel>(QStringLiteral("beatsPanel"));
        auto *picture = bench.find<BeatPicture>(QStringLiteral("beatPicture"));
        bench.waitFor([&] { return panel->isMeasured(); }, "nobody looks for beats");
        bench.waitFor([&] { return !picture->picture().isNull(); }, "nobody makes the picture");
        const QImage near = picture->picture();
        const auto spread = [](const QImage &image) { // of its lightest and darkest
            int least = 255, most = 0;
            for (int y = 8; y + 8 < image.height(); ++y) {
                for (int x = 8; x + 8 < image.width(); ++x) {
                    const int grey = qGray(image.pixel(x, y));
                    least = std::min(least, grey);
                    most = std::max(most, grey);
                }
            }
            return most - least;
        };
        // From far away its dots are no more, its bands still are.
        bench.type("viewing", "3000");
        bench.waitFor(
            [&] { return panel->isMeasured() && !picture->picture().isNull() && picture->picture() != near; },
            "the picture does not follow");
        QVERIFY2(spread(picture->picture()) < spread(near) && spread(picture->picture()) > 3,
                 qPrintable(QStringLiteral("%1 %2").arg(spread(picture->picture())).arg(spread(near))));
        bench.chooseStage(Stage::Release);
        bench.chooseStage(Stage::Screen); // it is there again
        bench.waitFor([&] { return panel->isMeasured() && !picture->picture().isNull(); },
                      "the picture is gone");
    }

    void beatsAreListedAndBetterAnglesTaken()
    {
        Sized bench;
        Job next = bench.job();
        next.plates[0].screen.angle = Degrees(45);
        next.plates[1].screen.angle = Degrees(50);
        bench.window.session().change(next, QStringLiteral("angles"));
        bench.chooseStage(Stage::Screen);
        bench.press("panelBeats");
        auto *panel = bench.find<BeatsPanel>(QStringLiteral("beatsPanel"));
        bench.waitFor([&] { return panel->isMeasured(); }, "nobody looks for beats");
        auto *pairs = bench.find<QTreeWidget>(QStringLiteral("beatPairs"));
        QCOMPARE(pairs->topLevelItemCount(), 1);
        QVERIFY2(pairs->topLevelItem(0)->text(1).startsWith(QStringLiteral("5.29")),
                 qPrintable(pairs->topLevelItem(0)->text(1)));
        bench.type("meshThreads", "48");
        bench.waitFor([&] { return panel->isMeasured() && pairs->topLevelItemCount() == 3; },
                      "the mesh is not looked at");
        QVERIFY(bench.words("beatProposal").startsWith(QStringLiteral("Better")));
        bench.press("takeAngles");
        const double apart = std::fabs(std::remainder(
            bench.job().plates[0].screen.angle.value - bench.job().plates[1].screen.angle.value, 90));
        QVERIFY(apart >= 15);
        bench.undo();
        QCOMPARE(bench.job().plates[1].screen.angle.value, 50.0);
    }

    void aPressCurveIsTypedAndMadeUpFor()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        bench.press("panelCurves");
        auto *points = bench.find<QPlainTextEdit>(QStringLiteral("curvePoints"));
        points->setFocus();
        for (const char *line : {"25 38.5", "50 68", "75 88"}) {
            QTest::keyClicks(points, QString::fromLatin1(line));
            QTest::keyClick(points, Qt::Key_Return);
        }
        bench.press("useCurve");
        for (const Plate &plate : bench.job().plates) {
            QCOMPARE(plate.press.printed.points().size(), std::size_t(5)); // and the two ends
            QVERIFY(film_tone(plate.press, 0.68) < 0.51);
        }
        QVERIFY(bench.words("curveWords").contains(QStringLiteral("3 points")));
        bench.type("leastTone", "4");
        QCOMPARE(bench.job().plates[0].press.least, 0.04);
        // Nonsense is told, and changes nothing.
        points->setPlainText(QStringLiteral("fifty"));
        bench.press("useCurve");
        QVERIFY(bench.words("curveWords").contains(QStringLiteral("Line 1")));
        QCOMPARE(bench.job().plates[0].press.printed.points().size(), std::size_t(5));
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("gone.txt"));
        bench.press("openCurve");
        QVERIFY(!bench.words("curveWords").isEmpty());
        bench.press("clearCurve");
        QVERIFY(bench.job().plates[0].press.is_identity());
    }

    void curvesAndMarksAreKeptForOtherJobs()
    {
        {
            Sized bench;
            bench.chooseStage(Stage::Screen);
            bench.press("panelCurves");
            auto *points = bench.find<QPlainTextEdit>(QStringLiteral("curvePoints"));
            points->setPlainText(QStringLiteral("25 40\n50 70"));
            bench.press("useCurve");
            // What is wanted in print is a curve of its own.
            auto *which = bench.find<QComboBox>(QStringLiteral("curveWhich"));
            which->setFocus();
            QTest::keyClick(which, Qt::Key_Down);
            QVERIFY(points->toPlainText().isEmpty());
            points->setPlainText(QStringLiteral("50 60"));
            bench.press("useCurve");
            QVERIFY(std::abs(printed_tone(bench.job().plates[0].press, 0.5) - 0.6) < 1e-6);
            auto *name = bench.find<QComboBox>(QStringLiteral("curvesKept"))->lineEdit();
            bench.enter(name, QStringLiteral("300 mesh, wet on wet"));
            bench.chooseStage(Stage::Fit);
            bench.press("panelMarks");
            bench.type("markSize", "12");
            bench.type("customerNumber", "K 7");
            bench.enter(bench.find<QComboBox>(QStringLiteral("marksKept"))->lineEdit(),
                        QStringLiteral("Large"));
            bench.window.close();
        }
        Sized bench;
        QVERIFY(bench.job().plates[0].press.is_identity());
        const auto take_first = [&](const char *name) {
            auto *kept = bench.find<QComboBox>(QString::fromLatin1(name));
            QVERIFY(kept->isVisible());
            QCOMPARE(kept->count(), 1);
            kept->setFocus();
            QTest::keyClick(kept, Qt::Key_Down);
        };
        bench.chooseStage(Stage::Screen);
        bench.press("panelCurves");
        take_first("curvesKept");
        for (const Plate &plate : bench.job().plates) {
            QVERIFY(std::abs(printed_tone(plate.press, 0.5) - 0.6) < 1e-6);
            QCOMPARE(plate.press.printed.points().size(), std::size_t(4)); // and the two ends
        }
        bench.chooseStage(Stage::Fit);
        bench.press("panelMarks");
        bench.type("customerNumber", "L 9");
        take_first("marksKept");
        QCOMPARE(bench.job().film.mark_set.size, 12.0);
        QCOMPARE(bench.job().film.mark_set.number, std::string("L 9")); // this customer's
        bench.undo();
        QCOMPARE(bench.job().film.mark_set.size, 8.0);
        bench.press("marksForget");
        QCOMPARE(bench.find<QComboBox>(QStringLiteral("marksKept"))->count(), 0);
    }

    void rowsStayInsideThePanelForEveryWayOfScreening()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        auto *top = bench.find<QWidget>(QStringLiteral("screenWorktop"));
        auto *row = bench.find<QWidget>(QStringLiteral("screen Alpha"));
        auto *kind = row->findChild<QComboBox *>(QStringLiteral("screenKind"));
        for (int way = 0; way < kind->count(); ++way) {
            kind->setCurrentIndex(way);
            Q_EMIT kind->activated(way);
            QTest::qWait(50);
            QVERIFY2(row->mapTo(top, QPoint(row->width(), 0)).x() <= top->width(),
                     qPrintable(kind->itemText(way)));
            for (const QWidget *field : row->findChildren<QWidget *>()) {
                QVERIFY(!field->isVisible() ||
                        field->mapTo(row, QPoint(field->width(), 0)).x() <= row->width());
            }
        }
    }

    void eachDragOfADialsHandIsAStepOfItsOwn()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        auto *dial = bench.window.findChild<AngleDial *>();
        QVERIFY(dial != nullptr);
        const int before = bench.window.session().undoStack().count();
        Q_EMIT dial->turned(0, 30, 1);
        Q_EMIT dial->turned(0, 31, 1);
        Q_EMIT dial->turned(0, 60, 2);
        QCOMPARE(bench.window.session().undoStack().count(), before + 2);
        QCOMPARE(bench.job().plates[0].screen.angle.value, 60.0);
        bench.undo();
        QCOMPARE(bench.job().plates[0].screen.angle.value, 31.0);
    }

    void waysOfScreeningHaveTheirOwnFields()
    {
        Sized bench;
        bench.chooseStage(Stage::Screen);
        auto *row = bench.find<QWidget>(QStringLiteral("screen Alpha"));
        auto *kind = row->findChild<QComboBox *>(QStringLiteral("screenKind"));
        kind->setCurrentIndex(1);
        Q_EMIT kind->activated(1);
        QCOMPARE(bench.job().plates[0].screen.kind, ScreenKind::Fm);
        QVERIFY(!row->findChild<QLineEdit *>(QStringLiteral("ruling"))->isVisible());
        bench.enter(row->findChild<QLineEdit *>(QStringLiteral("leastDot")), QStringLiteral("3"));
        QCOMPARE(bench.job().plates[0].screen.least_dot, 3);
        bench.enter(row->findChild<QLineEdit *>(QStringLiteral("leastDot")), QStringLiteral("300"));
        QVERIFY(bench.words("screenRemarks").contains(QStringLiteral("least dot")));
        kind->setCurrentIndex(0);
        Q_EMIT kind->activated(0);
        QVERIFY(row->findChild<QLineEdit *>(QStringLiteral("ruling"))->isVisible());
        QVERIFY(bench.words("screenRemarks").isEmpty());
    }

    void theShopsOwnTileIsChosenFromAFile()
    {
        QTemporaryDir folder;
        QImage image(8, 8, QImage::Format_Grayscale8);
        for (int place = 0; place < 64; ++place) {
            image.scanLine(place / 8)[place % 8] = static_cast<uchar>(place * 37 % 64);
        }
        const QString path = folder.filePath(QStringLiteral("moth grain.png"));
        QVERIFY(image.save(path));
        Sized bench;
        bench.chooseStage(Stage::Screen);
        auto *row = bench.find<QWidget>(QStringLiteral("screen Alpha"));
        auto *kind = row->findChild<QComboBox *>(QStringLiteral("screenKind"));
        const int own = static_cast<int>(ScreenKind::Tile);
        const auto choose = [&] {
            kind->setCurrentIndex(own);
            Q_EMIT kind->activated(own);
        };
        choose(); // and dismisses the question
        QCOMPARE(bench.job().plates[0].screen.kind, ScreenKind::Am);
        QCOMPARE(kind->currentIndex(), 0);
        bench.answers.open_file = path;
        choose();
        QCOMPARE(bench.answers.uses.back(), FileUse::ScreenTile);
        QCOMPARE(bench.job().plates[0].screen.tile.name(), std::string("moth grain"));
        QCOMPARE(kind->currentIndex(), own);
        bool said = false;
        for (const QLabel *label : row->findChildren<QLabel *>()) {
            said = said ||
                   (label->isVisible() && label->text() == QStringLiteral("moth grain, 8 × 8 px, 65 tones"));
        }
        QVERIFY(said);
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("no picture");
        file.close();
        choose();
        QCOMPARE(bench.answers.errors.size(), 1);
        QCOMPARE(bench.job().plates[0].screen.tile.side(), 8); // as it was
        bench.undo();
        QCOMPARE(bench.job().plates[0].screen.kind, ScreenKind::Am);
    }
};

BICHROM_TEST(TestScreensWindow, QApplication)
#include "tst_screens_window.moc"
