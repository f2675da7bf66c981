#include "core/job/job_file.h"

#include "core/job/change_slip.h"
#include "core/job/own_tile.h"
#include "core/line/plate_line.h"
#include "core/output/output_set.h"
#include "core/preflight/preflight.h"
#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <nlohmann/json.hpp>

using namespace bichrom;
using namespace bichrom::test;
using nlohmann::json;

namespace {

QString demo(const char *name)
{
    return QStringLiteral(BICHROM_SOURCE_DIR "/demo/") + QString::fromLatin1(name);
}

/// What somebody, or a broken disk, may have put in place of a value.
const std::vector<json> &wrong_values()
{
    static const std::vector<json> values = {nullptr,
                                             true,
                                             -1,
                                             0,
                                             1e9,
                                             1e300,
                                             -1e300,
                                             2147483648LL,
                                             9223372036854775807LL,
                                             "",
                                             "\xC3\x28 no UTF-8",
                                             std::string(5000, 'm'),
                                             json::array(),
                                             json::array({1, 2, 3}),
                                             json::object()};
    return values;
}

/// Every place of \p tree.
void places_of(const json &tree, const json::json_pointer &here, std::vector<json::json_pointer> &all)
{
    all.push_back(here);
    if (tree.is_object()) {
        for (const auto &[key, value] : tree.items()) {
            places_of(value, here / key, all);
        }
    } else if (tree.is_array()) {
        for (std::size_t i = 0; i < std::min<std::size_t>(tree.size(), 3); ++i) { // the others are like them
            places_of(tree[i], here / i, all);
        }
    }
}

std::string text_of(const json &tree)
{
    return tree.dump(-1, ' ', false, json::error_handler_t::replace);
}

/// A job that uses what there is.
Job with_everything(Job job)
{
    job.traps.on = true;
    job.film.columns = 2;
    job.film.across = 1.02;
    std::vector<std::uint16_t> values(64);
    for (std::size_t i = 0; i < values.size(); ++i) {
        values[i] = static_cast<std::uint16_t>(i * 37 % 64);
    }
    job.plates[0].screen.kind = ScreenKind::Tile;
    job.plates[0].screen.tile = take(OwnTile::ranked("grain", 8, 8, values));
    job.plates[0].press.printed = take(ToneCurve::through({{0, 0}, {0.5, 0.7}, {1, 1}}));
    return job;
}

} // namespace

/// Jobs travel by mail and on sticks: whatever their text says, opening them is a job or an error in words,
/// and a job that opens can be looked at, checked and filmed, or says why not.
class TestDamagedJobs : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void anyValueThatIsWrongIsAnErrorOrAJob_data()
    {
        QTest::addColumn<QString>("path");
        for (const char *name :
             {"night-tote.bichrom", "trail-card.bichrom", "trail-token.bichrom", "handbill.bichrom"}) {
            QTest::newRow(name) << demo(name);
        }
    }
    void anyValueThatIsWrongIsAnErrorOrAJob()
    {
        QFETCH(QString, path);
        const OpenedJob opened = take(open_job(path.toStdString()));
        const Job whole = with_everything(opened.job);
        const json good = json::parse(job_to_json(whole, *opened.artwork));
        QCOMPARE(job_to_json(take(job_from_json(text_of(good), "job")), *opened.artwork),
                 job_to_json(whole, *opened.artwork));
        std::vector<json::json_pointer> places;
        places_of(good, json::json_pointer(), places);
        int refused = 0, taken = 0;
        std::size_t turn = 0;
        std::vector<Job> odd;
        const auto try_it = [&](const json &tree, const std::string &what) {
            const auto read = job_from_json(text_of(tree), "job");
            if (!read) {
                ++refused;
                QVERIFY2(!read.error().reason.empty(), what.c_str());
                return;
            }
            ++taken;
            // What was read once is written and read again as it is.
            const auto again = job_from_json(job_to_json(*read, *opened.artwork), "job");
            QVERIFY2(again, what.c_str());
            QVERIFY2(job_to_json(*again, *opened.artwork) == job_to_json(*read, *opened.artwork),
                     what.c_str());
            (void)list_changes(*read);
            if (taken % 60 == 0) {
                odd.push_back(*read);
            }
        };
        for (const auto &place : places) {
            for (int i = 0; i < 5; ++i, ++turn) { // all of them come round
                json tree = good;
                tree[place] = wrong_values()[turn % wrong_values().size()];
                try_it(tree, place.to_string() + " " + std::to_string(turn % wrong_values().size()));
            }
            if (!place.empty()) {
                json tree = good;
                json &parent = tree[place.parent_pointer()];
                if (parent.is_object()) {
                    parent.erase(place.back());
                } else {
                    parent.erase(std::stoul(place.back()));
                }
                try_it(tree, place.to_string() + " taken away");
            }
        }
        QVERIFY(refused > taken / 20);
        QVERIFY(taken > 0);
        // Some of what was taken is gone through to the film.
        QTemporaryDir folder;
        int filmed = 0;
        for (const Job &job : odd) {
            OpenedJob strange{job, opened.artwork, {}, nullptr};
            strange.job.film.resolution = Dpi(std::min(strange.job.film.resolution.value, 300.0));
            strange.job.film.columns = std::min(strange.job.film.columns, 2);
            strange.job.film.rows = std::min(strange.job.film.rows, 2);
            (void)findings_of(*opened.artwork, strange.job, take(rules_of(opened.job)), {});
            OutputRequest request;
            request.folder = folder.filePath(QString::number(filmed)).toStdString();
            if (const auto films = write_films(strange, request); films) {
                ++filmed;
            } else {
                QVERIFY(!films.error().reason.empty());
            }
        }
        QVERIFY2(filmed > 0 || odd.empty(), qPrintable(QString::number(odd.size())));
    }

    void aFileCutAnywhereIsRefused()
    {
        QFile file(demo("trail-card.bichrom"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray whole = file.readAll();
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("cut.bichrom"));
        for (int part = 0; part < 40; ++part) {
            QFile cut(path);
            QVERIFY(cut.open(QIODevice::WriteOnly));
            cut.write(whole.left(static_cast<int>(whole.size() * qint64(part) / 40)));
            cut.close();
            const auto opened = open_job(path.toStdString());
            QVERIFY(!opened);
            QVERIFY(!opened.error().message().empty());
        }
    }

    void bytesThatChangedAreAnErrorOrAJob()
    {
        QFile file(demo("trail-token.bichrom"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QByteArray whole = file.readAll();
        QTemporaryDir folder;
        const QString path = folder.filePath(QStringLiteral("changed.bichrom"));
        std::uint32_t random = 12345;
        const auto next = [&] { return random = random * 1664525U + 1013904223U; };
        int opened_still = 0;
        for (int trial = 0; trial < 60; ++trial) {
            QByteArray bytes = whole;
            for (int i = 0; i < 1 + trial % 5; ++i) {
                bytes[static_cast<int>((next() >> 8) % static_cast<std::uint32_t>(bytes.size()))] =
                    static_cast<char>(next() >> 16);
            }
            QFile changed(path);
            QVERIFY(changed.open(QIODevice::WriteOnly));
            changed.write(bytes);
            changed.close();
            const auto opened = open_job(path.toStdString());
            opened_still += opened ? 1 : 0;
            QVERIFY(opened || !opened.error().message().empty());
        }
        // A ZIP knows the sums of what it holds: only its own words, dates for example, are taken for whole.
        QVERIFY2(opened_still < 6, qPrintable(QString::number(opened_still)));
    }
};

BICHROM_TEST(TestDamagedJobs, QCoreApplication)
#include "tst_damaged_jobs.moc"
