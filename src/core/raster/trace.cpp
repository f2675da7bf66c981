#include "core/raster/trace.h"

#include <potracelib.h>

#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <memory>
#include <span>

namespace bichrom {

namespace {

constexpr double most_pixels = 4e8;
constexpr int word_bits = static_cast<int>(sizeof(potrace_word) * 8);

/// A bitmap as potrace wants it: rows from the bottom up, the leftmost pixel in the highest bit.
struct Bits
{
    potrace_bitmap_t map{};
    std::vector<potrace_word> words;

    Bits(int width, int height)
    {
        map.w = width;
        map.h = height;
        map.dy = (width + word_bits - 1) / word_bits;
        words.assign(static_cast<std::size_t>(map.dy) * static_cast<std::size_t>(height), 0);
        map.map = words.data();
    }
    void set(int x, int y)
    {
        potrace_word &word = words[static_cast<std::size_t>(y) * static_cast<std::size_t>(map.dy) +
                                   static_cast<std::size_t>(x / word_bits)];
        word |= potrace_word(1) << (word_bits - 1 - x % word_bits);
    }
    /// Sets x from \p first on, before \p end.
    void fill(int first, int end, int y)
    {
        potrace_word *row = words.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(map.dy);
        while (first < end) {
            const int bit = first % word_bits;
            const int count = std::min(word_bits - bit, end - first);
            const potrace_word ones = ~potrace_word(0) >> (word_bits - count);
            row[first / word_bits] |= ones << (word_bits - bit - count);
            first += count;
        }
    }
};

/// \p plane at \p fine times the pixels, interpolated between pixel centres, where it is at least one half.
Bits refined(const Plane &plane, int fine)
{
    Bits bits(plane.width * fine, plane.height * fine);
    const auto source = [fine](int i, int count, double &rest) {
        const double at = std::clamp((i + 0.5) / fine - 0.5, 0.0, static_cast<double>(count - 1));
        const int whole = std::min(static_cast<int>(at), std::max(0, count - 2));
        rest = at - whole;
        return whole;
    };
    for (int y = 0; y < bits.map.h; ++y) {
        double down = 0;
        const int row = source(y, plane.height, down);
        const auto upper = plane.row(row);
        const auto lower = plane.row(std::min(row + 1, plane.height - 1));
        // Most pixels lie far from any edge: a block of them that is bare or solid all around needs no sums.
        constexpr int block = 16;
        for (int first = 0; first < plane.width; first += block) {
            const int last = std::min(plane.width, first + block);
            const auto from = static_cast<std::size_t>(std::max(0, first - 1));
            const auto count = static_cast<std::size_t>(std::min(plane.width, last + 1)) - from;
            const std::uint8_t tone = upper[from];
            const auto even = [&](std::span<const std::uint8_t> line) {
                return std::memcmp(line.data() + from, line.data() + from + 1, count - 1) == 0;
            };
            if (tone == lower[from] && even(upper) && even(lower)) {
                if (tone >= 128) {
                    bits.fill(first * fine, last * fine, bits.map.h - 1 - y);
                }
                continue;
            }
            for (int x = first * fine; x < last * fine; ++x) {
                double across = 0;
                const auto left = static_cast<std::size_t>(source(x, plane.width, across));
                const std::size_t right = std::min(left + 1, static_cast<std::size_t>(plane.width) - 1);
                const double top = upper[left] + across * (upper[right] - upper[left]);
                const double bottom = lower[left] + across * (lower[right] - lower[left]);
                if (top + down * (bottom - top) >= 127.5) {
                    bits.set(x, bits.map.h - 1 - y);
                }
            }
        }
    }
    return bits;
}

} // namespace

Outcome<std::vector<Outline>> trace_outlines(const Plane &plane)
{
    std::vector<Outline> outlines;
    const double pixels = static_cast<double>(plane.width) * plane.height;
    if (plane.width < 1 || plane.height < 1) {
        return outlines;
    }
    if (pixels > most_pixels) {
        return Error{
            ErrorCode::TooLarge, "The picture is too large to be traced.", {}, "Print its pixels instead."};
    }
    const int fine = pixels * 16 <= most_pixels ? 4 : pixels * 4 <= most_pixels ? 2 : 1;
    const Bits bits = refined(plane, fine);
    const std::unique_ptr<potrace_param_t, decltype(&potrace_param_free)> settings(potrace_param_default(),
                                                                                   potrace_param_free);
    if (settings == nullptr) {
        return Error{ErrorCode::Internal, "The picture cannot be traced: memory is full.", {}, {}};
    }
    settings->turdsize = 0;
    settings->alphamax = 1.0;
    settings->opttolerance = 0.2;
    const std::unique_ptr<potrace_state_t, decltype(&potrace_state_free)> state(
        potrace_trace(settings.get(), &bits.map), potrace_state_free);
    if (state == nullptr || state->status != POTRACE_STATUS_OK) {
        return Error{ErrorCode::Internal, "The picture cannot be traced: memory is full.", {}, {}};
    }
    const auto px = [&](const potrace_dpoint_t &p) { return p.x / fine; };
    const auto py = [&](const potrace_dpoint_t &p) { return plane.height - p.y / fine; };
    for (const potrace_path_t *path = state->plist; path != nullptr; path = path->next) {
        const potrace_curve_t &curve = path->curve;
        Outline outline;
        outline.x = px(curve.c[curve.n - 1][2]);
        outline.y = py(curve.c[curve.n - 1][2]);
        double x = outline.x;
        double y = outline.y;
        const auto line_to = [&](const potrace_dpoint_t &p) {
            outline.pieces.push_back({x, y, px(p), py(p), px(p), py(p)});
            x = px(p);
            y = py(p);
        };
        for (int i = 0; i < curve.n; ++i) {
            const potrace_dpoint_t *c = curve.c[i];
            if (curve.tag[i] == POTRACE_CORNER) {
                line_to(c[1]);
                line_to(c[2]);
            } else {
                outline.pieces.push_back({px(c[0]), py(c[0]), px(c[1]), py(c[1]), px(c[2]), py(c[2])});
                x = px(c[2]);
                y = py(c[2]);
            }
        }
        outlines.push_back(std::move(outline));
    }
    return outlines;
}

} // namespace bichrom
