// Highway compiles this file once for each instruction set; see its quick reference.
#undef HWY_TARGET_INCLUDE
#define HWY_TARGET_INCLUDE "core/screen/halftone_kernel.cpp"
#pragma GCC diagnostic push
#pragma GCC diagnostic ignored "-Wconversion"
#pragma GCC diagnostic ignored "-Wold-style-cast"
#pragma GCC diagnostic ignored "-Wshadow"
#pragma GCC diagnostic ignored "-Wpedantic"
#include <hwy/foreach_target.h>
#include <hwy/highway.h>

#include "core/screen/halftone_kernel.h"

#include <cstring>

HWY_BEFORE_NAMESPACE();
namespace bichrom {
namespace HWY_NAMESPACE {

namespace hn = hwy::HWY_NAMESPACE;

void screen_words_target(const ScreenRow &row, const std::uint8_t *tones, int words, std::uint8_t *bits)
{
    // Locals, since stores through byte pointers might otherwise change the row.
    const ScreenRow r = row;
    const hn::CappedTag<std::int32_t, 16> d;
    const hn::RebindToUnsigned<decltype(d)> du;
    const hn::Rebind<std::uint8_t, decltype(d)> db;
    const int lanes = static_cast<int>(hn::Lanes(d));
    const auto lane = hn::Iota(du, 0);
    const auto base_u = hn::Mul(lane, hn::Set(du, r.du));
    const auto base_v = hn::Mul(lane, hn::Set(du, r.dv));
    const auto low_byte = hn::Set(d, 0xFF);
    const auto high_u = hn::Set(du, 0xFF00u);
    const auto *cell = reinterpret_cast<const std::int32_t *>(r.cell);

    for (int word = 0; word < words; ++word) {
        const std::uint8_t *in = tones + word * 64;
        std::uint64_t chunk[8];
        std::memcpy(chunk, in, 64);
        const std::uint64_t any =
            chunk[0] | chunk[1] | chunk[2] | chunk[3] | chunk[4] | chunk[5] | chunk[6] | chunk[7];
        std::uint64_t packed = 0;
        if (any != 0) {
            const std::uint64_t every =
                chunk[0] & chunk[1] & chunk[2] & chunk[3] & chunk[4] & chunk[5] & chunk[6] & chunk[7];
            if (every == ~std::uint64_t(0)) {
                packed = ~std::uint64_t(0);
            } else {
                const std::uint32_t first = static_cast<std::uint32_t>(word) * 64u;
                for (int i = 0; i < 64; i += lanes) {
                    const std::uint32_t at = first + static_cast<std::uint32_t>(i);
                    const auto u = hn::Add(base_u, hn::Set(du, r.u + at * r.du));
                    const auto v = hn::Add(base_v, hn::Set(du, r.v + at * r.dv));
                    const auto index = hn::Or(hn::And(hn::ShiftRight<16>(v), high_u), hn::ShiftRight<24>(u));
                    const auto found = hn::And(hn::GatherOffset(d, cell, hn::BitCast(d, index)), low_byte);
                    const auto tone = hn::PromoteTo(d, hn::LoadU(db, in + i));
                    const auto ink = hn::Gt(tone, found);
                    std::uint8_t mask[8] = {};
                    hn::StoreMaskBits(d, ink, mask);
                    std::uint64_t group = 0;
                    std::memcpy(&group, mask, 8);
                    packed |= (group & ((std::uint64_t(1) << lanes) - 1)) << i;
                }
                // Lane order is lowest bit first; film order is highest bit first in each byte.
                packed = ((packed >> 1) & 0x5555555555555555u) | ((packed & 0x5555555555555555u) << 1);
                packed = ((packed >> 2) & 0x3333333333333333u) | ((packed & 0x3333333333333333u) << 2);
                packed = ((packed >> 4) & 0x0F0F0F0F0F0F0F0Fu) | ((packed & 0x0F0F0F0F0F0F0F0Fu) << 4);
            }
        }
        std::memcpy(bits + word * 8, &packed, 8);
    }
}

} // namespace HWY_NAMESPACE
} // namespace bichrom
HWY_AFTER_NAMESPACE();

#if HWY_ONCE
namespace bichrom {

HWY_EXPORT(screen_words_target);

void screen_words(const ScreenRow &row, const std::uint8_t *tones, int words, std::uint8_t *bits)
{
    HWY_DYNAMIC_DISPATCH(screen_words_target)(row, tones, words, bits);
}

} // namespace bichrom
#endif
#pragma GCC diagnostic pop
