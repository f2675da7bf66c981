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

    void severalFilesAppearTogetherOrNotAtAll()
    {
        QTemporaryDir folder;
        const auto path = [&](const char *name) {
            return folder.filePath(QString::fromLatin1(name)).toStdString();
        };
        const auto text = [&](const char *name) {
            QFile file(folder.filePath(QString::fromLatin1(name)));
            return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        };
        const auto names = [&] {
            return QDir(folder.path())
                .entryList(QDir::Files | QDir::Hidden | QDir::Dirs | QDir::NoDotAndDotDot);
        };
        QVERIFY(write_file(path("one"), std::string_view("old one")));
        QVERIFY(QDir(folder.path()).mkpath(QStringLiteral("two/inside")));
        { // a folder of somebody's stands where the second shall go
            auto one = write_aside(path("one"), "new one");
            auto two = write_aside(path("two"), "new two");
            AtomicFile *both[] = {&*one, &*two};
            const Done done = commit_together(both);
            QVERIFY(!done && done.error().code == ErrorCode::CannotWrite);
            QVERIFY(QDir(folder.filePath(QStringLiteral("two/inside"))).exists());
            QCOMPARE(text("one"), QByteArray("old one"));
        }
        {
            auto one = write_aside(path("one"), "new one");
            auto gone = write_aside(path("three"), "new three");
            QVERIFY(one && gone);
            std::filesystem::remove(gone->path());
            AtomicFile *both[] = {&*one, &*gone};
            const Done done = commit_together(both);
            QVERIFY(!done && done.error().code == ErrorCode::CannotWrite);
        }
        QCOMPARE(text("one"), QByteArray("old one"));
        QCOMPARE(names(), (QStringList{QStringLiteral("one"), QStringLiteral("two")}));
        auto one = write_aside(path("one"), "new one");
        auto three = write_aside(path("three"), "new three");
        AtomicFile *both[] = {&*one, &*three};
        QVERIFY(commit_together(both));
        QCOMPARE(text("one"), QByteArray("new one"));
        QCOMPARE(text("three"), QByteArray("new three"));
        QCOMPARE(names(),
                 (QStringList{QStringLiteral("one"), QStringLiteral("three"), QStringLiteral("two")}));
    }
};

QTEST_GUILESS_MAIN(TestFiles)
#include "tst_files.moc"
