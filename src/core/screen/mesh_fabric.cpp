#include "core/screen/mesh_fabric.h"

#include <array>
#include <utility>

namespace bichrom {

namespace {

// Threads per cm and µm of the thread that is usual for it (common practice, no source).
constexpr std::array<std::pair<double, double>, 17> usual_threads = {{{5, 500},
                                                                      {10, 280},
                                                                      {15, 200},
                                                                      {21, 150},
                                                                      {32, 100},
                                                                      {43, 80},
                                                                      {48, 70},
                                                                      {55, 64},
                                                                      {62, 64},
                                                                      {68, 55},
                                                                      {77, 55},
                                                                      {90, 48},
                                                                      {100, 40},
                                                                      {120, 34},
                                                                      {140, 34},
                                                                      {165, 31},
                                                                      {200, 27}}};
constexpr double weave = 1.62; ///< thickness of the fabric over that of its thread

} // namespace

MeshFabric usual_fabric(double threads)
{
    if (!(threads >= usual_threads.front().first && threads <= usual_threads.back().first)) {
        return {};
    }
    std::size_t above = 1;
    while (usual_threads[above].first < threads) {
        ++above;
    }
    const auto &[n0, d0] = usual_threads[above - 1];
    const auto &[n1, d1] = usual_threads[above];
    MeshFabric fabric;
    fabric.threads = threads;
    fabric.thread_um = d0 + (d1 - d0) * (threads - n0) / (n1 - n0);
    const double pitch = 1e4 / threads; // µm
    fabric.opening_um = pitch - fabric.thread_um;
    fabric.open_share = fabric.opening_um * fabric.opening_um / (pitch * pitch);
    fabric.thickness_um = weave * fabric.thread_um;
    fabric.volume = fabric.open_share * fabric.thickness_um; // 1 µm on a square metre is 1 cm³
    return fabric;
}

} // namespace bichrom
