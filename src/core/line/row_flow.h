/// \file
/// Planes computed from others over the rows of a page, as runs, each row of each of them once.
/// Layer: core/line, private to it. May use core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/strip_store.h"
#include "core/raster/choke_runs.h"
#include "core/raster/run_join.h"
#include "core/raster/run_plane.h"

#include <cstddef>
#include <functional>
#include <memory>
#include <span>
#include <vector>

namespace bichrom {

/// Planes that are made from each other, numbered as they are added. Their rows are held in strips, made when
/// somebody first asks; what a plane looks at around a strip is asked of the planes it is made from, so that
/// nothing is made twice. All are of one frame, a rectangle of the page's pixels that may reach beyond it,
/// and right as far inside it as they look.
///
/// Planes are added by one thread; rows may then be asked for by any.
class RowFlow
{
public:
    /// Of a plane: its number.
    using Number = std::size_t;
    static constexpr Number none = ~Number(0);

    /// \param edges  of what is narrowed or widened
    RowFlow(const PixelRect &frame, const JobControl &control, EdgePixels edges);
    ~RowFlow();
    RowFlow(const RowFlow &) = delete;
    RowFlow &operator=(const RowFlow &) = delete;

    [[nodiscard]] const PixelRect &frame() const { return m_frame; }
    [[nodiscard]] EdgePixels edges() const { return m_edges; }

    /// A plane that is bare all over.
    [[nodiscard]] Number bare();
    /// A plane that is bare but for \p part of the page, whose rows [first, last) \p rows gives, as wide as
    /// it.
    using PartRows = std::function<Outcome<RunPlane>(int first, int last)>;
    [[nodiscard]] Number painted(const PixelRect &part, PartRows rows);
    /// A plane that stands by itself: \p row adds one of the frame's rows to a plane and ends it.
    [[nodiscard]] Number drawn(std::function<void(int row, RunPlane &to)> row);
    /// Tone by tone, from one or two.
    [[nodiscard]] Number changed(Number from, const ToneTable &table);
    [[nodiscard]] Number joined(Number one, Number other, std::shared_ptr<const PairTable> table);
    /// Narrower or, where it is below 0, wider by \p radius pixels, with tones or by where they cross one
    /// half: see choke() and choke_tones().
    [[nodiscard]] Number choked(Number from, double radius, bool tonal);
    /// The mean over a disc of \p radius pixels.
    [[nodiscard]] Number smoothed(Number from, double radius);

    /// Adds rows [\p first, \p last) of the page of a plane to \p to, whose column 0 is the page's column \p
    /// left. Cancelled, and what painting may fail of.
    [[nodiscard]] Done add_rows(RunPlane &to, Number plane, int left, int first, int last);
    /// Rows on either side of those asked for that are painted for them.
    [[nodiscard]] int depth() const { return m_depth; }
    /// Nobody will ask for rows of the page before \p row.
    void drop_before(int row);

private:
    /// A strip and those around it, of one plane.
    struct Rows;
    struct Node;
    using Make = std::function<Outcome<RunPlane>(std::span<const Rows> from, int first, int last)>;
    [[nodiscard]] Number add(std::vector<Number> from, int reach, Make make);
    [[nodiscard]] Outcome<Rows> rows(Number plane, int first, int last);
    using Change = std::function<Plane(const Plane &)>;
    [[nodiscard]] RunPlane by_pixels(const Rows &from, int first, int last, int reach,
                                     const Change &change) const;

    [[nodiscard]] int bottom() const { return m_frame.y + m_frame.height; }

    PixelRect m_frame;
    const JobControl &m_control;
    EdgePixels m_edges;
    std::vector<std::unique_ptr<Node>> m_nodes;
    int m_depth = 0;
};

} // namespace bichrom
