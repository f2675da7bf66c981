#include "core/job/named_area.h"

#include <cmath>

namespace bichrom {

const char *to_string(AreaKind kind)
{
    static constexpr const char *names[] = {"fold", "glue", "keep out", "platen"};
    return names[static_cast<std::size_t>(kind)];
}

Outcome<AreaKind> parse_area_kind(std::string_view name)
{
    for (const AreaKind kind : all_area_kinds) {
        if (name == to_string(kind)) {
            return kind;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no kind of area.",
                 {},
                 "Use fold, glue, keep out or platen."};
}

Done check_areas(const std::vector<NamedArea> &areas)
{
    constexpr double farthest = 20000; // mm, more than the largest page there is
    for (const NamedArea &one : areas) {
        const Rect &at = one.area;
        const auto is_length = [&](double mm) { return mm >= 0 && mm <= farthest; };
        const bool has_area = at.width > 0 && at.height > 0;
        const bool is_line = one.kind == AreaKind::Fold && at.width + at.height > 0;
        if (!is_length(at.width) || !is_length(at.height) || !(std::fabs(at.x) <= farthest) ||
            !(std::fabs(at.y) <= farthest) || !(has_area || is_line) || one.page < 0) {
            return Error{ErrorCode::OutOfRange,
                         std::string("An area (") + to_string(one.kind) +
                             (one.name.empty() ? "" : ", " + one.name) +
                             ") has no size, or one that cannot be.",
                         {},
                         "Give it a width and a height of up to 20 m; a fold may be a line."};
        }
    }
    return {};
}

} // namespace bichrom
