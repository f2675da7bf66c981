// Highway compiles this file once for each instruction set; see its quick reference.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/raster/count_bits.cpp"
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wold-style-cast"
#pragma GCC diagnostic ignored "-Wshadow"
#pragma GCC diagnostic ignored "-Wpedantic"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/raster/count_bits.h"

#include <bit>
#include <cstring>

HWY_BEFORE_NAMESPACE();
namespace bichrom {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void add_bit_counts_target(const std::uint8_t *row, int words, std::uint64_t *counts)
{
    const hn::ScalableTag<std::uint64_t> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    int i = 0;
    for (; i + lanes <= words; i += lanes) {
        const auto held = hn::PopulationCount(hn::LoadU(d, reinterpret_cast<const std::uint64_t *>(row) + i));
        hn::StoreU(hn::Add(hn::LoadU(d, counts + i), held), d, counts + i);
    }
    for (; i < words; ++i) {
        std::uint64_t word = 0;
        std::memcpy(&word, row + i * 8, 8);
        counts[i] += static_cast<std::uint64_t>(std::popcount(word));
    }
}

} // namespace HWY_NAMESPACE
} // namespace bichrom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace bichrom {

HWY_EXPORT(add_bit_counts_target);

void add_bit_counts(const std::uint8_t *row, int words, std::uint64_t *counts)
{
    HWY_DYNAMIC_DISPATCH(add_bit_counts_target)(row, words, counts);
}

} // namespace bichrom
#endif
#pragma GCC diagnostic pop
