#include "core/colour/process_profile.h"

#include <lcms2.h>

#include <algorithm>
#include <cmath>

extern "C" {
extern const unsigned char bichrom_fogra39_icc[];
extern const unsigned char bichrom_fogra39_icc_end[];
}

namespace bichrom {

namespace {

// No cache: a transform with a one-pixel cache may not be shared between threads.
constexpr cmsUInt32Number flags = cmsFLAGS_NOCACHE | cmsFLAGS_BLACKPOINTCOMPENSATION;
constexpr cmsUInt32Number intent = INTENT_RELATIVE_COLORIMETRIC;

// 8-bit CMYK where 255 is solid ink, as in TIFF and in the plates.
constexpr cmsUInt32Number type_cmyk8 = TYPE_CMYK_8;

Rgb8 clipped(const std::array<float, 3> &rgb)
{
    const auto byte = [](float v) {
        return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0f, 1.0f) * 255.0f));
    };
    return {byte(rgb[0]), byte(rgb[1]), byte(rgb[2])};
}

Cmyk from_percent(const std::array<float, 4> &percent)
{
    Cmyk cmyk{};
    for (std::size_t i = 0; i < 4; ++i) {
        cmyk[i] = std::clamp(percent[i] / 100.0f, 0.0f, 1.0f); // lcms floats carry ink in percent
    }
    return cmyk;
}

std::array<float, 4> to_percent(const Cmyk &cmyk)
{
    return {cmyk[0] * 100.0f, cmyk[1] * 100.0f, cmyk[2] * 100.0f, cmyk[3] * 100.0f};
}

} // namespace

struct ProcessProfile::Transforms
{
    cmsContext context = nullptr;
    cmsHTRANSFORM rgb_cmyk = nullptr, lab_cmyk = nullptr, cmyk_lab = nullptr, cmyk_rgb = nullptr,
                  lab_rgb = nullptr, rgb_lab = nullptr;
    cmsHTRANSFORM rgb_cmyk8 = nullptr, lab_cmyk8 = nullptr, cmyk_rgb8 = nullptr;

    ~Transforms()
    {
        for (cmsHTRANSFORM t :
             {rgb_cmyk, lab_cmyk, cmyk_lab, cmyk_rgb, lab_rgb, rgb_lab, rgb_cmyk8, lab_cmyk8, cmyk_rgb8}) {
            if (t != nullptr) {
                cmsDeleteTransform(t);
            }
        }
        cmsDeleteContext(context);
    }
};

ProcessProfile::ProcessProfile(const void *bytes, std::size_t size)
    : m_transforms(std::make_unique<Transforms>())
{
    Transforms &t = *m_transforms;
    t.context = cmsCreateContext(nullptr, nullptr);
    cmsHPROFILE process = cmsOpenProfileFromMemTHR(t.context, bytes, static_cast<cmsUInt32Number>(size));
    cmsHPROFILE srgb = cmsCreate_sRGBProfileTHR(t.context);
    cmsHPROFILE lab = cmsCreateLab4ProfileTHR(t.context, nullptr);
    const auto make = [&](cmsHPROFILE in, cmsUInt32Number in_type, cmsHPROFILE out,
                          cmsUInt32Number out_type) {
        return cmsCreateTransformTHR(t.context, in, in_type, out, out_type, intent, flags);
    };
    t.rgb_cmyk = make(srgb, TYPE_RGB_FLT, process, TYPE_CMYK_FLT);
    t.lab_cmyk = make(lab, TYPE_Lab_FLT, process, TYPE_CMYK_FLT);
    t.cmyk_lab = cmsCreateTransformTHR(t.context, process, TYPE_CMYK_FLT, lab, TYPE_Lab_FLT,
                                       INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE);
    t.cmyk_rgb = make(process, TYPE_CMYK_FLT, srgb, TYPE_RGB_FLT);
    t.lab_rgb = make(lab, TYPE_Lab_FLT, srgb, TYPE_RGB_FLT);
    t.rgb_lab = make(srgb, TYPE_RGB_FLT, lab, TYPE_Lab_FLT);
    t.rgb_cmyk8 = make(srgb, TYPE_RGB_8, process, type_cmyk8);
    t.lab_cmyk8 = make(lab, TYPE_Lab_8, process, type_cmyk8);
    t.cmyk_rgb8 = make(process, type_cmyk8, srgb, TYPE_RGB_8);
    cmsCloseProfile(process);
    cmsCloseProfile(srgb);
    cmsCloseProfile(lab);
}

ProcessProfile::~ProcessProfile() = default;

const ProcessProfile &ProcessProfile::fogra39()
{
    static const ProcessProfile profile(
        bichrom_fogra39_icc, static_cast<std::size_t>(bichrom_fogra39_icc_end - bichrom_fogra39_icc));
    return profile;
}

Cmyk ProcessProfile::from_rgb(const std::array<float, 3> &rgb) const
{
    std::array<float, 4> percent{};
    cmsDoTransform(m_transforms->rgb_cmyk, rgb.data(), percent.data(), 1);
    return from_percent(percent);
}

Cmyk ProcessProfile::from_lab(const Lab &lab) const
{
    const std::array<float, 3> in = {static_cast<float>(lab.l), static_cast<float>(lab.a),
                                     static_cast<float>(lab.b)};
    std::array<float, 4> percent{};
    cmsDoTransform(m_transforms->lab_cmyk, in.data(), percent.data(), 1);
    return from_percent(percent);
}

Lab ProcessProfile::to_lab(const Cmyk &cmyk) const
{
    const std::array<float, 4> percent = to_percent(cmyk);
    std::array<float, 3> lab{};
    cmsDoTransform(m_transforms->cmyk_lab, percent.data(), lab.data(), 1);
    return {lab[0], lab[1], lab[2]};
}

Rgb8 ProcessProfile::to_rgb(const Cmyk &cmyk) const
{
    const std::array<float, 4> percent = to_percent(cmyk);
    std::array<float, 3> rgb{};
    cmsDoTransform(m_transforms->cmyk_rgb, percent.data(), rgb.data(), 1);
    return clipped(rgb);
}

Rgb8 ProcessProfile::lab_to_rgb(const Lab &lab) const
{
    const std::array<float, 3> in = {static_cast<float>(lab.l), static_cast<float>(lab.a),
                                     static_cast<float>(lab.b)};
    std::array<float, 3> rgb{};
    cmsDoTransform(m_transforms->lab_rgb, in.data(), rgb.data(), 1);
    return clipped(rgb);
}

Lab ProcessProfile::rgb_to_lab(Rgb8 colour) const
{
    const std::array<float, 3> rgb = {static_cast<float>(colour.r) / 255.0f,
                                      static_cast<float>(colour.g) / 255.0f,
                                      static_cast<float>(colour.b) / 255.0f};
    std::array<float, 3> lab{};
    cmsDoTransform(m_transforms->rgb_lab, rgb.data(), lab.data(), 1);
    return {lab[0], lab[1], lab[2]};
}

void ProcessProfile::rgb_pixels_to_cmyk(const std::uint8_t *rgb, std::uint8_t *cmyk, std::size_t count) const
{
    cmsDoTransform(m_transforms->rgb_cmyk8, rgb, cmyk, static_cast<cmsUInt32Number>(count));
}

void ProcessProfile::lab_pixels_to_cmyk(const std::uint8_t *lab, std::uint8_t *cmyk, std::size_t count) const
{
    cmsDoTransform(m_transforms->lab_cmyk8, lab, cmyk, static_cast<cmsUInt32Number>(count));
}

void ProcessProfile::cmyk_pixels_to_rgb(const std::uint8_t *cmyk, std::uint8_t *rgb, std::size_t count) const
{
    cmsDoTransform(m_transforms->cmyk_rgb8, cmyk, rgb, static_cast<cmsUInt32Number>(count));
}

} // namespace bichrom
