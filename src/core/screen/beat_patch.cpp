#include "core/screen/beat_patch.h"

#include "core/base/within_memory.h"
#include "core/colour/srgb.h"
#include "core/screen/halftone.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

/// Whether ink comes through the mesh at a place, mm.
bool is_open(const Lattice &mesh, double x, double y)
{
    const double angle = mesh.angle * std::numbers::pi / 180, threads = mesh.ruling / millimetres_per_inch;
    const double along = (x * std::cos(angle) - y * std::sin(angle)) * threads;
    const double across = (x * std::sin(angle) + y * std::cos(angle)) * threads;
    const double thread = mesh.mesh->thread_um > 0 ? mesh.mesh->thread_um * mesh.mesh->per_cm / 1e4 : 1.0 / 3;
    return along - std::floor(along) >= thread && across - std::floor(across) >= thread;
}

/// The tone of artwork that repeats, at a place, mm.
double swung(const Lattice &art, double tone, double x, double y)
{
    const double angle = art.angle * std::numbers::pi / 180, waves = art.ruling / millimetres_per_inch;
    const double along = (x * std::cos(angle) - y * std::sin(angle)) * waves;
    const double across = (x * std::sin(angle) + y * std::cos(angle)) * waves;
    const double swing =
        std::cos(2 * std::numbers::pi * across) + (art.lines ? 0.0 : std::cos(2 * std::numbers::pi * along));
    return std::clamp(tone + 2 * art.swing * swing, 0.0, 1.0);
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
        const double mm = millimetres_per_inch / task.resolution.value; // of a film's pixel
        const double each = wide_mm / mm / width;                       // film pixels a pixel
        const int wide = std::max(width, static_cast<int>(std::ceil(each * width)));
        const int high = std::max(height, static_cast<int>(std::ceil(each * height)));
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
        const bool of_art = task.other && !task.other->mesh;
        BeatPatch patch;
        patch.width = width;
        patch.height = height;
        Bitmap a(wide, 1), b(wide, 1);
        std::vector<std::array<std::uint32_t, 4>> counts;
        const auto row_of = [&](int y, int count, int of) {
            return std::min(of - 1, static_cast<int>(std::int64_t(y) * of / count));
        };
        for (int y = 0, pixel = 0; pixel < height; ++pixel) {
            counts.assign(static_cast<std::size_t>(width), {});
            for (; y < high && row_of(y, high, height) == pixel; ++y) {
                if (of_art) {
                    first->row(y, a,
                               [&](int x) { return swung(*task.other, task.first_tone, x * mm, y * mm); });
                } else {
                    first->row(y, a);
                }
                if (task.second) {
                    second->row(y, b);
                }
                for (int x = 0; x < wide; ++x) {
                    bool inked = a.at(x, 0);
                    if (inked && task.other && !of_art) {
                        inked = is_open(*task.other, x * mm, y * mm);
                    }
                    const std::size_t what = (inked ? 1U : 0U) + (task.second && b.at(x, 0) ? 2U : 0U);
                    ++counts[static_cast<std::size_t>(row_of(x, wide, width))][what];
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
                patch.pixels.push_back(colour);
            }
        }
        return patch;
    });
}

} // namespace bichrom
