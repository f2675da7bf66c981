/// \file
/// How much of a picture's greys is printed in black ink.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/colour/colour_table.h"
#include "core/colour/process_profile.h"

#include <memory>

namespace bichrom {

/// How far black replaces cyan, magenta and yellow that together make grey, between the least and the most
/// that give the same colour.
enum class BlackAmount
{
    AsProfile, ///< as the printing condition's profile separates
    Least,     ///< only where the other three do not get dark enough
    Light,
    Medium,
    Heavy,
    Most ///< at least one of the other three is always bare
};
inline constexpr std::array<BlackAmount, 6> all_black_amounts = {BlackAmount::AsProfile, BlackAmount::Least,
                                                                 BlackAmount::Light,     BlackAmount::Medium,
                                                                 BlackAmount::Heavy,     BlackAmount::Most};
[[nodiscard]] const char *to_string(BlackAmount amount); ///< "as profile", "least", "light" …
[[nodiscard]] Outcome<BlackAmount> parse_black_amount(std::string_view name);

struct BlackGeneration
{
    BlackAmount amount = BlackAmount::AsProfile;
    double ink_limit = 4; ///< all four together, 1 to 4 (400 %)
    [[nodiscard]] bool as_profile() const { return amount == BlackAmount::AsProfile && ink_limit >= 4; }
    friend bool operator==(const BlackGeneration &, const BlackGeneration &) = default;
};

/// Cyan, magenta, yellow and black for every sRGB colour: what \p condition prints for it, made with another
/// share of black. Colours stay what they are; only where the ink limit allows no mixture that dark do they
/// become lighter. Cancelled.
[[nodiscard]] Outcome<std::shared_ptr<const ColourTable>>
black_table(const ProcessProfile &condition, const BlackGeneration &black, const JobControl &control = {});

} // namespace bichrom
