#include "core/colour/source_profile.h"

#include "core/colour/process_profile_impl.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

struct SourceProfile::Impl
{
    std::shared_ptr<const ProcessProfile> destination; ///< whose context the transforms live in
    Model model = Model::Rgb;
    std::string name;
    LcmsTransform cmyk, lab, rgb; ///< from floats
    LcmsTransform cmyk8, rgb8;    ///< from bytes
};

namespace {

/// lcms floats carry ink in percent.
std::array<float, 4> as_lcms(SourceProfile::Model model, const float *value)
{
    std::array<float, 4> out{};
    const std::size_t count = model == SourceProfile::Model::Gray      ? 1
                              : model == SourceProfile::Model::Process ? 4
                                                                       : 3;
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = model == SourceProfile::Model::Process ? value[i] * 100.0f : value[i];
    }
    return out;
}

bool close_to(const std::array<double, 3> &a, const std::array<double, 3> &b)
{
    return std::fabs(a[0] - b[0]) + std::fabs(a[1] - b[1]) + std::fabs(a[2] - b[2]) < 0.01;
}

} // namespace

SourceProfile::SourceProfile() : m_impl(std::make_unique<Impl>()) {}
SourceProfile::~SourceProfile() = default;

Outcome<std::shared_ptr<const SourceProfile>>
SourceProfile::open(std::span<const std::byte> icc, int components,
                    std::shared_ptr<const ProcessProfile> destination)
{
    const ProcessProfile::Impl &target = *destination->m_impl;
    cmsContext context = target.context.get();
    const LcmsProfile profile(
        cmsOpenProfileFromMemTHR(context, icc.data(), static_cast<cmsUInt32Number>(icc.size())));
    if (!profile) {
        return Error{ErrorCode::WrongFormat, "The colour profile is damaged.", {}, {}};
    }
    std::shared_ptr<SourceProfile> made(new SourceProfile());
    Impl &impl = *made->m_impl;
    impl.destination = destination;
    cmsUInt32Number floats = 0;
    cmsUInt32Number bytes = 0;
    switch (cmsGetColorSpace(profile.get())) {
    case cmsSigGrayData:
        impl.model = Model::Gray;
        floats = TYPE_GRAY_FLT;
        bytes = TYPE_GRAY_8;
        break;
    case cmsSigRgbData:
        impl.model = Model::Rgb;
        floats = TYPE_RGB_FLT;
        bytes = TYPE_RGB_8;
        break;
    case cmsSigCmykData:
        impl.model = Model::Process;
        floats = TYPE_CMYK_FLT;
        bytes = TYPE_CMYK_8;
        break;
    case cmsSigLabData:
        impl.model = Model::CieLab;
        floats = TYPE_Lab_FLT;
        bytes = TYPE_Lab_8;
        break;
    default:
        return Error{ErrorCode::WrongFormat, "The colour profile is of an unusual kind.", {}, {}};
    }
    if (components != 0 && made->components() != components) {
        return Error{
            ErrorCode::WrongFormat, "The colour profile does not fit the number of channels.", {}, {}};
    }
    impl.name = profile_name(profile.get());
    const LcmsProfile srgb(cmsCreate_sRGBProfileTHR(context));
    const LcmsProfile lab(cmsCreateLab4ProfileTHR(context, nullptr));
    const auto make = [&](cmsUInt32Number type, cmsHPROFILE out, cmsUInt32Number out_type) {
        return LcmsTransform(cmsCreateTransformTHR(context, profile.get(), type, out, out_type,
                                                   lcms_intent(target.rendering.intent),
                                                   lcms_flags(target.rendering)));
    };
    impl.cmyk = make(floats, target.profile.get(), TYPE_CMYK_FLT);
    impl.cmyk8 = make(bytes, target.profile.get(), TYPE_CMYK_8);
    impl.rgb = make(floats, srgb.get(), TYPE_RGB_FLT);
    impl.rgb8 = make(bytes, srgb.get(), TYPE_RGB_8);
    impl.lab.reset(cmsCreateTransformTHR(context, profile.get(), floats, lab.get(), TYPE_Lab_FLT,
                                         INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE));
    if (!impl.cmyk || !impl.cmyk8 || !impl.rgb || !impl.rgb8 || !impl.lab) {
        return Error{ErrorCode::WrongFormat, "The colour profile lacks a table it needs.", {}, {}};
    }
    return std::shared_ptr<const SourceProfile>(std::move(made));
}

SourceProfile::Model SourceProfile::model() const
{
    return m_impl->model;
}

int SourceProfile::components() const
{
    return m_impl->model == Model::Gray ? 1 : m_impl->model == Model::Process ? 4 : 3;
}

const std::string &SourceProfile::name() const
{
    return m_impl->name;
}

Cmyk SourceProfile::to_cmyk(const float *value) const
{
    const std::array<float, 4> in = as_lcms(m_impl->model, value);
    Cmyk out{};
    cmsDoTransform(m_impl->cmyk.get(), in.data(), out.data(), 1);
    for (float &ink : out) {
        ink = std::clamp(ink / 100.0f, 0.0f, 1.0f);
    }
    return out;
}

Lab SourceProfile::to_lab(const float *value) const
{
    const std::array<float, 4> in = as_lcms(m_impl->model, value);
    std::array<float, 3> out{};
    cmsDoTransform(m_impl->lab.get(), in.data(), out.data(), 1);
    return {out[0], out[1], out[2]};
}

Rgb8 SourceProfile::to_rgb(const float *value) const
{
    const std::array<float, 4> in = as_lcms(m_impl->model, value);
    std::array<float, 3> out{};
    cmsDoTransform(m_impl->rgb.get(), in.data(), out.data(), 1);
    const auto byte = [](float v) {
        return static_cast<std::uint8_t>(std::lround(std::clamp(v, 0.0f, 1.0f) * 255.0f));
    };
    return {byte(out[0]), byte(out[1]), byte(out[2])};
}

void SourceProfile::pixels_to_cmyk(const std::uint8_t *from, std::uint8_t *cmyk, std::size_t count) const
{
    cmsDoTransform(m_impl->cmyk8.get(), from, cmyk, static_cast<cmsUInt32Number>(count));
}

void SourceProfile::pixels_to_rgb(const std::uint8_t *from, std::uint8_t *rgb, std::size_t count) const
{
    cmsDoTransform(m_impl->rgb8.get(), from, rgb, static_cast<cmsUInt32Number>(count));
}

std::vector<std::byte> make_profile(const CalibratedRgb &colours)
{
    const auto &m = colours.matrix;
    std::array<cmsCIExyY, 3> primaries{};
    for (std::size_t i = 0; i < 3; ++i) {
        const cmsCIEXYZ xyz = {m[i * 3], m[i * 3 + 1], m[i * 3 + 2]};
        if (!(xyz.X + xyz.Y + xyz.Z > 1e-6) || !(colours.gamma[i] > 0.01) || !(colours.gamma[i] < 20)) {
            return {};
        }
        cmsXYZ2xyY(&primaries[i], &xyz);
    }
    const std::array<double, 3> sum = {m[0] + m[3] + m[6], m[1] + m[4] + m[7], m[2] + m[5] + m[8]};
    if (!(colours.white[0] > 0) || !(colours.white[1] > 0) || !(colours.white[2] > 0)) {
        return {};
    }
    // The primaries at full strength give the space's white, which may differ from the WhitePoint entry.
    const std::array<double, 3> &white_xyz = close_to(sum, colours.white) ? colours.white : sum;
    cmsCIExyY white{};
    const cmsCIEXYZ w = {white_xyz[0], white_xyz[1], white_xyz[2]};
    cmsXYZ2xyY(&white, &w);
    white.Y = 1.0;
    const LcmsContext context(cmsCreateContext(nullptr, nullptr));
    cmsToneCurve *curves[3] = {};
    for (std::size_t i = 0; i < 3; ++i) {
        curves[i] = cmsBuildGamma(context.get(), colours.gamma[i]);
    }
    const cmsCIExyYTRIPLE triple = {primaries[0], primaries[1], primaries[2]};
    const LcmsProfile profile(cmsCreateRGBProfileTHR(context.get(), &white, &triple, curves));
    for (cmsToneCurve *curve : curves) {
        cmsFreeToneCurve(curve);
    }
    cmsUInt32Number size = 0;
    if (!profile || cmsSaveProfileToMem(profile.get(), nullptr, &size) == 0) {
        return {};
    }
    std::vector<std::byte> bytes(size);
    if (cmsSaveProfileToMem(profile.get(), bytes.data(), &size) == 0) {
        return {};
    }
    return bytes;
}

} // namespace bichrom
