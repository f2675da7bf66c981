/// \file
/// What a page painter painted for the eye, kept while recipes are tried over it.
/// Layer: core/line, private to it. May use core/page.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/page/page_painter.h"

#include <cstddef>
#include <list>
#include <memory>
#include <mutex>

namespace bichrom {

/// A page painter that remembers the rectangles last asked for, up to a budget of memory. Any thread.
class KeptTiles
{
public:
    /// A rectangle as painted, as runs.
    struct Tile
    {
        PixelRect rect;
        std::vector<std::shared_ptr<const RunPlane>> plates;
        std::shared_ptr<const RunPlane> area;
    };

    explicit KeptTiles(std::unique_ptr<const PagePainter> painter) : m_painter(std::move(painter)) {}

    [[nodiscard]] const PagePainter &painter() const { return *m_painter; }
    /// As PagePainter::paint().
    [[nodiscard]] Outcome<std::shared_ptr<const Tile>> paint(const PixelRect &rect, Dpi resolution,
                                                             Edges edges, const JobControl &control) const;

private:
    struct Kept
    {
        Dpi resolution;
        Edges edges;
        std::shared_ptr<const Tile> tile;
        std::size_t bytes;
    };

    std::unique_ptr<const PagePainter> m_painter;
    mutable std::mutex m_guard;
    mutable std::list<Kept> m_kept; ///< the last one used first
    mutable std::size_t m_bytes = 0;
};

} // namespace bichrom
