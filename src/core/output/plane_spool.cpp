#include "core/output/plane_spool.h"

#include <zlib.h>

#include <algorithm>
#include <cerrno>

namespace bichrom {

namespace {

constexpr unsigned longest = 1u << 30; // bytes that zlib takes at once

} // namespace

struct PlaneSpool::Impl
{
    AtomicFile file; ///< never committed
    gzFile stream = nullptr;

    explicit Impl(const std::filesystem::path &path) : file(path) {}
    ~Impl()
    {
        if (stream != nullptr) {
            gzclose(stream);
        }
    }
};

PlaneSpool::PlaneSpool(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PlaneSpool::~PlaneSpool() = default;
PlaneSpool::PlaneSpool(PlaneSpool &&) noexcept = default;

Outcome<PlaneSpool> PlaneSpool::create(const std::filesystem::path &beside)
{
    auto impl = std::make_unique<Impl>(beside.string() + ".rows");
    errno = 0;
    impl->stream = gzopen(impl->file.path().c_str(), "wb1e");
    if (impl->stream == nullptr) {
        return write_error(beside, errno);
    }
    return PlaneSpool(std::move(impl));
}

Done PlaneSpool::append(std::span<const std::uint8_t> bytes)
{
    errno = 0;
    while (!bytes.empty()) {
        const auto part = static_cast<unsigned>(std::min<std::size_t>(bytes.size(), longest));
        if (gzwrite(m_impl->stream, bytes.data(), part) != static_cast<int>(part)) {
            return write_error(m_impl->file.target(), errno);
        }
        bytes = bytes.subspan(part);
    }
    return {};
}

Done PlaneSpool::rewind()
{
    errno = 0;
    const int closed = gzclose(m_impl->stream);
    m_impl->stream = closed == Z_OK ? gzopen(m_impl->file.path().c_str(), "rbe") : nullptr;
    return m_impl->stream != nullptr ? Done() : Done(write_error(m_impl->file.target(), errno));
}

Done PlaneSpool::read(std::span<std::uint8_t> bytes)
{
    errno = 0;
    while (!bytes.empty()) {
        const auto part = static_cast<unsigned>(std::min<std::size_t>(bytes.size(), longest));
        if (gzread(m_impl->stream, bytes.data(), part) != static_cast<int>(part)) {
            return write_error(m_impl->file.target(), errno);
        }
        bytes = bytes.subspan(part);
    }
    return {};
}

} // namespace bichrom
