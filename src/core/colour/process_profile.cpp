#include "core/colour/process_profile.h"

#include "core/colour/process_profile_impl.h"

#include <algorithm>
#include <cmath>

extern "C" {
extern const unsigned char bichrom_fogra39_icc[];
extern const unsigned char bichrom_fogra39_icc_end[];
}

namespace bichrom {

namespace {

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

ProcessProfile::ProcessProfile() : m_impl(std::make_unique<Impl>()) {}
ProcessProfile::~ProcessProfile() = default;

int process_channel(std::string_view ink)
{
    const auto found = std::find(process_names.begin(), process_names.end(), ink);
    return found == process_names.end() ? -1 : static_cast<int>(found - process_names.begin());
}

const char *to_string(RenderingIntent intent)
{
    static constexpr const char *names[] = {"perceptual", "relative", "saturation", "absolute"};
    return names[static_cast<std::size_t>(intent)];
}

Outcome<RenderingIntent> parse_rendering_intent(std::string_view name)
{
    for (const RenderingIntent intent : all_rendering_intents) {
        if (name == to_string(intent)) {
            return intent;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is not a rendering intent.",
                 {},
                 "Use perceptual, relative, saturation or absolute."};
}

Outcome<std::shared_ptr<const ProcessProfile>> ProcessProfile::open(std::span<const std::byte> icc,
                                                                    Rendering rendering)
{
    std::shared_ptr<ProcessProfile> made(new ProcessProfile());
    Impl &t = *made->m_impl;
    t.rendering = rendering;
    t.context.reset(cmsCreateContext(nullptr, nullptr));
    cmsContext context = t.context.get();
    t.profile.reset(cmsOpenProfileFromMemTHR(context, icc.data(), static_cast<cmsUInt32Number>(icc.size())));
    const Error unusable{ErrorCode::WrongFormat,
                         "This is no profile of a four-colour printing condition.",
                         {},
                         "Choose an ICC output profile for cyan, magenta, yellow and black."};
    if (!t.profile || cmsGetColorSpace(t.profile.get()) != cmsSigCmykData ||
        cmsGetDeviceClass(t.profile.get()) != cmsSigOutputClass) {
        return unusable;
    }
    t.srgb.reset(cmsCreate_sRGBProfileTHR(context));
    t.lab.reset(cmsCreateLab4ProfileTHR(context, nullptr));
    const LcmsProfile &srgb = t.srgb;
    const LcmsProfile &lab = t.lab;
    const cmsUInt32Number intent = lcms_intent(rendering.intent);
    const auto make = [context, intent, rendering](const LcmsProfile &in, cmsUInt32Number in_type,
                                                   const LcmsProfile &out, cmsUInt32Number out_type) {
        return LcmsTransform(cmsCreateTransformTHR(context, in.get(), in_type, out.get(), out_type, intent,
                                                   lcms_flags(rendering)));
    };
    t.rgb_cmyk = make(srgb, TYPE_RGB_FLT, t.profile, TYPE_CMYK_FLT);
    t.lab_cmyk = make(lab, TYPE_Lab_FLT, t.profile, TYPE_CMYK_FLT);
    // What a build looks like does not depend on how colours were brought into the condition.
    t.cmyk_lab.reset(cmsCreateTransformTHR(context, t.profile.get(), TYPE_CMYK_FLT, lab.get(), TYPE_Lab_FLT,
                                           INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE));
    t.cmyk_lab_absolute.reset(cmsCreateTransformTHR(context, t.profile.get(), TYPE_CMYK_FLT, lab.get(),
                                                    TYPE_Lab_FLT, INTENT_ABSOLUTE_COLORIMETRIC,
                                                    cmsFLAGS_NOCACHE));
    t.cmyk_rgb = make(t.profile, TYPE_CMYK_FLT, srgb, TYPE_RGB_FLT);
    const auto plain = [&](const LcmsProfile &in, cmsUInt32Number in_type, const LcmsProfile &out,
                           cmsUInt32Number out_type) {
        return LcmsTransform(cmsCreateTransformTHR(context, in.get(), in_type, out.get(), out_type,
                                                   INTENT_RELATIVE_COLORIMETRIC, cmsFLAGS_NOCACHE));
    };
    t.lab_rgb = plain(lab, TYPE_Lab_FLT, srgb, TYPE_RGB_FLT);
    t.rgb_lab = plain(srgb, TYPE_RGB_FLT, lab, TYPE_Lab_FLT);
    t.rgb_cmyk8.set([make, &t] { return make(t.srgb, TYPE_RGB_8, t.profile, type_cmyk8); });
    t.lab_cmyk8.set([make, &t] { return make(t.lab, TYPE_Lab_8, t.profile, type_cmyk8); });
    t.cmyk_rgb8.set([make, &t] { return make(t.profile, type_cmyk8, t.srgb, TYPE_RGB_8); });
    for (const LcmsTransform *transform :
         {&t.rgb_cmyk, &t.lab_cmyk, &t.cmyk_lab, &t.cmyk_lab_absolute, &t.cmyk_rgb, &t.lab_rgb, &t.rgb_lab}) {
        if (!*transform) {
            return unusable; // a table is missing or damaged
        }
    }
    t.name = profile_name(t.profile.get());
    const std::array<float, 4> bare{};
    std::array<float, 3> paper{};
    cmsDoTransform(t.cmyk_lab_absolute.get(), bare.data(), paper.data(), 1);
    t.paper = {paper[0], paper[1], paper[2]};
    return std::shared_ptr<const ProcessProfile>(std::move(made));
}

std::span<const std::byte> ProcessProfile::fogra39_bytes()
{
    return std::as_bytes(std::span(bichrom_fogra39_icc,
                                   static_cast<std::size_t>(bichrom_fogra39_icc_end - bichrom_fogra39_icc)));
}

const std::shared_ptr<const ProcessProfile> &ProcessProfile::fogra39()
{
    static const std::shared_ptr<const ProcessProfile> profile = *open(fogra39_bytes());
    return profile;
}

const std::string &ProcessProfile::name() const
{
    return m_impl->name;
}
Rendering ProcessProfile::rendering() const
{
    return m_impl->rendering;
}
Lab ProcessProfile::paper() const
{
    return m_impl->paper;
}

Cmyk ProcessProfile::from_rgb(const std::array<float, 3> &rgb) const
{
    std::array<float, 4> percent{};
    cmsDoTransform(m_impl->rgb_cmyk.get(), rgb.data(), percent.data(), 1);
    return from_percent(percent);
}

Cmyk ProcessProfile::from_lab(const Lab &lab) const
{
    const std::array<float, 3> in = {static_cast<float>(lab.l), static_cast<float>(lab.a),
                                     static_cast<float>(lab.b)};
    std::array<float, 4> percent{};
    cmsDoTransform(m_impl->lab_cmyk.get(), in.data(), percent.data(), 1);
    return from_percent(percent);
}

Lab ProcessProfile::to_lab(const Cmyk &cmyk) const
{
    const std::array<float, 4> percent = to_percent(cmyk);
    std::array<float, 3> lab{};
    cmsDoTransform(m_impl->cmyk_lab.get(), percent.data(), lab.data(), 1);
    return {lab[0], lab[1], lab[2]};
}

Rgb8 ProcessProfile::to_rgb(const Cmyk &cmyk) const
{
    const std::array<float, 4> percent = to_percent(cmyk);
    std::array<float, 3> rgb{};
    cmsDoTransform(m_impl->cmyk_rgb.get(), percent.data(), rgb.data(), 1);
    return clipped(rgb);
}

Rgb8 ProcessProfile::lab_to_rgb(const Lab &lab) const
{
    const std::array<float, 3> in = {static_cast<float>(lab.l), static_cast<float>(lab.a),
                                     static_cast<float>(lab.b)};
    std::array<float, 3> rgb{};
    cmsDoTransform(m_impl->lab_rgb.get(), in.data(), rgb.data(), 1);
    return clipped(rgb);
}

Lab ProcessProfile::rgb_to_lab(Rgb8 colour) const
{
    const std::array<float, 3> rgb = {static_cast<float>(colour.r) / 255.0f,
                                      static_cast<float>(colour.g) / 255.0f,
                                      static_cast<float>(colour.b) / 255.0f};
    std::array<float, 3> lab{};
    cmsDoTransform(m_impl->rgb_lab.get(), rgb.data(), lab.data(), 1);
    return {lab[0], lab[1], lab[2]};
}

void ProcessProfile::rgb_pixels_to_cmyk(const std::uint8_t *rgb, std::uint8_t *cmyk, std::size_t count) const
{
    cmsDoTransform(m_impl->rgb_cmyk8.get(), rgb, cmyk, static_cast<cmsUInt32Number>(count));
}

void ProcessProfile::lab_pixels_to_cmyk(const std::uint8_t *lab, std::uint8_t *cmyk, std::size_t count) const
{
    cmsDoTransform(m_impl->lab_cmyk8.get(), lab, cmyk, static_cast<cmsUInt32Number>(count));
}

void ProcessProfile::cmyk_pixels_to_rgb(const std::uint8_t *cmyk, std::uint8_t *rgb, std::size_t count) const
{
    cmsDoTransform(m_impl->cmyk_rgb8.get(), cmyk, rgb, static_cast<cmsUInt32Number>(count));
}

const ProcessRoots &ProcessProfile::roots() const
{
    std::call_once(m_impl->roots_made, [this] { m_impl->roots = std::make_unique<ProcessRoots>(*this); });
    return *m_impl->roots;
}

} // namespace bichrom
