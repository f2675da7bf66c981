#include "core/screen/moire.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <limits>
#include <map>
#include <numbers>
#include <random>

namespace bichrom {

namespace {

using Vector = std::complex<double>; // lines an inch

Vector direction(double ruling, double degrees)
{
    return std::polar(ruling, degrees * std::numbers::pi / 180);
}

/// The frequency of order (m, n).
Vector frequency(const Lattice &lattice, int m, int n)
{
    const Vector along = direction(lattice.ruling, lattice.angle);
    const Vector across = along * Vector(0, 1);
    return lattice.lines ? across * double(n) : along * double(m) + across * double(n);
}

/// Whether the lattice has that order at all.
bool has_order(const Lattice &lattice, int m, int n)
{
    return (m != 0 || n != 0) && (!lattice.lines || m == 0) && (!lattice.mesh || m == 0 || n == 0);
}

constexpr double longest_pattern = 1500; // mm: nobody sees more than a part of it
constexpr int orders = 3;

/// Contrasts and frequencies of all orders of a lattice up to the third, half of them: the others are the
/// same the other way round.
struct Order
{
    Vector frequency;
    double contrast = 0;
};

std::vector<Order> orders_of(const Lattice &lattice, double tone)
{
    std::vector<Order> all;
    for (int m = -orders; m <= orders; ++m) {
        for (int n = 0; n <= orders; ++n) {
            if (has_order(lattice, m, n) && !(n == 0 && m < 0)) {
                all.push_back({frequency(lattice, m, n), contrast(lattice, m, n, tone)});
            }
        }
    }
    return all;
}

} // namespace

std::optional<Lattice> lattice_of(const Screen &screen)
{
    if (!has_lattice(screen)) {
        return std::nullopt;
    }
    return Lattice{screen.ruling.value, screen.angle.value, screen.dot == DotShape::Line, {}};
}

double Mesh::covered() const
{
    constexpr double um_per_cm = 1e4;
    return thread_um > 0 ? std::min(1.0, thread_um * per_cm / um_per_cm) : 1.0 / 3;
}

Lattice lattice_of(const Mesh &mesh)
{
    return {mesh.per_cm * millimetres_per_inch / 10, mesh.angle, false, mesh};
}

double contrast(const Lattice &lattice, int m, int n, double tone)
{
    constexpr double pi = std::numbers::pi;
    if (!has_order(lattice, m, n)) {
        return 0;
    }
    if (lattice.swing > 0) {
        return std::abs(m) + std::abs(n) == 1 ? lattice.swing : 0;
    }
    if (lattice.mesh) {
        const double share = lattice.mesh->covered();
        const int order = std::abs(m) + std::abs(n);                                 // one of them is 0
        return std::fabs(std::sin(pi * order * share)) / (pi * order) * (1 - share); // of the other threads
    }
    tone = std::clamp(tone, 0.0, 1.0);
    if (lattice.lines) {
        return std::fabs(std::sin(pi * n * tone)) / (pi * std::abs(n));
    }
    const double radius = std::sqrt(std::min(tone, 1 - tone) / pi);
    const double order = std::hypot(m, n);
    return std::fabs(radius * std::cyl_bessel_j(1.0, 2 * pi * radius * order) / order);
}

double visibility(double mm, double viewing_mm)
{
    if (!(mm > 0)) {
        return 0;
    }
    const double finest = viewing_mm * std::tan(std::numbers::pi / 180) / 5; // five periods a degree
    const double ratio = mm / finest;
    return ratio < 1 ? ratio * ratio : std::min(4.0, 1 + std::log2(ratio));
}

Beat beat_of(const Lattice &first, const Lattice &second, double a, double b, double viewing_mm)
{
    Beat worst{std::numeric_limits<double>::infinity(), 0, 0};
    double most = -1, sum = 0;
    const double finest = std::min(first.ruling, second.ruling);
    const std::vector<Order> others = orders_of(second, b);
    for (const Order &own : orders_of(first, a)) {
        for (const Order &other : others) {
            const double strength = 2 * own.contrast * other.contrast;
            if (strength < 1e-4) {
                continue;
            }
            for (const double sign : {1.0, -1.0}) {
                const double length = std::abs(own.frequency + sign * other.frequency);
                if (length > 0.9 * finest) {
                    continue; // finer than the screens themselves
                }
                // Of equal screens it is endless, and the least slip changes the shade of all of it.
                const double period = length > 1e-9 * finest ? millimetres_per_inch / length
                                                             : std::numeric_limits<double>::infinity();
                const double badness = strength * visibility(period, viewing_mm);
                sum += badness;
                if (badness > most) {
                    most = badness;
                    worst = {period, strength, 0};
                }
            }
        }
    }
    worst.badness = sum;
    return worst;
}

TurnedBeat::TurnedBeat(const Lattice &fixed, const Lattice &turned, double badness, double viewing_mm)
    : m_fixed(fixed), m_turned(turned), m_viewing_mm(viewing_mm)
{
    const double now = full(turned.angle);
    m_share = now > 0 ? badness / now : 1;
}

double TurnedBeat::full(double angle) const
{
    constexpr double tone = 0.4;
    Lattice turned = m_turned;
    turned.angle = angle;
    return beat_of(m_fixed, turned, tone, tone, m_viewing_mm).badness;
}

double TurnedBeat::at(double angle) const
{
    return m_share * full(angle);
}

std::optional<double> TurnedBeat::nearest_unseen() const
{
    for (int half = 0; half <= 180; ++half) {
        for (const double sign : {1.0, -1.0}) {
            const double angle = m_turned.angle + sign * half / 2;
            if (at(angle) < seen_badness) {
                return angle - std::floor(angle / 180) * 180;
            }
        }
    }
    return std::nullopt;
}

namespace {

/// contrast() of a first order, which is asked for again and again: of dots by a table.
double first_contrast(const Lattice &lattice, int m, int n, double tone)
{
    if (lattice.lines || lattice.mesh) {
        return contrast(lattice, m, n, tone);
    }
    static const std::array<double, 101> table = [] {
        std::array<double, 101> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = contrast({60, 0, false, {}}, 1, 0, static_cast<double>(i) / 100);
        }
        return made;
    }();
    return table[static_cast<std::size_t>(std::lround(std::clamp(tone, 0.0, 1.0) * 100))];
}

} // namespace

Beat beat_of(const std::array<Lattice, 3> &lattices, double tone, double viewing_mm)
{
    Beat worst{std::numeric_limits<double>::infinity(), 0, 0};
    double most = -1;
    // First orders: along and across, and of the second and third the other way too.
    std::array<std::array<Order, 2>, 3> firsts;
    for (std::size_t k = 0; k < 3; ++k) {
        firsts[k] = {{{frequency(lattices[k], 1, 0), first_contrast(lattices[k], 1, 0, tone)},
                      {frequency(lattices[k], 0, 1), first_contrast(lattices[k], 0, 1, tone)}}};
    }
    for (const Order &a : firsts[0]) {
        for (const Order &b : firsts[1]) {
            for (const Order &c : firsts[2]) {
                const double strength = 4 * a.contrast * b.contrast * c.contrast;
                if (!(strength > 0)) {
                    continue;
                }
                for (const double second : {1.0, -1.0}) {
                    for (const double third : {1.0, -1.0}) {
                        const double length =
                            std::abs(a.frequency + second * b.frequency + third * c.frequency);
                        const double period = length > 0 ? millimetres_per_inch / length
                                                         : std::numeric_limits<double>::infinity();
                        const double badness =
                            period > longest_pattern ? 0 : strength * visibility(period, viewing_mm);
                        worst.badness += badness;
                        if (badness > most) {
                            most = badness;
                            worst.period_mm = period;
                            worst.strength = strength;
                        }
                    }
                }
            }
        }
    }
    return worst;
}

namespace {

/// Of plate \p number with the artwork that repeats on it.
double badness_with_art(const AngleTask &task, std::size_t number)
{
    double sum = 0;
    for (const RepeatedArt &art : task.art) {
        if (art.plate == number) {
            sum += art.share *
                   beat_of(task.plates[number], art.lattice, art.tone, art.tone, task.viewing_mm).badness;
        }
    }
    return sum;
}

} // namespace

double badness_of(const AngleTask &task)
{
    const std::size_t count = task.plates.size();
    constexpr double tone = 0.4; // where dots are strongest
    double sum = 0;
    for (std::size_t i = 0; i < count; ++i) {
        sum += badness_with_art(task, i);
        if (task.mesh) {
            sum += beat_of(task.plates[i], *task.mesh, tone, tone, task.viewing_mm).badness;
        }
        for (std::size_t j = i + 1; j < count; ++j) {
            const double meet = task.meet[i * count + j];
            if (meet > 0) {
                sum += meet * beat_of(task.plates[i], task.plates[j], tone, tone, task.viewing_mm).badness;
            }
            for (std::size_t k = j + 1; k < count; ++k) {
                const double all = std::min({meet, task.meet[i * count + k], task.meet[j * count + k]});
                if (all > 0) {
                    sum +=
                        all * beat_of({task.plates[i], task.plates[j], task.plates[k]}, tone, task.viewing_mm)
                                  .badness;
                }
            }
        }
    }
    return sum;
}

std::vector<double> best_angles(const AngleTask &task, const JobControl &control)
{
    const std::size_t count = task.plates.size();
    AngleTask tried = task;
    // The badness of what plate i takes part in; the rest does not change while it turns.
    // Of two plates it depends on how far one is turned from the other, and is known by that.
    std::vector<std::map<long, double>> known(count * count);
    const auto of_pair = [&](std::size_t a, std::size_t b) {
        const auto [i, j] = std::minmax(a, b);
        const long turn = std::lround((tried.plates[j].angle - tried.plates[i].angle) * 100);
        const auto [found, is_new] = known[i * count + j].try_emplace(turn, 0.0);
        if (is_new) {
            constexpr double tone = 0.4;
            found->second = beat_of(tried.plates[i], tried.plates[j], tone, tone, task.viewing_mm).badness;
        }
        return found->second;
    };
    std::vector<std::map<long, double>> known_art(count);
    const auto of_art = [&](std::size_t i) {
        const long angle = std::lround(tried.plates[i].angle * 100);
        const auto [found, is_new] = known_art[i].try_emplace(angle, 0.0);
        if (is_new) {
            found->second = badness_with_art(tried, i);
        }
        return found->second;
    };
    const auto badness_at = [&](std::size_t i) {
        constexpr double tone = 0.4;
        double sum =
            task.mesh ? beat_of(tried.plates[i], *task.mesh, tone, tone, task.viewing_mm).badness : 0;
        sum += of_art(i);
        const auto meet = [&](std::size_t a, std::size_t b) {
            return task.meet[std::min(a, b) * count + std::max(a, b)];
        };
        for (std::size_t j = 0; j < count; ++j) {
            if (j == i || meet(i, j) <= 0) {
                continue;
            }
            sum += meet(i, j) * of_pair(i, j);
            for (std::size_t k = j + 1; k < count; ++k) {
                const double all = k == i ? 0 : std::min({meet(i, j), meet(i, k), meet(j, k)});
                if (all > 0) {
                    sum += all *
                           beat_of({tried.plates[i], tried.plates[j], tried.plates[k]}, tone, task.viewing_mm)
                               .badness;
                }
            }
        }
        return sum;
    };
    const auto turn_of = [&](std::size_t i) { return task.plates[i].lines ? 180.0 : 90.0; };
    std::vector<double> best;
    for (const Lattice &plate : task.plates) {
        best.push_back(plate.angle);
    }
    double least = badness_of(task);
    const auto better = [&] {
        constexpr double step = 0.5;
        for (int round = 0; round < 6 && !control.cancelled(); ++round) {
            bool moved = false;
            for (std::size_t i = 0; i < count; ++i) {
                if (task.held[i]) {
                    continue;
                }
                double here = badness_at(i), angle = tried.plates[i].angle;
                for (double other = 0; other < turn_of(i); other += step) {
                    tried.plates[i].angle = other;
                    if (const double value = badness_at(i); value < here - 1e-9) {
                        here = value;
                        angle = other;
                        moved = true;
                    }
                }
                tried.plates[i].angle = angle;
            }
            if (!moved) {
                break;
            }
        }
        if (const double value = badness_of(tried); value < least - 1e-9) {
            least = value;
            for (std::size_t i = 0; i < count; ++i) {
                best[i] = tried.plates[i].angle;
            }
        }
    };
    // Sets that the trade uses (common practice, no source), in several orders, then chance.
    constexpr std::array usual = {45.0, 15.0, 75.0, 0.0, 30.0, 60.0, 22.5, 82.5};
    std::mt19937 random(7);
    const int starts = count > 5 ? 8 : 12;
    for (int start = 0; start < starts && !control.cancelled(); ++start) {
        for (std::size_t i = 0; i < count; ++i) {
            if (!task.held[i]) {
                tried.plates[i].angle = start < 4
                                            ? usual[(i + static_cast<std::size_t>(start)) % usual.size()]
                                            : static_cast<double>(random() % 180) / 2;
            }
        }
        better();
    }
    return best;
}

} // namespace bichrom
