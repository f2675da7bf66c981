#include "core/job/trap_rules.h"

#include "core/colour/ink_traits.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int least_step = TrapRules::least_step;

/// Density of a solid of \p density at \p tone: Murray–Davies.
double at_tone(double density, std::uint8_t tone)
{
    return -std::log10(1 - tone / 255.0 * (1 - std::pow(10.0, -density)));
}

/// CIE L* of what has \p density.
double lightness(double density)
{
    const double y = std::pow(10.0, -density);
    return y > 216.0 / 24389.0 ? 116 * std::cbrt(y) - 16 : y * 24389.0 / 27.0;
}

/// Half of \p tone, in few steps so that alike edges are worked on together.
std::uint8_t half_of(std::uint8_t tone)
{
    const int half = std::max(1, tone / 2);
    int step = 1;
    while (step * 2 <= half) {
        step *= 2;
    }
    // To the power of two below or the middle above it.
    return static_cast<std::uint8_t>(half >= step + step / 2 ? step + step / 2 : step);
}

} // namespace

TrapRules::TrapRules(const std::vector<std::string> &inks, const std::vector<Plate> &plates,
                     TrapSettings settings, bool behind)
    : m_settings(std::move(settings))
{
    for (const std::string &name : inks) {
        const auto known =
            std::find_if(plates.begin(), plates.end(), [&](const Plate &plate) { return plate.ink == name; });
        Ink ink;
        ink.name = name;
        if (known == plates.end()) {
            m_inks.push_back(std::move(ink)); // nobody says what it looks like
            continue;
        }
        const Plate &plate = *known;
        ink.density = std::max(0.0, neutral_density(plate.solid, plate.traits));
        ink.white = plate.kind == InkUse::White;
        ink.counts = !ink.white && plate.kind != InkUse::Varnish && plate.kind != InkUse::Technical;
        ink.metal = plate.kind == InkUse::Metallic || plate.kind == InkUse::Foil;
        ink.chosen = ink.counts ||
                     std::any_of(m_settings.pairs.begin(), m_settings.pairs.end(), [&](const TrapPair &pair) {
                         return (pair.first == ink.name || pair.second == ink.name) &&
                                pair.side != TrapSide::Usual && pair.side != TrapSide::None;
                     });
        // What more than half hides; a half-opaque ink is seen through and darkens like others.
        ink.covers = ink.metal || plate.traits.opacity > 0.75;
        ink.strength = ink.covers ? 1 : ink.density;
        // Dark and neutral: a process black or a spot that is as dark (common practice, no source).
        ink.black = ink.counts && !ink.metal && is_black(plate.solid);
        const auto number = static_cast<int>(known - plates.begin());
        ink.height = behind ? static_cast<int>(plates.size()) - 1 - number : number;
        m_inks.push_back(std::move(ink));
    }
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        m_pile.push_back(i);
    }
    std::stable_sort(m_pile.begin(), m_pile.end(),
                     [this](std::size_t a, std::size_t b) { return m_inks[a].height < m_inks[b].height; });
}

bool TrapRules::counts(int plate) const
{
    const Ink &ink = m_inks[static_cast<std::size_t>(plate)];
    return ink.chosen || (ink.white && m_settings.base_choke > 0);
}

double TrapRules::density_of(std::span<const std::uint8_t> tones) const
{
    double density = 0;
    for (const std::size_t i : m_pile) {
        const Ink &ink = m_inks[i];
        if (tones[i] == 0 || !ink.counts) {
            continue;
        }
        if (ink.covers) {
            density *= 1 - tones[i] / 255.0; // it hides what lies below
        }
        density += at_tone(ink.density, tones[i]);
    }
    return density;
}

std::uint8_t TrapRules::hidden_tone(std::span<const std::uint8_t> under, const Ink &ink,
                                    std::uint8_t tone) const
{
    const double cover = density_of(under);
    const double least = lightness(cover) - m_settings.darker;
    // Density rises with the tone: halve the interval until it is one step.
    int low = 0, high = tone;
    if (lightness(cover + at_tone(ink.density, tone)) >= least) {
        return tone;
    }
    while (high - low > 1) {
        const int middle = (low + high) / 2;
        (lightness(cover + at_tone(ink.density, static_cast<std::uint8_t>(middle))) >= least ? low : high) =
            middle;
    }
    return static_cast<std::uint8_t>(low);
}

std::pair<int, int> TrapRules::pair_at(std::span<const std::uint8_t> p, std::span<const std::uint8_t> q) const
{
    int falls = -1, rises = -1;
    int most_down = least_step - 1, most_up = least_step - 1;
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        const int change = q[i] - p[i];
        if (m_inks[i].chosen && -change > most_down) {
            most_down = -change;
            falls = static_cast<int>(i);
        }
        if (m_inks[i].chosen && change > most_up) {
            most_up = change;
            rises = static_cast<int>(i);
        }
    }
    return falls < 0 || rises < 0 ? std::pair(-1, -1) : std::pair(falls, rises);
}

std::vector<TrapGive> TrapRules::gives(std::span<const std::uint8_t> p, std::span<const std::uint8_t> q) const
{
    std::vector<TrapGive> gives;
    const auto rise = [&](std::size_t i) { return q[i] - p[i]; };
    const std::size_t count = m_inks.size();

    // A black ends here: what supports it draws back.
    for (std::size_t k = 0; k < count && m_settings.hold_back > 0; ++k) {
        if (!m_inks[k].black || rise(k) > -least_step || p[k] < 128) {
            continue;
        }
        for (std::size_t i = 0; i < count; ++i) {
            const Ink &ink = m_inks[i];
            if (ink.counts && !ink.black && !ink.metal && q[i] < p[i] && i != k) {
                gives.push_back({static_cast<int>(i), static_cast<int>(k), half_of(p[k]), q[i], true,
                                 m_settings.hold_back, 1});
            }
        }
        break;
    }

    // A base ends together with the colours on it.
    if (m_settings.base_choke > 0) {
        int colour = -1;
        bool goes_on = false;
        for (std::size_t i = 0; i < count; ++i) {
            if (m_inks[i].counts) {
                goes_on = goes_on || q[i] >= least_step;
                if (rise(i) <= -least_step && (colour < 0 || p[i] > p[static_cast<std::size_t>(colour)])) {
                    colour = static_cast<int>(i);
                }
            }
        }
        for (std::size_t i = 0; i < count && colour >= 0 && !goes_on; ++i) {
            if (m_inks[i].white && rise(i) <= -least_step) {
                gives.push_back({static_cast<int>(i), colour, half_of(p[static_cast<std::size_t>(colour)]),
                                 q[i], true, m_settings.base_choke, 1});
            }
        }
    }

    const auto [falls, rises] = pair_at(p, q);
    if (falls < 0) {
        return gives; // overprint, bare stock, tints of one ink
    }
    const auto strongest = static_cast<std::size_t>(rises);
    double common = 0, ink_p = 0, ink_q = 0;
    bool only_metal_rises = true, only_metal_falls = true;
    int top_fall = -1, top_rise = -1; // how high what changes lies
    for (std::size_t i = 0; i < count; ++i) {
        const Ink &ink = m_inks[i];
        if (!ink.counts) {
            continue;
        }
        common += ink.strength * std::min(p[i], q[i]);
        ink_p += ink.strength * p[i];
        ink_q += ink.strength * q[i];
        if (rise(i) >= least_step) {
            only_metal_rises = only_metal_rises && ink.metal;
            top_rise = std::max(top_rise, ink.height);
        }
        if (rise(i) <= -least_step) {
            only_metal_falls = only_metal_falls && ink.metal;
            top_fall = std::max(top_fall, ink.height);
        }
    }
    const TrapPair pair =
        m_settings.pair_of(m_inks[static_cast<std::size_t>(falls)].name, m_inks[strongest].name);
    const double width = pair.width.value_or(m_settings.width);
    double share = 0;
    bool by_hand = true;
    switch (pair.side) {
    case TrapSide::None:
        return gives;
    case TrapSide::First:
        share = 1;
        break;
    case TrapSide::Second:
        return gives;
    case TrapSide::Both:
        share = 0.5;
        break;
    case TrapSide::Usual: {
        by_hand = false;
        if (!m_inks[static_cast<std::size_t>(falls)].counts || !m_inks[strongest].counts ||
            common >= 0.5 * std::min(ink_p, ink_q)) {
            return gives; // no part of it, or no bare stock shows between them
        }
        // Covering ink that is printed after all of the other side hides what spreads under it.
        const auto over = [&](auto changes, int other) {
            for (std::size_t i = 0; i < count; ++i) {
                if (m_inks[i].counts && m_inks[i].covers && m_inks[i].height > other && changes(i)) {
                    return true;
                }
            }
            return false;
        };
        if (only_metal_falls) {
            share = 0;
        } else if (only_metal_rises) {
            share = 1;
        } else if (over([&](std::size_t i) { return rise(i) >= least_step; }, top_fall)) {
            share = 1;
        } else if (over([&](std::size_t i) { return rise(i) <= -least_step; }, top_rise)) {
            share = 0;
        } else {
            // Over less than ± 0.06 of density it slides, so that nothing jumps along a gradient.
            share = std::clamp(0.5 + (density_of(q) - density_of(p)) / 0.12, 0.0, 1.0);
        }
        break;
    }
    }
    share = std::round(share * 8) / 8;
    if (share * width <= 0) {
        return gives;
    }
    for (std::size_t i = 0; i < count; ++i) {
        const Ink &ink = m_inks[i];
        const bool spreads = ink.counts || (by_hand && static_cast<int>(i) == falls);
        if (!spreads || rise(i) > -least_step || (ink.metal && !by_hand)) {
            continue;
        }
        // Under a covering ink printed later nothing is seen; else the overlap darkens.
        const bool hidden = m_inks[strongest].covers && m_inks[strongest].height > ink.height;
        const std::uint8_t tone = hidden ? p[i] : hidden_tone(q, ink, p[i]);
        if (tone > q[i]) {
            gives.push_back({static_cast<int>(i), rises, half_of(q[strongest]), tone, false, width, share});
        }
    }
    return gives;
}

} // namespace bichrom
