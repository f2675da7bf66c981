#include "core/raster/patches.h"

#include <algorithm>
#include <utility>

namespace bichrom {

std::vector<Patch> find_patches(const Plane &plane, int least)
{
    std::vector<Patch> patches;
    std::vector<bool> seen(static_cast<std::size_t>(plane.width) * static_cast<std::size_t>(plane.height));
    std::vector<std::pair<int, int>> open;
    const auto place = [&](int x, int y) {
        return static_cast<std::size_t>(y) * static_cast<std::size_t>(plane.width) +
               static_cast<std::size_t>(x);
    };
    for (int y = 0; y < plane.height; ++y) {
        for (int x = 0; x < plane.width; ++x) {
            if (plane.at(x, y) < least || seen[place(x, y)]) {
                continue;
            }
            Patch patch{x, y, x, y, 0, 0, x, y};
            open = {{x, y}};
            seen[place(x, y)] = true;
            while (!open.empty()) {
                const auto [px, py] = open.back();
                open.pop_back();
                patch.left = std::min(patch.left, px);
                patch.right = std::max(patch.right, px);
                patch.top = std::min(patch.top, py);
                patch.bottom = std::max(patch.bottom, py);
                ++patch.pixels;
                patch.cover += plane.at(px, py) / 255.0;
                for (int dy = -1; dy <= 1; ++dy) {
                    for (int dx = -1; dx <= 1; ++dx) {
                        const int nx = px + dx;
                        const int ny = py + dy;
                        if (nx >= 0 && ny >= 0 && nx < plane.width && ny < plane.height &&
                            plane.at(nx, ny) >= least && !seen[place(nx, ny)]) {
                            seen[place(nx, ny)] = true;
                            open.emplace_back(nx, ny);
                        }
                    }
                }
            }
            patches.push_back(patch);
        }
    }
    return patches;
}

} // namespace bichrom
