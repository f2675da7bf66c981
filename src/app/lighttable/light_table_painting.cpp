// What the light table draws; light_table.cpp holds its state and its input.
#include "app/lighttable/light_table.h"

#include "app/lighttable/rulers.h"
#include "app/widgets/theme.h"
#include "core/fit/page_boxes.h"
#include "core/proof/plates_look.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double backdrop_pixels = 900.0;

/// The resolution of the coarse picture that stands in until tiles arrive.
qint64 backdrop_milli_dpi(const PlateRenderer &renderer)
{
    const double longest = std::max(renderer.page().width().value, renderer.page().height().value);
    return std::max<qint64>(1000, std::llround(backdrop_pixels / longest * points_per_inch * 1000.0));
}

} // namespace

void LightTable::compose(Tile &tile)
{
    if (tile.picture_revision == m_revision || tile.planes.plates.empty()) {
        return;
    }
    const PixelRect &rect = tile.planes.rect;
    tile.picture = QImage(rect.width, rect.height, QImage::Format_RGB32);
    const std::span<std::uint32_t> pixels(reinterpret_cast<std::uint32_t *>(tile.picture.bits()),
                                          static_cast<std::size_t>(rect.width) *
                                              static_cast<std::size_t>(rect.height));
    const std::vector<std::string> &inks = m_session.page()->renderer->inks();
    std::vector<PlateShow> shows(inks.size());
    for (std::size_t i = 0; i < inks.size(); ++i) {
        const QString ink = theme::text_of(inks[i]);
        if (m_view.alone() == ink) {
            compose_film(tile.planes.plates[i], pixels);
            tile.picture_revision = m_revision;
            return;
        }
        const int plate = m_session.job().find_plate(inks[i]);
        shows[i].shown = plate >= 0 && m_view.isShown(ink);
        if (plate >= 0) {
            shows[i].ink = ProcessProfile::fogra39()->lab_to_rgb(
                m_session.job().plates[static_cast<std::size_t>(plate)].solid);
        }
    }
    compose_plates(tile.planes, shows, Rgb8{255, 255, 255}, pixels);
    tile.picture_revision = m_revision;
}

void LightTable::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::surround);
    if (m_tiles.source()) {
        paintPage(painter);
        paintBoxes(painter);
        paintNotes(painter);
    } else {
        painter.setPen(theme::text);
        painter.setFont(theme::font(15, QFont::Medium));
        painter.drawText(tableRect(), Qt::AlignCenter,
                         m_session.isLoading() ? tr("Opening …")
                                               : tr("Drop a PDF here, or press Ctrl+O to open one.\n"
                                                    "The file is only looked at; nothing in it is changed."));
    }
    const double ratio = devicePixelRatioF();
    const double per_mm = m_place.dpi() / millimetres_per_inch / ratio;
    const QPointF marker = m_pointer.value_or(QPointF(-1, -1));
    paint_ruler(painter, QRect(ruler_width, 0, width() - ruler_width, ruler_width), Qt::Horizontal,
                m_place.origin().x() / ratio, per_mm, m_unit, marker.x());
    paint_ruler(painter, QRect(0, ruler_width, ruler_width, height() - ruler_width), Qt::Vertical,
                m_place.origin().y() / ratio, per_mm, m_unit, marker.y());
    painter.fillRect(0, 0, ruler_width, ruler_width, theme::strip);
    painter.setPen(theme::quiet);
    painter.setFont(theme::font(11));
    painter.drawText(QRect(0, 0, ruler_width, ruler_width), Qt::AlignCenter,
                     m_unit == LengthUnit::Inch    ? tr("in")
                     : m_unit == LengthUnit::Point ? tr("pt")
                                                   : tr("mm"));
}

void LightTable::paintPage(QPainter &painter)
{
    const double ratio = devicePixelRatioF();
    const PlateRenderer &renderer = *m_tiles.source()->renderer;
    const QRectF page = pageRect();
    painter.save();
    painter.setClipRect(tableRect());
    painter.fillRect(page, Qt::white);

    const TileKind kind = shownKind();
    std::vector<TileKey> wanted;
    // A coarse picture of the whole page stands in for tiles that are not ready.
    const qint64 coarse = backdrop_milli_dpi(renderer);
    const TileKind coarse_kind = kind == TileKind::Dots ? TileKind::Plates : kind;
    const PixelRect coarse_page = renderer.extent(Dpi(static_cast<double>(coarse) / 1000.0));
    const auto paint_coarse = [&](const QRectF &clip) {
        const double scale = page.width() / coarse_page.width;
        for (int row = 0; row * TileCache::side < coarse_page.height; ++row) {
            for (int column = 0; column * TileCache::side < coarse_page.width; ++column) {
                const QRectF place(page.x() + column * TileCache::side * scale,
                                   page.y() + row * TileCache::side * scale, TileCache::side * scale,
                                   TileCache::side * scale);
                Tile *tile =
                    place.intersects(clip) ? m_tiles.find({coarse_kind, coarse, column, row}) : nullptr;
                if (tile != nullptr) {
                    compose(*tile);
                    const QRectF target(place.x(), place.y(), tile->picture.width() * scale,
                                        tile->picture.height() * scale);
                    painter.drawImage(target, tile->picture);
                }
            }
        }
    };

    const auto milli_dpi = static_cast<qint64>(std::llround(m_place.dpi() * 1000.0));
    const PixelRect extent = renderer.extent(Dpi(static_cast<double>(milli_dpi) / 1000.0));
    const QRectF visible = page.intersected(QRectF(tableRect()));
    bool missing = false;
    if (!visible.isEmpty()) {
        const auto tile_at = [&](double widget, double origin) {
            return static_cast<int>(std::floor((widget * ratio - origin) / TileCache::side));
        };
        const int first_column = std::max(0, tile_at(visible.left(), m_place.origin().x()));
        const int last_column =
            std::min((extent.width - 1) / TileCache::side, tile_at(visible.right(), m_place.origin().x()));
        const int first_row = std::max(0, tile_at(visible.top(), m_place.origin().y()));
        const int last_row =
            std::min((extent.height - 1) / TileCache::side, tile_at(visible.bottom(), m_place.origin().y()));
        std::vector<std::pair<double, TileKey>> urgent;
        for (int row = first_row; row <= last_row; ++row) {
            for (int column = first_column; column <= last_column; ++column) {
                const TileKey key{kind, milli_dpi, column, row};
                const QPointF corner((m_place.origin().x() + column * TileCache::side) / ratio,
                                     (m_place.origin().y() + row * TileCache::side) / ratio);
                Tile *tile = m_tiles.find(key);
                if (tile == nullptr) {
                    const QRectF place(corner, QSizeF(TileCache::side, TileCache::side) / ratio);
                    painter.save();
                    painter.setClipRect(place.intersected(page), Qt::IntersectClip);
                    paint_coarse(place);
                    painter.restore();
                    missing = true;
                    const QPointF away = place.center() - visible.center();
                    urgent.emplace_back(std::hypot(away.x(), away.y()), key);
                    continue;
                }
                compose(*tile);
                tile->picture.setDevicePixelRatio(ratio);
                painter.drawImage(corner, tile->picture);
            }
        }
        std::sort(urgent.begin(), urgent.end());
        for (const auto &[distance, key] : urgent) {
            wanted.push_back(key);
        }
    }
    // The coarse picture itself is wanted first while it is missing, and last otherwise.
    std::vector<TileKey> coarse_keys;
    for (int row = 0; row * TileCache::side < coarse_page.height; ++row) {
        for (int column = 0; column * TileCache::side < coarse_page.width; ++column) {
            const TileKey key{coarse_kind, coarse, column, row};
            if (m_tiles.find(key) == nullptr) {
                coarse_keys.push_back(key);
            }
        }
    }
    wanted.insert(wanted.end(), coarse_keys.begin(), coarse_keys.end());
    m_complete = !missing;
    m_tiles.want(std::move(wanted));
    painter.restore();
}

void LightTable::paintBoxes(QPainter &painter)
{
    painter.save();
    painter.setClipRect(tableRect());
    const PageInfo &info = m_session.page()->info;
    const PageBox origin = m_session.job().film.box;
    const Rect trim = box_within(info, PageBox::Trim, origin);
    const QRectF page = pageRect();
    painter.setPen(QPen(QColor(0x50, 0x50, 0x4e), 1));
    painter.drawRect(page.adjusted(-0.5, -0.5, 0.5, 0.5));
    const QRectF cut(widgetFromPage({trim.x, trim.y}),
                     widgetFromPage({trim.x + trim.width, trim.y + trim.height}));
    if (std::abs(cut.width() - page.width()) > 1 || std::abs(cut.height() - page.height()) > 1) {
        painter.setPen(QPen(QColor(0x50, 0x50, 0x4e), 1, Qt::CustomDashLine));
        QPen pen = painter.pen();
        pen.setDashPattern({6, 4});
        painter.setPen(pen);
        painter.drawRect(cut);
        painter.setFont(theme::font(11));
        painter.drawText(cut.bottomLeft() + QPointF(4, -4), tr("trim"));
    }
    painter.restore();
}

void LightTable::paintNotes(QPainter &painter)
{
    const double scale = m_place.dpi() / (96.0 * devicePixelRatioF());
    const auto &renderer = *m_tiles.source()->renderer;
    const QString size =
        tr("%1 %   %2 × %3   film %4 dpi")
            .arg(QString::number(scale * 100.0, 'f', scale < 0.1 ? 1 : 0),
                 theme::text_of(format_length(to_millimetres(renderer.page().width()), m_unit, 2)),
                 theme::text_of(format_length(to_millimetres(renderer.page().height()), m_unit, 2)),
                 theme::text_of(format_number(m_session.job().film.resolution.value, 1)));
    QString note = tr("hold O to see the customer's original");
    if (m_peeking) {
        note = tr("customer's original");
    } else if (!m_view.alone().isEmpty()) {
        note = tr("%1 alone, as film").arg(m_view.alone());
    }
    if (!m_peeking && showsTonesInstead()) {
        note = m_tiles.source()->screens.empty()
                   ? tr("these screens cannot be made: tones are shown. See the stage Screen")
                   : tr("dots are too small at this zoom: tones are shown. Zoom in to see dots");
    }
    painter.setFont(theme::font(11, QFont::Medium));
    const QRect foot(ruler_width, height() - 24, width() - ruler_width, 24);
    painter.fillRect(foot, theme::surround);
    painter.setPen(theme::text);
    painter.drawText(foot.adjusted(10, 0, -10, 0), Qt::AlignVCenter | Qt::AlignLeft, note);
    painter.drawText(foot.adjusted(10, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight, size);
}

} // namespace bichrom
