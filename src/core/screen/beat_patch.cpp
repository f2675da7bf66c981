#include "core/screen/beat_patch.h"

#include "core/base/within_memory.h"
#include "core/colour/srgb.h"
#include "core/screen/halftone.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

/// Where a place, in film pixels, lies on a lattice.
class Grid
{
public:
    Grid(const Lattice &lattice, Dpi resolution)
        : m_lattice(lattice), m_cos(std::cos(lattice.angle * std::numbers::pi / 180)),
          m_sin(std::sin(lattice.angle * std::numbers::pi / 180)), m_step(lattice.ruling / resolution.value),
          m_thread(lattice.mesh ? lattice.mesh->covered() : 0)
    {
    }
    /// Whether ink comes through the mesh.
    [[nodiscard]] bool is_open(int x, int y) const
    {
        const double u = along(x, y), v = across(x, y);
        return u - std::floor(u) >= m_thread && v - std::floor(v) >= m_thread;
    }
    /// The tone of artwork that repeats.
    [[nodiscard]] double swung(double tone, int x, int y) const
    {
        constexpr double turn = 2 * std::numbers::pi;
        const double swing =
            std::cos(turn * across(x, y)) + (m_lattice.lines ? 0.0 : std::cos(turn * along(x, y)));
        return std::clamp(tone + 2 * m_lattice.swing * swing, 0.0, 1.0);
    }

    /// Whether hatching, or spots, of that mean tone are there.
    [[nodiscard]] bool is_inked(double tone, int x, int y) const
    {
        const auto off = [](double place) {
            return std::fabs(place - std::round(place)) * 2;
        }; // 0 in the middle
        const double wide = m_lattice.lines ? tone : std::sqrt(tone);
        return off(across(x, y)) < wide && (m_lattice.lines || off(along(x, y)) < wide);
    }

private:
    [[nodiscard]] double along(int x, int y) const { return (x * m_cos - y * m_sin) * m_step; }
    [[nodiscard]] double across(int x, int y) const { return (x * m_sin + y * m_cos) * m_step; }

    Lattice m_lattice;
    double m_cos, m_sin, m_step, m_thread;
};

/// To which of \p parts each of \p count, at least as many, belongs.
std::vector<int> shares(int count, int parts)
{
    std::vector<int> all(static_cast<std::size_t>(count));
    for (std::size_t i = 0; i < all.size(); ++i) {
        all[i] = static_cast<int>(i * static_cast<std::size_t>(parts) / all.size());
    }
    return all;
}

/// Rows of a tint's dots.
class Tint
{
public:
    static Outcome<Tint> make(const Screen &screen, double tone, Dpi resolution, int width)
    {
        auto dots = Halftone::make(screen, resolution);
        if (!dots) {
            return dots.error();
        }
        return Tint(std::move(*dots), tone, width);
    }
    /// \param tone  of each pixel, where it is not the same everywhere
    template <typename Tone> void row(int y, Bitmap &bits, const Tone &tone)
    {
        for (std::size_t x = 0; x < m_tones.size(); ++x) {
            m_tones[x] = static_cast<std::uint8_t>(std::lround(tone(static_cast<int>(x)) * 255));
        }
        m_dots.screen_row(m_tones.data(), static_cast<int>(m_tones.size()), 0, y, bits.row(0));
    }
    void row(int y, Bitmap &bits)
    {
        m_dots.screen_row(m_tones.data(), static_cast<int>(m_tones.size()), 0, y, bits.row(0));
    }

private:
    Tint(Halftone dots, double tone, int width)
        : m_dots(std::move(dots)),
          m_tones(static_cast<std::size_t>(width),
                  static_cast<std::uint8_t>(std::lround(std::clamp(tone, 0.0, 1.0) * 255)))
    {
    }
    Halftone m_dots;
    std::vector<std::uint8_t> m_tones;
};

} // namespace

Outcome<BeatPatch> beat_patch(const BeatTask &task, int width, int height, double wide_mm)
{
    if (width < 1 || height < 1 || width > 4096 || height > 4096 || !(wide_mm > 0 && wide_mm <= 1000)) {
        return Error{ErrorCode::OutOfRange, "A piece of that size cannot be shown.", {}, "Show 1 mm to 1 m."};
    }
    if (!has_lattice(task.first) || (task.second && !has_lattice(*task.second))) {
        return Error{ErrorCode::OutOfRange, "Only screens on a lattice beat.", {}, {}};
    }
    return within_memory({}, [&]() -> Outcome<BeatPatch> {
        // Film pixels, and how many of the picture's own there are before it is enlarged to them.
        const double each = wide_mm * task.resolution.value / millimetres_per_inch / width;
        const int wide = std::max(1, static_cast<int>(std::lround(each * width)));
        const int high = std::max(1, static_cast<int>(std::lround(each * height)));
        const int across = std::min(width, wide), down = std::min(height, high);
        auto first = Tint::make(task.first, task.first_tone, task.resolution, wide);
        auto second = Tint::make(task.second.value_or(task.first), task.second_tone, task.resolution, wide);
        if (!first || !second) {
            return first ? second.error() : first.error();
        }
        std::array<std::array<double, 3>, 4> light{};
        for (std::size_t i = 0; i < light.size(); ++i) {
            const Rgb8 &look = task.looks[i];
            light[i] = {srgb_to_linear(look.r / 255.0), srgb_to_linear(look.g / 255.0),
                        srgb_to_linear(look.b / 255.0)};
        }
        const Grid grid(task.other.value_or(Lattice()), task.resolution);
        const bool of_mesh = task.other && task.other->mesh;
        const bool on_second = task.other && !of_mesh && task.art_tone,
                   of_art = task.other && !of_mesh && !on_second;
        Bitmap a(wide, 1), b(wide, 1);
        std::vector<std::array<std::uint32_t, 4>> counts;
        std::vector<std::uint32_t> seen; // across × down
        const std::vector<int> columns = shares(wide, across), rows = shares(high, down);
        for (int y = 0, pixel = 0; pixel < down; ++pixel) {
            counts.assign(static_cast<std::size_t>(across), {});
            for (; y < high && rows[static_cast<std::size_t>(y)] == pixel; ++y) {
                if (of_art) {
                    first->row(y, a, [&](int x) { return grid.swung(task.first_tone, x, y); });
                } else {
                    first->row(y, a);
                }
                if (task.second) {
                    second->row(y, b);
                }
                for (int x = 0; x < wide; ++x) {
                    const bool inked = a.at(x, 0) && (!of_mesh || grid.is_open(x, y));
                    const bool second_inked =
                        on_second ? grid.is_inked(*task.art_tone, x, y) : task.second && b.at(x, 0);
                    const std::size_t what = (inked ? 1U : 0U) + (second_inked ? 2U : 0U);
                    ++counts[static_cast<std::size_t>(columns[static_cast<std::size_t>(x)])][what];
                }
            }
            for (const auto &count : counts) {
                const double all = std::max(1.0, double(count[0]) + count[1] + count[2] + count[3]);
                std::uint32_t colour = 0xFF;
                for (std::size_t channel = 0; channel < 3; ++channel) {
                    double sum = 0;
                    for (std::size_t i = 0; i < light.size(); ++i) {
                        sum += light[i][channel] * count[i];
                    }
                    const double value = std::clamp(linear_to_srgb(sum / all), 0.0, 1.0);
                    colour = colour << 8 | static_cast<std::uint32_t>(std::lround(value * 255));
                }
                seen.push_back(colour);
            }
        }
        BeatPatch patch{width, height, {}};
        const std::vector<int> from = shares(width, across), line = shares(height, down);
        for (const int y : line) {
            for (const int x : from) {
                patch.pixels.push_back(seen[static_cast<std::size_t>(y * across + x)]);
            }
        }
        return patch;
    });
}

} // namespace bichrom
