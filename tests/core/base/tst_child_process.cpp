// What a child may do, with ordinary programs as children.
#include "core/base/child_process.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

class TestChildProcess : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void outputAndExitCodeComeBack()
    {
        const auto scratch = take(ScratchFolder::make());
        const ChildResult result = take(run_child("sh", {"-c", "pwd; echo $HOME; exit 3"}, scratch.path()));
        QCOMPARE(result.exit_code, 3);
        QVERIFY(!result.good());
        const std::string place = scratch.path().string();
        QCOMPARE(result.output, place + "\n" + place + "\n"); // and nothing of our own environment
    }

    void aProgramThatIsNotThere()
    {
        const auto result = run_child("no-such-program-anywhere", {}, "/tmp");
        QVERIFY(!result);
        QCOMPARE(result.error().code, ErrorCode::FileMissing);
    }

    void limitsHold_data()
    {
        QTest::addColumn<QString>("command");
        QTest::newRow("time asleep") << QStringLiteral("sleep 60");
        QTest::newRow("time at work") << QStringLiteral("while :; do :; done");
        QTest::newRow("time of a grandchild") << QStringLiteral("sleep 60 & wait");
        QTest::newRow("memory") << QStringLiteral("python3 -c 'bytearray(1 << 30)'");
        QTest::newRow("a file") << QStringLiteral("dd if=/dev/zero of=big bs=1M count=64 2>/dev/null");
    }
    void limitsHold()
    {
        QFETCH(QString, command);
        const auto scratch = take(ScratchFolder::make());
        ChildLimits limits;
        limits.work = std::chrono::seconds(1);
        limits.memory = std::uint64_t(512) << 20;
        limits.file = std::uint64_t(8) << 20;
        QElapsedTimer clock;
        clock.start();
        const ChildResult result =
            take(run_child("sh", {"-c", command.toStdString()}, scratch.path(), limits));
        QVERIFY(!result.good());
        QVERIFY(clock.elapsed() < 10000);
        std::error_code fault;
        const auto size = std::filesystem::file_size(scratch.path() / "big", fault);
        QVERIFY(fault || size <= limits.file);
    }

    void aStopKillsTheChild()
    {
        CancelSwitch cancel;
        cancel.cancel();
        QElapsedTimer clock;
        clock.start();
        const auto result = run_child("sleep", {"60"}, "/tmp", {}, JobControl(cancel));
        QVERIFY(!result);
        QCOMPARE(result.error().code, ErrorCode::Cancelled);
        QVERIFY(clock.elapsed() < 10000);
    }

    void scratchFoldersGo()
    {
        std::filesystem::path place;
        {
            const auto scratch = take(ScratchFolder::make());
            place = scratch.path();
            QVERIFY(std::filesystem::is_directory(place));
        }
        QVERIFY(!std::filesystem::exists(place));
    }
};

BICHROM_TEST(TestChildProcess, QCoreApplication)
#include "tst_child_process.moc"
