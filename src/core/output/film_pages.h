/// \file
/// One document with a page for each film, each a Group 4 picture at true size: PDF or PostScript.
/// Layer: core/output. qpdf stays inside.
#pragma once

#include "core/base/atomic_file.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/film_settings.h"
#include "core/output/g4.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// What all pages of the document have in common.
struct FilmPagesHead
{
    FilmFormat format = FilmFormat::Pdf; ///< or PostScript
    int width = 0, height = 0;           ///< pixels
    Dpi resolution;
    std::string title;
    std::vector<std::string> inks; ///< of the films, in page order
};

/// Takes the films' rows band by band and writes the document at the end. Compressed rows
/// wait in hidden files beside the target, so memory does not grow with the film.
class FilmPages
{
public:
    /// CannotWrite, DiskFull.
    [[nodiscard]] static Outcome<FilmPages> create(const std::filesystem::path &path, FilmPagesHead head);
    ~FilmPages();
    FilmPages(FilmPages &&) noexcept;
    FilmPages &operator=(FilmPages &&) = delete;

    /// Appends encoded rows to film \p index.
    [[nodiscard]] Done append(std::size_t index, const BitString &rows);
    /// Completes the file under a hidden name; commit_together() then renames it into place.
    /// \param kept  of the films, those that become pages
    [[nodiscard]] Done finish(const std::vector<bool> &kept);
    [[nodiscard]] AtomicFile &file();

private:
    struct Impl;
    explicit FilmPages(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
