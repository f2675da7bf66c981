#include "core/line/tuple_rows.h"

#include <algorithm>
#include <cstring>

namespace bichrom {

namespace {

/// FNV-1a, 64 bits, over eight bytes at a time.
std::uint64_t hash_of(const std::uint8_t *bytes, std::size_t count)
{
    std::uint64_t hash = 14695981039346656037U;
    for (std::size_t i = 0; i < count; i += 8) {
        std::uint64_t word = 0;
        std::memcpy(&word, bytes + i, std::min<std::size_t>(8, count - i));
        hash = (hash ^ word) * 1099511628211U;
        hash ^= hash >> 29;
    }
    return hash;
}

/// The first column after \p x, at most \p end, where \p tones change. \p tones is of column \p begin.
int change_after(const std::uint8_t *tones, int begin, int x, int end)
{
    const std::uint8_t tone = tones[x - begin];
    std::uint64_t alike = 0;
    std::memset(&alike, tone, sizeof alike);
    int at = x + 1;
    for (std::uint64_t word = 0; at + 8 <= end; at += 8) {
        std::memcpy(&word, tones + (at - begin), sizeof word);
        if (word != alike) {
            break;
        }
    }
    while (at < end && tones[at - begin] == tone) {
        ++at;
    }
    return at;
}

/// The mean of a block of tones that are within two of each other; −1 where they are not.
int even_tone(const std::uint8_t *tones)
{
    int sum = 0;
    std::uint8_t low = 255, high = 0;
    for (int i = 0; i < TupleRows::block; ++i) {
        sum += tones[i];
        low = std::min(low, tones[i]);
        high = std::max(high, tones[i]);
    }
    return high - low <= 2 ? (sum + TupleRows::block / 2) / TupleRows::block : -1;
}

/// Walks the runs of one plate in a row from left to right.
struct Cursor
{
    int left = 0; ///< column of the page that column 0 is
    std::span<const ToneRun> runs;
    std::size_t next = 0; ///< the first run that does not end before the column
    int until = 0;        ///< the tone holds up to here
    std::uint8_t tone = 0;

    void move_to(int x, int width)
    {
        while (next < runs.size() && runs[next].end <= x) {
            ++next;
        }
        if (next == runs.size() || runs[next].begin > x) {
            tone = 0;
            until = next == runs.size() ? width : std::min(width, runs[next].begin);
            return;
        }
        const ToneRun &run = runs[next];
        if (run.tones == nullptr) {
            tone = run.tone;
            until = run.end;
        } else {
            look_at(run, x);
        }
    }

    /// A run of many tones from column \p x on.
    void look_at(const ToneRun &run, int x)
    {
        constexpr int block = TupleRows::block;
        const int border = x - (x + left) % block + block; // of the block that holds x
        const auto even = [&](int at) {
            return at + block <= run.end ? even_tone(run.tones + (at - run.begin)) : -1;
        };
        const int mean = border - block == x ? even(x) : -1;
        if (mean < 0) {
            tone = run.tones[x - run.begin];
            int to = border;
            until = change_after(run.tones, run.begin, x, std::min(run.end, to));
            while (until == to && until < run.end && run.tones[until - run.begin] == tone &&
                   even(until) < 0) {
                to += block;
                until = change_after(run.tones, run.begin, until, std::min(run.end, to));
            }
            return;
        }
        tone = static_cast<std::uint8_t>(mean);
        until = border;
        while (even(until) == mean) {
            until += block;
        }
    }
};

bool same_runs(std::span<const ToneRun> a, std::span<const ToneRun> b)
{
    return a.size() == b.size() &&
           std::equal(a.begin(), a.end(), b.begin(), [](const ToneRun &one, const ToneRun &other) {
               if (one.begin != other.begin || one.end != other.end) {
                   return false;
               }
               if (one.tones == nullptr || other.tones == nullptr) {
                   return one.tones == other.tones && one.tone == other.tone;
               }
               // Rows of a picture's pixel are alike, each with tones of its own.
               return one.tones == other.tones ||
                      std::memcmp(one.tones, other.tones, static_cast<std::size_t>(one.end - one.begin)) == 0;
           });
}

} // namespace

TupleRows::TupleRows(int width, std::size_t plates, int left)
    : m_width(width), m_left(left), m_plates(plates), m_slots(1024), m_one(plates), m_above(plates)
{
}

void TupleRows::grow()
{
    m_slots.assign(m_slots.size() * 4, 0);
    for (std::uint32_t number = 0; number < tuples(); ++number) {
        std::size_t slot = hash_of(&m_tones[number * m_plates], m_plates) & (m_slots.size() - 1);
        while (m_slots[slot] != 0) {
            slot = (slot + 1) & (m_slots.size() - 1);
        }
        m_slots[slot] = number + 1;
    }
}

std::uint32_t TupleRows::number_of(const std::vector<std::uint8_t> &tones)
{
    std::size_t slot = hash_of(tones.data(), m_plates) & (m_slots.size() - 1);
    while (m_slots[slot] != 0) {
        const std::uint32_t number = m_slots[slot] - 1;
        if (std::memcmp(&m_tones[number * m_plates], tones.data(), m_plates) == 0) {
            return number;
        }
        slot = (slot + 1) & (m_slots.size() - 1);
    }
    const auto number = static_cast<std::uint32_t>(tuples());
    m_tones.insert(m_tones.end(), tones.begin(), tones.end());
    m_slots[slot] = number + 1;
    if (tuples() * 2 > m_slots.size()) {
        grow();
    }
    return number;
}

void TupleRows::add_row(std::span<const RunPlane *const> planes, int y)
{
    thread_local std::vector<Cursor> cursors;
    cursors.assign(m_plates, {});
    bool repeats = !m_rows.empty();
    for (std::size_t i = 0; i < m_plates; ++i) {
        cursors[i].left = m_left;
        cursors[i].runs = planes[i] == nullptr ? std::span<const ToneRun>() : planes[i]->row(y);
        repeats = repeats && same_runs(cursors[i].runs, m_above[i]);
        m_above[i] = cursors[i].runs;
    }
    if (repeats) {
        m_rows.push_back(m_rows.back());
        return;
    }
    const std::size_t first = m_spans.size();
    for (int x = 0; x < m_width;) {
        int end = m_width;
        for (std::size_t i = 0; i < m_plates; ++i) {
            Cursor &cursor = cursors[i];
            if (cursor.until <= x) {
                cursor.move_to(x, m_width);
            }
            m_one[i] = cursor.tone;
            end = std::min(end, cursor.until);
        }
        const std::uint32_t number = number_of(m_one);
        if (m_spans.size() > first && m_spans.back().tuple == number) {
            m_spans.back().end = end;
        } else {
            m_spans.push_back({end, number});
        }
        x = end;
    }
    const Stretch row = {first, m_spans.size() - first};
    if (!m_rows.empty()) {
        const Stretch &above = m_rows.back();
        if (above.count == row.count &&
            std::equal(m_spans.begin() + static_cast<std::ptrdiff_t>(first), m_spans.end(),
                       m_spans.begin() + static_cast<std::ptrdiff_t>(above.first))) {
            m_spans.resize(first);
            m_rows.push_back(above);
            return;
        }
    }
    m_rows.push_back(row);
}

std::size_t TupleRows::find(int y, int x) const
{
    const auto spans = row(y);
    return static_cast<std::size_t>(
        std::upper_bound(spans.begin(), spans.end(), x,
                         [](int column, const TupleSpan &span) { return column < span.end; }) -
        spans.begin());
}

} // namespace bichrom
