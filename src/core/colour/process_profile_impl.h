/// \file
/// What a ProcessProfile holds, for its neighbours that link other profiles to it.
/// Layer: core/colour, private to it.
#pragma once

#include "core/colour/lcms_handles.h"
#include "core/colour/process_profile.h"
#include "core/colour/process_roots.h"

#include <functional>
#include <memory>
#include <mutex>
#include <new>

namespace bichrom {

/// Members are destroyed last to first: the context outlives what was made in it.
/// A transform of bytes: its tables take lcms2 tens of milliseconds, which a page without pictures need not
/// wait for. Any thread.
class LateTransform
{
public:
    void set(std::function<LcmsTransform()> make) { m_make = std::move(make); }
    /// Throws std::bad_alloc when there is no memory for it; of the same profiles others were made before.
    [[nodiscard]] cmsHTRANSFORM get() const
    {
        std::call_once(m_once, [this] {
            m_made = m_make();
            if (!m_made) {
                throw std::bad_alloc();
            }
        });
        return m_made.get();
    }

private:
    std::function<LcmsTransform()> m_make;
    mutable std::once_flag m_once;
    mutable LcmsTransform m_made;
};

struct ProcessProfile::Impl
{
    LcmsContext context;
    LcmsProfile profile, srgb, lab;
    Rendering rendering;
    std::string name;
    Lab paper;
    LcmsTransform rgb_cmyk, lab_cmyk, cmyk_lab, cmyk_lab_absolute, cmyk_rgb, lab_rgb, rgb_lab;
    LateTransform rgb_cmyk8, lab_cmyk8, cmyk_rgb8;
    std::once_flag roots_made;
    std::unique_ptr<const ProcessRoots> roots;
};

[[nodiscard]] inline cmsUInt32Number lcms_intent(RenderingIntent intent)
{
    return static_cast<cmsUInt32Number>(intent); // ICC.1 numbers them in the same order
}

/// No cache: a transform with a one-pixel cache may not be shared between threads.
[[nodiscard]] inline cmsUInt32Number lcms_flags(const Rendering &rendering)
{
    return cmsFLAGS_NOCACHE |
           (rendering.black_point && rendering.intent != RenderingIntent::AbsoluteColorimetric
                ? cmsFLAGS_BLACKPOINTCOMPENSATION
                : 0);
}

/// The profile's description as UTF-8, or a word saying that there is none.
[[nodiscard]] inline std::string profile_name(cmsHPROFILE profile)
{
    char text[256] = {};
    const cmsUInt32Number length =
        cmsGetProfileInfoASCII(profile, cmsInfoDescription, "en", "US", text, sizeof text - 1);
    return length > 1 && text[0] != '\0' ? std::string(text) : std::string("unnamed profile");
}

} // namespace bichrom
