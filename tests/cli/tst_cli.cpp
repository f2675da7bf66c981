// The command line as scripts see it: the real program, its exit codes, files and JSON.
#include "core/base/atomic_file.h"
#include "core/job/kept_sets.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QImage>
#include <QtTest>

#include <cmath>
#include <csignal>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Run
{
    int code = -1;
    QString out;
    QString err;
};

Run run(const QStringList &arguments, const QString &limit = {})
{
    QProcess process;
    if (limit.isEmpty()) {
        process.start(QStringLiteral(BICHROM_CLI), arguments);
    } else {
        QStringList all = {QStringLiteral("-c"), limit + QStringLiteral("; exec \"$0\" \"$@\""),
                           QStringLiteral(BICHROM_CLI)};
        process.start(QStringLiteral("sh"), all + arguments);
    }
    if (!process.waitForFinished(300'000)) {
        qFatal("bichrom-cli does not end");
    }
    return {process.exitCode(), QString::fromUtf8(process.readAllStandardOutput()),
            QString::fromUtf8(process.readAllStandardError())};
}

QJsonObject manifest_in(const QString &folder)
{
    QFile file(folder + QStringLiteral("/manifest.json"));
    file.open(QIODevice::ReadOnly);
    return QJsonDocument::fromJson(file.readAll()).object();
}

} // namespace

class TestCli : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aFileThatKillsItsInterpreterKillsNothingElse_data()
    {
        QTest::addColumn<QByteArray>("helper");
        QTest::addColumn<QString>("reason");
        QTest::newRow("it crashes") << QByteArray("kill -SEGV $$") << "makes its interpreter fail";
        QTest::newRow("it never ends") << QByteArray("while :; do :; done") << "takes very long to read";
        QTest::newRow("it takes all memory") << QByteArray("exit 2") << "needs more memory";
    }
    void aFileThatKillsItsInterpreterKillsNothingElse()
    {
        QFETCH(QByteArray, helper);
        QFETCH(QString, reason);
        // The real program, beside a helper that fares as with a hostile file.
        QTemporaryDir folder;
        const QString program = folder.filePath(QStringLiteral("bichrom-cli"));
        QVERIFY(QFile::copy(QStringLiteral(BICHROM_CLI), program));
        QFile script(folder.filePath(QStringLiteral("bichrom-intake")));
        QVERIFY(script.open(QIODevice::WriteOnly));
        script.write("#!/bin/sh\n" + helper + "\n");
        script.close();
        QVERIFY(script.setPermissions(QFile::ReadOwner | QFile::ExeOwner));
        QProcess process;
        QElapsedTimer clock;
        clock.start();
        process.start(program, {QStringLiteral("inspect"), demo_file()});
        QVERIFY(process.waitForFinished(300'000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 3);
        const QString said = QString::fromUtf8(process.readAllStandardError());
        QVERIFY2(said.contains(reason) && said.contains(QStringLiteral("night-tote.pdf")), qPrintable(said));
    }

    void hostilePdfsEndSoon_data()
    {
        QTest::addColumn<QByteArray>("kind");
        QTest::addColumn<QString>("reason");
        QTest::newRow("forms that paint forms, 4 to the 30th") << QByteArray("forms") << "too long";
        QTest::newRow("a form that paints itself") << QByteArray("loop") << "";
        QTest::newRow("a picture of 100000 × 100000 pixels")
            << QByteArray("picture") << ""; // told, and the rest is shown
        QTest::newRow("a page of a billion points") << QByteArray("page") << "";
        QTest::newRow("states within states") << QByteArray("states") << "memory";
    }
    void hostilePdfsEndSoon()
    {
        QFETCH(QByteArray, kind);
        QFETCH(QString, reason);
        MiniPdf pdf;
        const auto form = [](const std::string &next, const std::string &contents) {
            return "<< /Type /XObject /Subtype /Form /BBox [0 0 200 200] /Resources << " + next +
                   " >> /Length " + std::to_string(contents.size()) + " >>\nstream\n" + contents +
                   "\nendstream";
        };
        pdf.contents = "/F Do";
        pdf.resources = "/XObject << /F 10 0 R >>";
        if (kind == "forms") {
            for (int i = 0; i < 30; ++i) {
                pdf.objects.push_back(
                    form("/XObject << /F " + std::to_string(11 + i) + " 0 R >>", "/F Do /F Do /F Do /F Do"));
            }
            pdf.objects.push_back(form("", "0 0 9 9 re f"));
        } else if (kind == "loop") {
            pdf.objects = {form("/XObject << /F 10 0 R >>", "/F Do")};
        } else if (kind == "picture") {
            pdf.objects = {
                "<< /Type /XObject /Subtype /Image /Width 100000 /Height 100000 /BitsPerComponent 8 "
                "/ColorSpace /DeviceCMYK /Length 3 >>\nstream\nabc\nendstream"};
        } else if (kind == "page") {
            pdf.width = pdf.height = 1e9;
            pdf.contents = "0 0 9 9 re f";
        } else {
            for (int i = 0; i < 3'000'000; ++i) {
                pdf.contents += "q ";
            }
        }
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("hostile.pdf"));
        pdf.save(path);
        QElapsedTimer clock;
        clock.start();
        const Run answer = run({QStringLiteral("inspect"), path}, QStringLiteral("ulimit -v 4000000"));
        QCOMPARE(answer.code, reason.isEmpty() ? 0 : 3);
        QVERIFY2(answer.err.contains(reason), qPrintable(answer.err));
        QVERIFY2(clock.elapsed() < 90'000, "20 seconds of work are allowed");
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(),
                 1); // nothing is left behind
    }

    void inksAreRenamedInManyFiles()
    {
        QTemporaryDir folder;
        const QString out = folder.filePath(QStringLiteral("out"));
        QStringList files;
        for (const char *name : {"one.pdf", "two.pdf", "three.pdf"}) {
            files << folder.filePath(QString::fromLatin1(name));
            spots_page(QByteArray(name) == "two.pdf" ? "/B cs 1 scn 0 0 9 9 re f"
                                                     : "/A cs 1 scn 0 0 9 9 re f")
                .save(files.back());
        }
        QFile::remove(files[2]);
        const auto bytes = [](const QString &path) {
            QFile file(path);
            return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
        };
        const QByteArray first = bytes(files[0]);
        const QStringList words = {QStringLiteral("rename-ink"), QStringLiteral("--from"),
                                   QStringLiteral("alpha"),      QStringLiteral("--to"),
                                   QStringLiteral("Gamma"),      QStringLiteral("--match"),
                                   QStringLiteral("nocase"),     QStringLiteral("--out")};
        // Looked at first: nothing is written.
        const Run preview =
            run(words + QStringList(out) + files.mid(0, 2) + QStringList(QStringLiteral("--preview")));
        QCOMPARE(preview.code, 0);
        QVERIFY2(preview.out.contains(QStringLiteral("Alpha → Gamma")), qPrintable(preview.out));
        QVERIFY(!QFile::exists(out));
        // One file is missing: it is reported, and the others are done.
        const Run all = run(words + QStringList(out) + files);
        QCOMPARE(all.code, 3);
        QVERIFY(all.err.contains(QStringLiteral("three.pdf")));
        QCOMPARE(QDir(out).entryList(QDir::Files | QDir::Hidden), (QStringList{"one.pdf", "two.pdf"}));
        QVERIFY(bytes(out + QStringLiteral("/one.pdf")).contains("/Gamma"));
        QCOMPARE(bytes(files[0]), first);
        // The originals' own folder is refused, and so is a second file of the same name.
        QCOMPARE(run(words + QStringList(folder.path()) + files.mid(0, 1)).code, 4);
        QCOMPARE(bytes(files[0]), first);
        QCOMPARE(run(words + QStringList(out) + QStringList{files[0], files[0]}).code, 4);
        QStringList wrong = words;
        wrong[6] = QStringLiteral("perhaps");
        QCOMPARE(run(wrong + QStringList(out) + files).code, 2);
    }

    void helpAndUsage()
    {
        QCOMPARE(run({QStringLiteral("--help")}).code, 0);
        for (const char *command : {"inspect", "check", "plates", "film", "rename-ink"}) {
            const Run help = run({QString::fromLatin1(command), QStringLiteral("--help")});
            QCOMPARE(help.code, 0);
            QVERIFY(help.out.contains(QStringLiteral("FILE")));
        }
        QCOMPARE(run({}).code, 2);
        QCOMPARE(run({QStringLiteral("nonsense")}).code, 2);
        QCOMPARE(run({QStringLiteral("film"), demo_file()}).code, 2); // no --out
        QCOMPARE(run({QStringLiteral("film"), demo_file(), QStringLiteral("--out"), QStringLiteral("/tmp/x"),
                      QStringLiteral("--dot"), QStringLiteral("star")})
                     .code,
                 2);
    }

    void inspectTellsWhatTheFileHolds()
    {
        const Run result = run({QStringLiteral("inspect"), demo_file(), QStringLiteral("--json")});
        QCOMPARE(result.code, 0);
        const QJsonObject root = QJsonDocument::fromJson(result.out.toUtf8()).object();
        QCOMPARE(root[QStringLiteral("file")].toString(), demo_file());
        const QJsonObject page = root[QStringLiteral("pages")].toArray()[0].toObject();
        QCOMPARE(page[QStringLiteral("number")].toInt(), 1);
        const QJsonArray media = page[QStringLiteral("boxes_mm")][QStringLiteral("media")].toArray();
        QVERIFY(qAbs(media[2].toDouble() - 320) < 0.01);
        QVERIFY(qAbs(media[3].toDouble() - 360) < 0.01);
        QStringList inks;
        for (const QJsonValue &ink : page[QStringLiteral("inks")].toArray()) {
            inks << ink[QStringLiteral("name")].toString() + QLatin1Char(' ') +
                        ink[QStringLiteral("kind")].toString();
            QVERIFY(ink[QStringLiteral("coverage")].toDouble() > 0);
        }
        QCOMPARE(inks, (QStringList{QStringLiteral("Black process"), QStringLiteral("Lamp Yellow spot"),
                                    QStringLiteral("Luna Green spot"), QStringLiteral("Wing Rust spot")}));
        for (const char *key :
             {"rotate", "colours", "images", "layers", "uses_overprint", "uses_transparency"}) {
            QVERIFY2(page.contains(QString::fromLatin1(key)), key);
        }
        QVERIFY(page[QStringLiteral("uses_overprint")].toBool());
        QVERIFY(!page[QStringLiteral("uses_transparency")].toBool());
        QVERIFY(run({QStringLiteral("inspect"), demo_file()}).out.contains(QStringLiteral("Luna Green")));
    }

    void platesAndFilmsAreWritten()
    {
        QTemporaryDir folder;
        const QString plates = folder.filePath(QStringLiteral("plates"));
        QCOMPARE(run({QStringLiteral("plates"), demo_file(), QStringLiteral("--out"), plates,
                      QStringLiteral("--dpi"), QStringLiteral("100"), QStringLiteral("--box"),
                      QStringLiteral("trim")})
                     .code,
                 0);
        const QJsonObject manifest = manifest_in(plates);
        QCOMPARE(manifest[QStringLiteral("width_mm")].toDouble(), 300.0);
        const QJsonObject green = manifest[QStringLiteral("plates")].toArray()[2].toObject();
        const TiffFile plate =
            read_tiff(plates + QLatin1Char('/') + green[QStringLiteral("file")].toString());
        QCOMPARE(plate.width, green[QStringLiteral("width_px")].toInt());
        QCOMPARE(plate.width, 1181);

        const QString films = folder.filePath(QStringLiteral("films"));
        QCOMPARE(run({QStringLiteral("film"), demo_file(), QStringLiteral("--out"), films,
                      QStringLiteral("--dpi"), QStringLiteral("300"), QStringLiteral("--lpi"),
                      QStringLiteral("42.5"), QStringLiteral("--angle"), QStringLiteral("Luna Green=12.5"),
                      QStringLiteral("--angle"), QStringLiteral("Wing Rust=-30"), QStringLiteral("--dot"),
                      QStringLiteral("ellipse"), QStringLiteral("--no-marks")})
                     .code,
                 0);
        const QJsonArray listed = manifest_in(films)[QStringLiteral("plates")].toArray();
        QCOMPARE(listed[2][QStringLiteral("angle")].toDouble(), 12.5);
        QCOMPARE(listed[3][QStringLiteral("angle")].toDouble(), -30.0);
        QCOMPARE(listed[3][QStringLiteral("lpi")].toDouble(), 42.5);
        QCOMPARE(listed[3][QStringLiteral("dot")].toString(), QStringLiteral("ellipse"));
        const TiffFile film =
            read_tiff(films + QLatin1Char('/') + listed[2][QStringLiteral("file")].toString());
        QCOMPARE(film.width, 3780); // 320 mm at 300 dpi
        QCOMPARE(film.bits, 1);
    }

    void aJobsSettingsHoldWhereNoOptionIsGiven()
    {
        QTemporaryDir folder;
        bichrom::OpenedJob opened = spots_page("/A cs 1 scn 0 0 36 72 re f").job();
        opened.job.film = {
            bichrom::Dpi(300), bichrom::FilmFormat::Pdf, bichrom::PageBox::Media, false, false, false};
        opened.job.plates[0].screen.ruling = bichrom::Lpi(33);
        const QString job = folder.filePath(QStringLiteral("a.bichrom"));
        QVERIFY(bichrom::save_job(job.toStdString(), opened.job, *opened.artwork));
        const QString first = folder.filePath(QStringLiteral("first"));
        QCOMPARE(run({QStringLiteral("film"), job, QStringLiteral("--out"), first}).code, 0);
        QCOMPARE(QDir(first).entryList(QDir::Files).filter(QStringLiteral("-p1-films.pdf")).size(), 1);
        QCOMPARE(manifest_in(first)[QStringLiteral("plates")][0][QStringLiteral("lpi")].toDouble(), 33.0);
        const QString second = folder.filePath(QStringLiteral("second"));
        QCOMPARE(run({QStringLiteral("film"), job, QStringLiteral("--out"), second,
                      QStringLiteral("--format"), QStringLiteral("tiff"), QStringLiteral("--mirror"),
                      QStringLiteral("--negative"), QStringLiteral("--dpi"), QStringLiteral("150")})
                     .code,
                 0);
        const TiffFile film =
            read_tiff(second + QLatin1Char('/') +
                      manifest_in(second)[QStringLiteral("plates")][0][QStringLiteral("file")].toString());
        QCOMPARE(film.width, 150);
        // Left half inked; mirrored it is the right half, negative it is bare.
        QVERIFY(film.film.at(10, 75) && !film.film.at(140, 75));
        QCOMPARE(run({QStringLiteral("film"), job, QStringLiteral("--out"), second, QStringLiteral("--page"),
                      QStringLiteral("2")})
                     .code,
                 3);
    }

    void pagesAndPlatesAreChosen()
    {
        QTemporaryDir folder;
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 72 re f");
        for (int page = 2; page <= 8; ++page) {
            pdf.more_pages.push_back("/A cs 1 scn 0 0 36 72 re f /B cs 1 scn 36 0 " + std::to_string(page) +
                                     " 72 re f");
        }
        const QString book = folder.filePath(QStringLiteral("book.pdf"));
        pdf.save(book);
        const QString job = folder.filePath(QStringLiteral("book.bichrom"));
        QCOMPARE(run({QStringLiteral("job"), book, QStringLiteral("--out"), job}).code, 0);
        for (const QString &file : {book, job}) {
            const QString out = folder.filePath(QFileInfo(file).suffix());
            const Run made =
                run({QStringLiteral("film"), file, QStringLiteral("--out"), out, QStringLiteral("--pages"),
                     QStringLiteral("2,5"), QStringLiteral("--dpi"), QStringLiteral("300")});
            QVERIFY2(made.code == 0, qPrintable(made.err));
            QCOMPARE(QDir(out).entryList(QDir::Dirs | QDir::NoDotAndDotDot),
                     (QStringList{QStringLiteral("page-2"), QStringLiteral("page-5")}));
            for (const int page : {2, 5}) {
                const QString set = out + QStringLiteral("/page-%1").arg(page);
                QCOMPARE(manifest_in(set)[QStringLiteral("page")].toInt(), page);
                QCOMPARE(QDir(set).entryList({QStringLiteral("book-p%1-*.tif").arg(page)}).size(), 2);
            }
            // One page, one plate, into the folder itself; a page of a job is honoured.
            const QString one = out + QStringLiteral("-one");
            QCOMPARE(run({QStringLiteral("plates"), file, QStringLiteral("--out"), one,
                          QStringLiteral("--page"), QStringLiteral("3"), QStringLiteral("--plates"),
                          QStringLiteral("Beta"), QStringLiteral("--dpi"), QStringLiteral("72")})
                         .code,
                     0);
            const QJsonArray listed = manifest_in(one)[QStringLiteral("plates")].toArray();
            QCOMPARE(listed.size(), 1);
            QCOMPARE(listed[0][QStringLiteral("ink")].toString(), QStringLiteral("Beta"));
            QVERIFY(std::fabs(listed[0][QStringLiteral("coverage")].toDouble() - 3.0 / 72) < 1e-3);
            // Another page into the same folder: nothing is overwritten unasked.
            QCOMPARE(run({QStringLiteral("plates"), file, QStringLiteral("--out"), one,
                          QStringLiteral("--page"), QStringLiteral("4")})
                         .code,
                     4);
            QCOMPARE(manifest_in(one)[QStringLiteral("page")].toInt(), 3);
        }
        // A PDF of plates: all pages chosen, only the plates chosen.
        const QString composed = folder.filePath(QStringLiteral("plates.pdf"));
        QCOMPARE(
            run({QStringLiteral("compose"), job, QStringLiteral("--out"), composed, QStringLiteral("--pages"),
                 QStringLiteral("all"), QStringLiteral("--plates"), QStringLiteral("Beta")})
                .code,
            0);
        const auto again = take(bichrom::Artwork::open(composed.toStdString()));
        QCOMPARE(again->page_count(), 8);
        const Scene scene = take(record_scene(*take(again->interpret(5, PageBox::Media))));
        QVERIFY(std::all_of(scene.inks.begin(), scene.inks.end(),
                            [](const FoundInk &ink) { return ink.name == "Beta"; }));
        QCOMPARE(run({QStringLiteral("film"), book, QStringLiteral("--out"),
                      folder.filePath(QStringLiteral("x")), QStringLiteral("--pages"), QStringLiteral("7-9")})
                     .code,
                 3);
        QCOMPARE(
            run({QStringLiteral("film"), book, QStringLiteral("--out"), folder.filePath(QStringLiteral("x")),
                 QStringLiteral("--plates"), QStringLiteral("Alpha,Gamma")})
                .code,
            2);
    }

    void aJobIsMadeByEdits()
    {
        QTemporaryDir folder;
        MiniPdf pdf =
            spots_page("1 0 0 rg 0 0 20 20 re f 0 0 1 rg 20 0 20 20 re f /A cs 1 scn 40 0 20 20 re f "
                       "/B cs 0.5 scn 0 40 20 20 re f");
        const QString logo = folder.filePath(QStringLiteral("logo.pdf"));
        pdf.save(logo);
        const QString job = folder.filePath(QStringLiteral("logo.bichrom"));
        const Run made =
            run({QStringLiteral("job"), logo, QStringLiteral("--out"), job, QStringLiteral("--stock"),
                 QStringLiteral("Black cotton"), QStringLiteral("--plates-from-colours"), QStringLiteral("3"),
                 QStringLiteral("--route"), QStringLiteral("Beta=Alpha@50%"), QStringLiteral("--recipe"),
                 QStringLiteral("base under everything:Under White"), QStringLiteral("--kind"),
                 QStringLiteral("Gloss=varnish"), QStringLiteral("--order"),
                 QStringLiteral("Under White, Alpha")});
        QVERIFY2(made.code == 0, qPrintable(made.err));
        const Job read = take(bichrom::open_job(job.toStdString())).job;
        QCOMPARE(read.stock.name, std::string("Black cotton"));
        QCOMPARE(read.plates[0].ink, std::string("Under White"));
        QVERIFY(!read.plates[0].recipe.empty());
        QCOMPARE(read.plates[1].ink, std::string("Alpha"));
        QCOMPARE(read.plates.back().ink, std::string("Gloss"));
        QCOMPARE(read.plates.back().kind, InkUse::Varnish);
        QCOMPARE(read.find_plate("Cyan"), -1);
        QCOMPARE(read.routes.size(), std::size_t(3)); // two colours and Beta
        const Route &beta = read.routes.back();
        QCOMPARE(beta.by, RouteBy::Ink);
        QCOMPARE(beta.targets[0].tint, 0.5);
        QCOMPARE(
            run({QStringLiteral("film"), job, QStringLiteral("--out"),
                 folder.filePath(QStringLiteral("films")), QStringLiteral("--dpi"), QStringLiteral("300")})
                .code,
            0);
        // By the colour as inspect lists it, and as hex.
        for (const char *colour : {"R 255 G 0 B 0", "#ff0000"}) {
            QCOMPARE(run({QStringLiteral("job"), logo, QStringLiteral("--out"), job,
                          QStringLiteral("--route"), QString::fromLatin1(colour) + QStringLiteral("=Brick")})
                         .code,
                     0);
            const Job routed = take(bichrom::open_job(job.toStdString())).job;
            QVERIFY(routed.find_plate("Brick") >= 0);
            QCOMPARE(routed.routes[0].by, RouteBy::Colour);
        }
        const auto refused = [&](const QStringList &more, const char *word) {
            const Run result = run(QStringList{QStringLiteral("job"), logo, QStringLiteral("--out"),
                                               folder.filePath(QStringLiteral("no.bichrom"))} +
                                   more);
            QCOMPARE(result.code, 2);
            QVERIFY2(result.err.contains(QLatin1String(word)), qPrintable(result.err));
            QVERIFY(!QFile::exists(folder.filePath(QStringLiteral("no.bichrom"))));
        };
        refused({QStringLiteral("--route"), QStringLiteral("Gamma=Alpha")}, "Beta"); // what there is instead
        refused({QStringLiteral("--route"), QStringLiteral("Beta=Alpha@120")}, "120");
        refused({QStringLiteral("--stock"), QStringLiteral("Moon")}, "Black cotton");
        refused({QStringLiteral("--recipe"), QStringLiteral("Magic")}, "Base under everything");
        refused({QStringLiteral("--kind"), QStringLiteral("Alpha=shiny")}, "shiny");
        refused({QStringLiteral("--order"), QStringLiteral("Alpha,Nobody")}, "Nobody");
    }

    void everyFailureHasItsCode_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::addColumn<int>("code");
        QTest::addColumn<QString>("word");
        const QString out = QStringLiteral("--out");
        QTest::newRow("a missing file")
            << QStringList{QStringLiteral("inspect"), QStringLiteral("/no/file.pdf")} << 3
            << QStringLiteral("/no/file.pdf");
        QTest::newRow("not a PDF") << QStringList{QStringLiteral("inspect"),
                                                  QStringLiteral(BICHROM_SOURCE_DIR "/CMakeLists.txt")}
                                   << 3 << QStringLiteral("not a kind of file");
        QTest::newRow("a page that is not there")
            << QStringList{QStringLiteral("plates"), demo_file(),        out, QStringLiteral("/tmp/never"),
                           QStringLiteral("--page"), QStringLiteral("9")}
            << 3 << QStringLiteral("page 9");
        QTest::newRow("a folder that cannot be made")
            << QStringList{QStringLiteral("plates"), demo_file(), out, QStringLiteral("/proc/never")} << 4
            << QStringLiteral("/proc/never");
        QTest::newRow("an ink that is not there") << QStringList{QStringLiteral("film"),
                                                                 demo_file(),
                                                                 out,
                                                                 QStringLiteral("/tmp/never"),
                                                                 QStringLiteral("--angle"),
                                                                 QStringLiteral("Moss=4")}
                                                  << 2 << QStringLiteral("Luna Green");
        QTest::newRow("a ruling too fine")
            << QStringList{QStringLiteral("film"),  demo_file(),          out, QStringLiteral("/tmp/never"),
                           QStringLiteral("--lpi"), QStringLiteral("500")}
            << 2 << QStringLiteral("400 lpi");
        QTest::newRow("an unknown box")
            << QStringList{QStringLiteral("plates"), demo_file(),           out, QStringLiteral("/tmp/never"),
                           QStringLiteral("--box"),  QStringLiteral("gift")}
            << 2 << QStringLiteral("gift");
    }
    void everyFailureHasItsCode()
    {
        QFETCH(QStringList, arguments);
        QFETCH(int, code);
        QFETCH(QString, word);
        const Run result = run(arguments);
        QCOMPARE(result.code, code);
        QVERIFY2(result.err.contains(word), qPrintable(result.err));
        QVERIFY(!QFile::exists(QStringLiteral("/tmp/never")));
    }

    void aFullDiskIsReportedAndLeavesNoFilm()
    {
        QTemporaryDir folder;
        const Run result = run({QStringLiteral("film"), demo_file(), QStringLiteral("--out"), folder.path(),
                                QStringLiteral("--dpi"), QStringLiteral("600")},
                               QStringLiteral("ulimit -f 40"));
        QCOMPARE(result.code, 4);
        QVERIFY2(result.err.contains(QStringLiteral("disk is full")), qPrintable(result.err));
        QVERIFY(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).isEmpty());
    }

    // Seen: a manifest that could not be written took four good films of an earlier release with it.
    void aReleaseThatFailsLeavesTheOneBefore()
    {
        QTemporaryDir folder;
        const QStringList arguments = {QStringLiteral("plates"), demo_file(),
                                       QStringLiteral("--out"),  folder.path(),
                                       QStringLiteral("--dpi"),  QStringLiteral("72")};
        QCOMPARE(run(arguments).code, 0);
        const auto state = [&] {
            QMap<QString, QByteArray> files;
            for (const QFileInfo &info : QDir(folder.path()).entryInfoList(QDir::Files | QDir::Hidden)) {
                QFile file(info.filePath());
                files[info.fileName()] = file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
            }
            return files;
        };
        const auto before = state();
        QVERIFY(before.size() > 3);
        QCOMPARE(run({QStringLiteral("plates"), demo_file(), QStringLiteral("--out"), folder.path(),
                      QStringLiteral("--dpi"), QStringLiteral("300")},
                     QStringLiteral("ulimit -f 40"))
                     .code,
                 4);
        QCOMPARE(state(), before);
    }

    void filesOfALargerSetAreNamedAndMovedAway()
    {
        QTemporaryDir folder;
        const QString job = QStringLiteral(BICHROM_SOURCE_DIR "/demo/handbill.bichrom");
        const QString artwork = QStringLiteral(BICHROM_SOURCE_DIR "/demo/handbill.pdf");
        const auto plates = [&](const QString &file, const QStringList &more = {}) {
            return run(QStringList{QStringLiteral("plates"), file, QStringLiteral("--out"), folder.path(),
                                   QStringLiteral("--dpi"), QStringLiteral("72")} +
                       more);
        };
        QCOMPARE(plates(artwork).code, 0); // seven inks; the job prints two
        const Run fewer = plates(job);
        QCOMPARE(fewer.code, 0);
        QVERIFY2(fewer.err.contains(QStringLiteral("earlier set")) &&
                     fewer.err.contains(QStringLiteral("Cyan")),
                 qPrintable(fewer.err));
        QVERIFY(QFile::exists(folder.filePath(QStringLiteral("Cyan.tif"))));
        QVERIFY2(plates(job).err.contains(QStringLiteral("Cyan")), "they are not forgotten after a release");
        QCOMPARE(plates(artwork).code, 0);
        const Run moved = plates(job, {QStringLiteral("--move-earlier")});
        QCOMPARE(moved.code, 0);
        QVERIFY(!QFile::exists(folder.filePath(QStringLiteral("Cyan.tif"))));
        QVERIFY(QFile::exists(folder.filePath(QStringLiteral("earlier/Cyan.tif"))));
        QVERIFY2(plates(job).err.isEmpty(), "nothing is left of the earlier set");
    }

    void asInterruptedNothingIncompleteIsLeft()
    {
        QTemporaryDir folder;
        QProcess process;
        process.start(QStringLiteral(BICHROM_CLI),
                      {QStringLiteral("film"), demo_file(), QStringLiteral("--out"), folder.path(),
                       QStringLiteral("--dpi"), QStringLiteral("4800")});
        const auto hidden = [&] { return QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(); };
        QTRY_VERIFY_WITH_TIMEOUT(hidden() > 0, 30'000);
        ::kill(static_cast<pid_t>(process.processId()), SIGINT);
        QVERIFY(process.waitForFinished(30'000));
        QCOMPARE(process.exitStatus(), QProcess::NormalExit);
        QCOMPARE(process.exitCode(), 130);
        QCOMPARE(hidden(), 0);
    }

    void passwordsAreTaken()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("locked.pdf"));
        save_bytes(encrypted(spots_page("/A cs 1 scn 0 0 72 72 re f").bytes(), "lamp"), path);
        QCOMPARE(run({QStringLiteral("inspect"), path}).code, 3);
        QCOMPARE(
            run({QStringLiteral("inspect"), path, QStringLiteral("--password"), QStringLiteral("lamp")}).code,
            0);
    }

    void platesAreComposedIntoOnePdf()
    {
        const QString job = QStringLiteral(BICHROM_SOURCE_DIR "/demo/trail-token.bichrom");
        const QTemporaryDir folder;
        const QString pdf = folder.filePath(QStringLiteral("plates.pdf"));
        const Run made = run({QStringLiteral("compose"), job, QStringLiteral("--out"), pdf});
        QCOMPARE(made.code, 0);
        QVERIFY(made.out.contains(QStringLiteral("Luna Green: the artwork's own shapes")));
        QVERIFY(made.out.contains(QStringLiteral("Base White: computed, as outlines")));
        QVERIFY(made.out.contains(QStringLiteral("Cut line: computed, as a line")));
        const Run inside = run({QStringLiteral("inspect"), pdf, QStringLiteral("--json")});
        QCOMPARE(inside.code, 0);
        for (const char *ink : {"Base White", "Cut line", "Luna Green", "Wing Rust", "Lamp Yellow"}) {
            QVERIFY2(inside.out.contains(QLatin1String(ink)), ink);
        }
        QVERIFY(!inside.out.contains(QStringLiteral("\"Cyan\"")));
        QCOMPARE(run({QStringLiteral("compose"), job}).code, 2);
        QCOMPARE(
            run({QStringLiteral("compose"), QStringLiteral("/nowhere.pdf"), QStringLiteral("--out"), pdf})
                .code,
            3);
        QCOMPARE(
            run({QStringLiteral("compose"), job, QStringLiteral("--out"), QStringLiteral("/nowhere/x.pdf")})
                .code,
            4);
    }

    void aJobsOwnPlatesAreCheckedToo()
    {
        const QString job = QStringLiteral(BICHROM_SOURCE_DIR "/demo/night-tote.bichrom");
        const Run text = run({QStringLiteral("check"), job});
        QVERIFY(text.out.contains(QStringLiteral("No white under Luna Green on Black cotton")));
        const Run artwork = run({QStringLiteral("check"), demo_file()});
        QVERIFY(!artwork.out.contains(QStringLiteral("No white under")));
    }

    void aJobsRoutesHoldForScriptsToo()
    {
        QTemporaryDir folder;
        OpenedJob job = spots_page("/A cs 0.4 scn 0 0 72 72 re f").job();
        Route route;
        route.by = RouteBy::Ink;
        route.name = "Alpha";
        route.targets = {{"Gamma", true, 0.5, {}}};
        job.job.routes = {route};
        job.job.plates = {propose_plate({}, "Gamma", InkUse::White, {95, 0, 0})};
        const QString path = folder.filePath(QStringLiteral("routed.bichrom"));
        QVERIFY(save_job(path.toStdString(), job.job, *job.artwork));
        const QString out = folder.filePath(QStringLiteral("out"));
        QCOMPARE(run({QStringLiteral("plates"), path, QStringLiteral("--out"), out, QStringLiteral("--dpi"),
                      QStringLiteral("72")})
                     .code,
                 0);
        const QJsonArray plates = manifest_in(out)[QStringLiteral("plates")].toArray();
        QCOMPARE(plates.size(), 1);
        QCOMPARE(plates[0].toObject()[QStringLiteral("ink")].toString(), QStringLiteral("Gamma"));
        QCOMPARE(plates[0].toObject()[QStringLiteral("kind")].toString(), QStringLiteral("white"));
        const TiffFile plate =
            read_tiff(out + QLatin1Char('/') + plates[0].toObject()[QStringLiteral("file")].toString());
        QCOMPARE(plate.plate.at(36, 36), std::uint8_t(51));
    }

    void theHandbillsJobPrintsInTwoInks()
    {
        // The demo's job: all process ink and a misspelt spot go to the two inks, the photo is a tint of one.
        QTemporaryDir folder;
        const QString out = folder.filePath(QStringLiteral("out"));
        QCOMPARE(run({QStringLiteral("plates"), QStringLiteral(BICHROM_SOURCE_DIR "/demo/handbill.bichrom"),
                      QStringLiteral("--out"), out, QStringLiteral("--dpi"), QStringLiteral("100")})
                     .code,
                 0);
        const QJsonArray plates = manifest_in(out)[QStringLiteral("plates")].toArray();
        QCOMPARE(plates.size(), 2);
        const auto plate = [&](int number) {
            return read_tiff(out + QLatin1Char('/') +
                             plates[number].toObject()[QStringLiteral("file")].toString())
                .plate;
        };
        const Plane orange = plate(0);
        const Plane blue = plate(1);
        // In the photo (12 to 42 mm across, 102 to 132 down) blue varies and orange is bare.
        int least = 255, most = 0;
        for (int y = 410; y < 510; ++y) {
            for (int x = 55; x < 155; ++x) {
                const int tone = blue.at(x, y);
                least = std::min(least, tone);
                most = std::max(most, tone);
                QCOMPARE(orange.at(x, y), std::uint8_t(0));
            }
        }
        QVERIFY2(most - least > 60 && most <= 217, qPrintable(QStringLiteral("%1 %2").arg(least).arg(most)));
    }

    void damageStopsOutputsUntilAccepted()
    {
        const QString file = QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/faults/cut-flate-picture.pdf");
        QTemporaryDir folder;
        for (const char *command : {"plates", "film", "compose"}) {
            const QString out = folder.filePath(QString::fromUtf8(command)) +
                                (command == QByteArray("compose") ? QStringLiteral(".pdf") : QString());
            QStringList arguments = {QString::fromUtf8(command), file, QStringLiteral("--out"), out};
            if (command != QByteArray("compose")) {
                arguments << QStringLiteral("--dpi") << QStringLiteral("600");
            }
            const Run refused = run(arguments);
            QCOMPARE(refused.code, 3);
            QVERIFY2(refused.err.contains(QStringLiteral("object 0")), qPrintable(refused.err));
            QVERIFY(!QFileInfo::exists(out));
            const Run accepted = run(arguments << QStringLiteral("--accept-damage"));
            QCOMPARE(accepted.code, 0);
            QVERIFY2(accepted.err.contains(QStringLiteral("object 0")), qPrintable(accepted.err));
            QVERIFY(QFileInfo::exists(out));
        }
        const Run inspected = run({QStringLiteral("inspect"), QStringLiteral("--json"), file});
        QCOMPARE(inspected.code, 0);
        QVERIFY(inspected.out.contains(QStringLiteral("too short")));
    }

    void namesFromFilesDoNotSteerTheTerminal()
    {
        // Colours the terminal, clears it, and sets its title; a C1 control; and bytes that are no UTF-8.
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("page.pdf"));
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("A", "Ru#1B#5B31m#1B#5B2J#1B#5D0;x#07st#C2#9Bq") +
                        " " + separation("B", "Gr#FFn") + " >>";
        pdf.contents = "/A cs 1 scn 0 0 40 40 re f /B cs 1 scn 40 40 20 20 re f \x81w\x9brd";
        pdf.save(file);
        for (const char *command : {"inspect", "check", "film"}) {
            QStringList arguments = {QString::fromUtf8(command), file};
            if (command == QByteArray("film")) {
                arguments << QStringLiteral("--out") << folder.filePath(QStringLiteral("films"));
            }
            const Run ran = run(arguments);
            for (const QString &text : {ran.out, ran.err}) {
                QVERIFY(!text.contains(QChar(0xFFFD))); // what is no UTF-8 would have become one
                QVERIFY(std::none_of(text.begin(), text.end(), [](QChar c) {
                    return (c < QChar(0x20) && c != QChar(u'\n') && c != QChar(u'\t')) ||
                           (c >= QChar(0x7F) && c < QChar(0xA0));
                }));
            }
            QVERIFY2((ran.out + ran.err).contains(QStringLiteral("Ru?[31m")) || command == QByteArray("film"),
                     qPrintable(ran.out + ran.err));
        }
    }

    void aFileThatCannotBeCheckedHasItsPlaceInTheJson()
    {
        QTemporaryDir folder;
        const QString bad = folder.filePath(QStringLiteral("bad.pdf"));
        QFile file(bad);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("not a file of any kind");
        file.close();
        const Run one = run({QStringLiteral("check"), QStringLiteral("--json"), bad});
        QCOMPARE(one.code, 3);
        QVERIFY(QJsonDocument::fromJson(one.out.toUtf8()).object()[QStringLiteral("error")].isObject());
        const Run both = run({QStringLiteral("check"), QStringLiteral("--json"), bad, demo_file()});
        const QJsonArray list = QJsonDocument::fromJson(both.out.toUtf8()).array();
        QCOMPARE(list.size(), 2);
        QVERIFY(list[0].toObject().contains(QStringLiteral("error")));
        QVERIFY(list[1].toObject().contains(QStringLiteral("findings")));
    }

    void aJobThatHasSolvedItsErrorsPasses()
    {
        // The handbill's artwork has seven inks; its job prints two.
        const Run check = run({QStringLiteral("check"), QStringLiteral("--json"),
                               QStringLiteral(BICHROM_SOURCE_DIR "/demo/handbill.bichrom")});
        bool solved = false;
        for (const QJsonValue &one :
             QJsonDocument::fromJson(check.out.toUtf8()).object()[QStringLiteral("findings")].toArray()) {
            if (one.toObject()[QStringLiteral("check")].toString() == QStringLiteral("ink_count")) {
                solved = !one.toObject()[QStringLiteral("solved")].toString().isEmpty();
            }
        }
        QVERIFY2(solved, qPrintable(check.out.left(2000)));
    }

    void filmsAreTrappedAndJobsKeepIt()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        spots_page("/A cs 0.6 scn 5 5 30 60 re f /B cs 1 scn 35 5 30 60 re f").save(path);
        const auto film = [&](const QString &name, const QStringList &more) {
            const QString out = folder.filePath(name);
            const Run done = run(QStringList{QStringLiteral("film"), path, QStringLiteral("--out"), out,
                                             QStringLiteral("--no-marks")} +
                                 more);
            double sum = 0;
            for (const QJsonValue &plate : manifest_in(out)[QStringLiteral("plates")].toArray()) {
                sum += plate.toObject()[QStringLiteral("coverage")].toDouble();
            }
            return std::pair(done.code, sum);
        };
        const auto [code, plain] = film(QStringLiteral("plain"), {});
        QCOMPARE(code, 0);
        const auto trapped =
            film(QStringLiteral("trapped"), {QStringLiteral("--trap"), QStringLiteral("0.3mm")});
        QCOMPARE(trapped.first, 0);
        QVERIFY(trapped.second > plain + 0.005);
        const auto none =
            film(QStringLiteral("none"), {QStringLiteral("--trap"), QStringLiteral("0.3mm"),
                                          QStringLiteral("--trap-pair"), QStringLiteral("Alpha,Beta=none")});
        QCOMPARE(none.second, plain);
        for (const QStringList &bad :
             {QStringList{QStringLiteral("--trap"), QStringLiteral("3mm")},
              QStringList{QStringLiteral("--trap-pair"), QStringLiteral("Alpha,Nil=first")},
              QStringList{QStringLiteral("--house-overprint"), QStringLiteral("pink")},
              QStringList{QStringLiteral("--prints"), QStringLiteral("Nil=overprint")}}) {
            QCOMPARE(film(QStringLiteral("bad"), bad).first, 2);
        }
        const QString job = folder.filePath(QStringLiteral("two.bichrom"));
        QCOMPARE(run({QStringLiteral("job"), path, QStringLiteral("--out"), job, QStringLiteral("--trap"),
                      QStringLiteral("0.3mm"), QStringLiteral("--prints"), QStringLiteral("Beta=overprint")})
                     .code,
                 0);
        const OpenedJob saved = take(open_job(job.toStdString()));
        QCOMPARE(saved.job.traps.width, 0.3);
        QVERIFY(saved.job.traps.on);
        QCOMPARE(saved.job.overprint.rules.front().wish, OverprintWish::Overprint);
    }

    void aPlateForEachOfThousandsOfColoursIsRefused()
    {
        QTemporaryDir folder;
        std::string art;
        for (int i = 0; i < 3000; ++i) {
            art += std::to_string(i % 30 / 30.0) + " " + std::to_string(i / 30 % 10 / 10.0) + " " +
                   std::to_string(i / 300 / 10.0) + " rg " + std::to_string(i % 60) + " " +
                   std::to_string(i / 60) + " 1 1 re f ";
        }
        const QString path = folder.filePath(QStringLiteral("many.pdf"));
        spots_page(art).save(path);
        const auto job = [&](const char *alike) {
            return run({QStringLiteral("job"), path, QStringLiteral("--out"),
                        folder.filePath(QStringLiteral("many.bichrom")),
                        QStringLiteral("--plates-from-colours"), QString::fromLatin1(alike)});
        };
        const Run refused = job("0");
        QCOMPARE(refused.code, 2);
        QVERIFY2(refused.err.contains(QStringLiteral("3000 colours")), qPrintable(refused.err));
        QCOMPARE(job("40").code, 0);
    }

    void filmsAreSizedRepeatedScreenedAndMeasured()
    {
        QTemporaryDir folder;
        MiniPdf pdf = spots_page("/A cs 0.3 scn 0 0 72 72 re f");
        const QString path = folder.filePath(QStringLiteral("tint.pdf"));
        pdf.save(path);
        QFile curve(folder.filePath(QStringLiteral("press.txt")));
        QVERIFY(curve.open(QIODevice::WriteOnly));
        curve.write("25 38.5\n50 68\n75 88\n");
        curve.close();
        const auto film = [&](const QString &out, const QString &options) {
            return run(QStringList{QStringLiteral("film"), path, QStringLiteral("--out"),
                                   folder.filePath(out), QStringLiteral("--dpi"), QStringLiteral("600")} +
                       options.split(QLatin1Char(' '), Qt::SkipEmptyParts));
        };
        const auto written = [&](const QString &out) {
            const QString name =
                manifest_in(folder.filePath(out))[QStringLiteral("plates")][0][QStringLiteral("file")]
                    .toString();
            return folder.filePath(out + QLatin1Char('/') + name);
        };
        const auto densitometer = [&](const QString &file) {
            const Run done = run({QStringLiteral("densitometer"), file, QStringLiteral("--json")});
            return std::pair(done.code, QJsonDocument::fromJson(done.out.toUtf8()));
        };
        // 14 in at 600 dpi is 8400 pixels; two copies 10 mm apart.
        QCOMPARE(film(QStringLiteral("a"), QStringLiteral("--width 14in --copies 2x1 --gap 10mm --no-marks "
                                                          "--lpi 50 --angle Alpha=22.5"))
                     .code,
                 0);
        QCOMPARE(read_tiff(written(QStringLiteral("a"))).width, 2 * 8400 + 236);
        const auto [code, read] = densitometer(written(QStringLiteral("a")));
        QCOMPARE(code, 0);
        QCOMPARE(read[QStringLiteral("kind")].toString(), QStringLiteral("dots"));
        QVERIFY(std::fabs(read[QStringLiteral("lpi")].toDouble() - 50) < 0.05);
        QVERIFY(std::fabs(read[QStringLiteral("angle")].toDouble() - 22.5) < 0.1);
        QVERIFY(std::fabs(read[QStringLiteral("coverage")].toDouble() - 0.3 * 16800 / 17036) < 0.002);
        // A curve: film that prints as 30 %, and scattered dots have no ruling.
        QCOMPARE(film(QStringLiteral("b"),
                      QStringLiteral("--no-marks --scale 400% --screen fm --curve ") + curve.fileName())
                     .code,
                 0);
        const auto listed = manifest_in(folder.filePath(QStringLiteral("b")))[QStringLiteral("plates")][0];
        QCOMPARE(listed[QStringLiteral("screen")].toString(), QStringLiteral("fm"));
        QVERIFY(listed[QStringLiteral("lpi")].isNull() && listed[QStringLiteral("angle")].isNull());
        const auto scattered = densitometer(written(QStringLiteral("b"))).second;
        QCOMPARE(scattered[QStringLiteral("kind")].toString(), QStringLiteral("scattered"));
        QVERIFY(scattered[QStringLiteral("lpi")].isNull());
        QVERIFY(scattered[QStringLiteral("coverage")].toDouble() < 0.22);
        QCOMPARE(film(QStringLiteral("c"), QStringLiteral("--distort 98%,102% --sheet 100mmx120mm --place "
                                                          "centre,30mm --marks corners,no-crop,ruler --label "
                                                          "ink,date --wedge-steps 5,50"))
                     .code,
                 0);
        QCOMPARE(read_tiff(written(QStringLiteral("c"))).width, 2362); // 100 mm
        // Sets that were kept: marks, and a curve with all that belongs to it.
        MarkSet large;
        large.size = 14;
        large.distance = 20;
        const QString marks = folder.filePath(QStringLiteral("large.json"));
        QVERIFY(write_file(marks.toStdString(), mark_set_text("Large", large)));
        PressCurve press;
        press.least = 0.4; // what is lighter drops: all of the tint of 30 %
        const QString mesh = folder.filePath(QStringLiteral("mesh.json"));
        QVERIFY(write_file(mesh.toStdString(), press_curve_text("300 mesh", press)));
        QCOMPARE(film(QStringLiteral("d"),
                      QStringLiteral("--all-plates --mark-set ") + marks + QStringLiteral(" --curve ") + mesh)
                     .code,
                 0);
        const TiffFile far = read_tiff(written(QStringLiteral("d")));
        QVERIFY(far.width > 600 * (25.4 + 2 * 20) / 25.4); // an inch of art, marks 20 mm away
        const QString middle = QString::number(far.width / 600.0 * 12.7 - 5);
        const Run bare =
            run({QStringLiteral("densitometer"), written(QStringLiteral("d")), QStringLiteral("--area"),
                 QStringLiteral("%1,%1,10,10").arg(middle), QStringLiteral("--json")});
        QCOMPARE(QJsonDocument::fromJson(bare.out.toUtf8())[QStringLiteral("coverage")].toDouble(1), 0.0);
        for (const char *wrong :
             {"--width 0", "--width much", "--mark-set /nowhere/set.json", "--of art", "--copies 0x2",
              "--gap -1mm", "--distort 300%,100%", "--sheet 10x", "--place 1mm,1mm", "--marks stars",
              "--label ink,price", "--screen mesh", "--least-dot 999 --screen fm", "--holds 80,20",
              "--curve /nowhere/curve.txt", "--screen-of Alpha=am@lots", "--screen-of Nil=am",
              "--sheet 10mmx10mm", "--wedge-steps 1,200"}) {
            const Run refused = film(QStringLiteral("no"), QString::fromLatin1(wrong));
            QVERIFY2(refused.code == 2 || refused.code == 3, wrong);
            QVERIFY2(!refused.err.isEmpty(), wrong);
        }
        QVERIFY(!QDir(folder.filePath(QStringLiteral("no"))).exists() ||
                QDir(folder.filePath(QStringLiteral("no"))).entryList(QDir::Files).isEmpty());
        QCOMPARE(run({QStringLiteral("densitometer"), path}).code, 3);
        QCOMPARE(run({QStringLiteral("densitometer"), written(QStringLiteral("a")), QStringLiteral("--area"),
                      QStringLiteral("1,2")})
                     .code,
                 2);
        // A job keeps all of that.
        const QString job = folder.filePath(QStringLiteral("kept.bichrom"));
        QCOMPARE(run({QStringLiteral("job"), path, QStringLiteral("--out"), job, QStringLiteral("--scale"),
                      QStringLiteral("200%"), QStringLiteral("--copies"), QStringLiteral("3x2"),
                      QStringLiteral("--screen"), QStringLiteral("hybrid")})
                     .code,
                 0);
        const bichrom::OpenedJob kept = take(bichrom::open_job(job.toStdString()));
        QVERIFY(kept.job.placements.scale == 2 && kept.job.film.columns == 3 &&
                kept.job.plates[0].screen.kind == bichrom::ScreenKind::Hybrid);
    }

    void beatsAreToldAsPromised()
    {
        QTemporaryDir folder;
        MiniPdf pdf = spots_page("/A cs 0.4 scn 0 0 72 72 re f /OP gs /B cs 0.5 scn 0 0 72 72 re f");
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        pdf.save(path);
        const QStringList words = {QStringLiteral("moire"),   path,
                                   QStringLiteral("--angle"), QStringLiteral("Alpha=45"),
                                   QStringLiteral("--angle"), QStringLiteral("Beta=50"),
                                   QStringLiteral("--hold"),  QStringLiteral("Alpha")};
        const Run done = run(words + QStringList{QStringLiteral("--mesh"), QStringLiteral("48/cm@0"),
                                                 QStringLiteral("--json")});
        QCOMPARE(done.code, 0);
        const QJsonDocument told = QJsonDocument::fromJson(done.out.toUtf8());
        QCOMPARE(told[QStringLiteral("pairs")].toArray().size(), 3);
        bool found = false;
        for (const auto &pair : told[QStringLiteral("pairs")].toArray()) {
            const QJsonObject one = pair.toObject();
            if (one[QStringLiteral("b")].toString() == QStringLiteral("Beta")) {
                found = true;
                QCOMPARE(one[QStringLiteral("a")].toString(), QStringLiteral("Alpha"));
                QVERIFY(std::fabs(one[QStringLiteral("period_mm")].toDouble() - 5.294) < 1e-3);
                QVERIFY(one[QStringLiteral("strength")].toDouble() > 0);
            }
        }
        QVERIFY(found);
        QCOMPARE(told[QStringLiteral("proposed")][QStringLiteral("Alpha")].toDouble(), 45.0);
        QVERIFY(run(words).out.contains(QStringLiteral("Better angles")));
        QCOMPARE(run(words + QStringList{QStringLiteral("--mesh"), QStringLiteral("fine")}).code, 2);
        QCOMPARE(run(words + QStringList{QStringLiteral("--viewing"), QStringLiteral("near")}).code, 2);
        QCOMPARE(run(words + QStringList{QStringLiteral("--hold"), QStringLiteral("Nil")}).code, 2);
    }

    void slipsAreToldAsPromised()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("two.pdf"));
        // 10.58 mm wide and 21.17 mm high each, side by side.
        spots_page("/A cs 1 scn 5 5 30 60 re f /B cs 1 scn 35 5 30 60 re f").save(path);
        const auto slip = [&](const QStringList &more) {
            const Run done = run(QStringList{QStringLiteral("slip"), path, QStringLiteral("--json")} + more);
            return std::pair(done.code, QJsonDocument::fromJson(done.out.toUtf8()).object());
        };
        const auto [code, within] = slip({QStringLiteral("--within"), QStringLiteral("0.3mm")});
        QCOMPARE(code, 0);
        QVERIFY(std::fabs(within[QStringLiteral("bare_mm2")].toDouble() - 2 * 0.3 * 21.17) < 0.4);
        QCOMPARE(within[QStringLiteral("worst_mm")].toArray().size(), 2);
        const QJsonObject pair = within[QStringLiteral("pairs")].toArray().first().toObject();
        for (const char *key : {"a", "b", "bare_mm2", "worst_mm", "closing_mm"}) {
            QVERIFY2(pair.contains(QLatin1String(key)), key);
        }
        QVERIFY(std::fabs(pair[QStringLiteral("closing_mm")].toDouble() - 0.3) < 0.03);
        const auto closed = slip({QStringLiteral("--within"), QStringLiteral("0.3mm"),
                                  QStringLiteral("--trap"), QStringLiteral("0.3mm")});
        QVERIFY(closed.second[QStringLiteral("bare_mm2")].toDouble() < 0.3);
        const auto moved = slip({QStringLiteral("--shift"), QStringLiteral("Beta=0.2mm,0mm")});
        QVERIFY(std::fabs(moved.second[QStringLiteral("bare_mm2")].toDouble() - 0.2 * 21.17) < 0.15);
        QCOMPARE(slip({}).first, 2);
        QCOMPARE(slip({QStringLiteral("--shift"), QStringLiteral("Nil=1mm,1mm")}).first, 2);
        QCOMPARE(slip({QStringLiteral("--within"), QStringLiteral("60mm")}).first, 2);
    }

    void paintedArtworkIsSeparatedAsPromised()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("paint.png")),
                      job = folder.filePath(QStringLiteral("p.bichrom"));
        QImage image(120, 80, QImage::Format_RGB32);
        for (int y = 0; y < 80; ++y) {
            for (int x = 0; x < 120; ++x) {
                image.setPixelColor(x, y, QColor(40 + x, 30 + y, 120 - x / 2));
            }
        }
        QVERIFY(image.save(file));
        const auto separate = [&](const QStringList &more) {
            return run(QStringList{QStringLiteral("separate"), file, QStringLiteral("--out"), job} + more);
        };
        const Run best = separate({QStringLiteral("--stock"), QStringLiteral("Black cotton"),
                                   QStringLiteral("--best"), QStringLiteral("3"), QStringLiteral("--json")});
        QCOMPARE(best.code, 0);
        const QJsonObject told = QJsonDocument::fromJson(best.out.toUtf8()).object();
        QCOMPARE(told[QStringLiteral("inks")].toArray().size(), 3);
        for (const char *key : {"median_de", "p95_de", "worst_mm", "coverage"}) {
            QVERIFY2(told.contains(QLatin1String(key)), key);
        }
        QVERIFY(told[QStringLiteral("p95_de")].toDouble() >= told[QStringLiteral("median_de")].toDouble());
        const OpenedJob opened = take(open_job(job.toStdString()));
        QCOMPARE(opened.job.stock.name, std::string("Black cotton"));
        QCOMPARE(opened.job.plates.front().kind, InkUse::White);
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("90,0,10"), QStringLiteral("--white"),
                           QStringLiteral("none"), QStringLiteral("--inks"),
                           QStringLiteral("Wing Rust,Deep Gentian")})
                     .code,
                 0);
        QCOMPARE(take(open_job(job.toStdString())).job.inks(),
                 (std::vector<std::string>{"Wing Rust", "Deep Gentian"}));
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("Black cotton"),
                           QStringLiteral("--inks"), QStringLiteral("Wing Rust,Deep Gentian"),
                           QStringLiteral("--limit"), QStringLiteral("150")})
                     .code,
                 0);
        const OpenedJob limited = take(open_job(job.toStdString()));
        QCOMPARE(limited.job.routes.back().ink_limit, 1.5);
        const auto line = take(PlateLine::make(
            take(limited.artwork->interpret(1, PageBox::Media, limited.job.colours)), setup_of(limited.job)));
        const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
        int most = 0;
        for (std::size_t i = 0; i < tile.plates[0].pixels.size(); ++i) {
            int sum = 0;
            for (const Plane &plate : tile.plates) {
                sum += plate.pixels[i];
            }
            most = std::max(most, sum);
        }
        QVERIFY2(most <= 255 * 3 / 2 + 2, qPrintable(QString::number(most))); // rounded, three plates
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("White stock"),
                           QStringLiteral("--limit"), QStringLiteral("20")})
                     .code,
                 2);
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("White stock"),
                           QStringLiteral("--process"), QStringLiteral("--white"), QStringLiteral("none")})
                     .code,
                 0); // no other inks need be named
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("Felt")}).code, 2);
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("White stock"), QStringLiteral("--inks"),
                           QStringLiteral("Nil")})
                     .code,
                 2);
        QCOMPARE(separate({QStringLiteral("--stock"), QStringLiteral("White stock"), QStringLiteral("--best"),
                           QStringLiteral("40")})
                     .code,
                 2);
    }

    void proofsAndTicketsAreWrittenAsPromised()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("two.pdf"));
        spots_page("/A cs 1 scn 0 0 36 72 re f /OP gs /B cs 0.4 scn 0 0 72 72 re f").save(file);
        const auto write = [&](const char *command, const char *name, const QStringList &more = {}) {
            return run(QStringList{QLatin1String(command), file, QStringLiteral("--out"),
                                   folder.filePath(QLatin1String(name))} +
                       more);
        };
        for (const char *name : {"p.pdf", "p.html", "p.png"}) {
            QCOMPARE(write("proof", name).code, 0);
            QVERIFY(QFileInfo(folder.filePath(QLatin1String(name))).size() > 100);
        }
        QCOMPARE(write("proof", "p.doc").code, 2);
        QCOMPARE(write("proof", "p.png", {QStringLiteral("--dpi"), QStringLiteral("0.5")}).code, 2);
        QCOMPARE(write("ticket", "t.pdf").code, 0);
        QCOMPARE(write("ticket", "t.json",
                       {QStringLiteral("--pieces"), QStringLiteral("100"), QStringLiteral("--deposit"),
                        QStringLiteral("Alpha=20")})
                     .code,
                 0);
        QFile json(folder.filePath(QStringLiteral("t.json")));
        QVERIFY(json.open(QIODevice::ReadOnly));
        const QJsonObject ticket = QJsonDocument::fromJson(json.readAll()).object();
        // Half of 25.4 × 25.4 mm, 20 cm³/m², 1.1 g/cm³, 100 pieces.
        QVERIFY(std::fabs(ticket[QStringLiteral("plates")][0][QStringLiteral("ink_g")].toDouble() -
                          0.0254 * 0.0254 / 2 * 20 * 1.1 * 100) < 0.01);
        QCOMPARE(write("ticket", "t.json", {QStringLiteral("--mesh"), QStringLiteral("Nil=77")}).code, 2);
        QCOMPARE(write("ticket", "t.json", {QStringLiteral("--mesh"), QStringLiteral("Alpha=fine")}).code, 2);
    }

    void releasesGoToDevicesAndComeAgain()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("two.pdf")),
                      out = folder.filePath(QStringLiteral("out"));
        spots_page("/A cs 1 scn 0 0 36 72 re f 0 0 0 1 k 40 40 9 9 re f").save(file);
        const auto device = [&](const char *kind, const QStringList &more = {}) {
            return run(QStringList{QStringLiteral("stand-in"), QLatin1String(kind), QStringLiteral("--in"),
                                   folder.filePath(QLatin1String(kind))} +
                       more);
        };
        QCOMPARE(device("recorder").code, 0);
        QCOMPARE(device("toaster").code, 2);
        QCOMPARE(device("recorder", {QStringLiteral("--set"), QStringLiteral("colour=red")}).code, 2);
        const QStringList words = {QStringLiteral("release"), file, QStringLiteral("--out"), out};
        const QStringList to = {QStringLiteral("--device"), folder.filePath(QStringLiteral("recorder"))};
        const Run stopped = run(words + to); // no trim box, a process ink in a spot job …
        QCOMPARE(stopped.code, 1);
        QVERIFY(stopped.err.contains(QStringLiteral("in the way")));
        QVERIFY(!QDir(out).exists(QStringLiteral("two")));
        const Run passed = run(words + to + QStringList{QStringLiteral("--pass"), QStringLiteral("a test")});
        QCOMPARE(passed.code, 0);
        QVERIFY2(passed.out.contains(QStringLiteral("release 1")) &&
                     passed.out.contains(QStringLiteral("2 files sent")),
                 qPrintable(passed.out));
        QCOMPARE(device("recorder", {QStringLiteral("--set"), QStringLiteral("offline=yes")}).code, 1);
        const Run done = device("recorder", {QStringLiteral("--set"), QStringLiteral("offline=no")});
        QCOMPARE(done.code, 0);
        QCOMPARE(done.out.count(QStringLiteral("Exposed at 1200 dpi")), 2);
        const Run again = run(words + QStringList{QStringLiteral("--again"), QStringLiteral("1")});
        QCOMPARE(again.code, 0);
        QVERIFY(again.out.contains(QStringLiteral("all as they were")));
        // Another state of it: the films that were sent are told, until somebody says why.
        const QStringList other = {QStringLiteral("release"), folder.filePath(QStringLiteral("two.bichrom")),
                                   QStringLiteral("--out"), out};
        QCOMPARE(run({QStringLiteral("job"), file, QStringLiteral("--out"), other[1], QStringLiteral("--lpi"),
                      QStringLiteral("45")})
                     .code,
                 0);
        const Run stale = run(other);
        QCOMPARE(stale.code, 1);
        QVERIFY2(stale.err.contains(QStringLiteral("of an earlier state of the job")), qPrintable(stale.err));
        QCOMPARE(run(words + QStringList{QStringLiteral("--again"), QStringLiteral("9")}).code, 3);
    }

    void aJobIsAppliedToManyFiles()
    {
        QTemporaryDir folder;
        const auto path = [&](const char *name) { return folder.filePath(QLatin1String(name)); };
        spots_page("/A cs 1 scn 0 0 36 72 re f").save(path("one.pdf"));
        spots_page("/A cs 1 scn 9 9 30 30 re f /B cs 1 scn 0 0 9 9 re f").save(path("other.pdf"));
        QFile broken(path("broken.pdf"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("x");
        broken.close();
        QCOMPARE(run({QStringLiteral("job"), path("one.pdf"), QStringLiteral("--out"), path("one.bichrom"),
                      QStringLiteral("--stock"), QStringLiteral("Black cotton")})
                     .code,
                 0);
        for (const char *what : {"film", "plates", "compose", "job"}) {
            const Run applied =
                run({QStringLiteral("apply"), path("one.bichrom"), path("broken.pdf"), path("other.pdf"),
                     QStringLiteral("--out"), path(what), QStringLiteral("--do"), QLatin1String(what)});
            QCOMPARE(applied.code, 3); // of the broken one; the other is there
            QVERIFY2(applied.out.contains(QStringLiteral("new inks, on plates of their own: Beta")),
                     qPrintable(applied.out));
            QVERIFY(!QDir(path(what)).entryList({QStringLiteral("other*")}).isEmpty());
        }
        const auto job = take(open_job_or_artwork(path("job/other.bichrom").toStdString()));
        QCOMPARE(job.job.stock.name, std::string("Black cotton"));
        QCOMPARE(run({QStringLiteral("apply"), path("one.bichrom"), path("other.pdf"),
                      QStringLiteral("--out"), path("z"), QStringLiteral("--do"), QStringLiteral("nothing")})
                     .code,
                 2);
    }

    void theCustomersFileIsNeverWrittenOver_data()
    {
        QTest::addColumn<QStringList>("words");
        QTest::addColumn<bool>("is_refused");
        const auto row = [](const char *name, const QStringList &words, bool refused = true) {
            QTest::newRow(name) << words << refused;
        };
        const QString file = QStringLiteral("x.pdf"), out = QStringLiteral("--out");
        row("compose", {QStringLiteral("compose"), file, out, file});
        row("proof", {QStringLiteral("proof"), file, out, file});
        row("ticket", {QStringLiteral("ticket"), file, out, file});
        row("job", {QStringLiteral("job"), file, out, file});
        row("separate",
            {QStringLiteral("separate"), file, QStringLiteral("--stock"), QStringLiteral("White stock"),
             QStringLiteral("--best"), QStringLiteral("2"), out, file});
        row("apply",
            {QStringLiteral("apply"), QStringLiteral("one.bichrom"), file, out, QStringLiteral("."),
             QStringLiteral("--do"), QStringLiteral("compose")},
            false); // beside it
        row("rename-ink", {QStringLiteral("rename-ink"), QStringLiteral("--from"), QStringLiteral("Alpha"),
                           QStringLiteral("--to"), QStringLiteral("Gamma"), file, out, QStringLiteral(".")});
    }

    void theCustomersFileIsNeverWrittenOver()
    {
        QFETCH(QStringList, words);
        QFETCH(bool, is_refused);
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("x.pdf"));
        spots_page("/A cs 1 scn 0 0 36 72 re f 1 0.5 0 rg 40 40 20 20 re f").save(file);
        const QString before = QDir::currentPath();
        QVERIFY(QDir::setCurrent(folder.path()));
        const Run job =
            run({QStringLiteral("job"), file, QStringLiteral("--out"), QStringLiteral("one.bichrom")});
        const auto bytes = take(read_file(file.toStdString()));
        const Run done = run(words);
        QVERIFY(QDir::setCurrent(before));
        QCOMPARE(job.code, 0);
        QVERIFY2(take(read_file(file.toStdString())) == bytes, "the customer's file was changed");
        QVERIFY2(done.code == (is_refused ? 4 : 0), qPrintable(done.err));
        QCOMPARE(QFile::exists(folder.filePath(QStringLiteral("x-2.pdf"))), !is_refused);
    }

    void aWatchedFolderIsNotWrittenInto()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("x.pdf"));
        spots_page("/A cs 1 scn 0 0 36 72 re f").save(file);
        const Run done = run({QStringLiteral("apply"), file, QStringLiteral("--watch"), folder.path(),
                              QStringLiteral("--out"), folder.path() + QStringLiteral("/."),
                              QStringLiteral("--do"), QStringLiteral("compose")});
        QCOMPARE(done.code, 2);
        QVERIFY(done.err.contains(QStringLiteral("another folder")));
    }

    void filmsShareARollWhenAsked()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("two.pdf"));
        spots_page("/A cs 1 scn 0 0 36 72 re f /OP gs /B cs 0.4 scn 0 0 72 72 re f").save(file);
        const auto film = [&](const char *together) {
            return run({QStringLiteral("film"), file, QStringLiteral("--out"),
                        folder.filePath(QStringLiteral("f")), QStringLiteral("--dpi"), QStringLiteral("300"),
                        QStringLiteral("--together"), QLatin1String(together)})
                .code;
        };
        QCOMPARE(film("610mm"), 0);
        const QJsonArray plates =
            manifest_in(folder.filePath(QStringLiteral("f")))[QStringLiteral("plates")].toArray();
        QCOMPARE(plates[0][QStringLiteral("file")], plates[1][QStringLiteral("file")]);
        QVERIFY(plates[1][QStringLiteral("x_mm")].toDouble() > 25);
        QCOMPARE(film("wide"), 2);
        QCOMPARE(film("20mm"), 2); // not even one fits
        // Turned, and as pages of one document.
        const Run turned =
            run({QStringLiteral("film"), file, QStringLiteral("--out"), folder.filePath(QStringLiteral("t")),
                 QStringLiteral("--dpi"), QStringLiteral("300"), QStringLiteral("--together"),
                 QStringLiteral("610mm"), QStringLiteral("--turned"), QStringLiteral("--format"),
                 QStringLiteral("pdf")});
        QCOMPARE(turned.code, 0);
        const QJsonArray pages =
            manifest_in(folder.filePath(QStringLiteral("t")))[QStringLiteral("plates")].toArray();
        QCOMPARE(pages.size(), 2);
        for (const auto &one : pages) {
            QVERIFY(one[QStringLiteral("turned")].toBool());
            QCOMPARE(one[QStringLiteral("sheet")].toInt(), 1);
            QVERIFY(one[QStringLiteral("file")].toString().endsWith(QStringLiteral("-films.pdf")));
        }
    }

    void photographsAreDiffusedAndTheShopsTileTaken()
    {
        QTemporaryDir folder;
        const QString file = folder.filePath(QStringLiteral("tint.pdf"));
        spots_page("/A cs 0.4 scn 0 0 72 72 re f").save(file);
        QImage tile(16, 16, QImage::Format_Grayscale8);
        for (int place = 0; place < 256; ++place) {
            tile.scanLine(place / 16)[place % 16] = static_cast<uchar>(place * 101 % 256);
        }
        const QString picture = folder.filePath(QStringLiteral("grain.png"));
        QVERIFY(tile.save(picture));
        const auto plate = [&](const char *out, const QStringList &how) {
            const QString to = folder.filePath(QLatin1String(out));
            const Run done = run(QStringList{QStringLiteral("film"), file, QStringLiteral("--out"), to,
                                             QStringLiteral("--dpi"), QStringLiteral("600"),
                                             QStringLiteral("--no-marks")} +
                                 how);
            QJsonObject made =
                done.code == 0 ? manifest_in(to)[QStringLiteral("plates")][0].toObject() : QJsonObject();
            made[QStringLiteral("path")] = to + QLatin1Char('/') + made[QStringLiteral("file")].toString();
            return made;
        };
        const auto share = [&](const QJsonObject &made) {
            const Run read = run({QStringLiteral("densitometer"), made[QStringLiteral("path")].toString(),
                                  QStringLiteral("--json")});
            return QJsonDocument::fromJson(read.out.toUtf8())[QStringLiteral("coverage")].toDouble();
        };
        const QJsonObject diffused = plate("d", {QStringLiteral("--screen"), QStringLiteral("diffusion")});
        QCOMPARE(diffused[QStringLiteral("screen")].toString(), QStringLiteral("diffusion"));
        QVERIFY(diffused[QStringLiteral("lpi")].isNull());
        QVERIFY2(std::fabs(share(diffused) - 0.4) < 0.01, qPrintable(QString::number(share(diffused))));
        const QJsonObject tiled = plate("t", {QStringLiteral("--dot"), picture});
        QCOMPARE(tiled[QStringLiteral("screen")].toString(), QStringLiteral("tile"));
        QVERIFY2(std::fabs(share(tiled) - 0.4) < 0.01, qPrintable(QString::number(share(tiled))));
        // A tile that is not there, and a way that needs one.
        const auto code = [&](const QStringList &how) {
            return run(QStringList{QStringLiteral("film"), file, QStringLiteral("--out"),
                                   folder.filePath(QStringLiteral("no"))} +
                       how)
                .code;
        };
        QCOMPARE(code({QStringLiteral("--dot"), folder.filePath(QStringLiteral("none.png"))}), 3);
        QCOMPARE(code({QStringLiteral("--screen"), QStringLiteral("tile")}), 2);
        QCOMPARE(code({QStringLiteral("--screen"), QStringLiteral("diffusion"), QStringLiteral("--least-dot"),
                       QStringLiteral("9")}),
                 2);
        // The job keeps the tile: its films need the file no more.
        const QString job = folder.filePath(QStringLiteral("kept.bichrom"));
        QCOMPARE(
            run({QStringLiteral("job"), file, QStringLiteral("--out"), job, QStringLiteral("--dot"), picture})
                .code,
            0);
        QVERIFY(QFile::remove(picture));
        const QString to = folder.filePath(QStringLiteral("k"));
        QCOMPARE(run({QStringLiteral("film"), job, QStringLiteral("--out"), to, QStringLiteral("--dpi"),
                      QStringLiteral("600"), QStringLiteral("--no-marks")})
                     .code,
                 0);
        QFile first(tiled[QStringLiteral("path")].toString()),
            again(to + QLatin1Char('/') +
                  manifest_in(to)[QStringLiteral("plates")][0][QStringLiteral("file")].toString());
        QVERIFY(first.open(QIODevice::ReadOnly) && again.open(QIODevice::ReadOnly));
        QCOMPARE(first.readAll(), again.readAll());
    }

    void renamingManyFilesSumsUp()
    {
        QTemporaryDir folder;
        const QString with = folder.filePath(QStringLiteral("with.pdf"));
        const QString without = folder.filePath(QStringLiteral("without.pdf"));
        spots_page("/A cs 1 scn 0 0 9 9 re f").save(with);
        MiniPdf plain;
        plain.contents = "0 0 0 1 k 0 0 9 9 re f";
        plain.save(without);
        const QStringList words = {QStringLiteral("rename-ink"),
                                   QStringLiteral("--from"),
                                   QStringLiteral("Alpha"),
                                   QStringLiteral("--to"),
                                   QStringLiteral("Gamma"),
                                   QStringLiteral("--out"),
                                   folder.filePath(QStringLiteral("out"))};
        QCOMPARE(run(words + QStringList{with}).code, 0);
        const Run both = run(words + QStringList{with, without});
        QCOMPARE(both.code, 1);
        QVERIFY2(both.out.contains(QStringLiteral("2 files: 1 changed, 1 without such an ink, 0 failed")),
                 qPrintable(both.out));
    }

    void aStandInColourIsFourNumbers()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("a.pdf"));
        spots_page("/A cs 1 scn 0 0 9 9 re f").save(path);
        const auto rename = [&](const QString &standin) {
            return run({QStringLiteral("rename-ink"), QStringLiteral("--from"), QStringLiteral("Alpha"),
                        QStringLiteral("--to"), QStringLiteral("Gamma"), QStringLiteral("--standin"), standin,
                        path, QStringLiteral("--out"), folder.filePath(QStringLiteral("out"))});
        };
        QCOMPARE(rename(QStringLiteral("10,20")).code, 2);
        QCOMPARE(rename(QStringLiteral("10,20,30,400")).code, 2);
        QCOMPARE(rename(QStringLiteral("10,20,30,40")).code, 0);
        const auto artwork = take(Artwork::open(folder.filePath(QStringLiteral("out/a.pdf")).toStdString()));
        const Scene scene = take(record_scene(*take(artwork->interpret(1, PageBox::Media))));
        QVERIFY(std::fabs(scene.colours[0].build[3] - 0.4f) < 1e-4f);
    }
};

BICHROM_TEST(TestCli, QCoreApplication)
#include "tst_cli.moc"
