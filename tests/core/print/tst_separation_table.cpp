// What an artist asks of single inks of a separation: kept by the table, the others taking their place.
#include "core/print/separation_table.h"

#include "core/colour/colour_difference.h"
#include "core/colour/spaces.h"

#include "support/layered_print.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;

namespace {

/// White, red, yellow, blue for a dark shirt.
std::vector<SolvedInk> shirt_inks()
{
    return {{{}, 0}, {}, {}, {}};
}
constexpr std::size_t red = 1, yellow = 2, blue = 3;

InkSolver on_shirt(std::vector<SolvedInk> inks, double limit = 0)
{
    const Bands paper = without_floor({96, 0, 0}, 0);
    const auto ink = [&](const Lab &solid) { return scattering_film(without_floor(solid, 0), paper, 0.35); };
    return film_solver(without_floor({14, 0, -2}, 0),
                       {scattering_film(paper, without_floor({100, 0, 0}, 0), 3), ink({45, 50, 42}),
                        ink({75, 12, 65}), ink({38, -5, -40})},
                       std::move(inks), limit);
}

constexpr int n = ColourTable::nodes;

/// Calls \p look(colour wished, tones) for each node.
template <typename Look> void each_node(const ColourTable &table, Look look)
{
    for (int r = 0; r < n; ++r) {
        for (int g = 0; g < n; ++g) {
            for (int b = 0; b < n; ++b) {
                const std::array<double, 3> rgb = {r / (n - 1.0), g / (n - 1.0), b / (n - 1.0)};
                look(srgb_to_lab(rgb), table.at(rgb));
            }
        }
    }
}

SeparationTable made(const InkSolver &solver)
{
    const auto free = solve_lattice(solver);
    return table_of(solver, **held_lattice(solver, *free));
}

} // namespace

class TestSeparationTable : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void rangesOfHuesAreReadAndShared_data()
    {
        QTest::addColumn<QString>("text");
        QTest::addColumn<bool>("good");
        QTest::addColumn<double>("middle");
        QTest::addColumn<double>("width");
        QTest::newRow("a range") << "30-90" << true << 60.0 << 60.0;
        QTest::newRow("over the end of the circle") << "340-40" << true << 10.0 << 60.0;
        QTest::newRow("all") << "all" << true << 0.0 << 360.0;
        QTest::newRow("too narrow") << "30-40" << false << 0.0 << 0.0;
        QTest::newRow("no number") << "red-90" << false << 0.0 << 0.0;
        QTest::newRow("beyond the circle") << "30-400" << false << 0.0 << 0.0;
        QTest::newRow("one hue") << "30" << false << 0.0 << 0.0;
        QTest::newRow("nothing") << "" << false << 0.0 << 0.0;
    }
    void rangesOfHuesAreReadAndShared()
    {
        QFETCH(QString, text);
        QFETCH(bool, good);
        const auto hold = parse_hues(text.toStdString());
        QCOMPARE(bool(hold), good);
        if (!good) {
            return;
        }
        QFETCH(double, middle);
        QFETCH(double, width);
        QCOMPARE(hold->middle, middle);
        QCOMPARE(hold->width, width);
        const auto at = [&](double hue, double chroma) {
            return hold->share(
                {60, chroma * std::cos(hue * M_PI / 180), chroma * std::sin(hue * M_PI / 180)});
        };
        QVERIFY(at(middle, 50) > 0.999);
        if (hold->holds()) {
            QCOMPARE(at(middle + 180, 50), 0.0);
            QVERIFY(at(middle + width / 2 - 1, 50) > 0.999);
            QVERIFY(std::fabs(at(middle + width / 2 + HueHold::soft / 2, 50) - 0.5) < 0.01);
            QCOMPARE(at(middle, 2), 0.0); // greys have no hue
        } else {
            QCOMPARE(at(0, 0), 1.0);
        }
    }

    void aHeldInkPrintsInItsHuesAndTheOthersTakeItsPlace()
    {
        std::vector<SolvedInk> inks = shirt_inks();
        const SeparationTable plain = made(on_shirt(inks));
        inks[red].hues = {40, 60}; // 10° to 70°
        const InkSolver solver = on_shirt(inks);
        const SeparationTable held = made(solver);
        const LightnessReach reach = reach_of(solver.free());
        int outside = 0, inside = 0;
        double before = 0, cut = 0, now = 0;
        int compared = 0;
        std::vector<ColourTable::Tones> was;
        each_node(*plain.table, [&](const Lab &, const ColourTable::Tones &tones) { was.push_back(tones); });
        std::size_t node = 0;
        each_node(*held.table, [&](const Lab &wish, const ColourTable::Tones &tones) {
            const ColourTable::Tones &free = was[node++];
            const double share = inks[red].hues.share(wish);
            QVERIFY(static_cast<double>(tones[red]) <= share + 0.002);
            outside += share == 0 ? 1 : 0;
            inside += share == 1 && tones[red] > 0.3F ? 1 : 0;
            if (share == 0 && free[red] > 0.2F) { // red would have printed there
                const auto away = [&](const std::vector<double> &at) {
                    return ciede2000(reach.within(wish), solver.print().colour(at));
                };
                std::vector<double> all, without, solved;
                for (std::size_t k = 0; k < inks.size(); ++k) {
                    all.push_back(static_cast<double>(free[k]));
                    without.push_back(k == red ? 0.0 : all.back());
                    solved.push_back(static_cast<double>(tones[k]));
                }
                before += away(all);
                cut += away(without);
                now += away(solved);
                ++compared;
            }
        });
        QVERIFY(outside > 10000 && inside > 500 && compared > 1000);
        qInfo("mean ΔE00 where red is held off: %.2f with it, %.2f cut away, %.2f solved anew",
              before / compared, cut / compared, now / compared);
        QVERIFY(now < 0.8 * cut); // else a mask would do
    }

    void inksKeptApartNeverShareANode()
    {
        std::vector<SolvedInk> inks = shirt_inks();
        inks[yellow].never_with = {blue};
        const SeparationTable apart = made(on_shirt(inks));
        int yellows = 0, blues = 0;
        each_node(*apart.table, [&](const Lab &, const ColourTable::Tones &tones) {
            QVERIFY(std::min(tones[yellow], tones[blue]) < 0.5F / 255);
            yellows += tones[yellow] > 0.2F ? 1 : 0;
            blues += tones[blue] > 0.2F ? 1 : 0;
        });
        QVERIFY(yellows > 1000 && blues > 1000);
        const Solution green = on_shirt(inks).solve({50, -30, 10});
        QCOMPARE(std::min(green.coverage[yellow], green.coverage[blue]), 0.0);
    }

    void strengthAndCurveComeLastAndTheLimitHolds()
    {
        std::vector<SolvedInk> inks = shirt_inks();
        constexpr double limit = 1.5;
        const InkSolver plain_solver = on_shirt(inks, limit);
        const auto free = *solve_lattice(plain_solver);
        const SeparationTable plain = table_of(plain_solver, *free);
        QCOMPARE(plain.limited, 0.0);
        inks[blue].strength = 0.5;
        inks[red].after = *ToneCurve::through({{0, 0}, {0.5, 0.3}, {1, 0.8}});
        const SeparationTable thinner = table_of(on_shirt(inks, limit), *free);
        QCOMPARE(thinner.limited, 0.0);
        std::vector<ColourTable::Tones> was;
        each_node(*plain.table, [&](const Lab &, const ColourTable::Tones &tones) { was.push_back(tones); });
        std::size_t node = 0;
        each_node(*thinner.table, [&](const Lab &, const ColourTable::Tones &tones) {
            const ColourTable::Tones &before = was[node++];
            QVERIFY(std::fabs(tones[blue] - before[blue] / 2) < 1e-4F);
            QVERIFY(std::fabs(static_cast<double>(tones[red]) -
                              inks[red].after.at(static_cast<double>(before[red]))) < 1e-4);
            QVERIFY(std::fabs(tones[yellow] - before[yellow]) < 1e-4F);
        });
        inks[blue].strength = 2;
        const SeparationTable stronger = table_of(on_shirt(inks, limit), *free);
        QVERIFY(stronger.limited > 0.01);
        QVERIFY(stronger.steepest[blue] > plain.steepest[blue]);
        each_node(*stronger.table, [&](const Lab &, const ColourTable::Tones &tones) {
            QVERIFY(static_cast<double>(tones[0] + tones[1] + tones[2] + tones[3]) <= limit + 0.002);
        });
    }

    void dotsThatDoNotHoldAreAvoided()
    {
        std::vector<SolvedInk> inks = shirt_inks();
        constexpr double least = 0.08;
        const auto small = [&](const SeparationTable &table) {
            int count = 0;
            each_node(*table.table, [&](const Lab &, const ColourTable::Tones &tones) {
                for (std::size_t k = 0; k < inks.size(); ++k) {
                    const double tone = static_cast<double>(tones[k]);
                    count += tone > 0.25 * least && tone < 0.85 * least ? 1 : 0;
                }
            });
            return count;
        };
        const InkSolver plain = on_shirt(inks);
        const int before = small(made(plain));
        for (SolvedInk &ink : inks) {
            ink.least = least;
        }
        const InkSolver avoiding = on_shirt(inks);
        const int after = small(made(avoiding));
        qInfo("tones between bare and the smallest dot: %d, %d when they are avoided", before, after);
        QVERIFY(after * 3 < before * 2);
        // It costs little colour.
        double worse = 0;
        int colours = 0;
        for (double l = 20; l <= 90; l += 7) {
            for (double hue = 0; hue < 360; hue += 30) {
                const Lab wish{l, 25 * std::cos(hue * M_PI / 180), 25 * std::sin(hue * M_PI / 180)};
                worse += avoiding.solve(wish).difference - plain.solve(wish).difference;
                ++colours;
            }
        }
        QVERIFY2(worse / colours < 0.7, qPrintable(QString::number(worse / colours)));
    }

    void whatIsAskedOfOneInkIsSolvedQuickly()
    {
        // Nodes that keep to it stay, bit for bit.
        std::vector<SolvedInk> inks = shirt_inks();
        const auto free = *solve_lattice(on_shirt(inks));
        inks[red].hues = {40, 200};
        const auto held = *held_lattice(on_shirt(inks), free);
        std::size_t same = 0;
        for (std::size_t node = 0; node < free->coverage.size(); ++node) {
            same += free->coverage[node] == held->coverage[node] ? 1 : 0;
        }
        qInfo("%.0f %% of the nodes stay", 100.0 * double(same) / double(free->coverage.size()));
        QVERIFY(same > free->coverage.size() / 5);
        QCOMPARE(held_lattice(on_shirt(shirt_inks()), free)->get(), free.get()); // nothing asked
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(held_lattice(on_shirt(inks), free, JobControl(stop)).error().code, ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestSeparationTable, QCoreApplication)
#include "tst_separation_table.moc"
