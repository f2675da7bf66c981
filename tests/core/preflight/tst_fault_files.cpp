// Files of one fault each, and clean ones, made by tests/data/faults/make_faults.py.
#include "core/preflight/check_table.h"
#include "core/preflight/preflight.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QtTest>

#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>

#include <set>

using namespace bichrom;
using namespace bichrom::test;

namespace {

const QString folder = QStringLiteral(BICHROM_SOURCE_DIR "/tests/data/faults/");

/// Every check on, with its usual limits, in a shop with a keep-out zone.
ShopRules everything()
{
    ShopRules rules;
    for (const CheckInfo &check : all_checks()) {
        rules.checks[check.name].severity = Severity::Warning;
    }
    rules.press.units = 20;
    rules.keep_out = {{30, 30, 30, 30}};
    return rules;
}

std::set<std::string> found_in(const QString &name, const ShopRules &rules, QString *words = nullptr)
{
    const auto artwork = take(Artwork::open((folder + name + QStringLiteral(".pdf")).toStdString()));
    std::set<std::string> found;
    for (const Finding &finding : take(check_artwork(*artwork, rules))) {
        found.insert(finding.check);
        if (words != nullptr) {
            *words += QString::fromStdString(finding.check + ": " + finding.title + " " +
                                             finding.places.front().measured + "\n");
        }
    }
    return found;
}

} // namespace

class TestFaultFiles : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void faultsAreTold_data()
    {
        QTest::addColumn<QStringList>("must");
        QTest::addColumn<QStringList>("must_not");
        QFile file(folder + QStringLiteral("expected.json"));
        QVERIFY(file.open(QIODevice::ReadOnly));
        const QJsonObject all = QJsonDocument::fromJson(file.readAll()).object();
        QVERIFY(all.size() >= 60);
        for (auto one = all.begin(); one != all.end(); ++one) {
            const auto list = [&](const char *key) {
                return one.value().toObject()[QLatin1String(key)].toVariant().toStringList();
            };
            QTest::newRow(qPrintable(one.key())) << list("must") << list("must_not");
        }
    }
    void faultsAreTold()
    {
        QFETCH(QStringList, must);
        QFETCH(QStringList, must_not);
        QString words;
        const auto found = found_in(QString::fromUtf8(QTest::currentDataTag()), everything(), &words);
        for (const QString &check : must) {
            QVERIFY2(find_check(check.toStdString()) != nullptr, qPrintable(check));
            QVERIFY2(found.count(check.toStdString()) == 1,
                     qPrintable(check + QStringLiteral(" is missing in\n") + words));
        }
        for (const QString &check : must_not) {
            QVERIFY2(found.count(check.toStdString()) == 0, qPrintable(words));
        }
    }

    void cleanFilesAreClean_data()
    {
        QTest::addColumn<int>("rules");
        const QStringList files = QDir(folder).entryList({QStringLiteral("clean-*.pdf")});
        QCOMPARE(files.size(), 6);
        for (int i = 0; i < static_cast<int>(shipped_rules().size()); ++i) {
            for (const QString &file : files) {
                QTest::addRow("%s|%s", shipped_rules()[static_cast<std::size_t>(i)].name.c_str(),
                              qPrintable(file))
                    << i;
            }
        }
    }
    void cleanFilesAreClean()
    {
        QFETCH(int, rules);
        ShopRules set = shipped_rules()[static_cast<std::size_t>(rules)];
        set.inks.insert(set.inks.end(), {"Luna Green", "Dusk Blue"}); // each set stocks inks of its own
        QString words;
        const QString file = QString::fromUtf8(QTest::currentDataTag()).section(QLatin1Char('|'), 1);
        std::set<std::string> found = found_in(file.chopped(4), set, &words);
        if (file.contains(QStringLiteral("marks"))) {
            found.erase("outside_bleed"); // its one muted row
        }
        QVERIFY2(found.empty(), qPrintable(words));
    }

    void marksAreOneMutedRow()
    {
        const auto artwork = take(Artwork::open((folder + QStringLiteral("crop-marks.pdf")).toStdString()));
        int rows = 0;
        for (const Finding &finding : take(check_artwork(*artwork, everything()))) {
            if (finding.check == "outside_bleed") {
                ++rows;
                QVERIFY(finding.muted);
                QCOMPARE(finding.places.front().measured, std::string("3 objects"));
            }
        }
        QCOMPARE(rows, 1);
    }

    void nearNamesAreOneRow()
    {
        const auto artwork =
            take(Artwork::open((folder + QStringLiteral("three-near-names.pdf")).toStdString()));
        const auto findings = take(check_artwork(*artwork, everything()));
        QCOMPARE(std::count_if(findings.begin(), findings.end(),
                               [](const Finding &finding) { return finding.check == "ink_twice"; }),
                 1);
    }

    void everyPatchOfTooMuchInkIsAPlace()
    {
        const auto artwork =
            take(Artwork::open((folder + QStringLiteral("two-patches-of-too-much-ink.pdf")).toStdString()));
        for (const Finding &finding : take(check_artwork(*artwork, everything()))) {
            if (finding.check == "total_ink") {
                QCOMPARE(finding.places.size(), std::size_t(2));
                QVERIFY(finding.places.front().measured.find("400 %") != std::string::npos);
            }
        }
    }
};

BICHROM_TEST(TestFaultFiles, NoApplication)
#include "tst_fault_files.moc"
