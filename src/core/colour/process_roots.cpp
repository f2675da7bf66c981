#include "core/colour/process_roots.h"

#include "core/colour/process_profile.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <utility>

namespace bichrom {

ProcessRoots::ProcessRoots(const ProcessProfile &condition)
    : ProcessRoots([&](const Cmyk &cmyk) { return condition.to_lab(cmyk); })
{
}

ProcessRoots::ProcessRoots(const std::function<Lab(const Cmyk &)> &colour)
    : m_nodes(std::size_t(nodes) * nodes * nodes * nodes)
{
    const auto tone = [](int node) { return static_cast<float>(node) / (nodes - 1); };
    oneapi::tbb::parallel_for(0, nodes * nodes, [&](int plane) {
        auto *out = m_nodes.data() + std::size_t(plane) * nodes * nodes;
        for (int y = 0; y < nodes; ++y) {
            for (int k = 0; k < nodes; ++k, ++out) {
                const Bands bands =
                    reconstruct(colour({tone(plane / nodes), tone(plane % nodes), tone(y), tone(k)})).bands;
                for (std::size_t band = 0; band < band_count; ++band) {
                    (*out)[band] = static_cast<float>(std::sqrt(bands[band]));
                }
            }
        }
    });
}

template <class Real>
std::array<Real, band_count> ProcessRoots::between(const std::array<Real, 4> &tones,
                                                   std::array<Bands, 4> *slopes) const
{
    static constexpr int strides[4] = {nodes * nodes * nodes, nodes * nodes, nodes, 1};
    struct Axis
    {
        Real share; ///< of a cell
        int stride;
        std::size_t ink;
    };
    std::array<Axis, 4> axes;
    int at = 0;
    for (std::size_t c = 0; c < 4; ++c) {
        const Real place = std::clamp(tones[c], Real(0), Real(1)) * Real(nodes - 1);
        const int cell = std::min(static_cast<int>(place), nodes - 2);
        at += cell * strides[c];
        axes[c] = {place - static_cast<Real>(cell), strides[c], c};
    }
    // From corner to corner of the simplex that holds the point, the longest way first.
    const auto order = [&](std::size_t a, std::size_t b) {
        if (axes[a].share < axes[b].share) {
            std::swap(axes[a], axes[b]);
        }
    };
    order(0, 1);
    order(2, 3);
    order(0, 2);
    order(1, 3);
    order(1, 2);
    std::array<Real, band_count> sum{};
    Real above = 1;
    for (std::size_t step = 0; step <= 4; ++step) {
        const Real share = step < 4 ? axes[step].share : Real(0);
        const auto &node = m_nodes[static_cast<std::size_t>(at)];
        for (std::size_t band = 0; band < band_count; ++band) {
            sum[band] += (above - share) * static_cast<Real>(node[band]);
        }
        if (step == 4 || (share <= Real(0) && slopes == nullptr)) {
            break;
        }
        at += axes[step].stride;
        above = share;
        for (std::size_t band = 0; band < band_count && slopes != nullptr; ++band) {
            (*slopes)[axes[step].ink][band] =
                static_cast<double>(m_nodes[static_cast<std::size_t>(at)][band] - node[band]) * (nodes - 1);
        }
    }
    return sum;
}

Bands ProcessRoots::at(const Cmyk &cmyk) const
{
    return between(std::array<double, 4>{static_cast<double>(cmyk[0]), static_cast<double>(cmyk[1]),
                                         static_cast<double>(cmyk[2]), static_cast<double>(cmyk[3])});
}

Bands ProcessRoots::at(const std::array<double, 4> &tones, std::array<Bands, 4> &slopes) const
{
    return between(tones, &slopes);
}

void ProcessRoots::convert(const std::uint8_t *cmyk, float *roots, std::size_t count) const
{
    for (std::size_t i = 0; i < count; ++i, cmyk += 4, roots += band_count) {
        if (i > 0 && std::memcmp(cmyk, cmyk - 4, 4) == 0) { // flat artwork repeats itself
            std::copy(roots - band_count, roots, roots);
            continue;
        }
        std::array<float, 4> tones;
        for (std::size_t c = 0; c < 4; ++c) {
            tones[c] = static_cast<float>(cmyk[c]) / 255.0f;
        }
        const auto made = between(tones);
        std::copy(made.begin(), made.end(), roots);
    }
}

} // namespace bichrom
