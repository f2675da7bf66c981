/// \file
/// Rows of a page that several bands look at, made once.
/// Layer: core/line, private to it. May use core/page.
#pragma once

#include "core/base/outcome.h"
#include "core/base/within_memory.h"
#include "core/page/page_painter.h"

#include <oneapi/tbb/task_arena.h>

#include <condition_variable>
#include <functional>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <utility>
#include <vector>

namespace bichrom {

/// A strip of the page over its full width: its plates, and the planes only recipes look at.
struct PaintedStrip
{
    std::vector<std::shared_ptr<const RunPlane>> plates;
    std::shared_ptr<const RunPlane> area;
    std::vector<std::shared_ptr<const RunPlane>> masks;
};

/// Strips by number, made when somebody first asks and held until they are dropped. Any thread.
template <class Held> class StripStoreOf
{
public:
    using Strip = std::shared_ptr<const Held>;
    using Make = std::function<Outcome<Strip>(int number)>;

    /// \param make  called once a strip, from the thread that asks; never while another of this store is
    ///              waited for
    explicit StripStoreOf(Make make) : m_make(std::move(make)) {}

    /// Strips \p first to \p last. Those that nobody makes yet are made here, then the others waited for.
    [[nodiscard]] Outcome<std::vector<Strip>> strips(int first, int last)
    {
        for (int number = first; number <= last; ++number) {
            {
                const std::lock_guard lock(m_guard);
                if (!m_strips.try_emplace(number).second) {
                    continue;
                }
            }
            Outcome<Strip> made = within_memory({}, [&] {
                // Alone: a thread that waits inside must not begin with another band, which would wait for
                // this.
                return oneapi::tbb::this_task_arena::isolate([&] { return m_make(number); });
            });
            const std::lock_guard lock(m_guard);
            m_strips[number] = std::move(made);
            m_more.notify_all();
        }
        std::unique_lock lock(m_guard);
        std::vector<Strip> found;
        for (int number = first; number <= last; ++number) {
            const auto at = m_strips.find(number);
            m_more.wait(lock, [&] { return at->second.has_value(); });
            if (!*at->second) {
                return at->second->error();
            }
            found.push_back(**at->second);
        }
        return found;
    }
    /// Forgets the strips before \p first, which nobody will ask for again.
    void drop_before(int first)
    {
        const std::lock_guard lock(m_guard);
        m_strips.erase(m_strips.begin(), m_strips.lower_bound(first));
    }

private:
    Make m_make;
    std::mutex m_guard;
    std::condition_variable m_more;
    std::map<int, std::optional<Outcome<Strip>>> m_strips; ///< empty while they are made
};
using StripStore = StripStoreOf<PaintedStrip>;

} // namespace bichrom
