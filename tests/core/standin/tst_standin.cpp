// The simulated devices: what they take, refuse, and how they fail.
#include "core/output/compose.h"
#include "core/output/output_set.h"
#include "core/standin/cut_path.h"
#include "core/standin/devices.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"
#include "support/tiff_reader.h"

#include <QColor>
#include <QImage>
#include <QtTest>

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

struct Place
{
    QTemporaryDir folder;
    [[nodiscard]] std::filesystem::path path() const { return folder.path().toStdString(); }
    [[nodiscard]] QString file(const char *name) const { return folder.filePath(QLatin1String(name)); }
    [[nodiscard]] DeviceFolder open(DeviceKind kind) const { return take(open_device(kind, path())); }
    [[nodiscard]] std::vector<DeviceEvent> run(DeviceKind kind) const
    {
        DeviceFolder device = open(kind);
        return take(run_device(kind, device));
    }
    void set(DeviceKind kind, const char *key, const nlohmann::json &value) const
    {
        DeviceFolder device = open(kind);
        device.state()[key] = value;
        QVERIFY(device.save());
    }
};

/// One film of 72 × 36 pt without marks, at \p dpi, into \p folder.
void film_into(const QString &folder, double dpi, const char *name = "moth")
{
    MiniPdf pdf = spots_page("/A cs 1 scn 0 0 36 36 re f");
    pdf.height = 36;
    OpenedJob opened = pdf.job();
    opened.job.name = name;
    opened.job.film.resolution = Dpi(dpi);
    opened.job.film.marks = false;
    OutputRequest request;
    QTemporaryDir made;
    request.folder = made.path().toStdString();
    const Manifest manifest = take(write_films(opened, request));
    const QString file = QString::fromStdString(manifest.plates[0].file);
    QVERIFY(QFile::copy(made.filePath(file), folder + QLatin1Char('/') + file));
}

using Kind = DeviceEvent::Kind;

} // namespace

class TestStandin : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theRecorderExposesOntoItsRoll()
    {
        const Place place;
        place.set(DeviceKind::Recorder, "dpi", 600);
        film_into(place.folder.path(), 600, "a");
        film_into(place.folder.path(), 600, "b");
        const auto events = place.run(DeviceKind::Recorder);
        QCOMPARE(events.size(), std::size_t(2));
        QCOMPARE(int(events[0].kind), int(Kind::Taken));
        const DeviceFolder device = place.open(DeviceKind::Recorder);
        // Two films 12.7 mm long and a gap of 10 mm each.
        QVERIFY(std::fabs(device.number("used_mm", 0) - 45.4) < 0.01);
        QVERIFY(std::fabs(device.number("roll_left_mm", 0) - (30000 - 45.4)) < 0.01);
        QCOMPARE(device.state().at("exposed").size(), std::size_t(2));
        QVERIFY(QFile::exists(place.file("done/a-p1-1-Alpha.tif")));
        const QImage roll(place.file("roll.png"));
        QCOMPARE(roll.height(), 610);
        QCOMPARE(roll.width(), 45);
        // The film's left half is ink; its length lies along the roll, its left edge at the far side.
        QVERIFY(qGray(roll.pixel(5, 20)) < 60);
        QVERIFY(qGray(roll.pixel(5, 4)) > 240);
        QVERIFY(place.run(DeviceKind::Recorder).empty()); // nothing is exposed twice
    }

    void theRecorderRefusesWithReasons()
    {
        const Place place;
        place.set(DeviceKind::Recorder, "dpi", 600);
        film_into(place.folder.path(), 300, "coarse");
        QFile text(place.file("letter.txt"));
        QVERIFY(text.open(QIODevice::WriteOnly));
        text.close();
        QFile broken(place.file("broken.tif"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("II*");
        broken.close();
        QVERIFY(QImage(4, 4, QImage::Format_RGB32).save(place.file("grey.tif"), "TIFF") || true);
        for (const DeviceEvent &event : place.run(DeviceKind::Recorder)) {
            QCOMPARE(int(event.kind), int(Kind::Refused));
            QFile reason(place.file("refused/") + QString::fromStdString(event.file) +
                         QStringLiteral(".txt"));
            QVERIFY2(reason.open(QIODevice::ReadOnly), event.file.c_str());
            QVERIFY(reason.readAll().size() > 20);
        }
        place.set(DeviceKind::Recorder, "dpi", 0);
        place.set(DeviceKind::Recorder, "roll_mm", 12);
        film_into(place.folder.path(), 600, "wide");
        QVERIFY(place.run(DeviceKind::Recorder).front().words.find("the roll is 12 mm wide") !=
                std::string::npos);
    }

    void failuresLoseNothing()
    {
        const Place place;
        film_into(place.folder.path(), 600, "a");
        film_into(place.folder.path(), 600, "b");
        const QString first = place.file("a-p1-1-Alpha.tif");
        place.set(DeviceKind::Recorder, "offline", true);
        for (const DeviceEvent &event : place.run(DeviceKind::Recorder)) {
            QCOMPARE(int(event.kind), int(Kind::Waiting));
        }
        QVERIFY(QFile::exists(first));
        place.set(DeviceKind::Recorder, "offline", false);
        place.set(DeviceKind::Recorder, "roll_left_mm", 5);
        QVERIFY(place.run(DeviceKind::Recorder).front().words.find("Out of film") != std::string::npos);
        place.set(DeviceKind::Recorder, "roll_left_mm", 1000);
        place.set(DeviceKind::Recorder, "jam", true);
        auto events = place.run(DeviceKind::Recorder);
        QCOMPARE(events.size(), std::size_t(2));
        QVERIFY(events[0].words.find("half way") != std::string::npos);
        QCOMPARE(int(events[1].kind), int(Kind::Waiting));
        const double lost = place.open(DeviceKind::Recorder).number("used_mm", 0);
        QVERIFY(std::fabs(lost - (12.7 / 2 + 10)) < 0.01);
        QCOMPARE(place.run(DeviceKind::Recorder).size(), std::size_t(2)); // still jammed
        place.set(DeviceKind::Recorder, "jammed", false);
        events = place.run(DeviceKind::Recorder);
        QCOMPARE(int(events[0].kind), int(Kind::Taken));
        QCOMPARE(int(events[1].kind), int(Kind::Taken));
        QVERIFY(std::fabs(place.open(DeviceKind::Recorder).number("used_mm", 0) - lost - 45.4) < 0.01);
    }

    void settingsAreGivenAsText_data()
    {
        QTest::addColumn<QByteArray>("name");
        QTest::addColumn<QByteArray>("value");
        QTest::addColumn<QByteArray>("kept"); // as JSON; empty = refused
        QTest::newRow("a number") << QByteArray("dpi") << QByteArray("2400") << QByteArray("2400.0");
        QTest::newRow("no number") << QByteArray("dpi") << QByteArray("many") << QByteArray();
        QTest::newRow("yes") << QByteArray("offline") << QByteArray("yes") << QByteArray("true");
        QTest::newRow("off") << QByteArray("offline") << QByteArray("off") << QByteArray("false");
        QTest::newRow("neither yes nor no") << QByteArray("offline") << QByteArray("maybe") << QByteArray();
        QTest::newRow("what it is stays") << QByteArray("device") << QByteArray("press") << QByteArray();
        QTest::newRow("its history stays") << QByteArray("exposed") << QByteArray("x") << QByteArray();
        QTest::newRow("nothing known") << QByteArray("colour") << QByteArray("red") << QByteArray();
    }

    void settingsAreGivenAsText()
    {
        QFETCH(QByteArray, name);
        QFETCH(QByteArray, value);
        QFETCH(QByteArray, kept);
        const Place place;
        DeviceFolder device = place.open(DeviceKind::Recorder);
        const nlohmann::json before = device.state();
        const Done done = device.set(name.toStdString(), value.toStdString());
        QCOMPARE(done.ok(), !kept.isEmpty());
        if (done) {
            QCOMPARE(device.state().at(name.toStdString()).dump(), kept.toStdString());
        } else {
            QCOMPARE(done.error().code, ErrorCode::OutOfRange);
            QVERIFY(device.state() == before);
        }
    }

    void aFolderBelongsToOneDevice()
    {
        const Place place;
        (void)place.open(DeviceKind::Press);
        QCOMPARE(open_device(DeviceKind::Cutter, place.path()).error().code, ErrorCode::WrongFormat);
        QFile state(place.file("device.json"));
        QVERIFY(state.open(QIODevice::WriteOnly));
        state.write("{ no JSON");
        state.close();
        QCOMPARE(open_device(DeviceKind::Press, place.path()).error().code, ErrorCode::CannotRead);
    }

    /// White under magenta on black stock; the same with the ink's name a letter off.
    void thePressKnowsItsInksToTheLetter()
    {
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("W", "Snow", "0 0 0 0.3") +
                        " >> /ExtGState << /OP << /OP true /op true /OPM 1 >> >>";
        pdf.contents = "/W cs 1 scn 0 0 36 72 re f /OP gs 0 1 0 0 k 0 0 36 36 re f";
        const auto printed = [&](const char *under, bool twice, std::string *words) {
            const Place place;
            pdf.save(place.file("page.pdf"));
            place.set(DeviceKind::Press, "under", under);
            place.set(DeviceKind::Press, "double_hit", twice);
            place.set(DeviceKind::Press, "stock", "Black");
            const auto events = place.run(DeviceKind::Press);
            if (events.size() != 1 || events[0].kind != Kind::Taken) {
                qFatal("%s", events.empty() ? "nothing" : events[0].words.c_str());
            }
            *words = events[0].words;
            return QImage(place.file("printed/page-p1.png"));
        };
        std::string right, off, twice;
        const QImage good = printed("Snow", false, &right), bad = printed("snow", false, &off),
                     dense = printed("Snow", true, &twice);
        QCOMPARE(good.size(), QSize(150, 150));
        QCOMPARE(right.find("stand-in colour"), std::string::npos);
        QVERIFY(off.find("No station holds 'Snow'") != std::string::npos);
        const auto lightness = [](const QImage &image, int x, int y) {
            const QColor c = image.pixelColor(x, y);
            return (c.red() + c.green() + c.blue()) / 3;
        };
        QVERIFY(lightness(good, 30, 30) > 150);                                          // white on black
        QVERIFY(lightness(dense, 30, 30) > lightness(good, 30, 30));                     // denser twice
        QVERIFY(good.pixelColor(30, 120).red() > good.pixelColor(30, 120).green() + 60); // magenta over it
        QVERIFY(lightness(bad, 30, 30) < 80); // a grey build on black
    }

    /// Copper loaded over lies on black; loaded under it lies below and is covered by it.
    void stationsPrintUnderAndOver()
    {
        MiniPdf pdf;
        pdf.resources = "/ColorSpace << " + separation("C", "Copper", "0 0.5 0.8 0.3") +
                        " >> /ExtGState << /OP << /OP true /op true /OPM 1 >> >>";
        pdf.contents = "0 0 0 1 k 0 0 72 72 re f /OP gs /C cs 1 scn 0 0 72 72 re f";
        const auto printed = [&](const char *station) {
            const Place place;
            pdf.save(place.file("page.pdf"));
            place.set(DeviceKind::Press, "under", "");
            place.set(DeviceKind::Press, station, "Copper");
            place.set(DeviceKind::Press, (std::string(station) + "_kind").c_str(), "copper");
            const auto events = place.run(DeviceKind::Press);
            if (events.size() != 1 || events[0].words.find("stand-in") != std::string::npos) {
                qFatal("%s", events.empty() ? "nothing" : events[0].words.c_str());
            }
            return QImage(place.file("printed/page-p1.png")).pixelColor(70, 70);
        };
        const QColor over = printed("over"), under = printed("under");
        QVERIFY(over.red() > under.red() + 30);
        QVERIFY(over.red() > over.blue() + 20); // copper, not grey
    }

    /// What is loaded and not asked for is told; a file that is no PDF is refused with the reason.
    void thePressTellsWhatDoesNotFit()
    {
        const Place place;
        spots_page("0 1 1 0 k 0 0 72 72 re f").save(place.file("plain.pdf"));
        QFile broken(place.file("broken.pdf"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("%PDF-1.4 nothing more");
        broken.close();
        place.set(DeviceKind::Press, "pages", "7");
        for (const DeviceEvent &event : place.run(DeviceKind::Press)) {
            QCOMPARE(int(event.kind), int(Kind::Refused));
        }
        spots_page("0 1 1 0 k 0 0 72 72 re f").save(place.file("again.pdf"));
        place.set(DeviceKind::Press, "pages", "all");
        const auto events = place.run(DeviceKind::Press);
        QVERIFY(events.front().words.find("Nothing of it is in White, which is loaded") != std::string::npos);
    }

    void thePressPrintsChosenPages()
    {
        const Place place;
        MiniPdf pdf = spots_page("0 1 1 0 k 0 0 72 72 re f");
        pdf.more_pages = {"1 0 0 0 k 0 0 72 72 re f", "0 0 1 0 k 0 0 72 72 re f"};
        pdf.save(place.file("book.pdf"));
        place.set(DeviceKind::Press, "pages", "2-3");
        QVERIFY(place.run(DeviceKind::Press).front().words.find("2 pages") == 0);
        QVERIFY(!QFile::exists(place.file("printed/book-p1.png")));
        QVERIFY(QFile::exists(place.file("printed/book-p3.png")));
    }

    /// A rectangle of 40 × 20 mm and a circle of radius 10 mm (its circumference from π), one open line.
    void theCutterTellsLengthAndPieces()
    {
        const double mm = 72 / 25.4, k = 0.5522847498 * 10; // of a circle by four curves
        QString path = QStringLiteral("%1 0 0 %1 0 0 cm /X CS 1 SCN 0.1 w 5 5 40 20 re S ").arg(mm);
        path += QStringLiteral("70 20 m 70 %1 %2 30 60 30 c %3 30 50 %1 50 20 c 50 %4 %3 10 60 10 c %2 10 70 "
                               "%4 70 20 c h S ")
                    .arg(20 + k)
                    .arg(60 + k)
                    .arg(60 - k)
                    .arg(20 - k);
        path += QStringLiteral("5 40 m 35 40 l S");
        MiniPdf pdf;
        pdf.width = 220;
        pdf.height = 160;
        pdf.resources = "/ColorSpace << " + separation("X", "Cut") + " >>";
        pdf.contents = path.toStdString();
        const Place place;
        pdf.save(place.file("label.pdf"));
        const auto events = place.run(DeviceKind::Cutter);
        QCOMPARE(int(events.front().kind), int(Kind::Taken));
        double length = 0;
        int pieces = 0, open = 0;
        QCOMPARE(std::sscanf(events.front().words.c_str(), "%lf mm in %d pieces, %d of them not closed.",
                             &length, &pieces, &open),
                 3);
        QVERIFY2(std::fabs(length - (120 + 20 * std::numbers::pi + 30)) < 0.1, events.front().words.c_str());
        QCOMPARE(pieces, 3);
        QCOMPARE(open, 1);
        QVERIFY(!QImage(place.file("cut/label-p1.png")).isNull());
    }

    void theCutterRefusesWhatNoKnifeFollows()
    {
        const auto refusal = [](const std::string &resources, const std::string &contents) {
            MiniPdf pdf;
            pdf.resources = resources;
            pdf.contents = contents;
            const Place place;
            pdf.save(place.file("x.pdf"));
            const auto events = place.run(DeviceKind::Cutter);
            return events.front().kind == Kind::Refused ? events.front().words : std::string("taken");
        };
        const std::string spots = "/ColorSpace << " + separation("X", "Cut") + separation("Y", "cut") + " >>";
        QVERIFY(refusal(spots, "/Y CS 1 SCN 9 9 20 20 re S").find("'cut'") != std::string::npos);
        QVERIFY(refusal(spots,
                        "/X cs 1 scn q 40 0 0 40 9 9 cm BI /W 2 /H 2 /BPC 8 /CS /X ID \xff\x01\xff\x01 EI Q")
                    .find("pixels") != std::string::npos);
        QCOMPARE(refusal(spots, "/X CS 1 SCN 9 9 20 20 re S"), std::string("taken"));
    }

    /// A computed cut line, through the composed PDF, is what the cutter follows.
    void aComposedCutLineIsCut()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 20 20 100 60 re f");
        pdf.width = pdf.height = 144;
        OpenedJob opened = pdf.job();
        Plate cut = propose_plate(opened.job.plates, "Cut", InkUse::Technical, {50, 50, 0});
        RecipeStep outline;
        outline.does = RecipeDo::Outline;
        outline.distance = 0.1;
        cut.recipe = {RecipeStep{}, outline};
        opened.job.plates.push_back(cut);
        const Place place;
        (void)take(compose_pdf(opened, place.file("job.pdf").toStdString()));
        const auto events = place.run(DeviceKind::Cutter);
        double length = 0;
        int pieces = 0;
        QVERIFY2(std::sscanf(events.front().words.c_str(), "%lf mm in %d piece", &length, &pieces) == 2,
                 events.front().words.c_str());
        QCOMPARE(pieces, 1);
        QVERIFY(std::fabs(length - 320 * 25.4 / 72) < 0.2);
    }
};

BICHROM_TEST(TestStandin, QCoreApplication)
#include "tst_standin.moc"
