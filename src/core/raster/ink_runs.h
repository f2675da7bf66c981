/// \file
/// Where rows are inked, and what of that lies far enough from what is bare.
/// Layer: core/raster, private to it.
#pragma once

#include <cstddef>
#include <cstdint>
#include <span>
#include <vector>

namespace bichrom {

/// How many columns lie, a row for each distance from the middle one, between a pixel and the nearest bare
/// pixel that is \p distance or more away; \p beyond: more than that away. None for distances that are no
/// distance.
[[nodiscard]] std::vector<int> gaps(double distance, bool beyond);

/// The inked parts of a plane, row by row.
class InkRuns
{
public:
    /// Pixels of a row that follow each other.
    struct Run
    {
        int first, end; ///< the end lies outside
        friend bool operator==(const Run &, const Run &) = default;
    };

    /// Without rows so far.
    explicit InkRuns(int width) : m_width(width) {}
    /// Adds a part to the row that is open. \pre it begins behind the one before
    void add(int first, int end) { m_runs.push_back({first, end}); }
    void end_row();

    [[nodiscard]] int width() const { return m_width; }
    [[nodiscard]] int height() const { return static_cast<int>(m_start.size()) - 1; }
    [[nodiscard]] std::span<const Run> row(int y) const
    {
        const std::size_t from = m_start[static_cast<std::size_t>(y)];
        return {m_runs.data() + from, m_start[static_cast<std::size_t>(y) + 1] - from};
    }
    /// Makes what lets many rows be passed over at once. \pre all rows are added
    void group();
    /// The columns [\p first, \p end) of row \p y are looked at with row \p by away from it and those beyond.
    /// \return how many of these, from that one on, have nothing bare there nor \p gap columns beside it; 0
    /// where some may have. What lies outside the plane is not bare.
    [[nodiscard]] int rows_without_bare(int y, int by, int first, int end, int gap) const;

    /// Whether row \p y is like the one above it.
    [[nodiscard]] bool repeats(int y) const { return m_repeats[static_cast<std::size_t>(y)] != 0; }
    /// Whether row \p by away from \p y, above or below, is like the next one towards it.
    [[nodiscard]] bool repeats_towards(int y, int by) const { return repeats(by > 0 ? y + by : y + by + 1); }

    /// Whether no pixel is inked.
    [[nodiscard]] bool none() const { return m_runs.empty(); }

    /// The parts of row \p y that have no bare pixel nearer than \p columns says for each row around it. What
    /// lies outside the plane is not bare. \param spare  memory to work in
    void narrowed(int y, const std::vector<int> &columns, std::vector<Run> &out,
                  std::vector<Run> &spare) const;

private:
    static constexpr int grouped = 16; ///< rows
    void keep_inside(std::span<const Run> other, int columns, std::vector<Run> &out,
                     std::vector<Run> &spare) const;

    int m_width;
    std::vector<Run> m_runs;
    std::vector<std::size_t> m_start{0};
    std::vector<std::uint8_t> m_repeats; ///< by row
    std::vector<Run> m_group_runs;       ///< what is inked in all rows of a group
    std::vector<std::size_t> m_group_start;
};

} // namespace bichrom
