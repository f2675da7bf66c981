/// \file
/// What is assumed about colours that do not say themselves what they mean.
/// Layer: core/colour.
#pragma once

#include "core/colour/process_profile.h"

#include <memory>
#include <vector>

namespace bichrom {

/// The bytes of an ICC profile, shared and never changed; null for a shipped default.
using ProfileBytes = std::shared_ptr<const std::vector<std::byte>>;

[[nodiscard]] inline bool same_profile(const ProfileBytes &a, const ProfileBytes &b)
{
    return a == b || (a != nullptr && b != nullptr && *a == *b);
}

/// How the colours of an artwork are read, chosen for each job.
struct ColourSettings
{
    ProfileBytes condition;    ///< printing condition of the process inks; null = FOGRA39
    Rendering rendering;       ///< how other colours are brought into it
    ProfileBytes untagged_rgb; ///< of RGB without a profile; null = sRGB
    bool convert_cmyk = false; ///< CMYK with a profile: converted, or (usual) its numbers kept

    friend bool operator==(const ColourSettings &a, const ColourSettings &b)
    {
        return same_profile(a.condition, b.condition) && a.rendering == b.rendering &&
               same_profile(a.untagged_rgb, b.untagged_rgb) && a.convert_cmyk == b.convert_cmyk;
    }
};

/// The printing condition to convert by. WrongFormat when the settings' profile is none.
[[nodiscard]] Outcome<std::shared_ptr<const ProcessProfile>> condition_of(const ColourSettings &settings);

} // namespace bichrom
