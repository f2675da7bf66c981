#include "core/proof/print_look.h"

#include "core/colour/srgb.h"
#include "core/job/print_model.h"
#include "core/proof/surface_marks.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

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

} // namespace

const std::array<std::array<float, 3>, band_count> &band_light()
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

void PrintLook::prepare(const ProcessProfile &condition)
{
    (void)condition.roots();
    (void)byte_table();
    (void)band_light();
}

PrintLook::PrintLook(const Job &job, const std::vector<std::string> &planes, const ProcessProfile &condition,
                     const PrintView &view)
    : m_stack(stack_of(job, planes, condition, view.hidden)),
      m_checker(job.stock_here().clear ? view.checker : 0), m_marks(view.marks)
{
    for (const PrintStack::Step &step : m_stack.steps()) {
        if (step.ink >= 0) {
            const std::size_t plane = m_stack.ink(static_cast<std::size_t>(step.ink)).plane;
            const InkUse kind = job.plates[static_cast<std::size_t>(job.find_plate(planes[plane]))].kind;
            m_surfaces.resize(static_cast<std::size_t>(step.ink) + 1, Surface::Plain);
            m_surfaces.back() = kind == InkUse::Varnish                            ? Surface::Sheen
                                : kind == InkUse::Metallic || kind == InkUse::Foil ? Surface::Metal
                                                                                   : Surface::Plain;
        }
    }
    constexpr double step = 14; // of lightness between the squares: seen, yet no distraction
    const Lab &stock = job.stock_here().colour;
    const Lab darker = {stock.l > step ? stock.l - step : stock.l + step, stock.a, stock.b};
    const Bands other = without_floor(darker, print_ground(job.plates, job.stock_here()).floor);
    for (std::size_t k = 0; k < band_count; ++k) {
        m_darker[k] = static_cast<float>(std::sqrt(other[k]));
    }
}

/// What the model does not tell: gloss, metal, and ink like what is under it.
void PrintLook::mark(Surface surface, const PlateTile &tile, std::size_t start,
                     PrintStack::Pixels &pixels) const
{
    constexpr float hardly_seen = 0.1f; // of square roots of reflectance: about ΔE 10
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    for (std::size_t i = 0; i < pixels.count; ++i) {
        const float cover = pixels.cover[i];
        if (cover <= 0.0f) {
            continue;
        }
        const int x = tile.rect.x + static_cast<int>((start + i) % width);
        const int y = tile.rect.y + static_cast<int>((start + i) / width);
        float shift = 0; // of the root, away from where it is
        if (surface == Surface::Sheen) {
            shift = ((x + y) & 15) < 6 ? 0.07f * cover : 0.0f;
        } else if (surface == Surface::Metal) {
            const int phase = (x + 2 * y) & 511;
            const float wave =
                static_cast<float>(phase < 256 ? phase : 511 - phase) / 255.0f; // 0 to 1 and back
            for (std::size_t k = 0; k < band_count; ++k) {
                pixels.dry[k][i] *= 1.0f + cover * (0.24f * wave - 0.12f);
            }
            continue;
        } else if (cover > 0.5f && pixels.change[i] < hardly_seen) {
            shift = on_mark(x, y) ? 0.25f : 0.0f;
        }
        if (shift == 0.0f) {
            continue;
        }
        const float away = pixels.dry[4][i] > 0.5f ? -shift : shift; // towards what contrasts
        for (std::size_t k = 0; k < band_count; ++k) {
            pixels.dry[k][i] = std::max(0.0f, pixels.dry[k][i] + away);
            pixels.inked[k][i] = std::max(0.0f, pixels.inked[k][i] + away);
        }
    }
}

void PrintLook::compose(const PlateTile &tile, std::span<std::uint32_t> words) const
{
    const auto width = static_cast<std::size_t>(std::max(1, tile.rect.width));
    PrintStack::Pixels pixels;
    std::vector<const std::uint8_t *> tones(tile.plates.size());
    const auto &rgb = band_light();
    for (std::size_t start = 0; start < words.size(); start += PrintStack::Pixels::most) {
        m_stack.begin(pixels, std::min(PrintStack::Pixels::most, words.size() - start));
        for (std::size_t i = 0; i < pixels.count && m_checker > 0; ++i) {
            const int x = tile.rect.x + static_cast<int>((start + i) % width);
            const int y = tile.rect.y + static_cast<int>((start + i) / width);
            for (std::size_t k = 0; k < band_count && ((x / m_checker + y / m_checker) & 1) != 0; ++k) {
                pixels.dry[k][i] = pixels.inked[k][i] = m_darker[k];
            }
        }
        for (std::size_t plate = 0; plate < tones.size(); ++plate) {
            tones[plate] = tile.plates[plate].pixels.data() + start;
        }
        for (const PrintStack::Step &step : m_stack.steps()) {
            if (m_stack.lay(step, tones, pixels) && step.ink >= 0 && m_marks) {
                mark(m_surfaces[static_cast<std::size_t>(step.ink)], tile, start, pixels);
            }
        }
        for (std::size_t i = 0; i < pixels.count; ++i) {
            const std::array<float, band_count> reflected = m_stack.reflectance(pixels, i);
            std::array<float, 3> light{};
            for (std::size_t k = 0; k < band_count; ++k) {
                for (std::size_t c = 0; c < 3; ++c) {
                    light[c] += reflected[k] * rgb[k][c];
                }
            }
            words[start + i] =
                0xFF000000u | byte_of(light[0]) << 16 | byte_of(light[1]) << 8 | byte_of(light[2]);
        }
    }
}

} // namespace bichrom
