#include "core/line/strip_store.h"

#include "core/base/within_memory.h"

#include <oneapi/tbb/task_arena.h>

namespace bichrom {

Outcome<std::vector<StripStore::Strip>> StripStore::strips(int first, int last)
{
    for (int number = first; number <= last; ++number) {
        {
            const std::lock_guard lock(m_guard);
            if (!m_strips.try_emplace(number).second) {
                continue;
            }
        }
        Outcome<Strip> painted = within_memory({}, [&] {
            // Alone: a thread that waits inside must not begin with another band, which would wait for this.
            return oneapi::tbb::this_task_arena::isolate([&] { return m_paint(number); });
        });
        const std::lock_guard lock(m_guard);
        m_strips[number] = std::move(painted);
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

void StripStore::drop_before(int first)
{
    const std::lock_guard lock(m_guard);
    m_strips.erase(m_strips.begin(), m_strips.lower_bound(first));
}

} // namespace bichrom
