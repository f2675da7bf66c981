// Another share of black, the same colour: judged by the printing condition's own profile.
#include "core/colour/black_generation.h"

#include "core/colour/colour_difference.h"

#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <random>

using namespace bichrom;

namespace {

Cmyk cmyk_of(const ColourTable::Tones &tones)
{
    return {tones[0], tones[1], tones[2], tones[3]};
}

double total(const Cmyk &inks)
{
    return static_cast<double>(inks[0] + inks[1] + inks[2] + inks[3]);
}

std::shared_ptr<const ColourTable> table(BlackAmount amount, double limit = 4)
{
    const auto made = black_table(*ProcessProfile::fogra39(), {amount, limit});
    if (!made) {
        qFatal("%s", made.error().message().c_str());
    }
    return *made;
}

/// Differences of what is printed for random colours of nodes from what the profile prints.
std::vector<double> differences(const ColourTable &made)
{
    const ProcessProfile &condition = *ProcessProfile::fogra39();
    std::mt19937 random(7);
    std::uniform_int_distribution<int> node(0, ColourTable::nodes - 1);
    std::vector<double> away;
    for (int i = 0; i < 400; ++i) {
        std::array<double, 3> rgb{};
        for (double &v : rgb) {
            v = node(random) / static_cast<double>(ColourTable::nodes - 1);
        }
        const Cmyk own = condition.from_rgb(
            {static_cast<float>(rgb[0]), static_cast<float>(rgb[1]), static_cast<float>(rgb[2])});
        away.push_back(ciede2000(condition.to_lab(cmyk_of(made.at(rgb))), condition.to_lab(own)));
    }
    std::sort(away.begin(), away.end());
    return away;
}

} // namespace

class TestBlackGeneration : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void coloursStayWhateverTheBlack()
    {
        for (const BlackAmount amount : {BlackAmount::Least, BlackAmount::Medium, BlackAmount::Most}) {
            const std::vector<double> away = differences(*table(amount));
            QVERIFY2(away[200] < 0.5,
                     qPrintable(QStringLiteral("%1: %2").arg(to_string(amount)).arg(away[200])));
            QVERIFY2(away[380] < 1.5,
                     qPrintable(QStringLiteral("%1: %2").arg(to_string(amount)).arg(away[380])));
        }
    }

    void eachAmountHoldsMoreBlackThanTheOneBefore()
    {
        constexpr std::array amounts = {BlackAmount::Least, BlackAmount::Light, BlackAmount::Medium,
                                        BlackAmount::Heavy, BlackAmount::Most};
        std::vector<std::shared_ptr<const ColourTable>> tables;
        for (const BlackAmount amount : amounts) {
            tables.push_back(table(amount));
        }
        for (const std::array<double, 3> &rgb :
             {std::array<double, 3>{0.5, 0.5, 0.5}, {0.25, 0.25, 0.25}, {0.5, 0.3, 0.25}, {0.2, 0.35, 0.5}}) {
            double before = -1;
            for (const auto &one : tables) {
                const auto black = static_cast<double>(one->at(rgb)[3]);
                QVERIFY2(black > before - 0.005, qPrintable(QString::number(black)));
                before = black;
            }
        }
        // A middle grey: no black at all, or hardly anything else.
        const std::array<double, 3> grey = {0.5, 0.5, 0.5};
        QVERIFY(tables.front()->at(grey)[3] < 0.02f);
        const ColourTable::Tones most = tables.back()->at(grey);
        QVERIFY(std::min({most[0], most[1], most[2]}) < 0.05f && most[3] > 0.5f);
        // Where one of the three is bare there is no grey to take the place of.
        QVERIFY(tables.back()->at({1, 1, 0})[3] < 0.01f);
    }

    void theInkLimitHolds()
    {
        for (const BlackAmount amount : {BlackAmount::AsProfile, BlackAmount::Least}) {
            const auto made = table(amount, 2.4);
            double largest = 0;
            for (int r = 0; r <= 8; ++r) {
                for (int g = 0; g <= 8; ++g) {
                    for (int b = 0; b <= 8; ++b) {
                        largest = std::max(largest, total(cmyk_of(made->at({r / 8.0, g / 8.0, b / 8.0}))));
                    }
                }
            }
            QVERIFY2(largest < 2.4 + 0.001, qPrintable(QString::number(largest)));
            QVERIFY(largest > 2.0);
            QVERIFY(differences(*made)[300] < 1.0); // most colours need no change
        }
    }

    void stoppingIsHeard()
    {
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(
            black_table(*ProcessProfile::fogra39(), {BlackAmount::Most, 4}, JobControl(stop)).error().code,
            ErrorCode::Cancelled);
    }

    void namesGoBackAndForth()
    {
        for (const BlackAmount amount : all_black_amounts) {
            const auto read = parse_black_amount(to_string(amount));
            QVERIFY(read && *read == amount);
        }
        QVERIFY(!parse_black_amount("plenty"));
    }
};

BICHROM_TEST(TestBlackGeneration, QCoreApplication)
#include "tst_black_generation.moc"
