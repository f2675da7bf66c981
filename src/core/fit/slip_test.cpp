#include "core/fit/slip_test.h"

#include "core/raster/bands.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <mutex>
#include <numbers>

namespace bichrom {

namespace {

constexpr std::uint8_t least_tone = 26; // a tenth: paler tones hide no bare stock
constexpr std::uint8_t least_trace = 3; // a hundredth

void add(BitPlane &to, const BitPlane &from)
{
    for (std::size_t i = 0; i < to.bits.size(); ++i) {
        to.bits[i] |= from.bits[i];
    }
}
void keep(BitPlane &to, const BitPlane &from)
{
    for (std::size_t i = 0; i < to.bits.size(); ++i) {
        to.bits[i] &= from.bits[i];
    }
}
void take(BitPlane &to, const BitPlane &from)
{
    for (std::size_t i = 0; i < to.bits.size(); ++i) {
        to.bits[i] &= ~from.bits[i];
    }
}
BitPlane without(BitPlane plane, const BitPlane &other)
{
    take(plane, other);
    return plane;
}
BitPlane both(BitPlane plane, const BitPlane &other)
{
    keep(plane, other);
    return plane;
}
bool any(const BitPlane &plane)
{
    return std::any_of(plane.bits.begin(), plane.bits.end(), [](std::uint64_t word) { return word != 0; });
}

double square_mm(const SlipPlates &plates)
{
    const double side = millimetres_per_inch / plates.resolution.value;
    return side * side;
}

/// The middle of what lies in the square of 2 mm that holds most.
struct Worst
{
    double x = 0, y = 0;
};
Worst worst_of(const BitPlane &map, Dpi resolution)
{
    const int cell = std::max(1, static_cast<int>(std::lround(2 * resolution.value / millimetres_per_inch)));
    const int across = map.width / cell + 1, down = map.height / cell + 1;
    struct Sum
    {
        std::int64_t count = 0;
        double x = 0, y = 0;
    };
    std::vector<Sum> cells(static_cast<std::size_t>(across) * static_cast<std::size_t>(down));
    for (int y = 0; y < map.height; ++y) {
        const std::uint64_t *row = map.row(y);
        for (int word = 0; word < map.words; ++word) {
            for (std::uint64_t left = row[word]; left != 0; left &= left - 1) {
                const int x = word * 64 + std::countr_zero(left);
                Sum &sum = cells[static_cast<std::size_t>(y / cell) * static_cast<std::size_t>(across) +
                                 static_cast<std::size_t>(x / cell)];
                ++sum.count;
                sum.x += x + 0.5;
                sum.y += y + 0.5;
            }
        }
    }
    const auto most = std::max_element(cells.begin(), cells.end(),
                                       [](const Sum &a, const Sum &b) { return a.count < b.count; });
    if (most == cells.end() || most->count == 0) {
        return {};
    }
    const double mm = millimetres_per_inch / resolution.value / static_cast<double>(most->count);
    return {most->x * mm, most->y * mm};
}

Error stopped()
{
    return {ErrorCode::Cancelled, "Stopped.", {}, {}};
}

void sort_pairs(std::vector<SlipPair> &pairs)
{
    std::stable_sort(pairs.begin(), pairs.end(), [](const SlipPair &a, const SlipPair &b) {
        return a.bare != b.bare ? a.bare > b.bare : a.darker > b.darker;
    });
}

} // namespace

Outcome<SlipPlates> slip_plates(const PlateLine &line, const Job &job, Dpi resolution,
                                const JobControl &control)
{
    SlipPlates made;
    const PixelRect all = line.extent(resolution);
    if (static_cast<double>(all.width) * all.height > 400e6) {
        return Error{ErrorCode::TooLarge, "The page is too large for a slip test at this resolution.",
                     line.page().place(), "Test it at a lower one."};
    }
    made.resolution = resolution;
    made.width = all.width;
    made.height = all.height;
    std::vector<std::size_t> numbers;
    for (std::size_t i = 0; i < line.inks().size(); ++i) {
        const int plate = job.find_plate(line.inks()[i]);
        if (plate < 0) {
            continue;
        }
        const InkUse kind = job.plates[static_cast<std::size_t>(plate)].kind;
        if (kind == InkUse::Varnish || kind == InkUse::Technical) {
            continue;
        }
        numbers.push_back(i);
        made.inks.push_back(line.inks()[i]);
        made.white.push_back(kind == InkUse::White);
        made.plates.emplace_back(all.width, all.height);
        made.traces.emplace_back(all.width, all.height);
    }
    PlateSink sink;
    sink.compute = [&](const Band &band, const PlateRuns &plates) -> Outcome<std::unique_ptr<BandResult>> {
        // Bands are rows of their own in each plane: nobody else writes them.
        for (std::size_t i = 0; i < numbers.size(); ++i) {
            const RunPlane &tones = plates.plates[numbers[i]];
            for (int y = 0; y < tones.height(); ++y) {
                add_row(made.plates[i], band.top + y, tones, y, least_tone);
                add_row(made.traces[i], band.top + y, tones, y, least_trace);
            }
        }
        return std::make_unique<BandResult>();
    };
    sink.take = [](const Band &, BandResult &) { return Done(); };
    if (const Done done = line.run({resolution, Edges::Crisp, 0, all.height, 256, 0}, sink, control); !done) {
        return done.error();
    }
    return made;
}

SlipBack::SlipBack(const Slip &slip, double width, double height, double per_mm)
    : m_middle_x(width / 2), m_middle_y(height / 2)
{
    // Stretched and turned about the middle of the page, then shifted; taken backwards.
    const double scale = 1 / (1 + slip.stretch / 100);
    const double angle = slip.degrees * std::numbers::pi / 180;
    m_xx = std::cos(angle) * scale;
    m_xy = std::sin(angle) * scale;
    m_yx = -m_xy;
    m_yy = m_xx;
    m_x = -(m_xx * slip.x + m_xy * slip.y) * per_mm;
    m_y = -(m_yx * slip.x + m_yy * slip.y) * per_mm;
}

Dpi slip_resolution(const TrapSettings &traps, double within)
{
    std::vector<double> lengths = {within};
    if (traps.on) {
        lengths.insert(lengths.end(), {traps.width, traps.hold_back, traps.base_choke});
        for (const TrapPair &pair : traps.pairs) {
            lengths.push_back(pair.width.value_or(0));
        }
    }
    double best = 600, least = 1e9;
    for (int dpi = 450; dpi <= 900; ++dpi) {
        double off = (dpi - 450) * 1e-4;
        for (const double length : lengths) {
            const double pixels = length * dpi / millimetres_per_inch;
            off += std::fabs(pixels - std::round(pixels));
        }
        if (off < least) {
            least = off;
            best = dpi;
        }
    }
    return Dpi(best);
}

Outcome<SlipResult> slip(const SlipPlates &plates, const std::vector<Slip> &slips, const JobControl &control)
{
    const std::size_t count = plates.plates.size();
    std::vector<Slip> moved(count);
    for (const Slip &one : slips) {
        const auto at = std::find(plates.inks.begin(), plates.inks.end(), one.ink);
        if (at == plates.inks.end()) {
            return Error{ErrorCode::UnknownInk,
                         "No plate of '" + one.ink + "' can slip here.",
                         {},
                         "Name a plate of the job that is seen: not varnish, not a cut line."};
        }
        if (!(std::fabs(one.x) <= 20 && std::fabs(one.y) <= 20 && std::fabs(one.degrees) <= 10 &&
              std::fabs(one.stretch) <= 5)) {
            return Error{ErrorCode::OutOfRange, "A plate slips by 20 mm, 10° and 5 % at most.", one.ink, {}};
        }
        moved[static_cast<std::size_t>(at - plates.inks.begin())] = one;
    }
    SlipResult result;
    result.map = BitPlane(plates.width, plates.height);
    if (count == 0) {
        return result;
    }
    const double per_mm = plates.resolution.value / millimetres_per_inch;
    std::vector<SlipBack> backs;
    for (const Slip &one : moved) {
        backs.emplace_back(one, plates.width, plates.height, per_mm);
    }
    BitPlane whole(plates.width, plates.height); // any ink
    for (const BitPlane &plate : plates.plates) {
        add(whole, plate);
    }
    constexpr int parts = 4; // of a pixel in either direction
    struct Sums
    {
        std::int64_t bare = 0, base = 0, darker = 0;
        std::vector<std::int64_t> pair_bare, pair_darker;
    };
    std::mutex guard;
    Sums total;
    total.pair_bare.assign(count * count, 0);
    total.pair_darker.assign(count * count, 0);
    constexpr int rows_at_once = 64;
    const int groups = (plates.height + rows_at_once - 1) / rows_at_once;
    each_row(
        groups,
        [&](int group) {
            Sums sums;
            sums.pair_bare.assign(count * count, 0);
            sums.pair_darker.assign(count * count, 0);
            std::vector<std::uint64_t> ink(count), was(count);
            std::vector<std::pair<int, int>> from(count);
            for (int y = group * rows_at_once; y < std::min(plates.height, (group + 1) * rows_at_once); ++y) {
                for (int word = 0; word < whole.words; ++word) {
                    const int x = word * 64;
                    std::uint64_t here_colours = 0, was_twice = 0;
                    for (std::size_t i = 0; i < count; ++i) {
                        was[i] = word_at(plates.plates[i], x, y);
                        if (!plates.white[i]) {
                            was_twice |= here_colours & was[i];
                            here_colours |= was[i];
                        }
                    }
                    for (int part = 0; part < parts * parts; ++part) {
                        const double part_x = (part % parts + 0.5) / parts,
                                     part_y = (part / parts + 0.5) / parts;
                        std::uint64_t inside = ~std::uint64_t(0), covered = 0, colours = 0, base = 0,
                                      twice = 0;
                        for (std::size_t i = 0; i < count; ++i) {
                            // Of a word all pixels come from beside each other: turned by 10° at most, and
                            // looked at where its middle lies.
                            const auto [source_x, source_y] = backs[i].place(x + 32, y + 0.5);
                            const int from_x = static_cast<int>(std::floor(source_x - 32 + part_x));
                            const int from_y = static_cast<int>(std::floor(source_y - 0.5 + part_y));
                            from[i] = {from_x, from_y};
                            ink[i] = word_at(plates.plates[i], from_x, from_y);
                            inside &= word_at(whole, from_x, from_y);
                            covered |= word_at(plates.traces[i], from_x, from_y);
                            twice |= plates.white[i] ? 0 : colours & ink[i];
                            (plates.white[i] ? base : colours) |= ink[i];
                        }
                        if ((inside | base) == 0) {
                            continue;
                        }
                        // Bare: every plate has the print here, and none has ink.
                        const std::uint64_t bare = inside & ~covered;
                        sums.bare += std::popcount(bare);
                        const std::uint64_t on_base = base & ~colours & here_colours;
                        sums.base += std::popcount(on_base);
                        if (part == parts * parts / 2 + parts / 2) {
                            result.map.row(y)[word] |= bare | on_base;
                        }
                        if ((bare | on_base) == 0 && (twice & ~was_twice) == 0) {
                            continue;
                        }
                        for (std::size_t i = 0; i < count; ++i) {
                            const std::uint64_t left = was[i] & ~ink[i];
                            for (std::size_t j = 0; j < count; ++j) {
                                if (i == j) {
                                    continue;
                                }
                                if (plates.white[j]) {
                                    sums.pair_bare[i * count + j] += std::popcount(on_base & ink[j] & left);
                                } else if ((bare & left) != 0) {
                                    // What came here instead of i's ink was beside it: j's.
                                    const std::uint64_t beside =
                                        word_at(plates.plates[j], from[i].first, from[i].second);
                                    sums.pair_bare[i * count + j] += std::popcount(bare & left & beside);
                                }
                                if (i < j && !plates.white[i] && !plates.white[j]) {
                                    sums.pair_darker[i * count + j] +=
                                        std::popcount(ink[i] & ink[j] & ~(was[i] & was[j]));
                                }
                            }
                        }
                        sums.darker += std::popcount(twice & ~was_twice);
                    }
                }
            }
            const std::lock_guard lock(guard);
            total.bare += sums.bare;
            total.base += sums.base;
            total.darker += sums.darker;
            for (std::size_t i = 0; i < count * count; ++i) {
                total.pair_bare[i] += sums.pair_bare[i];
                total.pair_darker[i] += sums.pair_darker[i];
            }
        },
        control);
    if (control.cancelled()) {
        return stopped();
    }
    for (int y = 0; y < plates.height; ++y) {
        if (plates.width % 64 != 0) {
            result.map.row(y)[result.map.words - 1] &= (std::uint64_t(1) << (plates.width % 64)) - 1;
        }
    }
    const double area = square_mm(plates) / (parts * parts);
    result.bare = static_cast<double>(total.bare) * area;
    result.base = static_cast<double>(total.base) * area;
    result.darker = static_cast<double>(total.darker) * area;
    const Worst worst = worst_of(result.map, plates.resolution);
    result.worst_x = worst.x;
    result.worst_y = worst.y;
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t j = 0; j < count; ++j) {
            // Stock is bare where i has left; j is whoever was its neighbour there before.
            const double bare = static_cast<double>(total.pair_bare[i * count + j]) * area;
            const double darker = i < j ? static_cast<double>(total.pair_darker[i * count + j]) * area : 0;
            if (i == j || (bare == 0 && darker == 0)) {
                continue;
            }
            SlipPair pair;
            pair.moved = plates.inks[i];
            pair.other = plates.inks[j];
            pair.base = plates.white[j];
            pair.bare = bare;
            pair.darker = darker;
            pair.closes = std::hypot(moved[i].x - moved[j].x, moved[i].y - moved[j].y);
            pair.worst_x = result.worst_x;
            pair.worst_y = result.worst_y;
            result.pairs.push_back(std::move(pair));
        }
    }
    sort_pairs(result.pairs);
    return result;
}

Outcome<SlipResult> slip_within(const SlipPlates &plates, double within, const JobControl &control)
{
    if (!(within > 0 && within <= 5)) {
        return Error{ErrorCode::OutOfRange, "A slip is tested up to 5 mm.", {}, "Type a length above 0."};
    }
    const std::size_t count = plates.plates.size();
    // A pixel's nearest neighbour across a slanted edge is on the mean a third nearer than one.
    constexpr double slant = 0.3;
    const double radius = within * plates.resolution.value / millimetres_per_inch + slant;
    const double area = square_mm(plates);
    SlipResult result;
    result.map = BitPlane(plates.width, plates.height);
    BitPlane whole = result.map, colours = result.map, darker = result.map, base = result.map,
             bare = result.map;
    for (std::size_t i = 0; i < count; ++i) {
        add(whole, plates.plates[i]);
        if (!plates.white[i]) {
            add(colours, plates.plates[i]);
        }
    }
    for (std::size_t i = 0; i < count; ++i) {
        if (control.cancelled()) {
            return stopped();
        }
        control.progress(static_cast<std::int64_t>(i), static_cast<std::int64_t>(count));
        const BitPlane &plate = plates.plates[i];
        if (!any(plate)) {
            continue;
        }
        BitPlane alone = plate;           // nothing else is here
        BitPlane alone_in_colour = plate; // nothing but white
        for (std::size_t j = 0; j < count; ++j) {
            if (j != i) {
                take(alone, plates.traces[j]);
                if (!plates.white[j]) {
                    take(alone_in_colour, plates.plates[j]);
                }
            }
        }
        const BitPlane others = without(whole, plates.traces[i]); // where it is not though the print is
        // Its own place that it may leave, by who is beside it.
        const BitPlane left = both(dilated(others, radius, &alone), alone);
        add(bare, left);
        BitPlane under(plates.width, plates.height);
        if (!plates.white[i]) {
            for (std::size_t j = 0; j < count; ++j) {
                if (!plates.white[j]) {
                    continue;
                }
                // White under it, that ends where it ends: any way off leaves white alone.
                BitPlane on_white = both(alone_in_colour, plates.plates[j]);
                if (!any(on_white)) {
                    continue;
                }
                BitPlane off(plates.width, plates.height);
                for (std::size_t word = 0; word < off.bits.size(); ++word) {
                    off.bits[word] = ~(plates.traces[i].bits[word] | plates.plates[j].bits[word]);
                }
                on_white = both(dilated(off, radius, &on_white), on_white);
                if (!any(on_white)) {
                    continue;
                }
                SlipPair pair;
                pair.moved = plates.inks[i];
                pair.other = plates.inks[j];
                pair.base = true;
                pair.bare = static_cast<double>(on_white.count()) * area;
                const Worst worst = worst_of(on_white, plates.resolution);
                pair.worst_x = worst.x;
                pair.worst_y = worst.y;
                pair.closes = within;
                result.pairs.push_back(std::move(pair));
                add(base, on_white);
            }
        }
        for (std::size_t j = 0; j < count; ++j) {
            if (j == i || !any(plates.plates[j])) {
                continue;
            }
            const BitPlane beside = without(plates.plates[j], plates.traces[i]);
            SlipPair pair;
            pair.moved = plates.inks[i];
            pair.other = plates.inks[j];
            const BitPlane gap = both(dilated(beside, radius, &left), left);
            if (any(gap)) {
                pair.bare = static_cast<double>(gap.count()) * area;
                const Worst worst = worst_of(gap, plates.resolution);
                pair.worst_x = worst.x;
                pair.worst_y = worst.y;
                // The least trap that reaches every place: halve the interval to a hundredth of a millimetre.
                double low = 0, high = within;
                while (high - low > 0.01) {
                    const double middle = (low + high) / 2;
                    const BitPlane reached = dilated(
                        beside, middle * plates.resolution.value / millimetres_per_inch + slant, &gap);
                    (any(without(gap, reached)) ? low : high) = middle;
                }
                pair.closes = std::ceil(high * 100 - 1e-6) / 100;
            }
            if (i < j && !plates.white[i] && !plates.white[j]) {
                // Where one may slide over what the other has for itself.
                BitPlane lies = both(dilated(plate, radius, &beside), beside);
                const BitPlane own = without(plate, plates.plates[j]);
                add(lies, both(dilated(plates.plates[j], radius, &own), own));
                pair.darker = static_cast<double>(lies.count()) * area;
                add(darker, lies);
            }
            if (pair.bare > 0 || pair.darker > 0) {
                result.pairs.push_back(std::move(pair));
            }
        }
    }
    result.bare = static_cast<double>(bare.count()) * area;
    result.base = static_cast<double>(base.count()) * area;
    result.darker = static_cast<double>(darker.count()) * area;
    const Worst worst = worst_of(any(bare) ? bare : base, plates.resolution);
    result.worst_x = worst.x;
    result.worst_y = worst.y;
    add(result.map, bare);
    add(result.map, base);
    sort_pairs(result.pairs);
    return result;
}

} // namespace bichrom
