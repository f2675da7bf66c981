// Flat shapes against areas by formula.
#include "core/raster/polygons.h"

#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <numbers>

using namespace bichrom;

namespace {

Polygons square(double x, double y, double side)
{
    return {{{x, y}, {x + side, y}, {x + side, y + side}, {x, y + side}}};
}

Polygons disc(double x, double y, double radius)
{
    Polygon line;
    for (int i = 0; i < 2000; ++i) {
        const double angle = 2 * std::numbers::pi * i / 2000;
        line.push_back({x + radius * std::cos(angle), y + radius * std::sin(angle)});
    }
    return {line};
}

bool near(double a, double b, double share = 1e-4)
{
    return std::fabs(a - b) <= share * std::max(1.0, std::fabs(b));
}

} // namespace

class TestPolygons : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void unionsAndDifferences()
    {
        const Polygons a = square(0, 0, 10);
        const Polygons b = square(5, 5, 10);
        QVERIFY(near(area_of(united(a, b)), 175));
        QVERIFY(near(area_of(intersected(a, b)), 25));
        QVERIFY(near(area_of(subtracted(a, b)), 75));
        QVERIFY(near(area_of(subtracted(a, square(2, 2, 3))), 91)); // a hole
        QVERIFY(united({}, {}).empty());
        Polygons twice = a;
        twice.push_back(square(2, 2, 3).front());
        QVERIFY(near(area_of(simplified(twice, FillRule::NonZero)), 100));
        QVERIFY(near(area_of(simplified(twice, FillRule::EvenOdd)), 91));
    }

    void offsetsFollowTheirFormulas()
    {
        const double pi = std::numbers::pi;
        for (const double by : {-3.0, -0.5, 0.25, 4.0}) {
            QVERIFY(near(area_of(offset(disc(0, 0, 10), by)), pi * (10 + by) * (10 + by), 1e-3));
        }
        // Corners are rounded outwards and stay sharp inwards.
        QVERIFY(near(area_of(offset(square(0, 0, 10), 2)), 100 + 4 * 10 * 2 + pi * 4, 1e-3));
        QVERIFY(near(area_of(offset(square(0, 0, 10), -2)), 36));
        QVERIFY(offset(square(0, 0, 10), -5.1).empty());
        // Of a ring both edges move.
        const Polygons ring = subtracted(disc(0, 0, 10), disc(0, 0, 6));
        QVERIFY(near(area_of(offset(ring, -1)), pi * (81 - 49), 1e-3));
        QVERIFY(near(area_of(offset(ring, 1)), pi * (121 - 25), 1e-3));
        QVERIFY(near(area_of(offset(ring, 0)), area_of(ring)));
    }

    void linesHaveTheirWidth()
    {
        const double pi = std::numbers::pi;
        const Polygon line = {{0, 0}, {20, 0}};
        const auto area = [&](LineEnd end) {
            return area_of(stroked(line, false, 2, LineJoin::Miter, 10, end));
        };
        QVERIFY(near(area(LineEnd::Butt), 40));
        QVERIFY(near(area(LineEnd::Square), 44));
        QVERIFY(near(area(LineEnd::Round), 40 + pi, 1e-3));
        const Polygon corner = {{0, 0}, {10, 0}, {10, 10}};
        QVERIFY(near(area_of(stroked(corner, false, 2, LineJoin::Miter, 10, LineEnd::Butt)), 40));
        QVERIFY(
            near(area_of(stroked(corner, false, 2, LineJoin::Round, 10, LineEnd::Butt)), 39 + pi / 4, 1e-3));
        QVERIFY(near(area_of(stroked(square(0, 0, 10).front(), true, 2, LineJoin::Miter, 10, LineEnd::Butt)),
                     144 - 64));
    }
};

BICHROM_TEST(TestPolygons, QCoreApplication)
#include "tst_polygons.moc"
