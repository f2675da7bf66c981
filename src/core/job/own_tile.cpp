#include "core/job/own_tile.h"

#include <algorithm>
#include <numeric>

namespace bichrom {

namespace {

Error no_such_tile(const std::string &name, const std::string &why)
{
    return {ErrorCode::OutOfRange, why, name,
            "Use a grey picture of 2 to " + std::to_string(OwnTile::largest) +
                " pixels a side whose values differ: what is darker takes ink first."};
}

} // namespace

Outcome<OwnTile> OwnTile::make(std::string name, int side, std::vector<std::uint16_t> thresholds)
{
    if (side < 2 || side > largest ||
        thresholds.size() != static_cast<std::size_t>(side) * static_cast<std::size_t>(side)) {
        return no_such_tile(name, "A tile of thresholds cannot have this size.");
    }
    auto held = std::make_shared<Held>();
    held->name = std::move(name);
    held->side = side;
    held->thresholds = std::move(thresholds);
    std::vector<std::uint16_t> sorted = held->thresholds;
    std::sort(sorted.begin(), sorted.end());
    held->tones = 1 + static_cast<int>(std::unique(sorted.begin(), sorted.end()) - sorted.begin());
    OwnTile tile;
    tile.m_held = std::move(held);
    return tile;
}

Outcome<OwnTile> OwnTile::ranked(std::string name, int width, int height,
                                 std::span<const std::uint16_t> values)
{
    if (width < 1 || height < 1 || width > largest || height > largest ||
        values.size() != static_cast<std::size_t>(width) * static_cast<std::size_t>(height)) {
        return no_such_tile(name, "A picture of " + std::to_string(width) + " × " + std::to_string(height) +
                                      " pixels is no tile of thresholds.");
    }
    const int side = std::lcm(width, height);
    if (side > largest || side < 2) {
        return no_such_tile(name, "A tile of " + std::to_string(width) + " × " + std::to_string(height) +
                                      " pixels fits into no square of " + std::to_string(largest) + ".");
    }
    constexpr std::size_t steps = 65536;
    std::vector<std::size_t> below(steps + 1, 0); // places whose value is smaller
    for (const std::uint16_t value : values) {
        ++below[std::size_t(value) + 1];
    }
    if (std::count(below.begin(), below.end(), std::size_t(0)) == static_cast<std::ptrdiff_t>(steps)) {
        return no_such_tile(name, "All of the picture has one value: nothing says what takes ink first.");
    }
    std::partial_sum(below.begin(), below.end(), below.begin());
    std::vector<std::uint16_t> thresholds;
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            const std::size_t value =
                values[static_cast<std::size_t>(y % height) * static_cast<std::size_t>(width) +
                       static_cast<std::size_t>(x % width)];
            // Places of one value take ink where the tone passes the middle of their share.
            thresholds.push_back(static_cast<std::uint16_t>(
                std::min(steps - 1, (below[value] + below[value + 1]) * steps / (2 * values.size()))));
        }
    }
    return make(std::move(name), side, std::move(thresholds));
}

const std::string &OwnTile::name() const
{
    static const std::string none;
    return m_held == nullptr ? none : m_held->name;
}

int OwnTile::side() const
{
    return m_held == nullptr ? 0 : m_held->side;
}

std::span<const std::uint16_t> OwnTile::thresholds() const
{
    return m_held == nullptr ? std::span<const std::uint16_t>() : std::span(m_held->thresholds);
}

int OwnTile::tones() const
{
    return m_held == nullptr ? 0 : m_held->tones;
}

bool operator==(const OwnTile &a, const OwnTile &b)
{
    return a.m_held == b.m_held ||
           (a.m_held != nullptr && b.m_held != nullptr && a.m_held->name == b.m_held->name &&
            a.m_held->thresholds == b.m_held->thresholds);
}

} // namespace bichrom
