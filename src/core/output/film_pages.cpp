#include "core/output/film_pages.h"

#include "core/output/film_documents.h"

#include <cerrno>
#include <cstdio>
#include <utility>

namespace bichrom {

namespace {

/// Compressed rows of one film, waiting on disk.
struct Spool
{
    AtomicFile file;
    std::FILE *stream = nullptr;
    BitString rest; ///< bits that do not fill a byte block yet

    explicit Spool(const std::filesystem::path &path) : file(path) {}
    Spool(Spool &&other) noexcept
        : file(std::move(other.file)), stream(std::exchange(other.stream, nullptr)),
          rest(std::move(other.rest))
    {
    }
    ~Spool()
    {
        if (stream != nullptr) {
            std::fclose(stream);
        }
    }
};

} // namespace

struct FilmPages::Impl
{
    AtomicFile file;
    FilmPagesHead head;
    std::vector<Spool> spools;

    Impl(const std::filesystem::path &path, FilmPagesHead what) : file(path), head(std::move(what)) {}
};

FilmPages::FilmPages(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
FilmPages::~FilmPages() = default;
FilmPages::FilmPages(FilmPages &&) noexcept = default;

Outcome<FilmPages> FilmPages::create(const std::filesystem::path &path, FilmPagesHead head)
{
    const std::size_t films = head.inks.size();
    auto impl = std::make_unique<Impl>(path, std::move(head));
    for (std::size_t i = 0; i < films; ++i) {
        Spool &spool = impl->spools.emplace_back(path.string() + ".rows");
        spool.stream = std::fopen(spool.file.path().c_str(), "w+be");
        if (spool.stream == nullptr) {
            return write_error(path, errno);
        }
    }
    return FilmPages(std::move(impl));
}

Done FilmPages::append(std::size_t index, const BitString &rows)
{
    Spool &spool = m_impl->spools[index];
    spool.rest.append(rows);
    const std::vector<std::uint8_t> bytes = spool.rest.take_whole_bytes();
    errno = 0;
    if (!bytes.empty() && std::fwrite(bytes.data(), 1, bytes.size(), spool.stream) != bytes.size()) {
        return write_error(m_impl->file.target(), errno);
    }
    return {};
}

Done FilmPages::finish(const std::vector<bool> &kept)
{
    std::vector<WaitingFilm> films;
    for (std::size_t i = 0; i < m_impl->spools.size(); ++i) {
        Spool &spool = m_impl->spools[i];
        end_g4(spool.rest);
        const std::vector<std::uint8_t> bytes = spool.rest.take_bytes();
        errno = 0;
        if (std::fwrite(bytes.data(), 1, bytes.size(), spool.stream) != bytes.size() ||
            std::fflush(spool.stream) != 0) {
            return write_error(m_impl->file.target(), errno);
        }
        if (kept[i]) {
            films.push_back({m_impl->head.inks[i], spool.stream});
        }
    }
    return (m_impl->head.format == FilmFormat::PostScript ? write_film_postscript : write_film_pdf)(
        m_impl->head, films, m_impl->file);
}

AtomicFile &FilmPages::file()
{
    return m_impl->file;
}

} // namespace bichrom
