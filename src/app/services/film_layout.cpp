#include "app/services/film_layout.h"

#include <QDate>

namespace bichrom {

LabelText film_label_text(const Artwork &artwork)
{
    return {QDate::currentDate().toString(Qt::ISODate).toStdString(), artwork.page_count() > 1};
}

Outcome<FilmSheet> film_layout(const LoadedPage &page, const Job &job)
{
    const PageContent &content = page.plate_line->page();
    return lay_out_film(job, film_art(page.info, content.width(), content.height(), job.film),
                        film_label_text(*page.artwork));
}

} // namespace bichrom
