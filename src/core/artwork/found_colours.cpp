#include "core/artwork/found_colours.h"

#include "core/colour/colour_difference.h"
#include "core/colour/ink_use.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <limits>
#include <numeric>
#include <optional>

namespace bichrom {

std::vector<const FoundColour *> find_colours(const Scene &scene)
{
    std::vector<const FoundColour *> found;
    for (const FoundColour &one : scene.colours) {
        if (!one.colour.values.empty()) {
            found.push_back(&one);
        }
    }
    return found;
}

namespace {

/// Largest difference of a colourant in percent; huge for colours of different spaces.
double colourant_difference(const ColourUse &a, const ColourUse &b)
{
    constexpr double incomparable = 1e9;
    if (a.space != b.space || a.profile != b.profile || a.colorants != b.colorants ||
        a.values.size() != b.values.size() || a.space.rfind("Indexed", 0) == 0) {
        return incomparable;
    }
    double most = 0;
    for (std::size_t i = 0; i < a.values.size(); ++i) {
        most = std::max(most, std::fabs(static_cast<double>(a.values[i]) - static_cast<double>(b.values[i])));
    }
    return most * 100.0;
}

/// Registration colour, and inks that are not colours to the eye: never alike to others.
bool stands_alone(const ColourUse &colour)
{
    return std::any_of(colour.colorants.begin(), colour.colorants.end(), [](const std::string &name) {
        const InkUse use = use_named(name);
        return name == "All" || use == InkUse::White || use == InkUse::Varnish || use == InkUse::Foil ||
               use == InkUse::Technical;
    });
}

/// Whether CIEDE2000 of two colours is over \p least, by a bound that costs little: of its square at least
/// the part of lightness, and 0.134 of those of chroma and hue, is left (their cross term is at most sin 60°
/// · 2), and what divides these is at most 1 + 0.045 C'.
bool is_surely_over(const Lab &a, const Lab &b, double least)
{
    const double middle = (a.l + b.l) / 2 - 50;
    const double sl = 1 + 0.015 * middle * middle / std::sqrt(20 + middle * middle);
    const double lightness = (a.l - b.l) / sl;
    const double chroma = 1.5 * (std::hypot(a.a, a.b) + std::hypot(b.a, b.b)) / 2; // a' is at most 1.5 a
    const double s = 1 + 0.045 * chroma;
    const double plane = ((a.a - b.a) * (a.a - b.a) + (a.b - b.b) * (a.b - b.b)) / (s * s);
    return lightness * lightness + 0.134 * plane > least * least * 1.000001; // and rounding
}

/// \param alone  whether one of them stands alone
double distance_of(const FoundColour &a, const FoundColour &b, ColourMeasure measure, bool alone)
{
    if (alone && !(a.colour == b.colour) && a.colour.colorants != b.colour.colorants) {
        return std::numeric_limits<double>::max();
    }
    return measure == ColourMeasure::DeltaE ? ciede2000(a.appearance, b.appearance)
                                            : colourant_difference(a.colour, b.colour);
}

} // namespace

double colour_distance(const FoundColour &a, const FoundColour &b, ColourMeasure measure)
{
    return distance_of(a, b, measure, stands_alone(a.colour) || stands_alone(b.colour));
}

bool holds_ink(const Scene &scene, const std::string &ink)
{
    return std::any_of(scene.inks.begin(), scene.inks.end(),
                       [&](const FoundInk &found) { return found.name == ink; });
}

std::set<int> artworks_with(const Scene &scene, const std::string &ink)
{
    std::set<int> artworks;
    for (const FoundColour &colour : scene.colours) {
        if (std::any_of(colour.inks.begin(), colour.inks.end(),
                        [&](const InkAmount &one) { return one.ink == ink; })) {
            artworks.insert(colour.artwork);
        }
    }
    return artworks;
}

std::vector<ColourGroup> group_colours(const std::vector<FoundColour> &colours,
                                       const std::vector<double> &areas, double tolerance,
                                       ColourMeasure measure)
{
    std::vector<int> order(colours.size());
    std::iota(order.begin(), order.end(), 0);
    const auto weight = [&](int number) {
        const auto i = static_cast<std::size_t>(number);
        return i < areas.size() ? areas[i] : colours[i].objects;
    };
    std::stable_sort(order.begin(), order.end(), [&](int a, int b) { return weight(a) > weight(b); });
    std::vector<ColourGroup> groups;
    struct Leader
    {
        Lab lab;
        const FoundColour *colour;
        std::size_t group;
        bool alone;
    };
    std::vector<Leader> leaders; // of groups that take others in, by L*
    const auto darker = [](const Leader &leader, double l) { return leader.lab.l < l; };
    // ΔE is never under ΔL* / S_L, and S_L never over 1.75 (from the formula): most pairs need no more.
    constexpr double largest_sl = 1.75;
    const bool by_look = measure == ColourMeasure::DeltaE;
    const double reach = by_look ? largest_sl * tolerance : 1e9;
    for (const int number : order) {
        const FoundColour &one = colours[static_cast<std::size_t>(number)];
        const bool joins = tolerance > 0.0 && !one.colour.values.empty();
        const bool alone = joins && stands_alone(one.colour);
        std::optional<std::size_t> nearest;
        double least = tolerance;
        const double l = one.appearance.l;
        auto at = joins ? std::lower_bound(leaders.begin(), leaders.end(), l - reach, darker) : leaders.end();
        for (; at != leaders.end() && at->lab.l <= l + reach; ++at) {
            const std::size_t group = at->group;
            if (one.artwork != at->colour->artwork ||
                (by_look && is_surely_over(one.appearance, at->lab, least))) {
                continue;
            }
            const double difference = distance_of(one, *at->colour, measure, alone || at->alone);
            // Of two as near the one that came later, whatever the order they are met in.
            if (difference < least || (difference == least && (!nearest || group > *nearest))) {
                least = difference;
                nearest = group;
            }
        }
        if (nearest) {
            groups[*nearest].members.push_back(number);
            groups[*nearest].spread = std::max(groups[*nearest].spread, least);
        } else {
            if (joins) {
                const auto place = std::lower_bound(leaders.begin(), leaders.end(), l, darker);
                leaders.insert(place, {one.appearance, &one, groups.size(), alone});
            }
            groups.push_back({{number}, 0});
        }
    }
    return groups;
}

std::string describe(const ColourUse &colour)
{
    const std::vector<std::string> &names = colour.colorants;
    const bool direct = colour.space.rfind("Indexed", 0) != 0 && colour.values.size() == names.size();
    const auto with_letters = [&](const char *letters, double whole) {
        std::string text;
        for (std::size_t i = 0; i < names.size(); ++i) {
            text += (i > 0 ? " " : "") + std::string(1, letters[i]) + " " +
                    format_number(static_cast<double>(colour.values[i]) * whole, whole > 100 ? 0 : 1);
        }
        return colour.profile.empty() ? text : text + " (" + colour.profile + ")";
    };
    if (direct && names.size() == 4 && names[0] == "Cyan" && names[3] == "Black" &&
        colour.space.find("DeviceN") == std::string::npos) {
        return with_letters("CMYK", 100);
    }
    if (direct && names.size() == 3 && names[0] == "Red") {
        return with_letters("RGB", 255);
    }
    if (direct && names.size() == 1 && names[0] == "Gray") {
        return "K " + format_number((1.0 - static_cast<double>(colour.values[0])) * 100.0, 1);
    }
    if (direct && (colour.space == "Separation" || colour.space == "DeviceN")) {
        std::string text;
        for (std::size_t i = 0; i < names.size(); ++i) {
            text += (i > 0 ? " + " : "") + names[i] + " " +
                    format_number(static_cast<double>(colour.values[i]) * 100.0, 1) + " %";
        }
        return text;
    }
    std::string text = colour.profile.empty() ? colour.space : colour.space + " (" + colour.profile + ")";
    const bool named = colour.space.find("Separation") != std::string::npos ||
                       colour.space.find("DeviceN") != std::string::npos;
    const bool lab = colour.space.find("Lab") != std::string::npos;
    for (std::size_t i = 0; i < colour.values.size(); ++i) {
        const auto value = static_cast<double>(colour.values[i]);
        if (named && i < colour.colorants.size()) {
            text += (i > 0 ? " + " : " ") + colour.colorants[i];
        }
        text += " " + format_number(lab ? value : value * 100.0, 1);
        if (named) {
            text += " %";
        }
    }
    return named || lab || colour.values.empty() ? text : text + " %";
}

std::string describe(const SceneObject &object)
{
    std::string text = to_string(object.kind);
    if (!object.font.empty()) {
        text += " " + format_number(object.font_size, 1) + " pt " + object.font;
        if (!object.font_embedded) {
            text += " (not embedded)";
        }
    }
    if (object.image_width > 0) {
        text += " " + std::to_string(object.image_width) + " × " + std::to_string(object.image_height) +
                " px, " + format_number(object.image_ppi, 0) + " ppi";
    }
    text += ", " + describe(object.colour);
    if (object.kind == ObjectKind::Stroke || object.kind == ObjectKind::StrokedText) {
        text += ", line " + format_number(object.stroke_width, 3) + " pt";
    }
    if (object.overprint) {
        text += ", overprints";
    }
    if (object.alpha < 1.0f) {
        text += ", opacity " + format_number(static_cast<double>(object.alpha) * 100.0, 0) + " %";
    }
    if (!object.layer.empty()) {
        text += ", layer " + object.layer;
    }
    return text;
}

} // namespace bichrom
