#include "core/base/atomic_file.h"
#include "core/base/deflate.h"
#include "core/base/file_name.h"
#include "core/base/hidden_folder.h"
#include "core/base/original_guard.h"
#include "core/base/paged_memory.h"

#include "support/test_program.h"

#include <QtTest>

#include <csignal>
#include <sys/resource.h>

using namespace bichrom;

class TestFiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aFreePathIsOfNothingThatIsThere()
    {
        QTemporaryDir folder;
        const std::filesystem::path place = folder.path().toStdString();
        QCOMPARE(free_path(place, "moth", ".pdf"), place / "moth.pdf");
        QVERIFY(write_file(place / "moth.pdf", std::string_view("x")));
        std::filesystem::create_directory(place / "moth-2.pdf");
        std::filesystem::create_symlink("/nowhere", place / "moth-3.pdf"); // also what leads nowhere
        QCOMPARE(free_path(place, "moth", ".pdf"), place / "moth-4.pdf");
        QCOMPARE(free_path(place, "moth"), place / "moth");
    }

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

    void aGuardedFileIsReplacedByNothing()
    {
        QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString(), path = root / "original.pdf",
                                    hard = root / "hard.pdf", soft = root / "soft.pdf";
        QVERIFY(write_file(path, "theirs"));
        std::filesystem::create_hard_link(path, hard);
        std::filesystem::create_symlink(path, soft);
        {
            const OriginalGuard guard(path), twice(soft), none(root / "nothing"),
                empty(std::filesystem::path{});
            for (const auto &name : {path, hard, soft, root / "." / "original.pdf"}) {
                QCOMPARE(write_file(name, "ours").error().code, ErrorCode::CannotWrite);
                auto other = write_aside(root / "other", "ours");
                auto one = write_aside(name, "ours");
                QVERIFY(one && other);
                AtomicFile *both[] = {&*other, &*one};
                QCOMPARE(commit_together(both).error().code, ErrorCode::CannotWrite);
            }
            QVERIFY(!std::filesystem::exists(root / "other"));
            QVERIFY(write_file(root / "nothing", "new")); // it was not there to be guarded
        }
        QCOMPARE(read_file(path)->size(), std::size_t(6));
        {
            const OriginalGuard first(path);
            {
                const OriginalGuard second(path);
            }
            QVERIFY(!may_replace(path)); // the first still holds
        }
        QVERIFY(write_file(path, "new"));
    }

    void aHiddenFolderAppearsWholeOrNotAtAll()
    {
        QTemporaryDir folder;
        const std::filesystem::path root = folder.path().toStdString();
        const auto fill = [&](const HiddenFolder &hidden) {
            std::filesystem::create_directories(hidden.path());
            QVERIFY(write_file(hidden.path() / "a", "text"));
        };
        {
            std::filesystem::create_directories(root / ".part" / "left over");
            const HiddenFolder hidden(root / ".part");
            QVERIFY(!std::filesystem::exists(root / ".part"));
            fill(hidden);
        }
        QVERIFY(std::filesystem::is_empty(root));
        {
            const HiddenFolder hidden(root / ".part");
            fill(hidden);
            QVERIFY(hidden.move_to(root / "place"));
        }
        {
            const HiddenFolder hidden(root / ".part");
            fill(hidden);
            QCOMPARE(hidden.move_to(root / "place").error().code, ErrorCode::CannotWrite);
        }
        QCOMPARE(QDir(folder.path()).entryList(QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot),
                 QStringList{QStringLiteral("place")});
        QVERIFY(std::filesystem::exists(root / "place" / "a"));
    }

    void deflatedBytesComeBackByZlib_data()
    {
        QTest::addColumn<QList<int>>("sizes");
        QTest::newRow("nothing") << QList<int>{};
        QTest::newRow("a few") << QList<int>{1, 0, 7};
        QTest::newRow("many, in odd parts") << QList<int>{3'000'001, 1 << 20, 12, 5'000'000};
    }

    void deflatedBytesComeBackByZlib()
    {
        QFETCH(QList<int>, sizes);
        Deflater deflater;
        QByteArray all;
        quint32 seed = 1;
        for (const int size : sizes) {
            QByteArray part(size, '\0');
            for (char &byte : part) {
                seed = seed * 1664525 + 1013904223;
                byte = static_cast<char>(seed >> 29);
            }
            deflater.append({reinterpret_cast<const std::uint8_t *>(part.constData()), std::size_t(size)});
            all += part;
        }
        const auto stream = deflater.finish();
        // Qt's reader wants the size before the zlib stream.
        QByteArray packed(4, '\0');
        qToBigEndian(quint32(all.size()), packed.data());
        packed.append(reinterpret_cast<const char *>(stream.data()), qsizetype(stream.size()));
        QCOMPARE(qUncompress(packed), all);
    }

    void pagedBlocksHoldWhatIsPut()
    {
        const std::size_t size = std::size_t(300) << 20;
        auto *block = static_cast<unsigned char *>(map_paged(size));
        QVERIFY(block != nullptr);
        QCOMPARE(int(block[size - 1]), 0);
        block[0] = 1;
        block[size - 1] = 2;
        QCOMPARE(int(block[0]) + block[size - 1] + block[size / 2], 3);
        unmap_paged(block, size);
        QVERIFY(map_paged(std::size_t(1) << 50) == nullptr); // more than any disk here
    }

    void endingsAreInSmallLetters()
    {
        QCOMPARE(file_ending("a/B.TIFF"), std::string(".tiff"));
        QCOMPARE(file_ending("a.b/c"), std::string());
        QCOMPARE(file_ending(".pdf"), std::string()); // a hidden file's name
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

BICHROM_TEST(TestFiles, QCoreApplication)
#include "tst_files.moc"
