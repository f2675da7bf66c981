#include "core/proof/print_look.h"

#include "core/colour/colour_table.h"
#include "core/colour/srgb.h"
#include "core/job/print_model.h"
#include "core/proof/surface_marks.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr std::size_t chunk_pixels = 512;
constexpr std::size_t byte_steps = 8192; // fine enough that no byte is skipped in the shadows

const std::array<std::uint8_t, byte_steps> &byte_table()
{
    static const std::array<std::uint8_t, byte_steps> table = [] {
        std::array<std::uint8_t, byte_steps> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            const float light = static_cast<float>(i) / static_cast<float>(byte_steps - 1);
            made[i] = static_cast<std::uint8_t>(std::lround(linear_to_srgb(light) * 255.0f));
        }
        return made;
    }();
    return table;
}

std::uint32_t byte_of(float linear)
{
    const float at = std::clamp(linear, 0.0f, 1.0f) * static_cast<float>(byte_steps - 1) + 0.5f;
    return byte_table()[static_cast<std::size_t>(at)];
}

/// Linear sRGB of a unit of each band: IEC 61966-2-1 with Bradford's adaptation from D50.
const std::array<std::array<float, 3>, band_count> &band_rgb()
{
    static const std::array<std::array<float, 3>, band_count> table = [] {
        constexpr double matrix[3][3] = {{3.1338561, -1.6168667, -0.4906146},
                                         {-0.9787684, 1.9161415, 0.0334540},
                                         {0.0719453, -0.2289914, 1.4052427}};
        std::array<std::array<float, 3>, band_count> made{};
        for (std::size_t k = 0; k < band_count; ++k) {
            for (std::size_t c = 0; c < 3; ++c) {
                double sum = 0;
                for (std::size_t i = 0; i < 3; ++i) {
                    sum += matrix[c][i] * band_weights()[k][i];
                }
                made[k][c] = static_cast<float>(sum);
            }
        }
        return made;
    }();
    return table;
}

/// Square roots of reflectance of every sRGB colour, in the eight bands.
const ColourTable &root_table()
{
    static const ColourTable table = [] {
        static_assert(band_count <= ColourTable::most_inks);
        constexpr int n = ColourTable::nodes;
        std::vector<ColourTable::Tones> nodes;
        nodes.reserve(std::size_t(n) * n * n);
        const auto value = [](int i) { return static_cast<double>(i) / (ColourTable::nodes - 1); };
        for (int r = 0; r < n; ++r) {
            for (int g = 0; g < n; ++g) {
                for (int b = 0; b < n; ++b) {
                    const Bands bands = reconstruct(srgb_to_lab({value(r), value(g), value(b)})).bands;
                    ColourTable::Tones roots{};
                    for (std::size_t k = 0; k < band_count; ++k) {
                        roots[k] = static_cast<float>(std::sqrt(bands[k]));
                    }
                    nodes.push_back(roots);
                }
            }
        }
        return ColourTable(band_count, nodes);
    }();
    return table;
}

} // namespace

struct PrintLook::Chunk
{
    std::size_t count = 0;
    std::array<std::array<float, chunk_pixels>, band_count> dry;   ///< root of what is dry
    std::array<std::array<float, chunk_pixels>, band_count> inked; ///< root of what carries wet ink
    std::array<float, chunk_pixels> bare;                          ///< share without wet ink
    std::array<float, chunk_pixels> cover;                         ///< of the current film
    std::array<float, chunk_pixels> change; ///< the largest in a band, by the current film
    std::array<std::uint8_t, chunk_pixels * 4> cmyk;
    std::array<std::uint8_t, chunk_pixels * 3> rgb;
    std::array<std::uint8_t, chunk_pixels * band_count> roots;
    bool wet = false; ///< some ink is wet
};

PrintSetup print_setup(const std::vector<std::string> &inks, const Job &job, int checker)
{
    const PrintGround ground = print_ground(job.plates, job.stock);
    const std::vector<PrintedLayer> layers = layers_of(job.plates, ground);
    const std::vector<std::size_t> sight = order_of_sight(job);
    PrintSetup setup{{},
                     job.stock.colour,
                     ground.floor,
                     job.stock.clear ? checker : 0,
                     ground.transfer,
                     job.stock.reflectance};
    for (const std::string &name : inks) {
        PrintedInk ink;
        ink.order = job.find_plate(name);
        ink.shown = ink.order >= 0;
        if (ink.shown) {
            const Plate &plate = job.plates[static_cast<std::size_t>(ink.order)];
            ink.process = plate.kind == InkUse::Process ? process_channel(name) : -1;
            ink.layer = layers[static_cast<std::size_t>(ink.order)];
            const auto number = static_cast<std::size_t>(ink.order);
            ink.order = static_cast<int>(std::find(sight.begin(), sight.end(), number) - sight.begin());
            ink.gain = plate.traits.gain;
            ink.shown = plate.kind != InkUse::Technical;
            ink.surface = plate.kind == InkUse::Varnish ? PrintedInk::Surface::Sheen
                          : plate.kind == InkUse::Metallic || plate.kind == InkUse::Foil
                              ? PrintedInk::Surface::Metal
                              : PrintedInk::Surface::Plain;
        }
        setup.inks.push_back(std::move(ink));
    }
    return setup;
}

void PrintLook::prepare()
{
    (void)root_table();
    (void)byte_table();
    (void)band_rgb();
}

PrintLook::PrintLook(const PrintSetup &setup, const ProcessProfile &condition)
    : m_floor(static_cast<float>(setup.floor)), m_checker(setup.checker), m_condition(&condition)
{
    constexpr double step = 14; // of lightness between the squares: seen, yet no distraction
    const Lab &stock = setup.stock;
    const Lab darker = {stock.l > step ? stock.l - step : stock.l + step, stock.a, stock.b};
    const Bands plain = without_floor(stock, setup.floor, setup.reflectance);
    const Bands other = setup.checker > 0 ? without_floor(darker, setup.floor) : plain;
    for (std::size_t k = 0; k < band_count; ++k) {
        m_stock[0][k] = static_cast<float>(std::sqrt(plain[k]));
        m_stock[1][k] = static_cast<float>(std::sqrt(other[k]));
    }
    for (std::size_t i = 0; i < m_passed.size(); ++i) { // the profile's colours hold the floor already
        const float root = static_cast<float>(i) / 255.0f;
        m_passed[i] = std::sqrt(std::max(0.0f, (root * root - m_floor) / (1.0f - m_floor)));
    }
    const std::vector<PrintedInk> &inks = setup.inks;
    std::vector<std::size_t> order;
    for (std::size_t i = 0; i < inks.size(); ++i) {
        if (inks[i].shown) {
            order.push_back(i);
        }
    }
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return inks[a].order < inks[b].order; });
    for (const std::size_t i : order) {
        const PrintedInk &ink = inks[i];
        if (ink.process >= 0) {
            const bool joins = !m_steps.empty() && m_steps.back().plate < 0 &&
                               m_steps.back().run[static_cast<std::size_t>(ink.process)] < 0;
            if (!joins) {
                m_steps.emplace_back();
            }
            m_steps.back().run[static_cast<std::size_t>(ink.process)] = static_cast<int>(i);
            continue;
        }
        Step film;
        film.plate = static_cast<int>(i);
        for (std::size_t k = 0; k < band_count; ++k) {
            film.body[k] = static_cast<float>(ink.layer.film.body[k]);
            film.through[k] = static_cast<float>(ink.layer.film.through[k]);
            film.wet_through[k] =
                static_cast<float>(std::pow(std::max(ink.layer.film.through[k], 1e-12), setup.transfer));
        }
        for (std::size_t tone = 0; tone < 256; ++tone) {
            film.coverage[tone] = static_cast<float>(ink.gain.at(static_cast<double>(tone) / 255.0));
        }
        film.hits = std::clamp(ink.layer.hits, 1, 3);
        film.wet = ink.layer.wet;
        film.dries = !ink.layer.wet || ink.layer.first;
        film.look = ink.surface;
        m_steps.push_back(film);
    }
}

void PrintLook::film(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const
{
    const std::size_t n = chunk.count;
    const std::uint8_t *tones = tile.plates[static_cast<std::size_t>(step.plate)].pixels.data() + start;
    bool any = false;
    for (std::size_t i = 0; i < n; ++i) {
        chunk.cover[i] = step.coverage[tones[i]];
        any = any || tones[i] != 0;
    }
    chunk.change.fill(0);
    if (!any) {
        return;
    }
    if (step.dries && chunk.wet) {
        for (std::size_t k = 0; k < band_count; ++k) {
            for (std::size_t i = 0; i < n; ++i) {
                const float bare = chunk.bare[i];
                chunk.dry[k][i] = bare * chunk.dry[k][i] + (1.0f - bare) * chunk.inked[k][i];
            }
        }
        chunk.bare.fill(1.0f);
        chunk.wet = false;
    }
    const float *cover = chunk.cover.data();
    float *change = chunk.change.data();
    for (int hit = 0; hit < step.hits; ++hit) {
        for (std::size_t k = 0; k < band_count; ++k) {
            const float body = step.body[k];
            const float through = step.through[k];
            float *dry = chunk.dry[k].data();
            const auto over = [body](float root, float passed) {
                const float under = root * root;
                return std::sqrt(body + passed * under / (1.0f - body * under));
            };
            if (!step.wet) {
                for (std::size_t i = 0; i < n; ++i) {
                    const float moved = cover[i] * (over(dry[i], through) - dry[i]);
                    dry[i] += moved;
                    change[i] = std::max(change[i], std::fabs(moved));
                }
                continue;
            }
            float *inked = chunk.inked[k].data();
            const float wet_through = step.wet_through[k];
            for (std::size_t i = 0; i < n; ++i) {
                const float bare = chunk.bare[i];
                const float a = cover[i];
                const float share = 1.0f - bare + a * bare;
                const float before = bare * dry[i] + (1.0f - bare) * inked[i];
                const float next =
                    ((1.0f - bare) * ((1.0f - a) * inked[i] + a * over(inked[i], wet_through)) +
                     a * bare * over(dry[i], through)) /
                    std::max(share, 1e-6f);
                inked[i] = share > 0.0f ? next : inked[i];
                const float left = bare * (1.0f - a);
                const float after = left * dry[i] + (1.0f - left) * inked[i];
                change[i] = std::max(change[i], std::fabs(after - before));
            }
        }
        if (step.wet) {
            chunk.wet = true;
            for (std::size_t i = 0; i < n; ++i) {
                chunk.bare[i] *= 1.0f - cover[i];
            }
        }
    }
}

void PrintLook::process(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const
{
    const std::size_t n = chunk.count;
    chunk.cmyk.fill(0);
    bool any = false;
    for (std::size_t c = 0; c < 4; ++c) {
        if (step.run[c] < 0) {
            continue;
        }
        const std::uint8_t *tones = tile.plates[static_cast<std::size_t>(step.run[c])].pixels.data() + start;
        for (std::size_t i = 0; i < n; ++i) {
            chunk.cmyk[i * 4 + c] = tones[i];
            any = any || tones[i] != 0;
        }
    }
    if (!any) {
        return;
    }
    m_condition->cmyk_pixels_to_rgb(chunk.cmyk.data(), chunk.rgb.data(), n);
    root_table().convert(chunk.rgb.data(), chunk.roots.data(), n);
    for (std::size_t k = 0; k < band_count; ++k) {
        for (std::size_t i = 0; i < n; ++i) {
            const float root = m_passed[chunk.roots[i * band_count + k]];
            chunk.dry[k][i] *= root;
            chunk.inked[k][i] *= root;
        }
    }
}

/// What the estimate does not show: gloss, metal, and ink like what is under it.
void PrintLook::surface(const Step &step, const PlateTile &tile, std::size_t start, Chunk &chunk) const
{
    constexpr float hardly_seen = 0.1f; // of square roots of reflectance: about ΔE 10
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    for (std::size_t i = 0; i < chunk.count; ++i) {
        const float cover = chunk.cover[i];
        if (cover <= 0.0f) {
            continue;
        }
        const int x = tile.rect.x + static_cast<int>((start + i) % width);
        const int y = tile.rect.y + static_cast<int>((start + i) / width);
        float shift = 0; // of the root, away from where it is
        if (step.look == PrintedInk::Surface::Sheen) {
            shift = ((x + y) & 15) < 6 ? 0.07f * cover : 0.0f;
        } else if (step.look == PrintedInk::Surface::Metal) {
            const int phase = (x + 2 * y) & 511;
            const float wave =
                static_cast<float>(phase < 256 ? phase : 511 - phase) / 255.0f; // 0 to 1 and back
            for (std::size_t k = 0; k < band_count; ++k) {
                chunk.dry[k][i] *= 1.0f + cover * (0.24f * wave - 0.12f);
            }
            continue;
        } else if (cover > 0.5f && chunk.change[i] < hardly_seen) {
            shift = on_mark(x, y) ? 0.25f : 0.0f;
        }
        if (shift == 0.0f) {
            continue;
        }
        const float away = chunk.dry[4][i] > 0.5f ? -shift : shift; // towards what contrasts
        for (std::size_t k = 0; k < band_count; ++k) {
            chunk.dry[k][i] = std::max(0.0f, chunk.dry[k][i] + away);
            chunk.inked[k][i] = std::max(0.0f, chunk.inked[k][i] + away);
        }
    }
}

void PrintLook::compose(const PlateTile &tile, std::span<std::uint32_t> pixels) const
{
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    Chunk chunk;
    const auto &rgb = band_rgb();
    for (std::size_t start = 0; start < pixels.size(); start += chunk_pixels) {
        chunk.count = std::min(chunk_pixels, pixels.size() - start);
        chunk.wet = false;
        chunk.bare.fill(1.0f);
        for (std::size_t k = 0; k < band_count; ++k) {
            chunk.dry[k].fill(m_stock[0][k]);
            for (std::size_t i = 0; i < chunk.count && m_checker > 0; ++i) {
                const int x = tile.rect.x + static_cast<int>((start + i) % width);
                const int y = tile.rect.y + static_cast<int>((start + i) / width);
                chunk.dry[k][i] = m_stock[static_cast<std::size_t>((x / m_checker + y / m_checker) & 1)][k];
            }
            chunk.inked[k] = chunk.dry[k];
        }
        for (const Step &step : m_steps) {
            if (step.plate < 0) {
                process(step, tile, start, chunk);
            } else if (static_cast<std::size_t>(step.plate) < tile.plates.size()) {
                film(step, tile, start, chunk);
                surface(step, tile, start, chunk);
            }
        }
        for (std::size_t i = 0; i < chunk.count; ++i) {
            std::array<float, 3> light{};
            for (std::size_t k = 0; k < band_count; ++k) {
                const float root =
                    chunk.bare[i] * chunk.dry[k][i] + (1.0f - chunk.bare[i]) * chunk.inked[k][i];
                const float r = root * root + m_floor;
                for (std::size_t c = 0; c < 3; ++c) {
                    light[c] += r * rgb[k][c];
                }
            }
            pixels[start + i] =
                0xFF000000u | byte_of(light[0]) << 16 | byte_of(light[1]) << 8 | byte_of(light[2]);
        }
    }
}

} // namespace bichrom
