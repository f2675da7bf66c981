/// \file
/// Planes of runs made by chance, and from pixels.
#pragma once

#include "core/raster/run_join.h"

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

/// \p plane with what is flat as runs of one tone.
inline std::shared_ptr<const RunPlane> as_runs(const Plane &plane)
{
    const auto kept = std::make_shared<const Plane>(plane);
    auto runs = std::make_shared<RunPlane>(plane.width, plane.height);
    for (int y = 0; y < plane.height; ++y) {
        add_pixels(*runs, 0, kept->row(y).data(), plane.width);
        runs->end_row();
    }
    runs->keep(kept);
    return runs;
}

} // namespace bichrom::test
