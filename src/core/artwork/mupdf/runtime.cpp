#include "core/artwork/mupdf/runtime.h"

#include "core/artwork/mupdf/notes.h"
#include "core/base/paged_memory.h"

#include <algorithm>
#include <cstdint>
#include <cstdlib>
#include <cstring>
#include <malloc.h>
#include <new>
#include <pthread.h>
#include <unistd.h>

namespace bichrom {

namespace {

// A file may be hostile: what MuPDF itself may hold for one document.
constexpr std::size_t memory_cap = std::size_t(1536) << 20;
// Whole pictures of dozens of megapixels are such blocks; they lie on disk, and count apart.
constexpr std::size_t least_paged = std::size_t(64) << 20;
constexpr std::size_t paged_cap = std::size_t(16) << 30;
constexpr std::size_t store_size = std::size_t(128) << 20;

/// What \p clock shows.
double seconds_of(clockid_t clock)
{
    timespec now{};
    clock_gettime(clock, &now);
    return static_cast<double>(now.tv_sec) + static_cast<double>(now.tv_nsec) * 1e-9;
}

/// Bands allocate and free blocks of megabytes all the time. By default each would be
/// mapped and returned, and every page of it faulted in anew; kept, they are reused.
void keep_large_blocks()
{
    static std::once_flag once;
    std::call_once(once, [] {
        mallopt(M_MMAP_THRESHOLD, 64 << 20);
        mallopt(M_TRIM_THRESHOLD, 256 << 20);
    });
}

} // namespace

void *MupdfRuntime::allocate_paged(std::size_t size)
{
    const std::lock_guard guard(m_paged_guard);
    if (size > paged_cap - m_paged_bytes) {
        return nullptr;
    }
    void *block = map_paged(size);
    if (block == nullptr) {
        return nullptr;
    }
    try {
        m_paged.emplace(block, size);
    } catch (const std::bad_alloc &) {
        unmap_paged(block, size);
        return nullptr;
    }
    m_paged_bytes += size;
    return block;
}

/// 0 for a block in memory.
std::size_t MupdfRuntime::paged_bytes(void *block)
{
    static const auto page = static_cast<std::uintptr_t>(sysconf(_SC_PAGESIZE));
    if (block == nullptr || reinterpret_cast<std::uintptr_t>(block) % page != 0) {
        return 0; // as nearly all are: no lock for them
    }
    const std::lock_guard guard(m_paged_guard);
    const auto found = m_paged.find(block);
    return found == m_paged.end() ? 0 : found->second;
}

bool MupdfRuntime::release_paged(void *block)
{
    const std::size_t size = paged_bytes(block);
    if (size == 0) {
        return false;
    }
    {
        const std::lock_guard guard(m_paged_guard);
        m_paged.erase(block);
        m_paged_bytes -= size;
    }
    unmap_paged(block, size);
    return true;
}

void *MupdfRuntime::allocate(void *user, std::size_t size)
{
    auto *self = static_cast<MupdfRuntime *>(user);
    if (size >= least_paged) {
        if (void *block = self->allocate_paged(size)) {
            return block;
        } // without room on the disk it may still fit into memory
    }
    if (self->m_used.load(std::memory_order_relaxed) + size > memory_cap) {
        return nullptr;
    }
    void *block = std::malloc(size);
    if (block != nullptr) {
        self->m_used += malloc_usable_size(block);
    }
    return block;
}

void *MupdfRuntime::reallocate(void *user, void *old, std::size_t size)
{
    auto *self = static_cast<MupdfRuntime *>(user);
    const std::size_t paged = self->paged_bytes(old);
    if (size >= least_paged || paged > 0) {
        void *block = allocate(user, size);
        if (block != nullptr && old != nullptr) {
            std::memcpy(block, old, std::min(size, paged > 0 ? paged : malloc_usable_size(old)));
            release(user, old);
        }
        return block;
    }
    const std::size_t before = old != nullptr ? malloc_usable_size(old) : 0;
    if (size > before && self->m_used.load(std::memory_order_relaxed) + (size - before) > memory_cap) {
        return nullptr;
    }
    void *block = std::realloc(old, size);
    if (block != nullptr) {
        self->m_used += malloc_usable_size(block);
        self->m_used -= before;
    }
    return block;
}

void MupdfRuntime::release(void *user, void *old)
{
    auto *self = static_cast<MupdfRuntime *>(user);
    if (old != nullptr && !self->release_paged(old)) {
        self->m_used -= malloc_usable_size(old);
        std::free(old);
    }
}

void MupdfRuntime::lock(void *user, int which)
{
    static_cast<MupdfRuntime *>(user)->m_locks[static_cast<std::size_t>(which)].lock();
}

void MupdfRuntime::unlock(void *user, int which)
{
    static_cast<MupdfRuntime *>(user)->m_locks[static_cast<std::size_t>(which)].unlock();
}

void MupdfRuntime::warn(void *user, const char *message)
{
    if (NoteScope *scope = NoteScope::current()) {
        scope->add(message);
        return;
    }
    auto *self = static_cast<MupdfRuntime *>(user);
    const std::lock_guard guard(self->m_warning_guard);
    constexpr std::size_t enough = 200; // a hostile file can produce millions
    if (self->m_warnings.size() < enough &&
        std::find(self->m_warnings.begin(), self->m_warnings.end(), message) == self->m_warnings.end()) {
        self->m_warnings.emplace_back(message);
    }
}

Outcome<std::shared_ptr<MupdfRuntime>> MupdfRuntime::make()
{
    keep_large_blocks();
    std::shared_ptr<MupdfRuntime> runtime(new MupdfRuntime());
    runtime->m_alloc = {runtime.get(), &allocate, &reallocate, &release};
    runtime->m_locks_context = {runtime.get(), &lock, &unlock};
    fz_context *ctx = fz_new_context(&runtime->m_alloc, &runtime->m_locks_context, store_size);
    if (ctx == nullptr) {
        return Error{ErrorCode::Internal, "The PDF interpreter cannot start.", {}, "Free some memory."};
    }
    runtime->m_base = ctx;
    fz_set_warning_callback(ctx, &warn, runtime.get());
    fz_set_error_callback(ctx, &warn, runtime.get());
    const Done registered = guarded(ctx, {}, [ctx] { fz_register_document_handlers(ctx); });
    if (!registered) {
        return registered.error();
    }
    return runtime;
}

MupdfRuntime::~MupdfRuntime()
{
    for (fz_context *context : m_pool) {
        fz_drop_context(context);
    }
    if (m_base != nullptr) {
        fz_drop_context(m_base);
    }
}

MupdfRuntime::Lease MupdfRuntime::lease()
{
    const std::lock_guard guard(m_pool_guard);
    if (!m_pool.empty()) {
        fz_context *context = m_pool.back();
        m_pool.pop_back();
        // A context remembers how edges were drawn last; nobody shall inherit that.
        fz_set_aa_level(context, 8);
        fz_set_graphics_min_line_width(context, 0.0f);
        return {*this, context};
    }
    // Cloning only reads m_base, which no thread runs anything on after make().
    return {*this, fz_clone_context(m_base)};
}

void MupdfRuntime::give_back(fz_context *context)
{
    const std::lock_guard guard(m_pool_guard);
    m_pool.push_back(context);
}

std::vector<std::string> MupdfRuntime::take_warnings()
{
    const std::lock_guard guard(m_warning_guard);
    return std::exchange(m_warnings, {});
}

CookieWatch::CookieWatch(const JobControl &control, double seconds) : m_control(control)
{
    if (pthread_getcpuclockid(pthread_self(), &m_clock) != 0) {
        m_clock = CLOCK_MONOTONIC;
    }
    m_end = seconds_of(m_clock) + seconds;
    m_thread = std::thread([this] {
        std::unique_lock lock(m_guard);
        while (!m_wake.wait_for(lock, std::chrono::milliseconds(5), [this] { return m_finished; })) {
            if (m_control.cancelled() || seconds_of(m_clock) > m_end) {
                m_late = !m_control.cancelled();
                m_cookie.abort = 1;
                return;
            }
        }
    });
}

CookieWatch::~CookieWatch()
{
    {
        const std::lock_guard lock(m_guard);
        m_finished = true;
    }
    m_wake.notify_one();
    m_thread.join();
}

Done CookieWatch::verdict(const std::string &place) const
{
    // Work may have heard of it before the watch did, and left something out.
    const bool stopped = m_control.cancelled();
    if (m_cookie.abort == 0 && !stopped) {
        return {};
    }
    if (m_late && !stopped) {
        return Error{ErrorCode::TakesLong,
                     "It takes very long to interpret; the file may be damaged or hostile.", place,
                     "Go on with more patience, or ask the customer for a simpler file."};
    }
    return Error{ErrorCode::Cancelled, "Stopped on request.", place, {}};
}

} // namespace bichrom
