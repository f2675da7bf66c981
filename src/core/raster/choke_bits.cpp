#include "core/raster/choke_bits.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>
#include <vector>

namespace bichrom {

namespace {

/// Turns what is set over. Bits behind the width stay 0.
void turn_over(BitPlane &bits)
{
    const int spare = bits.words * 64 - bits.width;
    for (int y = 0; y < bits.height && bits.words > 0; ++y) {
        std::uint64_t *row = bits.row(y);
        for (int word = 0; word < bits.words; ++word) {
            row[word] = ~row[word];
        }
        row[bits.words - 1] &= ~std::uint64_t(0) >> spare;
    }
}

/// What is not set in rows [\p first, \p last), in words that anything set may be within \p reach pixels of.
BitPlane open_near(const BitPlane &set, int first, int last, double reach)
{
    constexpr int group = 16; // rows that are looked at together
    const int groups = (set.height + group - 1) / group;
    const int away = static_cast<int>(reach) / group + 1, aside = static_cast<int>(reach) / 64 + 1;
    const auto words = static_cast<std::size_t>(set.words);
    std::vector<std::uint8_t> any(words * static_cast<std::size_t>(groups)); // by group and word
    for (int y = 0; y < set.height; ++y) {
        std::uint8_t *const of_group = any.data() + words * static_cast<std::size_t>(y / group);
        for (std::size_t word = 0; word < words; ++word) {
            if (set.row(y)[word] != 0) {
                of_group[word] = 1;
            }
        }
    }
    BitPlane open(set.width, set.height);
    const std::uint64_t tail = ~std::uint64_t(0) >> (set.words * 64 - set.width);
    std::vector<std::uint8_t> above_and_below(words), near(words);
    for (int top = first / group * group; top < last; top += group) {
        std::fill(above_and_below.begin(), above_and_below.end(), std::uint8_t(0));
        for (int other = std::max(0, top / group - away); other <= std::min(groups - 1, top / group + away);
             ++other) {
            const std::uint8_t *const of_group = any.data() + words * static_cast<std::size_t>(other);
            for (std::size_t word = 0; word < words; ++word) {
                above_and_below[word] = std::max(above_and_below[word], of_group[word]);
            }
        }
        for (int word = 0; word < set.words; ++word) {
            const auto from = above_and_below.begin() + std::max(0, word - aside),
                       to = above_and_below.begin() + std::min(set.words, word + aside + 1);
            near[static_cast<std::size_t>(word)] = std::find(from, to, 1) == to ? 0 : 1;
        }
        for (int y = std::max(first, top); y < std::min(last, top + group); ++y) {
            std::uint64_t *const row = open.row(y);
            for (std::size_t word = 0; word < words; ++word) {
                row[word] = near[word] != 0 ? ~set.row(y)[word] : 0;
            }
            row[words - 1] &= tail;
        }
    }
    return open;
}

/// Adds a row of what is set, solid.
void add_bits(RunPlane &to, const std::uint64_t *row, int words, int width)
{
    std::uint64_t before = 0; // the last bit of the word before
    int begin = -1;           // of the run that is open
    for (int word = 0; word < words; ++word) {
        // A bit wherever something begins or ends.
        for (std::uint64_t turns = row[word] ^ (row[word] << 1 | before); turns != 0; turns &= turns - 1) {
            const int x = word * 64 + std::countr_zero(turns);
            if (begin < 0) {
                begin = x;
            } else {
                to.add({begin, x, 255, nullptr});
                begin = -1;
            }
        }
        before = row[word] >> 63;
    }
    if (begin >= 0) {
        to.add({begin, width, 255, nullptr});
    }
    to.end_row();
}

/// Adds to what is set in rows [\p first, \p last) all that lies nearer than \p radius and a half pixel,
/// middle to middle.
void widen(BitPlane &set, int first, int last, double radius)
{
    // Squares of such distances are whole numbers.
    const double reach = std::sqrt(std::ceil((radius + 0.5) * (radius + 0.5)) - 1);
    const BitPlane open = open_near(set, first, last, reach);
    const BitPlane near = dilated(set, reach, &open);
    for (std::size_t i = 0; i < set.bits.size(); ++i) {
        set.bits[i] |= near.bits[i] & open.bits[i];
    }
}

RunPlane runs_of(const BitPlane &set, int first, int last)
{
    RunPlane made(set.width, last - first);
    for (int y = first; y < last; ++y) {
        if (y > first && std::equal(set.row(y), set.row(y) + set.words, set.row(y - 1))) {
            made.repeat_row();
        } else {
            add_bits(made, set.row(y), set.words, set.width);
        }
    }
    return made;
}

} // namespace

RunPlane choke(BitPlane ink, int first, int last, double radius)
{
    turn_over(ink);
    widen(ink, first, last, radius);
    turn_over(ink);
    return runs_of(ink, first, last);
}

RunPlane spread(BitPlane ink, int first, int last, double radius)
{
    widen(ink, first, last, radius);
    return runs_of(ink, first, last);
}

} // namespace bichrom
