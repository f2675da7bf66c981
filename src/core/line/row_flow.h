/// \file
/// Planes computed from others over the rows of a page, as runs, each row of each of them once.
/// Layer: core/line, private to it. May use core/raster.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/line/strip_store.h"
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
/// nothing is made twice. All are as wide as the page and a rim on either side, and so many rows higher.
///
/// Planes are added by one thread; rows may then be asked for by any.
class RowFlow
{
public:
    /// Of a plane: its number.
    using Number = std::size_t;
    static constexpr Number none = ~Number(0);

    /// \param page  columns and rows
    /// \param rim   pixels around it
    RowFlow(const PixelRect &page, int rim, const JobControl &control);
    ~RowFlow();
    RowFlow(const RowFlow &) = delete;
    RowFlow &operator=(const RowFlow &) = delete;

    /// Columns of a plane: the page's and its rim.
    [[nodiscard]] int width() const { return m_page.width + 2 * m_rim; }
    /// The page's column or row that column or row 0 of a plane is.
    [[nodiscard]] int left() const { return -m_rim; }
    [[nodiscard]] const PixelRect &page() const { return m_page; }

    /// A plane that is bare all over.
    [[nodiscard]] Number bare();
    /// A plane as \p rows gives it: those of the page in [first, last), as wide as the page.
    using PageRows = std::function<Outcome<RunPlane>(int first, int last)>;
    [[nodiscard]] Number painted(PageRows rows);
    /// A plane that stands by itself: \p row adds one of the page to a plane and ends it.
    [[nodiscard]] Number drawn(std::function<void(int row, RunPlane &to)> row);
    /// Tone by tone, from one or two.
    [[nodiscard]] Number changed(Number from, const ToneTable &table);
    [[nodiscard]] Number joined(Number one, Number other, std::shared_ptr<const PairTable> table);
    /// Narrower or, where it is below 0, wider by \p radius pixels, with tones or by where they cross one
    /// half: see choke() and choke_tones().
    [[nodiscard]] Number choked(Number from, double radius, bool tonal);
    /// The mean over a disc of \p radius pixels.
    [[nodiscard]] Number smoothed(Number from, double radius);

    /// Adds rows [\p first, \p last) of the page of a plane, without its rim, to \p to. Cancelled, and what
    /// painting may fail of.
    [[nodiscard]] Done add_rows(RunPlane &to, Number plane, int first, int last);
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

    PixelRect m_page;
    int m_rim;
    const JobControl &m_control;
    std::vector<std::unique_ptr<Node>> m_nodes;
    int m_depth = 0;
};

} // namespace bichrom
