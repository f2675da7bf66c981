#include "core/line/tuple_rows.h"

#include "core/raster/even_stretch.h"

#include <algorithm>
#include <cstring>

namespace bichrom {

namespace {

/// FNV-1a, 64 bits, over eight bytes at a time.
std::uint64_t hash_of(std::span<const std::uint64_t> words)
{
    std::uint64_t hash = 14695981039346656037U;
    for (const std::uint64_t word : words) {
        hash = (hash ^ word) * 1099511628211U;
        hash ^= hash >> 29;
    }
    return hash;
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
    : m_width(width), m_left(left), m_plates(plates), m_words(std::max<std::size_t>(1, (plates + 7) / 8)),
      m_slots(1024), m_one(m_words), m_above(plates)
{
}

void TupleRows::grow()
{
    m_slots.assign(m_slots.size() * 4, 0);
    for (std::uint32_t number = 0; number < tuples(); ++number) {
        std::size_t slot = hash_of(words_of(number)) & (m_slots.size() - 1);
        while (m_slots[slot] != 0) {
            slot = (slot + 1) & (m_slots.size() - 1);
        }
        m_slots[slot] = number + 1;
    }
}

bool TupleRows::is_one(std::uint32_t number) const
{
    const std::span<const std::uint64_t> words = words_of(number);
    return std::equal(words.begin(), words.end(), m_one.begin());
}

std::uint32_t TupleRows::number_of_one()
{
    std::size_t slot = hash_of(m_one) & (m_slots.size() - 1);
    while (m_slots[slot] != 0) {
        const std::uint32_t number = m_slots[slot] - 1;
        if (is_one(number)) {
            return number;
        }
        slot = (slot + 1) & (m_slots.size() - 1);
    }
    const auto number = static_cast<std::uint32_t>(tuples());
    m_tones.insert(m_tones.end(), m_one.begin(), m_one.end());
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
    // Mostly the stretches are those of the row above, with ends a little elsewhere.
    std::size_t guess = m_rows.empty() ? first : m_rows.back().first;
    auto *const one = reinterpret_cast<std::uint8_t *>(m_one.data());
    for (int x = 0; x < m_width;) {
        int end = m_width;
        for (std::size_t i = 0; i < m_plates; ++i) {
            Cursor &cursor = cursors[i];
            if (cursor.until <= x) {
                cursor.move_to(x, m_width);
                one[i] = cursor.tone;
            }
            end = std::min(end, cursor.until);
        }
        std::uint32_t number = 0;
        if (guess < first && is_one(m_spans[guess].tuple)) {
            number = m_spans[guess++].tuple;
        } else {
            number = number_of_one();
            while (guess < first && m_spans[guess].end <= end) { // one is gone or new there
                ++guess;
            }
        }
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

void TupleColumns::take(const TupleRows &whole, int left, int right, int from)
{
    m_spans.clear();
    m_rows.clear();
    m_changes.clear();
    m_next.resize(static_cast<std::size_t>(whole.height()));
    for (int y = 0; y < whole.height(); ++y) {
        Stretch row;
        if (y > 0) {
            row = m_rows.back();
        }
        row.changes = static_cast<std::uint32_t>(m_changes.size());
        std::uint32_t &next = m_next[static_cast<std::size_t>(y)];
        if (y > 0 && whole.same(y, y - 1)) {
            next = m_next[static_cast<std::size_t>(y) - 1];
            m_rows.push_back(row);
            continue;
        }
        const auto spans = whole.row(y);
        while (spans[next].end <= left) {
            ++next;
        }
        row.first = static_cast<std::uint32_t>(m_spans.size());
        row.start = 0;
        std::size_t at = next;
        for (; spans[at].end < right; ++at) {
            row.start += spans[at].end <= from ? 1 : 0;
            m_spans.push_back(spans[at]);
        }
        m_spans.push_back({right, spans[at].tuple});
        row.count = static_cast<std::uint32_t>(m_spans.size()) - row.first;
        if (y > 0) {
            add_changes(m_rows.back(), row, left);
            if (m_changes.size() == row.changes) {
                m_spans.resize(row.first);
                row = m_rows.back(); // and no change of its own
                row.changes = static_cast<std::uint32_t>(m_changes.size());
            }
        }
        m_rows.push_back(row);
    }
    Stretch end;
    end.changes = static_cast<std::uint32_t>(m_changes.size());
    m_rows.push_back(end);
}

void TupleColumns::add_changes(const Stretch &above, const Stretch &below, int left)
{
    const TupleSpan *a = m_spans.data() + above.first, *b = m_spans.data() + below.first;
    const TupleSpan *const first_a = a, *const first_b = b, *const end_b = b + below.count;
    for (int x = left; b != end_b;) {
        const int end = std::min(a->end, b->end);
        if (a->tuple != b->tuple) {
            m_changes.push_back(
                {x, end, static_cast<std::uint32_t>(a - first_a), static_cast<std::uint32_t>(b - first_b)});
        }
        x = end;
        const int a_ends = a->end, b_ends = b->end;
        a += a_ends == end ? 1 : 0;
        b += b_ends == end ? 1 : 0;
    }
}

} // namespace bichrom
