/// \file
/// One MuPDF world: contexts for several threads, a memory cap, collected warnings.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/text_encoding.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <array>
#include <atomic>
#include <chrono>
#include <condition_variable>
#include <ctime>
#include <memory>
#include <mutex>
#include <string>
#include <thread>
#include <type_traits>
#include <unordered_map>
#include <vector>

namespace bichrom {

/// Owns the contexts of one document. Lives as long as anything made from it.
class MupdfRuntime
{
public:
    /// \return Internal when MuPDF cannot start
    [[nodiscard]] static Outcome<std::shared_ptr<MupdfRuntime>> make();
    ~MupdfRuntime();
    MupdfRuntime(const MupdfRuntime &) = delete;
    MupdfRuntime &operator=(const MupdfRuntime &) = delete;

    /// A context for the calling thread alone, returned to the pool when released.
    class Lease
    {
    public:
        Lease(MupdfRuntime &runtime, fz_context *context) : m_runtime(&runtime), m_context(context) {}
        ~Lease()
        {
            if (m_context != nullptr) {
                m_runtime->give_back(m_context);
            }
        }
        Lease(Lease &&other) noexcept : m_runtime(other.m_runtime), m_context(other.m_context)
        {
            other.m_context = nullptr;
        }
        Lease &operator=(Lease &&) = delete;
        [[nodiscard]] fz_context *ctx() const { return m_context; }

    private:
        MupdfRuntime *m_runtime;
        fz_context *m_context;
    };
    [[nodiscard]] Lease lease();

    /// What MuPDF complained about since the last call outside of a NoteScope, without repetitions.
    [[nodiscard]] std::vector<std::string> take_warnings();

private:
    MupdfRuntime() = default;
    void give_back(fz_context *context);
    static void *allocate(void *user, std::size_t size);
    [[nodiscard]] void *allocate_paged(std::size_t size);
    [[nodiscard]] std::size_t paged_bytes(void *block);
    [[nodiscard]] bool release_paged(void *block);
    static void *reallocate(void *user, void *old, std::size_t size);
    static void release(void *user, void *old);
    static void lock(void *user, int which);
    static void unlock(void *user, int which);
    static void warn(void *user, const char *message);

    std::array<std::mutex, FZ_LOCK_MAX> m_locks;
    fz_alloc_context m_alloc{};
    fz_locks_context m_locks_context{};
    std::atomic<std::size_t> m_used{0};
    std::mutex m_paged_guard;
    std::unordered_map<void *, std::size_t> m_paged; ///< large blocks on disk, and their bytes
    std::size_t m_paged_bytes = 0;
    fz_context *m_base = nullptr;
    std::mutex m_pool_guard;
    std::vector<fz_context *> m_pool;
    std::mutex m_warning_guard;
    std::vector<std::string> m_warnings;
};

/// Calls \p body, which may throw MuPDF's way, and turns a throw into an Error.
/// \p body must not hold objects with destructors across a call that may throw.
template <typename Body> [[nodiscard]] Done guarded(fz_context *ctx, const std::string &place, Body &&body)
{
    bool caught = false;
    fz_try(ctx)
    {
        body();
    }
    fz_catch(ctx)
    {
        caught = true;
    }
    if (!caught) {
        return {};
    }
    const int code = fz_caught(ctx);
    const std::string text = valid_utf8(fz_caught_message(ctx)); // it quotes what stands in the file
    if (code == FZ_ERROR_MEMORY) {
        return Error{ErrorCode::TooLarge, "It needs more memory than is allowed for one file.", place,
                     "Ask the customer for a simpler file."};
    }
    return Error{ErrorCode::CannotRead, "It cannot be interpreted (" + text + ").", place,
                 "Ask the customer for a new copy of the file."};
}

/// Stops MuPDF when the caller cancels, or when the thread that made it has worked for \p seconds: a busy
/// machine, or a wait for another thread, does not count.
class CookieWatch
{
public:
    CookieWatch(const JobControl &control, double seconds);
    ~CookieWatch();
    CookieWatch(const CookieWatch &) = delete;
    CookieWatch &operator=(const CookieWatch &) = delete;

    [[nodiscard]] fz_cookie *cookie() { return &m_cookie; }
    /// Cancelled, or TooLarge when the time ran out; done otherwise.
    [[nodiscard]] Done verdict(const std::string &place) const;

private:
    fz_cookie m_cookie{};
    JobControl m_control;
    clockid_t m_clock{}; ///< the maker's own time on the processor
    double m_end = 0;    ///< on that clock, seconds
    std::atomic<bool> m_late{false};
    std::mutex m_guard;
    std::condition_variable m_wake;
    bool m_finished = false; ///< under m_guard
    std::thread m_thread;
};

} // namespace bichrom
