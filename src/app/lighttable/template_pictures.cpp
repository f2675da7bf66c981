#include "app/lighttable/template_pictures.h"

#include "app/services/picture.h"
#include "app/widgets/theme.h"
#include "core/job/edits/areas.h"
#include "core/proof/original_view.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// Fine enough for the lines of a template, few enough to keep.
constexpr double template_dpi = 300, most_pixels = 16e6;

} // namespace

Outcome<TemplatePictures::Seen> TemplatePictures::look_at(const Artwork &artwork, int page,
                                                          const JobControl &control)
{
    const auto content = artwork.interpret(page, PageBox::Crop, {}, control);
    if (!content) {
        return content.error();
    }
    const auto view = OriginalView::make(*content, control);
    if (!view) {
        return view.error();
    }
    const double width = (*content)->width().value / points_per_inch;
    const double height = (*content)->height().value / points_per_inch;
    const double dpi = std::min(template_dpi, std::sqrt(most_pixels / std::max(width * height, 1e-6)));
    const auto pixels = [&](double inches) {
        return std::max(1, static_cast<int>(std::lround(inches * dpi)));
    };
    const PixelRect rect = {0, 0, pixels(width), pixels(height)};
    const auto made = (*view)->render(rect, Dpi(dpi), Edges::Smooth, control);
    if (!made) {
        return made.error();
    }
    Seen seen{QSizeF(width, height) * millimetres_per_inch, {picture_of(*made, rect.width, rect.height)}};
    while (std::min(seen.levels.back().width(), seen.levels.back().height()) > 64) {
        seen.levels.push_back(seen.levels.back().scaled(seen.levels.back().size() / 2, Qt::IgnoreAspectRatio,
                                                        Qt::SmoothTransformation));
    }
    return seen;
}

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
    const Job &job = m_session.job();
    std::erase_if(m_pictures, [&](const auto &known) {
        const PlacedArtwork *one = job.placements.find(known.first);
        return one == nullptr || !is_template(job, *one) || one->original != known.second.original ||
               one->page != known.second.page;
    });
    for (const PlacedArtwork &one : job.placements.artworks) {
        if (one.on_page != job.page || m_pictures.count(one.id) > 0 || !is_template(job, one)) {
            continue;
        }
        m_pictures[one.id] = {one.original, one.page};
        (void)m_tasks.start(
            [original = one.original, page = one.page](const JobControl &control) {
                return look_at(*original, page, control);
            },
            [this, id = one.id, original = one.original, page = one.page](Outcome<Seen> seen) {
                const auto known = m_pictures.find(id);
                if (known == m_pictures.end() || known->second.original != original ||
                    known->second.page != page) {
                    return;
                }
                if (seen) {
                    known->second.seen = std::move(*seen);
                } else {
                    known->second.fault = QString::fromStdString(seen.error().message());
                }
                Q_EMIT changed();
            });
    }
}

void TemplatePictures::paint(QPainter &painter, const std::function<QRectF(const Rect &area)> &place) const
{
    for (const PlacedArtwork &one : m_session.job().placements.artworks) {
        const auto known = m_pictures.find(one.id);
        if (known == m_pictures.end() || one.on_page != m_session.job().page) {
            continue;
        }
        const Picture &picture = known->second;
        if (!picture.fault.isEmpty()) {
            painter.setPen(theme::text);
            painter.setFont(theme::font(11));
            const QRectF corner = place({one.x, one.y, 0, 0});
            QRectF box = painter.boundingRect(QRectF(corner.topLeft(), QSizeF(320, 200)), Qt::TextWordWrap,
                                              picture.fault);
            painter.fillRect(box.adjusted(-4, -2, 4, 2), theme::field);
            painter.drawText(box, Qt::TextWordWrap, picture.fault);
        }
        if (picture.seen.levels.empty()) {
            continue;
        }
        const QSizeF own = picture.seen.millimetres * one.scale;
        const QSizeF turned = one.turn % 2 == 0 ? own : own.transposed();
        const QRectF at = place({one.x, one.y, turned.width(), turned.height()});
        const QSizeF shown = one.turn % 2 == 0 ? at.size() : at.size().transposed();
        const std::vector<QImage> &levels = picture.seen.levels;
        std::size_t level = 0; // the coarsest that has as many pixels as the screen
        const double needed = shown.width() * painter.device()->devicePixelRatioF();
        while (level + 1 < levels.size() && levels[level + 1].width() >= needed) {
            ++level;
        }
        painter.save();
        painter.setCompositionMode(QPainter::CompositionMode_Multiply);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.translate(at.center());
        painter.rotate(one.turn * 90.0);
        painter.drawImage(QRectF(QPointF(-shown.width() / 2, -shown.height() / 2), shown), levels[level]);
        painter.restore();
    }
}

} // namespace bichrom
