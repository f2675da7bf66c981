/// \file
/// Parts of a page that mean something to who makes the product: folds, glue, what must stay free, the
/// platen. Layer: core/job. May use core/base.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

enum class AreaKind
{
    Fold,    ///< a line: the longer side of its rectangle, in its middle
    Glue,    ///< nothing may print there
    KeepOut, ///< nor there
    Platen   ///< what can be printed: nothing may print beside it
};
inline constexpr std::array<AreaKind, 4> all_area_kinds = {AreaKind::Fold, AreaKind::Glue, AreaKind::KeepOut,
                                                           AreaKind::Platen};
[[nodiscard]] const char *to_string(AreaKind kind); ///< "fold", "glue", "keep out", "platen"
[[nodiscard]] Outcome<AreaKind> parse_area_kind(std::string_view name);

/// One of them. It never prints.
struct NamedArea
{
    AreaKind kind = AreaKind::KeepOut;
    std::string name; ///< as the shop calls it; may be empty
    Rect area;        ///< mm from the media box's top left, y down; of a fold one side may be 0
    int page = 0;     ///< 0 = all
    friend bool operator==(const NamedArea &, const NamedArea &) = default;
};

/// Whether it is on \p page.
[[nodiscard]] inline bool is_on(const NamedArea &area, int page)
{
    return area.page == 0 || area.page == page;
}

/// Sides of 0 to 20000 mm; only a fold may have one of 0. OutOfRange.
[[nodiscard]] Done check_areas(const std::vector<NamedArea> &areas);

} // namespace bichrom
