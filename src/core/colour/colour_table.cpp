#include "core/colour/colour_table.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int last = ColourTable::nodes - 1;
constexpr std::array<std::size_t, 3> strides = {std::size_t(ColourTable::nodes) * ColourTable::nodes,
                                                ColourTable::nodes, 1};

/// Where a byte lies between two nodes: the lower one, and the share of the way to the next in 1/255 of it.
struct Place
{
    std::size_t node;
    int share;
};

const std::array<Place, 256> &places()
{
    static const std::array<Place, 256> table = [] {
        std::array<Place, 256> made{};
        for (int value = 0; value < 256; ++value) {
            const int node = std::min(value * last / 255, last - 1);
            made[static_cast<std::size_t>(value)] = {static_cast<std::size_t>(node),
                                                     value * last - node * 255};
        }
        return made;
    }();
    return table;
}

/// The corners of the tetrahedron that holds a point with these shares, and their weights: from the lowest
/// corner along the axes, the largest share first (Kasson, Plouffe & Nin 1993).
struct Tetrahedron
{
    std::array<std::size_t, 4> corner;
    std::array<int, 4> weight; ///< adding up to 255
};

Tetrahedron tetrahedron(std::size_t base, const std::array<int, 3> &share)
{
    std::array<std::size_t, 3> order = {0, 1, 2};
    if (share[order[0]] < share[order[1]]) {
        std::swap(order[0], order[1]);
    }
    if (share[order[1]] < share[order[2]]) {
        std::swap(order[1], order[2]);
    }
    if (share[order[0]] < share[order[1]]) {
        std::swap(order[0], order[1]);
    }
    Tetrahedron t{};
    t.corner[0] = base;
    t.weight[0] = 255 - share[order[0]];
    for (std::size_t i = 0; i < 3; ++i) {
        t.corner[i + 1] = t.corner[i] + strides[order[i]];
        t.weight[i + 1] = share[order[i]] - (i < 2 ? share[order[i + 1]] : 0);
    }
    return t;
}

} // namespace

ColourTable::ColourTable(std::size_t inks, const std::vector<Tones> &tones)
    : m_inks(std::min(inks, most_inks)), m_nodes(tones.size())
{
    for (std::size_t i = 0; i < tones.size(); ++i) {
        for (std::size_t k = 0; k < m_inks; ++k) {
            m_nodes[i][k] = static_cast<std::uint16_t>(
                std::lround(std::clamp(static_cast<double>(tones[i][k]), 0.0, 1.0) * 65535.0));
        }
    }
}

void ColourTable::convert(const std::uint8_t *rgb, std::uint8_t *tones, std::size_t pixels) const
{
    const std::array<Place, 256> &place = places();
    for (std::size_t i = 0; i < pixels; ++i, rgb += 3, tones += m_inks) {
        const Place &r = place[rgb[0]];
        const Place &g = place[rgb[1]];
        const Place &b = place[rgb[2]];
        const Tetrahedron t =
            tetrahedron(r.node * strides[0] + g.node * strides[1] + b.node, {r.share, g.share, b.share});
        for (std::size_t k = 0; k < m_inks; ++k) {
            std::uint32_t sum = 0;
            for (std::size_t c = 0; c < 4; ++c) {
                sum += static_cast<std::uint32_t>(t.weight[c]) * m_nodes[t.corner[c]][k];
            }
            tones[k] = static_cast<std::uint8_t>((sum + 32768) / 65535); // 255 × 65535 at most
        }
    }
}

ColourTable::Tones ColourTable::at(const std::array<double, 3> &rgb) const
{
    Tones out{};
    std::array<double, 3> share{};
    std::size_t base = 0;
    for (std::size_t i = 0; i < 3; ++i) {
        const double at = std::clamp(rgb[i], 0.0, 1.0) * last;
        const double node = std::min(std::floor(at), static_cast<double>(last - 1));
        base += static_cast<std::size_t>(node) * strides[i];
        share[i] = at - node;
    }
    std::array<std::size_t, 3> order = {0, 1, 2};
    std::sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return share[a] > share[b]; });
    std::size_t corner = base;
    double before = 1;
    for (std::size_t i = 0; i < 4; ++i) {
        const double next = i < 3 ? share[order[i]] : 0.0;
        for (std::size_t k = 0; k < m_inks; ++k) {
            out[k] += static_cast<float>((before - next) * m_nodes[corner][k] / 65535.0);
        }
        before = next;
        if (i < 3) {
            corner += strides[order[i]];
        }
    }
    return out;
}

} // namespace bichrom
