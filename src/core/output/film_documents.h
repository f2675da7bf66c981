/// \file
/// Films that wait on disk put together as a document.
/// Layer: core/output, private to film_pages.h.
#pragma once

#include "core/output/film_pages.h"

#include <cstdio>

namespace bichrom {

/// A film whose Group 4 rows are complete.
struct WaitingFilm
{
    std::string ink;
    std::FILE *rows = nullptr; ///< lent
};

/// Writes under the hidden name of \p file. CannotWrite, DiskFull, Internal.
[[nodiscard]] Done write_film_pdf(const FilmPagesHead &head, const std::vector<WaitingFilm> &films,
                                  const AtomicFile &file);

/// PostScript level 3 with structuring comments (Document Structuring Conventions 3.0, and the comments of
/// colour separations: the inks of document and pages by name). The same errors.
[[nodiscard]] Done write_film_postscript(const FilmPagesHead &head, const std::vector<WaitingFilm> &films,
                                         const AtomicFile &file);

} // namespace bichrom
