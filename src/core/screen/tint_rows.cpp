#include "core/screen/tint_rows.h"

#include <algorithm>
#include <bit>
#include <cstring>

namespace bichrom {

namespace {

constexpr int word_pixels = 64;

/// A word of a row of dots, its leftmost pixel in the highest bit, as bytes are stored and back.
std::uint64_t turned(std::uint64_t word)
{
    static_assert(std::endian::native == std::endian::little);
    return __builtin_bswap64(word);
}

} // namespace

TintRows::TintRows(const ScreenRows &screen)
    : m_screen(screen),
      m_words(static_cast<std::size_t>((screen.width + 2 * word_pixels - 2) / word_pixels + 1))
{
}

const std::uint64_t *TintRows::wanted(std::uint8_t tone, int pixels)
{
    std::atomic<const std::uint64_t *> &rows = m_rows[tone];
    if (const std::uint64_t *made = rows.load(std::memory_order_acquire); made != nullptr) {
        return made;
    }
    const auto places =
        static_cast<std::uint64_t>(m_screen.width) * static_cast<std::uint64_t>(m_screen.height);
    const auto count = static_cast<std::uint64_t>(pixels);
    const std::uint64_t asked = m_asked[tone].fetch_add(count, std::memory_order_relaxed);
    if (asked >= places || asked + count < places) {
        return nullptr; // another thread makes it, or there was no room; or it is not worth it yet
    }
    const std::lock_guard lock(m_guard);
    const std::size_t bytes = m_words * static_cast<std::size_t>(m_screen.height) * sizeof(std::uint64_t);
    if ((m_made.size() + 1) * bytes > most_bytes) {
        return nullptr;
    }
    m_made.push_back(make(tone));
    rows.store(m_made.back().data(), std::memory_order_release);
    return m_made.back().data();
}

std::vector<std::uint64_t> TintRows::make(std::uint8_t tone) const
{
    std::vector<std::uint64_t> rows(m_words * static_cast<std::size_t>(m_screen.height));
    // A row of words ends somewhere in its repetition, as far as it is ever read and a little further.
    const std::vector<std::uint8_t> tones(m_words * word_pixels, tone);
    for (int y = 0; y < m_screen.height; ++y) {
        std::uint64_t *row = rows.data() + static_cast<std::size_t>(y) * m_words;
        const ScreenRow thresholds{m_screen.thresholds + static_cast<std::ptrdiff_t>(y) * m_screen.stride,
                                   m_screen.width, 0};
        screen_words(thresholds, tones.data(), static_cast<int>(m_words),
                     reinterpret_cast<std::uint8_t *>(row));
        std::transform(row, row + m_words, row, turned);
    }
    return rows;
}

void TintRows::lay(const std::uint64_t *rows, int row, int column, int begin, int end,
                   std::uint8_t *bits) const
{
    const std::uint64_t *const from = rows + static_cast<std::size_t>(row) * m_words;
    const int width = m_screen.width;
    const int first = begin / word_pixels, last = (end - 1) / word_pixels;
    // The column that the first pixel of the first word stands in.
    int at = column + first * word_pixels;
    at = at < width ? at : at % width;
    const auto next = [&] {
        const std::uint64_t *word = from + at / word_pixels;
        const int shift = at % word_pixels;
        // Twice, since a word cannot be shifted by all of its bits.
        const std::uint64_t dots = word[0] << shift | word[1] >> 1 >> (word_pixels - 1 - shift);
        at += word_pixels;
        at -= at >= width ? width : 0;
        return dots;
    };
    const auto ink = [&](int word, std::uint64_t dots) {
        std::uint64_t here;
        std::memcpy(&here, bits + word * 8, sizeof here);
        here |= turned(dots);
        std::memcpy(bits + word * 8, &here, sizeof here);
    };
    const std::uint64_t head = ~std::uint64_t(0) >> (begin % word_pixels);
    const std::uint64_t tail = ~std::uint64_t(0) << (word_pixels - 1 - (end - 1) % word_pixels);
    if (first == last) {
        ink(first, next() & head & tail);
        return;
    }
    ink(first, next() & head);
    for (int word = first + 1; word < last; ++word) {
        const std::uint64_t dots = turned(next());
        std::memcpy(bits + word * 8, &dots, sizeof dots);
    }
    ink(last, next() & tail);
}

} // namespace bichrom
