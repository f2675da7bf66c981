// Dots of one ink each: nearest colours, and light that is kept on average.
#include "core/colour/index_dots.h"

#include "support/test_program.h"

#include <QtTest>

#include <cmath>

using namespace bichrom;

namespace {

IndexGrid even_grid(int width, int height, const Lab &colour)
{
    IndexGrid grid{width, height, {}, {}};
    grid.wish.assign(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), lab_to_xyz(colour));
    return grid;
}

Xyz mean_of(const std::vector<std::uint8_t> &dots, const std::vector<IndexColour> &colours)
{
    Xyz mean{};
    for (const std::uint8_t dot : dots) {
        const Xyz light = lab_to_xyz(colours[dot].printed);
        for (std::size_t i = 0; i < 3; ++i) {
            mean[i] += std::sqrt(light[i]) / static_cast<double>(dots.size());
        }
    }
    for (double &root : mean) {
        root *= root;
    }
    return mean;
}

} // namespace

class TestIndexDots : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void aHandfulOfDotsByHand()
    {
        // Black and white, a wish of 40 % of the white's light in a row of three. By hand: 0.4 is L* 69,
        // nearer to white (ΔE 31) than to black: white. Its root is 0.632, so −0.368 is over; 7/16 of it to
        // the right: 0.471, squared 0.222, L* 54: white, −0.529 over; next 0.632 − 0.231 = 0.401, squared
        // 0.161, L* 47: black.
        const std::vector<IndexColour> colours = {{{0, 0, 0}, {}}, {{100, 0, 0}, {}}};
        IndexGrid grid{3, 1, {}, {}};
        for (int i = 0; i < 3; ++i) {
            grid.wish.push_back({0.4 * d50_white[0], 0.4 * d50_white[1], 0.4 * d50_white[2]});
        }
        const auto dots = index_dots(grid, colours, true);
        QVERIFY(bool(dots));
        QCOMPARE(*dots, (std::vector<std::uint8_t>{1, 1, 0}));
        QCOMPARE(*index_dots(grid, colours, false), (std::vector<std::uint8_t>{1, 1, 1}));
    }

    void lightIsKeptOnAverage_data()
    {
        QTest::addColumn<double>("l");
        QTest::addColumn<double>("a");
        QTest::addColumn<double>("b");
        QTest::newRow("dark grey") << 25.0 << 0.0 << 0.0;
        QTest::newRow("mid grey") << 50.0 << 0.0 << 0.0;
        QTest::newRow("light grey") << 85.0 << 0.0 << 0.0;
        QTest::newRow("dull rust") << 45.0 << 18.0 << 16.0;
        QTest::newRow("dull blue") << 45.0 << -2.0 << -14.0;
    }
    void lightIsKeptOnAverage()
    {
        QFETCH(double, l);
        QFETCH(double, a);
        QFETCH(double, b);
        const std::vector<IndexColour> colours = {
            {{10, 0, 0}, {}}, {{95, 0, 0}, {}}, {{45, 50, 42}, {}}, {{75, 12, 65}, {}}, {{38, -5, -40}, {}}};
        const Lab wish{l, a, b};
        const auto dots = index_dots(even_grid(200, 200, wish), colours, true);
        QVERIFY(bool(dots));
        const Xyz mean = mean_of(*dots, colours), wanted = lab_to_xyz(wish);
        for (std::size_t i = 0; i < 3; ++i) {
            QVERIFY2(std::fabs(mean[i] - wanted[i]) < 0.004,
                     qPrintable(QStringLiteral("%1: %2 of %3").arg(i).arg(mean[i]).arg(wanted[i])));
        }
        // Not diffused it is one colour.
        const auto even = index_dots(even_grid(20, 20, wish), colours, false);
        QVERIFY(
            std::all_of(even->begin(), even->end(), [&](std::uint8_t dot) { return dot == even->front(); }));
    }

    void whatCannotBeReachedIsNotPiledUp()
    {
        // A long stretch that no colour reaches, then a grey that they do: it starts where it should.
        const std::vector<IndexColour> colours = {{{20, 0, 0}, {}}, {{90, 0, 0}, {}}};
        IndexGrid grid = even_grid(400, 1, {55, 0, 0});
        for (std::size_t x = 0; x < 200; ++x) {
            grid.wish[x] = lab_to_xyz({98, 60, 90});
        }
        const auto dots = index_dots(grid, colours, true);
        const std::vector<std::uint8_t> after(dots->begin() + 205, dots->begin() + 260);
        QVERIFY(std::count(after.begin(), after.end(), 0) > 10);
        QVERIFY(std::count(after.begin(), after.end(), 1) > 10);
    }

    void bareDotsStayBareAndHuesAreHeld()
    {
        IndexGrid grid = even_grid(10, 2, {45, 50, 42});
        grid.bare.assign(grid.wish.size(), 0);
        grid.bare[3] = grid.bare[14] = 1;
        std::vector<IndexColour> colours = {{{10, 0, 0}, {}}, {{45, 50, 42}, {40, 60}}};
        const auto dots = index_dots(grid, colours, true);
        QCOMPARE((*dots)[3], no_index);
        QCOMPARE((*dots)[14], no_index);
        QCOMPARE(std::count(dots->begin(), dots->end(), 1), 18);
        colours[1].hues = {220, 60}; // it may not stand for this
        const auto held = index_dots(grid, colours, true);
        QCOMPARE(std::count(held->begin(), held->end(), 1), 0);
    }

    void impossibleOnesAreRefused()
    {
        QCOMPARE(index_dots(even_grid(2, 2, {50, 0, 0}), {}, true).error().code, ErrorCode::OutOfRange);
        const std::vector<IndexColour> one = {{{10, 0, 0}, {}}};
        QCOMPARE(index_dots(IndexGrid(), one, true)->size(), std::size_t(0));
        CancelSwitch stop;
        stop.cancel();
        QCOMPARE(index_dots(even_grid(2, 2, {50, 0, 0}), one, true, JobControl(stop)).error().code,
                 ErrorCode::Cancelled);
    }
};

BICHROM_TEST(TestIndexDots, QCoreApplication)
#include "tst_index_dots.moc"
