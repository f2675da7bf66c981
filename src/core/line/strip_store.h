/// \file
/// Rows of a page that several bands look at, painted once.
/// Layer: core/line, private to it. May use core/page.
#pragma once

#include "core/base/outcome.h"
#include "core/page/page_painter.h"

#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace bichrom {

/// A strip of the page over its full width: its plates, and the planes only recipes look at.
struct PaintedStrip
{
    std::vector<std::shared_ptr<const RunPlane>> plates;
    std::shared_ptr<const RunPlane> area;
    std::vector<std::shared_ptr<const RunPlane>> masks;
};

/// Strips by number, painted when somebody first asks and held until they are dropped. Any thread.
class StripStore
{
public:
    using Strip = std::shared_ptr<const PaintedStrip>;
    using Paint = std::function<Outcome<Strip>(int number)>;

    /// \param paint  called once a strip, from the thread that asks; never while another is waited for
    explicit StripStore(Paint paint) : m_paint(std::move(paint)) {}

    /// Strips \p first to \p last. Those that nobody paints yet are painted here, then the others waited for.
    [[nodiscard]] Outcome<std::vector<Strip>> strips(int first, int last);
    /// Forgets the strips before \p first, which nobody will ask for again.
    void drop_before(int first);

private:
    Paint m_paint;
    std::mutex m_guard;
    std::condition_variable m_more;
    std::map<int, std::optional<Outcome<Strip>>> m_strips; ///< empty while they are painted
};

} // namespace bichrom
