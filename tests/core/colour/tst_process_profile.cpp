#include "core/colour/process_profile.h"

#include "support/measured_table.h"
#include "support/test_program.h"

#include <QtTest>

#include <lcms2.h>

#include <algorithm>
#include <cmath>

using namespace bichrom;
using namespace bichrom::test;

namespace {

double delta_e(const Lab &a, const Lab &b)
{
    const cmsCIELab x = {a.l, a.a, a.b}, y = {b.l, b.a, b.b};
    return cmsCIE2000DeltaE(&x, &y, 1, 1, 1);
}

} // namespace

class TestProcessProfile : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void theProfileAgreesWithTheMeasuredPatches()
    {
        // The table is absolute, the conversion relative to paper: compare relative to paper white,
        // scaled in XYZ as ICC.1 does (media-relative colorimetry).
        const std::vector<MeasuredPatch> patches = measured_table(QStringLiteral("FOGRA39L.ti3"));
        QVERIFY(patches.size() > 1500);
        const auto paper = std::find_if(patches.begin(), patches.end(), [](const MeasuredPatch &p) {
            return p.cmyk == Cmyk{0, 0, 0, 0};
        });
        QVERIFY(paper != patches.end());
        cmsCIEXYZ white;
        const cmsCIELab paper_lab = {paper->lab.l, paper->lab.a, paper->lab.b};
        cmsLab2XYZ(cmsD50_XYZ(), &white, &paper_lab);
        std::vector<double> errors;
        for (const MeasuredPatch &patch : patches) {
            cmsCIEXYZ xyz;
            const cmsCIELab lab = {patch.lab.l, patch.lab.a, patch.lab.b};
            cmsLab2XYZ(cmsD50_XYZ(), &xyz, &lab);
            xyz = {xyz.X / white.X * 0.9642, xyz.Y / white.Y, xyz.Z / white.Z * 0.8249}; // ICC.1 PCS white
            cmsCIELab relative;
            cmsXYZ2Lab(cmsD50_XYZ(), &relative, &xyz);
            errors.push_back(
                delta_e(ProcessProfile::fogra39()->to_lab(patch.cmyk), {relative.L, relative.a, relative.b}));
        }
        std::sort(errors.begin(), errors.end());
        const double median = errors[errors.size() / 2];
        const double high = errors[errors.size() * 95 / 100];
        qInfo("FOGRA39 forward: median ΔE00 %.2f, 95 %% %.2f over %zu patches", median, high, errors.size());
        QVERIFY(median <= 1.0);
        QVERIFY(high <= 2.5);
    }

    void whiteIsBareAndBackAgain()
    {
        const ProcessProfile &profile = *ProcessProfile::fogra39();
        for (const float ink : profile.from_rgb({1, 1, 1})) {
            QVERIFY(ink < 0.005f);
        }
        const Rgb8 white = profile.to_rgb({0, 0, 0, 0});
        QVERIFY(white.r >= 254 && white.g >= 254 && white.b >= 254);
        const Lab grey = profile.rgb_to_lab({128, 128, 128});
        // IEC 61966-2-1: sRGB 128 has a luminance of 0.2159, L* 53.6; greys stay grey.
        QVERIFY(std::fabs(grey.l - 53.6) < 0.2);
        QVERIFY(std::fabs(grey.a) < 0.5 && std::fabs(grey.b) < 0.5);
    }

    void pixelsAndSingleColoursAgree()
    {
        const ProcessProfile &profile = *ProcessProfile::fogra39();
        for (int i = 0; i < 64; ++i) {
            const std::uint8_t rgb[3] = {static_cast<std::uint8_t>(i * 4),
                                         static_cast<std::uint8_t>(255 - i * 3),
                                         static_cast<std::uint8_t>(i * 37 % 256)};
            std::uint8_t cmyk[4];
            profile.rgb_pixels_to_cmyk(rgb, cmyk, 1);
            const Cmyk exact =
                profile.from_rgb({static_cast<float>(rgb[0]) / 255.0f, static_cast<float>(rgb[1]) / 255.0f,
                                  static_cast<float>(rgb[2]) / 255.0f});
            for (std::size_t k = 0; k < 4; ++k) {
                QVERIFY2(std::fabs(cmyk[k] - exact[k] * 255.0f) <= 2.5f,
                         qPrintable(QStringLiteral("%1: %2 and %3")
                                        .arg(i)
                                        .arg(cmyk[k])
                                        .arg(static_cast<double>(exact[k] * 255.0f))));
            }
        }
    }
};

BICHROM_TEST(TestProcessProfile, QCoreApplication)
#include "tst_process_profile.moc"
