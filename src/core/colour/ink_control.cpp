#include "core/colour/ink_control.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

double smooth_step(double at)
{
    const double t = std::clamp(at, 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

double around(double degrees)
{
    const double turned = std::fmod(degrees, 360.0);
    return turned < 0 ? turned + 360 : turned;
}

} // namespace

double HueHold::share(const Lab &wish) const
{
    if (!holds()) {
        return 1;
    }
    constexpr double grey = 4, coloured = 12; // chroma
    const double hue = std::atan2(wish.b, wish.a) * 180 / std::numbers::pi;
    const double turned = around(hue - middle);
    const double off = std::min(turned, 360 - turned) - width / 2; // degrees outside
    return smooth_step((std::hypot(wish.a, wish.b) - grey) / (coloured - grey)) * smooth_step(1 - off / soft);
}

Outcome<HueHold> parse_hues(std::string_view text)
{
    if (text == "all") {
        return HueHold();
    }
    const std::size_t dash = text.find('-', 1);
    const auto from = parse_number(text.substr(0, std::min(dash, text.size())));
    const auto to = dash == std::string_view::npos ? from : parse_number(text.substr(dash + 1));
    const auto is_hue = [](const auto &value) { return value && *value >= 0 && *value <= 360; };
    if (dash != std::string_view::npos && is_hue(from) && is_hue(to)) {
        const double width = around(*to - *from);
        if (width >= HueHold::least_width) {
            return HueHold{around(*from + width / 2), width};
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(text) + "' is no range of hues.",
                 {},
                 "Write two hues in degrees, at least 20 apart, such as 30-90, or all."};
}

std::string describe(const HueHold &hold)
{
    return hold.holds() ? "hues " + format_number(around(hold.middle - hold.width / 2), 0) + "° to " +
                              format_number(around(hold.middle + hold.width / 2), 0) + "°"
                        : "all hues";
}

} // namespace bichrom
