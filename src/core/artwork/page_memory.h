/// \file
/// What was computed from a page's pixels, kept for the next time.
/// Layer: core/artwork. May use core/base.
#pragma once

#include <algorithm>
#include <cstddef>
#include <deque>
#include <memory>
#include <mutex>
#include <string>
#include <vector>

namespace bichrom {

/// Holds the latest few results; may be used from any thread. Whoever keeps something under a key knows its
/// type.
class PageMemory
{
public:
    /// The result kept under \p key, or null.
    [[nodiscard]] std::shared_ptr<const void> find(const std::string &key)
    {
        const std::lock_guard lock(m_mutex);
        const auto at =
            std::find_if(m_results.begin(), m_results.end(), [&](const Kept &one) { return one.key == key; });
        if (at == m_results.end()) {
            return nullptr;
        }
        std::rotate(m_results.begin(), at, at + 1); // the last one used goes last
        return m_results.front().result;
    }

    /// Keeps \p result; what was not used for longest goes when there is too much.
    /// \param bytes  that it takes: large results count by these, small ones (0) by their number
    void keep(const std::string &key, std::shared_ptr<const void> result, std::size_t bytes = 0)
    {
        constexpr std::size_t most_small = 4;
        constexpr std::size_t most_bytes = std::size_t(512) << 20;
        std::vector<std::shared_ptr<const void>> gone; // dropped after the lock is given back
        const std::lock_guard lock(m_mutex);
        m_results.push_front({key, std::move(result), bytes});
        std::size_t small = 0, large = 0;
        for (auto one = m_results.begin(); one != m_results.end();) {
            small += one->bytes == 0 ? 1 : 0;
            large += one->bytes;
            if (one->bytes == 0 ? small > most_small : large > most_bytes) {
                large -= one->bytes;
                gone.push_back(std::move(one->result));
                one = m_results.erase(one);
            } else {
                ++one;
            }
        }
    }

private:
    struct Kept
    {
        std::string key;
        std::shared_ptr<const void> result;
        std::size_t bytes;
    };
    std::mutex m_mutex;
    std::deque<Kept> m_results; ///< the last one used first
};

} // namespace bichrom
