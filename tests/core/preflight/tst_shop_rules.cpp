#include "core/job/change_slip.h"
#include "core/preflight/check_table.h"
#include "core/preflight/ink_names.h"
#include "core/preflight/preflight.h"
#include "core/preflight/shop_rules.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

using namespace bichrom;
using namespace bichrom::test;

class TestShopRules : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theShippedSetsAreComplete()
    {
        QCOMPARE(shipped_rules().size(), std::size_t(4));
        for (const ShopRules &rules : shipped_rules()) {
            QVERIFY(!rules.name.empty() && rules.press.units >= 2);
            for (const CheckInfo &check : all_checks()) {
                QVERIFY2(rules.checks.count(check.name) == 1, check.name);
            }
            for (const auto &[name, setting] : rules.checks) {
                const CheckInfo *info = find_check(name);
                QVERIFY2(info != nullptr, name.c_str());
                for (const auto &[limit, value] : setting.limits) {
                    QVERIFY2(std::any_of(info->limits.begin(), info->limits.end(),
                                         [&](const LimitInfo &one) { return limit == one.name; }),
                             limit.c_str());
                }
            }
        }
    }

    void aRoundTripKeepsEverything()
    {
        for (const ShopRules &rules : shipped_rules()) {
            ShopRules changed = rules;
            changed.name = "Grünes Blatt";
            changed.folds = {{false, Millimetres(12.5)}};
            changed.keep_out = {{1, 2, 3, 4}};
            changed.checks["thin_line"].limits["line_pt"] = 0.75;
            ShopRules again = take(rules_from_json(rules_to_json(changed), "x"));
            again.source = changed.source;
            QVERIFY(again == changed);
        }
    }

    void fieldsOfNewerVersionsAreKept()
    {
        const std::string text =
            R"({"format":"bichrom shop rules","version":1,"name":"New","press":{"units":3,"flash_s":4},)"
            R"("later":{"a":[1,2]},"checks":{"thin_line":{"severity":"error","colour_of_pen":"red"},)"
            R"("smell":{"severity":"note"}}})";
        ShopRules rules = take(rules_from_json(text, "x"));
        QCOMPARE(rules.press.units, 3);
        QCOMPARE(rules.checks.size(), std::size_t(1));
        rules.press.units = 5;
        const std::string again = rules_to_json(rules);
        for (const char *word :
             {"\"flash_s\": 4", "\"later\"", "\"colour_of_pen\": \"red\"", "\"smell\"", "\"units\": 5"}) {
            QVERIFY2(again.find(word) != std::string::npos, word);
        }
    }

    void wrongFilesAreRefused_data()
    {
        QTest::addColumn<QByteArray>("text");
        QTest::newRow("no JSON") << QByteArray("hello");
        QTest::newRow("other JSON") << QByteArray("{\"a\":1}");
        QTest::newRow("no press") << QByteArray(R"({"format":"bichrom shop rules","version":1,"name":"x"})");
        QTest::newRow("units out of range")
            << QByteArray(R"({"format":"bichrom shop rules","version":1,"name":"x","press":{"units":0}})");
        QTest::newRow("a severity that is none")
            << QByteArray(R"({"format":"bichrom shop rules","version":1,"name":"x","press":{},)"
                          R"("checks":{"thin_line":{"severity":"bad"}}})");
        QTest::newRow("a newer version")
            << QByteArray(R"({"format":"bichrom shop rules","version":9,"name":"x","press":{}})");
        QTest::newRow("press is a list")
            << QByteArray(R"({"format":"bichrom shop rules","version":1,"name":"x","press":[]})");
    }
    void wrongFilesAreRefused()
    {
        QFETCH(QByteArray, text);
        const auto rules = rules_from_json(text.toStdString(), "bad.json");
        QVERIFY(!rules);
        QCOMPARE(rules.error().place, std::string("bad.json"));
        QVERIFY(!rules.error().remedy.empty());
    }

    void inkNamesThatAreAlike_data()
    {
        QTest::addColumn<QString>("a");
        QTest::addColumn<QString>("b");
        QTest::addColumn<int>("likeness");
        const auto row = [](const char *a, const char *b, NameLikeness likeness) {
            QTest::addRow("%s / %s", a, b) << QString::fromUtf8(a) << QString::fromUtf8(b) << int(likeness);
        };
        row("Luna Green", "Luna Green", NameLikeness::Same);
        row("Luna Green", "LUNA green", NameLikeness::Case);
        row("Luna Green", "Luna_Green", NameLikeness::Spacing);
        row("Luna Green", "LunaGreen", NameLikeness::Spacing);
        row("Luna Green C", "Luna Green U", NameLikeness::Finish);
        row("Luna Green Coated", "Luna Green", NameLikeness::Finish);
        row("Luna Green", "Luna Greem", NameLikeness::OneLetter);
        row("Luna Green", "Luna Gren", NameLikeness::OneLetter);
        row("Luna Green", "Una Green", NameLikeness::OneLetter);
        row("Luna Green", "Lunar Greens", NameLikeness::Different); // two letters
        row("Blue 1", "Blue 2", NameLikeness::Different);
        row("Blue 1", "Blue 12", NameLikeness::Different);
        row("Red", "Rod", NameLikeness::Different);
    }
    void inkNamesThatAreAlike()
    {
        QFETCH(QString, a);
        QFETCH(QString, b);
        QFETCH(int, likeness);
        QCOMPARE(int(compare_names(a.toStdString(), b.toStdString())), likeness);
        QCOMPARE(int(compare_names(b.toStdString(), a.toStdString())), likeness);
        QCOMPARE(nearest_name(a.toStdString(), {"Something else", b.toStdString()}).name.empty(),
                 likeness == int(NameLikeness::Different));
    }

    void theChangeSlipFollowsTheJob()
    {
        Job job;
        QVERIFY(list_changes(job).empty());
        job.assumed_ppi = 150;
        job.colours.convert_cmyk = true;
        const auto changes = list_changes(job);
        QCOMPARE(changes.size(), std::size_t(2));
        QCOMPARE(changes[0].state, ChangeState::AskCustomer);
        job.change_states[changes[1].key] = ChangeState::Agreed;
        QCOMPARE(list_changes(job)[1].state, ChangeState::Agreed);
        job.assumed_ppi = 300; // taken back: its line goes
        QCOMPARE(list_changes(job).size(), std::size_t(1));
    }

    void agreementsTravelWithTheJob()
    {
        const QTemporaryDir folder;
        OpenedJob opened = spots_page("/A cs 1 scn 0 0 9 9 re f").job();
        opened.job.rules = rules_to_json(shipped_rules()[2]);
        opened.job.accepted = {{"thin_line", 1, "", "the customer wants it so"}};
        opened.job.change_states["convert cmyk"] = ChangeState::NotNeeded;
        const auto path = folder.filePath(QStringLiteral("a.bichrom")).toStdString();
        QVERIFY(save_job(path, opened.job, *opened.artwork));
        QVERIFY(take(open_job(path)).job == opened.job);
    }

    void everyCheckIsDescribed()
    {
        QFile file(QStringLiteral(BICHROM_SOURCE_DIR "/docs/shop-rules.md"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QString text = QString::fromUtf8(file.readAll());
        for (const CheckInfo &check : all_checks()) {
            const QString row = QStringLiteral("| `%1` | %2 |")
                                    .arg(QString::fromUtf8(check.name), QString::fromUtf8(check.title));
            QVERIFY2(text.contains(row), qPrintable(row));
            for (const LimitInfo &limit : check.limits) {
                QVERIFY2(text.contains(QStringLiteral("`%1`: ").arg(QString::fromUtf8(limit.name))),
                         limit.name);
            }
        }
    }
};

BICHROM_TEST(TestShopRules, QCoreApplication)
#include "tst_shop_rules.moc"
