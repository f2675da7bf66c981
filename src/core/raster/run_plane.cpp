#include "core/raster/run_plane.h"

#include "core/base/cpu_clones.h"
#include "core/raster/even_stretch.h"

#include <algorithm>
#include <cstring>
#include <numeric>

namespace bichrom {

RunPlane::RunPlane(Plane plane) : RunPlane(plane.width, plane.height)
{
    const auto kept = std::make_shared<const Plane>(std::move(plane));
    for (int y = 0; y < m_height; ++y) {
        add_tones(0, kept->row(y).data(), m_width);
        end_row();
    }
    keep(kept);
}

void RunPlane::add_tones(int begin, const std::uint8_t *tones, int count)
{
    constexpr int least = 32; // columns of one tone that are worth a run of their own
    int mixed = 0;            // the first column of what is not flat
    const auto add_mixed = [&](int end) {
        if (mixed < end) {
            add({begin + mixed, begin + end, 0, tones + mixed});
        }
    };
    for (int x = 0; x < count;) {
        const int end = change_after(tones, 0, x, count);
        if (end - x >= least || (x == mixed && end == count)) {
            add_mixed(x);
            if (tones[x] != 0) {
                add({begin + x, begin + end, tones[x], nullptr});
            }
            mixed = end;
        }
        x = end;
    }
    add_mixed(count);
}

void RunPlane::repeat_row()
{
    if (m_first.size() > 1) {
        const std::size_t begin = m_first[m_first.size() - 2];
        const std::size_t end = m_first.back();
        for (std::size_t i = begin; i < end; ++i) {
            m_runs.push_back(ToneRun(m_runs[i]));
        }
    }
    end_row();
}

void RunPlane::add_rows(const std::shared_ptr<const RunPlane> &other, int first, int last)
{
    for (int y = first; y < last; ++y) {
        const auto runs = other->row(y);
        m_runs.insert(m_runs.end(), runs.begin(), runs.end());
        end_row();
    }
    keep(other);
}

/// The runs of row \p y but those that end before column \p begin.
std::span<const ToneRun> RunPlane::runs_from(int y, int begin) const
{
    const auto runs = row(y);
    const auto first =
        std::partition_point(runs.begin(), runs.end(), [&](const ToneRun &run) { return run.end <= begin; });
    return {first, runs.end()};
}

void RunPlane::write_part(int y, int begin, int end, std::uint8_t *tones) const
{
    int from = begin;
    for (const ToneRun &run : runs_from(y, begin)) {
        const int first = std::max(run.begin, begin), last = std::min(run.end, end);
        if (first >= last) {
            break;
        }
        const auto count = static_cast<std::size_t>(last - first);
        std::memset(tones + (from - begin), 0, static_cast<std::size_t>(first - from));
        if (run.tones == nullptr) {
            std::memset(tones + (first - begin), run.tone, count);
        } else {
            std::memcpy(tones + (first - begin), run.tones + (first - run.begin), count);
        }
        from = last;
    }
    std::memset(tones + (from - begin), 0, static_cast<std::size_t>(end - from));
}

int RunPlane::even_tone(int y, int begin, int end) const
{
    const auto runs = runs_from(y, begin);
    if (runs.empty() || runs.front().begin >= end) {
        return 0;
    }
    const ToneRun &run = runs.front();
    return run.tones == nullptr && run.begin <= begin && run.end >= end ? run.tone : -1;
}

Plane RunPlane::plane() const
{
    Plane plane(m_width, m_height);
    for (int y = 0; y < m_height; ++y) {
        if (!row(y).empty()) {
            write_row(y, plane.row(y).data());
        }
    }
    return plane;
}

void RunPlane::average(int by, Plane &out, int y) const
{
    std::vector<std::uint32_t> sums;
    const auto square = static_cast<std::uint32_t>(by * by);
    for (int group = 0; group < m_height / by; ++group) {
        sums.clear();
        for (int line = group * by; line < (group + 1) * by; ++line) {
            for (const ToneRun &run : row(line)) {
                sums.resize(static_cast<std::size_t>(m_width / by)); // zeros, when it is the first
                for (int x = run.begin; x < run.end;) {
                    const int pixel = x / by;
                    const int next = std::min(run.end, (pixel + 1) * by);
                    std::uint32_t &sum = sums[static_cast<std::size_t>(pixel)];
                    if (run.tones == nullptr) {
                        sum += run.tone * static_cast<std::uint32_t>(next - x);
                    } else {
                        sum =
                            std::accumulate(run.tones + (x - run.begin), run.tones + (next - run.begin), sum);
                    }
                    x = next;
                }
            }
        }
        const auto to = out.row(y + group);
        if (sums.empty()) {
            std::fill(to.begin(), to.end(), std::uint8_t(0));
        }
        for (std::size_t x = 0; x < sums.size(); ++x) {
            to[x] = static_cast<std::uint8_t>((sums[x] + square / 2) / square);
        }
    }
}

namespace {

/// The sum of \p count tones: eight at once in lanes of 16 bits, two of which make up a word.
BICHROM_CPU_CLONES std::uint64_t sum_of(const std::uint8_t *tones, int count)
{
    constexpr std::uint64_t even = 0x00FF00FF00FF00FF;
    constexpr int most = 128; // words, of which no lane runs over
    std::uint64_t sum = 0;
    int at = 0;
    while (count - at >= 8) {
        const int words = std::min(most, (count - at) / 8);
        std::uint64_t lanes = 0;
        for (int i = 0; i < words; ++i) {
            std::uint64_t word = 0;
            std::memcpy(&word, tones + at + i * 8, 8);
            lanes += (word & even) + (word >> 8 & even);
        }
        sum += (lanes & 0xFFFF) + (lanes >> 16 & 0xFFFF) + (lanes >> 32 & 0xFFFF) + (lanes >> 48);
        at += words * 8;
    }
    for (; at < count; ++at) {
        sum += tones[at];
    }
    return sum;
}

} // namespace

std::uint64_t RunPlane::sum(int y, int begin, int end) const
{
    std::uint64_t sum = 0;
    for (const ToneRun &run : row(y)) {
        const int first = std::max(run.begin, begin);
        const int last = std::min(run.end, end);
        if (first >= last) {
            continue;
        }
        if (run.tones == nullptr) {
            sum += std::uint64_t(run.tone) * static_cast<std::uint64_t>(last - first);
        } else {
            sum += sum_of(run.tones + (first - run.begin), last - first);
        }
    }
    return sum;
}

} // namespace bichrom
