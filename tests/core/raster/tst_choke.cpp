// Choke and spread against distances measured pixel by pixel, and against areas of discs and rings by
// formula.
#include "core/raster/choke.h"

#include "support/test_program.h"

#include <QtTest>

#include <opencv2/imgproc.hpp>

#include <cmath>
#include <random>

using namespace bichrom;

namespace {

constexpr double pi = 3.14159265358979323846;

/// A disc, antialiased by 16 × 16 samples a pixel.
Plane disc(int size, double cx, double cy, double radius, double hole = 0)
{
    Plane plane(size, size);
    for (int y = 0; y < size; ++y) {
        for (int x = 0; x < size; ++x) {
            int inside = 0;
            for (int s = 0; s < 256; ++s) {
                const double d = std::hypot(x + (s % 16 + 0.5) / 16 - cx, y + (s / 16 + 0.5) / 16 - cy);
                inside += d <= radius && d >= hole ? 1 : 0;
            }
            plane.row(y)[static_cast<std::size_t>(x)] =
                static_cast<std::uint8_t>(std::lround(inside / 256.0 * 255));
        }
    }
    return plane;
}

double area(const Plane &plane)
{
    double sum = 0;
    for (const std::uint8_t value : plane.pixels) {
        sum += value / 255.0;
    }
    return sum;
}

/// Random blobs, hard edged.
Plane blobs(int size, unsigned seed)
{
    std::mt19937 random(seed);
    Plane plane(size, size);
    for (int i = 0; i < 12; ++i) {
        const int cx = static_cast<int>(random() % static_cast<unsigned>(size));
        const int cy = static_cast<int>(random() % static_cast<unsigned>(size));
        const int r = 3 + static_cast<int>(random() % 14);
        for (int y = 0; y < size; ++y) {
            for (int x = 0; x < size; ++x) {
                if ((i % 3 == 0 ? std::max(std::abs(x - cx), std::abs(y - cy)) <= r
                                : (x - cx) * (x - cx) + (y - cy) * (y - cy) <= r * r)) {
                    plane.row(y)[static_cast<std::size_t>(x)] = 255;
                }
            }
        }
    }
    return plane;
}

} // namespace

class TestChoke : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void chokeIsTheDistanceToTheNearestBarePixel()
    {
        // Every pixel: the nearest bare pixel's middle, by looking at all of them; its edge is half a pixel
        // on.
        for (const double radius : {0.4, 1.0, 2.5, 6.3, 9.0}) {
            const Plane plane = blobs(72, 11);
            const Plane got = choke(plane, radius);
            for (int y = 0; y < plane.height; ++y) {
                for (int x = 0; x < plane.width; ++x) {
                    double nearest = 1e9;
                    for (int v = 0; v < plane.height; ++v) {
                        for (int u = 0; u < plane.width; ++u) {
                            if (plane.at(u, v) == 0) {
                                nearest = std::min(nearest, std::hypot(x - u, y - v));
                            }
                        }
                    }
                    const double expected =
                        plane.at(x, y) == 0 ? 0 : std::clamp(nearest - radius, 0.0, 1.0) * 255;
                    QVERIFY2(std::fabs(got.at(x, y) - expected) <= 1,
                             qPrintable(QStringLiteral("%1 at %2 %3: %4, not %5")
                                            .arg(radius)
                                            .arg(x)
                                            .arg(y)
                                            .arg(got.at(x, y))
                                            .arg(expected)));
                }
            }
        }
    }

    void chokeAgreesWithAnotherLibrary()
    {
        // OpenCV's precise distance transform (cv::distanceTransform, DIST_L2, DIST_MASK_PRECISE;
        // Felzenszwalb & Huttenlocher): the distance to the nearest bare pixel, on shapes small enough for
        // its arithmetic.
        for (const unsigned seed : {1u, 2u, 3u}) {
            Plane plane = blobs(300, seed);
            const cv::Mat pixels(plane.height, plane.width, CV_8UC1, plane.pixels.data());
            cv::Mat distance;
            cv::distanceTransform(pixels, distance, cv::DIST_L2, cv::DIST_MASK_PRECISE);
            for (const double radius : {1.5, 4.0, 7.7}) {
                const Plane got = choke(plane, radius);
                for (int y = 0; y < plane.height; ++y) {
                    for (int x = 0; x < plane.width; ++x) {
                        const double d = static_cast<double>(distance.at<float>(y, x));
                        const double expected = d <= 0 ? 0 : std::clamp(d - radius, 0.0, 1.0) * 255;
                        QVERIFY2(std::fabs(got.at(x, y) - expected) <= 2,
                                 qPrintable(QStringLiteral("%1 %2: %3 %4")
                                                .arg(x)
                                                .arg(y)
                                                .arg(got.at(x, y))
                                                .arg(expected)));
                    }
                }
            }
        }
    }

    void discsAndRingsKeepTheirFormulas_data()
    {
        QTest::addColumn<double>("by"); // pixels; above nothing spreads
        QTest::newRow("choked by 3") << -3.0;
        QTest::newRow("choked by 7.25") << -7.25;
        QTest::newRow("choked by half a pixel") << -0.5;
        QTest::newRow("spread by 3") << 3.0;
        QTest::newRow("spread by 9.6") << 9.6;
    }
    void discsAndRingsKeepTheirFormulas()
    {
        QFETCH(double, by);
        const auto changed = [by](const Plane &plane) {
            return by < 0 ? choke(plane, -by) : spread(plane, by);
        };
        for (const double radius : {40.0, 52.37}) {
            const double got = area(changed(disc(160, 80.2, 79.6, radius)));
            const double expected = pi * (radius + by) * (radius + by);
            QVERIFY2(std::fabs(got / expected - 1) < 0.005, qPrintable(QString::number(got / expected - 1)));
            const double ring = area(changed(disc(160, 80.2, 79.6, radius, radius - 30)));
            const double ring_expected =
                pi * ((radius + by) * (radius + by) - (radius - 30 - by) * (radius - 30 - by));
            QVERIFY2(std::fabs(ring / ring_expected - 1) < 0.005,
                     qPrintable(QString::number(ring / ring_expected - 1)));
        }
    }

    void antialiasedEdgesMoveBySubpixels()
    {
        // A straight edge at any place within a pixel: the new edge stands exactly radius from it.
        for (int sixteenth = 0; sixteenth < 16; ++sixteenth) {
            const double edge = 10 + sixteenth / 16.0;
            Plane plane(60, 9);
            for (int y = 0; y < 9; ++y) {
                for (int x = 0; x < 60; ++x) {
                    plane.row(y)[static_cast<std::size_t>(x)] =
                        static_cast<std::uint8_t>(std::lround(std::clamp(x + 1 - edge, 0.0, 1.0) * 255));
                }
            }
            for (const double radius : {2.0, 4.3, 11.75}) {
                const Plane out = choke(plane, radius);
                double bare = 0;
                for (int x = 0; x < 60; ++x) {
                    bare += 1 - out.at(x, 4) / 255.0;
                }
                QVERIFY2(std::fabs(bare - edge - radius) < 0.05,
                         qPrintable(QStringLiteral("%1 + %2: %3").arg(edge).arg(radius).arg(bare)));
            }
        }
    }

    void tonesAreTheLeastOrMostOfADisc()
    {
        std::mt19937 random(3);
        Plane plane(40, 33);
        for (std::uint8_t &value : plane.pixels) {
            value = static_cast<std::uint8_t>(random());
        }
        for (const double radius : {1.0, 2.9, 6.5}) {
            const Plane least = choke_tones(plane, radius);
            const Plane most = spread_tones(plane, radius);
            for (int y = 7; y < 26; ++y) {
                for (int x = 7; x < 33; ++x) {
                    int low = 255, high = 0;
                    for (int v = -7; v <= 7; ++v) {
                        for (int u = -7; u <= 7; ++u) {
                            if (u * u + v * v <= radius * radius) {
                                low = std::min<int>(low, plane.at(x + u, y + v));
                                high = std::max<int>(high, plane.at(x + u, y + v));
                            }
                        }
                    }
                    QCOMPARE(int(least.at(x, y)), low);
                    QCOMPARE(int(most.at(x, y)), high);
                }
            }
        }
    }

    void aMeanStaysAMean()
    {
        const Plane flat(50, 50, 77);
        QVERIFY(smooth(flat, 6.5) == flat); // to the rim
        const Plane dot = disc(101, 50.5, 50.5, 12);
        QVERIFY(std::fabs(area(smooth(dot, 9)) / area(dot) - 1) < 0.01);
        QVERIFY(smooth(dot, 9).at(50, 50) == 255);
    }

    void nothingAndEverythingStay()
    {
        QVERIFY(choke(Plane(20, 20, 255), 5) == Plane(20, 20, 255)); // no edge in sight
        QVERIFY(choke(Plane(20, 20), 5) == Plane(20, 20));
        QVERIFY(spread(Plane(20, 20), 5) == Plane(20, 20));
        const Plane some = blobs(40, 2);
        QVERIFY(choke(some, 0) == some && spread(some, 0) == some && smooth(some, 0) == some);
        QVERIFY(choke(Plane(), 3) == Plane());
    }
};

BICHROM_TEST(TestChoke, QCoreApplication)
#include "tst_choke.moc"
