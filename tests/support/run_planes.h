/// \file
/// Planes of runs made by chance.
#pragma once

#include "core/raster/run_plane.h"

#include <algorithm>
#include <memory>
#include <random>
#include <vector>

namespace bichrom::test {

/// A row of bare, flat and uneven stretches; sometimes with nothing in it.
inline std::shared_ptr<const RunPlane> random_row(int width, std::mt19937 &random)
{
    auto row = std::make_shared<RunPlane>(width, 1);
    const auto tones = std::make_shared<std::vector<std::uint8_t>>(static_cast<std::size_t>(width));
    for (std::uint8_t &tone : *tones) {
        tone = static_cast<std::uint8_t>(random());
    }
    const bool any = random() % 8 != 0;
    for (int x = 0; x < width && any;) {
        const int end = std::min(width, x + 1 + static_cast<int>(random() % 30));
        const auto kind = random() % 4;
        if (kind == 1) {
            row->add({x, end, static_cast<std::uint8_t>(random() % 3 == 0 ? 255 : random() % 256), nullptr});
        } else if (kind > 1) {
            row->add({x, end, 0, tones->data() + x});
        }
        x = end;
    }
    row->end_row();
    row->keep(tones);
    return row;
}

} // namespace bichrom::test
