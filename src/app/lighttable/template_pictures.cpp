#include "app/lighttable/template_pictures.h"

#include "app/services/picture.h"
#include "core/proof/original_view.h"

#include <QPainter>
#include <QTransform>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// Fine enough for the lines of a template, few enough to keep.
constexpr double template_dpi = 300, most_pixels = 16e6;

Outcome<QImage> picture_of_page(const Artwork &artwork, int page, const JobControl &control)
{
    const auto content = artwork.interpret(page, PageBox::Crop, {}, control);
    if (!content) {
        return content.error();
    }
    const auto view = OriginalView::make(*content, control);
    if (!view) {
        return view.error();
    }
    const double inches =
        (*content)->width().value * (*content)->height().value / (points_per_inch * points_per_inch);
    const double dpi = std::min(template_dpi, std::sqrt(most_pixels / std::max(inches, 1e-6)));
    const auto pixels = [&](Points length) {
        return std::max(1, static_cast<int>(std::lround(length.value * dpi / points_per_inch)));
    };
    const PixelRect rect = {0, 0, pixels((*content)->width()), pixels((*content)->height())};
    const auto made = (*view)->render(rect, Dpi(dpi), Edges::Smooth, control);
    return made ? Outcome<QImage>(picture_of(*made, rect.width, rect.height)) : made.error();
}

} // namespace

TemplatePictures::TemplatePictures(Session &session, QObject *parent) : QObject(parent), m_session(session)
{
    m_tasks.setInBackground();
    connect(&m_session, &Session::jobChanged, this, &TemplatePictures::follow);
    connect(&m_session, &Session::pageChanged, this, &TemplatePictures::follow);
}

void TemplatePictures::follow()
{
    if (!m_session.isOpen()) {
        m_pictures.clear();
        return;
    }
    const std::vector<PlacedArtwork> &placed = m_session.job().placements.artworks;
    std::erase_if(m_pictures, [&](const auto &known) {
        return std::none_of(placed.begin(), placed.end(), [&](const PlacedArtwork &one) {
            return one.id == known.first && !one.prints && one.original == known.second.original &&
                   one.page == known.second.page;
        });
    });
    for (const PlacedArtwork &one : placed) {
        if (one.prints || m_pictures.count(one.id) > 0) {
            continue;
        }
        m_pictures[one.id] = {one.original, one.page, {}};
        (void)m_tasks.start(
            [original = one.original, page = one.page](const JobControl &control) {
                return picture_of_page(*original, page, control);
            },
            [this, id = one.id, original = one.original, page = one.page](Outcome<QImage> image) {
                const auto known = m_pictures.find(id);
                if (image && known != m_pictures.end() && known->second.original == original &&
                    known->second.page == page) {
                    known->second.image = std::move(*image);
                    Q_EMIT changed();
                }
            });
    }
}

void TemplatePictures::paint(QPainter &painter, const std::function<QRectF(const Rect &area)> &place) const
{
    painter.save();
    painter.setCompositionMode(QPainter::CompositionMode_Multiply);
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    for (const PlacedArtwork &one : m_session.job().placements.artworks) {
        const auto known = m_pictures.find(one.id);
        const auto size = placed_size(one);
        if (known == m_pictures.end() || known->second.image.isNull() || !size ||
            one.on_page != m_session.job().page) {
            continue;
        }
        const QImage &image = known->second.image;
        const QRectF at = place({one.x, one.y, size->first, size->second});
        painter.save();
        painter.translate(at.center());
        painter.rotate(one.turn * 90.0);
        const QSizeF shown = one.turn % 2 == 0 ? at.size() : at.size().transposed();
        painter.drawImage(QRectF(QPointF(-shown.width() / 2, -shown.height() / 2), shown), image);
        painter.restore();
    }
    painter.restore();
}

} // namespace bichrom
