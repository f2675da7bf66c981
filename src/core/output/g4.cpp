#include "core/output/g4.h"

#include "core/output/g4_codes.h"

#include <algorithm>
#include <bit>
#include <cstring>
#include <utility>

namespace bichrom {

namespace {

/// Writes the bits of a row by a bare pointer: half the time of encoding would go into growing a vector.
class RowBits
{
public:
    RowBits(BitString::Tail tail, std::uint8_t *to) : m_tail(tail), m_first(to), m_to(to) {}

    /// \p count is 1 to 32
    void put(std::uint32_t word, int count)
    {
        // Eight bytes are written each time, of which the whole ones count: no branch that is guessed wrong.
        m_tail.bits = m_tail.bits << count | word;
        m_tail.count += count;
        const std::uint64_t left = __builtin_bswap64(m_tail.bits << (64 - m_tail.count));
        std::memcpy(m_to, &left, sizeof left);
        m_to += m_tail.count >> 3;
        m_tail.count &= 7;
    }
    void end(BitString &out) const { out.go_on({m_first, m_to}, m_tail); }

private:
    BitString::Tail m_tail;
    std::uint8_t *m_first, *m_to;
};

/// Bytes that no row of \p width pixels outgrows: a change takes seven bits at most where it moves a pixel,
/// two in horizontal mode twelve where they move two, and some more at the row's beginning.
std::size_t most_bytes(int width)
{
    return 2 * static_cast<std::size_t>(width) + 64;
}

void put_run(RowBits &out, int length, bool ink)
{
    const g4::Code *codes = ink ? g4::black_runs : g4::white_runs;
    while (length >= 2560) {
        out.put(codes[103].word, codes[103].bits);
        length -= 2560;
    }
    if (length >= 64) {
        // 64 … 1728 stand at 64 … 90, 1792 … 2560 at 91 … 103: both 63 + length / 64.
        const g4::Code code = codes[63 + length / 64];
        out.put(code.word, code.bits);
        length &= 63;
    }
    out.put(codes[length].word, codes[length].bits);
}

struct Mode
{
    std::uint8_t word;
    std::uint8_t bits;
};

// ITU-T T.6, table 1; vertical modes from a1 three left of b1 to three right of it.
constexpr Mode vertical[7] = {{0x2, 7}, {0x2, 6}, {0x2, 3}, {0x1, 1}, {0x3, 3}, {0x3, 6}, {0x3, 7}};

void encode_row(const RowChanges &reference, const RowChanges &current, int width, RowBits &out)
{
    // Both end in the width, four times: past the last change it is found without being asked for.
    const int *first = reference.at();
    const int *b = first;
    const int *a = current.at();
    int a0 = -1;
    bool ink = false;
    while (a0 < width) {
        const int a1 = *a;
        while (*b <= a0) {
            b += 2;
        }
        const int b1 = *b, b2 = b[1];
        if (b2 < a1) {
            out.put(0x1, 4); // pass
            a0 = b2;
            continue;
        }
        const auto shift = static_cast<unsigned>(a1 - b1 + 3);
        if (shift <= 6) {
            const Mode mode = vertical[shift];
            out.put(mode.word, mode.bits);
            a0 = a1;
            ++a;
            ink = !ink;
            b += b > first && b[-1] > a0 ? -1 : 1; // the other colour's changes stand in between
        } else {
            const int a2 = a[1];
            out.put(0x1, 3);
            put_run(out, a1 - (a0 < 0 ? 0 : a0), ink);
            put_run(out, a2 - a1, !ink);
            a0 = a2;
            a += 2;
        }
    }
}

} // namespace

void BitString::put_ones(std::int64_t count)
{
    for (; count >= 32; count -= 32) {
        put(0xFFFFFFFFu, 32);
    }
    put(static_cast<std::uint32_t>((std::uint64_t(1) << count) - 1), static_cast<int>(count));
}

void BitString::append(const BitString &other)
{
    m_bytes.reserve(m_bytes.size() + other.m_bytes.size() + 8);
    std::size_t i = 0;
    if (m_count == 0) {
        m_bytes.insert(m_bytes.end(), other.m_bytes.begin(), other.m_bytes.end());
        i = other.m_bytes.size();
    }
    for (; i + 4 <= other.m_bytes.size(); i += 4) {
        const std::uint8_t *p = other.m_bytes.data() + i;
        put((std::uint32_t(p[0]) << 24) | (std::uint32_t(p[1]) << 16) | (std::uint32_t(p[2]) << 8) | p[3],
            32);
    }
    for (; i < other.m_bytes.size(); ++i) {
        put(other.m_bytes[i], 8);
    }
    put(static_cast<std::uint32_t>(other.m_pending & ((std::uint64_t(1) << other.m_count) - 1)),
        other.m_count);
}

std::vector<std::uint8_t> BitString::take_whole_bytes()
{
    while (m_count >= 8) {
        m_count -= 8;
        m_bytes.push_back(static_cast<std::uint8_t>(m_pending >> m_count));
    }
    return std::exchange(m_bytes, {});
}

std::vector<std::uint8_t> BitString::take_bytes()
{
    if (m_count % 8 != 0) {
        put(0, 8 - m_count % 8);
    }
    return take_whole_bytes();
}

namespace {

/// The bits of each byte turned round.
std::uint64_t bytes_reversed(std::uint64_t word)
{
    word = (word >> 1 & 0x5555555555555555) | (word & 0x5555555555555555) << 1;
    word = (word >> 2 & 0x3333333333333333) | (word & 0x3333333333333333) << 2;
    return (word >> 4 & 0x0F0F0F0F0F0F0F0F) | (word & 0x0F0F0F0F0F0F0F0F) << 4;
}

} // namespace

void RowChanges::find(const std::uint8_t *row, int width)
{
    static_assert(std::endian::native == std::endian::little);
    const int words = (width + 63) / 64;
    m_at.resize(static_cast<std::size_t>(width) + 5);
    int *out = m_at.data();
    std::uint64_t carry = 0; // the pixel to the left of the word
    for (int i = 0; i < words; ++i) {
        std::uint64_t word = 0;
        std::memcpy(&word, row + i * 8, 8);
        word = bytes_reversed(word); // the first pixel lowest: the lowest bit is taken off in one step
        std::uint64_t edges = word ^ (word << 1 | carry);
        carry = word >> 63;
        for (; edges != 0; edges &= edges - 1) {
            *out++ = i * 64 + std::countr_zero(edges);
        }
    }
    while (out > m_at.data() && out[-1] >= width) {
        --out; // the step into the padding
    }
    m_count = static_cast<int>(out - m_at.data());
    std::fill_n(out, 4, width);
}

void RowChanges::take(std::span<const int> columns, int width)
{
    m_at.resize(std::max(m_at.size(), columns.size() + 4));
    std::fill_n(std::copy(columns.begin(), columns.end(), m_at.begin()), 4, width);
    m_count = static_cast<int>(columns.size());
}

bool operator==(const RowChanges &a, const RowChanges &b)
{
    return a.m_count == b.m_count && std::equal(a.m_at.begin(), a.m_at.begin() + a.m_count, b.m_at.begin());
}

G4Rows::G4Rows(int width, const std::uint8_t *reference, BitString &out)
    : m_width(width), m_out(out), m_previous(reference), m_scratch(new std::uint8_t[most_bytes(width)])
{
    if (reference == nullptr) {
        m_above.none(width);
    } else {
        m_above.find(reference, width);
    }
}

void G4Rows::encode()
{
    RowBits bits(m_out.tail(), m_scratch.get());
    encode_row(m_above, m_here, m_width, bits);
    bits.end(m_out);
    std::swap(m_above, m_here);
}

void G4Rows::add(const std::uint8_t *row)
{
    const std::size_t bytes = static_cast<std::size_t>((m_width + 63) / 64) * 8;
    if (m_previous != nullptr && std::memcmp(m_previous, row, bytes) == 0) {
        m_out.put_ones(m_above.count() + 1); // V0 at every change and at the end
    } else {
        m_here.find(row, m_width);
        encode();
    }
    m_previous = row;
}

void G4Rows::add(std::span<const int> columns)
{
    m_here.take(columns, m_width);
    if (m_here == m_above) {
        m_out.put_ones(m_above.count() + 1);
    } else {
        encode();
    }
    m_previous = nullptr;
}

void encode_g4_rows(const Bitmap &film, int first, int last, const std::uint8_t *reference, BitString &out)
{
    G4Rows rows(film.width, reference, out);
    for (int y = first; y < last; ++y) {
        rows.add(film.row(y));
    }
}

void end_g4(BitString &out)
{
    out.put(0x001, 12);
    out.put(0x001, 12);
}

std::vector<std::uint8_t> encode_g4_strip(const Bitmap &film)
{
    BitString bits;
    encode_g4_rows(film, 0, film.height, nullptr, bits);
    end_g4(bits);
    return bits.take_bytes();
}

} // namespace bichrom
