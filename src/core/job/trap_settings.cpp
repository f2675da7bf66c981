#include "core/job/trap_settings.h"

#include <algorithm>
#include <utility>

namespace bichrom {

namespace {

constexpr std::array<std::pair<TrapSide, const char *>, 5> side_names = {{{TrapSide::Usual, "usual"},
                                                                          {TrapSide::First, "first"},
                                                                          {TrapSide::Second, "second"},
                                                                          {TrapSide::Both, "both"},
                                                                          {TrapSide::None, "none"}}};

bool same_inks(const TrapPair &pair, const std::string &a, const std::string &b)
{
    return (pair.first == a && pair.second == b) || (pair.first == b && pair.second == a);
}

} // namespace

const char *to_string(TrapSide side)
{
    return std::find_if(side_names.begin(), side_names.end(),
                        [side](const auto &one) { return one.first == side; })
        ->second;
}

Outcome<TrapSide> parse_trap_side(std::string_view name)
{
    for (const auto &[side, known] : side_names) {
        if (name == known) {
            return side;
        }
    }
    return Error{ErrorCode::OutOfRange, "No such side of a trap: " + std::string(name) + ".", {}, {}};
}

TrapPair TrapSettings::pair_of(const std::string &first, const std::string &second) const
{
    for (const TrapPair &pair : pairs) {
        if (!same_inks(pair, first, second)) {
            continue;
        }
        TrapPair turned = pair;
        if (pair.first != first) {
            std::swap(turned.first, turned.second);
            turned.side = pair.side == TrapSide::First    ? TrapSide::Second
                          : pair.side == TrapSide::Second ? TrapSide::First
                                                          : pair.side;
        }
        return turned;
    }
    return {first, second};
}

double TrapSettings::widest() const
{
    if (!on) {
        return 0;
    }
    double most = std::max({width, hold_back, base_choke});
    for (const TrapPair &pair : pairs) {
        most = std::max(most, pair.width.value_or(0));
    }
    for (const TrapZone &zone : zones) {
        most = std::max(most, zone.width);
    }
    return most;
}

Done check_traps(const TrapSettings &traps)
{
    const auto bad = [](double length) { return !(length >= 0 && length <= 1); };
    bool wrong = bad(traps.width) || bad(traps.hold_back) || bad(traps.base_choke);
    for (const TrapPair &pair : traps.pairs) {
        wrong = wrong || bad(pair.width.value_or(0));
    }
    for (const TrapZone &zone : traps.zones) {
        wrong = wrong || bad(zone.width);
    }
    if (wrong) {
        return Error{
            ErrorCode::OutOfRange, "A trap is 0 to 1 mm wide.", {}, "Type a width within these bounds."};
    }
    if (!(traps.darker >= 5 && traps.darker <= 100)) {
        return Error{
            ErrorCode::OutOfRange, "An overlap may be 5 to 100 L* darker than what covers it.", {}, {}};
    }
    return {};
}

TrapSettings with_pair(TrapSettings settings, TrapPair pair)
{
    std::erase_if(settings.pairs,
                  [&](const TrapPair &one) { return same_inks(one, pair.first, pair.second); });
    if (pair.side != TrapSide::Usual || pair.width) {
        settings.pairs.push_back(std::move(pair));
    }
    return settings;
}

} // namespace bichrom
