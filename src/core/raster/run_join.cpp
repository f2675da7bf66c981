#include "core/raster/run_join.h"

#include <algorithm>
#include <cstring>
#include <numeric>
#include <utility>

namespace bichrom {

namespace {

/// Goes through the runs of a row and the bare stretches between them, from left to right.
class RowCursor
{
public:
    RowCursor(std::span<const ToneRun> runs, int width) : m_runs(runs), m_width(width) { look(0); }
    /// Column up to which it goes on.
    [[nodiscard]] int end() const { return m_end; }
    [[nodiscard]] bool flat() const { return m_run == nullptr || m_run->tones == nullptr; }
    [[nodiscard]] std::uint8_t tone() const { return m_run == nullptr ? std::uint8_t(0) : m_run->tone; }
    /// From column \p x on. \pre not flat
    [[nodiscard]] const std::uint8_t *tones(int x) const { return m_run->tones + (x - m_run->begin); }
    void go_to(int x)
    {
        if (x >= m_end) {
            m_at += m_run != nullptr ? 1 : 0;
            look(x);
        }
    }

private:
    void look(int x)
    {
        if (m_at == m_runs.size()) {
            m_run = nullptr;
            m_end = m_width;
            return;
        }
        const ToneRun &next = m_runs[m_at];
        m_run = next.begin <= x ? &next : nullptr;
        m_end = next.begin <= x ? next.end : next.begin;
    }

    std::span<const ToneRun> m_runs;
    int m_width;
    std::size_t m_at = 0;
    const ToneRun *m_run = nullptr;
    int m_end = 0;
};

void add_flat(RunPlane &to, int begin, int end, std::uint8_t tone)
{
    if (tone != 0) {
        to.add({begin, end, tone, nullptr});
    }
}

} // namespace

std::uint8_t *ToneMemory::take(std::size_t count)
{
    constexpr std::size_t block = 256 * 1024;
    if (count > m_left) {
        m_left = std::max(block, count);
        m_blocks.push_back(std::shared_ptr<std::uint8_t[]>(new std::uint8_t[m_left]));
        m_next = m_blocks.back().get();
    }
    m_left -= count;
    return std::exchange(m_next, m_next + count);
}

void ToneMemory::give_to(RunPlane &plane)
{
    for (const auto &block : m_blocks) {
        plane.keep(block);
    }
}

PairTable::PairTable(Change by) : m_values(std::size_t(256) * 256), m_change(by)
{
    std::array<std::uint8_t, 256> others{};
    std::iota(others.begin(), others.end(), std::uint8_t(0));
    for (std::size_t one = 0; one < 256; ++one) {
        std::uint8_t *row = m_values.data() + one * 256;
        std::fill_n(row, 256, static_cast<std::uint8_t>(one));
        by(row, others.data(), 256);
    }
    look();
}

PairTable::PairTable(std::vector<std::uint8_t> values) : m_values(std::move(values))
{
    look();
}

void PairTable::look()
{
    const auto look_at = [](Beside &beside, const auto &value) {
        bool leaves = true, even = true;
        for (int tone = 0; tone < 256; ++tone) {
            leaves = leaves && value(tone) == tone;
            even = even && value(tone) == value(0);
        }
        beside.kind = leaves ? Beside::Kind::Leaves : even ? Beside::Kind::Tone : Beside::Kind::Changes;
        beside.tone = value(0);
    };
    for (std::size_t known = 0; known < 256; ++known) {
        look_at(m_by_other[known],
                [&](int one) { return m_values[static_cast<std::size_t>(one) << 8 | known]; });
        look_at(m_by_one[known],
                [&](int other) { return m_values[known << 8 | static_cast<std::size_t>(other)]; });
    }
}

void PairTable::change(std::uint8_t *out, const std::uint8_t *other, std::size_t count) const
{
    if (m_change != nullptr) {
        m_change(out, other, count);
        return;
    }
    for (std::size_t i = 0; i < count; ++i) {
        out[i] = m_values[std::size_t(out[i]) << 8 | other[i]];
    }
}

void add_joined(RunPlane &to, std::span<const ToneRun> one, std::span<const ToneRun> other,
                const PairTable &table, ToneMemory &memory)
{
    using Kind = PairTable::Beside::Kind;
    RowCursor a(one, to.width()), b(other, to.width());
    for (int x = 0; x < to.width();) {
        const int end = std::min(a.end(), b.end());
        const auto count = static_cast<std::size_t>(end - x);
        if (a.flat() && b.flat()) {
            add_flat(to, x, end, table.at(a.tone(), b.tone()));
        } else {
            const PairTable::Beside beside = b.flat()   ? table.by_other(b.tone())
                                             : a.flat() ? table.by_one(a.tone())
                                                        : PairTable::Beside();
            if (beside.kind == Kind::Tone) {
                add_flat(to, x, end, beside.tone);
            } else if (beside.kind == Kind::Leaves) {
                to.add({x, end, 0, b.flat() ? a.tones(x) : b.tones(x)});
            } else {
                std::uint8_t *made = memory.take(count);
                a.flat() ? std::memset(made, a.tone(), count) : std::memcpy(made, a.tones(x), count);
                if (b.flat()) {
                    const std::vector<std::uint8_t> even(count, b.tone());
                    table.change(made, even.data(), count);
                } else {
                    table.change(made, b.tones(x), count);
                }
                to.add({x, end, 0, made});
            }
        }
        x = end;
        a.go_to(x);
        b.go_to(x);
    }
    to.end_row();
}

void add_changed(RunPlane &to, std::span<const ToneRun> row, const ToneTable &table, ToneMemory &memory)
{
    RowCursor at(row, to.width());
    for (int x = 0; x < to.width(); at.go_to(x)) {
        const int end = at.end();
        if (at.flat()) {
            add_flat(to, x, end, table[at.tone()]);
        } else {
            const auto count = static_cast<std::size_t>(end - x);
            std::uint8_t *made = memory.take(count);
            std::transform(at.tones(x), at.tones(x) + count, made,
                           [&](std::uint8_t tone) { return table[tone]; });
            to.add({x, end, 0, made});
        }
        x = end;
    }
    to.end_row();
}

} // namespace bichrom
