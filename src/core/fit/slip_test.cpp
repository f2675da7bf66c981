#include "core/fit/slip_test.h"

#include "core/base/cpu_clones.h"
#include "core/raster/bands.h"

#include <algorithm>
#include <array>
#include <atomic>
#include <bit>
#include <cmath>
#include <map>
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

/// Pixels that lie together: how many, and the sums of their middles.
struct Heap
{
    std::int64_t count = 0;
    double x = 0, y = 0;
    [[nodiscard]] double mm_x(Dpi resolution) const { return middle(x, resolution); }
    [[nodiscard]] double mm_y(Dpi resolution) const { return middle(y, resolution); }

private:
    [[nodiscard]] double middle(double sum, Dpi resolution) const
    {
        return count == 0 ? 0 : sum * millimetres_per_inch / resolution.value / static_cast<double>(count);
    }
};

/// A side of the squares that are looked for what holds most, 2 mm in pixels.
int heap_side(Dpi resolution)
{
    return std::max(1, static_cast<int>(std::lround(2 * resolution.value / millimetres_per_inch)));
}

/// Adds the pixels of a row of so many words to the cells that they lie in.
BICHROM_CPU_CLONES void add_to_cells(const std::uint64_t *row, int words, int y, int cell, Heap *cells)
{
    // The bits of a word whose places have bit 0, 1 … 5 set.
    constexpr std::uint64_t places[] = {0xAAAAAAAAAAAAAAAAU, 0xCCCCCCCCCCCCCCCCU, 0xF0F0F0F0F0F0F0F0U,
                                        0xFF00FF00FF00FF00U, 0xFFFF0000FFFF0000U, 0xFFFFFFFF00000000U};
    for (int word = 0; word < words; ++word) {
        for (std::uint64_t left = row[word]; left != 0;) {
            const int begin = word * 64;
            const int number = (begin + std::countr_zero(left)) / cell;
            const int end = (number + 1) * cell - begin; // of the cell
            const std::uint64_t here = end >= 64 ? left : left & ((std::uint64_t(1) << end) - 1);
            left &= ~here;
            const int count = std::popcount(here);
            int sum = 0;
            for (int bit = 0; bit < 6; ++bit) {
                sum += std::popcount(here & places[bit]) << bit;
            }
            cells[number].count += count;
            cells[number].x += sum + count * (begin + 0.5);
            cells[number].y += count * (y + 0.5);
        }
    }
}

/// What lies in the square that holds most of \p map, whose first row is row \p top of the page.
Heap largest_heap(const BitPlane &map, Dpi resolution, int top = 0)
{
    const int cell = heap_side(resolution);
    std::vector<Heap> cells(static_cast<std::size_t>(map.width / cell) + 1);
    Heap largest;
    const auto end_cells = [&] {
        for (Heap &one : cells) {
            largest = one.count > largest.count ? one : largest;
            one = {};
        }
    };
    for (int y = 0; y < map.height; ++y) {
        if ((top + y) % cell == 0) {
            end_cells();
        }
        add_to_cells(map.row(y), map.words, top + y, cell, cells.data());
    }
    end_cells();
    return largest;
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

namespace {

constexpr int parts = 4;         // of a pixel in either direction that a slip is looked at in
constexpr int rows_at_once = 64; // looked at by one thread

/// What two plates uncover and darken.
struct PairSum
{
    std::int64_t bare = 0, darker = 0; // parts of pixels
    double apart = 0;                  // pixels that the two have parted by, where something shows
    std::int64_t worst = 0;            // of the square of 64 pixels that holds most: how many
    double worst_x = 0, worst_y = 0;   // and their middle

    void add(const PairSum &other)
    {
        bare += other.bare;
        darker += other.darker;
        apart = std::max(apart, other.apart);
        if (other.worst > worst) {
            worst = other.worst;
            worst_x = other.worst_x;
            worst_y = other.worst_y;
        }
    }
};

/// What shows in some rows; of all pairs by moved × plates + other.
struct SlipSum
{
    explicit SlipSum(std::size_t pairs = 0) : by_pair(pairs) {}
    std::int64_t bare = 0, base = 0, darker = 0;
    std::vector<PairSum> by_pair;

    void add(const SlipSum &other)
    {
        bare += other.bare;
        base += other.base;
        darker += other.darker;
        for (std::size_t i = 0; i < by_pair.size(); ++i) {
            by_pair[i].add(other.by_pair[i]);
        }
    }
};

/// Counts rows of plates that have moved.
class SlipRows
{
public:
    /// \param whole  any ink
    SlipRows(const SlipPlates &plates, const std::vector<SlipBack> &backs, const BitPlane &whole)
        : m_plates(plates), m_backs(backs), m_whole(whole), m_count(plates.plates.size()),
          m_sum(m_count * m_count), m_ink(m_count), m_was(m_count), m_from(m_count), m_place(m_count)
    {
    }

    /// Counts rows [\p first, \p last), and marks in \p map what shows in them.
    SlipSum count(int first, int last, BitPlane &map)
    {
        for (int y = first; y < last; ++y) {
            for (int word = 0; word < m_whole.words; ++word) {
                count_word(word, y, map.row(y)[word]);
            }
        }
        for (const auto &[key, heap] : m_heaps) {
            PairSum &pair = m_sum.by_pair[key.first];
            if (heap.count > pair.worst) {
                pair.worst = heap.count;
                pair.worst_x = heap.x / static_cast<double>(heap.count);
                pair.worst_y = heap.y / static_cast<double>(heap.count);
            }
        }
        return std::move(m_sum);
    }

private:
    void count_word(int word, int y, std::uint64_t &shown)
    {
        const int x = word * 64;
        std::uint64_t colours = 0, twice = 0;
        for (std::size_t i = 0; i < m_count; ++i) {
            m_was[i] = word_at(m_plates.plates[i], x, y);
            if (!m_plates.white[i]) {
                twice |= colours & m_was[i];
                colours |= m_was[i];
            }
        }
        // Of a word all pixels come from beside each other, and are looked at where its middle lies.
        for (std::size_t i = 0; i < m_count; ++i) {
            m_place[i] = m_backs[i].place(x + 32, y + 0.5);
        }
        // Where nothing changes within a pixel of where the word comes from, as on most of a page, all parts
        // see the same.
        if (is_even()) {
            count_part(x, y, {middle_part, middle_part, parts * parts}, colours, twice, shown);
            return;
        }
        // Parts in which every plate comes from the same whole pixels see the same too.
        for (int down = 0; down < parts;) {
            const int rows = alike(down, [](const auto &place) { return place.second - 0.5; });
            for (int across = 0; across < parts;) {
                const int columns = alike(across, [](const auto &place) { return place.first - 32; });
                count_part(x, y, {across, down, rows * columns}, colours, twice, shown,
                           across <= middle_part && middle_part < across + columns && down <= middle_part &&
                               middle_part < down + rows);
                across += columns;
            }
            down += rows;
        }
    }

    static constexpr int middle_part = parts / 2;
    [[nodiscard]] static double within_pixel(int part) { return (part + 0.5) / parts; }

    /// How many parts from \p first on lie in the same whole pixels of every plate, \p at of its place.
    template <typename At> [[nodiscard]] int alike(int first, At at) const
    {
        int count = 1;
        const auto same = [&](const auto &place) {
            return std::floor(at(place) + within_pixel(first)) ==
                   std::floor(at(place) + within_pixel(first + count));
        };
        while (first + count < parts && std::all_of(m_place.begin(), m_place.end(), same)) {
            ++count;
        }
        return count;
    }

    /// Whether every plate that has moved is the same at the four whole pixels that parts of this word come
    /// from.
    [[nodiscard]] bool is_even() const
    {
        for (std::size_t i = 0; i < m_count; ++i) {
            const auto [source_x, source_y] = m_place[i];
            const double first = within_pixel(0), last = within_pixel(parts - 1);
            const int left = static_cast<int>(std::floor(source_x - 32 + first));
            const int right = static_cast<int>(std::floor(source_x - 32 + last));
            const int top = static_cast<int>(std::floor(source_y - 0.5 + first));
            const int bottom = static_cast<int>(std::floor(source_y - 0.5 + last));
            if (left == right && top == bottom) {
                continue;
            }
            for (const BitPlane *plane : {&m_plates.plates[i], &m_plates.traces[i], &m_whole}) {
                const std::uint64_t here = word_at(*plane, left, top);
                if (here != word_at(*plane, right, top) || here != word_at(*plane, left, bottom) ||
                    here != word_at(*plane, right, bottom)) {
                    return false;
                }
            }
        }
        return true;
    }

    struct Part
    {
        int across, down;
        int times; ///< so many are alike
    };

    /// \param was_coloured, was_twice  places with one colour or more, with two or more, before
    /// \param in_map  what shows is marked
    void count_part(int x, int y, const Part &part, std::uint64_t was_coloured, std::uint64_t was_twice,
                    std::uint64_t &shown, bool in_map = true)
    {
        const double part_x = within_pixel(part.across), part_y = within_pixel(part.down);
        const int times = part.times;
        std::uint64_t inside = ~std::uint64_t(0), covered = 0, colours = 0, base = 0, twice = 0;
        for (std::size_t i = 0; i < m_count; ++i) {
            const auto [source_x, source_y] = m_place[i];
            const int from_x = static_cast<int>(std::floor(source_x - 32 + part_x));
            const int from_y = static_cast<int>(std::floor(source_y - 0.5 + part_y));
            m_from[i] = {from_x, from_y};
            m_ink[i] = word_at(m_plates.plates[i], from_x, from_y);
            inside &= word_at(m_whole, from_x, from_y);
            covered |= word_at(m_plates.traces[i], from_x, from_y);
            twice |= m_plates.white[i] ? 0 : colours & m_ink[i];
            (m_plates.white[i] ? base : colours) |= m_ink[i];
        }
        const std::uint64_t bare = inside & ~covered; // every plate has the print here, and none has ink
        const std::uint64_t on_base = base & ~colours & was_coloured;
        const std::uint64_t newly_twice = twice & ~was_twice;
        if ((bare | on_base | newly_twice) == 0) {
            return;
        }
        m_sum.bare += times * std::popcount(bare);
        m_sum.base += times * std::popcount(on_base);
        m_sum.darker += times * std::popcount(newly_twice);
        if (in_map) {
            shown |= bare | on_base;
        }
        for (std::size_t i = 0; i < m_count; ++i) {
            for (std::size_t j = 0; j < m_count; ++j) {
                if (i != j) {
                    count_pair(i, j, x, y, times, bare, on_base);
                }
            }
        }
    }

    void count_pair(std::size_t i, std::size_t j, int x, int y, int times, std::uint64_t bare,
                    std::uint64_t on_base)
    {
        PairSum &pair = m_sum.by_pair[i * m_count + j];
        const std::uint64_t left = m_was[i] & ~m_ink[i];
        // What came here instead of i's ink was beside it: j's. Of a base, what is under it stays.
        const std::uint64_t lost =
            m_plates.white[j] ? on_base & m_ink[j] & left
            : (bare & left) != 0
                ? bare & left & word_at(m_plates.plates[j], m_from[i].first, m_from[i].second)
                : 0;
        if (lost != 0) {
            pair.bare += times * std::popcount(lost);
            const auto [xi, yi] = m_place[i];
            const auto [xj, yj] = m_place[j];
            pair.apart = std::max(pair.apart, std::hypot(xi - xj, yi - yj));
            Heap &heap = m_heaps[{i * m_count + j, x}];
            for (std::uint64_t bits = lost; bits != 0; bits &= bits - 1) {
                heap.count += times;
                heap.x += times * (x + std::countr_zero(bits) + 0.5);
                heap.y += times * (y + 0.5);
            }
        }
        if (i < j && !m_plates.white[i] && !m_plates.white[j]) {
            pair.darker += times * std::popcount(m_ink[i] & m_ink[j] & ~(m_was[i] & m_was[j]));
        }
    }

    const SlipPlates &m_plates;
    const std::vector<SlipBack> &m_backs;
    const BitPlane &m_whole;
    std::size_t m_count;
    SlipSum m_sum;
    std::vector<std::uint64_t> m_ink, m_was;             // of a word, by plate: as moved, and before
    std::vector<std::pair<int, int>> m_from;             // where it came from
    std::vector<std::pair<double, double>> m_place;      // where the word's middle comes from
    std::map<std::pair<std::size_t, int>, Heap> m_heaps; // by pair and column
};

} // namespace

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
    BitPlane whole(plates.width, plates.height);
    for (const BitPlane &plate : plates.plates) {
        add(whole, plate);
    }
    std::mutex guard;
    SlipSum total(count * count);
    each_row((plates.height + rows_at_once - 1) / rows_at_once,
             [&](int group) {
                 const int first = group * rows_at_once;
                 const SlipSum sum =
                     SlipRows(plates, backs, whole)
                         .count(first, std::min(plates.height, first + rows_at_once), result.map);
                 const std::lock_guard lock(guard);
                 total.add(sum);
             },
             control);
    if (control.cancelled()) {
        return stopped();
    }
    const double area = square_mm(plates) / (parts * parts);
    result.bare = static_cast<double>(total.bare) * area;
    result.base = static_cast<double>(total.base) * area;
    result.darker = static_cast<double>(total.darker) * area;
    const Heap worst = largest_heap(result.map, plates.resolution);
    result.worst_x = worst.mm_x(plates.resolution);
    result.worst_y = worst.mm_y(plates.resolution);
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t j = 0; j < count; ++j) {
            const PairSum &sum = total.by_pair[i * count + j];
            if (sum.bare == 0 && sum.darker == 0) {
                continue;
            }
            SlipPair pair;
            pair.moved = plates.inks[i];
            pair.other = plates.inks[j];
            pair.base = plates.white[j];
            pair.bare = static_cast<double>(sum.bare) * area;
            pair.darker = static_cast<double>(sum.darker) * area;
            pair.closes = sum.apart / per_mm;
            pair.worst_x = sum.worst_x / per_mm;
            pair.worst_y = sum.worst_y / per_mm;
            result.pairs.push_back(std::move(pair));
        }
    }
    sort_pairs(result.pairs);
    return result;
}

namespace {

/// A pixel's nearest neighbour across a slanted edge is on the mean a third nearer than one.
constexpr double slant = 0.3;

/// What one plate uncovers beside another, or of the white under it, and where it darkens it.
struct Within
{
    std::int64_t bare = 0, darker = 0; ///< pixels
    Heap worst;
    double closes = 0; ///< mm

    void add(const Within &other)
    {
        bare += other.bare;
        darker += other.darker;
        worst = other.worst.count > worst.count ? other.worst : worst;
        closes = std::max(closes, other.closes);
    }
};

/// What any slip within a length uncovers in some rows. Small enough for the processor's memory, since every
/// plate is laid over every other.
class WithinBand
{
public:
    /// Rows [\p first, \p last) of the page.
    /// \param closed  by pair, moved × plates + other, the trap that closes the bands so far, mm; all 0 first
    WithinBand(const SlipPlates &plates, double within, int first, int last,
               std::vector<std::atomic<double>> &closed)
        : m_resolution(plates.resolution), m_white(plates.white), m_closed(closed), m_within(within),
          m_radius(pixels(within)), m_top(std::max(0, first - static_cast<int>(m_radius) - 1)),
          m_inside(plates.width, std::min(plates.height, last + static_cast<int>(m_radius) + 1) - m_top),
          m_bare(m_inside.width, m_inside.height), m_base(m_bare), m_darker(m_bare)
    {
        const int height = m_inside.height;
        for (std::size_t i = 0; i < plates.plates.size(); ++i) {
            m_plates.push_back(rows_of(plates.plates[i], height));
            m_traces.push_back(rows_of(plates.traces[i], height));
        }
        for (int y = first; y < last; ++y) {
            m_inside.set(y - m_top, 0, plates.width);
        }
        m_pairs.resize(m_plates.size() * m_plates.size());
        m_bases.resize(m_pairs.size());
    }

    void find()
    {
        const std::size_t count = m_plates.size();
        BitPlane whole(m_inside.width, m_inside.height);
        for (const BitPlane &plate : m_plates) {
            add(whole, plate);
            m_reached.push_back(any(plate) ? both(dilated(plate, m_radius, &m_inside), m_inside)
                                           : BitPlane(plate.width, plate.height));
        }
        for (std::size_t i = 0; i < count; ++i) {
            if (!any(m_plates[i])) {
                continue;
            }
            BitPlane alone = both(m_plates[i], m_inside); // nothing else is here
            BitPlane alone_in_colour = alone;             // nothing but white
            for (std::size_t j = 0; j < count; ++j) {
                if (j != i) {
                    take(alone, m_traces[j]);
                    if (!m_white[j]) {
                        take(alone_in_colour, m_plates[j]);
                    }
                }
            }
            const BitPlane others = without(whole, m_traces[i]); // where it is not though the print is
            // Its own place that it may leave, by who is beside it.
            const BitPlane left = both(dilated(others, m_radius, &alone), alone);
            add(m_bare, left);
            for (std::size_t j = 0; j < count; ++j) {
                if (!m_white[i] && m_white[j]) {
                    look_off_base(i, j, alone_in_colour);
                }
                if (j != i && any(m_plates[j])) {
                    look_beside(i, j, left);
                }
            }
        }
    }

    /// Those of pair moved × plates + other.
    [[nodiscard]] const std::vector<Within> &pairs() const { return m_pairs; }
    [[nodiscard]] const std::vector<Within> &bases() const { return m_bases; }
    /// What is uncovered, alone or of a base, and darkened; row 0 is row top() of the page.
    [[nodiscard]] int top() const { return m_top; }
    [[nodiscard]] const BitPlane &bare() const { return m_bare; }
    [[nodiscard]] const BitPlane &base() const { return m_base; }
    [[nodiscard]] const BitPlane &darker() const { return m_darker; }

private:
    [[nodiscard]] double pixels(double mm) const
    {
        return mm * m_resolution.value / millimetres_per_inch + slant;
    }
    [[nodiscard]] BitPlane rows_of(const BitPlane &plane, int height) const
    {
        BitPlane rows(plane.width, height);
        std::copy(plane.row(m_top), plane.row(m_top) + rows.bits.size(), rows.bits.begin());
        return rows;
    }

    /// White under plate \p i, that ends where it ends: any way off leaves white alone.
    void look_off_base(std::size_t i, std::size_t j, const BitPlane &alone_in_colour)
    {
        BitPlane on_white = both(alone_in_colour, m_plates[j]);
        if (!any(on_white)) {
            return;
        }
        BitPlane off(on_white.width, on_white.height);
        for (std::size_t word = 0; word < off.bits.size(); ++word) {
            off.bits[word] = ~(m_traces[i].bits[word] | m_plates[j].bits[word]);
        }
        on_white = both(dilated(off, m_radius, &on_white), on_white);
        if (any(on_white)) {
            m_bases[i * m_plates.size() + j] = {on_white.count(), 0,
                                                largest_heap(on_white, m_resolution, m_top), m_within};
            add(m_base, on_white);
        }
    }

    void look_beside(std::size_t i, std::size_t j, const BitPlane &left)
    {
        const BitPlane beside = without(m_plates[j], m_traces[i]);
        Within &pair = m_pairs[i * m_plates.size() + j];
        BitPlane gap = both(m_reached[j], left); // at most
        if (any(gap)) {
            gap = both(dilated(beside, m_radius, &gap), gap);
        }
        if (any(gap)) {
            pair.bare = gap.count();
            pair.worst = largest_heap(gap, m_resolution, m_top);
            pair.closes = closes(std::move(gap), beside, m_closed[i * m_plates.size() + j]);
        }
        if (i < j && !m_white[i] && !m_white[j]) {
            // Where one may slide over what the other has for itself.
            BitPlane lies = both(m_reached[i], beside);
            add(lies, both(m_reached[j], without(m_plates[i], m_plates[j])));
            pair.darker = lies.count();
            add(m_darker, lies);
        }
    }

    /// The least trap, in mm, that reaches from \p beside to every place of \p gap, or what \p known says if
    /// that is more: only the widest of all bands counts. \p known is that of the bands so far.
    [[nodiscard]] double closes(BitPlane gap, const BitPlane &beside, std::atomic<double> &known) const
    {
        const double before = known.load();
        if (before > 0) {
            gap = without(gap, dilated(beside, pixels(before), &gap));
            if (!any(gap)) {
                return before;
            }
        }
        // Halve the interval to a hundredth of a millimetre. What one reaches every wider one does.
        double low = 0, high = m_within;
        while (high - low > 0.01) {
            const double middle = (low + high) / 2;
            if (middle <= before) {
                low = middle;
                continue;
            }
            BitPlane open = without(gap, dilated(beside, pixels(middle), &gap));
            if (any(open)) {
                low = middle;
                gap = std::move(open);
            } else {
                high = middle;
            }
        }
        double widest = before;
        while (widest < high && !known.compare_exchange_weak(widest, high)) {
        }
        return high;
    }

    Dpi m_resolution;
    const std::vector<bool> &m_white;
    std::vector<std::atomic<double>> &m_closed;
    double m_within, m_radius;
    int m_top;
    BitPlane m_inside; ///< the rows asked for, without those that are looked at around them
    BitPlane m_bare, m_base, m_darker;
    std::vector<BitPlane> m_plates, m_traces;
    std::vector<BitPlane> m_reached; ///< by plate, where it may slip to
    std::vector<Within> m_pairs, m_bases;
};

} // namespace

Outcome<SlipResult> slip_within(const SlipPlates &plates, double within, const JobControl &control)
{
    if (!(within > 0 && within <= 5)) {
        return Error{ErrorCode::OutOfRange, "A slip is tested up to 5 mm.", {}, "Type a length above 0."};
    }
    const std::size_t count = plates.plates.size();
    const double area = square_mm(plates);
    SlipResult result;
    result.map = BitPlane(plates.width, plates.height);
    // Whole squares of the largest heaps, which are looked for in each band by itself.
    const int rows = heap_side(plates.resolution) * 6;
    const int bands = (plates.height + rows - 1) / rows;
    struct Found
    {
        std::vector<Within> pairs, bases;
        std::int64_t bare = 0, base = 0, darker = 0;
        Heap worst, worst_base;
    };
    std::vector<Found> found(static_cast<std::size_t>(bands));
    std::vector<std::atomic<double>> closed(count * count);
    std::atomic<std::int64_t> done{0};
    each_row(
        bands,
        [&](int number) {
            const int first = number * rows, last = std::min(plates.height, first + rows);
            WithinBand band(plates, within, first, last, closed);
            band.find();
            Found &here = found[static_cast<std::size_t>(number)];
            here = {band.pairs(),
                    band.bases(),
                    band.bare().count(),
                    band.base().count(),
                    band.darker().count(),
                    largest_heap(band.bare(), plates.resolution, band.top()),
                    largest_heap(band.base(), plates.resolution, band.top())};
            for (int y = first; y < last; ++y) {
                std::transform(band.bare().row(y - band.top()),
                               band.bare().row(y - band.top()) + result.map.words,
                               band.base().row(y - band.top()), result.map.row(y),
                               [](std::uint64_t a, std::uint64_t b) { return a | b; });
            }
            control.progress(++done, bands);
        },
        control);
    if (control.cancelled()) {
        return stopped();
    }
    Found all;
    all.pairs.resize(count * count);
    all.bases.resize(count * count);
    for (const Found &one : found) {
        all.bare += one.bare;
        all.base += one.base;
        all.darker += one.darker;
        all.worst = one.worst.count > all.worst.count ? one.worst : all.worst;
        all.worst_base = one.worst_base.count > all.worst_base.count ? one.worst_base : all.worst_base;
        for (std::size_t i = 0; i < one.pairs.size(); ++i) {
            all.pairs[i].add(one.pairs[i]);
            all.bases[i].add(one.bases[i]);
        }
    }
    result.bare = static_cast<double>(all.bare) * area;
    result.base = static_cast<double>(all.base) * area;
    result.darker = static_cast<double>(all.darker) * area;
    const Heap &worst = all.bare > 0 ? all.worst : all.worst_base;
    result.worst_x = worst.mm_x(plates.resolution);
    result.worst_y = worst.mm_y(plates.resolution);
    const auto put = [&](std::size_t i, std::size_t j, const Within &one, bool base) {
        if (one.bare == 0 && one.darker == 0) {
            return;
        }
        SlipPair pair;
        pair.moved = plates.inks[i];
        pair.other = plates.inks[j];
        pair.base = base;
        pair.bare = static_cast<double>(one.bare) * area;
        pair.darker = static_cast<double>(one.darker) * area;
        pair.worst_x = one.worst.mm_x(plates.resolution);
        pair.worst_y = one.worst.mm_y(plates.resolution);
        pair.closes = base ? one.closes : std::ceil(one.closes * 100 - 1e-6) / 100;
        result.pairs.push_back(std::move(pair));
    };
    for (std::size_t i = 0; i < count; ++i) {
        for (std::size_t j = 0; j < count; ++j) {
            put(i, j, all.bases[i * count + j], true);
        }
        for (std::size_t j = 0; j < count; ++j) {
            put(i, j, all.pairs[i * count + j], false);
        }
    }
    sort_pairs(result.pairs);
    return result;
}

} // namespace bichrom
