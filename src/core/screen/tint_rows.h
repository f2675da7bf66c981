/// \file
/// The dots of flat tints as rows of bits that repeat.
/// Layer: core/screen, private to it.
#pragma once

#include "core/screen/halftone_kernel.h"

#include <array>
#include <atomic>
#include <cstddef>
#include <cstdint>
#include <memory>
#include <mutex>
#include <vector>

namespace bichrom {

/// Rows of thresholds that repeat, as a screen is made of.
struct ScreenRows
{
    const std::uint8_t *thresholds = nullptr;
    int width = 0;  ///< of a row before it repeats, at least 64
    int height = 0; ///< rows
    int stride = 0; ///< from one row to the next: their width and 64 of its beginning again
};

/// What a screen makes of a tint, made once for each tone that much of a film has. For several threads.
class TintRows
{
public:
    /// \param screen  its thresholds live as long as this does
    explicit TintRows(const ScreenRows &screen);

    /// The rows of bits of \p tone, a stretch of \p pixels of which is to be screened; null as long as little
    /// has been asked for, since they cost as much as screening all of the tile, and where they would take
    /// too much memory.
    const std::uint64_t *wanted(std::uint8_t tone, int pixels);

    /// Inks what the tint of \p rows inks in pixels [\p begin, \p end) of \p bits, the first pixel of which
    /// stands in \p column of row \p row of the tile. \pre bits are bare there; begin < end
    void lay(const std::uint64_t *rows, int row, int column, int begin, int end, std::uint8_t *bits) const;

private:
    std::vector<std::uint64_t> make(std::uint8_t tone) const;

    /// Of all tones together.
    static constexpr std::size_t most_bytes = std::size_t(4) << 20;

    ScreenRows m_screen;
    std::size_t m_words; ///< of a row of bits: its width, 63 pixels of its beginning again, and one more word
    std::array<std::atomic<const std::uint64_t *>, 256> m_rows{};
    std::array<std::atomic<std::uint64_t>, 256> m_asked{}; ///< pixels
    std::mutex m_guard;                                    ///< of what follows
    std::vector<std::vector<std::uint64_t>> m_made;
};

} // namespace bichrom
