/// \file
/// Pixels of one plate: 8-bit tones and 1-bit film.
/// Layer: core/raster.
#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// 8-bit tones, 0 = bare, 255 = solid ink; rows top down without padding.
struct Plane
{
    int width = 0;
    int height = 0;
    std::vector<std::uint8_t> pixels;

    Plane() = default;
    Plane(int columns, int rows, std::uint8_t fill = 0)
        : width(columns), height(rows),
          pixels(static_cast<std::size_t>(columns) * static_cast<std::size_t>(rows), fill)
    {
    }
    [[nodiscard]] std::span<std::uint8_t> row(int y)
    {
        return {pixels.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(width),
                static_cast<std::size_t>(width)};
    }
    [[nodiscard]] std::span<const std::uint8_t> row(int y) const
    {
        return {pixels.data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(width),
                static_cast<std::size_t>(width)};
    }
    [[nodiscard]] std::uint8_t at(int x, int y) const { return row(y)[static_cast<std::size_t>(x)]; }
    friend bool operator==(const Plane &, const Plane &) = default;
};

/// 1-bit film pixels, 1 = ink, the leftmost pixel in the highest bit of each byte.
/// Rows are padded to 8 bytes; padding bits are 0.
struct Bitmap
{
    int width = 0;
    int height = 0;
    std::size_t stride = 0; ///< bytes from row to row, a multiple of 8
    std::vector<std::uint8_t> bytes;

    Bitmap() = default;
    Bitmap(int columns, int rows)
        : width(columns), height(rows), stride((static_cast<std::size_t>(columns) + 63) / 64 * 8),
          bytes(stride * static_cast<std::size_t>(rows), 0)
    {
    }
    [[nodiscard]] std::uint8_t *row(int y) { return bytes.data() + stride * static_cast<std::size_t>(y); }
    [[nodiscard]] const std::uint8_t *row(int y) const
    {
        return bytes.data() + stride * static_cast<std::size_t>(y);
    }
    [[nodiscard]] bool at(int x, int y) const { return ((row(y)[x / 8] >> (7 - x % 8)) & 1) != 0; }
    friend bool operator==(const Bitmap &, const Bitmap &) = default;
};

} // namespace bichrom
