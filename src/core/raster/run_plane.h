/// \file
/// The tones of one plate as runs: stretches of rows that are alike, and stretches that are not.
/// Layer: core/raster.
#pragma once

#include "core/raster/plane.h"

#include <cstdint>
#include <cstring>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// A stretch of a row: one tone, or a tone for each of its pixels.
struct ToneRun
{
    int begin = 0, end = 0;              ///< columns [begin, end)
    std::uint8_t tone = 0;               ///< of all of them, where tones is null
    const std::uint8_t *tones = nullptr; ///< of each; lent by the plane of runs

    /// Writes them into \p row, where column 0 stands first.
    void write(std::uint8_t *row) const
    {
        const auto count = static_cast<std::size_t>(end - begin);
        if (tones != nullptr) {
            std::memcpy(row + begin, tones, count);
        } else {
            std::memset(row + begin, tone, count);
        }
    }
};

/// 8-bit tones, 0 = bare, 255 = solid ink, kept as runs: what is bare costs nothing, what is flat next to
/// nothing. Rows are added from the top; what no run covers is bare.
class RunPlane
{
public:
    RunPlane() = default;
    RunPlane(int width, int height) : m_width(width), m_height(height) { m_first.reserve(rows() + 1); }
    /// \p plane row by row, long stretches of one tone as such.
    explicit RunPlane(Plane plane);

    [[nodiscard]] int width() const { return m_width; }
    [[nodiscard]] int height() const { return m_height; }

    /// Adds a run to the row that is open. \pre it begins where the run before it ends, or later; tones, when
    /// there are any, stay until the plane goes (see keep()). One that goes on like the last is joined to it.
    void add(const ToneRun &run)
    {
        if (!m_runs.empty() && m_runs.size() > m_first.back() && m_runs.back().end == run.begin &&
            m_runs.back().tones == nullptr && run.tones == nullptr && m_runs.back().tone == run.tone) {
            m_runs.back().end = run.end;
        } else {
            m_runs.push_back(run);
        }
    }
    /// Adds \p count tones from column \p begin on, long stretches of one tone as such. \pre as of add()
    void add_tones(int begin, const std::uint8_t *tones, int count);
    /// Ends the row that is open and opens the next.
    void end_row() { m_first.push_back(m_runs.size()); }
    /// Ends it with the runs of the row before.
    void repeat_row();
    /// Adds rows [\p first, \p last) of \p other, as wide, which is kept for its tones.
    void add_rows(const std::shared_ptr<const RunPlane> &other, int first, int last);
    /// Keeps \p memory, in which tones of runs lie, as long as the plane lives.
    void keep(std::shared_ptr<const void> memory) { m_kept.push_back(std::move(memory)); }

    /// The runs of row \p y from left to right; rows not added are bare.
    [[nodiscard]] std::span<const ToneRun> row(int y) const
    {
        const auto at = static_cast<std::size_t>(y);
        if (at + 1 >= m_first.size()) {
            return {};
        }
        return std::span(m_runs).subspan(m_first[at], m_first[at + 1] - m_first[at]);
    }
    /// Whether nothing is inked anywhere.
    [[nodiscard]] bool bare() const { return m_runs.empty(); }
    /// Writes the tones of row \p y: width() bytes.
    void write_row(int y, std::uint8_t *tones) const { write_part(y, 0, m_width, tones); }
    /// Writes those of columns [\p begin, \p end) of it: as many bytes.
    void write_part(int y, int begin, int end, std::uint8_t *tones) const;
    /// The one tone that all of columns [\p begin, \p end) of row \p y have in one run or none; −1 where they
    /// have more. \pre begin < end
    [[nodiscard]] int even_tone(int y, int begin, int end) const;
    [[nodiscard]] Plane plane() const;
    /// Writes the mean of each \p by × \p by tones, rounded to the nearest, into the rows of \p out from \p y
    /// on. \pre by is 1 to 16; width and height are multiples of it; out is as wide and high as what is
    /// written
    void average(int by, Plane &out, int y) const;
    /// The sum of all tones of row \p y in columns [\p begin, \p end).
    [[nodiscard]] std::uint64_t sum(int y, int begin, int end) const;

private:
    [[nodiscard]] std::span<const ToneRun> runs_from(int y, int begin) const;
    [[nodiscard]] std::size_t rows() const { return static_cast<std::size_t>(m_height); }

    int m_width = 0, m_height = 0;
    std::vector<ToneRun> m_runs;
    std::vector<std::size_t> m_first{0}; ///< by row, where its runs begin; one more than rows are added
    std::vector<std::shared_ptr<const void>> m_kept;
};

} // namespace bichrom
