// Findings put together, and the documents made of them.
#include "core/base/atomic_file.h"
#include "core/job/change_slip.h"
#include "core/preflight/finding_groups.h"
#include "core/preflight/preflight.h"
#include "core/report/change_slip_report.h"
#include "core/report/findings_report.h"

#include "core/job/routing.h"
#include "core/report/page_pictures.h"

#include "support/mini_pdf.h"
#include "support/programs.h"
#include "support/test_program.h"

#include <QColor>
#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

namespace {

Finding finding(const char *check, int page, int objects, int areas = 0)
{
    Finding made;
    made.check = check;
    made.page = page;
    made.title = check;
    for (int i = 0; i < objects; ++i) {
        made.places.push_back({i, {}, {}});
    }
    for (int i = 0; i < areas; ++i) {
        made.places.push_back({-1, {}, {}});
    }
    return made;
}

QString text_of(const std::vector<std::byte> &pdf)
{
    QTemporaryDir folder;
    const QString path = folder.filePath(QStringLiteral("report.pdf"));
    save_bytes(pdf, path);
    // Ligatures are letters of their own in the file.
    return output_of(QStringLiteral("pdftotext"), {path, QStringLiteral("-")})
        .normalized(QString::NormalizationForm_KC)
        .simplified();
}

} // namespace

class TestReports : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void findingsOfSeveralPagesAreOneGroup()
    {
        const std::vector<Finding> all = {finding("a", 1, 2), finding("b", 1, 0, 1), finding("a", 3, 1)};
        const std::vector<AcceptedFinding> some = {{"a", 1, "", "x"}, {"b", 1, "", "y"}};
        const auto groups = group_findings(all, some);
        QCOMPARE(groups.size(), std::size_t(2));
        QCOMPARE(groups[0].findings, (std::vector<int>{0, 2}));
        QCOMPARE(count_text(groups[0], 4), std::string("3 objects on 2 pages"));
        QCOMPARE(count_text(groups[0], 1), std::string("3 objects"));
        QCOMPARE(count_text(groups[1], 4), std::string("1 place on 1 page"));
        QVERIFY(!groups[0].accepted); // page 3 is not
        QVERIFY(groups[1].accepted);
    }

    void theReportTellsEverything()
    {
        OpenedJob opened = spots_page("/A cs 1 scn 0 0 30 30 re f /B CS 1 SCN 0.1 w 5 40 m 60 40 l S").job();
        const ShopRules rules = shipped_rules().front();
        const auto findings = take(check_artwork(*opened.artwork, rules));
        QVERIFY(findings.size() >= 2);
        opened.job.accepted = {{findings[0].check, 1, findings[0].subject, "as agreed on the phone"}};
        std::int64_t steps = 0;
        const JobControl control(CancelSwitch(), [&](std::int64_t done, std::int64_t) { steps = done; });
        const QString words = text_of(take(findings_report(opened, rules, findings, "2026-11-25", control)));
        QVERIFY(steps > 0);
        for (const Finding &one : findings) {
            for (const std::string &part : {one.title, one.limit, one.why, one.remedy}) {
                QVERIFY2(words.contains(QString::fromStdString(part).simplified()), part.c_str());
            }
            for (const FindingPlace &place : one.places) {
                QVERIFY2(words.contains(QString::fromStdString(place.measured).simplified()),
                         place.measured.c_str());
            }
        }
        QVERIFY(words.contains(QStringLiteral("2026-11-25")));
        QVERIFY(words.contains(QStringLiteral("Accepted: as agreed on the phone")));
        QVERIFY(words.contains(QString::fromStdString(opened.artwork->sha256())));
    }

    void namesAreNoMarkup()
    {
        MiniPdf pdf;
        pdf.contents = "/X cs 1 scn 0 0 30 30 re f";
        pdf.resources = "/ColorSpace << " + separation("X", "A#3Cb#3E#26#3Cscript") + " >>";
        const OpenedJob opened = pdf.job();
        const ShopRules rules = shipped_rules().front();
        const auto findings = take(check_artwork(*opened.artwork, rules));
        const QString words = text_of(take(findings_report(opened, rules, findings, "today")));
        QVERIFY2(words.contains(QStringLiteral("A<b>&<script")), qPrintable(words));
    }

    void anEmptyReportSaysSo()
    {
        const OpenedJob opened = spots_page("/A cs 1 scn 0 0 30 30 re f").job();
        const QString words = text_of(take(findings_report(opened, shipped_rules().front(), {}, "today")));
        QVERIFY(words.contains(QStringLiteral("Nothing was found.")));
        const QString slip = text_of(take(change_slip_report(opened, "today")));
        QVERIFY(slip.contains(QStringLiteral("Nothing is changed")));
        QVERIFY(slip.contains(QStringLiteral("Before, page 1")) &&
                slip.contains(QStringLiteral("After, page 1")));
    }

    void theSlipTellsEachChangeAndItsState()
    {
        OpenedJob opened = spots_page("1 0 0 rg 0 0 72 72 re f").job();
        opened.job.colours.rendering = {RenderingIntent::Saturation, true};
        opened.job.questions = {{"thin_line", 1, "", "May the line be heavier?"}};
        const auto changes = list_changes(opened.job);
        QCOMPARE(changes.size(), std::size_t(2));
        opened.job.change_states[changes[0].key] = ChangeState::NotNeeded;
        const QString words = text_of(take(change_slip_report(opened, "today")));
        for (const ChangeEntry &change : list_changes(opened.job)) {
            QVERIFY2(words.contains(QString::fromStdString(change.what)), change.what.c_str());
            QVERIFY(words.contains(QStringLiteral("State: %1").arg(QLatin1String(to_string(change.state)))));
        }
    }

    void thePictureShowsWhatWillPrint()
    {
        const MiniPdf pdf = spots_page("0 1 1 0 k 0 0 72 72 re f");
        OpenedJob opened = pdf.job();
        const auto middle = [&] {
            const ReportPicture picture = take(picture_of_print(opened, 40, "p.png", {}));
            const std::uint32_t pixel = picture.pixels[static_cast<std::size_t>(20 * picture.width + 20)];
            return QColor::fromRgb(pixel);
        };
        const QColor before = middle();
        QVERIFY(before.red() > 150 && before.green() < 80);
        Route route = route_from(pdf.scene(), 1, {0}, 0);
        route.targets = {{"Pond Green", false, 1, {}}};
        opened.job = with_route(opened.job, route, {{"Pond Green", {50, -50, 20}}});
        const QColor after = middle();
        QVERIFY2(after.green() > after.red() + 60, qPrintable(after.name()));
        opened.job.plates.clear(); // nothing decided: the artwork's own inks
        opened.job.routes.clear();
        QCOMPARE(middle(), before);
    }

    void stoppingLeavesNothing()
    {
        const OpenedJob opened = spots_page("/A cs 1 scn 0 0 30 30 re f").job();
        const ShopRules rules = shipped_rules().front();
        const auto findings = take(check_artwork(*opened.artwork, rules));
        CancelSwitch cancel;
        cancel.cancel();
        const auto report = findings_report(opened, rules, findings, "today", JobControl(cancel));
        QVERIFY(!report);
        QCOMPARE(report.error().code, ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestReports, QCoreApplication)
#include "tst_reports.moc"
