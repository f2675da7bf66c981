/// \file
/// One PDF with a page for each film, each a Group 4 picture at true size.
/// Layer: core/output. qpdf stays inside.
#pragma once

#include "core/base/atomic_file.h"
#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/output/g4.h"

#include <filesystem>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// Takes the films' rows band by band and writes the PDF at the end. Compressed rows
/// wait in hidden files beside the target, so memory does not grow with the film.
class PdfFilmWriter
{
public:
    /// \param names  a film's title each, in page order. CannotWrite, DiskFull.
    [[nodiscard]] static Outcome<PdfFilmWriter> create(const std::filesystem::path &path, int width,
                                                       int height, Dpi resolution,
                                                       const std::vector<std::string> &names);
    ~PdfFilmWriter();
    PdfFilmWriter(PdfFilmWriter &&) noexcept;
    PdfFilmWriter &operator=(PdfFilmWriter &&) = delete;

    /// Appends encoded rows to film \p index.
    [[nodiscard]] Done append(std::size_t index, const BitString &rows);
    /// Completes the file under a hidden name; commit_together() then renames it into place.
    /// \param kept  of the films, those that become pages
    [[nodiscard]] Done finish(const std::vector<bool> &kept);
    [[nodiscard]] AtomicFile &file();

private:
    struct Impl;
    explicit PdfFilmWriter(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
