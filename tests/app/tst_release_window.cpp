// Release in the real window: films seen first, proof and ticket, the gate, devices, other files.
#include "app/bench/bench_window.h"
#include "app/dialogs/device_window.h"
#include "app/lighttable/film_table.h"
#include "app/widgets/controls.h"
#include "core/report/job_ticket.h"
#include "core/screen/densitometer.h"
#include "core/standin/devices.h"
#include "support/bench_driver.h"
#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QComboBox>
#include <QListWidget>
#include <QPushButton>
#include <QTreeWidget>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Two spots, 76.2 × 50.8 mm: Alpha solid left, Beta 40 % overprinting everywhere.
struct Releasing : Bench
{
    QTemporaryDir folder;

    Releasing()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 108 144 re f /OP gs /B cs 0.4 scn 0 0 216 144 re f");
        pdf.width = 216;
        pdf.height = 144;
        pdf.page_extra = "/TrimBox [9 9 207 135]";
        pdf.save(path("two.pdf"));
        open(path("two.pdf"));
        waitForPlates();
        chooseStage(Stage::Release);
        actions = 0;
    }
    [[nodiscard]] QString path(const char *name) const { return folder.filePath(QLatin1String(name)); }
    const Job &job() { return window.session().job(); }
    QString words(const char *name) { return find<QLabel>(QString::fromLatin1(name))->text(); }
    void type(const char *field, const char *text)
    {
        enter(find<QLineEdit>(QString::fromLatin1(field)), QString::fromUtf8(text));
    }
    FilmTable &films() { return *find<FilmTable>(QStringLiteral("filmTable")); }
};

} // namespace

class TestReleaseWindow : public WindowTest
{
    Q_OBJECT

private Q_SLOTS:
    void filmsAreSeenPixelByPixelBeforeTheyAreWritten()
    {
        Releasing bench;
        bench.press("seeFilms");
        FilmTable &films = bench.films();
        QCOMPARE(bench.actions, 1);
        bench.waitFor([&] { return films.isReady(); }, "no film is seen");
        QCOMPARE(films.ink(), std::string("Alpha"));
        QVERIFY(bench.words("filmWords").contains(QStringLiteral("1 of 2: Alpha")));
        QVERIFY(bench.words("filmFacts").contains(QStringLiteral("positive, right-reading")));
        QVERIFY(!QDir(bench.path("two films")).exists()); // nothing is written where films go
        // Stepped by key; the focus is where a click on the button left it.
        QTest::keyClick(bench.window.focusWidget(), Qt::Key_Space);
        bench.waitFor([&] { return films.isReady() && films.ink() == "Beta"; }, "no next film");
        QTest::keyClick(&films, Qt::Key_Space, Qt::ShiftModifier);
        bench.waitFor([&] { return films.isReady() && films.ink() == "Alpha"; }, "no film before");

        // What is seen, one to one, is what a film file holds.
        OutputRequest request;
        request.folder = bench.path("written").toStdString();
        request.label.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
        const Manifest made = take(write_films(bench.window.session().opened(), request));
        const FilmImage film = take(read_film(request.folder / made.plates[0].file));
        films.zoomTo(1, QPointF(films.width() / 2.0, films.height() / 2.0));
        QCOMPARE(films.scale(), 1.0);
        const auto differing = [&] {
            const QImage seen = films.grab().toImage();
            const QPoint origin = films.origin().toPoint();
            int wrong = 0, looked = 0;
            for (int y = 60; y < seen.height(); y += 3) {
                for (int x = 0; x < seen.width(); x += 3) {
                    const int u = x - origin.x(), v = y - origin.y();
                    if (u < 0 || v < 0 || u >= film.bits.width || v >= film.bits.height) {
                        continue;
                    }
                    ++looked;
                    wrong += (qGray(seen.pixel(x, y)) < 128) != film.bits.at(u, v) ? 1 : 0;
                }
            }
            return looked < 1000 ? -1 : wrong;
        };
        bench.waitFor([&] { return differing() == 0; }, "the film on the table is not the film in the file");

        // A click reads the film like a densitometer: Alpha is solid, Beta a tint of 40 %.
        films.fit();
        const auto place = [&](double x) { // of the art's width, in its middle
            const QPointF left(made.plates[0].width * 0.5 - 3600 * (0.5 - x), made.plates[0].height * 0.5);
            return (films.origin() + left * films.scale()).toPoint();
        };
        QTest::mouseClick(&films, Qt::LeftButton, {}, place(0.25));
        bench.waitFor([&] { return bench.words("filmFacts").contains(QStringLiteral("solid")); },
                      "it is not read");
        QTest::keyClick(&films, Qt::Key_Space);
        bench.waitFor([&] { return films.isReady() && films.ink() == "Beta"; }, "no next film");
        QTest::mouseClick(&films, Qt::LeftButton, {}, place(0.75));
        bench.waitFor([&] { return bench.words("filmFacts").contains(QStringLiteral("lpi at")); },
                      "no dots are read");
        const auto read = QRegularExpression(QStringLiteral("([\\d.]+) % ink, ([\\d.]+) lpi"))
                              .match(bench.words("filmFacts"));
        QVERIFY2(read.hasMatch(), qPrintable(bench.words("filmFacts")));
        QVERIFY(std::fabs(read.captured(1).toDouble() - 40) < 1.5);
        QVERIFY(std::fabs(read.captured(2).toDouble() - 55) < 0.5);

        // Settings changed meanwhile are seen at once.
        bench.press("filmNegative");
        bench.waitFor(
            [&] { return films.isReady() && bench.words("filmFacts").contains(QStringLiteral("negative")); },
            "the negative is not seen");
        QTest::keyClick(&films, Qt::Key_Escape);
        QVERIFY(!films.isVisible());
    }

    void aFilmThatCannotBeSaysWhy()
    {
        Releasing bench;
        Job job = bench.job();
        job.film.sheet_width = job.film.sheet_height = 30;
        bench.window.session().change(job, QStringLiteral("small"));
        bench.press("seeFilms");
        FilmTable &films = bench.films();
        QTest::qWait(500);
        QVERIFY(films.isVisible() && !films.isReady());
        bench.chooseStage(Stage::Ink); // leaving the stage takes the films away
        QVERIFY(!films.isVisible());
    }

    void theTicketCountsWhatIsTyped()
    {
        Releasing bench;
        bench.press("panelTicket");
        bench.type("runPieces", "250");
        bench.type("runSpeed", "500");
        bench.type("runSetup", "10 min");
        QCOMPARE(bench.job().run.pieces, 250);
        QCOMPARE(bench.job().run.minutes_per_plate, 10.0);
        auto *plates = bench.find<QTreeWidget>(QStringLiteral("ticketPlates"));
        plates->topLevelItem(0)->setText(1, QStringLiteral("20"));
        plates->topLevelItem(0)->setText(2, QStringLiteral("soft blade"));
        QCOMPARE(bench.job().plates[0].printing.deposit, 20.0);
        QCOMPARE(bench.job().plates[0].printing.squeegee, std::string("soft blade"));
        plates->topLevelItem(1)->setText(1, QStringLiteral("much"));
        QCOMPARE(bench.job().plates[1].printing.deposit, 0.0);
        QVERIFY(bench.words("ticketResult").contains(QStringLiteral("is no amount of ink")));
        bench.answers.save_file = bench.path("ticket.json");
        bench.press("writeTicket");
        bench.waitFor([&] { return bench.words("ticketResult").contains(QStringLiteral("Written to")); },
                      "no ticket is written");
        QFile json(bench.path("ticket.json"));
        QVERIFY(json.open(QIODevice::ReadOnly));
        const QByteArray text = json.readAll();
        QVERIFY(text.contains("\"pieces\": 250") && text.contains("soft blade"));
        for (const char *name : {"proof.html", "proof.pdf", "proof.png"}) {
            bench.answers.save_file = bench.path(name);
            bench.press("writeProof");
            bench.waitFor([&] { return bench.words("ticketResult").contains(QLatin1String(name)); },
                          "no proof is written");
        }
        QVERIFY(!QImage(bench.path("proof.png")).isNull());
        (void)output_of(QStringLiteral("pdfinfo"), {bench.path("proof.pdf")});
        // The customer's own file is never written over.
        bench.answers.save_file = bench.path("two.pdf");
        bench.press("writeProof");
        QVERIFY(bench.words("ticketResult").contains(QStringLiteral("never changed")));
        QTest::keyClick(&bench.window, Qt::Key_Z, Qt::ControlModifier);
        QVERIFY(bench.job().plates[0].printing.squeegee.empty());
    }

    void theGateAsksForAReasonAndTheReleaseGoesToItsDevices()
    {
        Releasing bench;
        take(open_device(DeviceKind::Recorder, bench.path("recorder").toStdString()));
        bench.press("panelHandOver");
        auto *release = bench.find<QPushButton>(QStringLiteral("releaseJob"));
        Job job = bench.job();
        job.questions.push_back({"thin_line", 1, "", "May the line be thicker?"});
        bench.window.session().change(job, QStringLiteral("asked"));
        bench.waitFor([&] { return bench.words("gateWords").contains(QStringLiteral("not answered")); },
                      "the gate does not see the question");
        QVERIFY(!release->isEnabled());
        bench.answers.folder = bench.path("nowhere");
        bench.press("addDevice");
        QVERIFY(bench.words("releaseResult").contains(QStringLiteral("no device")));
        bench.answers.folder = bench.path("recorder");
        bench.press("addDevice");
        QCOMPARE(bench.find<QListWidget>(QStringLiteral("deviceList"))->count(), 1);
        bench.type("gateReason", "agreed on the telephone");
        bench.type("releaseFolder", bench.path("releases").toUtf8().constData());
        bench.waitFor([&] { return release->isEnabled(); }, "a reason does not open the gate");
        bench.press("releaseJob");
        bench.waitFor([&] { return bench.words("releaseResult").contains(QStringLiteral("Release 1")); },
                      "nothing is released");
        QVERIFY(bench.words("releaseResult").contains(QStringLiteral("2 files sent")));
        bench.waitFor([&] { return bench.words("lastRelease").contains(QStringLiteral("as it is")); },
                      "the last release is not told");
        QFile about(bench.path("releases/two/release-001/release.json"));
        QVERIFY(about.open(QIODevice::ReadOnly));
        QVERIFY(about.readAll().contains("agreed on the telephone"));
        // The recorder's window works them off.
        bench.press("openDevice");
        auto *window = bench.window.findChild<DeviceWindow *>(QStringLiteral("deviceWindow"));
        QVERIFY(window != nullptr);
        auto *events = window->findChild<QListWidget *>(QStringLiteral("deviceEvents"));
        QTRY_COMPARE_WITH_TIMEOUT(events->count(), 2, 30'000);
        QVERIFY(events->item(0)->text().contains(QStringLiteral("Exposed")));
        QTRY_VERIFY_WITH_TIMEOUT(
            !window->findChild<QLabel *>(QStringLiteral("devicePicture"))->pixmap().isNull(), 30'000);
        window->close();
    }

    void theJobGoesOntoOtherFilesAndTellsWhatDoesNotFit()
    {
        Releasing bench;
        MiniPdf other = spots_page("/A cs 1 scn 9 9 50 50 re f");
        other.resources = "/ColorSpace << " + separation("A", "Rust") + " >>";
        other.save(bench.path("other.pdf"));
        QFile broken(bench.path("broken.pdf"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("nothing");
        broken.close();
        bench.press("panelApply");
        bench.answers.open_files = {bench.path("other.pdf"), bench.path("broken.pdf"), bench.path("two.pdf")};
        bench.press("applyAdd");
        bench.type("applyFolder", bench.path("out").toUtf8().constData());
        auto *files = bench.find<QTreeWidget>(QStringLiteral("applyFiles"));
        QCOMPARE(files->topLevelItemCount(), 3);
        bench.press("applyRun");
        bench.waitFor([&] { return bench.words("applyResult").contains(QStringLiteral("1 failed")); },
                      "the files are not worked off");
        QVERIFY(files->topLevelItem(0)->text(0).contains(QStringLiteral("with exceptions")));
        QVERIFY(files->topLevelItem(0)->child(0)->text(0).contains(QStringLiteral("Rust")));
        QVERIFY(!files->topLevelItem(0)->icon(0).isNull());
        QVERIFY(files->topLevelItem(1)->text(0).contains(QStringLiteral("failed")));
        QVERIFY(files->topLevelItem(2)->text(0).contains(QStringLiteral("as the job")));
        QVERIFY(QFile::exists(bench.path("out/two/manifest.json")));
        // A watched folder brings its own.
        QVERIFY(QDir(bench.folder.path()).mkdir(QStringLiteral("hot")));
        bench.answers.folder = bench.path("hot");
        bench.press("applyWatch");
        QVERIFY(QFile::copy(bench.path("two.pdf"), bench.path("hot/three.pdf")));
        QTRY_VERIFY_WITH_TIMEOUT(QFile::exists(bench.path("out/three/manifest.json")), 30'000);
        bench.press("applyWatch");
    }
};

BICHROM_TEST(TestReleaseWindow, QApplication)
#include "tst_release_window.moc"
