#include "app/services/film_layout.h"

#include <QDate>

namespace bichrom {

LabelText film_label_text(const Artwork &artwork)
{
    return {QDate::currentDate().toString(Qt::ISODate).toStdString(), artwork.page_count() > 1};
}

Outcome<FilmSheet> film_layout(const Session &session)
{
    const Job &job = session.job();
    const LoadedPage &page = *session.page();
    FilmPart part = whole_part(*page.plate_line);
    if (job.film.around_art) {
        const Fact<Rect> &printed = session.facts().printed();
        if (printed.value() == nullptr) {
            return Error{ErrorCode::Cancelled,
                         printed.fault().isEmpty()
                             ? "What is printed is being measured …"
                             : "What is printed cannot be measured. " + printed.fault().toStdString(),
                         {},
                         {}};
        }
        part = cut_to(part, painted_part(part, *printed.value(), job.film));
    }
    return lay_out_film(job, film_art(part, job.film), film_label_text(*page.artwork));
}

} // namespace bichrom
