// What the light table draws; light_table.cpp holds its state and its input.
#include "app/lighttable/light_table.h"

#include "app/lighttable/rulers.h"
#include "app/widgets/area_painter.h"
#include "app/widgets/theme.h"
#include "core/artwork/page_boxes.h"
#include "core/colour/colour_difference.h"
#include "core/proof/eye_blur.h"
#include "core/proof/plates_look.h"

#include <QComboBox>
#include <QLabel>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int notes_height = 24; // of the line at the foot, pixels
constexpr double backdrop_pixels = 900.0;
constexpr int checker_pixels = 12; // of clear film
constexpr int slow_paint = 1000;   // ms after which it is said that tiles are missing

/// The resolution of the coarse picture that stands in until tiles arrive.
qint64 backdrop_milli_dpi(const PlateLine &plate_line)
{
    const double longest = std::max(plate_line.page().width().value, plate_line.page().height().value);
    return std::max<qint64>(1000, std::llround(backdrop_pixels / longest * points_per_inch * 1000.0));
}

} // namespace

/// What plates are shown as.
TileLook LightTable::makeLook() const
{
    if (showsStock()) {
        return TileLook(makePrintLook());
    }
    const std::vector<std::string> &inks = m_session.page()->plate_line->inks();
    InkLook shows(inks.size());
    for (std::size_t i = 0; i < inks.size(); ++i) {
        const QString ink = theme::text_of(inks[i]);
        if (m_view.alone() == ink) {
            return TileLook(FilmLook{i});
        }
        const int plate = m_session.job().find_plate(inks[i]);
        shows[i].shown = plate >= 0 && m_view.isShown(ink);
        if (plate >= 0) {
            shows[i].ink = ProcessProfile::fogra39()->lab_to_rgb(
                m_session.job().plates[static_cast<std::size_t>(plate)].shown());
        }
    }
    return TileLook(std::move(shows));
}

/// Whether what is shown lies on the job's stock: prints, and dots but for one plate alone as film.
bool LightTable::showsStock() const
{
    return !m_peeking &&
           (m_view.look() == Look::Print || (m_view.look() == Look::Dots && m_view.alone().isEmpty()));
}

PrintLook LightTable::makePrintLook() const
{
    const LoadedPage &page = *m_session.page();
    const Job &job = m_session.job();
    const std::vector<std::string> &names = page.plate_line->inks();
    PrintView view;
    view.checker = checker_pixels;
    for (const std::string &name : names) {
        if (!m_view.isShown(theme::text_of(name))) {
            view.hidden.push_back(name);
        }
    }
    return {job, names, *page.condition, view};
}

void LightTable::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::surround);
    if (!m_preview.isNull()) {
        paintPreview(painter);
    } else if (m_tiles.source()) {
        paintPage(painter);
        paintOverlay(painter);
        paintBoxes(painter);
        paintAreas(painter);
        paintWipe(painter);
        paintSpotlight(painter);
        paintPins(painter);
        paintFrame(painter);
        paintLoupe(painter);
        paintNearness(painter);
        paintMeasure(painter);
        paintNotes(painter);
    } else {
        painter.setPen(theme::text);
        painter.setFont(theme::font(15, QFont::Medium));
        painter.drawText(tableRect(), Qt::AlignCenter,
                         m_session.isLoading() ? tr("Opening …")
                                               : tr("Drop artwork here, or press Ctrl+O to open a file:\n"
                                                    "PDF, PostScript, EPS, SVG, TIFF, PNG or JPEG.\n"
                                                    "It is only looked at; nothing in it is changed."));
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

namespace {

/// Whether the first look shows the whole page, and not another box of it.
bool stands_for(const QImage &look, const QSizeF &page)
{
    constexpr double rounded = 2; // pixels
    return std::abs(look.width() * page.height() / page.width() - look.height()) <= rounded;
}

} // namespace

void LightTable::paintPage(QPainter &painter)
{
    const QRectF page = pageRect();
    painter.save();
    painter.setClipRect(tableRect());
    // Until its tiles are there the page is the bare stock where the look shows one.
    painter.fillRect(page, showsStock() ? theme::color_of(ProcessProfile::fogra39()->lab_to_rgb(
                                              m_session.job().stock_here().colour))
                                        : QColor(Qt::white));

    if (!m_standIn.isNull() && stands_for(m_standIn, page.size())) {
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(page, m_standIn);
        painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
    }

    if (std::exchange(m_lookRevision, m_revision) != m_revision) {
        m_tiles.setLook(std::make_shared<const TileLook>(makeLook()), m_revision);
    }
    std::vector<TileKey> wanted;
    QRectF part(tableRect());
    bool complete = true;
    if (const std::optional<double> wipe =
            wipeAt()) { // the original on its left, what is looked at on its right
        QRectF left = part;
        left.setRight(*wipe);
        painter.save();
        painter.setClipRect(left, Qt::IntersectClip);
        painter.fillRect(page, Qt::white);
        complete = paintTiles(painter, TileKind::Original, left, false, wanted);
        painter.restore();
        part.setLeft(*wipe);
        painter.setClipRect(part, Qt::IntersectClip);
    }
    const bool from_afar = shownKind() == TileKind::Dots && m_metres > 0;
    if (from_afar) {
        paintFromAfar(painter, part, complete, wanted);
    } else {
        complete = paintTiles(painter, shownKind(), part, true, wanted) && complete;
    }
    m_complete = complete;
    if (m_complete) {
        m_unpainted.invalidate();
        m_standIn = {};
    } else if (!m_unpainted.isValid()) {
        m_unpainted.start();
        m_slow.start(slow_paint);
    }
    m_tiles.want(std::move(wanted));
    painter.restore();
}

/// Paints the tiles of \p kind that \p part of the table shows, and adds those that are missing, the middle
/// first, to \p wanted. \return whether none is
bool LightTable::paintTiles(QPainter &painter, TileKind kind, const QRectF &part, bool lit,
                            std::vector<TileKey> &wanted)
{
    const double ratio = devicePixelRatioF();
    const PlateLine &plate_line = *m_tiles.source()->plate_line;
    const QRectF page = pageRect();
    // A coarse picture of the whole page stands in for tiles that are not ready.
    const qint64 coarse = backdrop_milli_dpi(plate_line);
    const TileKind coarse_kind = kind == TileKind::Dots ? TileKind::Plates : kind;
    const PixelRect coarse_page = plate_line.extent(Dpi(static_cast<double>(coarse) / 1000.0));
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
                    const QRectF target(place.x(), place.y(), tile->picture.width() * scale,
                                        tile->picture.height() * scale);
                    painter.drawImage(target, tile->picture);
                }
            }
        }
    };

    const auto milli_dpi = static_cast<qint64>(std::llround(m_place.dpi() * 1000.0));
    const PixelRect extent = plate_line.extent(Dpi(static_cast<double>(milli_dpi) / 1000.0));
    const QRectF visible = page.intersected(part);
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
                if (tile == nullptr || !m_tiles.isCurrent(*tile)) {
                    const QRectF place(corner, QSizeF(TileCache::side, TileCache::side) / ratio);
                    if (tile != nullptr) {
                        tile->picture.setDevicePixelRatio(ratio);
                        painter.drawImage(corner, tile->picture);
                    } else {
                        painter.save();
                        painter.setClipRect(place.intersected(page), Qt::IntersectClip);
                        paint_coarse(place);
                        painter.restore();
                    }
                    missing = true;
                    const QPointF away = place.center() - visible.center();
                    urgent.emplace_back(std::hypot(away.x(), away.y()), key);
                    continue;
                }
                if (!tile->fault.isEmpty()) {
                    paintFault(painter, QRectF(corner, QSizeF(TileCache::side, TileCache::side) / ratio),
                               *tile);
                    continue;
                }
                tile->picture.setDevicePixelRatio(ratio);
                painter.drawImage(corner, tile->picture);
                if (lit) {
                    paintLit(painter, *tile, corner);
                }
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
            if (const Tile *tile = m_tiles.find(key); tile == nullptr || !m_tiles.isCurrent(*tile)) {
                coarse_keys.push_back(key);
            }
        }
    }
    wanted.insert(wanted.end(), coarse_keys.begin(), coarse_keys.end());
    return !missing;
}

/// What was read of the films' dots, at its place.
void LightTable::paintLoupe(QPainter &painter)
{
    if (m_loupe.area().isEmpty() || m_view.look() != Look::Dots || m_peeking) {
        return;
    }
    painter.save();
    painter.setClipRect(tableRect());
    const QRectF area = widgetArea(m_loupe.area());
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::field, 3));
    painter.drawRect(area);
    painter.setPen(QPen(theme::text, 1));
    painter.drawRect(area);
    painter.setFont(theme::font(11, QFont::Medium));
    const QString words =
        m_loupe.lines().isEmpty() ? tr("reading …") : m_loupe.lines().join(QLatin1Char('\n'));
    QRectF box = painter.boundingRect(QRectF(0, 0, 600, 400), 0, words).adjusted(-6, -3, 6, 3);
    box.moveTopLeft(area.bottomLeft() + QPointF(0, 4));
    if (box.bottom() > tableRect().bottom() - notes_height) {
        box.moveBottom(area.top() - 4);
    }
    box = clearOfSwitches(box);
    painter.fillRect(box, theme::field);
    painter.setPen(theme::text);
    painter.drawText(box.adjusted(6, 3, -6, -3), Qt::AlignLeft, words);
    painter.restore();
}

/// Of the look Change: its greys, how near the print comes, and a ring where it is farthest off.
void LightTable::paintNearness(QPainter &painter)
{
    if (m_view.look() != Look::Change || comparesFiles() || m_peeking) {
        return;
    }
    const QRectF table(tableRect());
    constexpr double gap = 8;
    m_nearness.paintLegend(painter, table.adjusted(gap, 0, -gap, -notes_height - gap));
    if (const auto worst = m_nearness.worst()) {
        constexpr double radius = 14;
        painter.save();
        painter.setClipRect(table);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setBrush(Qt::NoBrush);
        for (const auto &[colour, width] : {std::pair(theme::field, 5.0), std::pair(theme::amber, 2.0)}) {
            painter.setPen(QPen(colour, width));
            painter.drawEllipse(widgetFromPage(*worst), radius, radius);
        }
        painter.restore();
    }
}

/// \p box of words moved to where it lies on the table, under the switches that float there and over the
/// notes.
QRectF LightTable::clearOfSwitches(QRectF box) const
{
    const QRectF table(tableRect());
    box.moveLeft(std::clamp(box.left(), table.left() + 4,
                            std::max(table.left() + 4, table.right() - box.width() - 4)));
    box.moveTop(std::clamp(box.top(), table.top() + 4,
                           std::max(table.top() + 4, table.bottom() - notes_height - box.height())));
    for (const QWidget *floating : std::initializer_list<const QWidget *>{
             m_lookSwitch, m_handSwitch, m_overprint, m_compare, m_beside, m_distance, m_sideBySide}) {
        const QRectF place(floating->geometry());
        if (floating->isVisible() && box.intersects(place)) { // they stand in rows, the upper first
            box.moveTop(place.bottom() + 4);
        }
    }
    return box;
}

void LightTable::paintWipe(QPainter &painter)
{
    const std::optional<double> wipe = wipeAt();
    if (!wipe) {
        return;
    }
    const QRectF table(tableRect());
    const QPointF top(std::round(*wipe) + 0.5, table.top());
    painter.setPen(QPen(theme::text, 3));
    painter.drawLine(top, QPointF(top.x(), table.bottom()));
    painter.setPen(QPen(theme::amber, 1));
    painter.drawLine(top, QPointF(top.x(), table.bottom()));
    painter.setFont(theme::font(11, QFont::Medium));
    const QFontMetrics metrics(painter.font());
    const auto tag = [&](const QString &words, bool left) {
        const QSizeF size(metrics.horizontalAdvance(words) + 12, metrics.height() + 4);
        const QRectF box(QPointF(left ? top.x() - 4 - size.width() : top.x() + 4, table.bottom() - 52), size);
        painter.fillRect(box, theme::field);
        painter.setPen(theme::text);
        painter.drawText(box, Qt::AlignCenter, words);
    };
    tag(tr("customer's original"), true);
    tag(tr("print"), false);
}

/// Dots as an eye sees them that is some metres away: its blur stands over the tiles, in light.
void LightTable::paintFromAfar(QPainter &painter, const QRectF &part, bool &complete,
                               std::vector<TileKey> &wanted)
{
    const double ratio = devicePixelRatioF();
    const QRectF seen = pageRect().intersected(part);
    const QSize size = (seen.size() * ratio).toSize();
    if (size.isEmpty()) {
        return;
    }
    QImage picture(size, QImage::Format_RGB32);
    picture.fill(Qt::white);
    picture.setDevicePixelRatio(ratio);
    {
        QPainter near(&picture);
        near.translate(-seen.topLeft());
        complete = paintTiles(near, TileKind::Dots, part, true, wanted) && complete;
    }
    const double sigma = eye_spread(m_metres).value * m_place.dpi() / millimetres_per_inch;
    painter.drawImage(seen.topLeft(), m_far.of(picture, sigma));
}

namespace {

/// Whether a pattern inks a device pixel.
bool pattern_inks(OverlayPattern pattern, int x, int y)
{
    switch (pattern) {
    case OverlayPattern::Hatch:
        return (x + y) % 6 < 2;
    case OverlayPattern::Cross:
        return (x + y) % 6 < 1 || (x - y + 600000) % 6 < 1;
    case OverlayPattern::Dots:
        return x % 4 < 2 && y % 4 < 2;
    case OverlayPattern::Solid:
    case OverlayPattern::Lamp:
        break;
    }
    return true;
}

/// Adds \p layer to \p picture, the part at \p corner of a page of \p page pixels. Places smaller than a
/// pixel get one.
void add_layer(QImage &picture, const QPoint &corner, const QSizeF &page, const OverlayLayer &layer)
{
    const BitPlane &places = *layer.places;
    if (places.width == 0 || places.height == 0) {
        return;
    }
    const QColor colour = layer.pattern == OverlayPattern::Lamp ? theme::amber : theme::text;
    const QRgb ink = qPremultiply(colour.rgba());
    const QRgb ground = qPremultiply(qRgba(255, 255, 255, 150));
    const bool patterned = layer.pattern != OverlayPattern::Solid && layer.pattern != OverlayPattern::Lamp;
    const double across = places.width / page.width(), down = places.height / page.height();
    const auto span = [](int pixel, double scale, int most) {
        const int first = std::clamp(static_cast<int>(std::floor(pixel * scale)), 0, most);
        const int last = std::clamp(static_cast<int>(std::floor((pixel + 1) * scale)), 0, most);
        return std::pair(first, std::min(most, std::max(last, first + 1)));
    };
    std::vector<std::uint64_t> row(static_cast<std::size_t>(places.words));
    for (int y = 0; y < picture.height(); ++y) {
        const auto [top, bottom] = span(corner.y() + y, down, places.height);
        std::fill(row.begin(), row.end(), std::uint64_t(0));
        std::uint64_t any = 0;
        for (int from = top; from < bottom; ++from) {
            for (std::size_t word = 0; word < row.size(); ++word) {
                row[word] |= places.row(from)[word];
                any |= row[word];
            }
        }
        if (any == 0) {
            continue;
        }
        auto *to = reinterpret_cast<QRgb *>(picture.scanLine(y));
        for (int x = 0; x < picture.width(); ++x) {
            const auto [left, right] = span(corner.x() + x, across, places.width);
            bool inked = false;
            for (int at = left; at < right && !inked;) {
                const int end = std::min(right, (at / 64 + 1) * 64);
                const int count = end - at;
                const std::uint64_t ones = count == 64 ? ~std::uint64_t(0) : (std::uint64_t(1) << count) - 1;
                inked = (row[static_cast<std::size_t>(at / 64)] & ones << (at % 64)) != 0;
                at = end;
            }
            if (inked) {
                to[x] = pattern_inks(layer.pattern, corner.x() + x, corner.y() + y) ? ink
                        : patterned                                                 ? ground
                                                                                    : to[x];
            }
        }
    }
}

} // namespace

/// What the stage draws over the page; not while the original is looked at.
void LightTable::paintOverlay(QPainter &painter)
{
    const std::shared_ptr<const Overlay> &overlay = m_view.overlay();
    if (overlay == nullptr || m_peeking) {
        m_overlay = {};
        m_overlayOf = nullptr;
        return;
    }
    const double ratio = devicePixelRatioF();
    const QRectF page = pageRect();
    const QRectF visible = page.intersected(QRectF(tableRect()));
    if (visible.isEmpty()) {
        return;
    }
    // A small page is drawn whole, so that moving it costs nothing; of a large one what is seen.
    constexpr double small_page = 4e6; // pixels
    const QSizeF pixels = page.size() * ratio;
    const QRect part =
        pixels.width() * pixels.height() <= small_page
            ? QRectF(QPointF(), pixels).toAlignedRect()
            : QRectF((visible.topLeft() - page.topLeft()) * ratio, visible.size() * ratio).toAlignedRect();
    if (m_overlayOf != overlay || m_overlayPage != page.size() || m_overlayPart != part) {
        m_overlay = QImage(part.size(), QImage::Format_ARGB32_Premultiplied);
        m_overlay.fill(overlay->fades ? qPremultiply(qRgba(theme::panel.red(), theme::panel.green(),
                                                           theme::panel.blue(), 190))
                                      : 0);
        for (const OverlayLayer &layer : overlay->layers) {
            add_layer(m_overlay, part.topLeft(), pixels, layer);
        }
        m_overlay.setDevicePixelRatio(ratio);
        m_overlayOf = overlay;
        m_overlayPage = page.size();
        m_overlayPart = part;
    }
    painter.save();
    painter.setClipRect(visible);
    painter.drawImage(page.topLeft() + QPointF(part.topLeft()) / ratio, m_overlay);
    painter.restore();
}

/// What is being opened, as it will be fitted into the table.
void LightTable::paintPreview(QPainter &painter)
{
    const QRectF room = fittingRoom();
    const QSizeF size = QSizeF(m_preview.size()).scaled(room.size(), Qt::KeepAspectRatio);
    QRectF place(QPointF(), size);
    place.moveCenter(room.center());
    painter.setRenderHint(QPainter::SmoothPixmapTransform);
    painter.drawImage(place, m_preview);
    painter.setRenderHint(QPainter::SmoothPixmapTransform, false);
    painter.setPen(theme::text);
    painter.setFont(theme::font(12, QFont::Medium));
    painter.drawText(QRectF(tableRect()).adjusted(10, 0, -10, -6), Qt::AlignLeft | Qt::AlignBottom,
                     tr("Opening: the customer's original; its plates follow."));
}

/// Says in a tile's place why it could not be made.
void LightTable::paintFault(QPainter &painter, const QRectF &place, const Tile &tile)
{
    painter.save();
    painter.setClipRect(place.intersected(pageRect()), Qt::IntersectClip);
    painter.fillRect(place, theme::amberField);
    painter.setPen(theme::amberText);
    painter.setFont(theme::font(11));
    painter.drawText(place.adjusted(8, 8, -8, -8), Qt::TextWordWrap, tr("Not shown: %1").arg(tile.fault));
    painter.restore();
}

/// Dims what does not carry the ink whose plate the pointer rests on.
void LightTable::paintLit(QPainter &painter, const Tile &tile, const QPointF &corner)
{
    const std::vector<std::string> &inks = m_session.page()->plate_line->inks();
    const auto at = std::find(inks.begin(), inks.end(), m_lit.toStdString());
    const auto plate = static_cast<std::size_t>(at - inks.begin());
    if (m_lit.isEmpty() || m_peeking || tile.planes == nullptr || plate >= tile.planes->plates.size()) {
        return;
    }
    const Plane &plane = tile.planes->plates[plate];
    std::array<QRgb, 256> shades{};
    for (int tone = 0; tone < 256; ++tone) {
        const int alpha = (255 - tone) * 208 / 255;
        const QColor &grey = theme::surround;
        shades[static_cast<std::size_t>(tone)] =
            qPremultiply(qRgba(grey.red(), grey.green(), grey.blue(), alpha));
    }
    QImage dim(plane.width, plane.height, QImage::Format_ARGB32_Premultiplied);
    for (int y = 0; y < plane.height; ++y) {
        auto *to = reinterpret_cast<QRgb *>(dim.scanLine(y));
        for (const std::uint8_t tone : plane.row(y)) {
            *to++ = shades[tone];
        }
    }
    dim.setDevicePixelRatio(devicePixelRatioF());
    painter.drawImage(corner, dim);
}

void LightTable::paintBoxes(QPainter &painter)
{
    painter.save();
    painter.setClipRect(tableRect());
    const PageInfo &info = m_session.page()->info;
    const QRectF page = pageRect();
    const QColor line(0x50, 0x50, 0x4e);
    painter.setPen(QPen(line, 1));
    painter.drawRect(page.adjusted(-0.5, -0.5, 0.5, 0.5));
    painter.setFont(theme::font(11));
    // Each box that differs from those drawn before it; a shorter dash the further inwards.
    const std::tuple<PageBox, QString, QVector<qreal>> boxes[] = {{PageBox::Trim, tr("trim"), {6, 4}},
                                                                  {PageBox::Bleed, tr("bleed"), {10, 3}},
                                                                  {PageBox::Crop, tr("crop"), {2, 4}},
                                                                  {PageBox::Art, tr("art"), {1, 3}}};
    std::vector<QRectF> drawn = {page};
    for (const auto &[box, name, dashes] : boxes) {
        const QRectF area = widgetArea([&, which = box] {
            const Rect rect = box_within(info, which, m_session.page()->box);
            return QRectF(rect.x, rect.y, rect.width, rect.height);
        }());
        const bool known = std::any_of(drawn.begin(), drawn.end(), [&](const QRectF &other) {
            return std::abs(other.x() - area.x()) < 1 && std::abs(other.y() - area.y()) < 1 &&
                   std::abs(other.right() - area.right()) < 1 && std::abs(other.bottom() - area.bottom()) < 1;
        });
        if (known) {
            continue;
        }
        // Light under dark, so that the line is seen on any stock and ink.
        painter.setPen(QPen(QColor(255, 255, 255, 150), 1));
        painter.drawRect(area);
        QPen pen(line, 1);
        pen.setDashPattern(dashes);
        painter.setPen(pen);
        painter.drawRect(area);
        const QRectF words =
            painter.boundingRect(QRectF(), 0, name)
                .translated(area.left() + 4 + 44 * static_cast<double>(drawn.size() - 1), area.bottom() - 16)
                .adjusted(-2, 0, 2, 0);
        painter.fillRect(words, QColor(255, 255, 255, 190));
        painter.drawText(words, Qt::AlignCenter, name);
        drawn.push_back(area);
    }
    painter.restore();
}

/// Folds, glue and the like, and templates: the original is looked at without them.
void LightTable::paintAreas(QPainter &painter)
{
    if (!m_view.showsAreas() || m_peeking) {
        return;
    }
    painter.save();
    painter.setClipRect(tableRect());
    const auto place = [&](const Rect &area) { return widgetArea(m_session.shownArea(area)); };
    m_templates.paint(painter, place);
    paint_areas(painter, m_session.job().areas, m_session.page()->info.number, place);
    painter.restore();
}

void LightTable::paintSpotlight(QPainter &painter)
{
    const auto &areas = m_spotlight.areas();
    if (areas.empty() || m_peeking || m_spotlight.isDark()) {
        return;
    }
    painter.save();
    painter.setClipRect(tableRect());
    // The place in question stays light; everything around it is dimmed.
    const auto frame_of = [this](const QRectF &mm) {
        constexpr double smallest = 10; // pixels, so that a hairline is found too
        QRectF frame = widgetArea(mm).adjusted(-3, -3, 3, 3);
        const double wider = std::max(0.0, smallest - frame.width()) / 2;
        const double taller = std::max(0.0, smallest - frame.height()) / 2;
        return frame.adjusted(-wider, -taller, wider, taller);
    };
    const QRectF current = frame_of(areas[static_cast<std::size_t>(m_spotlight.current())]);
    QPainterPath around;
    around.addRect(QRectF(tableRect()));
    QPainterPath hole;
    hole.addRect(current);
    painter.fillPath(around - hole, QColor(0x8c, 0x8c, 0x8a, 120));
    painter.setBrush(Qt::NoBrush);
    for (std::size_t i = 0; i < areas.size(); ++i) {
        if (static_cast<int>(i) != m_spotlight.current()) {
            painter.setPen(QPen(theme::text, 1));
            painter.drawRect(frame_of(areas[i]));
        }
    }
    painter.setPen(QPen(theme::text, 4));
    painter.drawRect(current);
    painter.setPen(QPen(theme::amber, 2));
    painter.drawRect(current);
    if (!m_spotlight.caption().isEmpty()) {
        painter.setFont(theme::font(12, QFont::Medium));
        QRectF words =
            painter.boundingRect(QRectF(0, 0, 400, 40), 0, m_spotlight.caption()).adjusted(-6, -3, 6, 3);
        words.moveTopLeft(current.bottomLeft() + QPointF(0, 6));
        if (words.bottom() > height() - notes_height) {
            words.moveBottom(current.top() - 6);
        }
        words = clearOfSwitches(words);
        painter.setPen(QPen(theme::amber, 1));
        painter.setBrush(theme::field);
        painter.drawRect(words);
        painter.setPen(theme::text);
        painter.drawText(words, Qt::AlignCenter, m_spotlight.caption());
    }
    painter.restore();
}

void LightTable::paintPins(QPainter &painter)
{
    painter.save();
    painter.setClipRect(tableRect());
    painter.setFont(theme::font(11, QFont::DemiBold));
    int number = 0;
    for (const Pin &pin : m_session.job().pins) {
        ++number;
        if (pin.page != m_session.job().page) {
            continue;
        }
        const QRectF area = m_session.shownArea({pin.x, pin.y, pin.width, pin.height});
        const QPointF at = widgetFromPage(area.topLeft());
        if (pin.width > 0) {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(theme::text, 1));
            painter.drawRect(widgetArea(area));
        }
        const QRectF head(at.x() + 5, at.y() - 23, 18, 16);
        painter.setPen(QPen(theme::text, 1));
        painter.drawLine(at, head.bottomLeft());
        painter.setBrush(theme::field);
        painter.drawRect(head);
        painter.drawText(head, Qt::AlignCenter, QString::number(number));
        painter.setBrush(theme::text);
        painter.drawEllipse(at, 1.5, 1.5);
    }
    painter.restore();
}

void LightTable::paintMeasure(QPainter &painter)
{
    painter.save();
    painter.setClipRect(tableRect());
    painter.setRenderHint(QPainter::Antialiasing);
    QString words;
    QPointF at;
    const auto length = [this](double mm) {
        return theme::text_of(format_length(Millimetres(mm), m_unit, m_unit == LengthUnit::Inch ? 3 : 2));
    };
    if (m_measured) {
        const QLineF line(widgetFromPage(m_measured->p1()), widgetFromPage(m_measured->p2()));
        painter.setPen(QPen(theme::field, 3));
        painter.drawLine(line);
        painter.setPen(QPen(theme::text, 1));
        painter.drawLine(line);
        for (const QPointF &end : {line.p1(), line.p2()}) {
            painter.drawLine(end - QPointF(5, 0), end + QPointF(5, 0));
            painter.drawLine(end - QPointF(0, 5), end + QPointF(0, 5));
        }
        words = tr("%1   at %2°   across %3   down %4")
                    .arg(length(m_measured->length()),
                         theme::text_of(format_number(std::remainder(m_measured->angle(), 360.0), 1)),
                         length(std::abs(m_measured->dx())), length(std::abs(m_measured->dy())));
        at = line.p2();
    } else if (m_area) {
        const QRectF area = widgetArea(*m_area);
        painter.setBrush(Qt::NoBrush);
        painter.setPen(QPen(theme::field, 3));
        painter.drawRect(area);
        painter.setPen(QPen(theme::text, 1));
        painter.drawRect(area);
        words = tr("%1 × %2").arg(length(m_area->width()), length(m_area->height()));
        at = area.bottomRight();
    }
    if (!words.isEmpty()) {
        paintSize(painter, words, at);
    }
    painter.restore();
}

void LightTable::paintSize(QPainter &painter, const QString &words, QPointF at)
{
    painter.setFont(theme::font(12, QFont::Medium));
    QRectF box = painter.boundingRect(QRectF(0, 0, 600, 40), 0, words).adjusted(-6, -3, 6, 3);
    box.moveTopLeft(at + QPointF(10, 10));
    box.moveLeft(std::min(box.left(), width() - box.width() - 4));
    box.moveTop(std::min(box.top(), height() - 28 - box.height()));
    painter.setPen(QPen(theme::quiet, 1));
    painter.setBrush(theme::field);
    painter.drawRect(box);
    painter.setPen(theme::text);
    painter.drawText(box, Qt::AlignCenter, words);
}

/// Round what a click would pour.
void LightTable::paintFrame(QPainter &painter)
{
    if (m_framed.isEmpty() || m_hand != Hand::Pour || m_peeking) {
        return;
    }
    painter.save();
    painter.setClipRect(tableRect());
    const QRectF area = widgetArea(m_framed).adjusted(-1, -1, 1, 1);
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::field, 3));
    painter.drawRect(area);
    painter.setPen(QPen(theme::text, 1, Qt::DashLine));
    painter.drawRect(area);
    const auto length = [this](double mm) {
        return theme::text_of(format_length(Millimetres(mm), m_unit, m_unit == LengthUnit::Inch ? 3 : 2));
    };
    paintSize(painter, tr("%1 × %2").arg(length(m_framed.width()), length(m_framed.height())),
              m_pointer ? *m_pointer + QPointF(6, 6) : area.bottomRight());
    painter.restore();
}

/// Shown plates whose ink cannot be told from the white of the looks Plates and Dots.
QStringList LightTable::faintInks() const
{
    QStringList names;
    for (const Plate &plate : m_session.job().plates) {
        constexpr double seen = 10; // ΔE
        const QString ink = theme::text_of(plate.ink);
        if (m_view.isShown(ink) && ciede2000(plate.shown(), {100, 0, 0}) < seen) {
            names << ink;
        }
    }
    return names;
}

void LightTable::paintNotes(QPainter &painter)
{
    const double scale = m_place.dpi() / (96.0 * devicePixelRatioF());
    const auto &plate_line = *m_tiles.source()->plate_line;
    const int pages = m_session.artwork().page_count();
    const QString page = pages > 1 ? tr("page %1 of %2   ").arg(m_session.job().page).arg(pages) : QString();
    const QString size =
        page + tr("%1 %   %2 × %3   film %4 dpi")
                   .arg(QString::number(scale * 100.0, 'f', scale < 0.1 ? 1 : 0),
                        theme::text_of(format_length(to_millimetres(plate_line.page().width()), m_unit, 2)),
                        theme::text_of(format_length(to_millimetres(plate_line.page().height()), m_unit, 2)),
                        theme::text_of(format_number(m_session.job().film.resolution.value, 1)));
    QString note = m_hand == Hand::Pour ? m_pourWords : tr("hold O to see the customer's original");
    if (m_peeking) {
        note = tr("customer's original");
    } else if (m_view.look() == Look::Print) {
        note = m_view.honoursOverprint()
                   ? tr("estimated on %1; dotted: ink like what is under it; striped: varnish")
                         .arg(theme::text_of(m_session.job().stock_here().name))
                   : tr("as in a viewer that knows no overprint: it will not print so");
    } else if (m_view.look() == Look::Change) {
        note = comparesFiles()
                   ? tr("the revised file against the one before: white = alike, black = ΔE 25 or more")
                   : tr("the estimate of the print against the artwork");
    } else if (m_view.look() == Look::Dots && showsStock()) {
        note = tr("the film's dots in ink on %1; a click reads them")
                   .arg(theme::text_of(m_session.job().stock_here().name));
    } else if (m_view.look() == Look::Outline) {
        note = tr("every object by its contour");
    } else if (!m_view.alone().isEmpty()) {
        note = tr("%1 alone, as film").arg(m_view.alone());
    } else if (const QStringList faint = faintInks(); !faint.isEmpty() && m_hand != Hand::Pour) {
        note += tr("; dotted: %1").arg(faint.join(tr(" and ")));
    }
    if (!m_peeking && showsTonesInstead()) {
        note = !m_tiles.source()->screenable
                   ? tr("these screens cannot be made: tones are shown. See the stage Screen")
                   : tr("dots are too small at this zoom: tones are shown. Zoom in to see dots");
    }
    const bool slow = m_unpainted.isValid() && m_unpainted.elapsed() >= slow_paint;
    if (slow) {
        note = m_standIn.isNull() ? tr("still being painted: what is white here may hold ink")
                                  : tr("still being painted: the customer's original stands in");
    }
    if (!m_said.isEmpty()) {
        note = m_said;
    }
    painter.setFont(theme::font(11, m_said.isEmpty() && !slow ? QFont::Medium : QFont::DemiBold));
    const QRect foot(ruler_width, height() - notes_height, width() - ruler_width, notes_height);
    painter.fillRect(foot, theme::surround);
    painter.setPen(theme::text);
    const QFontMetrics metrics(painter.font());
    const int room = foot.width() - 40 - metrics.horizontalAdvance(size);
    painter.drawText(foot.adjusted(10, 0, -10, 0), Qt::AlignVCenter | Qt::AlignLeft,
                     metrics.elidedText(note, Qt::ElideRight, std::max(0, room)));
    painter.drawText(foot.adjusted(10, 0, -10, 0), Qt::AlignVCenter | Qt::AlignRight, size);
}

} // namespace bichrom
