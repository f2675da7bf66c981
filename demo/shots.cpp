/// \file
/// Takes a picture of each main view, with the demo artwork open.
/// Usage: bichrom-shots ARTWORK OUT_DIR [VIEW]
#include "app/bench/bench_window.h"
#include "app/lighttable/film_table.h"
#include "app/lighttable/light_table.h"
#include "app/services/dialog_prompts.h"
#include "app/widgets/theme.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/receive_worktop.h"
#include "app/worktops/screen/beat_picture.h"
#include "app/worktops/screen/beats_panel.h"

#include <QAbstractButton>
#include <QAction>
#include <QApplication>
#include <QComboBox>
#include <QDialog>
#include <QDir>
#include <QElapsedTimer>
#include <QFileInfo>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMouseEvent>
#include <QPushButton>
#include <QSettings>
#include <QStandardPaths>
#include <QTemporaryDir>
#include <QTest>
#include <QTextStream>
#include <QTimer>
#include <QTreeWidget>

using namespace bichrom;

namespace {

bool wait_until(const std::function<bool()> &ready)
{
    QElapsedTimer clock;
    clock.start();
    while (clock.elapsed() < 30'000) {
        QCoreApplication::processEvents(QEventLoop::AllEvents, 20);
        if (ready()) {
            return true;
        }
    }
    return false;
}

void point_at(LightTable &table, QPointF mm)
{
    const QPointF at = table.widgetFromPage(mm);
    QMouseEvent move(QEvent::MouseMove, at, table.mapToGlobal(at), Qt::NoButton, Qt::NoButton,
                     Qt::NoModifier);
    QCoreApplication::sendEvent(&table, &move);
}

/// The folder of a file.
QString folder_of(const char *file)
{
    return QFileInfo(QString::fromLocal8Bit(file)).absolutePath();
}

} // namespace

int main(int argc, char **argv)
{
    if (argc < 3) {
        QTextStream(stderr) << "usage: bichrom-shots ARTWORK OUT_DIR [VIEW]\n";
        return 2;
    }
    // Settings of the person at this machine are neither read nor changed.
    QTemporaryDir settings;
    QStandardPaths::setTestModeEnabled(true);
    QSettings::setDefaultFormat(QSettings::IniFormat);
    QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, settings.path());
    QApplication app(argc, argv);
    QCoreApplication::setApplicationName(QStringLiteral("Bichrom"));
    QCoreApplication::setOrganizationName(QStringLiteral("Bichrom"));
    theme::apply(app);
    DialogPrompts prompts;
    BenchWindow window(prompts);
    window.resize(1280, 800);
    window.show();
    window.openPath(QString::fromLocal8Bit(argv[1]));
    auto *table = window.findChild<LightTable *>(QStringLiteral("lightTable"));
    const QString out = QString::fromLocal8Bit(argv[2]);
    const QString only = argc > 3 ? QString::fromLocal8Bit(argv[3]) : QString();
    QDir().mkpath(out);
    if (!wait_until([&] {
            return window.session().isOpen() &&
                   window.session().facts().coverage(window.session().job().plates.front().ink) >= 0;
        })) {
        QTextStream(stderr) << "the artwork did not open\n";
        return 3;
    }
    const auto wanted = [&](const QString &name) { return only.isEmpty() || only == name; };
    const auto shoot = [&](const QString &name) {
        if (!wanted(name)) {
            return;
        }
        window.repaint();
        const Session &session = window.session();
        using State = Fact<Facts::Followed>::State;
        wait_until([&] {
            return !session.isLoading() && !session.facts().isChecking() &&
                   session.facts().followed().state() == State::Known && table->isComplete();
        });
        QTest::qWait(120); // core sample and hover states settle
        wait_until([&] { return table->isComplete(); });
        window.grab().save(out + QLatin1Char('/') + name + QStringLiteral(".png"));
    };
    const auto press = [&](const char *button) {
        window.findChild<QAbstractButton *>(QString::fromLatin1(button))->click();
    };
    const QString tote = window.session().path();
    const auto open = [&](const QString &path) {
        window.openPath(path);
        wait_until([&] {
            return window.session().path() == path && !window.session().facts().colourAreas().empty() &&
                   window.session().facts().findings().has_value();
        });
    };
    window.setStage(Stage::Receive);
    wait_until([&] { return window.session().facts().findings().has_value(); });
    point_at(*table, {112, 120});
    press("panelContents");
    shoot(QStringLiteral("bench-plates"));
    press("panelReading");
    window.spotlight().clear();
    table->fitPage();
    window.findChild<QAction *>(QStringLiteral("stockKraft"))->trigger();
    window.view().setLook(Look::Print);
    point_at(*table, {112, 120});
    window.session().undoStack().undo();
    window.view().setLook(Look::Outline);
    window.receive().chooseObject(12);
    point_at(*table, {112, 120});
    shoot(QStringLiteral("receive-objects"));
    window.spotlight().clear();
    window.view().setLook(Look::Plates);
    press("panelFindings");
    window.setStage(Stage::Ink);
    press("panelBook");
    window.findChild<QListWidget *>(QStringLiteral("inkPlates"))->setCurrentRow(2);
    window.findChild<QLineEdit *>(QStringLiteral("inkSearch"))->setText(QStringLiteral("moth"));
    table->fitPage();
    shoot(QStringLiteral("ink-book"));
    window.findChild<QLineEdit *>(QStringLiteral("inkSearch"))->clear();
    if (const QString card = folder_of(argv[1]) + QStringLiteral("/trail-card-messy.pdf");
        QFile::exists(card) && (only.isEmpty() || only.startsWith(QStringLiteral("ink-")))) {
        open(card);
        window.setStage(Stage::Ink);
        window.findChild<QAction *>(QStringLiteral("stockKraft"))->trigger();
        window.view().setLook(Look::Print);
        press("panelRoutes");
        auto *alike = window.findChild<QLineEdit *>(QStringLiteral("alikeWithin"));
        alike->setText(QStringLiteral("2"));
        QTest::keyClick(alike, Qt::Key_Return);
        window.choice().choosePlate(QStringLiteral("Trail Green"));
        for (const FoundColour &colour : window.session().page()->scene.colours) {
            if (colour.inks.size() == 4 && colour.appearance.a < -10) { // a leaf
                window.choice().chooseColour(
                    static_cast<int>(&colour - window.session().page()->scene.colours.data()));
                break;
            }
        }
        press("sendColour");
        QTest::qWait(300);
        shoot(QStringLiteral("ink-routes"));
        press("panelArtworks");
        const auto placed = [&] {
            const Session &session = window.session();
            return !session.isLoading() && !session.job().placements.artworks.empty() &&
                   session.page()->artwork->placements() == session.job().placements;
        };
        window.session().placeArtwork(folder_of(argv[1]) + QStringLiteral("/moth-badge.png"));
        wait_until(placed);
        Placements placements = window.session().job().placements;
        placements.artworks[0].x = 12;
        placements.artworks[0].y = 50;
        placements.artworks[0].overprints = true;
        window.session().changePlacements(placements, QStringLiteral("Move an artwork"));
        QTest::qWait(100);
        wait_until(placed);
        window.findChild<QListWidget *>(QStringLiteral("artworks"))->setCurrentRow(0);
        table->fitPage();
        QTest::qWait(500);
        shoot(QStringLiteral("ink-files"));
        window.spotlight().clear();
        window.view().setLook(Look::Plates);
        window.session().undoStack().setClean();
        open(folder_of(argv[1]) + QStringLiteral("/moth-badge.png"));
        press("panelPictures");
        {
            Job job = window.session().job();
            job.plates.clear();
            for (const char *ink : {"Lamp Yellow", "Luna Green", "Wing Rust"}) {
                for (const BookInk &known : shipped_inks().inks) {
                    if (known.name == ink) {
                        job.plates.push_back(propose_plate(job.plates, known.name, known.use, known.solid));
                    }
                }
            }
            window.session().change(job, QStringLiteral("three inks"));
        }
        auto *treatment = window.findChild<QComboBox *>(QStringLiteral("pictureTreatment"));
        treatment->setCurrentIndex(5);
        Q_EMIT treatment->activated(5);
        auto *palette = window.findChild<QListWidget *>(QStringLiteral("palette"));
        wait_until([&] { return palette->count() > 0; });
        palette->setCurrentRow(1);
        QTest::qWait(400);
        const auto *ink = window.findChild<QLabel *>(QStringLiteral("pictureInk"));
        wait_until([&] { return ink->text().startsWith(QStringLiteral("Prints")); });
        shoot(QStringLiteral("ink-pictures"));
        window.session().undoStack().setClean();
        open(tote);
    }
    if (only.isEmpty() || only.startsWith(QStringLiteral("fit-"))) {
        open(folder_of(argv[1]) + QLatin1String("/handbill.bichrom"));
        window.view().setLook(Look::Plates);
        window.setStage(Stage::Fit);
        table->fitPage();
        window.findChild<QAbstractButton *>(QStringLiteral("trapsOn"))->click();
        window.findChild<QAbstractButton *>(QStringLiteral("showTraps"))->click();
        auto *pairs = window.findChild<QTreeWidget *>(QStringLiteral("trapPairs"));
        wait_until([&] { return pairs->topLevelItemCount() > 0; });
        QTest::qWait(1500); // edits rest, then pairs are looked for again
        wait_until([&] { return pairs->topLevelItemCount() > 0; });
        pairs->setCurrentItem(pairs->topLevelItem(0));
        QTest::qWait(1500);
        shoot(QStringLiteral("fit-traps"));
        window.findChild<QAbstractButton *>(QStringLiteral("panelSlip"))->click();
        window.choice().choosePlate(QStringLiteral("Lantern Orange"));
        QTest::qWait(2500);
        shoot(QStringLiteral("fit-slip"));
        window.session().undoStack().setClean();
        open(tote);
        window.setStage(Stage::Fit);
        press("panelMarks");
        for (const char *mark : {"markCorners", "markRuler", "markPinholes"}) {
            press(mark);
        }
        press("panelSize");
        const auto enter = [&](const char *field, const char *words) {
            auto *edit = window.findChild<QLineEdit *>(QLatin1String(field));
            edit->setText(QLatin1String(words));
            QTest::keyClick(edit, Qt::Key_Return);
        };
        enter("finishedWidth", "10in");
        QTest::qWait(300);
        wait_until([&] { return !window.session().isLoading(); });
        enter("copiesAcross", "2");
        enter("copyGap", "8");
        QTest::qWait(1200);
        table->fitPage();
        QTest::qWait(1200);
        shoot(QStringLiteral("fit-size"));
        window.session().undoStack().setClean();
        open(folder_of(argv[1]) + QLatin1String("/night-tote.bichrom"));
        window.view().setLook(Look::Print);
        window.setStage(Stage::Screen);
        press("panelBeats");
        enter("meshThreads", "48");
        auto *beats = window.findChild<QTreeWidget *>(QStringLiteral("beatPairs"));
        const auto *panel = window.findChild<BeatsPanel *>(QStringLiteral("beatsPanel"));
        const auto *picture = window.findChild<BeatPicture *>(QStringLiteral("beatPicture"));
        wait_until([&] { return beats->topLevelItemCount() > 3; });
        QTest::qWait(1500); // edits rest, then they are looked for again
        wait_until([&] { return panel->isMeasured() && !picture->picture().isNull(); });
        shoot(QStringLiteral("screen-beats"));
        window.session().undoStack().setClean();
        window.view().setLook(Look::Plates);
        open(tote);
    }
    if (only.isEmpty() || only.startsWith(QStringLiteral("build-"))) {
        window.findChild<QAction *>(QStringLiteral("stockBlack"))->trigger();
        window.setStage(Stage::Build);
        window.findChild<QComboBox *>(QStringLiteral("presets"))->setCurrentIndex(1);
        press("makePlate");
        window.view().setLook(Look::Print);
        table->fitPage();
        point_at(*table, {112, 120});
        wait_until([&] { return window.session().facts().coverage("Base White") >= 0; });
        QTest::qWait(2500); // faults are looked for once edits rest
        window.findChild<QListWidget *>(QStringLiteral("recipeSteps"))->setCurrentRow(1);
        shoot(QStringLiteral("build-base"));
        window.session().undoStack().setClean();
        open(tote);
        window.findChild<QAction *>(QStringLiteral("stockBlack"))->trigger();
        while (window.session().undoStack().canUndo()) {
            window.session().undoStack().undo();
        }
        window.view().setLook(Look::Plates);
        QTest::qWait(500);
    }
    window.setStage(Stage::Screen);
    press("panelScreens");
    window.view().setLook(Look::Dots);
    table->zoomTo(620, table->widgetFromPage({209, 108}));
    table->centreOn({206, 112});
    point_at(*table, {206, 108});
    shoot(QStringLiteral("bench-dots"));
    window.view().setLook(Look::Plates);
    table->fitPage();
    window.setStage(Stage::Release);
    press("seeFilms");
    auto *films = window.findChild<FilmTable *>(QStringLiteral("filmTable"));
    wait_until([&] { return films->isReady(); });
    films->step(1);
    wait_until([&] { return films->isReady(); });
    QTest::qWait(600);
    shoot(QStringLiteral("release-film"));
    films->closeTable();
    press("panelHandOver");
    auto *gate = window.findChild<QLabel *>(QStringLiteral("gateWords"));
    wait_until([&] { return !gate->text().contains(QStringLiteral("looked at")); });
    window.view().setLook(Look::Print);
    QTest::qWait(1500);
    shoot(QStringLiteral("release-gate"));
    window.view().setLook(Look::Plates);

    // The handbill holds a fault for nearly every check.
    const QString handbill = folder_of(argv[1]) + QStringLiteral("/handbill.pdf");
    if (!QFile::exists(handbill)) {
        return 0;
    }
    window.session().setUsualRules(rules_to_json(shipped_rules()[2]));
    window.setStage(Stage::Receive);
    window.openPath(handbill);
    wait_until([&] {
        return window.session().path() == handbill && window.session().facts().findings().has_value();
    });
    press("panelFindings");
    const auto step_to = [&](const std::string &check) {
        for (int i = 0; i < 60; ++i) {
            press("nextFinding");
            wait_until([&] { return !window.session().isLoading(); });
            const auto group = window.receive().findings().currentGroup();
            const auto groups = group_findings(*window.session().facts().findings());
            const auto first = groups[static_cast<std::size_t>(group)].findings.front();
            if ((*window.session().facts().findings())[static_cast<std::size_t>(first)].check == check) {
                return;
            }
        }
    };
    step_to("built_black");
    point_at(*table, {60, 148});
    shoot(QStringLiteral("receive-findings"));
    press("askCustomer");
    step_to("image_coarse");
    press("askCustomer");
    press("panelReading");
    shoot(QStringLiteral("receive-reading"));
    press("panelContents");
    window.spotlight().clear();
    table->fitPage();
    for (const QPointF &mm : {QPointF(60, 190), QPointF(74, 120), QPointF(30, 120)}) {
        point_at(*table, mm);
        QTest::keyClick(table, Qt::Key_H);
    }
    QTest::qWait(400);
    table->setHand(Hand::Measure);
    const QPoint from = table->widgetFromPage({12, 104}).toPoint();
    const QPoint to = table->widgetFromPage({42, 132}).toPoint();
    QTest::mousePress(table, Qt::LeftButton, {}, from);
    QTest::mouseMove(table, to);
    QTest::mouseRelease(table, Qt::LeftButton, {}, to);
    shoot(QStringLiteral("receive-contents"));
    table->setHand(Hand::Move);
    if (wanted(QStringLiteral("rules-dialog"))) {
        QTimer::singleShot(0, &window, [&] {
            auto *dialog = window.findChild<QDialog *>(QStringLiteral("rulesDialog"));
            dialog->grab().save(out + QStringLiteral("/rules-dialog.png"));
            dialog->close();
        });
        press("editRules");
    }
    // What a revised file prints otherwise, the second place of the walk.
    if (wanted(QStringLiteral("receive-change"))) {
        press("panelFindings");
        window.session().undoStack().setClean();
        open(folder_of(argv[1]) + QStringLiteral("/trail-card-messy.pdf"));
        window.session().replaceArtwork(folder_of(argv[1]) + QStringLiteral("/trail-card.pdf"));
        wait_until(
            [&] { return !window.session().isLoading() && window.session().page()->previous != nullptr; });
        QTest::keyClick(table, Qt::Key_5);
        const auto *next = window.findChild<QAbstractButton *>(QStringLiteral("nextChange"));
        wait_until([&] { return next->isVisible(); });
        press("nextChange");
        press("nextChange");
        shoot(QStringLiteral("receive-change"));
    }
    return 0;
}
