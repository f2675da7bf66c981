// Releases, their gate, and a job laid on other files.
#include "core/artwork/fingerprint.h"
#include "core/base/atomic_file.h"
#include "core/job/change_slip.h"
#include "core/job/edits/bleed.h"
#include "core/job/routing.h"
#include "core/preflight/preflight.h"
#include "core/release/apply_job.h"
#include "core/release/device_needs.h"
#include "core/release/release.h"
#include "core/standin/devices.h"

#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

OpenedJob two_spots()
{
    MiniPdf pdf = spots_page("/A cs 1 scn 0 0 108 144 re f /OP gs /B cs 0.4 scn 0 0 216 144 re f");
    pdf.width = 216;
    pdf.height = 144;
    OpenedJob opened = pdf.job();
    opened.job.name = "two: spots";
    opened.job.film.resolution = Dpi(300);
    return opened;
}

ReleaseRequest into(const QTemporaryDir &folder)
{
    ReleaseRequest request;
    request.folder = folder.path().toStdString();
    request.date = "2026-11-28";
    request.pass_reason = "a test";
    return request;
}

QStringList everything_in(const QString &folder)
{
    QStringList names;
    QDirIterator it(folder, QDir::AllEntries | QDir::Hidden | QDir::NoDotAndDotDot,
                    QDirIterator::Subdirectories);
    while (it.hasNext()) {
        names << QDir(folder).relativeFilePath(it.next());
    }
    names.sort();
    return names;
}

} // namespace

class TestRelease : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aReleaseIsAFolderWithSumsThatHold()
    {
        QTemporaryDir folder;
        const Release first = take(release_job(two_spots(), into(folder)));
        QCOMPARE(first.number, 1);
        QCOMPARE(QString::fromStdString(first.folder.string()),
                 folder.filePath(QStringLiteral("two_ spots/release-001")));
        const QString inside = QString::fromStdString(first.folder.string());
        for (const char *name : {"films/manifest.json", "plates.pdf", "proof.pdf", "proof.html", "ticket.pdf",
                                 "ticket.json", "job.bichrom", "release.json", "SHA256SUMS"}) {
            QVERIFY2(QFile::exists(inside + QLatin1Char('/') + QLatin1String(name)), name);
        }
        // An independent program agrees with the sums.
        QProcess check;
        check.setWorkingDirectory(inside);
        check.start(QStringLiteral("sha256sum"),
                    {QStringLiteral("--strict"), QStringLiteral("-c"), QStringLiteral("SHA256SUMS")});
        QVERIFY(check.waitForFinished(30'000));
        QCOMPARE(check.exitCode(), 0);
        QCOMPARE(check.readAllStandardOutput().count('\n'), qsizetype(first.files.size()));
        QVERIFY(everything_in(folder.path()).filter(QStringLiteral(".part")).isEmpty());
        // A second one gets its own number, and leaves the first alone.
        const QStringList before = everything_in(inside);
        const Release second = take(release_job(two_spots(), into(folder)));
        QCOMPARE(second.number, 2);
        QCOMPARE(everything_in(inside), before);
    }

    void aReleaseComesAgainBitForBit()
    {
        QTemporaryDir folder;
        OpenedJob opened = two_spots();
        const Release first = take(release_job(opened, into(folder)));
        QTest::qWait(1100); // another second on the clock
        const Release again = take(release_again(folder.path().toStdString(), opened.job.name, 1));
        QVERIFY2(again.differing.empty(), again.differing.empty() ? "" : again.differing.front().c_str());
        QCOMPARE(again.files, first.files);
        QVERIFY(again.folder != first.folder);
        // One that somebody has changed is told.
        QFile sum(QString::fromStdString((first.folder / "ticket.json").string()));
        QVERIFY(sum.open(QIODevice::Append));
        sum.write(" ");
        sum.close();
        QCOMPARE(take(release_again(folder.path().toStdString(), opened.job.name, 1)).differing,
                 std::vector<std::string>{"ticket.json"});
        QCOMPARE(release_again(folder.path().toStdString(), opened.job.name, 7).error().code,
                 ErrorCode::FileMissing);
    }

    void theGateStopsUntilItIsPassedWithAReason()
    {
        OpenedJob opened = two_spots();
        opened.job.questions.push_back({"thin_line", 1, "", "May the line be thicker?"});
        QTemporaryDir folder;
        ReleaseRequest request = into(folder);
        request.pass_reason.clear();
        const Release stopped = take(release_job(opened, request));
        QCOMPARE(stopped.number, 0);
        QVERIFY(!stopped.stops.empty());
        QVERIFY(everything_in(folder.path()).isEmpty());
        bool asked = false;
        for (const GateStop &stop : stopped.stops) {
            asked = asked || stop.what.find("May the line be thicker?") != std::string::npos ||
                    stop.what.find("not answered") != std::string::npos;
        }
        QVERIFY(asked);
        request.pass_reason = "the customer said yes on the telephone";
        const Release passed = take(release_job(opened, request));
        QCOMPARE(passed.number, 1);
        const auto about = take(read_file(passed.folder / "release.json"));
        const QByteArray text(reinterpret_cast<const char *>(about.data()), qsizetype(about.size()));
        QVERIFY(text.contains("on the telephone"));
        // Answered, it is no stop any more.
        const std::size_t before = passed.stops.size();
        opened.job.change_states[key_of(opened.job.questions.front())] = ChangeState::Agreed;
        QVERIFY(take(check_gate(opened, {1})).size() < before);
    }

    void anErrorOfTheRulesStopsUntilItIsAccepted()
    {
        OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/trail-card.bichrom"));
        const auto errors = [&] {
            int count = 0;
            for (const GateStop &stop : take(check_gate(opened, {1}))) {
                count += stop.what.find("error of the shop's rules") != std::string::npos ? 1 : 0;
            }
            return count;
        };
        QCOMPARE(errors(), 1); // a process black in a spot job
        opened.job.accepted.push_back({"process_in_spot_job", 1, "Black", "it is meant"});
        for (const Finding &finding :
             take(findings_of(*opened.artwork, opened.job, take(rules_of(opened.job))))) {
            if (finding.severity == Severity::Error && !finding.is_solved()) {
                opened.job.accepted.push_back({finding.check, finding.page, finding.subject, "it is meant"});
            }
        }
        QCOMPARE(errors(), 0);
    }

    void pagesAreReleasedTogether()
    {
        MiniPdf pdf = spots_page("/A cs 1 scn 0 0 72 72 re f");
        pdf.more_pages = {"/B cs 1 scn 0 0 36 72 re f", ""};
        OpenedJob opened = pdf.job();
        opened.job.film.resolution = Dpi(300);
        QTemporaryDir folder;
        ReleaseRequest request = into(folder);
        request.pages = {1, 2, 3}; // the last prints nothing
        const Release made = take(release_job(opened, request));
        std::vector<std::string> names;
        for (const auto &[name, sum] : made.files) {
            names.push_back(name);
        }
        for (const char *name : {"ticket-p1.pdf", "ticket-p2.json", "proof.pdf", "films/page-1/manifest.json",
                                 "films/page-2/manifest.json"}) {
            QVERIFY2(std::find(names.begin(), names.end(), name) != names.end(), name);
        }
        QVERIFY(std::find(names.begin(), names.end(), "ticket-p3.pdf") == names.end());
        QVERIFY(take(release_again(folder.path().toStdString(), opened.job.name, 1)).differing.empty());
    }

    void devicesThatDoNotKnowAnInkStopTheRelease()
    {
        QTemporaryDir folder;
        const std::filesystem::path press = folder.filePath(QStringLiteral("press")).toStdString();
        QCOMPARE(needs_of_device(press).error().code, ErrorCode::FileMissing);
        DeviceFolder device = take(open_device(DeviceKind::Press, press));
        device.state()["under"] = "alpha"; // a letter's case off
        device.state()["over"] = "Beta";
        QVERIFY(device.save());
        const DeviceNeeds needs = take(needs_of_device(press));
        std::vector<std::string> told;
        for (const GateStop &stop : take(check_gate(two_spots(), {1}, {needs}))) {
            if (stop.what.find("does not know ") != std::string::npos) {
                told.push_back(stop.what);
            }
        }
        QCOMPARE(told.size(), std::size_t(1));
        QVERIFY(told.front().find("'Alpha'") != std::string::npos);
        take(open_device(DeviceKind::Cutter, folder.filePath(QStringLiteral("cutter")).toStdString()));
        const DeviceNeeds cutter =
            take(needs_of_device(folder.filePath(QStringLiteral("cutter")).toStdString()));
        QCOMPARE(cutter.needed, std::string("Cut"));
    }

    void sendingGoesOnWhereItBrokeOff()
    {
        QTemporaryDir folder;
        const Release made = take(release_job(two_spots(), into(folder)));
        const std::filesystem::path place = folder.filePath(QStringLiteral("recorder")).toStdString();
        QCOMPARE(send_release(made, place).error().code, ErrorCode::FileMissing); // switched off
        DeviceFolder recorder = take(open_device(DeviceKind::Recorder, place));
        QCOMPARE(take(send_release(made, place)).size(), std::size_t(2));
        std::filesystem::remove(place / ("r1-" + made.films[0].plates[1].file)); // lost on the way
        const auto more = take(send_release(made, place));
        QCOMPARE(more, std::vector<std::string>{"r1-" + made.films[0].plates[1].file});
        QVERIFY(take(send_release(made, place)).empty());
        QCOMPARE(take(run_device(DeviceKind::Recorder, recorder)).size(), std::size_t(2));
        QVERIFY(take(send_release(made, place)).empty()); // they are done
        // A release without anything for a device is no release sent.
        Release bare = made;
        bare.files = {{"proof.html", {}}};
        const auto nothing = send_release(bare, place);
        QVERIFY(!nothing);
        QVERIFY(nothing.error().message().find("no films as TIFF for the recorder") != std::string::npos);
    }

    void whatWasReleasedBeforeAChangeIsToldToBeStale()
    {
        QTemporaryDir folder;
        OpenedJob opened = two_spots();
        QCOMPARE(last_release(folder.path().toStdString(), opened).number, 0);
        (void)take(release_job(opened, into(folder)));
        LastRelease last = last_release(folder.path().toStdString(), opened);
        QCOMPARE(last.number, 1);
        QCOMPARE(last.date, std::string("2026-11-28"));
        QVERIFY(last.same);
        opened.job.plates[0].screen.ruling = Lpi(45);
        QVERIFY(!last_release(folder.path().toStdString(), opened).same);
        (void)take(
            release_again(folder.path().toStdString(), opened.job.name, 1)); // is no release of its own
        QCOMPARE(last_release(folder.path().toStdString(), opened).number, 1);
        // Films that no longer fit the job stop the next ones, until somebody says why.
        ReleaseRequest request = into(folder);
        request.pass_reason.clear();
        const Release stopped = take(release_job(opened, request));
        QCOMPARE(stopped.number, 0);
        QCOMPARE(stopped.stops.size(), std::size_t(1));
        QVERIFY(stopped.stops[0].what.find("Release 1 of 2026-11-28 is of an earlier state") == 0);
        request.pass_reason = "a coarser mesh";
        QCOMPARE(take(release_job(opened, request)).number, 2);
        QVERIFY(!stale_outputs(last_release(folder.path().toStdString(), opened)));
        last = last_release(folder.path().toStdString(), opened);
        QCOMPARE(last.number, 2);
        QVERIFY(last.same);
    }

    void nothingOfAReleaseThatBrokeOffIsInTheNext()
    {
        QTemporaryDir folder;
        const QString left = folder.filePath(QStringLiteral("two_ spots/.release-001.part"));
        QVERIFY(QDir().mkpath(left));
        QFile junk(left + QStringLiteral("/old.tif"));
        QVERIFY(junk.open(QIODevice::WriteOnly));
        junk.close();
        const Release made = take(release_job(two_spots(), into(folder)));
        QVERIFY(!QFile::exists(QString::fromStdString((made.folder / "old.tif").string())));
        QVERIFY(!QDir(left).exists());
    }

    void whatCannotBeReleasedLeavesNoFolder()
    {
        QTemporaryDir folder;
        OpenedJob opened = two_spots();
        opened.job.film.sheet_width = 20; // too small
        opened.job.film.sheet_height = 20;
        QVERIFY(!release_job(opened, into(folder)));
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(release_job(two_spots(), into(folder), JobControl(stop)).error().code, ErrorCode::Cancelled);
        QVERIFY(everything_in(folder.path()).filter(QStringLiteral("release-")).isEmpty());
    }

    void aJobGoesOntoOtherFiles()
    {
        OpenedJob opened = two_spots();
        // Alpha goes to Beta; a base under everything; half size.
        Route route;
        route.by = RouteBy::Ink;
        route.name = "Alpha";
        RouteTarget target;
        target.ink = "Beta";
        target.own_tint = true;
        target.tint = 0.5;
        route.targets = {target};
        opened.job = with_route(std::move(opened.job), route);
        Plate base = propose_plate(opened.job.plates, "Base", InkUse::White, {96, 0, 0});
        base.recipe = {RecipeStep{}};
        opened.job.plates.push_back(base);
        opened.job.stock.name = "Slate";
        opened.job.accepted.push_back({"thin_line", 1, "", "of that artwork alone"});
        opened.job.pins.push_back({1, 1, 0, 0, 1});
        QTemporaryDir folder;
        const auto path = [&](const char *name) { return folder.filePath(QLatin1String(name)); };
        MiniPdf same = spots_page("/A cs 1 scn 50 50 100 50 re f");
        same.width = 216;
        same.height = 144;
        same.save(path("same.pdf"));
        MiniPdf other =
            spots_page("/A cs 1 scn 50 50 50 50 re f /C cs 1 scn 0 0 30 30 re f 1 0 0 rg 0 40 9 9 re f");
        other.resources = "/ColorSpace << " + separation("A", "Alpha") + separation("C", "Rust") + " >>";
        other.width = 300;
        other.save(path("other.pdf"));
        QFile broken(path("broken.pdf"));
        QVERIFY(broken.open(QIODevice::WriteOnly));
        broken.write("no picture, no page");
        broken.close();

        const JobPattern pattern = take(JobPattern::make(opened));
        ApplyExceptions none;
        const OpenedJob made = take(pattern.on(path("same.pdf").toStdString(), none));
        QCOMPARE(made.job.name, std::string("same"));
        QCOMPARE(made.job.stock.name, std::string("Slate"));
        QVERIFY(made.job.accepted.empty() && made.job.pins.empty());
        QCOMPARE(made.job.routes.size(), std::size_t(1));
        QVERIFY(none.lost.empty() && none.new_inks.empty() && none.size.empty());
        const auto line =
            take(PlateLine::make(take(made.artwork->interpret(1, PageBox::Media)), setup_of(made.job)));
        const PlateTile tile = take(line->render(line->extent(Dpi(72)), Dpi(72)));
        const auto beta = static_cast<std::size_t>(made.job.find_plate("Beta"));
        const auto under = static_cast<std::size_t>(made.job.find_plate("Base"));
        QCOMPARE(int(tile.plates[beta].at(100, 60)), 128);
        QCOMPARE(int(tile.plates[under].at(100, 60)), 255);

        // Bleed that is made of one file is made of others.
        OpenedJob bled = opened;
        bled.job = take(with_made_bleed(std::move(bled.job), *bled.artwork, {2.54, BleedBy::Mirror}));
        bled.artwork = take(assemble(bled.artwork, bled.job.placements));
        bled.read = nullptr;
        ApplyExceptions same_size;
        const OpenedJob grown =
            take(take(JobPattern::make(bled)).on(path("same.pdf").toStdString(), same_size));
        QVERIFY(std::fabs(take(grown.artwork->page_info(1)).box(PageBox::Media).width - (76.2 + 5.08)) <
                1e-4);
        QVERIFY2(same_size.size.empty(), same_size.size.c_str());

        ApplyExceptions told;
        const OpenedJob strange = take(pattern.on(path("other.pdf").toStdString(), told));
        QVERIFY(std::find(told.new_inks.begin(), told.new_inks.end(), "Rust") != told.new_inks.end());
        QVERIFY(told.size.find("not 76.2 × 50.8 mm") != std::string::npos);
        QVERIFY(strange.job.find_plate("Rust") >= 0);

        // Each kind of output; the broken one stops nobody.
        const std::string out = path("out").toStdString();
        for (const ApplyDo what : {ApplyDo::Film, ApplyDo::Plates, ApplyDo::Compose, ApplyDo::Job}) {
            const Applied good = apply_job(pattern, path("same.pdf").toStdString(), what,
                                           {out + "/" + to_string(what), "same", "2026-11-28"});
            QVERIFY2(good.written.ok(), good.written ? "" : good.written.error().message().c_str());
            for (const std::string &file : *good.written) {
                QVERIFY2(QFile::exists(QString::fromStdString(file)), file.c_str());
            }
        }
        QVERIFY(!apply_job(pattern, path("broken.pdf").toStdString(), ApplyDo::Job, {out, "b", {}}).written);
        const OpenedJob back = take(open_job(out + "/job/same.bichrom"));
        QCOMPARE(back.job.inks(), made.job.inks());
        // Again: what may have been worked on since stays.
        const Applied again = apply_job(pattern, path("same.pdf").toStdString(), ApplyDo::Job,
                                        {out + "/job", "same", "2026-11-28"});
        QCOMPARE(*again.written, std::vector<std::string>{out + "/job/same-2.bichrom"});
    }

    void outputsOfFilesOfOneNameStayApart()
    {
        QCOMPARE(apply_names({"a/moth.pdf", "b/Moth.pdf", "c/owl.svg"}),
                 (std::vector<std::string>{"moth", "Moth-2", "owl"}));
        QTemporaryDir folder;
        const std::filesystem::path in = folder.path().toStdString();
        QCOMPARE(may_be_watched(in, in / "new" / "..").error().code, ErrorCode::OutOfRange);
        QVERIFY(may_be_watched(in, in / "out"));
    }
};

BICHROM_TEST(TestRelease, QCoreApplication)
#include "tst_release.moc"
