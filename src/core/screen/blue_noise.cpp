#include "core/screen/blue_noise.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace bichrom {

namespace {

std::int64_t floor_div(std::int64_t a, std::int64_t b)
{
    return a / b - (a % b != 0 && (a < 0) != (b < 0) ? 1 : 0);
}

std::int64_t floor_mod(std::int64_t a, std::int64_t b)
{
    return a - floor_div(a, b) * b;
}

/// g = u·a + v·b, the greatest common divisor.
struct Bezout
{
    std::int64_t g = 0, u = 0, v = 0;
};

Bezout bezout(std::int64_t a, std::int64_t b)
{
    if (b == 0) {
        return {a < 0 ? -a : a, a < 0 ? -1 : 1, 0};
    }
    const Bezout next = bezout(b, a % b);
    return {next.g, next.v, next.u - a / b * next.v};
}

/// How crowded each place is by those that are taken, and which free one is least so, or which taken one
/// most.
class Crowding
{
public:
    Crowding(const RepeatingLattice &lattice, double sigma)
        : m_lattice(lattice), m_count(static_cast<std::size_t>(lattice.width() * lattice.height())),
          m_crowd(m_count, 0.0F), m_taken(m_count, 0), m_blocks((m_count + block - 1) / block)
    {
        for (int y = -reach; y <= reach; ++y) {
            for (int x = -reach; x <= reach; ++x) {
                m_kernel.push_back(static_cast<float>(std::exp(-(x * x + y * y) / (2 * sigma * sigma))));
            }
        }
        for (Block &one : m_blocks) {
            one.stale = true;
        }
    }

    [[nodiscard]] std::size_t count() const { return m_count; }
    [[nodiscard]] bool taken(std::size_t place) const { return m_taken[place] != 0; }

    void take(std::size_t place) { change(place, true); }
    void free(std::size_t place) { change(place, false); }

    /// The free place with most room; count() when there is none.
    [[nodiscard]] std::size_t loneliest()
    {
        refresh();
        const auto best = std::min_element(m_blocks.begin(), m_blocks.end(),
                                           [](const Block &a, const Block &b) { return a.least < b.least; });
        return best->least_at;
    }
    /// The taken place that is most crowded; count() when there is none.
    [[nodiscard]] std::size_t tightest()
    {
        refresh();
        const auto best = std::max_element(m_blocks.begin(), m_blocks.end(),
                                           [](const Block &a, const Block &b) { return a.most < b.most; });
        return best->most_at;
    }

private:
    static constexpr int reach = 6;
    static constexpr std::size_t block = 128;

    struct Block
    {
        float least = 0, most = 0; ///< of free places, of taken ones
        std::size_t least_at = 0, most_at = 0;
        bool stale = false;
    };

    void change(std::size_t place, bool take)
    {
        m_taken[place] = take ? 1 : 0;
        m_blocks[place / block].stale = true;
        const float sign = take ? 1.0F : -1.0F;
        const auto width = m_lattice.width();
        const std::int64_t px = static_cast<std::int64_t>(place) % width;
        const std::int64_t py = static_cast<std::int64_t>(place) / width;
        std::size_t weight = 0;
        for (std::int64_t y = py - reach; y <= py + reach; ++y) {
            const std::int64_t row = floor_mod(y, m_lattice.height());
            std::int64_t column = floor_mod(px - reach - m_lattice.shift(y), width);
            const std::int64_t base = row * width;
            for (int x = -reach; x <= reach; ++x, ++weight) {
                const auto at = static_cast<std::size_t>(base + column);
                m_crowd[at] += sign * m_kernel[weight];
                m_blocks[at / block].stale = true;
                if (++column == width) {
                    column = 0;
                }
            }
        }
    }

    void refresh()
    {
        for (std::size_t i = 0; i < m_blocks.size(); ++i) {
            Block &one = m_blocks[i];
            if (!one.stale) {
                continue;
            }
            one = {1e30F, -1e30F, m_count, m_count, false};
            for (std::size_t at = i * block; at < std::min(m_count, (i + 1) * block); ++at) {
                const float crowd = m_crowd[at];
                if (m_taken[at] == 0 && crowd < one.least) {
                    one.least = crowd;
                    one.least_at = at;
                } else if (m_taken[at] != 0 && crowd > one.most) {
                    one.most = crowd;
                    one.most_at = at;
                }
            }
        }
    }

    const RepeatingLattice &m_lattice;
    std::size_t m_count;
    std::vector<float> m_crowd;
    std::vector<std::uint8_t> m_taken;
    std::vector<Block> m_blocks;
    std::vector<float> m_kernel;
};

} // namespace

RepeatingLattice::RepeatingLattice(LatticeStep step)
{
    // The multiples of a + bi are all places that whole multiples of (width, 0) and (slip, height) reach.
    const Bezout found = bezout(step.y, step.x);
    m_height = found.g;
    m_width = step.norm() / found.g;
    m_slip = found.u * step.x - found.v * step.y;
}

std::int64_t RepeatingLattice::shift(std::int64_t y) const
{
    return floor_mod(m_slip * floor_div(y, m_height), m_width);
}

std::int64_t RepeatingLattice::number(std::int64_t x, std::int64_t y) const
{
    return floor_mod(y, m_height) * m_width + floor_mod(x - shift(y), m_width);
}

std::vector<std::uint32_t> void_and_cluster(const RepeatingLattice &lattice, double sigma)
{
    Crowding first(lattice, sigma);
    const std::size_t count = first.count();
    std::vector<std::uint32_t> ranks(count, 0);
    // A tenth of the places, by chance, then moved from clusters into voids until nothing moves any more.
    const std::size_t start = std::max<std::size_t>(1, count / 10);
    std::mt19937 random(20261128);
    for (std::size_t i = 0; i < start; ++i) {
        std::size_t place = random() % count;
        while (first.taken(place)) {
            place = (place + 1) % count;
        }
        first.take(place);
    }
    for (std::size_t moves = 0; moves < 4 * count; ++moves) {
        const std::size_t from = first.tightest();
        first.free(from);
        const std::size_t to = first.loneliest();
        first.take(to);
        if (to == from) {
            break;
        }
    }
    Crowding rest = first;
    for (std::size_t i = start; i-- > 0;) {
        const std::size_t place = rest.tightest();
        ranks[place] = static_cast<std::uint32_t>(i);
        rest.free(place);
    }
    for (std::size_t i = start; i < count; ++i) {
        const std::size_t place = first.loneliest();
        ranks[place] = static_cast<std::uint32_t>(i);
        first.take(place);
    }
    return ranks;
}

} // namespace bichrom
