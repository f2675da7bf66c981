// Flat artwork taken apart, against drawings whose coverage is known: 16 × 16 samples a pixel.
#include <oneapi/tbb/task_arena.h> // before Qt, whose "emit" it would take for its own

#include "core/raster/trace.h"
#include "core/raster/unmix.h"

#include "support/mini_pdf.h"
#include "support/test_program.h"

#include <QBuffer>
#include <QImage>
#include <QtTest>

#include <cmath>
#include <numeric>
#include <random>

using namespace bichrom;
using bichrom::test::take;

namespace {

const EncodedRgb paper{250, 246, 235};
const EncodedRgb green{40, 120, 60};
const EncodedRgb rust{180, 70, 30};
const EncodedRgb grey{145, 183, 148}; // half way between paper and green: edges pass through it

/// A drawing: which colour of the palette stands at a point.
using Drawing = int (*)(double x, double y);

/// A green disc, a rust triangle over it, thin grey strokes; the paper around.
int scene(double x, double y)
{
    if (y > 20 && y < 70 && x > 60 + (y - 20) * 0.4 && x < 110 - (y - 20) * 0.4) {
        return 2;
    }
    if (std::hypot(x - 50.3, y - 48.7) < 31.4) {
        return 1;
    }
    const double along = x * 0.8 + y * 0.6;
    return y > 90 && std::fmod(along, 16.0) < 1.5 ? 1 : 0;
}

struct Sample
{
    RgbPicture picture;
    std::vector<Plane> coverage; ///< known
};

Sample draw(Drawing drawing, std::span<const EncodedRgb> palette, int width, int height)
{
    constexpr int fine = 16;
    Sample sample;
    sample.picture = {width, height, std::vector<EncodedRgb>(static_cast<std::size_t>(width * height))};
    sample.coverage.assign(palette.size(), Plane(width, height));
    for (int y = 0; y < height; ++y) {
        for (int x = 0; x < width; ++x) {
            std::vector<double> shares(palette.size());
            for (int sy = 0; sy < fine; ++sy) {
                for (int sx = 0; sx < fine; ++sx) {
                    shares[static_cast<std::size_t>(drawing(x + (sx + 0.5) / fine, y + (sy + 0.5) / fine))] +=
                        1.0 / (fine * fine);
                }
            }
            EncodedRgb mixed{};
            for (std::size_t k = 0; k < 3; ++k) {
                double value = 0;
                for (std::size_t i = 0; i < palette.size(); ++i) {
                    value += shares[i] * palette[i][k];
                }
                mixed[k] = static_cast<std::uint8_t>(std::lround(value));
            }
            sample.picture.pixels[static_cast<std::size_t>(y * width + x)] = mixed;
            for (std::size_t i = 0; i < palette.size(); ++i) {
                sample.coverage[i].row(y)[static_cast<std::size_t>(x)] =
                    static_cast<std::uint8_t>(std::lround(shares[i] * 255));
            }
        }
    }
    return sample;
}

/// Mean absolute difference over the picture, 0 to 1.
double mean_error(const Plane &a, const Plane &b)
{
    double sum = 0;
    for (std::size_t i = 0; i < a.pixels.size(); ++i) {
        sum += std::abs(a.pixels[i] - b.pixels[i]);
    }
    return sum / 255.0 / static_cast<double>(a.pixels.size());
}

/// Where the disc's plane crosses one half on a ray from its middle, in pixels.
double edge_radius(const Plane &plane, double angle)
{
    double before = 1;
    for (double r = 20; r < 40; r += 0.05) {
        const double x = 50.3 + r * std::cos(angle) - 0.5;
        const double y = 48.7 + r * std::sin(angle) - 0.5;
        const int ix = static_cast<int>(std::floor(x));
        const int iy = static_cast<int>(std::floor(y));
        const double fx = x - ix;
        const double fy = y - iy;
        const double value = ((1 - fx) * (1 - fy) * plane.at(ix, iy) + fx * (1 - fy) * plane.at(ix + 1, iy) +
                              (1 - fx) * fy * plane.at(ix, iy + 1) + fx * fy * plane.at(ix + 1, iy + 1)) /
                             255.0;
        if (value < 0.5) {
            return r - 0.05 * (0.5 - value) / std::max(1e-9, before - value);
        }
        before = value;
    }
    return 0;
}

RgbPicture through_jpeg(const RgbPicture &picture, int quality)
{
    QImage image(picture.width, picture.height, QImage::Format_RGB888);
    for (int y = 0; y < picture.height; ++y) {
        for (int x = 0; x < picture.width; ++x) {
            const EncodedRgb &p = picture.at(x, y);
            image.setPixelColor(x, y, QColor(p[0], p[1], p[2]));
        }
    }
    QByteArray bytes;
    QBuffer buffer(&bytes);
    buffer.open(QIODevice::WriteOnly);
    image.save(&buffer, "JPEG", quality);
    const QImage back = QImage::fromData(bytes, "JPEG");
    RgbPicture result = picture;
    for (int y = 0; y < picture.height; ++y) {
        for (int x = 0; x < picture.width; ++x) {
            const QColor c = back.pixelColor(x, y);
            result.pixels[static_cast<std::size_t>(y * picture.width + x)] = {
                static_cast<std::uint8_t>(c.red()), static_cast<std::uint8_t>(c.green()),
                static_cast<std::uint8_t>(c.blue())};
        }
    }
    return result;
}

} // namespace

class TestUnmix : public QObject
{
    Q_OBJECT

    static constexpr int width = 128, height = 120;

private Q_SLOTS:
    void edgesComeOutAsTheyWereDrawn()
    {
        // The grey of the palette lies where edges pass: they must not take it.
        const std::array<EncodedRgb, 4> palette = {paper, green, rust, grey};
        const Sample sample = draw(scene, palette, width, height);
        const auto planes = take(unmix(sample.picture, palette));
        for (std::size_t i = 0; i < palette.size(); ++i) {
            const double error = mean_error(planes[i], sample.coverage[i]);
            QVERIFY2(error <= 0.01, qPrintable(QStringLiteral("%1: %2").arg(i).arg(error)));
        }
        for (int k = 0; k < 40; ++k) { // away from the triangle
            const double angle = 0.9 + k * 0.1;
            const double radius = edge_radius(planes[1], angle);
            QVERIFY2(std::fabs(radius - edge_radius(sample.coverage[1], angle)) < 0.1,
                     qPrintable(QStringLiteral("%1 at %2").arg(radius).arg(angle)));
            QVERIFY(std::fabs(radius - 31.4) < 0.1);
        }
        // The background is exactly bare.
        for (int y = 0; y < height; ++y) {
            for (int x = 0; x < width; ++x) {
                if (sample.coverage[0].at(x, y) == 255) {
                    QCOMPARE(planes[1].at(x, y) + planes[2].at(x, y) + planes[3].at(x, y), 0);
                }
                const int sum =
                    planes[0].at(x, y) + planes[1].at(x, y) + planes[2].at(x, y) + planes[3].at(x, y);
                QCOMPARE(sum, 255);
            }
        }
    }

    void noiseLeavesNoHaze_data()
    {
        QTest::addColumn<int>("quality");
        QTest::addColumn<double>("mean");
        QTest::addColumn<double>("edge");
        QTest::addColumn<int>("away"); // ringing reaches as far as a JPEG block, 8 pixels
        // The limits stated for JPEG: what this picture gives, with some room.
        QTest::newRow("JPEG quality 75") << 75 << 0.01 << 0.25 << 3;
        QTest::newRow("JPEG quality 40") << 40 << 0.02 << 0.5 << 8;
    }
    void noiseLeavesNoHaze()
    {
        QFETCH(int, quality);
        QFETCH(double, mean);
        QFETCH(double, edge);
        QFETCH(int, away);
        const std::array<EncodedRgb, 3> palette = {paper, green, rust};
        const Sample sample = draw(scene, palette, width, height);
        const RgbPicture noisy = through_jpeg(sample.picture, quality);
        const auto planes = take(unmix(noisy, palette));
        double worst_edge = 0;
        for (int k = 0; k < 40; ++k) {
            worst_edge = std::max(worst_edge, std::fabs(edge_radius(planes[1], 0.9 + k * 0.1) - 31.4));
        }
        QVERIFY2(worst_edge < edge, qPrintable(QString::number(worst_edge)));
        for (std::size_t i = 0; i < palette.size(); ++i) {
            const double error = mean_error(planes[i], sample.coverage[i]);
            QVERIFY2(error <= mean, qPrintable(QStringLiteral("%1: %2").arg(i).arg(error)));
        }
        int looked_at = 0;
        // That far from everything drawn the background is exactly bare.
        for (int y = away; y < height - away; ++y) {
            for (int x = away; x < width - away; ++x) {
                bool far = true;
                for (int dy = -away; dy <= away; ++dy) {
                    for (int dx = -away; dx <= away; ++dx) {
                        far = far && sample.coverage[0].at(x + dx, y + dy) == 255;
                    }
                }
                QVERIFY(!far || planes[0].at(x, y) == 255);
                looked_at += far ? 1 : 0;
            }
        }
        QVERIFY(looked_at > 200);
    }

    void noiseBesideAnEdgeIsNoInk()
    {
        // Two flat halves with even noise of ±6 a channel and a hard edge between pixels: the pixels beside
        // the edge are as flat as all others, and bare or solid but for the rare one that three deviations
        // leave out.
        const std::array<EncodedRgb, 2> colours = {EncodedRgb{240, 236, 225}, green};
        constexpr int side = 200;
        RgbPicture picture{side, side, std::vector<EncodedRgb>(side * side)};
        std::mt19937 random(7);
        for (int y = 0; y < side; ++y) {
            for (int x = 0; x < side; ++x) {
                EncodedRgb pixel = colours[x < side / 2 ? 0 : 1];
                for (std::uint8_t &value : pixel) {
                    value = static_cast<std::uint8_t>(value + static_cast<int>(random() % 13) - 6);
                }
                picture.pixels[static_cast<std::size_t>(y * side + x)] = pixel;
            }
        }
        const auto planes = take(unmix(picture, colours));
        int grey = 0;
        for (int y = 0; y < side; ++y) {
            for (int x = 0; x < side; ++x) {
                grey += planes[1].at(x, y) != (x < side / 2 ? 0 : 255) ? 1 : 0;
            }
        }
        QVERIFY2(grey <= 2, qPrintable(QString::number(grey)));
    }

    void thePaletteIsFound()
    {
        const std::array<EncodedRgb, 3> colours = {paper, green, rust};
        const Sample sample = draw(scene, colours, width, height);
        for (const int quality : {0, 60}) {
            const auto palette =
                find_palette(quality == 0 ? sample.picture : through_jpeg(sample.picture, quality));
            QCOMPARE(palette.size(), std::size_t(3));
            for (std::size_t i = 0; i < 3; ++i) { // the paper covers most, then green, then rust
                QVERIFY2(rgb_distance(palette[i].rgb, colours[i]) < 0.015, qPrintable(QString::number(i)));
            }
        }
    }

    void specksGo()
    {
        const std::array<EncodedRgb, 2> palette = {paper, green};
        RgbPicture picture{40, 40, std::vector<EncodedRgb>(1600, paper)};
        const auto square = [&](int x, int y, int side) {
            for (int dy = 0; dy < side; ++dy) {
                for (int dx = 0; dx < side; ++dx) {
                    picture.pixels[static_cast<std::size_t>((y + dy) * 40 + x + dx)] = green;
                }
            }
        };
        square(5, 5, 2);   // 4 pixels
        square(20, 20, 4); // 16 pixels
        const auto sum = [](const Plane &plane) {
            return std::accumulate(plane.pixels.begin(), plane.pixels.end(), 0) / 255;
        };
        QCOMPARE(sum(take(unmix(picture, palette))[1]), 20);
        QCOMPARE(sum(take(unmix(picture, palette, {0.08, 4}))[1]), 20); // exactly 4 stays
        QCOMPARE(sum(take(unmix(picture, palette, {0.08, 5}))[1]), 16);
        QCOMPARE(sum(take(unmix(picture, palette, {0.08, 17}))[1]), 0);
    }

    void thinLinesKeepTheirInk()
    {
        // A line one pixel wide, off the pixel grid: it has no flat part of its own.
        const std::array<EncodedRgb, 3> palette = {paper, green, rust};
        const Sample sample =
            draw([](double x, double) { return x > 20.3 && x < 21.3 ? 2 : 0; }, palette, 40, 40);
        const auto planes = take(unmix(sample.picture, palette));
        QVERIFY(mean_error(planes[2], sample.coverage[2]) < 0.001);
        QCOMPARE(std::accumulate(planes[1].pixels.begin(), planes[1].pixels.end(), 0), 0);
    }

    void outlinesFollowTheEdges()
    {
        // The disc: every point of its outline 31.4 pixels from the middle, and the area of the polygon
        // right.
        const std::array<EncodedRgb, 2> palette = {paper, green};
        const Sample sample =
            draw([](double x, double y) { return std::hypot(x - 50.3, y - 48.7) < 31.4 ? 1 : 0; }, palette,
                 100, 100);
        const auto outlines = take(trace_outlines(sample.coverage[1]));
        QCOMPARE(outlines.size(), std::size_t(1));
        double area = 0;
        double x = outlines[0].x;
        double y = outlines[0].y;
        for (const OutlinePiece &piece : outlines[0].pieces) {
            const double x0 = x;
            const double y0 = y;
            for (int i = 1; i <= 20; ++i) {
                const double t = i / 20.0;
                const double s = 1 - t;
                const double nx = s * s * s * x0 + 3 * s * s * t * piece.x1 + 3 * s * t * t * piece.x2 +
                                  t * t * t * piece.x;
                const double ny = s * s * s * y0 + 3 * s * s * t * piece.y1 + 3 * s * t * t * piece.y2 +
                                  t * t * t * piece.y;
                area += (x * ny - nx * y) / 2;
                x = nx;
                y = ny;
                QVERIFY2(std::fabs(std::hypot(x - 50.3, y - 48.7) - 31.4) < 0.25,
                         qPrintable(QString::number(x)));
            }
        }
        const double disc = 3.14159265 * 31.4 * 31.4;
        QVERIFY2(std::fabs(std::fabs(area) - disc) < disc * 0.003, qPrintable(QString::number(area)));
        QVERIFY(take(trace_outlines(Plane(20, 20))).empty());
        QVERIFY(take(trace_outlines(Plane())).empty());
        QCOMPARE(take(trace_outlines(Plane(20, 20, 255))).size(), std::size_t(1));
    }

    void theSameBitsForAnyNumberOfThreads()
    {
        const std::array<EncodedRgb, 3> palette = {paper, green, rust};
        const RgbPicture noisy = through_jpeg(draw(scene, palette, width, height).picture, 60);
        const auto first = take(unmix(noisy, palette, {0.1, 6}));
        for (const int threads : {1, 3, 7}) {
            oneapi::tbb::task_arena arena(threads);
            arena.execute([&] {
                const auto again = take(unmix(noisy, palette, {0.1, 6}));
                QVERIFY(again == first);
            });
        }
        CancelSwitch stop;
        stop.cancel();
        const auto stopped = unmix(noisy, palette, {}, JobControl(stop, {}));
        QVERIFY(!stopped && stopped.error().code == ErrorCode::Cancelled);
    }

    void whatCannotBeDoneIsSaid()
    {
        const RgbPicture picture{2, 2, std::vector<EncodedRgb>(4, paper)};
        QVERIFY(!unmix(picture, {}));
        QVERIFY(!unmix(picture, std::vector<EncodedRgb>(65, paper)));
        QVERIFY(find_palette({}).empty());
        QVERIFY(take(unmix({}, std::vector<EncodedRgb>{paper}))[0].pixels.empty());
    }
};

BICHROM_TEST(TestUnmix, QCoreApplication)
#include "tst_unmix.moc"
