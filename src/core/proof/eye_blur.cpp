#include "core/proof/eye_blur.h"

#include "core/colour/srgb.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <numbers>
#include <vector>

namespace bichrom {

namespace {

constexpr int light_steps = 4096;

const std::array<float, 256> &light_of()
{
    static const std::array<float, 256> table = [] {
        std::array<float, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = static_cast<float>(srgb_to_linear(static_cast<double>(i) / 255));
        }
        return made;
    }();
    return table;
}

const std::vector<std::uint8_t> &value_of()
{
    static const std::vector<std::uint8_t> table = [] {
        std::vector<std::uint8_t> made(light_steps + 1);
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = static_cast<std::uint8_t>(std::lround(
                std::clamp(linear_to_srgb(static_cast<double>(i) / light_steps), 0.0, 1.0) * 255));
        }
        return made;
    }();
    return table;
}

/// Replaces a line of \p count values, \p step apart, by means over 2 · \p reach + 1 of them and \p part of
/// one more at each end.
void mean_line(float *line, int count, std::ptrdiff_t step, int reach, float part, std::vector<float> &was)
{
    const int room = reach + 1;
    was.resize(static_cast<std::size_t>(count + 2 * room));
    for (int i = 0; i < count + 2 * room; ++i) {
        was[static_cast<std::size_t>(i)] = line[std::clamp(i - room, 0, count - 1) * step];
    }
    const auto at = [&](int i) { return was[static_cast<std::size_t>(i + room)]; };
    const float share = 1.0f / (static_cast<float>(2 * reach + 1) + 2 * part);
    double sum = 0;
    for (int i = -reach; i <= reach; ++i) {
        sum += static_cast<double>(at(i));
    }
    for (int i = 0; i < count; ++i) {
        line[i * step] = (static_cast<float>(sum) + part * (at(i - reach - 1) + at(i + reach + 1))) * share;
        if (i + 1 < count) {
            sum += static_cast<double>(at(i + reach + 1)) - static_cast<double>(at(i - reach));
        }
    }
}

} // namespace

Millimetres eye_spread(double metres)
{
    const double minute = std::numbers::pi / 180 / 60;
    // Half of the light of a Gaussian spot in a plane falls within 2.3548 σ across.
    return Millimetres(std::max(0.0, metres) * 1000 * minute / 2.3548);
}

void blur_in_light(std::uint32_t *pixels, int width, int height, double sigma)
{
    if (!(sigma > 0) || width < 1 || height < 1) {
        return;
    }
    // Three means, of a third of the variance each. That of 2 r + 1 values, and p of one more at each end, is
    // (r (r + 1) (2 r + 1) / 3 + 2 p (r + 1)²) / (2 r + 1 + 2 p).
    const double most = 2.0 * std::max(width, height);
    const double variance = std::min(sigma * sigma / 3, most * most / 12);
    const int reach = static_cast<int>(std::floor((std::sqrt(12 * variance + 1) - 1) / 2));
    const double r = reach;
    const auto part = static_cast<float>((variance * (2 * r + 1) - r * (r + 1) * (2 * r + 1) / 3) /
                                         (2 * ((r + 1) * (r + 1) - variance)));
    const std::size_t count = static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    std::vector<float> plane(count);
    std::vector<float> was;
    for (int shift = 0; shift <= 16; shift += 8) {
        for (std::size_t i = 0; i < count; ++i) {
            plane[i] = light_of()[pixels[i] >> shift & 255];
        }
        for (int pass = 0; pass < 3; ++pass) {
            for (int y = 0; y < height; ++y) {
                mean_line(plane.data() + static_cast<std::ptrdiff_t>(y) * width, width, 1, reach, part, was);
            }
            for (int x = 0; x < width; ++x) {
                mean_line(plane.data() + x, height, width, reach, part, was);
            }
        }
        for (std::size_t i = 0; i < count; ++i) {
            const auto step = static_cast<std::size_t>(
                std::lround(std::clamp(plane[i], 0.0f, 1.0f) * static_cast<float>(light_steps)));
            pixels[i] = (pixels[i] & ~(0xFFu << shift)) | std::uint32_t(value_of()[step]) << shift;
        }
    }
}

} // namespace bichrom
