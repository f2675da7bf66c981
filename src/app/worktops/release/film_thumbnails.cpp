#include "app/worktops/release/film_thumbnails.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int cell = 86;
constexpr int picture_side = 76;
constexpr int name_height = 18;

int columns_for(int width)
{
    return std::max(1, width / cell);
}

} // namespace

void FilmThumbnails::setFilms(const std::vector<WrittenPlate> &films)
{
    m_films.clear();
    for (const WrittenPlate &film : films) {
        const Plane &plane = film.thumbnail;
        QImage picture(plane.width, plane.height, QImage::Format_Grayscale8);
        for (int y = 0; y < plane.height; ++y) {
            const auto row = plane.row(y);
            std::transform(row.begin(), row.end(), picture.scanLine(y),
                           [](std::uint8_t black) { return static_cast<uchar>(255 - black); });
        }
        m_films.push_back({theme::text_of(film.ink), picture});
    }
    setVisible(!m_films.empty());
    updateGeometry();
    update();
}

int FilmThumbnails::heightForWidth(int width) const
{
    const int columns = columns_for(width);
    const int rows = (static_cast<int>(m_films.size()) + columns - 1) / columns;
    return rows * (cell + name_height);
}

void FilmThumbnails::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.setFont(theme::font(11));
    const int columns = columns_for(width());
    for (std::size_t i = 0; i < m_films.size(); ++i) {
        const int x = static_cast<int>(i) % columns * cell;
        const int y = static_cast<int>(i) / columns * (cell + name_height);
        const QImage &picture = m_films[i].picture;
        const QSize size = picture.size().scaled(picture_side, picture_side, Qt::KeepAspectRatio);
        const QRect place(x + (picture_side - size.width()) / 2, y + (picture_side - size.height()) / 2,
                          size.width(), size.height());
        painter.drawImage(place, picture);
        painter.setPen(QPen(theme::quiet, 1));
        painter.drawRect(place.adjusted(-1, -1, 0, 0));
        painter.setPen(theme::text);
        painter.drawText(QRect(x, y + picture_side + 4, cell - 6, name_height), Qt::AlignLeft | Qt::AlignTop,
                         painter.fontMetrics().elidedText(m_films[i].name, Qt::ElideMiddle, cell - 6));
    }
}

} // namespace bichrom
