#include "core/raster/bit_plane.h"

#include "core/raster/bands.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdlib>

namespace bichrom {

namespace {

/// \p row moved by \p by pixels, to the right where it is positive, is added to \p out.
void or_moved(const std::uint64_t *row, int words, int by, std::uint64_t *out)
{
    const int whole = std::abs(by) / 64, part = std::abs(by) % 64;
    if (by >= 0) {
        for (int i = words - 1; i >= whole; --i) {
            std::uint64_t word = row[i - whole] << part;
            if (part != 0 && i > whole) {
                word |= row[i - whole - 1] >> (64 - part);
            }
            out[i] |= word;
        }
        return;
    }
    for (int i = 0; i + whole < words; ++i) {
        std::uint64_t word = row[i + whole] >> part;
        if (part != 0 && i + whole + 1 < words) {
            word |= row[i + whole + 1] << (64 - part);
        }
        out[i] |= word;
    }
}

bool is_blank(const std::uint64_t *row, int words)
{
    return std::all_of(row, row + words, [](std::uint64_t word) { return word == 0; });
}

} // namespace

void BitPlane::set(int y, int begin, int end)
{
    std::uint64_t *to = row(y);
    for (int x = begin; x < end;) {
        const int word = x / 64;
        const int last = std::min(end, (word + 1) * 64);
        const int count = last - x;
        const std::uint64_t ones = count == 64 ? ~std::uint64_t(0) : (std::uint64_t(1) << count) - 1;
        to[word] |= ones << (x % 64);
        x = last;
    }
}

std::int64_t BitPlane::count() const
{
    std::int64_t sum = 0;
    for (const std::uint64_t word : bits) {
        sum += std::popcount(word);
    }
    return sum;
}

void add_row(BitPlane &plane, int to, const RunPlane &tones, int y, std::uint8_t least)
{
    for (const ToneRun &run : tones.row(y)) {
        if (run.tones == nullptr) {
            if (run.tone >= least) {
                plane.set(to, run.begin, run.end);
            }
            continue;
        }
        for (int x = run.begin; x < run.end;) {
            int end = x;
            while (end < run.end && run.tones[end - run.begin] >= least) {
                ++end;
            }
            if (end > x) {
                plane.set(to, x, end);
            }
            x = end + 1;
        }
    }
}

BitPlane dilated(const BitPlane &plane, double radius, const BitPlane *wanted)
{
    BitPlane made(plane.width, plane.height);
    const int reach = static_cast<int>(std::floor(radius));
    const std::uint64_t tail =
        plane.width % 64 == 0 ? ~std::uint64_t(0) : (std::uint64_t(1) << (plane.width % 64)) - 1;
    std::vector<std::uint8_t> blank(static_cast<std::size_t>(plane.height));
    for (int y = 0; y < plane.height; ++y) {
        blank[static_cast<std::size_t>(y)] = is_blank(plane.row(y), plane.words) ? 1 : 0;
    }
    each_row(plane.height, [&](int y) {
        if (wanted != nullptr && is_blank(wanted->row(y), wanted->words)) {
            return;
        }
        thread_local std::vector<std::uint64_t> wide, next;
        const auto words = static_cast<std::size_t>(plane.words);
        std::uint64_t *out = made.row(y);
        bool any = false;
        for (int away = reach; away >= 0; --away) {
            const int half = static_cast<int>(std::floor(std::sqrt(radius * radius - double(away) * away)));
            for (const int row : {y - away, y + away}) {
                if (row < 0 || row >= plane.height || blank[static_cast<std::size_t>(row)] != 0) {
                    continue;
                }
                next.assign(plane.row(row), plane.row(row) + plane.words);
                // In steps that grow: what is widened by n already is widened by 2n + 1 more without gaps.
                for (int done = 0; done < half;) {
                    const int step = std::min(half - done, std::max(1, 2 * done + 1));
                    wide.assign(next.begin(), next.end());
                    or_moved(wide.data(), plane.words, step, next.data());
                    or_moved(wide.data(), plane.words, -step, next.data());
                    done += step;
                }
                for (std::size_t i = 0; i < words; ++i) {
                    out[i] |= next[i];
                }
                any = true;
                if (away == 0) {
                    break;
                }
            }
        }
        if (any && plane.words > 0) {
            out[plane.words - 1] &= tail;
        }
    });
    return made;
}

std::uint64_t word_at(const BitPlane &plane, int x, int y)
{
    if (y < 0 || y >= plane.height || x <= -64 || x >= plane.width) {
        return 0;
    }
    const std::uint64_t *row = plane.row(y);
    const int word = x >= 0 ? x / 64 : -1;
    const int part = x - word * 64;
    const std::uint64_t low = word >= 0 ? row[word] : 0;
    if (part == 0) {
        return low;
    }
    const std::uint64_t high = word + 1 < plane.words ? row[word + 1] : 0;
    return low >> part | high << (64 - part);
}

} // namespace bichrom
