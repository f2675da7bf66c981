#include "core/proof/eye_blur.h"

#include "core/colour/srgb.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <numbers>
#include <vector>

namespace bichrom {

namespace {

constexpr float light_steps = 4096;

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
        std::vector<std::uint8_t> made(static_cast<std::size_t>(light_steps) + 1);
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = static_cast<std::uint8_t>(std::lround(
                std::clamp(linear_to_srgb(static_cast<double>(i) / static_cast<double>(light_steps)), 0.0,
                           1.0) *
                255));
        }
        return made;
    }();
    return table;
}

/// Means over 2 · reach + 1 values, and part of one more at each end.
struct Mean
{
    int reach = 0;
    float part = 0;
    [[nodiscard]] float share() const { return 1.0f / (static_cast<float>(2 * reach + 1) + 2 * part); }
};

/// \p rows lines of \p width values, each by itself.
void mean_along(std::vector<float> &plane, int width, int rows, const Mean &mean)
{
    const int room = mean.reach + 1;
    std::vector<float> padded(static_cast<std::size_t>(width + 2 * room));
    for (int y = 0; y < rows; ++y) {
        float *line = plane.data() + static_cast<std::ptrdiff_t>(y) * width;
        std::fill(padded.begin(), padded.begin() + room, line[0]);
        std::copy(line, line + width, padded.begin() + room);
        std::fill(padded.end() - room, padded.end(), line[width - 1]);
        const float *at = padded.data() + room;
        float sum = 0;
        for (int i = -mean.reach; i <= mean.reach; ++i) {
            sum += at[i];
        }
        for (int x = 0; x < width; ++x) {
            line[x] = (sum + mean.part * (at[x - mean.reach - 1] + at[x + mean.reach + 1])) * mean.share();
            sum += at[x + mean.reach + 1] - at[x - mean.reach];
        }
    }
}

/// The same down the columns, all of them at once, from \p plane to \p out.
void mean_down(const std::vector<float> &plane, std::vector<float> &out, int width, int rows,
               const Mean &mean)
{
    const auto line = [&](int y) {
        return plane.data() + static_cast<std::ptrdiff_t>(std::clamp(y, 0, rows - 1)) * width;
    };
    std::vector<float> sums(static_cast<std::size_t>(width));
    for (int y = -mean.reach; y <= mean.reach; ++y) {
        const float *one = line(y);
        for (std::size_t x = 0; x < sums.size(); ++x) {
            sums[x] += one[x];
        }
    }
    const float share = mean.share();
    for (int y = 0; y < rows; ++y) {
        const float *before = line(y - mean.reach - 1);
        const float *first = line(y - mean.reach);
        const float *after = line(y + mean.reach + 1);
        float *to = out.data() + static_cast<std::ptrdiff_t>(y) * width;
        for (std::size_t x = 0; x < sums.size(); ++x) {
            to[x] = (sums[x] + mean.part * (before[x] + after[x])) * share;
            sums[x] += after[x] - first[x];
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
    Mean mean;
    mean.reach = static_cast<int>(std::floor((std::sqrt(12 * variance + 1) - 1) / 2));
    const double r = mean.reach;
    mean.part = static_cast<float>((variance * (2 * r + 1) - r * (r + 1) * (2 * r + 1) / 3) /
                                   (2 * ((r + 1) * (r + 1) - variance)));
    const std::size_t count = static_cast<std::size_t>(width) * static_cast<std::size_t>(height);
    std::array<std::vector<float>, 3> planes;
    oneapi::tbb::parallel_for(std::size_t(0), planes.size(), [&](std::size_t channel) {
        std::vector<float> &plane = planes[channel];
        const auto shift = static_cast<unsigned>(channel) * 8;
        plane.resize(count);
        for (std::size_t i = 0; i < count; ++i) {
            plane[i] = light_of()[pixels[i] >> shift & 255];
        }
        std::vector<float> other(count);
        for (int pass = 0; pass < 3; ++pass) {
            mean_along(plane, width, height, mean);
            mean_down(plane, other, width, height, mean);
            plane.swap(other);
        }
    });
    const auto value = [](float light) -> std::uint32_t {
        return value_of()[static_cast<std::size_t>(std::clamp(light, 0.0f, 1.0f) * light_steps + 0.5f)];
    };
    for (std::size_t i = 0; i < count; ++i) {
        pixels[i] = (pixels[i] & 0xFF000000u) | value(planes[2][i]) << 16 | value(planes[1][i]) << 8 |
                    value(planes[0][i]);
    }
}

} // namespace bichrom
