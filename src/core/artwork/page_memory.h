/// \file
/// What was computed from a page's pixels, kept for the next time.
/// Layer: core/artwork. May use core/base.
#pragma once

#include <deque>
#include <memory>
#include <mutex>
#include <string>

namespace bichrom {

/// Holds the latest few results; may be used from any thread. Whoever keeps something under a key knows its
/// type.
class PageMemory
{
public:
    /// The result kept under \p key, or null.
    [[nodiscard]] std::shared_ptr<const void> find(const std::string &key) const
    {
        const std::lock_guard lock(m_mutex);
        for (const auto &[known, result] : m_results) {
            if (known == key) {
                return result;
            }
        }
        return nullptr;
    }

    /// Keeps \p result; the oldest goes when there are too many.
    void keep(const std::string &key, std::shared_ptr<const void> result)
    {
        constexpr std::size_t most = 4;
        const std::lock_guard lock(m_mutex);
        m_results.emplace_front(key, std::move(result));
        if (m_results.size() > most) {
            m_results.pop_back();
        }
    }

private:
    mutable std::mutex m_mutex;
    std::deque<std::pair<std::string, std::shared_ptr<const void>>> m_results; ///< the latest first
};

} // namespace bichrom
