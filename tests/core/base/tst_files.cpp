#include "core/base/atomic_file.h"

#include <QtTest>

#include <csignal>
#include <sys/resource.h>

using namespace bichrom;

class TestFiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aWrittenFileIsWhole()
    {
        QTemporaryDir folder;
        const auto path = std::filesystem::path(folder.filePath(QStringLiteral("a.txt")).toStdString());
        QVERIFY(write_file(path, "first"));
        QVERIFY(write_file(path, "second"));
        const auto bytes = read_file(path);
        QVERIFY(bytes);
        QCOMPARE(std::string(reinterpret_cast<const char *>(bytes->data()), bytes->size()),
                 std::string("second"));
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
    }

    void anUncommittedFileLeavesNothing()
    {
        QTemporaryDir folder;
        const auto path = std::filesystem::path(folder.filePath(QStringLiteral("a.txt")).toStdString());
        QVERIFY(write_file(path, "old"));
        {
            AtomicFile part(path);
            std::FILE *file = std::fopen(part.path().c_str(), "wb");
            std::fputs("half", file);
            std::fclose(file);
        }
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden),
                 QStringList{QStringLiteral("a.txt")});
        QCOMPARE(read_file(path)->size(), std::size_t(3));
    }

    void aFullDiskKeepsTheOldFile()
    {
        // A limit on the size of files stands in for a full disk: writing beyond it fails.
        QTemporaryDir folder;
        const auto path = std::filesystem::path(folder.filePath(QStringLiteral("a.txt")).toStdString());
        QVERIFY(write_file(path, "old"));
        std::signal(SIGXFSZ, SIG_IGN);
        rlimit before{};
        getrlimit(RLIMIT_FSIZE, &before);
        rlimit small = before;
        small.rlim_cur = 1000;
        setrlimit(RLIMIT_FSIZE, &small);
        const Done done = write_file(path, std::string(5000, 'x'));
        setrlimit(RLIMIT_FSIZE, &before);
        QVERIFY(!done);
        QCOMPARE(done.error().code, ErrorCode::DiskFull);
        QVERIFY(done.error().message().find(path.string()) != std::string::npos);
        QCOMPARE(read_file(path)->size(), std::size_t(3));
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
    }

    void whatCannotBeReadSaysWhy()
    {
        QTemporaryDir folder;
        const auto missing = read_file(folder.filePath(QStringLiteral("none.pdf")).toStdString());
        QVERIFY(!missing);
        QCOMPARE(missing.error().code, ErrorCode::FileMissing);
        const auto directory = read_file(folder.path().toStdString());
        QVERIFY(!directory);
        QCOMPARE(directory.error().code, ErrorCode::CannotRead);
        const auto path = folder.filePath(QStringLiteral("big")).toStdString();
        QVERIFY(write_file(path, std::string(100, 'x')));
        QCOMPARE(read_file(path, 50).error().code, ErrorCode::TooLarge);
    }

    void aFolderThatIsAFileIsRefused()
    {
        QTemporaryDir folder;
        const auto path = folder.filePath(QStringLiteral("file")).toStdString();
        QVERIFY(write_file(path, "x"));
        const Done ready = prepare_folder(path);
        QVERIFY(!ready);
        QCOMPARE(ready.error().code, ErrorCode::CannotWrite);
        QVERIFY(prepare_folder(folder.filePath(QStringLiteral("a/b/c")).toStdString()));
    }
};

QTEST_GUILESS_MAIN(TestFiles)
#include "tst_files.moc"
