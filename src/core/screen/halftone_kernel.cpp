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
    const hn::CappedTag<std::uint8_t, 64> d;
    const int lanes = static_cast<int>(hn::Lanes(d));
    // Lane order is lowest bit first; film order is highest bit first in each byte.
    alignas(64) static constexpr std::uint8_t backwards[64] = {
        7,  6,  5,  4,  3,  2,  1,  0,  15, 14, 13, 12, 11, 10, 9,  8,  7,  6,  5,  4,  3,  2,
        1,  0,  15, 14, 13, 12, 11, 10, 9,  8,  7,  6,  5,  4,  3,  2,  1,  0,  15, 14, 13, 12,
        11, 10, 9,  8,  7,  6,  5,  4,  3,  2,  1,  0,  15, 14, 13, 12, 11, 10, 9,  8};
    const auto turned = hn::LoadU(d, backwards);
    const std::uint8_t *const thresholds = row.thresholds;
    const int width = row.width;
    int column = row.column;
    for (int word = 0; word < words; ++word) {
        const std::uint8_t *in = tones + word * 64;
        const std::uint8_t *levels = thresholds + column;
        std::uint8_t out[64]; // eight are used; a mask may be stored wider than it is
        for (int i = 0; i < 64; i += lanes) {
            const auto ink = hn::Gt(hn::LoadU(d, in + i), hn::LoadU(d, levels + i));
            const auto film = hn::TableLookupBytes(hn::VecFromMask(d, ink), turned);
            hn::StoreMaskBits(d, hn::MaskFromVec(film), out + i / 8);
        }
        std::memcpy(bits + word * 8, out, 8);
        column += 64;
        column -= column >= width ? width : 0;
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
