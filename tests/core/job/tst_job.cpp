#include "core/job/change_slip.h"
#include "core/job/job_file.h"
#include "core/job/stocks.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QJsonDocument>
#include <QJsonObject>
#include <QtTest>

#include <set>

#include <cmath>
#include <csignal>
#include <sys/resource.h>
#include <zip.h>

using namespace bichrom;
using namespace bichrom::test;

namespace {

OpenedJob some_job()
{
    OpenedJob opened = spots_page("/N cs 0.4 0.8 scn 0 0 72 72 re f 0 0 0 1 k 0 0 5 5 re f").job();
    opened.job.name = "Nächtlich";
    opened.job.plates[1].screen = {Lpi(61.25), Degrees(-12.5), DotShape::Ellipse};
    opened.job.film = {Dpi(2540), FilmFormat::Pdf, PageBox::Trim, false, true, true};
    return opened;
}

} // namespace

class TestJob : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void whatIsSavedIsOpenedAgain()
    {
        QTemporaryDir folder;
        const OpenedJob before = some_job();
        const auto path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        QVERIFY(save_job(path, before.job, *before.artwork));
        const OpenedJob after = take(open_job(path));
        QVERIFY(after.job == before.job);
        QCOMPARE(after.artwork->sha256(), before.artwork->sha256());
        QVERIFY(after.warnings.empty());
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
    }

    void theFileIsAnOrdinaryZip()
    {
        QTemporaryDir folder;
        const OpenedJob job = some_job();
        const auto path = folder.filePath(QStringLiteral("a.bichrom"));
        QVERIFY(save_job(path.toStdString(), job.job, *job.artwork));
        QProcess unzip;
        unzip.start(
            QStringLiteral("python3"),
            {QStringLiteral("-c"),
             QStringLiteral(
                 "import sys,zipfile,json; z=zipfile.ZipFile(sys.argv[1]); "
                 "print(sorted(z.namelist()), json.loads(z.read('job.json'))['version'], z.testzip())"),
             path});
        QVERIFY(unzip.waitForFinished());
        QCOMPARE(QString::fromUtf8(unzip.readAllStandardOutput()).trimmed(),
                 QStringLiteral("['artwork/original.pdf', 'job.json'] 13 None"));
    }

    void aFailedSaveKeepsTheOldJob()
    {
        QTemporaryDir folder;
        const OpenedJob job = some_job();
        const auto path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        QVERIFY(save_job(path, job.job, *job.artwork));
        const auto big = take(open_job_or_artwork(demo_file().toStdString()));
        std::signal(SIGXFSZ, SIG_IGN);
        rlimit before{};
        getrlimit(RLIMIT_FSIZE, &before);
        rlimit small = before;
        small.rlim_cur = 20'000;
        setrlimit(RLIMIT_FSIZE, &small);
        const Done done = save_job(path, big.job, *big.artwork);
        setrlimit(RLIMIT_FSIZE, &before);
        QVERIFY(!done);
        QCOMPARE(done.error().code, ErrorCode::DiskFull);
        QVERIFY(take(open_job(path)).job == job.job);
        QCOMPARE(QDir(folder.path()).entryList(QDir::Files | QDir::Hidden).size(), 1);
    }

    void everyDecisionIsKept()
    {
        OpenedJob job = some_job();
        job.job.stock = {"Kraft", {64, 9, 24}, true};
        job.job.pins = {{1.5, 2.25, 0, 0}, {3, 4, 5, 6}};
        job.job.questions = {{"thin_line", 1, "Beta", "May this line be heavier?"}};
        job.job.accepted = {{"overprint", 1, "", "as wanted"}};
        job.job.change_states = {{key_of(job.job.questions[0]), ChangeState::Agreed}};
        job.job.rules = "{\"name\":\"Own\"}";
        job.job.colours.convert_cmyk = true;
        job.job.colours.rendering = {RenderingIntent::Perceptual, false};
        job.job.assumed_ppi = 150;
        job.job.areas = {{AreaKind::Fold, "spine", {1, 2, 0, 40.5}, 0},
                         {AreaKind::Platen, "", {0, 0, 9, 9}, 2}};
        job.job.film.around_art = true;
        Route similar;
        similar.by = RouteBy::Similar;
        similar.colour = {"DeviceCMYK", "", {"Cyan", "Magenta", "Yellow", "Black"}, {0.8f, 0.1f, 1, 0}};
        similar.appearance = {50.25, -40, 30};
        similar.tolerance = 2.5;
        similar.measure = ColourMeasure::Colourants;
        RouteTarget target{"Beta", true, 0.35, take(ToneCurve::through({{0, 0.1}, {0.5, 0.2}, {1, 1}}))};
        similar.targets = {target, {"Alpha", false, 1, {}}};
        Route objects;
        objects.by = RouteBy::Objects;
        objects.objects = {{1, 7, ObjectKind::Image, {1, 2, 3.5, 4}}};
        objects =
            with_split(objects, {{{{250, 250, 1}, "", 1}, {{40, 12, 60}, "Alpha", 0.5}}, 0.1, 12, true});
        Route ink;
        ink.by = RouteBy::Ink;
        ink.name = "Alpha";
        ink.to = RouteTo::Process;
        ink.black = {BlackAmount::Heavy, 2.8};
        Route separated = objects;
        separated.split = {};
        separated.separated = true;
        separated.ink_limit = 2.4;
        separated.dots = {0.17, false};
        separated.targets.front().control = {1.25, {350, 40}, {"Ink that is not there"}};
        job.job.meant_angles = {{"Alpha", "Beta"}};
        separated.objects[0].index = 9;
        job.job.routes = {objects, separated, similar, ink};
        job.job.plates.front().kind = InkUse::White;
        InkTraits &traits = job.job.plates.front().traits;
        traits.opacity = 0.7;
        traits.gain = take(ToneCurve::through({{0, 0}, {0.5, 0.66}, {1, 1}}));
        traits.shown_as = Lab{70, 10, -20};
        traits.density = 0.25;
        traits.reflectance = Spectrum{};
        traits.reflectance->fill(0.8);
        const Job back = take(job_from_json(job_to_json(job.job, *job.artwork), "x"));
        QVERIFY(back == job.job);
        const auto changes = list_changes(back);
        QCOMPARE(changes.back().what, std::string("May this line be heavier?"));
        QCOMPARE(changes.back().state, ChangeState::Agreed);
    }

    void jobsOfVersionOneAreRead()
    {
        const OpenedJob job = some_job();
        std::string text = job_to_json(job.job, *job.artwork);
        // What version 1 did not know is taken away.
        for (const char *key :
             {"rules", "accepted", "questions", "change_states", "stock", "pins", "reading", "routes"}) {
            QJsonObject root = QJsonDocument::fromJson(QByteArray::fromStdString(text)).object();
            root.remove(QString::fromLatin1(key));
            root[QStringLiteral("version")] = 1;
            text = QJsonDocument(root).toJson().toStdString();
        }
        QVERIFY(take(job_from_json(text, "old.bichrom")) == job.job);
    }

    void damagedRoutesAreRefused_data()
    {
        QTest::addColumn<QString>("key");
        QTest::addColumn<QJsonValue>("value");
        QTest::newRow("an unknown kind") << "by" << QJsonValue(QStringLiteral("moon"));
        QTest::newRow("an unknown end") << "to" << QJsonValue(QStringLiteral("mars"));
        QTest::newRow("targets that are no list of plates")
            << "targets" << QJsonValue(QJsonArray{QJsonValue(7)});
        QTest::newRow("objects of no kind")
            << "objects" << QJsonValue(QJsonArray{QJsonObject{{QStringLiteral("page"), 1}}});
        const auto split = [](double tolerance, int despeckle, int colours) {
            QJsonArray list;
            for (int i = 0; i < colours; ++i) {
                list.append(QJsonObject{{QStringLiteral("rgb"), QJsonArray{i, 0, 0}},
                                        {QStringLiteral("ink"), QString()},
                                        {QStringLiteral("tint"), 1}});
            }
            return QJsonValue(QJsonObject{{QStringLiteral("colours"), list},
                                          {QStringLiteral("tolerance"), tolerance},
                                          {QStringLiteral("despeckle"), despeckle},
                                          {QStringLiteral("outlines"), false}});
        };
        QTest::newRow("an ink limit beyond all inks") << "ink_limit" << QJsonValue(40);
        QTest::newRow("a tolerance beyond white") << "split" << split(1.5, 0, 2);
        QTest::newRow("negative specks") << "split" << split(0.1, -1, 2);
        QTest::newRow("more colours than can be told apart") << "split" << split(0.1, 0, 65);
    }
    void damagedRoutesAreRefused()
    {
        QFETCH(QString, key);
        QFETCH(QJsonValue, value);
        OpenedJob job = some_job();
        Route route;
        route.by = RouteBy::Objects;
        route.objects = {{1, 0, ObjectKind::Fill, {}}};
        route.targets = {{"Alpha", true, 0.5, {}}};
        job.job.routes = {route};
        QJsonObject root =
            QJsonDocument::fromJson(QByteArray::fromStdString(job_to_json(job.job, *job.artwork))).object();
        QVERIFY(job_from_json(QJsonDocument(root).toJson().toStdString(), "x"));
        QJsonArray routes = root[QStringLiteral("routes")].toArray();
        QJsonObject changed = routes[0].toObject();
        changed[key] = value;
        routes[0] = changed;
        root[QStringLiteral("routes")] = routes;
        const auto read = job_from_json(QJsonDocument(root).toJson().toStdString(), "x.bichrom");
        QVERIFY(!read);
        QCOMPARE(read.error().code, ErrorCode::WrongFormat);
        QCOMPARE(read.error().place, std::string("x.bichrom"));
    }

    void aJobHasOnePlateAnInk()
    {
        OpenedJob job = spots_page("/A cs 1 scn 0 0 9 9 re f").job();
        job.job.removed = {"Beta"};
        QCOMPARE(take(job_from_json(job_to_json(job.job, *job.artwork), "x")).removed, job.job.removed);
        job.job.plates.push_back(job.job.plates.front());
        const auto twice = job_from_json(job_to_json(job.job, *job.artwork), "x.bichrom");
        QVERIFY(!twice && twice.error().code == ErrorCode::WrongFormat);
        QVERIFY(twice.error().reason.find("Alpha") != std::string::npos);
    }

    void damagedJobsSayWhy_data()
    {
        QTest::addColumn<QByteArray>("json");
        QTest::addColumn<int>("code");
        QTest::newRow("no JSON") << QByteArray("{{{") << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("something else")
            << QByteArray("{\"format\":\"x\"}") << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("half of it") << QByteArray("{\"format\":\"bichrom job\",\"version\":1}")
                                    << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("wrong types") << QByteArray("{\"format\":\"bichrom job\",\"version\":1,\"name\":7}")
                                     << static_cast<int>(ErrorCode::WrongFormat);
        QTest::newRow("from the future") << QByteArray("{\"format\":\"bichrom job\",\"version\":99}")
                                         << static_cast<int>(ErrorCode::NewerVersion);
    }
    void damagedJobsSayWhy()
    {
        QFETCH(QByteArray, json);
        QFETCH(int, code);
        const auto job = job_from_json(json.toStdString(), "old.bichrom");
        QVERIFY(!job);
        QCOMPARE(static_cast<int>(job.error().code), code);
        QCOMPARE(job.error().place, std::string("old.bichrom"));
    }

    void aFileThatIsNoZipIsRefused()
    {
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("a.bichrom"));
        QFile file(path);
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write("not a zip");
        file.close();
        const auto job = open_job(path.toStdString());
        QVERIFY(!job);
        QCOMPARE(job.error().code, ErrorCode::WrongFormat);
    }

    void proposedAnglesKeepApart()
    {
        // 15° at least between any two of up to six plates (common practice, no source).
        Scene scene;
        for (const char *name : {"One", "Two", "Three", "Four"}) {
            scene.inks.push_back({name, InkKind::Spot, {}, 1});
        }
        for (const bool black : {false, true}) {
            if (black) {
                scene.inks.pop_back();
                scene.inks.insert(scene.inks.begin(), {"Black", InkKind::Process, {}, 1});
            }
            const Job job = propose_job(scene, {});
            for (std::size_t i = 0; i < job.plates.size(); ++i) {
                for (std::size_t k = i + 1; k < job.plates.size(); ++k) {
                    const double apart = std::fabs(std::remainder(
                        job.plates[i].screen.angle.value - job.plates[k].screen.angle.value, 90.0));
                    QVERIFY2(apart >= 15.0 - 1e-9, qPrintable(QStringLiteral("%1 and %2").arg(i).arg(k)));
                }
            }
        }
    }

    void badSettingsNameTheInk()
    {
        Job job = some_job().job;
        job.plates[2].screen.ruling = Lpi(2000);
        const Done good = check_job(job);
        QVERIFY(!good);
        QCOMPARE(good.error().place, job.plates[2].ink);
        job.film.resolution = Dpi(10);
        QVERIFY(!check_job(job));
    }

    void platesOfOneTinLookAlike()
    {
        Job job;
        job.plates = {propose_plate({}, "Base", InkUse::White, {96, 0, 0}),
                      propose_plate({}, "High", InkUse::Spot, {10, 0, 0}),
                      propose_plate({}, "Lost", InkUse::Spot, {20, 0, 0})};
        job.plates[0].traits.opacity = 0.7;
        job.plates[1].tin = "Base";
        job.plates[2].tin = "Gone";
        job.share_tins();
        QCOMPARE(job.plates[1].kind, InkUse::White);
        QVERIFY((job.plates[1].solid == Lab{96, 0, 0}));
        QCOMPARE(job.plates[1].traits.opacity, 0.7);
        QVERIFY(job.plates[2].tin.empty()); // unknown: a tin of its own
        QCOMPARE(job.tins(), 2);
        job.plates[0].tin = "High"; // a ring: the first that is looked at lets go
        job.share_tins();
        QVERIFY(job.plates[0].tin.empty() != job.plates[1].tin.empty());
    }

    void shippedStocksAreUsable()
    {
        std::set<std::string> ids;
        for (const ShippedStock &one : shipped_stocks()) {
            QVERIFY(ids.insert(one.id).second && one.id.find(' ') == std::string::npos);
            QVERIFY(!one.stock.name.empty() && one.stock.colour.l > 0 && one.stock.colour.l <= 100);
            QVERIFY(one.stock.clear || !one.stock.behind);
        }
        for (const char *id :
             {"Black", "Navy", "Heather", "Kraft", "Clear", "Silver", "Uncoated", "Coated"}) {
            QVERIFY2(ids.count(id) == 1, id);
        }
    }

    void theDemoJobsOpen()
    {
        const QDir demo(QStringLiteral(BICHROM_SOURCE_DIR "/demo"));
        const QStringList jobs = demo.entryList({QStringLiteral("*.bichrom")});
        QCOMPARE(jobs.size(), 4);
        for (const QString &name : jobs) {
            const OpenedJob opened = take(open_job(demo.filePath(name).toStdString()));
            QVERIFY2(opened.warnings.empty(), qPrintable(name));
            QVERIFY(bool(check_job(opened.job)));
        }
    }
};

BICHROM_TEST(TestJob, QCoreApplication)
#include "tst_job.moc"
