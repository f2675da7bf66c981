/// \file
/// What an ink does on the stock.
/// Layer: core/colour. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <array>
#include <string_view>

namespace bichrom {

/// What an ink does on the stock.
enum class InkUse
{
    Spot,
    Process,
    White, ///< opaque white
    Varnish,
    Metallic,
    Foil,
    Technical ///< not seen: cut lines, notes
};
inline constexpr std::array<InkUse, 7> all_ink_uses = {InkUse::Spot,     InkUse::Process,  InkUse::White,
                                                       InkUse::Varnish,  InkUse::Metallic, InkUse::Foil,
                                                       InkUse::Technical};
[[nodiscard]] const char *to_string(InkUse use); ///< "spot", "process", "white" …
[[nodiscard]] Outcome<InkUse> parse_ink_use(std::string_view name);

/// What an ink's name says it is: "Base White" white, "Spot Varnish" and "Clear" varnish, "Copper" metallic,
/// "Cut line" technical; the process inks process; everything else spot. Whole words, any case. A guess, for
/// checks and proposals.
[[nodiscard]] InkUse use_named(std::string_view name);

} // namespace bichrom
