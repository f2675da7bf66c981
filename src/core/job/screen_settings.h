/// \file
/// How a plate is screened, as the artist set it.
/// Layer: core/job. May use core/base, core/colour.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/colour/tone_curve.h"
#include "core/job/own_tile.h"

#include <array>
#include <string>
#include <string_view>

namespace bichrom {

enum class DotShape
{
    Round,   ///< circles that touch at 78.5 %
    Ellipse, ///< longer along the screen angle; touch first end to end, then side to side
    Square,  ///< round in the lights, a chequerboard at 50 %, round holes in the shadows
    Diamond, ///< standing on a corner; touch at 50 %
    Line     ///< unbroken lines along the screen angle
};
inline constexpr std::array<DotShape, 5> all_dot_shapes = {
    DotShape::Round, DotShape::Ellipse, DotShape::Square, DotShape::Diamond, DotShape::Line};
[[nodiscard]] const char *to_string(DotShape shape); ///< "round", "ellipse", "square", "diamond", "line"
[[nodiscard]] Outcome<DotShape> parse_dot_shape(std::string_view name);

/// How tones become dots.
enum class ScreenKind
{
    Am,        ///< dots of all sizes on a lattice
    Fm,        ///< dots of one size, scattered
    Hybrid,    ///< on a lattice; in lights and shadows whole dots drop out instead of growing smaller
    Diffusion, ///< dots of one size where what is left over from those before them calls for one
    Tile,      ///< by the shop's own tile of thresholds
    None       ///< no halftone: ink where the tone is at least one half, of plates that hold lines only
};
inline constexpr std::array<ScreenKind, 6> all_screen_kinds = {ScreenKind::Am,     ScreenKind::Fm,
                                                               ScreenKind::Hybrid, ScreenKind::Diffusion,
                                                               ScreenKind::Tile,   ScreenKind::None};
[[nodiscard]] const char *to_string(ScreenKind kind); ///< "am", "fm", "hybrid", "diffusion", "tile", "none"
[[nodiscard]] Outcome<ScreenKind> parse_screen_kind(std::string_view name);

/// How one plate is screened.
struct Screen
{
    Lpi ruling{55};      ///< of Am, Hybrid
    Degrees angle{22.5}; ///< anticlockwise from the horizontal, seen on a right-reading film
    DotShape dot = DotShape::Round;
    ScreenKind kind = ScreenKind::Am;
    /// Of an ellipse: how far from round, 0 to 0.6; its dots touch end to end at about 36.5 % with 0.2.
    double chain = 0.2;
    /// The smallest dot and the smallest hole: of Fm and Diffusion pixels a side, of Hybrid pixels in all. 0
    /// = the usual, 2 and 12; at most 16, 8 and 400.
    int least_dot = 0;
    OwnTile tile{}; ///< of Tile
    friend bool operator==(const Screen &, const Screen &) = default;
};

/// Whether its dots stand on a lattice, which has a ruling and an angle.
[[nodiscard]] bool has_lattice(const Screen &screen);
/// Degrees by which its lattice may be turned until it looks as before: 90 or 180.
[[nodiscard]] int repeats_after(const Screen &screen);
/// In words: "55 lpi 22.5° round", "FM 2 px", "no halftone" …
[[nodiscard]] std::string describe(const Screen &screen);

/// What the least dot comes to, the usual one where none is said.
[[nodiscard]] int least_dot_of(const Screen &screen);

/// Ruling 1 to 600 lpi and at most a third of the resolution; angle −360° to 360°; a tile where one is to be
/// used. OutOfRange.
[[nodiscard]] Done check_screen(const Screen &screen, Dpi resolution);

/// How a plate's tones change between film and print, and what is done about it. Tones 0 to 1.
struct PressCurve
{
    ToneCurve printed{}; ///< tone on film → tone in print, as measured; none: they are alike
    ToneCurve wish{};    ///< tone of the plate → tone wanted in print; none: the same
    double least = 0;    ///< what on film is lighter does not hold, 0 to 0.5
    double most = 1;     ///< what on film is darker fills, 0.5 to 1
    bool hold = false;   ///< tones beyond these are brought to them; else they become bare and solid
    [[nodiscard]] bool is_identity() const
    {
        return printed.is_identity() && wish.is_identity() && least <= 0 && most >= 1;
    }
    friend bool operator==(const PressCurve &, const PressCurve &) = default;
};

/// OutOfRange for a curve that falls, or values that cannot be.
[[nodiscard]] Done check_press_curve(const PressCurve &press);

/// The tone on film, 0 to 1, for a tone of the plate: what prints as the wish. 0 and 1 stay.
[[nodiscard]] double film_tone(const PressCurve &press, double tone);

/// The tone in print, 0 to 1, for a tone of the plate.
[[nodiscard]] double printed_tone(const PressCurve &press, double tone);

} // namespace bichrom
