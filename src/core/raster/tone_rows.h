/// \file
/// Rows of tones joined pixel by pixel. Their memory does not overlap, so that many pixels go at once.
/// Layer: core/raster.
#pragma once

#include <cstddef>
#include <cstdint>

namespace bichrom {

/// The sum, at most solid.
inline void add_tones(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        const auto sum = static_cast<std::uint8_t>(out[i] + other[i]);
        out[i] = sum < out[i] ? std::uint8_t(255) : sum; // it has wrapped round
    }
}

inline void take_larger(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = out[i] > other[i] ? out[i] : other[i];
    }
}

inline void take_lesser(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = out[i] < other[i] ? out[i] : other[i];
    }
}

/// The difference, at least bare.
inline void take_off(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = static_cast<std::uint8_t>(out[i] - (out[i] < other[i] ? out[i] : other[i]));
    }
}

/// One times the other, rounded to the nearest: a product of two bytes by 255 without dividing.
/// \param turned  0, or 255 where it is multiplied by what the other leaves
inline void multiply(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count,
                     std::uint8_t turned)
{
    for (std::size_t i = 0; i < count; ++i) {
        const int product = out[i] * (other[i] ^ turned) + 128;
        out[i] = static_cast<std::uint8_t>((product + (product >> 8)) >> 8);
    }
}

/// One times the other.
inline void keep_share(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    multiply(out, other, count, 0);
}

/// One times what the other leaves.
inline void leave_share(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    multiply(out, other, count, 255);
}

/// The other where there is anything.
inline void show_where(std::uint8_t *__restrict out, const std::uint8_t *__restrict other, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = out[i] == 0 ? std::uint8_t(0) : other[i];
    }
}

/// Bare where \p where is.
inline void keep_where(std::uint8_t *__restrict out, const std::uint8_t *__restrict where, std::size_t count)
{
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = where[i] == 0 ? std::uint8_t(0) : out[i];
    }
}

} // namespace bichrom
