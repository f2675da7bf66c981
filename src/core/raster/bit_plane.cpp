#include "core/raster/bit_plane.h"

#include "core/base/cpu_clones.h"
#include "core/raster/bands.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdlib>
#include <cstring>

namespace bichrom {

namespace {

/// \p row, and \p row moved by \p step pixels to either side. \pre the two do not overlap
void add_both_sides(const std::uint64_t *__restrict row, int words, int step, std::uint64_t *__restrict out)
{
    const int whole = step / 64, part = step % 64;
    if (whole == 0 && part != 0 && words > 1) { // as nearly always
        out[0] = row[0] | row[0] << part | row[0] >> part | row[1] << (64 - part);
        for (int i = 1; i + 1 < words; ++i) {
            out[i] = row[i] | row[i] << part | row[i - 1] >> (64 - part) | row[i] >> part |
                     row[i + 1] << (64 - part);
        }
        const int last = words - 1;
        out[last] = row[last] | row[last] << part | row[last - 1] >> (64 - part) | row[last] >> part;
        return;
    }
    const auto at = [&](int word) { return word >= 0 && word < words ? row[word] : 0; };
    for (int i = 0; i < words; ++i) {
        out[i] = row[i] | at(i - whole) << part | at(i + whole) >> part;
        if (part != 0) {
            out[i] |= at(i - whole - 1) >> (64 - part) | at(i + whole + 1) << (64 - part);
        }
    }
}

/// Widens what \p row inks by \p by pixels on either side; \p scratch is as long.
void widen(std::vector<std::uint64_t> &row, int by, std::vector<std::uint64_t> &scratch)
{
    // In steps that grow: what is widened by n already is widened by 2n + 1 more without gaps.
    for (int done = 0; done < by;) {
        const int step = std::min(by - done, 2 * done + 1);
        add_both_sides(row.data(), static_cast<int>(row.size()), step, scratch.data());
        row.swap(scratch);
        done += step;
    }
}

BICHROM_CPU_CLONES std::int64_t count_bits(const std::uint64_t *words, std::size_t count)
{
    std::int64_t sum = 0;
    for (std::size_t i = 0; i < count; ++i) {
        sum += std::popcount(words[i]);
    }
    return sum;
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
    return count_bits(bits.data(), bits.size());
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

namespace {

/// Words [begin, end) of a row.
struct Words
{
    int begin = 0, end = 0;
};

/// Where \p row has any bit, with \p apart words between two stretches at least.
void find_words(const std::uint64_t *row, int words, int apart, std::vector<Words> &found)
{
    found.clear();
    for (int word = 0; word < words; ++word) {
        if (row[word] == 0) {
            continue;
        }
        if (!found.empty() && word - found.back().end < apart) {
            found.back().end = word + 1;
        } else {
            found.push_back({word, word + 1});
        }
    }
}

/// A disc from its middle outwards, as rows of a plane are looked at for it.
struct DiscOfRows
{
    std::vector<int> wider; ///< by rows away: how much further it reaches there than a row further away
    int aside = 0;          ///< words that bits come from
};

DiscOfRows disc_of_rows(double radius)
{
    const int reach = static_cast<int>(std::floor(radius));
    std::vector<int> halves; // by rows away
    for (int away = 0; away <= reach; ++away) {
        halves.push_back(static_cast<int>(std::floor(std::sqrt(radius * radius - double(away) * away))));
    }
    DiscOfRows disc;
    disc.aside = reach / 64 + 1;
    for (std::size_t away = 0; away < halves.size(); ++away) {
        disc.wider.push_back(halves[away] - (away + 1 < halves.size() ? halves[away + 1] : 0));
    }
    return disc;
}

constexpr int few = 8; ///< words that are widened in registers

/// What a disc makes of the \p few words at \p middle, whose neighbours to the sides are bare.
/// \param apart  words from row to row; \p above and \p below so many rows follow either way
/// \param blank  of the middle row, and of the others beside it
BICHROM_CPU_CLONES void dilate_few(const int *wider, int reach, const std::uint64_t *middle,
                                   std::ptrdiff_t apart, int above, int below, const std::uint8_t *blank,
                                   std::uint64_t *made)
{
    using Four [[gnu::vector_size(32)]] = std::uint64_t;
    Four left = {}, right = {};
    const Four bare = {};
    bool inked = false;
    for (int away = 0; away <= reach; ++away) {
        for (int side = away == 0 ? 1 : 0; side < 2; ++side) {
            const std::ptrdiff_t row = side == 0 ? -away : away;
            if (row < -above || row > below || blank[row] != 0) {
                continue;
            }
            Four a, b;
            std::memcpy(&a, middle + row * apart, sizeof a);
            std::memcpy(&b, middle + row * apart + few / 2, sizeof b);
            left |= a;
            right |= b;
            inked = true;
        }
        // In steps that grow: what is widened by n already is widened by 2n + 1 more without gaps.
        for (int done = 0; done < wider[away] && inked;) {
            const int step = std::min({wider[away] - done, 2 * done + 1, 63});
            const Four before_left = __builtin_shufflevector(bare, left, 3, 4, 5, 6);
            const Four before_right = __builtin_shufflevector(left, right, 3, 4, 5, 6);
            const Four after_left = __builtin_shufflevector(left, right, 1, 2, 3, 4);
            const Four after_right = __builtin_shufflevector(right, bare, 1, 2, 3, 4);
            left |= left << step | before_left >> (64 - step) | left >> step | after_left << (64 - step);
            right |= right << step | before_right >> (64 - step) | right >> step | after_right << (64 - step);
            done += step;
        }
    }
    std::memcpy(made, &left, sizeof left);
    std::memcpy(made + few / 2, &right, sizeof right);
}

} // namespace

BitPlane dilated(const BitPlane &plane, double radius, const BitPlane *wanted)
{
    BitPlane made(plane.width, plane.height);
    const DiscOfRows disc = disc_of_rows(radius);
    const int reach = static_cast<int>(disc.wider.size()) - 1;
    const std::uint64_t tail =
        plane.width % 64 == 0 ? ~std::uint64_t(0) : (std::uint64_t(1) << (plane.width % 64)) - 1;
    std::vector<std::uint8_t> blank(static_cast<std::size_t>(plane.height));
    for (int y = 0; y < plane.height; ++y) {
        blank[static_cast<std::size_t>(y)] = is_blank(plane.row(y), plane.words) ? 1 : 0;
    }
    each_row(plane.height, [&](int y) {
        thread_local std::vector<std::uint64_t> wide, scratch;
        thread_local std::vector<Words> parts;
        parts.assign(1, {0, plane.words});
        if (wanted != nullptr) {
            find_words(wanted->row(y), wanted->words, 2 * disc.aside + 2, parts);
        }
        std::uint64_t *out = made.row(y);
        for (const Words &part : parts) {
            if (plane.words >= few && disc.aside < few / 2) {
                for (int word = part.begin; word < part.end;) {
                    const int first = std::clamp(word - disc.aside, 0, plane.words - few);
                    // Those whose neighbours have been looked at; beyond the plane it is bare.
                    const int good = first + few == plane.words ? plane.words : first + few - disc.aside;
                    std::uint64_t few_made[few];
                    dilate_few(disc.wider.data(), reach, plane.row(y) + first, plane.words, y,
                               plane.height - 1 - y, &blank[static_cast<std::size_t>(y)], few_made);
                    const int end = std::min(part.end, good);
                    std::copy(few_made + (word - first), few_made + (end - first), out + word);
                    word = end;
                }
                continue;
            }
            const int first = std::max(0, part.begin - disc.aside);
            const int count = std::min(plane.words, part.end + disc.aside) - first;
            wide.assign(static_cast<std::size_t>(count), 0);
            scratch.resize(wide.size());
            bool bare = true;
            // From the middle outwards: what a row is widened by more than the next one further away, all
            // rows up to it are widened by together.
            for (int away = 0; away <= reach; ++away) {
                for (const int row : {y - away, y + away}) {
                    if (row < 0 || row >= plane.height || blank[static_cast<std::size_t>(row)] != 0) {
                        continue;
                    }
                    const std::uint64_t *from = plane.row(row) + first;
                    for (std::size_t word = 0; word < wide.size(); ++word) {
                        wide[word] |= from[word];
                    }
                    bare = false;
                    if (away == 0) {
                        break;
                    }
                }
                if (!bare) {
                    widen(wide, disc.wider[static_cast<std::size_t>(away)], scratch);
                }
            }
            std::copy(wide.begin() + (part.begin - first), wide.begin() + (part.end - first),
                      out + part.begin);
        }
        if (plane.words > 0) {
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
