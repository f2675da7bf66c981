// What is seen from farther away: a Gaussian of light, against its closed forms.
#include "core/proof/eye_blur.h"

#include "core/colour/srgb.h"

#include "support/test_program.h"

#include <QtTest>

#include <cmath>
#include <numbers>

using namespace bichrom;
using namespace bichrom::test;

namespace {

double light(std::uint32_t pixel, int shift = 0)
{
    return srgb_to_linear((pixel >> shift & 255) / 255.0);
}

std::uint32_t grey(double linear)
{
    const auto value = static_cast<std::uint32_t>(std::lround(linear_to_srgb(linear) * 255));
    return 0xFF000000u | value << 16 | value << 8 | value;
}

} // namespace

class TestEyeBlur : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void spreadGrowsWithDistance()
    {
        // One minute of arc at 1 m is 0.2909 mm; ISO 8596 (acuity 1.0), FWHM of a Gaussian = 2.3548 σ.
        QVERIFY(std::abs(eye_spread(1).value - 0.2909 / 2.3548) < 1e-4);
        QVERIFY(std::abs(eye_spread(3).value - 3 * eye_spread(1).value) < 1e-9);
        QCOMPARE(eye_spread(-1).value, 0.0);
    }

    void aGratingLosesWhatTheFormulaSays_data()
    {
        QTest::addColumn<double>("sigma");
        QTest::addColumn<int>("period");
        for (const double sigma : {0.5, 1.0, 2.3, 4.0, 9.5}) {
            for (const int period : {8, 16, 40}) {
                QTest::addRow("sigma %.1f of %d pixels", sigma, period) << sigma << period;
            }
        }
    }
    void aGratingLosesWhatTheFormulaSays()
    {
        QFETCH(double, sigma);
        QFETCH(int, period);
        constexpr int side = 240;
        std::vector<std::uint32_t> pixels(side * side);
        for (int i = 0; i < side * side; ++i) {
            pixels[static_cast<std::size_t>(i)] =
                grey(0.5 + 0.4 * std::cos(2 * std::numbers::pi * (i % side) / period));
        }
        blur_in_light(pixels.data(), side, side, sigma);
        // Fourier transform of a Gaussian: exp(−2 π² σ² f²).
        const double left = 0.4 * std::exp(-2 * std::pow(std::numbers::pi * sigma / period, 2));
        double cosine = 0;
        double mean = 0;
        for (int x = 80; x < 160; ++x) { // whole periods, away from the edge
            const double value = light(pixels[120 * side + static_cast<std::size_t>(x)]);
            cosine += value * std::cos(2 * std::numbers::pi * x / period) * 2 / 80;
            mean += value / 80;
        }
        QVERIFY2(std::abs(cosine - left) < 0.4 * 0.04, qPrintable(QString::number(cosine / 0.4)));
        QVERIFY2(std::abs(mean - 0.5) < 0.004, qPrintable(QString::number(mean)));
    }

    void colourIsMixedInLightAndFlatStaysFlat()
    {
        // Lines of red and green a pixel wide: the mean of their light, which is lighter than that of their
        // values.
        constexpr int side = 64;
        std::vector<std::uint32_t> pixels(side * side);
        for (int i = 0; i < side * side; ++i) {
            pixels[static_cast<std::size_t>(i)] = i % 2 == 0 ? 0xFFFF0040u : 0xFF00FF40u;
        }
        blur_in_light(pixels.data(), side, side, 3);
        const std::uint32_t middle = pixels[32 * side + 32];
        QVERIFY(std::abs(static_cast<int>(middle >> 16 & 255) - 188) <= 1); // sRGB of half the light
        QVERIFY(std::abs(static_cast<int>(middle >> 8 & 255) - 188) <= 1);
        QCOMPARE(middle & 255, 0x40u);
        QCOMPARE(middle >> 24, 0xFFu);
        std::vector<std::uint32_t> flat(side * side, 0xFF8040C0u);
        blur_in_light(flat.data(), side, side, 12);
        QVERIFY(std::all_of(flat.begin(), flat.end(), [](std::uint32_t p) { return p == 0xFF8040C0u; }));
        const auto same = pixels;
        blur_in_light(pixels.data(), side, side, 0);
        QVERIFY(pixels == same);
        blur_in_light(pixels.data(), 1, 1, 50); // smaller than the spread
    }
};

BICHROM_TEST(TestEyeBlur, QCoreApplication)
#include "tst_eye_blur.moc"
