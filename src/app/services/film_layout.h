/// \file
/// The sheet that the films of the job will have.
/// Layer: app/services.
#pragma once

#include "app/services/session.h"
#include "core/fit/film_sheet.h"

namespace bichrom {

/// What the labels of films say that are written now.
[[nodiscard]] LabelText film_label_text(const Artwork &artwork);

/// The sheet of the films of the page that is open, to the pixel. Errors as lay_out_film(), and while it is
/// not known what is printed, where that decides.
[[nodiscard]] Outcome<FilmSheet> film_layout(const Session &session);

} // namespace bichrom
