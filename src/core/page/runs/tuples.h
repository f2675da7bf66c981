/// \file
/// What lies on all planes of a pixel, by number, and what painting makes of it.
/// Layer: core/page, private to it.
#pragma once

#include "core/page/runs/run_scene.h"

#include <array>
#include <compare>
#include <cstdint>
#include <map>
#include <string>
#include <unordered_map>
#include <vector>

namespace bichrom {

/// The plane of the artwork area among those of a tuple.
inline constexpr std::size_t area_plane = FZ_MAX_COLORS - 1;

/// Tones of a plane that differ from pixel to pixel: something laid at some strength over something else.
struct Source
{
    int sampler = -1;       ///< of the scene, whose tones are laid over; −1: over is
    int under = -1;         ///< another source; −1: below lies under it
    int mask = -1;          ///< of the scene, whose tones are a further strength
    std::uint8_t over = 0;  ///< where there is no sampler
    std::uint8_t below = 0; ///< where there is no other source, as far as anything is seen of it
    std::uint8_t alpha = 255;
    bool multiplies = false; ///< see RunPaint
    friend auto operator<=>(const Source &, const Source &) = default;
    [[nodiscard]] bool hides() const { return alpha == 255 && mask < 0 && !multiplies; }
};

/// What lies on all planes of a pixel: a tone, or a source for it.
struct Tuple
{
    std::array<std::uint8_t, FZ_MAX_COLORS> tones{};
    std::array<int, FZ_MAX_COLORS> sources{}; ///< number + 1; 0 = the tone
    /// Whether \p plane may have anything but tone 0.
    [[nodiscard]] bool inks(std::size_t plane) const { return tones[plane] != 0 || sources[plane] != 0; }
};

/// \p over at strength \p alpha over \p under, as the painter of pixels blends.
[[nodiscard]] inline std::uint8_t blended(std::uint8_t over, std::uint8_t under, std::uint8_t alpha)
{
    const int strength = alpha + (alpha >> 7);
    return static_cast<std::uint8_t>(((over - under) * strength + (under << 8)) >> 8);
}

/// What \p a and \p b make of bare stock one over the other, where both let through what they leave bare
/// (ISO 32000-1, 11.3.5.2, Multiply).
[[nodiscard]] inline std::uint8_t multiplied(std::uint8_t a, std::uint8_t b)
{
    const int product = (255 - a) * (255 - b) + 128;
    return static_cast<std::uint8_t>(255 - ((product + (product >> 8)) >> 8));
}

/// Tuples by number, 0 = nothing, and what each paint makes of each. One thread.
class Tuples
{
public:
    explicit Tuples(const RunScene &scene) : m_scene(scene) { (void)number_of(Tuple()); }

    [[nodiscard]] const Tuple &operator[](int number) const
    {
        return m_tuples[static_cast<std::size_t>(number)];
    }
    [[nodiscard]] const Source &source(int number) const
    {
        return m_sources[static_cast<std::size_t>(number)];
    }
    /// \p under, painted over with \p paint of the scene.
    [[nodiscard]] int painted(int under, int paint)
    {
        const auto key = static_cast<std::uint64_t>(under) << 32 | static_cast<std::uint32_t>(paint);
        Known &known = m_known[(static_cast<std::uint32_t>(under) * 37 + static_cast<std::uint32_t>(paint)) %
                               m_known.size()];
        if (known.key != key) {
            known = {key, make(under, paint)};
        }
        return known.number;
    }

private:
    [[nodiscard]] int make(int under, int paint); ///< or what was made before
    [[nodiscard]] int number_of(const Tuple &tuple);
    /// And 1.
    [[nodiscard]] int number_of(const Source &source);

    const RunScene &m_scene;
    std::vector<Tuple> m_tuples;
    std::vector<Source> m_sources;
    std::map<Source, int> m_source_numbers; ///< and 1
    std::unordered_map<std::string, int> m_numbers;
    std::unordered_map<std::uint64_t, int> m_painted;
    struct Known
    {
        std::uint64_t key = ~std::uint64_t(0);
        int number = 0;
    };
    std::array<Known, 1024> m_known; ///< of m_painted, those asked for last
};

} // namespace bichrom
