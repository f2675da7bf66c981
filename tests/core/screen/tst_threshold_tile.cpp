#include "core/screen/threshold_tile.h"

#include "core/screen/halftone.h"
#include "core/screen/tile_store.h"
#include "support/mini_pdf.h"
#include "support/spectrum.h"
#include "support/test_program.h"

#include <QtTest>

#include <algorithm>
#include <cmath>
#include <complex>
#include <numbers>
#include <numeric>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// A flat tint of \p share, 0 to 1, straight from the thresholds; row by row, 1 = ink.
std::vector<std::uint8_t> tint(const ThresholdTile &tile, int side, double share, int x0 = 0, int y0 = 0)
{
    std::vector<std::uint8_t> film;
    const auto tone = static_cast<std::uint32_t>(std::lround(share * 65536));
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            const auto at = static_cast<std::size_t>(tile.lattice.number(x0 + x, y0 + y));
            film.push_back(tone > tile.thresholds[at] ? 1 : 0);
        }
    }
    return film;
}

/// The ink of a tint, weighted by a Hann window so that dots cut at the border count little.
double weighed(const std::vector<std::uint8_t> &film, int side)
{
    std::vector<double> window;
    for (int i = 0; i < side; ++i) {
        window.push_back(0.5 - 0.5 * std::cos(2 * std::numbers::pi * (i + 0.5) / side));
    }
    double ink = 0, all = 0;
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            const double weight = window[static_cast<std::size_t>(x)] * window[static_cast<std::size_t>(y)];
            all += weight;
            ink += film[static_cast<std::size_t>(y * side + x)] * weight;
        }
    }
    return ink / all;
}

/// Rms in percent of coverage of a tint blurred by a Gaussian of \p sigma pixels, far from the border.
double unevenness(const std::vector<std::uint8_t> &film, int side, double sigma)
{
    const int reach = static_cast<int>(std::ceil(3.5 * sigma));
    std::vector<double> kernel;
    double sum = 0;
    for (int i = -reach; i <= reach; ++i) {
        kernel.push_back(std::exp(-i * i / (2 * sigma * sigma)));
        sum += kernel.back();
    }
    const auto at = [&](int x, int y) { return static_cast<std::size_t>(y * side + x); };
    std::vector<double> rows(film.size(), 0);
    double mean = 0, square = 0;
    int count = 0;
    for (int y = 0; y < side; ++y) {
        for (int x = reach; x < side - reach; x += 3) {
            double value = 0;
            for (int i = -reach; i <= reach; ++i) {
                value += kernel[static_cast<std::size_t>(i + reach)] * film[at(x + i, y)];
            }
            rows[at(x, y)] = value / sum;
        }
    }
    for (int y = reach; y < side - reach; y += 3) {
        for (int x = reach; x < side - reach; x += 3) {
            double value = 0;
            for (int i = -reach; i <= reach; ++i) {
                value += kernel[static_cast<std::size_t>(i + reach)] * rows[at(x, y + i)];
            }
            value /= sum;
            mean += value;
            square += value * value;
            ++count;
        }
    }
    mean /= count;
    return 100 * std::sqrt(std::max(0.0, square / count - mean * mean));
}

/// Sizes in pixels of the connected patches of ink that do not touch the border, four neighbours.
std::vector<int> patches(std::vector<std::uint8_t> film, int side, std::uint8_t ink)
{
    std::vector<int> sizes;
    std::vector<int> stack;
    for (int start = 0; start < side * side; ++start) {
        if (film[static_cast<std::size_t>(start)] != ink) {
            continue;
        }
        int size = 0;
        bool at_border = false;
        stack = {start};
        film[static_cast<std::size_t>(start)] = 2;
        while (!stack.empty()) {
            const int place = stack.back();
            stack.pop_back();
            ++size;
            const int x = place % side, y = place / side;
            at_border = at_border || x == 0 || y == 0 || x == side - 1 || y == side - 1;
            for (const auto &[dx, dy] : {std::pair(1, 0), {-1, 0}, {0, 1}, {0, -1}}) {
                if (x + dx < 0 || x + dx >= side || y + dy < 0 || y + dy >= side) {
                    continue;
                }
                const int next = place + dx + dy * side;
                if (film[static_cast<std::size_t>(next)] == ink) {
                    film[static_cast<std::size_t>(next)] = 2;
                    stack.push_back(next);
                }
            }
        }
        if (!at_border) {
            sizes.push_back(size);
        }
    }
    return sizes;
}

std::shared_ptr<const ThresholdTile> made(const Screen &screen, double dpi)
{
    return take(threshold_tile(screen, Dpi(dpi)));
}

} // namespace

class TestThresholdTile : public QObject
{
    Q_OBJECT

    QTemporaryDir m_cache;

private Q_SLOTS:
    void initTestCase()
    {
        qputenv("XDG_CACHE_HOME", m_cache.path().toUtf8()); // what is tested is made, not found
    }

    void tilesAreKeptAndReadBackWhole()
    {
        const RepeatingLattice lattice({20, 7});
        std::vector<std::uint16_t> thresholds(static_cast<std::size_t>(lattice.width() * lattice.height()));
        std::iota(thresholds.begin(), thresholds.end(), std::uint16_t(3));
        QVERIFY(!kept_thresholds("a key", lattice));
        keep_thresholds("a key", lattice, thresholds);
        QVERIFY(kept_thresholds("a key", lattice) == thresholds);
        QVERIFY(!kept_thresholds("another key", lattice));
        QVERIFY(!kept_thresholds("a key", RepeatingLattice({7, 19})));
        // Damaged or cut: made anew.
        QDirIterator files(m_cache.path(), {QStringLiteral("*.tile")}, QDir::Files,
                           QDirIterator::Subdirectories);
        QFile file(files.next());
        QVERIFY(file.open(QIODevice::ReadWrite));
        file.seek(file.size() - 3);
        file.write("\x7f");
        file.close();
        QVERIFY(!kept_thresholds("a key", lattice));
        QVERIFY(file.resize(file.size() / 2));
        QVERIFY(!kept_thresholds("a key", lattice));
        qputenv("XDG_CACHE_HOME", "/proc/no folder can be made here");
        keep_thresholds("a key", lattice, thresholds); // nothing happens
        QVERIFY(!kept_thresholds("a key", lattice));
        qputenv("XDG_CACHE_HOME", m_cache.path().toUtf8());
    }

    void aLatticeRepeatsAtItsStepAndTurned()
    {
        for (const LatticeStep step : {LatticeStep{5, 3}, {12, 0}, {7, 7}, {-4, 6}, {3, -11}, {0, 9}}) {
            const RepeatingLattice lattice(step);
            QCOMPARE(lattice.width() * lattice.height(), step.norm());
            std::vector<int> seen(static_cast<std::size_t>(step.norm()), 0);
            for (int y = -30; y < 30; ++y) {
                for (int x = -30; x < 30; ++x) {
                    const std::int64_t number = lattice.number(x, y);
                    QVERIFY(number >= 0 && number < step.norm());
                    ++seen[static_cast<std::size_t>(number)];
                    QCOMPARE(lattice.number(x + step.x, y + step.y), number);
                    QCOMPARE(lattice.number(x - step.y, y + step.x), number);
                }
            }
            QVERIFY(std::all_of(seen.begin(), seen.end(), [](int count) { return count > 0; }));
        }
    }

    void voidAndClusterTakesEveryPlaceOnceAndEvenly()
    {
        const RepeatingLattice lattice({31, 12});
        const std::vector<std::uint32_t> ranks = void_and_cluster(lattice);
        std::vector<std::uint32_t> sorted = ranks;
        std::sort(sorted.begin(), sorted.end());
        for (std::size_t i = 0; i < sorted.size(); ++i) {
            QCOMPARE(sorted[i], static_cast<std::uint32_t>(i));
        }
        QVERIFY(ranks == void_and_cluster(lattice));
        // Of the first eighth no two are neighbours, as they often would be by chance.
        const auto few = static_cast<std::uint32_t>(ranks.size() / 8);
        for (std::int64_t y = 0; y < 40; ++y) {
            for (std::int64_t x = 0; x < 40; ++x) {
                const bool here = ranks[static_cast<std::size_t>(lattice.number(x, y))] < few;
                const bool beside = ranks[static_cast<std::size_t>(lattice.number(x + 1, y))] < few;
                QVERIFY(!here || !beside);
            }
        }
    }

    void fortySettingsAreTrueAndLinear_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::addColumn<double>("lpi");
        QTest::addColumn<double>("angle");
        // Cells of 8, 10 and 16 pixels, those nearly so, and the axes.
        for (const auto &[dpi, lpi, angle] : {std::tuple(600.0, 75.0, 0.0),
                                              {600.0, 60.0, 0.0},
                                              {1200.0, 75.0, 0.0},
                                              {600.0, 85.0, 45.0},
                                              {1200.0, 120.0, 0.0},
                                              {2400.0, 150.0, 45.0},
                                              {600.0, 65.0, 45.0},
                                              {1200.0, 55.0, 22.5}}) {
            QTest::addRow("%g lpi %g deg at %g dpi", lpi, angle, dpi) << dpi << lpi << angle;
        }
        std::mt19937 random(40);
        for (int i = 0; i < 32; ++i) {
            const double dpi = std::array{600.0, 1200.0, 2400.0}[random() % 3];
            const double lpi = std::uniform_real_distribution<>(dpi / 24, dpi / 8)(random);
            const double angle = std::uniform_real_distribution<>(0, 90)(random);
            QTest::addRow("%.2f lpi %.2f deg at %g dpi", lpi, angle, dpi) << dpi << lpi << angle;
        }
    }
    void fortySettingsAreTrueAndLinear()
    {
        QFETCH(double, dpi);
        QFETCH(double, lpi);
        QFETCH(double, angle);
        static int number = 0;
        const DotShape dot = all_dot_shapes[static_cast<std::size_t>(number++ % 5)];
        const auto tile = made({Lpi(lpi), Degrees(angle), dot}, dpi);
        QVERIFY2(std::fabs(tile->lpi - lpi) <= 0.05, qPrintable(QString::number(tile->lpi)));
        QVERIFY(std::fabs(std::remainder(tile->angle - angle, 90)) <= 0.05);
        const int side = 512;
        double uneven = 0;
        const double shares[] = {0.03, 0.12, 0.3, 0.5, 0.62, 0.85};
        for (const double share : shares) {
            const auto film = tint(*tile, side, share);
            // Of the whole tile, and of any window that is large against the cell.
            std::size_t ink = 0;
            for (const std::uint16_t threshold : tile->thresholds) {
                ink += share * 65536 > threshold ? 1 : 0;
            }
            QVERIFY(std::fabs(static_cast<double>(ink) / static_cast<double>(tile->thresholds.size()) -
                              share) <= 4e-5);
            QVERIFY2(std::fabs(weighed(film, side) - share) <= 0.002,
                     qPrintable(QStringLiteral("%1 %: %2").arg(share * 100).arg(weighed(film, side) * 100)));
            uneven += unevenness(film, side, dpi / lpi) / std::size(shares);
        }
        // Where a cell has few pixels they are the coarser.
        QVERIFY2(uneven <= (dpi / lpi < 10 ? 0.25 : 0.2), qPrintable(QString::number(uneven)));
        if (dot != DotShape::Line) {
            Bitmap film(1000, 1000);
            const auto pixels = tint(*tile, 1000, 0.3);
            for (int y = 0; y < 1000; ++y) {
                for (int x = 0; x < 1000; ++x) {
                    if (pixels[static_cast<std::size_t>(y * 1000 + x)] != 0) {
                        film.row(y)[x / 8] =
                            static_cast<std::uint8_t>(film.row(y)[x / 8] | (0x80 >> (x % 8)));
                    }
                }
            }
            const ScreenFound found = find_screen(film, dpi, lpi, angle, 1000);
            QVERIFY2(std::fabs(found.lpi - lpi) <= 0.05 * std::max(1.0, lpi / 55),
                     qPrintable(QString::number(found.lpi)));
            QVERIFY2(std::fabs(std::remainder(found.angle - angle, 90)) <= 0.05,
                     qPrintable(QString::number(found.angle)));
        }
    }

    void everyThresholdStandsAsOftenAsAnyOther()
    {
        for (const DotShape dot : all_dot_shapes) {
            const auto tile = made({Lpi(55), Degrees(22.5), dot}, 1200);
            std::vector<int> count(65536, 0);
            for (const std::uint16_t threshold : tile->thresholds) {
                ++count[threshold];
            }
            const auto [least, most] = std::minmax_element(count.begin(), count.end());
            QVERIFY(*most - *least <= 1);
        }
    }

    void aSlowRampHasEveryToneAndNoStep_data()
    {
        QTest::addColumn<double>("dpi");
        QTest::addColumn<double>("lpi");
        QTest::newRow("65 at 600") << 600.0 << 65.0;
        QTest::newRow("55 at 1200") << 1200.0 << 55.0;
        QTest::newRow("150 at 2400") << 2400.0 << 150.0;
    }
    void aSlowRampHasEveryToneAndNoStep()
    {
        QFETCH(double, dpi);
        QFETCH(double, lpi);
        // One 8-bit tone after the other: each adds its 255th, however few pixels a cell has.
        const Halftone screen = take(Halftone::make({Lpi(lpi), Degrees(45), DotShape::Round}, Dpi(dpi)));
        const auto tile = made({Lpi(lpi), Degrees(45), DotShape::Round}, dpi);
        std::vector<int> count(255, 0);
        for (std::int64_t y = 0; y < tile->lattice.height(); ++y) {
            for (std::int64_t x = 0; x < tile->lattice.width(); ++x) {
                ++count[screen.threshold_at(x + tile->lattice.shift(y), y)];
            }
        }
        const auto all = static_cast<double>(tile->thresholds.size());
        for (const int one : count) {
            QVERIFY2(std::fabs(one / all - 1.0 / 255) < 2e-5, qPrintable(QString::number(one / all)));
        }
    }

    void hybridDotsAndHolesKeepTheirLeastSize()
    {
        const int side = 900;
        const Screen screen{Lpi(55), Degrees(22.5), DotShape::Round, ScreenKind::Hybrid, 0.2, 20};
        const auto tile = made(screen, 1200);
        for (const double share : {0.005, 0.01, 0.03}) {
            for (const int size : patches(tint(*tile, side, share), side, 1)) {
                QVERIFY2(size >= 20, qPrintable(QStringLiteral("a dot of %1 at %2").arg(size).arg(share)));
            }
            for (const int size : patches(tint(*tile, side, 1 - share), side, 0)) {
                QVERIFY2(size >= 20, qPrintable(QStringLiteral("a hole of %1 at %2").arg(size).arg(share)));
            }
            QVERIFY(std::fabs(weighed(tint(*tile, side, share), side) - share) < 0.001);
        }
        // Plain dots get smaller than that.
        Screen plain = screen;
        plain.kind = ScreenKind::Am;
        const auto small = patches(tint(*made(plain, 1200), side, 0.01), side, 1);
        QVERIFY(*std::min_element(small.begin(), small.end()) < 20);
    }

    void fmHasNoLowFrequenciesAndWholeDots()
    {
        Screen screen;
        screen.kind = ScreenKind::Fm;
        for (const int dot : {1, 2, 3}) {
            screen.least_dot = dot;
            const auto tile = made(screen, 1200);
            QCOMPARE(tile->lattice.width(), std::int64_t(256 * dot));
            const int side = 256 * dot;
            const auto film = tint(*tile, side, 0.2);
            for (int y = 0; y < side; ++y) {
                for (int x = 0; x < side; ++x) {
                    QCOMPARE(film[static_cast<std::size_t>(y * side + x)],
                             film[static_cast<std::size_t>(y / dot * dot * side + x / dot * dot)]);
                }
            }
        }
        // Power below 0.05 cycles a pixel against that of white noise, which is a(1 − a) everywhere.
        screen.least_dot = 1;
        for (const double share : {0.1, 0.3, 0.5, 0.8}) {
            const auto film = tint(*made(screen, 1200), 256, share);
            double power = 0;
            int count = 0;
            for (int v = 0; v <= 12; ++v) {
                for (int u = -12; u <= 12; ++u) {
                    if ((u == 0 && v == 0) || std::hypot(u, v) > 0.05 * 256) {
                        continue;
                    }
                    std::complex<double> sum;
                    for (int y = 0; y < 256; ++y) {
                        for (int x = 0; x < 256; ++x) {
                            if (film[static_cast<std::size_t>(y * 256 + x)] != 0) {
                                sum += std::polar(1.0, 2 * std::numbers::pi * (u * x + v * y) / 256);
                            }
                        }
                    }
                    power += std::norm(sum) / (256.0 * 256.0);
                    ++count;
                }
            }
            const double white = share * (1 - share);
            QVERIFY2(power / count < 0.1 * white, qPrintable(QString::number(power / count / white)));
        }
    }

    void withoutHalftoneHalfATonIsInk()
    {
        Screen screen;
        screen.kind = ScreenKind::None;
        const Halftone plain = take(Halftone::make(screen, Dpi(1200)));
        for (int tone = 0; tone < 256; ++tone) {
            QCOMPARE(tone > plain.threshold_at(tone * 7, tone), tone >= 128);
        }
    }

    void sameSettingsAreMadeOnce()
    {
        const Screen screen{Lpi(47), Degrees(30), DotShape::Diamond};
        QVERIFY(made(screen, 1200) == made(screen, 1200));
        Screen fm = screen;
        fm.kind = ScreenKind::Fm;
        QVERIFY(made(fm, 1200) == made(fm, 600)); // its dots are pixels
    }
};

BICHROM_TEST(TestThresholdTile, QCoreApplication)
#include "tst_threshold_tile.moc"
