#include "core/screen/threshold_tile.h"

#include "core/screen/tile_store.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <complex>
#include <deque>
#include <mutex>
#include <numbers>
#include <numeric>
#include <string>

namespace bichrom {

namespace {

/// Where the dot's centre stands in its cell: off every simple fraction, so that where cells are a whole
/// number of pixels no two pixels are equally far from it.
constexpr double centre_u = 0.4127;
constexpr double centre_v = 0.5389;

/// Order in which the places of a dot take ink; smaller is earlier. u, v from −0.5 to 0.5.
double growth(const Screen &screen, double u, double v)
{
    constexpr double turn = 2 * std::numbers::pi;
    switch (screen.dot) {
    case DotShape::Round:
        break;
    case DotShape::Square:
        return 1 - (std::cos(turn * u) + std::cos(turn * v)) / 2;
    case DotShape::Ellipse:
        return 1 - ((1 - screen.chain) * std::cos(turn * u) + (1 + screen.chain) * std::cos(turn * v)) / 2;
    case DotShape::Diamond:
        return std::fabs(u) + std::fabs(v);
    case DotShape::Line:
        return std::fabs(v) + 1e-3 * u * u; // along the line from its middle outwards
    }
    return u * u + v * v;
}

struct Fraction
{
    LatticeStep p, q;
};

/// The fraction p/q nearest to \p vector: the smallest that is right to a few thousandths of an lpi, else the
/// best that is not too large.
Fraction nearest_fraction(std::complex<double> vector, double dpi, bool on_axis)
{
    const double enough = 0.003 / dpi;
    constexpr std::int64_t most_cells = 1 << 14, least_places = 1 << 16;
    const std::int64_t most_places = on_axis ? 1 << 22 : 1 << 20;
    Fraction best;
    double best_error = 1e9;
    std::int64_t best_norm = 0;
    const auto side = static_cast<std::int64_t>(std::sqrt(static_cast<double>(most_places)));
    const auto off_a_whole = [](double x) { // of a few millions at most
        return x - static_cast<double>(static_cast<std::int64_t>(x + (x < 0 ? -0.5 : 0.5)));
    };
    for (std::int64_t a = 1; a <= side; ++a) {
        // Turns by right angles change nothing: the first quadrant is enough.
        for (std::int64_t b = 0; a * a + b * b <= most_places; ++b) {
            const std::int64_t norm = a * a + b * b;
            if (best_error <= enough && norm >= best_norm) {
                continue;
            }
            // Nearly all of a million are too far off, which is seen without a root.
            const double x = vector.real() * static_cast<double>(a) - vector.imag() * static_cast<double>(b);
            const double y = vector.real() * static_cast<double>(b) + vector.imag() * static_cast<double>(a);
            const double off_x = off_a_whole(x), off_y = off_a_whole(y);
            const double wanted = 1.001 * std::max(enough, best_error);
            if (off_x * off_x + off_y * off_y > wanted * wanted * static_cast<double>(norm)) {
                continue;
            }
            const LatticeStep p{std::llround(x), std::llround(y)};
            if (p.norm() == 0 || p.norm() > most_cells) {
                continue;
            }
            const double off = std::hypot(off_x, off_y);
            const double error = off / std::sqrt(static_cast<double>(norm));
            const bool better = best_error <= enough ? error <= enough && norm < best_norm
                                                     : error <= enough || error < best_error;
            if (better) {
                best = {p, {a, b}};
                best_error = error;
                best_norm = norm;
            }
        }
    }
    std::int64_t times = 1;
    while (best_norm * times * times < least_places) {
        ++times;
    }
    for (LatticeStep *one : {&best.p, &best.q}) {
        one->x *= times;
        one->y *= times;
    }
    return best;
}

/// Ranks of \p order, smallest first, as thresholds of 16 bits.
/// \param together  alike ones have one threshold, so that they come all at once
std::vector<std::uint16_t> as_thresholds(const std::vector<float> &order, bool together)
{
    // By the bits of the numbers, which are positive: sixteen at a time.
    const std::size_t count = order.size();
    std::vector<std::uint32_t> places(count), other(count);
    std::iota(places.begin(), places.end(), 0U);
    const auto bits = [&](std::uint32_t place) {
        std::uint32_t word = 0;
        static_assert(sizeof word == sizeof(float));
        std::copy_n(reinterpret_cast<const char *>(&order[place]), sizeof word,
                    reinterpret_cast<char *>(&word));
        return word;
    };
    for (const int shift : {0, 16}) {
        std::vector<std::uint32_t> first(65537, 0);
        for (const std::uint32_t place : places) {
            ++first[((bits(place) >> shift) & 0xFFFF) + 1];
        }
        std::partial_sum(first.begin(), first.end(), first.begin());
        for (const std::uint32_t place : places) {
            other[first[(bits(place) >> shift) & 0xFFFF]++] = place;
        }
        places.swap(other);
    }
    std::vector<std::uint16_t> thresholds(count);
    for (std::size_t rank = 0, first = 0; rank < count; ++rank) {
        first = together && rank > 0 && order[places[rank]] == order[places[rank - 1]] ? first : rank;
        thresholds[places[rank]] = static_cast<std::uint16_t>(first * 65536 / count);
    }
    return thresholds;
}

/// The places of the tile, each with the dot or hole it belongs to and how early it grows there; by cell.
class Cells
{
public:
    explicit Cells(std::size_t cells) : m_first(cells + 1, 0) {}

    /// \param cell  by place; \param grows  the same
    void sort(const std::vector<std::uint32_t> &cell, const std::vector<float> &grows)
    {
        for (const std::uint32_t one : cell) {
            ++m_first[one + 1];
        }
        std::partial_sum(m_first.begin(), m_first.end(), m_first.begin());
        std::vector<std::uint32_t> next(m_first.begin(), m_first.end() - 1);
        m_places.resize(cell.size());
        for (std::uint32_t place = 0; place < cell.size(); ++place) {
            m_places[next[cell[place]]++] = {grows[place], place};
        }
        oneapi::tbb::parallel_for(std::size_t(0), m_first.size() - 1, [&](std::size_t one) {
            std::sort(m_places.begin() + m_first[one], m_places.begin() + m_first[one + 1]);
        });
    }
    /// Calls \p take(cell, k, place) for the k-th place of each cell.
    template <class Take> void each(const Take &take) const
    {
        for (std::size_t one = 0; one + 1 < m_first.size(); ++one) {
            for (std::uint32_t i = m_first[one]; i < m_first[one + 1]; ++i) {
                take(one, i - m_first[one], m_places[i].second);
            }
        }
    }

private:
    std::vector<std::uint32_t> m_first; ///< by cell
    std::vector<std::pair<float, std::uint32_t>> m_places;
};

double smoothstep(double low, double high, double x)
{
    const double t = std::clamp((x - low) / (high - low), 0.0, 1.0);
    return t * t * (3 - 2 * t);
}

std::string key_text(const Screen &screen, const Fraction &vector)
{
    std::string key = std::string(to_string(screen.kind)) + " " + to_string(screen.dot) + " " +
                      std::to_string(screen.chain) + " " + std::to_string(screen.least_dot);
    for (const LatticeStep &one : {vector.p, vector.q}) {
        key += " " + std::to_string(one.x) + " " + std::to_string(one.y);
    }
    return key;
}

/// The thresholds of dots on the lattice whose vector is \p fraction.
std::vector<std::uint16_t> dot_thresholds(const Screen &screen, const Fraction &fraction,
                                          const RepeatingLattice &lattice)
{
    const auto &[p, q] = fraction;

    const RepeatingLattice cell_lattice(p);
    const auto count = static_cast<std::size_t>(q.norm());
    const auto cells = static_cast<std::size_t>(p.norm());
    const double per_cell = static_cast<double>(count) / static_cast<double>(cells); // places, on average
    const std::vector<std::uint32_t> ranks = void_and_cluster(cell_lattice);

    // p/q · (x + iy) = p · conj(q) · (x + iy) / |q|², all of it whole numbers.
    const LatticeStep step{p.x * q.x + p.y * q.y, p.y * q.x - p.x * q.y};
    const auto norm = static_cast<double>(count);
    std::vector<std::uint32_t> dot(count), hole(count);
    std::vector<float> dot_grows(count), hole_grows(count);
    const std::int64_t width = lattice.width();
    oneapi::tbb::parallel_for(std::int64_t(0), lattice.height(), [&](std::int64_t y) {
        for (std::int64_t x = 0; x < width; ++x) {
            const double u = static_cast<double>(step.x * x - step.y * y) / norm - centre_u;
            const double v = static_cast<double>(step.y * x + step.x * y) / norm - centre_v;
            const double du = std::round(u), dv = std::round(v);
            const double hu = std::floor(u), hv = std::floor(v);
            const auto at = static_cast<std::size_t>(y * width + x);
            dot[at] = static_cast<std::uint32_t>(
                cell_lattice.number(static_cast<std::int64_t>(du), static_cast<std::int64_t>(dv)));
            hole[at] = static_cast<std::uint32_t>(
                cell_lattice.number(static_cast<std::int64_t>(hu), static_cast<std::int64_t>(hv)));
            dot_grows[at] = static_cast<float>(growth(screen, u - du, v - dv));
            hole_grows[at] = static_cast<float>(growth(screen, u - hu - 0.5, v - hv - 0.5));
        }
    });
    const double least = screen.kind == ScreenKind::Hybrid ? least_dot_of(screen) : 1;
    const auto order_of = [&](const std::vector<std::uint32_t> &cell, const std::vector<float> &grows,
                              std::vector<float> &order) {
        Cells sorted(cells);
        sorted.sort(cell, grows);
        order.resize(count);
        sorted.each([&](std::size_t one, std::uint32_t k, std::uint32_t place) {
            const double r = static_cast<double>(ranks[one]) / static_cast<double>(cells);
            // The first places of a dot come all at once: smaller than that none is.
            order[place] = static_cast<float>(k < least ? r * least / per_cell : (k + r) / per_cell);
        });
    };
    std::vector<float> from_dots, from_holes;
    order_of(dot, dot_grows, from_dots);
    order_of(hole, hole_grows, from_holes);
    const bool round = screen.dot == DotShape::Round;
    const double low = round ? 0.5 : 0.4, high = round ? 0.9 : 0.6;
    for (std::size_t i = 0; i < count; ++i) {
        const double d = from_dots[i], h = 1 - static_cast<double>(from_holes[i]);
        const double share = smoothstep(low, high, (d + h) / 2);
        from_dots[i] = static_cast<float>(1 + d + (h - d) * share); // positive, for as_thresholds()
    }
    return as_thresholds(from_dots, screen.kind == ScreenKind::Hybrid);
}

ThresholdTile am_tile(const Screen &screen, double dpi)
{
    const double radians = screen.angle.value * std::numbers::pi / 180;
    const std::complex<double> vector = std::polar(screen.ruling.value / dpi, radians);
    const double turned = std::fabs(std::remainder(screen.angle.value, 45.0));
    const Fraction fraction = nearest_fraction(vector, dpi, turned < 1e-9);
    ThresholdTile tile;
    tile.lattice = RepeatingLattice(fraction.q);
    const std::string key = key_text(screen, fraction);
    if (auto kept = kept_thresholds(key, tile.lattice)) {
        tile.thresholds = std::move(*kept);
    } else {
        tile.thresholds = dot_thresholds(screen, fraction, tile.lattice);
        keep_thresholds(key, tile.lattice, tile.thresholds);
    }
    const auto complex_of = [](const LatticeStep &one) {
        return std::complex<double>(static_cast<double>(one.x), static_cast<double>(one.y));
    };
    const std::complex<double> made = complex_of(fraction.p) / complex_of(fraction.q);
    tile.lpi = std::abs(made) * dpi;
    tile.angle = std::arg(made) * 180 / std::numbers::pi;
    return tile;
}

ThresholdTile fm_tile(int dot)
{
    constexpr std::int64_t side = 256;
    static const std::vector<std::uint16_t> ranks = [] {
        const RepeatingLattice lattice({side, 0});
        if (auto kept = kept_thresholds("scattered", lattice)) {
            return *kept;
        }
        const std::vector<std::uint32_t> all = void_and_cluster(lattice);
        const std::vector<std::uint16_t> made(all.begin(), all.end()); // 65536 of them
        keep_thresholds("scattered", lattice, made);
        return made;
    }();
    ThresholdTile tile;
    tile.lattice = RepeatingLattice({side * dot, 0});
    const std::int64_t width = side * dot;
    tile.thresholds.resize(static_cast<std::size_t>(width * width));
    for (std::int64_t y = 0; y < width; ++y) {
        for (std::int64_t x = 0; x < width; ++x) {
            tile.thresholds[static_cast<std::size_t>(y * width + x)] =
                ranks[static_cast<std::size_t>(y / dot * side + x / dot)];
        }
    }
    return tile;
}

/// Half of all tones are ink everywhere, the others nowhere.
ThresholdTile plain_tile()
{
    ThresholdTile tile;
    tile.lattice = RepeatingLattice({64, 0});
    tile.thresholds.assign(64 * 64, 32767);
    return tile;
}

/// The shop's own, as often as makes rows of at least a word.
ThresholdTile own_tile(const OwnTile &own)
{
    const int side = own.side(), width = side * ((63 + side) / side);
    ThresholdTile tile;
    tile.lattice = RepeatingLattice({width, 0});
    for (int y = 0; y < width; ++y) {
        const auto row = own.thresholds().subspan(static_cast<std::size_t>(y % side * side),
                                                  static_cast<std::size_t>(side));
        for (int x = 0; x < width; x += side) {
            tile.thresholds.insert(tile.thresholds.end(), row.begin(), row.end());
        }
    }
    return tile;
}

/// What of \p screen the tile depends on.
Screen key_of(Screen screen)
{
    const Screen usual;
    if (!has_lattice(screen)) {
        screen.ruling = usual.ruling;
        screen.angle = usual.angle;
        screen.dot = usual.dot;
    }
    screen.chain = screen.dot == DotShape::Ellipse ? screen.chain : usual.chain;
    screen.least_dot = screen.kind == ScreenKind::Fm || screen.kind == ScreenKind::Hybrid
                           ? least_dot_of(screen)
                           : usual.least_dot;
    screen.tile = screen.kind == ScreenKind::Tile ? screen.tile : OwnTile();
    return screen;
}

} // namespace

Outcome<std::shared_ptr<const ThresholdTile>> threshold_tile(const Screen &screen, Dpi resolution)
{
    if (const Done good = check_screen(screen, resolution); !good) {
        return good.error();
    }
    const Screen key = key_of(screen);
    const bool on_lattice = has_lattice(key);
    const double dpi = on_lattice ? resolution.value : 0;
    struct Known
    {
        Screen screen;
        double dpi;
        std::shared_ptr<const ThresholdTile> tile;
    };
    static std::mutex guard;
    static std::deque<Known> all;
    constexpr std::size_t most = 32;
    const auto find = [&]() -> std::shared_ptr<const ThresholdTile> {
        const auto found = std::find_if(
            all.begin(), all.end(), [&](const Known &one) { return one.screen == key && one.dpi == dpi; });
        return found == all.end() ? nullptr : found->tile;
    };
    {
        const std::lock_guard lock(guard);
        if (auto known = find()) {
            return known;
        }
    }
    auto made =
        std::make_shared<const ThresholdTile>(on_lattice                     ? am_tile(key, dpi)
                                              : key.kind == ScreenKind::Fm   ? fm_tile(least_dot_of(key))
                                              : key.kind == ScreenKind::Tile ? own_tile(key.tile)
                                                                             : plain_tile());
    const std::lock_guard lock(guard);
    if (auto known = find()) {
        return known; // somebody else made it meanwhile
    }
    all.push_back({key, dpi, made});
    if (all.size() > most) {
        all.pop_front();
    }
    return std::shared_ptr<const ThresholdTile>(made);
}

} // namespace bichrom
