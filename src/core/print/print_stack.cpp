#include "core/print/print_stack.h"

#include "core/colour/process_roots.h"
#include "core/print/print_place.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// What the process inks among \p inks reflect; null where there are none.
const ProcessRoots *roots_for(const std::vector<StackInk> &inks, const ProcessProfile &condition)
{
    const bool any =
        std::any_of(inks.begin(), inks.end(), [](const StackInk &ink) { return ink.process >= 0; });
    return any ? &condition.roots() : nullptr;
}

} // namespace

PrintStack::PrintStack(const StackGround &ground, std::vector<StackInk> inks, const ProcessProfile &condition)
    : PrintStack(ground, inks, roots_for(inks, condition))
{
}

PrintStack::PrintStack(const StackGround &ground, std::vector<StackInk> inks, const ProcessRoots *process)
    : m_ground(ground), m_inks(std::move(inks)), m_films(m_inks.size()), m_dries(m_inks.size(), true),
      m_coverage(m_inks.size()), m_floor(static_cast<float>(ground.floor)), m_process(process)
{
    for (std::size_t k = 0; k < band_count; ++k) {
        m_stock[k] = static_cast<float>(std::sqrt(ground.stock[k]));
    }
    int film_before = -1;
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        StackInk &ink = m_inks[i];
        if (ink.process >= 0) {
            const auto channel = static_cast<std::size_t>(ink.process);
            if (m_steps.empty() || m_steps.back().ink >= 0 || m_steps.back().run[channel] >= 0) {
                m_steps.emplace_back();
            }
            m_steps.back().run[channel] = static_cast<int>(i);
            continue;
        }
        m_steps.emplace_back().ink = static_cast<int>(i);
        ink.hits = std::clamp(ink.hits, 1, 3);
        const bool joins = film_before >= 0 && ink.wet_group >= 0 &&
                           m_inks[static_cast<std::size_t>(film_before)].wet_group == ink.wet_group;
        m_dries[i] = !joins;
        // Of two wet inks the one printed second transfers less. Seen through its film that is the one that
        // lies under: the upper is given what makes their product right.
        const double less = ground.transfer;
        for (std::size_t k = 0; k < band_count; ++k) {
            const double through = std::max(ink.film.through[k], 1e-12);
            const double under =
                joins ? std::max(m_inks[static_cast<std::size_t>(film_before)].film.through[k], 1e-12) : 1.0;
            m_films[i][0][k] = ink.film.body[k];
            m_films[i][1][k] = ink.film.through[k];
            m_films[i][2][k] =
                ground.behind ? through * std::pow(under, less - 1.0) : std::pow(through, less);
        }
        for (std::size_t tone = 0; tone < 256; ++tone) {
            m_coverage[i][tone] = static_cast<float>(ink.gain.at(static_cast<double>(tone) / 255.0));
        }
        film_before = static_cast<int>(i);
    }
}

double PrintStack::tone_of(int ink, std::span<const double> tones) const
{
    const std::size_t plane = m_inks[static_cast<std::size_t>(ink)].plane;
    return plane < tones.size() ? std::clamp(tones[plane], 0.0, 1.0) : 0.0;
}

Lab PrintStack::colour(std::span<const double> tones) const
{
    return at(tones).print();
}

Lab PrintStack::colour(std::span<const double> tones, std::span<Lab> slopes) const
{
    SlopedPlace place;
    for (std::size_t k = 0; k < band_count; ++k) {
        place.dry[k] = place.inked[k] = std::sqrt(m_ground.stock[k]);
    }
    std::fill(slopes.begin(), slopes.end(), Lab{});
    for (const Step &step : m_steps) {
        if (step.ink < 0) {
            std::array<double, 4> cmyk{};
            std::array<int, 4> planes = {-1, -1, -1, -1};
            for (std::size_t c = 0; c < 4; ++c) {
                if (step.run[c] >= 0) {
                    cmyk[c] = tone_of(step.run[c], tones);
                    planes[c] = static_cast<int>(m_inks[static_cast<std::size_t>(step.run[c])].plane);
                }
            }
            std::array<Bands, 4> by{};
            const Bands roots = m_process->at(cmyk, by);
            place.pass(roots, by, planes, cmyk == std::array<double, 4>{}, m_ground.floor);
            continue;
        }
        const auto i = static_cast<std::size_t>(step.ink);
        const StackInk &ink = m_inks[i];
        const double tone = tone_of(step.ink, tones);
        if (tone > 0 && m_dries[i]) {
            place.dries();
        }
        SlopedPlace::Slope *own = place.slope_of(ink.plane);
        const double cover = ink.gain.at(tone);
        for (int hit = 0; hit < ink.hits; ++hit) {
            if (ink.wet_group >= 0) {
                place.lay_wet(m_films[i], cover, own);
            } else {
                place.lay_dry(m_films[i], cover, own);
            }
        }
    }
    return place.colour_with(m_ground.floor, slopes);
}

PrintStack::Colours PrintStack::at(std::span<const double> tones) const
{
    PrintPlace place;
    for (std::size_t k = 0; k < band_count; ++k) {
        place.dry[k] = place.inked[k] = std::sqrt(m_ground.stock[k]);
    }
    Colours colours;
    colours.stock = place.colour(m_ground.floor);
    colours.after.assign(m_inks.size(), colours.stock);
    for (const Step &step : m_steps) {
        if (step.ink >= 0) {
            const auto i = static_cast<std::size_t>(step.ink);
            const double tone = tone_of(step.ink, tones);
            if (tone > 0) { // what is not printed dries nothing
                if (m_dries[i]) {
                    place.dries();
                }
                place.lay(m_films[i], m_inks[i].hits, m_inks[i].wet_group >= 0, m_inks[i].gain.at(tone));
            }
            colours.after[i] = place.colour(m_ground.floor);
            continue;
        }
        const PrintPlace under = place;
        Cmyk cmyk{};
        std::vector<std::size_t> order; // of printing within the run
        for (const int ink : step.run) {
            if (ink >= 0) {
                order.push_back(static_cast<std::size_t>(ink));
            }
        }
        std::sort(order.begin(), order.end());
        for (const std::size_t i : order) {
            cmyk[static_cast<std::size_t>(m_inks[i].process)] =
                static_cast<float>(tone_of(static_cast<int>(i), tones));
            if (cmyk != Cmyk{}) {
                place = under;
                const Bands roots = m_process->at(cmyk);
                for (std::size_t k = 0; k < band_count; ++k) {
                    const double passed = root_passed(roots[k], m_ground.floor);
                    place.dry[k] *= passed;
                    place.inked[k] *= passed;
                }
            }
            colours.after[i] = place.colour(m_ground.floor);
        }
    }
    return colours;
}

void PrintStack::begin(Pixels &pixels, std::size_t count) const
{
    pixels.count = count;
    pixels.wet = false;
    std::fill_n(pixels.bare.begin(), count, 1.0f);
    for (std::size_t k = 0; k < band_count; ++k) {
        std::fill_n(pixels.dry[k].begin(), count, m_stock[k]);
        std::fill_n(pixels.inked[k].begin(), count, m_stock[k]);
    }
}

bool PrintStack::lay(const Step &step, std::span<const std::uint8_t *const> tones, Pixels &pixels) const
{
    if (step.ink < 0) {
        return lay_run(step, tones, pixels);
    }
    const std::size_t plane = m_inks[static_cast<std::size_t>(step.ink)].plane;
    return plane < tones.size() && tones[plane] != nullptr &&
           lay_film(static_cast<std::size_t>(step.ink), tones[plane], pixels);
}

bool PrintStack::lay_film(std::size_t ink, const std::uint8_t *tones, Pixels &pixels) const
{
    const std::size_t n = pixels.count;
    const std::array<float, 256> &coverage = m_coverage[ink];
    bool any = false;
    for (std::size_t i = 0; i < n; ++i) {
        pixels.cover[i] = coverage[tones[i]];
        any = any || tones[i] != 0;
    }
    if (!any) {
        return false;
    }
    std::fill_n(pixels.change.begin(), n, 0.0f);
    float *bare = pixels.bare.data();
    if (m_dries[ink] && pixels.wet) {
        // Only where it is printed: a place without it knows nothing of it.
        for (std::size_t i = 0; i < n; ++i) {
            if (tones[i] != 0) {
                for (std::size_t k = 0; k < band_count; ++k) {
                    pixels.dry[k][i] = bare[i] * pixels.dry[k][i] + (1.0f - bare[i]) * pixels.inked[k][i];
                }
                bare[i] = 1.0f;
            }
        }
    }
    const bool wet = m_inks[ink].wet_group >= 0;
    const float *cover = pixels.cover.data();
    float *change = pixels.change.data();
    for (int hit = 0; hit < m_inks[ink].hits; ++hit) {
        for (std::size_t k = 0; k < band_count; ++k) {
            const FilmInBand<float> film{static_cast<float>(m_films[ink][0][k]),
                                         static_cast<float>(m_films[ink][1][k]),
                                         static_cast<float>(m_films[ink][2][k])};
            float *dry = pixels.dry[k].data();
            if (!wet) {
                for (std::size_t i = 0; i < n; ++i) {
                    const float next = laid_dry(dry[i], cover[i], film);
                    change[i] = std::max(change[i], std::fabs(next - dry[i]));
                    dry[i] = next;
                }
                continue;
            }
            float *inked = pixels.inked[k].data();
            for (std::size_t i = 0; i < n; ++i) {
                const float before = bare[i] * dry[i] + (1.0f - bare[i]) * inked[i];
                inked[i] = laid_wet(dry[i], inked[i], bare[i], cover[i], film);
                const float left = bare[i] * (1.0f - cover[i]);
                const float after = left * dry[i] + (1.0f - left) * inked[i];
                change[i] = std::max(change[i], std::fabs(after - before));
            }
        }
        for (std::size_t i = 0; i < n && wet; ++i) {
            bare[i] *= 1.0f - cover[i];
        }
        pixels.wet = pixels.wet || wet;
    }
    return true;
}

bool PrintStack::lay_run(const Step &step, std::span<const std::uint8_t *const> tones, Pixels &pixels) const
{
    const std::size_t n = pixels.count;
    std::fill_n(pixels.cmyk.begin(), n * 4, std::uint8_t(0));
    bool any = false;
    for (std::size_t c = 0; c < 4; ++c) {
        if (step.run[c] < 0) {
            continue;
        }
        const std::size_t plane = m_inks[static_cast<std::size_t>(step.run[c])].plane;
        if (plane >= tones.size() || tones[plane] == nullptr) {
            continue;
        }
        for (std::size_t i = 0; i < n; ++i) {
            pixels.cmyk[i * 4 + c] = tones[plane][i];
            any = any || tones[plane][i] != 0;
        }
    }
    if (!any) {
        return false;
    }
    m_process->convert(pixels.cmyk.data(), pixels.roots.data(), n);
    for (std::size_t k = 0; k < band_count; ++k) {
        for (std::size_t i = 0; i < n; ++i) {
            const float passed = root_passed(pixels.roots[i * band_count + k], m_floor);
            pixels.dry[k][i] *= passed;
            pixels.inked[k][i] *= passed;
        }
    }
    return true;
}

} // namespace bichrom
