// Decisions on overprint: who decides, what then prints, and what findings say of it.
#include "core/job/change_slip.h"
#include "core/job/overprint.h"
#include "core/job/routing.h"
#include "core/preflight/deeds.h"
#include "core/preflight/preflight.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

using namespace bichrom;
using namespace bichrom::test;

namespace {

const char *font = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>";

/// 0: a ground of Alpha; 1: black text of 8 points; 2: black text of 20; 3: a black line; 4: Beta,
/// overprinting.
MiniPdf page()
{
    return spots_page("/A cs 1 scn 0 0 72 72 re f "
                      "0 0 0 1 k BT /F 8 Tf 5 60 Td (small) Tj ET BT /F 20 Tf 5 35 Td (large) Tj ET "
                      "0 0 0 1 K 0.5 w 5 30 m 60 30 l S /OP gs /B cs 1 scn 5 5 20 20 re f",
                      font);
}

OverprintRule rule_by_ink(const char *ink, OverprintWish wish)
{
    OverprintRule rule;
    rule.source.by = RouteBy::Ink;
    rule.source.name = ink;
    rule.wish = wish;
    return rule;
}

std::vector<bool> decided(const OpenedJob &job, const MiniPdf &pdf)
{
    std::vector<bool> list;
    for (const ObjectOverprint &one :
         overprint_of(pdf.scene(), job.job.overprint, job.job.routes, job.job.plates, 1)) {
        list.push_back(one.overprints);
    }
    return list;
}

} // namespace

class TestOverprint : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theFileDecidesWhereNobodyElseDoes()
    {
        const MiniPdf pdf = page();
        QCOMPARE(decided(pdf.job(), pdf), (std::vector<bool>{false, false, false, false, true}));
    }

    void theHouseDecidesForSmallAndBlack()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        job.job.overprint.house.black_text = true;
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, false, false, true}));
        job.job.overprint.house.text_size = 24;
        job.job.overprint.house.black_lines = true;
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, true, true, true}));
        job.job.overprint.house.line_width = 0.2;
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, true, false, true}));
    }

    void kindsOfInkHaveTheirRules()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        const auto beta = static_cast<std::size_t>(job.job.find_plate("Beta"));
        const auto alpha = static_cast<std::size_t>(job.job.find_plate("Alpha"));
        job.job.plates[beta].kind = InkUse::White;
        job.job.overprint.house.white_knocks_out = true;
        QVERIFY(!decided(job, pdf)[4]);
        job.job.plates[beta].kind = InkUse::Foil;
        QVERIFY(decided(job, pdf)[4]);
        job.job.overprint.house.foil_knocks_out = true;
        QVERIFY(!decided(job, pdf)[4]);
        job.job.plates[alpha].kind = InkUse::Varnish;
        job.job.overprint.house.finishing_overprints = true;
        QVERIFY(decided(job, pdf)[0]);
    }

    void theMoreParticularDecides()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        job.job.overprint = with_rule(job.job.overprint, rule_by_ink("Black", OverprintWish::Overprint));
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, true, true, true}));
        OverprintRule one;
        one.source.by = RouteBy::Objects;
        one.source.objects = {{1, 2, ObjectKind::Text, {}}};
        one.wish = OverprintWish::KnockOut;
        job.job.overprint = with_rule(job.job.overprint, one);
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, false, true, true}));
        one.wish = OverprintWish::AsFile; // takes the rule away
        job.job.overprint = with_rule(job.job.overprint, one);
        QCOMPARE(job.job.overprint.rules.size(), std::size_t(1));
        job.job.overprint = with_rule(job.job.overprint, rule_by_ink("Beta", OverprintWish::KnockOut));
        QVERIFY(!decided(job, pdf)[4]);
    }

    void anObjectStandsInOneRule()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        const auto rule = [](std::vector<int> objects, OverprintWish wish) {
            OverprintRule made;
            made.source.by = RouteBy::Objects;
            for (const int index : objects) {
                made.source.objects.push_back({1, index, ObjectKind::Text, {}});
            }
            made.wish = wish;
            return made;
        };
        OverprintSettings &settings = job.job.overprint;
        settings = with_rule(settings, rule({1, 2}, OverprintWish::Overprint));
        settings = with_rule(settings, rule({2}, OverprintWish::KnockOut)); // the last said of it counts
        QCOMPARE(decided(job, pdf), (std::vector<bool>{false, true, false, false, true}));
        QCOMPARE(wish_about(settings, rule({1}, {}).source), OverprintWish::Overprint);
        QCOMPARE(wish_about(settings, rule({2}, {}).source), OverprintWish::KnockOut);
        QCOMPARE(wish_about(settings, rule({3}, {}).source), OverprintWish::AsFile);
        settings = with_rule(settings, rule({1}, OverprintWish::AsFile));
        settings = with_rule(settings, rule({2}, OverprintWish::AsFile));
        QVERIFY(settings.empty());
        // Of two colours alike within a tolerance the last decides too.
        OverprintRule similar;
        similar.source = route_from(pdf.scene(), 1, {0}, 1);
        similar.source.by = RouteBy::Similar;
        similar.source.tolerance = 50;
        similar.wish = OverprintWish::Overprint;
        settings = with_rule(settings, similar);
        similar.source.measure = ColourMeasure::Colourants;
        similar.wish = OverprintWish::KnockOut;
        settings = with_rule(settings, similar);
        QCOMPARE(settings.rules.size(), std::size_t(2));
        QVERIFY(!decided(job, pdf)[0]);
    }

    void platesFollow()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        const auto tones = [&](int x, int y) {
            const auto line = take(PlateLine::make(pdf.content(), setup_of(job.job)));
            const PlateTile tile = take(line->render({0, 0, 72, 72}, Dpi(72), Edges::Crisp));
            std::map<std::string, int> made;
            for (std::size_t i = 0; i < line->inks().size(); ++i) {
                made[line->inks()[i]] = tile.plates[i].at(x, 71 - y);
            }
            return made;
        };
        QCOMPARE(tones(15, 15)["Alpha"], 255); // Beta overprints it
        job.job.overprint = with_rule(job.job.overprint, rule_by_ink("Beta", OverprintWish::KnockOut));
        QCOMPARE(tones(15, 15)["Alpha"], 0);
        QCOMPARE(tones(15, 15)["Beta"], 255);
        QCOMPARE(tones(30, 30)["Alpha"], 0); // the line knocks out
        job.job.overprint.house.black_lines = true;
        QCOMPARE(tones(30, 30)["Alpha"], 255);
        QCOMPARE(tones(30, 30)["Black"], 255);
    }

    void theJobKeepsItAndTheSlipTellsIt()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        job.job.overprint.house.black_text = true;
        job.job.overprint.house.foil_knocks_out = true;
        job.job.overprint = with_rule(job.job.overprint, rule_by_ink("Beta", OverprintWish::KnockOut));
        job.job.traps.on = true;
        job.job.traps.width = 0.25;
        job.job.traps.pairs = {{"Alpha", "Beta", TrapSide::Both, 0.1}};
        job.job.traps.zones = {{{1, 2, 3, 4}, 1, 0}};
        const Job read = take(job_from_json(job_to_json(job.job, *job.artwork), "test"));
        QCOMPARE(read.overprint, job.job.overprint);
        QCOMPARE(read.traps, job.job.traps);
        QStringList words;
        for (const ChangeEntry &entry : list_changes(job.job)) {
            words << QString::fromStdString(entry.what);
        }
        const QString all = words.join(QLatin1Char('\n'));
        for (const char *part :
             {"black text up to 12 points", "Foil always leaves out", "What prints on Beta",
              "larger by 0.25 mm", "Where Alpha meets Beta", "3 mm × 4 mm on page 1"}) {
            QVERIFY2(all.contains(QString::fromUtf8(part)),
                     qPrintable(QString::fromUtf8(part) + u'\n' + all));
        }
    }

    void findingsCarryTheDeedAndAreSolvedByIt()
    {
        const MiniPdf pdf = page();
        OpenedJob job = pdf.job();
        const Scene scene = pdf.scene();
        const ShopRules rules = shipped_rules().front();
        const auto small_black = [&](const std::vector<Finding> &findings) {
            return std::find_if(findings.begin(), findings.end(),
                                [](const Finding &one) { return one.check == "black_knocks_out"; });
        };
        const auto check = [&] {
            const auto original = take(check_artwork(*job.artwork, rules, job.job.colours));
            const auto found = take(find_in_job(*job.artwork, pdf.content(), scene, job.job, rules));
            return follow_job(original, found, job.job);
        };
        const auto before = check();
        QVERIFY(small_black(before) != before.end());
        const auto deeds = deeds_for(*small_black(before), job.job, scene, {});
        QVERIFY(!deeds.empty());
        QCOMPARE(deeds.front().does, Deed::Does::Overprint);
        job.job.overprint.house.black_text = true;
        job.job.overprint.house.text_size = 24;
        job.job.overprint.house.black_lines = true;
        const auto after = check();
        QVERIFY(small_black(after) != after.end());
        QVERIFY(small_black(after)->is_solved());
        QVERIFY(small_black(after)->solved.find("Fit") != std::string::npos);
    }
};

BICHROM_TEST(TestOverprint, QGuiApplication)
#include "tst_overprint.moc"
