// The stage Receive in the real window: a faulty file is looked at, measured, checked and reported, and
// nothing in it changes.
#include "app/bench/core_sample_bar.h"
#include "app/dialogs/rules_dialog.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/receive/contents_panel.h"
#include "app/worktops/receive/finding_list.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/ink_table.h"
#include "app/worktops/receive/receive_worktop.h"
#include "core/colour/source_profile.h"
#include "core/job/change_slip.h"
#include "core/job/edits/plates.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/picture_files.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QClipboard>
#include <QComboBox>
#include <QJsonArray>
#include <QJsonDocument>
#include <QListView>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Two squares of Alpha, a hairline of Beta that overprints, white that overprints and so vanishes.
/// In points from the bottom left of a 144 pt page with a trim 9 pt inside it.
MiniPdf faulty_page()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 20 20 40 40 re f 0.4 scn 80 20 40 40 re f "
                             "/OP gs /B CS 1 SCN 0.1 w 20 100 m 120 100 l S "
                             "/A cs 0 scn 30 30 10 10 re f");
    pdf.width = pdf.height = 144;
    pdf.page_extra = "/TrimBox [9 9 135 135] /BleedBox [0 0 144 144]";
    return pdf;
}

struct Receive : Bench
{
    QTemporaryDir folder;

    void openPdf(const MiniPdf &pdf, const QString &name = QStringLiteral("faulty.pdf"))
    {
        pdf.save(folder.filePath(name));
        open(folder.filePath(name));
        waitForFindings();
    }
    void waitForFindings()
    {
        if (!QTest::qWaitFor([&] { return window.session().facts().findings().has_value(); }, patience_ms)) {
            qFatal("no findings come");
        }
    }
    void waitUntilRead()
    {
        if (!QTest::qWaitFor([&] { return !window.session().isLoading(); }, patience_ms)) {
            qFatal("it is not read");
        }
    }
    FindingsPanel &findings() { return window.receive().findings(); }
    QString text(const char *label) { return find<QLabel>(QString::fromLatin1(label))->text(); }
    void choose(const char *name, int row)
    {
        auto *chooser = find<QComboBox>(QString::fromLatin1(name));
        if (!chooser->isEnabled() || !chooser->isVisible() || row >= chooser->count()) {
            qFatal("%s cannot be set", name);
        }
        chooser->setCurrentIndex(row);
        Q_EMIT chooser->activated(row);
    }
    void key(Qt::Key key, Qt::KeyboardModifiers with = Qt::NoModifier)
    {
        table()->setFocus();
        QTest::keyClick(table(), key, with);
    }
    /// Steps on until the check is shown.
    void stepTo(const std::string &check)
    {
        for (int i = 0; i < 60; ++i) {
            key(Qt::Key_N);
            if (findings().currentGroup() >= 0 && shown().check == check) {
                return;
            }
        }
        qFatal("no finding of %s", check.c_str());
    }
    const Finding &shown()
    {
        const auto &all = *window.session().facts().findings();
        const auto groups = group_findings(all, window.session().job().accepted);
        const auto &group = groups[static_cast<std::size_t>(findings().currentGroup())];
        return all[static_cast<std::size_t>(group.findings.front())];
    }
    void drag(QPointF from_mm, QPointF to_mm)
    {
        const QPoint from = table()->widgetFromPage(from_mm).toPoint();
        const QPoint to = table()->widgetFromPage(to_mm).toPoint();
        QTest::mousePress(table(), Qt::LeftButton, {}, from);
        QTest::mouseMove(table(), (from + to) / 2);
        QTest::mouseMove(table(), to);
        QTest::mouseRelease(table(), Qt::LeftButton, {}, to);
    }
    void clickAt(QPointF mm)
    {
        QTest::mouseClick(table(), Qt::LeftButton, {}, table()->widgetFromPage(mm).toPoint());
    }
};

/// mm from the page's top left of a point given in PDF points on a page 144 pt high.
QPointF at(double x, double y)
{
    return QPointF(x, 144 - y) * 25.4 / 72.0;
}

} // namespace

class TestReceive : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void cleanup()
    {
        for (const QWidget *widget : QApplication::topLevelWidgets()) {
            QVERIFY2(!widget->isVisible(), qPrintable(widget->objectName()));
        }
    }

    void aFindingIsSteppedToAcceptedAndReported()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        const QByteArray before = contents(bench.folder.filePath(QStringLiteral("faulty.pdf")));
        QCOMPARE(bench.find<StageButton>(QStringLiteral("stage0"))->state(), StageState::FindingsOpen);

        // The key leads to the hairline, lights it where it is, and says what was measured.
        bench.stepTo("thin_line");
        const Spotlight &spot = bench.window.spotlight();
        QCOMPARE(spot.object(), 2); // third painted
        QCOMPARE(int(spot.areas().size()), 1);
        const QRectF lit = spot.areas().front();
        QVERIFY2(std::abs(lit.center().y() - at(0, 100).y()) < 0.05 &&
                     std::abs(lit.width() - 100 * 25.4 / 72) < 0.1,
                 qPrintable(QStringLiteral("%1 %2").arg(lit.center().y()).arg(lit.width())));
        QVERIFY2(bench.text("findingMeasured").contains(QStringLiteral("measured 0.1 pt")),
                 qPrintable(bench.text("findingMeasured")));
        QVERIFY(bench.text("findingMeasured").contains(QStringLiteral("limit")));
        QVERIFY(bench.text("findingObject").contains(QStringLiteral("Beta 100 %")));
        QVERIFY(!bench.text("findingWhy").isEmpty());
        // In the picture the frame around it is amber, and what lies elsewhere is dimmed.
        const QImage picture = bench.table()->grab().toImage();
        const QPointF corner = bench.table()->widgetFromPage(lit.center());
        int amber = 0;
        for (int dy = -12; dy <= 12; ++dy) {
            amber += picture.pixelColor(corner.toPoint() + QPoint(0, dy)) == theme::amber ? 1 : 0;
        }
        QVERIFY2(amber >= 2, qPrintable(QString::number(amber)));

        // It is accepted with a reason, and the keys go past it from then on.
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("acceptFinding"))->isEnabled());
        auto *reason = bench.find<QLineEdit>(QStringLiteral("acceptReason"));
        reason->setFocus();
        QTest::keyClicks(reason, QStringLiteral("Night line, nobody needs it"));
        bench.press("acceptFinding");
        QCOMPARE(bench.window.session().job().accepted.size(), std::size_t(1));
        QVERIFY(bench.find<QPushButton>(QStringLiteral("takeBackFinding"))->isVisible());
        for (int i = 0; i < 30; ++i) {
            bench.key(Qt::Key_N);
            QVERIFY(bench.shown().check != "thin_line");
        }
        QVERIFY(bench.window.session().isModified());
        bench.window.session().undoStack().undo();
        QVERIFY(bench.window.session().job().accepted.empty());
        bench.window.session().undoStack().redo();

        // The reports hold the finding, its value, and the reason.
        bench.answers.save_file = bench.folder.filePath(QStringLiteral("report.json"));
        bench.find<QAction>(QStringLiteral("reportJson"))->trigger();
        QTRY_VERIFY(QFile::exists(bench.answers.save_file));
        QCOMPARE(bench.answers.uses.back(), FileUse::ReportJson);
        const QJsonArray list = QJsonDocument::fromJson(contents(bench.answers.save_file))
                                    .object()[QStringLiteral("findings")]
                                    .toArray();
        int found = 0;
        for (const QJsonValue &one : list) {
            if (one[QStringLiteral("check")] == QStringLiteral("thin_line")) {
                ++found;
                QCOMPARE(one[QStringLiteral("accepted")].toString(),
                         QStringLiteral("Night line, nobody needs it"));
                QCOMPARE(one[QStringLiteral("places")][0][QStringLiteral("measured")].toString(),
                         QStringLiteral("0.1 pt"));
            }
        }
        QCOMPARE(found, 1);
        QTRY_VERIFY(bench.find<QPushButton>(QStringLiteral("saveReport"))->isEnabled());
        bench.answers.save_file = bench.folder.filePath(QStringLiteral("report.pdf"));
        bench.find<QAction>(QStringLiteral("reportPdf"))->trigger();
        QTRY_VERIFY(QFile::exists(bench.answers.save_file));
        const QString words =
            output_of(QStringLiteral("pdftotext"), {bench.answers.save_file, QStringLiteral("-")})
                .simplified();
        QVERIFY2(words.contains(QStringLiteral("Line thinner than the press holds")), qPrintable(words));
        QVERIFY(words.contains(QStringLiteral("Accepted: Night line, nobody needs it")));
        QVERIFY2(words.contains(QStringLiteral("0.1 pt")), qPrintable(words));
        QVERIFY(words.contains(QString::fromStdString(bench.window.session().artwork().sha256())));

        // The acceptance is saved with the job; the customer's file has not changed by a byte.
        bench.answers.save_file = bench.folder.filePath(QStringLiteral("faulty.bichrom"));
        bench.find<QAction>(QStringLiteral("save"))->trigger();
        bench.open(bench.answers.save_file);
        QCOMPARE(bench.window.session().job().accepted.size(), std::size_t(1));
        QCOMPARE(contents(bench.folder.filePath(QStringLiteral("faulty.pdf"))), before);
        bench.window.close();
    }

    void findingsStandUnderTheirSeverity()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        const auto &findings = *bench.window.session().facts().findings();
        const auto groups = group_findings(findings);
        auto *list = bench.find<FindingList>(QStringLiteral("findingList"));
        int errors = 0;
        for (const FindingGroup &group : groups) {
            errors += findings[static_cast<std::size_t>(group.findings.front())].severity == Severity::Error
                          ? 1
                          : 0;
        }
        QVERIFY(errors > 0);
        QCOMPARE(list->item(0)->text(), QStringLiteral("Errors: %1").arg(errors));
        QVERIFY(!(list->item(0)->flags() & Qt::ItemIsSelectable)); // a heading
        int rows = 0, headings = 0;
        for (int i = 0; i < list->count(); ++i) {
            (list->item(i)->flags() & Qt::ItemIsSelectable ? rows : headings) += 1;
        }
        QCOMPARE(rows, int(groups.size()));
        QVERIFY(headings >= 2 && headings <= 3);
        QVERIFY2(bench.text("findingsState").startsWith(QString::number(groups.size())),
                 qPrintable(bench.text("findingsState")));
        // A click on a row leads to its first place; the list follows the keys.
        const QRect row = list->visualItemRect(list->item(1));
        QTest::mouseClick(list->viewport(), Qt::LeftButton, {}, row.center());
        QCOMPARE(bench.findings().currentGroup(), 0);
        QCOMPARE(bench.findings().currentPlace(), 0);
        QVERIFY(!bench.window.spotlight().areas().empty());
        bench.key(Qt::Key_N, Qt::ShiftModifier); // back from the first: the last
        QCOMPARE(list->currentGroup(), bench.findings().currentGroup());
        QCOMPARE(bench.findings().currentGroup(), int(groups.size()) - 1);
        bench.window.close();
    }

    void aFindingIsAskedAboutOnTheChangeSlip()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        bench.stepTo("white_overprints");
        bench.press("askCustomer");
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("askCustomer"))->isEnabled());
        const auto changes = list_changes(bench.window.session().job());
        QCOMPARE(changes.size(), std::size_t(1));
        QCOMPARE(changes[0].state, ChangeState::AskCustomer);
        bench.press("panelReading");
        bench.choose(qPrintable(QStringLiteral("change ") + QString::fromStdString(changes[0].key)), 1);
        QCOMPARE(list_changes(bench.window.session().job())[0].state, ChangeState::Agreed);
        bench.answers.save_file = bench.folder.filePath(QStringLiteral("slip.pdf"));
        bench.press("saveSlip");
        QTRY_VERIFY(QFile::exists(bench.answers.save_file));
        const QString words =
            output_of(QStringLiteral("pdftotext"), {bench.answers.save_file, QStringLiteral("-")})
                .simplified();
        QVERIFY2(words.contains(QStringLiteral("White set to overprint vanishes")), qPrintable(words));
        QVERIFY(words.contains(QStringLiteral("State: agreed")));
        const QStringList pictures =
            output_of(QStringLiteral("pdfimages"), {QStringLiteral("-list"), bench.answers.save_file})
                .split(QLatin1Char('\n'), Qt::SkipEmptyParts);
        QCOMPARE(pictures.size() - 2, 2); // before and after, under two lines of heading
        bench.window.close();
    }

    // The looked-for case: a headline set to overprint looks the same in a viewer and vanishes in print.
    void changesOfARevisedFileAreListedAndWalked()
    {
        Receive bench;
        const std::string ground = "1 0 0 0 k 0 0 72 72 re f ";
        bench.openPdf(spots_page(ground + "0 0 0 0 k 20 50 30 10 re f 20 10 20 10 re f"));
        MiniPdf revised = spots_page(ground + "/OPM1 gs 0 0 0 0 k 20 50 30 10 re f 20 10 20 10 re f");
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("revised.pdf"));
        revised.save(bench.answers.open_file);
        QSignalSpy done(&bench.window.session(), &Session::artworkReplaced);
        bench.find<QAction>(QStringLiteral("replaceArtwork"))->trigger();
        QTRY_COMPARE_WITH_TIMEOUT(done.count(), 1, 30'000);
        bench.waitUntilRead();
        bench.key(Qt::Key_5);
        auto *card = bench.find<QWidget>(QStringLiteral("changeList"));
        QTRY_VERIFY_WITH_TIMEOUT(card->isVisible(), 30'000);
        QTRY_COMPARE_WITH_TIMEOUT(bench.text("changeSummary"), QStringLiteral("2 places print otherwise"),
                                  30'000);
        QStringList words;
        for (const QLabel *label :
             bench.find<QWidget>(QStringLiteral("changedInks"))->findChildren<QLabel *>()) {
            words << label->text();
        }
        const QString text = words.join(QLatin1Char(' '));
        // 500 square points of the page's 5184 are 0.62 cm² and 9.6 %; antialiased edges are a tenth off.
        QVERIFY2(text.contains(QStringLiteral("Cyan")) && text.contains(QStringLiteral("0.62 cm²")) &&
                     text.contains(QStringLiteral(" → 100.0 %")),
                 qPrintable(text));
        bench.key(Qt::Key_N);
        QCOMPARE(bench.text("changedPlace"), QStringLiteral("1 of 2"));
        const QRectF first = bench.window.spotlight().areas()[0];
        QVERIFY(first.contains(QPointF(35, 17) * 25.4 / 72.0));
        bench.key(Qt::Key_N);
        bench.key(Qt::Key_N, Qt::ShiftModifier);
        bench.key(Qt::Key_N, Qt::ShiftModifier);
        QCOMPARE(bench.text("changedPlace"), QStringLiteral("2 of 2"));
        QCOMPARE(bench.window.spotlight().current(), 1);
        bench.key(Qt::Key_2); // in other looks N walks the findings
        QVERIFY(!card->isVisible());
        bench.window.close();
    }

    void otherRulesAreCheckedBy()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        const auto units = bench.window.session().facts().rules().press.units;
        bench.choose("rulesChooser", 2);                                 // the duplicator
        QVERIFY(!bench.window.session().facts().findings().has_value()); // being checked again
        bench.waitForFindings();
        QVERIFY(bench.window.session().facts().rules().press.units != units);
        bench.window.session().undoStack().undo();
        QCOMPARE(bench.window.session().facts().rules().press.units, units);
        bench.waitForFindings();
        // What was chosen last is used for the next artwork too.
        bench.choose("rulesChooser", 2);
        bench.waitForFindings();
        const std::string name = bench.window.session().facts().rules().name;
        bench.answers.unsaved = UnsavedChoice::Discard;
        bench.openPdf(faulty_page(), QStringLiteral("next.pdf"));
        QCOMPARE(bench.window.session().facts().rules().name, name);
        bench.window.close();
    }

    void rulesAreDuplicatedEditedAndExchanged()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        const auto thin = [&] {
            const auto &all = *bench.window.session().facts().findings();
            return std::count_if(all.begin(), all.end(),
                                 [](const Finding &finding) { return finding.check == "thin_line"; });
        };
        QCOMPARE(thin(), 1);
        bool seen = false;
        QTimer::singleShot(0, &bench.window, [&] {
            auto *dialog = bench.find<RulesDialog>(QStringLiteral("rulesDialog"));
            auto *limit = dialog->findChild<NumberField *>(QStringLiteral("limit thin_line line_pt"));
            QVERIFY(!limit->isEnabled()); // shipped rules stay as they are
            bench.click(dialog->findChild<QPushButton *>(QStringLiteral("duplicateRules")));
            QVERIFY(limit->isEnabled());
            auto *scroll = dialog->findChild<QScrollArea *>();
            scroll->ensureWidgetVisible(limit);
            bench.enter(limit, QStringLiteral("0.05 pt"));
            auto *name = dialog->findChild<QLineEdit *>(QStringLiteral("rulesName"));
            scroll->ensureWidgetVisible(name);
            bench.enter(name, QStringLiteral("Quarry shop"));
            auto *folds = dialog->findChild<QLineEdit *>(QStringLiteral("rulesFolds"));
            bench.enter(folds, QStringLiteral("upright 1in, level 2 cm"));
            QCOMPARE(folds->text(), QStringLiteral("upright 25.4 mm, level 20 mm"));
            bench.enter(folds, QStringLiteral("aslant 3 mm"));
            QCOMPARE(bench.answers.errors.size(), 1);
            QCOMPARE(dialog->chosen().folds.size(), std::size_t(2));

            // Exported, and imported again as another set.
            bench.answers.save_file = bench.folder.filePath(QStringLiteral("quarry.json"));
            bench.click(dialog->findChild<QPushButton *>(QStringLiteral("exportRules")));
            const auto exported = read_rules(bench.answers.save_file.toStdString());
            QVERIFY(exported);
            QCOMPARE(exported->name, std::string("Quarry shop"));
            QCOMPARE(exported->limit("thin_line", "line_pt"), 0.05);
            bench.answers.open_file = bench.answers.save_file;
            bench.click(dialog->findChild<QPushButton *>(QStringLiteral("importRules")));
            auto *list = dialog->findChild<QListWidget *>(QStringLiteral("rulesList"));
            QCOMPARE(list->count(), 6);
            QCOMPARE(list->currentItem()->text(), QStringLiteral("Quarry shop 2"));
            bench.click(dialog->findChild<QPushButton *>(QStringLiteral("removeRules")));
            QCOMPARE(list->count(), 5);
            list->setCurrentRow(4);
            seen = true;
            bench.click(dialog->findChild<QPushButton *>(QStringLiteral("useRules")));
        });
        bench.press("editRules");
        QVERIFY(seen);
        bench.waitForFindings();
        QCOMPARE(bench.window.session().facts().rules().name, std::string("Quarry shop"));
        QCOMPARE(thin(), 0);
        bench.window.close();
    }

    void objectsAreChosenInTheArtAndInTheList()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        auto *list = bench.find<QListView>(QStringLiteral("objectList"));
        // A click lights the topmost object, the next one that below it, and then it begins again.
        bench.clickAt(at(35, 35));
        QTRY_COMPARE(bench.window.spotlight().object(), 3);
        QVERIFY(list->isVisible());
        QCOMPARE(list->currentIndex().row(), 0); // the topmost stands first
        bench.clickAt(at(35, 35));
        QTRY_COMPARE(bench.window.spotlight().object(), 0);
        QVERIFY(bench.text("chosenObject").contains(QStringLiteral("Alpha 100 %")));
        bench.clickAt(at(35, 35));
        QTRY_COMPARE(bench.window.spotlight().object(), 3);
        // In another stage a click lights the object too, and the stage stays.
        bench.window.setStage(Stage::Screen);
        bench.clickAt(at(100, 40));
        QTRY_COMPARE(bench.window.spotlight().object(), 1);
        QVERIFY(bench.find<QWidget>(QStringLiteral("screenWorktop"))->isVisible());
        bench.window.setStage(Stage::Receive);
        bench.clickAt(at(70, 70)); // bare
        QTRY_COMPARE(bench.window.spotlight().object(), -1);
        // The list lights it in the art.
        list->setCurrentIndex(list->model()->index(2, 0));
        QCOMPARE(bench.window.spotlight().object(), 1);
        const QRectF lit = bench.window.spotlight().areas().front();
        QVERIFY(std::abs(lit.left() - at(80, 0).x()) < 0.01 && std::abs(lit.top() - at(0, 60).y()) < 0.01);
        // Filters narrow the list; a click on what they hide lifts them.
        bench.choose("objectOverprint", 1);
        QCOMPARE(list->model()->rowCount(), 2);
        bench.choose("objectInk", 2);
        QCOMPARE(list->model()->rowCount(), 1);
        bench.choose("objectInk", 0);
        auto *smaller = bench.find<QLineEdit>(QStringLiteral("objectSmaller"));
        smaller->setFocus();
        QTest::keyClicks(smaller, QStringLiteral("12pt"));
        QCOMPARE(list->model()->rowCount(), 1);
        QVERIFY(bench.text("objectCount").startsWith(QStringLiteral("1 of 4")));
        QTest::keyClicks(smaller, QStringLiteral("x"));
        QVERIFY(smaller->property("wrong").toBool());
        bench.clickAt(at(100, 40));
        QTRY_COMPARE(list->model()->rowCount(), 4);
        QCOMPARE(bench.window.spotlight().object(), 1);
        bench.window.close();
    }

    void bothReadingsOfOverprintAreCompared()
    {
        Receive bench;
        // Beta over Alpha: overprinted both inks print; knocked out Beta alone.
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 144 144 re f /OP gs /B cs 1 scn 40 40 60 60 re f");
        pdf.width = pdf.height = 144;
        bench.openPdf(pdf);
        bench.key(Qt::Key_1);
        const QColor printed = bench.shownAt(at(70, 70));
        auto *reading = bench.find<QAbstractButton>(QStringLiteral("overprintReading"));
        bench.click(reading);
        const QColor knocked = bench.shownAt(at(70, 70));
        QVERIFY2(knocked.lightness() > printed.lightness() + 10, qPrintable(printed.name() + knocked.name()));
        bench.click(reading);
        QCOMPARE(bench.shownAt(at(70, 70)), printed);
        bench.window.close();
    }

    void keysOfTheLightTableWorkEverywhere()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        auto *next = bench.find<QPushButton>(QStringLiteral("nextFinding"));
        next->setFocus();
        QTest::keyClick(next, Qt::Key_4);
        QCOMPARE(bench.window.view().look(), Look::Outline);
        QTest::keyPress(next, Qt::Key_O);
        QVERIFY(bench.table()->isPeeking());
        QTest::keyRelease(next, Qt::Key_O);
        QVERIFY(!bench.table()->isPeeking());
        // Where words are typed, keys are letters.
        bench.stepTo("thin_line");
        auto *reason = bench.find<QLineEdit>(QStringLiteral("acceptReason"));
        reason->setFocus();
        QTest::keyClicks(reason, QStringLiteral("nom 4"));
        QCOMPARE(reason->text(), QStringLiteral("nom 4"));
        QCOMPARE(bench.table()->hand(), Hand::Move);
        bench.window.close();
    }

    void theStockShowsUnderThePrint()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        bench.key(Qt::Key_1);
        QCOMPARE(bench.shownAt(at(70, 70)), QColor(Qt::white));
        bench.find<QAction>(QStringLiteral("stockBlack"))->trigger();
        QVERIFY(bench.shownAt(at(70, 70)).lightness() < 60);
        bench.find<QAction>(QStringLiteral("stockClear"))->trigger();
        QSet<QRgb> shades; // the checker
        (void)bench.shownAt(at(70, 70));
        const QImage picture = bench.table()->grab().toImage();
        const QPoint middle = bench.table()->widgetFromPage(at(70, 70)).toPoint();
        for (int x = -20; x <= 20; ++x) {
            shades.insert(picture.pixel(middle + QPoint(x, 0)));
        }
        QCOMPARE(int(shades.size()), 2);
        bench.answers.colour = QColor(200, 180, 140);
        bench.find<QAction>(QStringLiteral("stockOther"))->trigger();
        const QColor shown = bench.shownAt(at(70, 70));
        QVERIFY2(std::abs(shown.red() - 200) <= 2 && std::abs(shown.green() - 180) <= 2 &&
                     std::abs(shown.blue() - 140) <= 2,
                 qPrintable(shown.name()));
        // The stock belongs to the job.
        bench.answers.save_file = bench.folder.filePath(QStringLiteral("stock.bichrom"));
        bench.find<QAction>(QStringLiteral("save"))->trigger();
        const Stock stock = bench.window.session().job().stock;
        bench.open(bench.answers.save_file);
        QVERIFY(bench.window.session().job().stock == stock);
        bench.window.close();
    }

    void outlinesShowWhatPrintsNothing()
    {
        Receive bench;
        MiniPdf pdf = spots_page("/A cs 0 scn 40 40 60 60 re f");
        pdf.width = pdf.height = 144;
        bench.openPdf(pdf);
        QCOMPARE(bench.shownAt(at(40, 70)), QColor(Qt::white));
        bench.key(Qt::Key_4);
        const QPointF edge = at(40, 70);
        (void)bench.shownAt(edge);
        const QImage picture = bench.table()->grab().toImage();
        const QPoint middle = bench.table()->widgetFromPage(edge).toPoint();
        int darkest = 255;
        for (int x = -2; x <= 2; ++x) {
            darkest = std::min(darkest, qGray(picture.pixel(middle + QPoint(x, 0))));
        }
        QVERIFY2(darkest < 140, qPrintable(QString::number(darkest)));
        QCOMPARE(bench.shownAt(at(70, 70)), QColor(Qt::white));
        bench.window.close();
    }

    void distancesAndAnglesAreMeasured()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        bench.key(Qt::Key_M);
        QCOMPARE(bench.table()->hand(), Hand::Measure);
        bench.drag({10, 40}, {40, 10}); // up to the right
        QVERIFY(bench.table()->measured().has_value());
        const QLineF line = *bench.table()->measured();
        QVERIFY2(std::abs(line.length() - std::hypot(30, 30)) < 0.4,
                 qPrintable(QString::number(line.length())));
        QVERIFY2(std::abs(line.angle() - 45) < 1, qPrintable(QString::number(line.angle())));
        bench.key(Qt::Key_Escape);
        QVERIFY(!bench.table()->measured().has_value());
        QCOMPARE(bench.table()->hand(), Hand::Move);
        bench.window.close();
    }

    void theCoreSampleAverages()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        auto *sample = bench.find<CoreSampleBar>(QStringLiteral("coreSample"));
        const auto read = [&](QPointF mm) {
            bench.pointAt(mm);
            if (!QTest::qWaitFor([&] { return sample->reading().has_value(); }, patience_ms)) {
                qFatal("no reading");
            }
            return sample->reading()->tones[0];
        };
        QCOMPARE(read(at(25, 50)), 1.0);
        QVERIFY2(std::abs(read(at(100, 40)) - 0.4) < 0.004, "the tint");
        // Around the left edge of the square about half of the pixels are inked.
        bench.choose("sampleSize", 4);
        const double half = read(at(20, 45));
        QVERIFY2(half > 0.44 && half < 0.56, qPrintable(QString::number(half)));
        QCOMPARE(sample->reading()->pixels, 51LL * 51);
        // A drawn rectangle: the tinted square and as much bare stock.
        bench.key(Qt::Key_A);
        bench.drag(at(80, 80), at(120, 0));
        QTRY_VERIFY(sample->reading() && sample->reading()->pixels > 51 * 51);
        QVERIFY2(std::abs(sample->reading()->tones[0] - 0.2) < 0.01,
                 qPrintable(QString::number(sample->reading()->tones[0])));
        bench.key(Qt::Key_Escape);
        // What lies there is told.
        bench.pointAt(at(100, 100));
        QTRY_VERIFY2(sample->objectText().contains(QStringLiteral("line 0.1 pt, overprints")),
                     qPrintable(sample->objectText()));
        bench.window.close();
    }

    void samplesAreHeldListedAndCopied()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        bench.pointAt(at(25, 50));
        bench.key(Qt::Key_H);
        bench.pointAt(at(100, 40));
        bench.key(Qt::Key_H);
        QCOMPARE(bench.window.session().job().pins.size(), std::size_t(2));
        auto *panel = bench.find<ContentsPanel>(QStringLiteral("contentsPanel"));
        QVERIFY(panel->isVisible());
        QTRY_COMPARE(panel->samplesText().split(QLatin1Char('\n')).size(), 3);
        bench.press("copySamples");
        const QStringList lines = QApplication::clipboard()->text().split(QLatin1Char('\n'));
        QCOMPARE(lines.size(), 3);
        QCOMPARE(lines[0], QStringLiteral("sample\tx mm\ty mm\tAlpha %\tBeta %\ttotal %"));
        QVERIFY2(lines[1].endsWith(QStringLiteral("\t100\t0\t100")), qPrintable(lines[1]));
        QVERIFY2(lines[2].endsWith(QStringLiteral("\t40\t0\t40")), qPrintable(lines[2]));
        QTRY_VERIFY(bench.find<QWidget>(QStringLiteral("dropSample1"))->isVisible());
        bench.press("dropSample1");
        QTRY_COMPARE(bench.window.session().job().pins.size(), std::size_t(1));
        bench.window.close();
    }

    void inksAreCountedAgainstTheUnits()
    {
        Receive bench;
        bench.openPdf(faulty_page());
        bench.press("panelContents");
        auto *inks = bench.find<InkTable>(QStringLiteral("inksFound"));
        QCOMPARE(int(inks->rows().size()), 2);
        QTRY_VERIFY(inks->rows()[0].share >= 0);
        // Inside the trim of 126 × 126 pt: a square of 40 pt with a hole of 10 pt, for overprint leaves the
        // other inks alone but paints its own, even with 0 % (ISO 32000-1, 8.6.7); and one of 40 % tint.
        const double share = (1500 + 0.4 * 1600) / (126.0 * 126.0);
        QVERIFY2(std::abs(inks->rows()[0].share - share) < 0.001,
                 qPrintable(QString::number(inks->rows()[0].share)));
        const double cm2 = (1500 + 0.4 * 1600) * 2.54 * 2.54 / 72 / 72;
        QVERIFY(std::abs(inks->rows()[0].area_cm2 - cm2) < 0.02);
        QVERIFY2(bench.text("unitsNeeded").startsWith(QStringLiteral("2 press units needed")),
                 qPrintable(bench.text("unitsNeeded")));
        bench.window.close();
    }

    void pagesAreChosenAndStepsLeadToThem()
    {
        Receive bench;
        MiniPdf pdf = spots_page("/A cs 1 scn 20 20 40 40 re f");
        pdf.more_pages = {"/B CS 1 SCN 0.1 w 20 100 m 120 100 l S"};
        pdf.width = pdf.height = 144;
        bench.openPdf(pdf);
        auto *strip = bench.find<QListWidget>(QStringLiteral("pageStrip"));
        QVERIFY(strip->isVisible());
        QCOMPARE(strip->count(), 2);
        QCOMPARE(bench.window.session().job().inks(), (std::vector<std::string>{"Alpha"}));
        // The hairline stands on the second page.
        bench.stepTo("thin_line");
        QTRY_COMPARE(bench.window.session().page()->info.number, 2);
        QTRY_COMPARE(int(bench.window.spotlight().areas().size()), 1);
        QCOMPARE(strip->currentRow(), 1);
        // Its ink has a plate too now; turning pages is nothing to be undone or saved.
        QCOMPARE(bench.window.session().job().inks(), (std::vector<std::string>{"Alpha", "Beta"}));
        QVERIFY(!bench.window.session().isModified());
        QVERIFY(!bench.window.session().undoStack().canUndo());
        QVERIFY(bench.window.session().facts().findings().has_value()); // no new check is needed
        Job job = bench.window.session().job();
        job.plates[1].screen.ruling = Lpi(40);
        bench.window.session().change(job, QStringLiteral("ruling"));
        // Back by the strip; undoing does not turn pages.
        QTest::mouseClick(strip->viewport(), Qt::LeftButton, {},
                          strip->visualItemRect(strip->item(0)).center());
        QTRY_COMPARE(bench.window.session().page()->info.number, 1);
        bench.waitUntilRead();
        QVERIFY(bench.window.spotlight().areas().empty()); // the hairline is not on this page
        QCOMPARE(bench.window.session().job().plates[1].screen.ruling.value, 40.0);
        bench.window.session().undoStack().undo();
        QVERIFY(!bench.window.session().isLoading());
        QCOMPARE(bench.window.session().page()->info.number, 1);
        QCOMPARE(bench.window.session().job().inks(), (std::vector<std::string>{"Alpha", "Beta"}));
        QCOMPARE(bench.window.session().job().plates[1].screen.ruling.value, 55.0);
        bench.window.close();
    }

    void platesFollowThePage()
    {
        Receive bench;
        MiniPdf pdf = spots_page("0 1 1 0 k 0 0 20 20 re f /A cs 1 scn 20 20 40 40 re f");
        pdf.more_pages = {"/A cs 1 scn 20 20 40 40 re f /B cs 1 scn 20 20 40 40 re f"};
        bench.openPdf(pdf);
        Session &session = bench.window.session();
        const std::vector<std::string> first = session.job().inks();
        Job job = session.job();
        job.plates[0].screen.ruling = Lpi(33); // a step that knows nothing of page 2
        session.change(job, QStringLiteral("ruling"));
        session.showPage(2);
        bench.waitUntilRead();
        std::vector<std::string> both = first;
        both.emplace_back("Beta"); // where it would have been from the start
        QCOMPARE(session.job().inks(), both);
        QCOMPARE(session.job().plates[0].screen.ruling.value, 33.0);
        session.undoStack().undo();
        QCOMPARE(session.job().inks(), both);
        QCOMPARE(session.job().plates[0].screen.ruling.value, 55.0);
        QCOMPARE(session.page()->info.number, 2);
        // A plate taken away does not come back with its page.
        session.change(remove_plate(session.job(), "Beta", true), QStringLiteral("remove"));
        session.showPage(1);
        bench.waitUntilRead();
        session.showPage(2);
        bench.waitUntilRead();
        QCOMPARE(session.job().inks(), first);
        bench.answers.unsaved = UnsavedChoice::Discard;
        bench.window.close();
    }

    void coloursAreReadInAnotherWay()
    {
        Receive bench;
        MiniPdf pdf;
        pdf.contents = "1 0 0 rg 0 0 72 72 re f";
        bench.openPdf(pdf);
        const std::vector<std::string> process = bench.window.session().job().inks();
        const auto tones = [&] {
            return take(bench.window.session().page()->plate_line->render({10, 10, 1, 1}, Dpi(72)));
        };
        const PlateTile as_srgb = tones();
        bench.press("panelReading");
        bench.answers.open_file = bench.folder.filePath(QStringLiteral("wide.icc"));
        save_bytes(make_profile(CalibratedRgb{{0.9505, 1, 1.089},
                                              {2.2, 2.2, 2.2},
                                              {0.58, 0.29, 0.03, 0.19, 0.63, 0.07, 0.19, 0.08, 0.99}}),
                   bench.answers.open_file);
        bench.choose("untaggedRgb", 1);
        bench.waitUntilRead();
        QCOMPARE(bench.answers.uses.back(), FileUse::Profile);
        QVERIFY2(bench.answers.errors.isEmpty(), qPrintable(bench.answers.errors.join(QLatin1Char(' '))));
        const PlateTile as_wide = tones();
        bool differs = false;
        for (std::size_t i = 0; i < as_srgb.plates.size() && i < as_wide.plates.size(); ++i) {
            differs = differs || as_srgb.plates[i].pixels != as_wide.plates[i].pixels;
        }
        QVERIFY(differs);
        // The decision stands on the change slip, and undoing takes it off again.
        QCOMPARE(list_changes(bench.window.session().job()).size(), std::size_t(1));
        bench.window.session().undoStack().undo();
        bench.waitUntilRead();
        QVERIFY(list_changes(bench.window.session().job()).empty());
        QCOMPARE(tones().plates[1].pixels, as_srgb.plates[1].pixels);
        // What is no profile is refused with the reason.
        save_bytes(pdf.bytes(), bench.answers.open_file);
        bench.choose("untaggedRgb", 1);
        QCOMPARE(bench.answers.errors.size(), 1);
        QVERIFY(bench.window.session().job().colours == ColourSettings());
        bench.window.close();
    }

    void aPictureWithoutSizeIsGivenOne()
    {
        Receive bench;
        const QString path = bench.folder.filePath(QStringLiteral("picture.png"));
        QImage picture(300, 150, QImage::Format_Grayscale8);
        picture.fill(0);
        const QByteArray png = without_chunk(encoded(picture, "png"), "pHYs");
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly) && file.write(png) == png.size());
        file.close();
        bench.open(path);
        bench.press("panelReading");
        auto *field = bench.find<NumberField>(QStringLiteral("assumedPpi"));
        QCOMPARE(bench.window.session().page()->content().width().value, 72.0); // at 300 ppi
        QVERIFY(bench.text("assumptions").contains(QStringLiteral("300")));
        bench.enter(field, QStringLiteral("150 ppi"));
        bench.waitUntilRead();
        QCOMPARE(bench.window.session().page()->content().width().value, 144.0);
        bench.window.session().undoStack().undo();
        bench.waitUntilRead();
        QCOMPARE(bench.window.session().page()->content().width().value, 72.0);
        bench.window.close();
    }
};

BICHROM_TEST(TestReceive, QApplication)
#include "tst_receive.moc"
