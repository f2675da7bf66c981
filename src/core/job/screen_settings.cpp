#include "core/job/screen_settings.h"

#include <algorithm>
#include <cmath>
#include <string>

namespace bichrom {

const char *to_string(DotShape shape)
{
    static constexpr const char *names[] = {"round", "ellipse", "square", "diamond", "line"};
    return names[static_cast<std::size_t>(shape)];
}

Outcome<DotShape> parse_dot_shape(std::string_view name)
{
    for (const DotShape shape : all_dot_shapes) {
        if (name == to_string(shape)) {
            return shape;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is not a dot shape.",
                 {},
                 "Use round, ellipse, square, diamond or line."};
}

const char *to_string(ScreenKind kind)
{
    static constexpr const char *names[] = {"am", "fm", "hybrid", "diffusion", "tile", "none"};
    return names[static_cast<std::size_t>(kind)];
}

Outcome<ScreenKind> parse_screen_kind(std::string_view name)
{
    for (const ScreenKind kind : all_screen_kinds) {
        if (name == to_string(kind)) {
            return kind;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no way of screening.",
                 {},
                 "Use am, fm, hybrid, diffusion, tile or none."};
}

bool has_lattice(const Screen &screen)
{
    return screen.kind == ScreenKind::Am || screen.kind == ScreenKind::Hybrid;
}

int repeats_after(const Screen &screen)
{
    return screen.dot == DotShape::Line || screen.dot == DotShape::Ellipse ? 180 : 90;
}

std::string describe(const Screen &screen)
{
    const std::string least = std::to_string(least_dot_of(screen)) + " px";
    switch (screen.kind) {
    case ScreenKind::Fm:
        return "FM " + least;
    case ScreenKind::Diffusion:
        return "diffused " + least;
    case ScreenKind::Tile:
        return "tile " + screen.tile.name();
    case ScreenKind::None:
        return "no halftone";
    case ScreenKind::Am:
    case ScreenKind::Hybrid:
        break;
    }
    return format_number(screen.ruling.value, 2) + " lpi " + format_number(screen.angle.value, 2) + "° " +
           to_string(screen.dot) + (screen.kind == ScreenKind::Hybrid ? ", from " + least : "");
}

int least_dot_of(const Screen &screen)
{
    return screen.least_dot > 0 ? screen.least_dot : screen.kind == ScreenKind::Hybrid ? 12 : 2;
}

Done check_screen(const Screen &screen, Dpi resolution)
{
    const double ruling = screen.ruling.value;
    if (!(ruling >= 1.0 && ruling <= 600.0)) {
        return Error{ErrorCode::OutOfRange,
                     "A ruling of " + format_number(ruling, 2) + " lpi cannot be made.",
                     {},
                     "Use 1 to 600 lpi."};
    }
    if (ruling * 3.0 > resolution.value) {
        return Error{ErrorCode::OutOfRange,
                     "A ruling of " + format_number(ruling, 2) + " lpi is too fine for " +
                         format_number(resolution.value, 0) + " dpi.",
                     {},
                     "Use at most a third of the resolution, " + format_number(resolution.value / 3.0, 1) +
                         " lpi."};
    }
    if (!(std::fabs(screen.angle.value) <= 360.0)) {
        return Error{
            ErrorCode::OutOfRange, "The screen angle is outside −360° to 360°.", {}, "Use 0° to 180°."};
    }
    if (!(screen.chain >= 0 && screen.chain <= 0.6)) {
        return Error{ErrorCode::OutOfRange, "The ellipse cannot be that long.", {}, "Use 0 to 0.6."};
    }
    const int largest = screen.kind == ScreenKind::Fm ? 16 : screen.kind == ScreenKind::Diffusion ? 8 : 400;
    if (screen.least_dot < 0 || screen.least_dot > largest) {
        return Error{ErrorCode::OutOfRange,
                     "The least dot cannot be made of that many pixels.",
                     {},
                     "Use 1 to " + std::to_string(largest) + "."};
    }
    if (screen.kind == ScreenKind::Tile && screen.tile.empty()) {
        return Error{ErrorCode::OutOfRange,
                     "No tile to screen with has been chosen.",
                     {},
                     "Choose a PNG or TIFF of thresholds, or another way of screening."};
    }
    return {};
}

Done check_press_curve(const PressCurve &press)
{
    const auto falls = [](const ToneCurve &curve) {
        const auto &points = curve.points();
        return !std::is_sorted(points.begin(), points.end(),
                               [](const CurvePoint &a, const CurvePoint &b) { return a.out < b.out; });
    };
    if (falls(press.printed) || falls(press.wish)) {
        return Error{ErrorCode::OutOfRange,
                     "The curve falls: a darker film would print lighter.",
                     {},
                     "Look for a mistyped or badly measured point."};
    }
    if (!(press.least >= 0 && press.least <= 0.5) || !(press.most >= 0.5 && press.most <= 1)) {
        return Error{ErrorCode::OutOfRange,
                     "The smallest dot and the largest open dot lie the wrong way round.",
                     {},
                     "Use 0 to 50 % and 50 to 100 %."};
    }
    return {};
}

double film_tone(const PressCurve &press, double tone)
{
    if (!(tone > 0)) {
        return 0;
    }
    if (tone >= 1) {
        return 1;
    }
    const double wanted = press.wish.at(tone);
    const double film = press.printed.is_identity() ? wanted : press.printed.tone_for(wanted);
    if (film < press.least) {
        return press.hold && film > 0 ? press.least : 0;
    }
    if (film > press.most) {
        return press.hold && film < 1 ? press.most : 1;
    }
    return film;
}

double printed_tone(const PressCurve &press, double tone)
{
    return press.printed.at(film_tone(press, tone));
}

} // namespace bichrom
