#include "core/raster/bitmap_ops.h"

#include <bit>
#include <cstring>

namespace bichrom {

namespace {

/// Eight bytes as one word whose highest bit is the leftmost pixel.
std::uint64_t load_word(const std::uint8_t *bytes)
{
    std::uint64_t word = 0;
    std::memcpy(&word, bytes, 8);
    return std::endian::native == std::endian::little ? __builtin_bswap64(word) : word;
}

void store_word(std::uint8_t *bytes, std::uint64_t word)
{
    const std::uint64_t ordered = std::endian::native == std::endian::little ? __builtin_bswap64(word) : word;
    std::memcpy(bytes, &ordered, 8);
}

std::uint64_t reversed(std::uint64_t word)
{
    word = ((word >> 1) & 0x5555555555555555u) | ((word & 0x5555555555555555u) << 1);
    word = ((word >> 2) & 0x3333333333333333u) | ((word & 0x3333333333333333u) << 2);
    word = ((word >> 4) & 0x0F0F0F0F0F0F0F0Fu) | ((word & 0x0F0F0F0F0F0F0F0Fu) << 4);
    return __builtin_bswap64(word);
}

} // namespace

void invert(Bitmap &film)
{
    const int words = static_cast<int>(film.stride / 8);
    const int spare = words * 64 - film.width;
    for (int y = 0; y < film.height; ++y) {
        std::uint8_t *row = film.row(y);
        for (int i = 0; i < words; ++i) {
            store_word(row + i * 8, ~load_word(row + i * 8));
        }
        if (words > 0 && spare > 0) {
            std::uint8_t *last = row + (words - 1) * 8;
            store_word(last, load_word(last) & (~std::uint64_t(0) << spare));
        }
    }
}

void mirror(Bitmap &film)
{
    const std::size_t words = film.stride / 8;
    const int spare = static_cast<int>(words * 64) - film.width;
    std::vector<std::uint64_t> turned(words + 1);
    for (int y = 0; y < film.height; ++y) {
        std::uint8_t *row = film.row(y);
        for (std::size_t i = 0; i < words; ++i) {
            turned[words - 1 - i] = reversed(load_word(row + i * 8));
        }
        // Reversal put the padding in front; shift it back to the end.
        for (std::size_t i = 0; i < words; ++i) {
            const std::uint64_t next = i + 1 < words ? turned[i + 1] : 0;
            const std::uint64_t word = spare == 0 ? turned[i] : (turned[i] << spare) | (next >> (64 - spare));
            store_word(row + i * 8, word);
        }
    }
}

void set_bits(std::uint8_t *bits, int begin, int end)
{
    const int first = begin / 8;
    const int last = end / 8;
    const auto head = static_cast<std::uint8_t>(0xFF >> (begin % 8));
    const auto tail = static_cast<std::uint8_t>(~(0xFF >> (end % 8)));
    if (first == last) {
        bits[first] = static_cast<std::uint8_t>(bits[first] | (head & tail));
        return;
    }
    bits[first] = static_cast<std::uint8_t>(bits[first] | head);
    std::memset(bits + first + 1, 0xFF, static_cast<std::size_t>(last - first - 1));
    if (tail != 0) {
        bits[last] = static_cast<std::uint8_t>(bits[last] | tail);
    }
}

} // namespace bichrom
