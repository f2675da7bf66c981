/// \file
/// What overprints and what knocks out, as the artist and the house want it.
/// Layer: core/job. May use core/artwork.
#pragma once

#include "core/artwork/scene.h"
#include "core/base/outcome.h"
#include "core/job/route.h"

#include <array>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

struct Plate;

enum class OverprintWish
{
    AsFile,
    Overprint,
    KnockOut
};
inline constexpr std::array<OverprintWish, 3> all_overprint_wishes = {
    OverprintWish::AsFile, OverprintWish::Overprint, OverprintWish::KnockOut};
[[nodiscard]] const char *to_string(OverprintWish wish); ///< "as in the file", "overprint", "knock out"
[[nodiscard]] Outcome<OverprintWish> parse_overprint_wish(std::string_view name);

/// One decision.
struct OverprintRule
{
    /// What it is about: objects, a layer, a colour, alike colours, or by ink all that prints on the plate of
    /// that ink. What becomes of it does not count here.
    Route source;
    OverprintWish wish = OverprintWish::AsFile;
    friend bool operator==(const OverprintRule &, const OverprintRule &) = default;
};

/// Rules of the house; each is off until the artist turns it on.
struct HouseOverprint
{
    bool black_text = false;  ///< solid black text up to a size overprints
    double text_size = 12;    ///< points, 1 to 144
    bool black_lines = false; ///< solid black strokes up to a width overprint
    double line_width = 1;    ///< points, 0 to 20
    bool white_knocks_out = false;
    bool finishing_overprints = false; ///< varnish and technical inks
    bool foil_knocks_out = false;
    friend bool operator==(const HouseOverprint &, const HouseOverprint &) = default;
};

struct OverprintSettings
{
    HouseOverprint house;
    /// The more particular decides: objects, then layers, colours, plates, of alike ones the last; then the
    /// house; then the file. No object stands in two rules.
    std::vector<OverprintRule> rules{};
    friend bool operator==(const OverprintSettings &, const OverprintSettings &) = default;
    [[nodiscard]] bool empty() const { return *this == OverprintSettings(); }
};

/// Who decided how an object prints.
enum class OverprintBy
{
    File,
    House,
    Rule
};

struct ObjectOverprint
{
    bool overprints = false;
    OverprintBy by = OverprintBy::File;
    int rule = -1; ///< of OverprintBy::Rule, its number
    friend bool operator==(const ObjectOverprint &, const ObjectOverprint &) = default;
};

/// How each object of \p scene prints, by its index.
[[nodiscard]] std::vector<ObjectOverprint> overprint_of(const Scene &scene, const OverprintSettings &settings,
                                                        const std::vector<Route> &routes,
                                                        const std::vector<Plate> &plates, int page);

/// \p settings with \p rule instead of one about exactly the same, or of what others say of its objects;
/// AsFile takes that away.
[[nodiscard]] OverprintSettings with_rule(OverprintSettings settings, OverprintRule rule);

/// What a rule says of \p source: of objects one that holds the first of them, else one about exactly the
/// same.
[[nodiscard]] OverprintWish wish_about(const OverprintSettings &settings, const Route &source);

/// Sizes within their bounds. OutOfRange.
[[nodiscard]] Done check_overprint(const OverprintSettings &settings);

} // namespace bichrom
