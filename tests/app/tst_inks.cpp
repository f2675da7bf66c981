// The ink book in the real window.
#include "app/services/ink_library.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/theme.h"
#include "core/base/atomic_file.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QDialog>
#include <QLabel>
#include <QListWidget>
#include <QPushButton>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Inks : Bench
{
    QListWidget *nearest = find<QListWidget>(QStringLiteral("nearestInks"));
    QListWidget *book = find<QListWidget>(QStringLiteral("inkBook"));

    void openDemo()
    {
        open(demo_file());
        window.setStage(Stage::Ink);
        press("panelBook");
        find<QListWidget>(QStringLiteral("inkPlates"))->setCurrentRow(2); // Luna Green
    }
    const Plate &green() { return window.session().job().plates[2]; }
    void search(const QString &text) { find<QLineEdit>(QStringLiteral("inkSearch"))->setText(text); }
};

} // namespace

class TestInks : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void aPlateIsGivenAColourFromTheBook()
    {
        Inks bench;
        bench.openDemo();
        const QPointF on_wing(120, 135);
        const QColor before = bench.shownAt(on_wing);
        const Lab solid = bench.green().solid;
        // The ink of the same name stands first; the others get farther away.
        QVERIFY2(bench.nearest->item(0)->text().contains(QStringLiteral("Luna Green, same name")),
                 qPrintable(bench.nearest->item(0)->text()));
        QCOMPARE(bench.nearest->count(), 5); // it is among the nearest
        Job far = bench.window.session().job();
        far.plates[2].solid = {30, 60, 0};
        bench.window.session().change(far, QStringLiteral("a stand-in colour far off"));
        QCOMPARE(bench.nearest->count(), 6);
        QVERIFY(bench.nearest->item(0)->text().contains(QStringLiteral("Luna Green, same name")));
        bench.window.session().undoStack().undo();
        QVERIFY(!bench.find<QPushButton>(QStringLiteral("giveColour"))->isEnabled()); // nothing is chosen
        bench.nearest->setCurrentRow(0);
        bench.press("giveColour");
        const InkBook &shipped = shipped_inks();
        const auto luna =
            static_cast<std::size_t>(find_inks(shipped, "luna green")[1]); // after "Pale Luna Green"
        QCOMPARE(shipped.inks[luna].name, std::string("Luna Green"));
        QVERIFY(bench.green().solid == shipped.inks[luna].solid);
        const QColor after = bench.shownAt(on_wing);
        QVERIFY(after != before);
        QCOMPARE(after, theme::ink_color(shipped.inks[luna].solid));
        QVERIFY(bench.nearest->item(0)->text().startsWith(QStringLiteral("ΔE 0.0")));
        bench.window.session().undoStack().undo();
        QVERIFY(bench.green().solid == solid);
        QCOMPARE(bench.shownAt(on_wing), before);
        bench.window.close();
    }

    void whatIsKnownOfAPlatesInkIsEdited()
    {
        Inks bench;
        bench.openDemo();
        const QPointF on_wing(120, 135);
        const Plate before = bench.green();
        bench.press("editInk");
        auto *dialog = bench.window.findChild<QDialog *>(QStringLiteral("inkDialog"));
        QVERIFY(dialog != nullptr && dialog->isVisible());
        const auto field = [&](const char *name) {
            return dialog->findChild<QLineEdit *>(QString::fromLatin1(name));
        };
        QCOMPARE(field("inkOpacity")->text(), QStringLiteral("0 %"));
        QVERIFY(!dialog->findChild<QPushButton *>(QStringLiteral("usualDensity"))->isEnabled());
        bench.enter(field("inkOpacity"), QStringLiteral("50 %"));
        bench.enter(field("inkL"), QStringLiteral("52"));
        bench.enter(field("inkDensity"), QStringLiteral("1.2"));
        bench.answers.colour = QColor(255, 0, 255);
        bench.click(dialog->findChild<QPushButton *>(QStringLiteral("inkShownAs")));
        auto *curve = dialog->findChild<CurveEdit *>(QStringLiteral("inkGain"));
        QTest::mouseDClick(curve, Qt::LeftButton, {}, curve->placeOf({0.5, 0.65}).toPoint());
        QVERIFY(bench.green() == before); // until it is wanted
        bench.click(dialog->findChild<QPushButton *>(QStringLiteral("useInk")));
        const InkTraits &traits = bench.green().traits;
        QCOMPARE(traits.opacity, 0.5);
        QCOMPARE(bench.green().solid.l, 52.0);
        QCOMPARE(*traits.density, 1.2);
        QVERIFY(std::fabs(traits.gain.at(0.5) - 0.65) < 0.04);
        // The screen colour stands in where no print is computed.
        QVERIFY(traits.shown_as.has_value());
        bench.window.view().setLook(Look::Plates);
        const QColor shown = bench.shownAt(on_wing);
        QVERIFY2(shown.red() > 200 && shown.blue() > 200 && shown.green() < 90, qPrintable(shown.name()));
        bench.window.view().setLook(Look::Print);
        QVERIFY(bench.shownAt(on_wing).green() > bench.shownAt(on_wing).red());
        bench.window.session().undoStack().undo();
        QVERIFY(bench.green() == before);
        // A colour no ink can have is said; leaving the dialog changes nothing.
        bench.press("editInk");
        dialog = bench.window.findChild<QDialog *>(QStringLiteral("inkDialog"));
        bench.enter(field("inkB"), QStringLiteral("190"));
        QVERIFY(!dialog->findChild<QLabel *>(QStringLiteral("inkNote"))->text().isEmpty());
        auto *kind = dialog->findChild<QComboBox *>(QStringLiteral("inkKind"));
        kind->setCurrentIndex(static_cast<int>(InkUse::White));
        Q_EMIT kind->activated(static_cast<int>(InkUse::White));
        QCOMPARE(field("inkOpacity")->text(), QStringLiteral("90 %"));
        QTest::keyClick(dialog, Qt::Key_Escape);
        QVERIFY(bench.green() == before);
        bench.window.close();
    }

    void theBookIsSearched()
    {
        Inks bench;
        bench.openDemo();
        const int all = bench.book->count();
        QVERIFY(all >= 120);
        bench.search(QStringLiteral("DUSK deep"));
        QCOMPARE(bench.book->count(), 1);
        QCOMPARE(bench.book->item(0)->text(), QStringLiteral("Deep Dusk Blue"));
        bench.search({});
        auto *family = bench.find<QComboBox>(QStringLiteral("hueFamily"));
        int sum = 0;
        for (int row = 1; row < family->count(); ++row) {
            family->setCurrentIndex(row);
            QVERIFY2(bench.book->count() > 0, qPrintable(family->currentText()));
            sum += bench.book->count();
        }
        QCOMPARE(sum, all); // each ink in one family
        bench.window.close();
    }

    void inksAreAddedRenamedLockedAndRemoved()
    {
        {
            Inks bench;
            bench.open(demo_file());
            bench.window.setStage(Stage::Ink);
            bench.press("panelBook");
            bench.find<QListWidget>(QStringLiteral("inkPlates"))->setCurrentRow(0); // process black
            bench.press("addInk");
            QVERIFY(!bench.find<QPushButton>(QStringLiteral("addInk"))->isEnabled()); // it is there now
            bench.search(QStringLiteral("black"));
            for (int row = 0; row < bench.book->count(); ++row) {
                if (bench.book->item(row)->text() == QStringLiteral("Black, process")) {
                    bench.book->setCurrentRow(row);
                }
            }
            auto *name = bench.find<QLineEdit>(QStringLiteral("inkName"));
            QCOMPARE(name->text(), QStringLiteral("Black"));
            bench.enter(name, QStringLiteral("Night Black")); // taken
            QCOMPARE(bench.answers.errors.size(), 1);
            bench.enter(name, QStringLiteral("Bottom Black"));
            QCOMPARE(bench.answers.errors.size(), 1);
            bench.press("lockInk");
            QVERIFY(!name->isEnabled());
            QVERIFY(!bench.find<QPushButton>(QStringLiteral("removeInk"))->isEnabled());
            bench.window.close();
        }
        // The shop's book is there again, and the shipped one is untouched.
        Inks again;
        again.openDemo();
        again.search(QStringLiteral("bottom"));
        QCOMPARE(again.book->count(), 1);
        QCOMPARE(again.book->item(0)->text(), QStringLiteral("Bottom Black, process, locked"));
        again.book->setCurrentRow(0);
        again.press("lockInk");
        again.press("removeInk");
        QCOMPARE(again.book->count(), 0);
        QVERIFY(find_inks(shipped_inks(), "bottom").empty());
        again.window.close();
    }

    void booksAreImportedAndExported()
    {
        QTemporaryDir folder;
        Inks bench;
        bench.openDemo();
        const int all = bench.book->count();
        const InkBook more{"More",
                           {{"Luna Green", InkUse::Spot, {1, 2, 3}, {}, false},
                            {"Quite New", InkUse::Spot, {44, 5, 6}, {}, false}}};
        bench.answers.open_file = folder.filePath(QStringLiteral("more.cxf"));
        QVERIFY(write_file(bench.answers.open_file.toStdString(), to_cxf(more)));
        bench.find<QAction>(QStringLiteral("importInks"))->trigger();
        QCOMPARE(bench.book->count(), all + 1);
        QVERIFY(bench.find<QLabel>(QStringLiteral("inkState"))
                    ->text()
                    .startsWith(QStringLiteral("1 inks added; 1 ")));
        for (const char *name : {"book.cxf", "book.txt"}) {
            bench.answers.save_file = folder.filePath(QString::fromLatin1(name));
            bench.find<QAction>(QStringLiteral("exportInks"))->trigger();
            const auto read = take(read_ink_book(bench.answers.save_file.toStdString()));
            QCOMPARE(int(read.inks.size()), all + 1);
            QCOMPARE(contents(bench.answers.save_file).startsWith('<'), QByteArray(name).endsWith("cxf"));
        }
        bench.answers.open_file = demo_file();
        bench.find<QAction>(QStringLiteral("importInks"))->trigger();
        QCOMPARE(bench.answers.errors.size(), 1);
        bench.window.close();
    }

    void aBrokenBookIsNotWrittenOver()
    {
        const QString file = m_settings.filePath(QStringLiteral("broken.txt"));
        QVERIFY(write_file(file.toStdString(), std::string_view("nothing of use")));
        InkLibrary library(file);
        QVERIFY(!library.fault().isEmpty());
        QCOMPARE(library.book().inks.size(), shipped_inks().inks.size()); // work goes on
        QVERIFY(!library.add({{"New", InkUse::Spot, {}, {}, false}}));
        QCOMPARE(contents(file), QByteArray("nothing of use"));
    }

    void anInkIsRenamedInManyFiles()
    {
        Bench bench;
        QTemporaryDir folder;
        const MiniPdf with = spots_page("/A cs 1 scn 5 5 40 40 re f");
        MiniPdf without;
        without.contents = "0 0 0 1 k 5 5 40 40 re f";
        QStringList files;
        for (const char *name : {"one.pdf", "two.pdf", "plain.pdf"}) {
            files << folder.filePath(QString::fromLatin1(name));
            (name[0] == 'p' ? without : with).save(files.back());
        }
        const QByteArray before = contents(files.front());
        bench.answers.open_files = files;
        bench.answers.folder = folder.filePath(QStringLiteral("copies"));
        // The dialog is modal: what is done in it is done once it is shown.
        QTimer::singleShot(0, &bench.window, [&] {
            auto *dialog = bench.find<QDialog>(QStringLiteral("renameDialog"));
            const auto in = [&](const char *name) {
                return dialog->findChild<QLineEdit *>(QLatin1String(name));
            };
            auto *words = dialog->findChild<QLabel *>(QStringLiteral("renameWords"));
            auto *write = dialog->findChild<QPushButton *>(QStringLiteral("renameWrite"));
            QVERIFY(!write->isEnabled());
            QTest::mouseClick(dialog->findChild<QPushButton *>(QStringLiteral("renameAdd")), Qt::LeftButton);
            QTest::keyClicks(in("renameFrom"), QStringLiteral("Alpha"));
            QTest::keyClicks(in("renameTo"), QStringLiteral("Luna Green"));
            QVERIFY(QTest::qWaitFor(
                [&] {
                    return words->text() == QStringLiteral("2 would change, 1 without such an ink, 0 cannot");
                },
                30000));
            QVERIFY(!QDir(bench.answers.folder).exists());
            QVERIFY(!write->isEnabled()); // no folder yet
            QTest::mouseClick(dialog->findChild<QPushButton *>(QStringLiteral("renameChoose")),
                              Qt::LeftButton);
            QTest::mouseClick(write, Qt::LeftButton);
            QVERIFY(QTest::qWaitFor(
                [&] { return words->text().startsWith(QStringLiteral("Written: 2 changed")); }, 30000));
            QTest::mouseClick(dialog->findChild<QPushButton *>(QStringLiteral("renameClose")),
                              Qt::LeftButton);
        });
        bench.find<QAction>(QStringLiteral("renameInFiles"))->trigger();
        QCOMPARE(contents(files.front()), before);
        const auto copy =
            take(Artwork::open((bench.answers.folder + QStringLiteral("/one.pdf")).toStdString()));
        const Scene scene = take(record_scene(*take(copy->interpret(1, PageBox::Media))));
        QCOMPARE(scene.inks.front().name, std::string("Luna Green"));
        QVERIFY(QFile::exists(bench.answers.folder + QStringLiteral("/plain.pdf")));
    }
};

BICHROM_TEST(TestInks, QApplication)
#include "tst_inks.moc"
