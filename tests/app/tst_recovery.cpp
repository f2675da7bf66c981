// Unsaved work survives a crash.
#include "app/services/recovery.h"

#include "app/widgets/theme.h"

#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <chrono>

using namespace bichrom;
using namespace bichrom::test;
using namespace std::chrono_literals;

namespace {

QString unsaved_folder()
{
    return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) +
           QStringLiteral("/unsaved");
}

QStringList files_in(const QString &folder)
{
    return QDir(folder).entryList(QDir::Files | QDir::Hidden, QDir::Name);
}

/// A window whose work is kept at once, with one change made and kept.
struct Unsaved : Bench
{
    QTemporaryDir folder;
    QString path = folder.filePath(QStringLiteral("bag.pdf"));

    Unsaved()
    {
        window.recovery().setDelay(1ms);
        spots_page("/A cs 1 scn 0 0 36 72 re f").save(path);
        open(path);
        change(40);
        if (!QTest::qWaitFor([this] { return !window.recovery().keptFile().isEmpty(); }, patience_ms)) {
            qFatal("nothing is kept");
        }
    }
    void change(double ruling)
    {
        Job job = window.session().job();
        job.plates[0].screen.ruling = Lpi(ruling);
        window.session().change(job, QStringLiteral("ruling"));
    }
    double ruling() { return window.session().job().plates[0].screen.ruling.value; }
    /// What a crash would leave: the files without the lock of a living program.
    /// The window lives on here: what it is just writing is let come to its end first, or it would tidy up.
    void crash()
    {
        QSignalSpy kept(&window.recovery(), &Recovery::kept);
        while (kept.wait(300)) {
        }
        QTemporaryDir aside;
        for (const QString &file : files_in(unsaved_folder())) {
            QVERIFY(QFile::copy(unsaved_folder() + QLatin1Char('/') + file, aside.filePath(file)));
        }
        answers.unsaved = UnsavedChoice::Discard;
        window.close();
        window.session().undoStack().setClean(); // the files of the living window go
        for (const QString &file : files_in(aside.path())) {
            if (!file.endsWith(QStringLiteral(".lock"))) {
                QVERIFY(QFile::copy(aside.filePath(file), unsaved_folder() + QLatin1Char('/') + file));
            }
        }
    }
};

} // namespace

class TestRecovery : public QObject
{
    Q_OBJECT

    QTemporaryDir m_settings;

private Q_SLOTS:
    void initTestCase()
    {
        keep_settings_apart(m_settings);
        theme::apply(*qApp);
    }
    void init()
    {
        QSettings().clear();
        QDir(unsaved_folder()).removeRecursively();
    }

    void workIsOpenedAgainAfterACrash()
    {
        Unsaved first;
        QSignalSpy written(&first.window.recovery(), &Recovery::kept);
        first.change(33);
        QTRY_VERIFY(!written.isEmpty());
        // The newest state is what is kept.
        QTRY_VERIFY([&] {
            const auto kept = open_job(first.window.recovery().keptFile().toStdString());
            return kept && kept->job.plates[0].screen.ruling.value == 33.0;
        }());
        first.crash();
        QCOMPARE(files_in(unsaved_folder()).size(), 2);

        Bench second;
        second.window.recovery().setDelay(1ms);
        second.answers.leftover = LeftoverChoice::Open;
        QVERIFY(second.window.offerLeftovers());
        QCOMPARE(second.answers.leftovers, QStringList(QStringLiteral("bag.pdf")));
        QTRY_VERIFY(second.window.session().isOpen());
        QCOMPARE(second.window.session().job().plates[0].screen.ruling.value, 33.0);
        QCOMPARE(second.window.session().path(), first.path); // where it belongs
        QVERIFY(second.window.session().isModified());
        // It is kept again, under the new window's name, and the old file goes.
        QTRY_VERIFY(!second.window.recovery().keptFile().isEmpty());
        QTRY_COMPARE(files_in(unsaved_folder()).size(), 3); // job, note, lock
        // Saved, nothing is left behind.
        second.answers.save_file = first.folder.filePath(QStringLiteral("bag.bichrom"));
        second.find<QAction>(QStringLiteral("save"))->trigger();
        QTRY_VERIFY(files_in(unsaved_folder()).isEmpty());
        QVERIFY(!second.window.session().isModified());
        second.window.close();
    }

    void whatWasNotOpenedAfterAllIsOfferedAgain()
    {
        Unsaved first;
        first.crash();
        Bench second;
        second.window.recovery().setDelay(1ms);
        second.answers.leftover = LeftoverChoice::Open;
        QVERIFY(second.window.offerLeftovers());
        second.window.openPath(first.path); // something else, before it is there
        QTRY_VERIFY(second.window.session().isOpen() && !second.window.session().isLoading());
        QVERIFY(!second.window.session().isModified());
        Job job = second.window.session().job();
        job.plates[0].screen.ruling = Lpi(44);
        second.window.session().change(job, QStringLiteral("other work"));
        QTRY_VERIFY(!second.window.recovery().keptFile().isEmpty());
        QTRY_COMPARE(files_in(unsaved_folder()).size(), 5); // both: a job and a note each, and one lock
        second.window.close();
        Bench third;
        third.answers.leftover = LeftoverChoice::Later;
        QVERIFY(!third.window.offerLeftovers());
        QCOMPARE(third.answers.leftovers.size(), 1);
        third.window.close();
    }

    void anotherWindowsWorkIsLeftAlone()
    {
        Unsaved first;
        Bench second;
        QVERIFY(!second.window.offerLeftovers());
        QVERIFY(second.answers.leftovers.isEmpty());
        QVERIFY(QFile::exists(first.window.recovery().keptFile()));
        second.window.close();
        first.answers.unsaved = UnsavedChoice::Discard;
        first.window.close();
    }

    void leftoversWaitOrAreDropped()
    {
        Unsaved first;
        first.crash();
        {
            Bench second;
            second.answers.leftover = LeftoverChoice::Later;
            QVERIFY(!second.window.offerLeftovers());
            QCOMPARE(second.answers.leftovers.size(), 1);
            second.window.close();
        }
        Bench third;
        third.answers.leftover = LeftoverChoice::Drop;
        QVERIFY(!third.window.offerLeftovers());
        QCOMPARE(third.answers.leftovers.size(), 1);
        QVERIFY(files_in(unsaved_folder()).isEmpty());
        QVERIFY(!third.window.session().isOpen());
        third.window.close();
    }

    void whatIsUndoneOrLeftIsNotKept()
    {
        Unsaved bench;
        bench.window.session().undoStack().undo();
        QTRY_VERIFY(files_in(unsaved_folder()).isEmpty());
        bench.change(20);
        QTRY_VERIFY(!bench.window.recovery().keptFile().isEmpty());
        bench.answers.unsaved = UnsavedChoice::Discard;
        const QString other = bench.folder.filePath(QStringLiteral("other.pdf"));
        spots_page("/B cs 1 scn 0 0 36 72 re f").save(other);
        bench.open(other);
        QTRY_VERIFY(files_in(unsaved_folder()).isEmpty());
        bench.window.close();
    }

    void aFullDiskIsToldOnce()
    {
        Unsaved bench;
        // A file stands where the folder should be.
        QDir(unsaved_folder()).removeRecursively();
        QFile obstacle(unsaved_folder());
        QVERIFY(obstacle.open(QIODevice::WriteOnly));
        obstacle.close();
        bench.change(21);
        QTRY_COMPARE(bench.answers.errors.size(), 1);
        bench.change(22);
        QTest::qWait(200);
        QCOMPARE(bench.answers.errors.size(), 1);
        QCOMPARE(bench.ruling(), 22.0); // work goes on
        obstacle.remove();
        bench.answers.unsaved = UnsavedChoice::Discard;
        bench.window.close();
    }
};

BICHROM_TEST(TestRecovery, QApplication)
#include "tst_recovery.moc"
