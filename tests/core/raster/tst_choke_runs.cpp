// Runs are choked and spread to the same bits as pixels.
#include "core/raster/choke.h"
#include "core/raster/choke_runs.h"

#include "support/choke_by_pixels.h"
#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <memory>
#include <random>

using namespace bichrom;
using namespace bichrom::test;

namespace {

/// Discs and bars; with edges of many tones where \p grey, with tints and noise besides where \p noisy.
Plane shapes(int width, int height, unsigned seed, bool grey, bool noisy)
{
    std::mt19937 random(seed);
    const auto any = [&](int below) { return static_cast<int>(random() % static_cast<unsigned>(below)); };
    Plane plane(width, height);
    for (int i = 0; i < 14; ++i) {
        const int cx = any(width), cy = any(height), r = 2 + any(std::max(width, height) / 5);
        const int tone = noisy && i % 4 == 0 ? 40 + any(200) : 255;
        const bool bar = i % 3 == 0, hole = i % 5 == 4;
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                const double d =
                    bar ? std::max(std::abs(x - cx) * 3, std::abs(y - cy)) : std::hypot(x - cx, y - cy);
                const double share = grey ? std::clamp(r + 0.5 - d, 0.0, 1.0) : d <= r ? 1 : 0;
                std::uint8_t &pixel = plane.row(y)[static_cast<std::size_t>(x)];
                const auto value = static_cast<std::uint8_t>(std::lround(share * tone));
                pixel =
                    hole ? std::min(pixel, static_cast<std::uint8_t>(255 - value)) : std::max(pixel, value);
            }
        }
    }
    for (int i = 0; i < (noisy ? 200 : 0); ++i) {
        plane.row(any(height))[static_cast<std::size_t>(any(width))] = static_cast<std::uint8_t>(random());
    }
    return plane;
}

} // namespace

class TestChokeRuns : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void runsGiveWhatPixelsGive_data()
    {
        QTest::addColumn<bool>("grey");
        QTest::addColumn<bool>("noisy");
        QTest::newRow("hard edges") << false << false;
        QTest::newRow("grey edges") << true << false;
        QTest::newRow("hard edges, tints and noise") << false << true;
        QTest::newRow("grey edges, tints and noise") << true << true;
    }
    void runsGiveWhatPixelsGive()
    {
        QFETCH(const bool, grey);
        QFETCH(const bool, noisy);
        for (unsigned seed = 0; seed < 12; ++seed) {
            const int width =
                seed % 4 == 3 ? 560 : 90 + static_cast<int>(seed) * 7; // many words of bits, and few
            const Plane plane = shapes(width, 150, seed, grey, noisy);
            const auto runs = std::make_shared<const RunPlane>(Plane(plane));
            // The large ones pass over many rows at once.
            for (const double radius : {0.4, 1.0, 2.37, 5.0, 9.45, 24.0, 31.3}) {
                RowsAround rows;
                rows.width = plane.width;
                rows.last = rows.bottom = plane.height;
                rows.row = [&](int y) { return runs->row(y); };
                const QByteArray where = QStringLiteral("seed %1, %2 pixels").arg(seed).arg(radius).toUtf8();
                QVERIFY2(choke(rows, radius).plane() == choke_by_pixels(plane, radius), where.constData());
                QVERIFY2(spread(rows, radius).plane() == spread_by_pixels(plane, radius), where.constData());
                QVERIFY2(choke(rows, radius, EdgePixels::Whole).plane() ==
                             halved(choke_by_pixels(plane, radius)),
                         where.constData());
                QVERIFY2(spread(rows, radius, EdgePixels::Whole).plane() ==
                             halved(spread_by_pixels(plane, radius)),
                         where.constData());
            }
        }
    }

    void largeRadiiAreExactToo_data()
    {
        QTest::addColumn<double>("radius");
        QTest::newRow("the last whose edges are counted up and down") << 99.7;
        QTest::newRow("the first whose nearest pixels are looked for") << 100.0;
        QTest::newRow("ten millimetres at 300 dpi") << 118.1;
    }
    void largeRadiiAreExactToo()
    {
        QFETCH(const double, radius);
        Plane plane(420, 360); // a disc, a bar and a dot, a hole between them narrower than twice the radius
        for (int y = 0; y < plane.height; ++y) {
            for (int x = 0; x < plane.width; ++x) {
                const bool inked = std::hypot(x - 130, y - 150) < 22 ||
                                   (x > 290 && x < 300 && y > 100 && y < 200) || (x == 210 && y == 330);
                plane.row(y)[static_cast<std::size_t>(x)] = inked ? 255 : 0;
            }
        }
        const Plane wide = spread(plane, radius);
        QVERIFY(wide == spread_by_pixels(plane, radius));
        QVERIFY(choke(wide, radius) == choke_by_pixels(wide, radius)); // its edges are grey
    }

    void partsAreThoseOfTheWhole()
    {
        const Plane plane = shapes(120, 260, 7, true, false);
        const auto runs = std::make_shared<const RunPlane>(Plane(plane));
        for (const double radius : {3.2, 27.0}) {
            const Plane narrow = choke_by_pixels(plane, radius), wide = spread_by_pixels(plane, radius);
            for (int first = 0; first < plane.height; first += 37) {
                RowsAround rows;
                rows.width = plane.width;
                rows.first = first;
                rows.last = std::min(plane.height, first + 37);
                rows.bottom = plane.height;
                rows.row = [&](int y) {
                    // No more is looked at than is said.
                    if (y < first - rows_looked_at(radius) || y >= rows.last + rows_looked_at(radius)) {
                        qFatal("row %d", y);
                    }
                    return runs->row(y);
                };
                const Plane a = choke(rows, radius).plane(), b = spread(rows, radius).plane();
                QVERIFY(choke(rows, radius, EdgePixels::Whole).plane() == halved(a));
                QVERIFY(spread(rows, radius, EdgePixels::Whole).plane() == halved(b));
                for (int y = rows.first; y < rows.last; ++y) {
                    QVERIFY(
                        std::equal(a.row(y - first).begin(), a.row(y - first).end(), narrow.row(y).begin()));
                    QVERIFY(
                        std::equal(b.row(y - first).begin(), b.row(y - first).end(), wide.row(y).begin()));
                }
            }
        }
    }

    void rowsBeyondWhatIsKnownAreEmpty()
    {
        RunPlane solid(20, 4);
        for (int y = 0; y < 4; ++y) {
            solid.add({0, 20, 255, nullptr});
            solid.end_row();
        }
        RowsAround rows;
        rows.width = 20;
        rows.first = -2;
        rows.last = 6;
        rows.bottom = 4;
        rows.row = [&](int y) { return solid.row(y); };
        for (const RunPlane &made : {choke(rows, 3), spread(rows, 3), choke(rows, 3, EdgePixels::Whole),
                                     spread(rows, 3, EdgePixels::Whole)}) {
            for (int y = -2; y < 6; ++y) {
                QCOMPARE(made.row(y + 2).size(), std::size_t(y >= 0 && y < 4 ? 1 : 0));
            }
        }
    }
};

BICHROM_TEST(TestChokeRuns, QCoreApplication)
#include "tst_choke_runs.moc"
