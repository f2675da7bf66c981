/// \file
/// What tones between two steps are rounded by.
/// Layer: core/page, private to it.
#pragma once

#include <cstdint>

namespace bichrom {

/// A number from 0 to 255 for each pixel of a page or picture, without any order: what is rounded up when its
/// part of a step and this are more than one step together has no bands, and its mean is exact.
inline std::uint32_t pixel_chance(int x, int y)
{
    std::uint32_t h =
        static_cast<std::uint32_t>(x) * 0x9E3779B1U ^ static_cast<std::uint32_t>(y) * 0x85EBCA77U;
    h ^= h >> 15;
    h *= 0x2C1B3C6DU;
    return h >> 24;
}

/// The same for one of several components, which are rounded each by itself.
inline std::uint32_t chance_of_component(std::uint32_t of_pixel, int component)
{
    return (of_pixel + static_cast<std::uint32_t>(component) * 97) & 255;
}

} // namespace bichrom
