// Planes of one bit a pixel, against plain loops over their pixels.
#include "core/raster/bit_plane.h"

#include "support/test_program.h"

#include <QTest>

#include <cmath>
#include <random>

using namespace bichrom;

namespace {

/// A few pixels and bars, and some rows without any.
BitPlane scattered(int width, int height, unsigned seed)
{
    std::mt19937 random(seed);
    BitPlane plane(width, height);
    for (int y = 0; y < height; ++y) {
        for (unsigned count = random() % 4; count > 1; --count) {
            const int begin = static_cast<int>(random() % static_cast<unsigned>(width));
            plane.set(y, begin, std::min(width, begin + 1 + static_cast<int>(random() % 9)));
        }
    }
    return plane;
}

bool near_ink(const BitPlane &plane, int x, int y, double radius)
{
    const int reach = static_cast<int>(radius);
    for (int dy = -reach; dy <= reach; ++dy) {
        const int half = static_cast<int>(std::floor(std::sqrt(radius * radius - double(dy) * dy)));
        if (y + dy < 0 || y + dy >= plane.height) {
            continue;
        }
        for (int at = std::max(0, x - half); at <= std::min(plane.width - 1, x + half); ++at) {
            if (plane.at(at, y + dy)) {
                return true;
            }
        }
    }
    return false;
}

} // namespace

class TestBitPlane : public QObject
{
    Q_OBJECT
private Q_SLOTS:
    void pixelsAreCounted()
    {
        const BitPlane plane = scattered(777, 41, 3);
        std::int64_t count = 0;
        for (int y = 0; y < plane.height; ++y) {
            for (int x = 0; x < plane.width; ++x) {
                count += plane.at(x, y) ? 1 : 0;
            }
        }
        QVERIFY(count > 100);
        QCOMPARE(plane.count(), count);
    }

    void widenedByADisc_data()
    {
        QTest::addColumn<int>("width");
        QTest::addColumn<double>("radius");
        for (const int width : {1, 63, 64, 130, 511, 512, 900, 1600}) {
            for (const double radius : {0.0, 1.0, 1.5, 7.6, 23.0, 63.9, 64.0, 131.5, 200.0}) {
                QTest::addRow("%d pixels wide, by %g", width, radius) << width << radius;
            }
        }
    }
    void widenedByADisc()
    {
        QFETCH(const int, width);
        QFETCH(const double, radius);
        const int height = radius > 60 ? 12 : 30;
        const BitPlane plane = scattered(width, height, static_cast<unsigned>(width));
        const BitPlane wanted = scattered(width, height, 99);
        const BitPlane all = dilated(plane, radius), some = dilated(plane, radius, &wanted);
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                const bool is = near_ink(plane, x, y, radius);
                QVERIFY2(all.at(x, y) == is, qPrintable(QStringLiteral("at %1, %2").arg(x).arg(y)));
                QVERIFY2(!wanted.at(x, y) || some.at(x, y) == is,
                         qPrintable(QStringLiteral("wanted at %1, %2").arg(x).arg(y)));
                QVERIFY2(!some.at(x, y) || is,
                         qPrintable(QStringLiteral("too much at %1, %2").arg(x).arg(y)));
            }
        }
        // Nothing beyond the last column, where words are longer than rows.
        QVERIFY(all.count() <= std::int64_t(width) * height);
    }
};

BICHROM_TEST(TestBitPlane, QCoreApplication)
#include "tst_bit_plane.moc"
