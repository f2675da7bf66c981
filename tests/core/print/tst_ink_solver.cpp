// Inks solved for: back to tones that are known, and colours that are asked for.
#include "core/print/separation_table.h"

#include "core/colour/colour_difference.h"

#include "support/layered_print.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <numeric>
#include <random>

using namespace bichrom;

namespace {

const Bands &paper()
{
    static const Bands bands = without_floor({95, 0, -2}, 0);
    return bands;
}

InkFilm transparent(const Lab &solid)
{
    return transparent_film(without_floor(solid, 0), paper());
}

/// Black, cyan, magenta and yellow as on coated paper, with these gains.
InkSolver process_solver(const ToneCurve &gain = {}, double ink_limit = 0)
{
    return film_solver(paper(),
                       {transparent({16, 0, 0}), transparent({55, -37, -50}), transparent({48, 74, -3}),
                        transparent({89, -5, 93})},
                       std::vector<SolvedInk>(4, {gain}), ink_limit);
}

/// White, rust, ochre and blue on a dark shirt.
InkSolver shirt_solver(double ink_limit = 0, const Lab &shirt = {14, 0, -2})
{
    const Bands shirt_paper = without_floor({96, 0, 0}, 0);
    const auto ink = [&](const Lab &solid) {
        return scattering_film(without_floor(solid, 0), shirt_paper, 0.35);
    };
    return film_solver(without_floor(shirt, 0),
                       {scattering_film(shirt_paper, without_floor({100, 0, 0}, 0), 3), ink({45, 50, 42}),
                        ink({75, 12, 65}), ink({38, -5, -40})},
                       {{{}, 0}, {}, {}, {}}, ink_limit);
}

} // namespace

class TestInkSolver : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void coloursOfKnownTonesAreFoundAgain()
    {
        const InkSolver solver = process_solver();
        std::mt19937 random(4);
        std::uniform_real_distribution<double> tone(0, 1);
        std::vector<double> differences;
        for (int i = 0; i < 300; ++i) {
            const std::vector<double> tones = {tone(random), tone(random), tone(random), tone(random)};
            const Lab target = solver.print().colour(tones);
            const Solution found = solver.solve(target);
            for (const double c : found.coverage) {
                QVERIFY(c >= 0 && c <= 1);
            }
            QVERIFY(std::fabs(ciede2000(solver.print().colour(found.coverage), target) - found.difference) <
                    1e-9);
            differences.push_back(found.difference);
        }
        std::sort(differences.begin(), differences.end());
        QVERIFY2(differences[150] < 0.3, qPrintable(QString::number(differences[150])));
        QVERIFY2(differences[285] < 1.0, qPrintable(QString::number(differences[285])));
    }

    void theBareStockNeedsNoInk()
    {
        const InkSolver solver = process_solver();
        for (const double c : solver.solve({95, 0, -2}).coverage) {
            QVERIFY(c < 0.01);
        }
    }

    void aShirtNeedsWhiteUnderLightColours()
    {
        const InkSolver solver = shirt_solver();
        const Solution ochre = solver.solve({75, 12, 65});
        // As good as the ink's own solid on the white, which on a shirt is darker than on paper.
        const std::vector<double> solid = {1, 0, 1, 0};
        QVERIFY(ochre.difference < ciede2000(solver.print().colour(solid), {75, 12, 65}) + 0.1);
        QVERIFY(ochre.coverage[0] > 0.8 && ochre.coverage[2] > 0.8);
        const Solution grey = solver.solve({60, 0, 0});
        QVERIFY(grey.difference < 1.5);
        // Greys come from white on the shirt, with next to no colour.
        QVERIFY(grey.coverage[0] > 0.3 && grey.coverage[1] + grey.coverage[2] + grey.coverage[3] < 0.25);
        const Solution black = solver.solve({14, 0, -2});
        QVERIFY(black.coverage[0] < 0.02); // the shirt itself
    }

    void noSolutionHoldsMoreInkThanTheLimit()
    {
        const InkSolver free = process_solver();
        const double limit = 2.2;
        const InkSolver limited = process_solver({}, limit);
        std::mt19937 random(9);
        std::uniform_real_distribution<double> tone(0, 1);
        int touched = 0;
        for (int i = 0; i < 200; ++i) {
            std::vector<double> tones = {tone(random), tone(random), tone(random), tone(random)};
            if (i % 2 == 0) {
                for (double &one : tones) {
                    one = 1 - 0.1 * one; // deep shadows
                }
            }
            const Lab target = free.print().colour(tones);
            const auto sum = [](const Solution &found) {
                return std::accumulate(found.coverage.begin(), found.coverage.end(), 0.0);
            };
            const Solution without = free.solve(target);
            const Solution within = limited.solve(target);
            QVERIFY(sum(within) <= limit + 1e-9);
            touched += sum(without) > limit ? 1 : 0;
            // A colour that needs no more is printed as before, another no worse than when its inks are
            // scaled.
            std::vector<double> scaled = without.coverage;
            for (double &one : scaled) {
                one *= std::min(1.0, limit / sum(without));
            }
            QVERIFY2(within.difference <= ciede2000(free.print().colour(scaled), target) + 0.3,
                     qPrintable(QString::number(i)));
        }
        QVERIFY(touched > 20);
    }

    void aLimitedTableStaysWithin()
    {
        const double limit = 1.6;
        const InkSolver solver = shirt_solver(limit, {20, 0, 0});
        const auto table = separation_table(solver);
        QVERIFY(table);
        double most = 0;
        for (int r = 0; r <= 16; ++r) {
            for (int g = 0; g <= 16; ++g) {
                for (int b = 0; b <= 16; ++b) {
                    const auto tones = (*table)->at({r / 16.0, g / 16.0, b / 16.0});
                    most = std::max(most, std::accumulate(tones.begin(), tones.begin() + 4, 0.0));
                }
            }
        }
        QVERIFY2(most <= limit + 1e-4, qPrintable(QString::number(most)));
        QVERIFY(most > limit - 0.05); // it is made use of
    }

    void aTableSeparatesEvenly()
    {
        const InkSolver solver = shirt_solver();
        const auto table = separation_table(solver);
        QVERIFY(bool(table));
        // Along the grey axis and along a slow turn of hue: no jump, and greys stay grey.
        const double dark = solver.print().colour(std::vector<double>{0, 0, 0, 0}).l;
        double largest_jump = 0;
        ColourTable::Tones before{};
        double before_l = -1;
        for (int i = 0; i <= 255; ++i) {
            const double v = i / 255.0;
            const ColourTable::Tones tones = (*table)->at({v, v, v});
            std::vector<double> coverage(tones.begin(), tones.begin() + 4);
            const Lab seen = solver.print().colour(coverage);
            QVERIFY2(std::hypot(seen.a, seen.b) < 4.0,
                     qPrintable(QStringLiteral("%1: %2 %3 %4").arg(i).arg(seen.l).arg(seen.a).arg(seen.b)));
            QVERIFY2(seen.l > before_l - 0.3, qPrintable(QString::number(i))); // lighter all the way
            for (std::size_t k = 0; i > 0 && k < 4; ++k) {
                largest_jump = std::max(largest_jump, std::fabs(static_cast<double>(tones[k] - before[k])));
            }
            before = tones;
            before_l = seen.l;
        }
        QVERIFY(before_l > 85 && dark < 20);
        QVERIFY2(largest_jump < 0.06, qPrintable(QString::number(largest_jump)));
    }

    /// A picture's ramp through the middle of the cube, in 64 directions: from one value of 8 bits to the
    /// next an ink moves by 3 of 255 at most nearly everywhere. Most steps are where a colour leaves what the
    /// inks reach; the limits are what was reached, rounded up.
    void rampsHaveNoSteps_data()
    {
        QTest::addColumn<bool>("dark");
        QTest::addColumn<double>("most");  // of 255
        QTest::addColumn<double>("share"); // of steps over 3
        QTest::newRow("process inks on paper") << false << 7.0 << 0.05;
        QTest::newRow("white and three inks on a shirt") << true << 13.0 << 0.08;
    }
    void rampsHaveNoSteps()
    {
        QFETCH(bool, dark);
        const InkSolver solver = dark ? shirt_solver() : process_solver();
        const auto table = separation_table(solver);
        QVERIFY(bool(table));
        double largest = 0;
        int over = 0, all = 0;
        QString where;
        for (int direction = 0; direction < 64; ++direction) {
            // Evenly over the half sphere by the golden angle.
            const double up = (direction + 0.5) / 64;
            const double turn = direction * 2.399963229728653;
            std::array<double, 3> d = {std::sqrt(1 - up * up) * std::cos(turn),
                                       std::sqrt(1 - up * up) * std::sin(turn), up};
            const double longest = std::max({std::fabs(d[0]), std::fabs(d[1]), std::fabs(d[2])});
            ColourTable::Tones before{};
            for (int i = 0; i <= 255; ++i) {
                const double t = (i / 255.0 - 0.5) / longest;
                const ColourTable::Tones tones =
                    (*table)->at({0.5 + t * d[0], 0.5 + t * d[1], 0.5 + t * d[2]});
                for (std::size_t k = 0; i > 0 && k < 4; ++k) {
                    const double step = std::fabs(static_cast<double>(tones[k] - before[k])) * 255;
                    ++all;
                    over += step > 3 ? 1 : 0;
                    if (step > largest) {
                        largest = step;
                        where = QStringLiteral("ink %1, direction %2, step %3").arg(k).arg(direction).arg(i);
                    }
                }
                before = tones;
            }
        }
        qInfo("largest step %.2f/255 (%s), over 3: %d of %d", largest, qPrintable(where), over, all);
        QFETCH(double, most);
        QFETCH(double, share);
        QVERIFY(largest <= most);
        QVERIFY(over <= share * all);
    }

    void bytesAreTheTableRounded()
    {
        std::vector<ColourTable::Tones> nodes(std::size_t(ColourTable::nodes) * ColourTable::nodes *
                                              ColourTable::nodes);
        constexpr int last = ColourTable::nodes - 1;
        for (std::size_t i = 0; i < nodes.size(); ++i) {
            const auto b = static_cast<float>(i % ColourTable::nodes) / last;
            const auto g = static_cast<float>(i / ColourTable::nodes % ColourTable::nodes) / last;
            const auto r = static_cast<float>(i / ColourTable::nodes / ColourTable::nodes) / last;
            nodes[i] = {r, g, b, (r + g + b) / 3, r * g, 1 - r};
        }
        const ColourTable table(6, nodes);
        std::mt19937 random(5);
        for (int i = 0; i < 5000; ++i) {
            const std::array<std::uint8_t, 3> rgb = {static_cast<std::uint8_t>(random()),
                                                     static_cast<std::uint8_t>(random()),
                                                     static_cast<std::uint8_t>(random())};
            std::array<std::uint8_t, 6> tones{};
            table.convert(rgb.data(), tones.data(), 1);
            // What is affine is exact; the product only nearly so, between nodes.
            for (std::size_t k = 0; k < 3; ++k) {
                QCOMPARE(tones[k], rgb[k]);
            }
            QCOMPARE(tones[5], static_cast<std::uint8_t>(255 - rgb[0]));
            QVERIFY(std::abs(tones[3] * 3 - rgb[0] - rgb[1] - rgb[2]) <= 2);
            QVERIFY(std::abs(tones[4] - rgb[0] * rgb[1] / 255.0) < 1.0);
            const ColourTable::Tones exact = table.at({rgb[0] / 255.0, rgb[1] / 255.0, rgb[2] / 255.0});
            for (std::size_t k = 0; k < 6; ++k) {
                QVERIFY(std::fabs(static_cast<double>(exact[k]) * 255 - tones[k]) < 0.6);
            }
        }
    }

    void gainIsTakenOutAndStoppingIsHeard()
    {
        const InkSolver plain = process_solver();
        const auto curve = ToneCurve::through({{0, 0}, {0.25, 0.36}, {0.5, 0.65}, {0.75, 0.86}, {1, 1}});
        const InkSolver gaining = process_solver(*curve);
        const auto without = separation_table(plain);
        const auto with = separation_table(gaining);
        QVERIFY(bool(without) && bool(with));
        // Grey in a node of the lattice, where nothing is interpolated.
        const std::array<double, 3> grey = {0.5, 0.5, 0.5};
        for (std::size_t k = 0; k < 4; ++k) {
            const double tone = static_cast<double>((*with)->at(grey)[k]);
            QVERIFY(std::fabs(curve->at(tone) - static_cast<double>((*without)->at(grey)[k])) < 0.001);
        }
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(separation_table(plain, JobControl(stop)).error().code, ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestInkSolver, QCoreApplication)
#include "tst_ink_solver.moc"
