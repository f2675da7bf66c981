/// \file
/// lcms2's handles as owners.
/// Layer: core/colour, private to it.
#pragma once

#include <lcms2.h>

#include <memory>
#include <type_traits>

namespace bichrom {

struct ContextDeleter
{
    void operator()(cmsContext context) const { cmsDeleteContext(context); }
};
struct ProfileDeleter
{
    void operator()(cmsHPROFILE profile) const { cmsCloseProfile(profile); }
};
struct TransformDeleter
{
    void operator()(cmsHTRANSFORM transform) const { cmsDeleteTransform(transform); }
};

using LcmsContext = std::unique_ptr<std::remove_pointer_t<cmsContext>, ContextDeleter>;
using LcmsProfile = std::unique_ptr<void, ProfileDeleter>;
using LcmsTransform = std::unique_ptr<void, TransformDeleter>;

} // namespace bichrom
