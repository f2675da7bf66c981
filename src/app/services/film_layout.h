/// \file
/// The sheet that the films of the job will have.
/// Layer: app/services.
#pragma once

#include "app/services/page_loader.h"
#include "core/fit/film_sheet.h"

namespace bichrom {

/// What the labels of films say that are written now.
[[nodiscard]] LabelText film_label_text(const Artwork &artwork);

/// The sheet of the page's films, to the pixel. Errors as lay_out_film().
[[nodiscard]] Outcome<FilmSheet> film_layout(const LoadedPage &page, const Job &job);

} // namespace bichrom
