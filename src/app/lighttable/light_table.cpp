#include "app/lighttable/light_table.h"

#include "app/lighttable/rulers.h"
#include "app/widgets/theme.h"
#include "core/fit/page_boxes.h"
#include "core/proof/dots_look.h"
#include "core/proof/plates_look.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double smallest_dpi = 1.0; // a page of ten metres still fits
constexpr double largest_dpi = 19200.0;
constexpr double margin = 28.0; // around a fitted page
constexpr double backdrop_pixels = 900.0;

/// The resolution of the coarse picture that stands in until tiles arrive.
qint64 backdrop_milli_dpi(const PlateRenderer &renderer)
{
    const double longest = std::max(renderer.page().width().value, renderer.page().height().value);
    return std::max<qint64>(1000, std::llround(backdrop_pixels / longest * points_per_inch * 1000.0));
}

} // namespace

LightTable::LightTable(Session &session, ViewState &view, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_tiles(this)
{
    setObjectName(QStringLiteral("lightTable"));
    setAccessibleName(tr("Light table"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(300, 200);
    setAttribute(Qt::WA_OpaquePaintEvent);
    buildLookSwitch();
    connect(&m_tiles, &TileCache::tileReady, this, qOverload<>(&QWidget::update));
    connect(&m_session, &Session::pageChanged, this, &LightTable::takePage);
    connect(&m_session, &Session::jobChanged, this, &LightTable::takeJob);
    connect(&m_view, &ViewState::changed, this, [this] {
        ++m_revision;
        for (QAbstractButton *button : m_lookButtons->buttons()) {
            button->setChecked(m_lookButtons->id(button) == static_cast<int>(m_view.look()));
        }
        update();
    });
}

void LightTable::buildLookSwitch()
{
    m_lookSwitch = new QWidget(this);
    m_lookSwitch->setObjectName(QStringLiteral("lookSwitch"));
    auto *row = new QHBoxLayout(m_lookSwitch);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(0);
    m_lookButtons = new QButtonGroup(this);
    m_lookButtons->setExclusive(true);
    const std::pair<Look, QString> looks[] = {{Look::Plates, tr("Plates")}, {Look::Dots, tr("Dots")}};
    for (const auto &[look, name] : looks) {
        auto *button = new QPushButton(name, m_lookSwitch);
        button->setObjectName(look == Look::Plates ? QStringLiteral("lookPlates")
                                                   : QStringLiteral("lookDots"));
        button->setCheckable(true);
        button->setChecked(look == m_view.look());
        button->setFocusPolicy(Qt::TabFocus);
        button->setMinimumWidth(72);
        button->setToolTip(look == Look::Plates ? tr("The chosen plates in their ink colours (1)")
                                                : tr("The film's own pixels, dot by dot (2)"));
        m_lookButtons->addButton(button, static_cast<int>(look));
        row->addWidget(button);
    }
    m_lookSwitch->setStyleSheet(QStringLiteral(
        "#lookSwitch { background: #eeeeeb; border-radius: 3px; }"
        "QPushButton { border: 2px solid transparent; border-radius: 2px; background: transparent; padding: "
        "2px 10px; }"
        "QPushButton:checked { border: 2px solid #e59a1c; background: #fbfbf9; font-weight: 600; }"
        "QPushButton:focus { background: #f7f7f5; border: 2px solid #565653; }"));
    m_lookSwitch->move(ruler_width + 10, ruler_width + 10);
    m_lookSwitch->hide(); // until there is something to look at
    connect(m_lookButtons, &QButtonGroup::idClicked, this,
            [this](int id) { m_view.setLook(static_cast<Look>(id)); });
}

void LightTable::setUnit(LengthUnit unit)
{
    m_unit = unit;
    update();
}

void LightTable::takePage()
{
    m_tiles.setSource(
        TileSource::make(m_session.page()->renderer, m_session.page()->original, m_session.job()));
    m_lookSwitch->show();
    ++m_revision;
    fitPage();
}

void LightTable::takeJob()
{
    if (!m_session.isOpen()) {
        return;
    }
    const auto &page = m_session.page();
    m_tiles.setSource(TileSource::make(page->renderer, page->original, m_session.job()),
                      {TileKind::Plates, TileKind::Original});
    ++m_revision;
    update();
}

TileKind LightTable::shownKind() const
{
    if (m_peeking) {
        return TileKind::Original;
    }
    return m_view.look() == Look::Dots && !showsTonesInstead() ? TileKind::Dots : TileKind::Plates;
}

bool LightTable::showsTonesInstead() const
{
    const auto &source = m_tiles.source();
    return m_view.look() == Look::Dots && source != nullptr &&
           (source->screens.empty() || source->film.value / m_dpi > most_film_pixels);
}

QRect LightTable::tableRect() const
{
    return rect().adjusted(ruler_width, ruler_width, 0, 0);
}

QRectF LightTable::pageRect() const
{
    const PixelRect page = m_tiles.source()->renderer->extent(Dpi(m_dpi));
    const double ratio = devicePixelRatioF();
    return {m_origin.x() / ratio, m_origin.y() / ratio, page.width / ratio, page.height / ratio};
}

QPointF LightTable::pageFromWidget(QPointF point) const
{
    const double ratio = devicePixelRatioF();
    return (point * ratio - m_origin) * (millimetres_per_inch / m_dpi);
}

QPointF LightTable::widgetFromPage(QPointF mm) const
{
    return (mm * (m_dpi / millimetres_per_inch) + m_origin) / devicePixelRatioF();
}

void LightTable::fitPage()
{
    m_fitted = true;
    if (!m_tiles.source()) {
        return;
    }
    const double ratio = devicePixelRatioF();
    const PageContent &page = m_tiles.source()->renderer->page();
    const QRectF room = QRectF(tableRect()).adjusted(margin, margin + 24, -margin, -margin - 4);
    const double wide = page.width().value / points_per_inch;
    const double high = page.height().value / points_per_inch;
    m_dpi =
        std::clamp(std::min(room.width() / wide, room.height() / high) * ratio, smallest_dpi, largest_dpi);
    m_origin = room.center() * ratio - QPointF(wide, high) * m_dpi / 2;
    m_origin = QPointF(std::round(m_origin.x()), std::round(m_origin.y()));
    Q_EMIT zoomChanged();
    update();
}

void LightTable::zoomTo(double dpi, QPointF anchor)
{
    if (!m_tiles.source()) {
        return;
    }
    const QPointF at = anchor * devicePixelRatioF();
    const double wanted = std::clamp(dpi, smallest_dpi, largest_dpi);
    m_origin = at - (at - m_origin) * (wanted / m_dpi);
    m_dpi = wanted;
    m_fitted = false;
    limitOrigin();
    Q_EMIT zoomChanged();
    update();
}

void LightTable::zoomBy(double factor)
{
    const QPointF anchor = m_pointer && underMouse() ? *m_pointer : QRectF(tableRect()).center();
    zoomTo(m_dpi * factor, anchor);
}

void LightTable::centreOn(QPointF point)
{
    const QPointF middle = QRectF(tableRect()).center() * devicePixelRatioF();
    m_origin = middle - point * (m_dpi / millimetres_per_inch);
    m_fitted = false;
    limitOrigin();
    update();
}

void LightTable::limitOrigin()
{
    // Keep some of the page in sight, and whole device pixels, so that tiles are not resampled.
    const PixelRect page = m_tiles.source()->renderer->extent(Dpi(m_dpi));
    const double ratio = devicePixelRatioF();
    const QRectF table(tableRect().x() * ratio, tableRect().y() * ratio, tableRect().width() * ratio,
                       tableRect().height() * ratio);
    constexpr double keep = 60;
    m_origin.setX(
        std::round(std::clamp(m_origin.x(), table.left() + keep - page.width, table.right() - keep)));
    m_origin.setY(
        std::round(std::clamp(m_origin.y(), table.top() + keep - page.height, table.bottom() - keep)));
}

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
            shows[i].ink = ProcessProfile::fogra39().lab_to_rgb(
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
    const double per_mm = m_dpi / millimetres_per_inch / ratio;
    const QPointF marker = m_pointer.value_or(QPointF(-1, -1));
    paint_ruler(painter, QRect(ruler_width, 0, width() - ruler_width, ruler_width), Qt::Horizontal,
                m_origin.x() / ratio, per_mm, m_unit, marker.x());
    paint_ruler(painter, QRect(0, ruler_width, ruler_width, height() - ruler_width), Qt::Vertical,
                m_origin.y() / ratio, per_mm, m_unit, marker.y());
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

    const auto milli_dpi = static_cast<qint64>(std::llround(m_dpi * 1000.0));
    const PixelRect extent = renderer.extent(Dpi(static_cast<double>(milli_dpi) / 1000.0));
    const QRectF visible = page.intersected(QRectF(tableRect()));
    bool missing = false;
    if (!visible.isEmpty()) {
        const auto tile_at = [&](double widget, double origin) {
            return static_cast<int>(std::floor((widget * ratio - origin) / TileCache::side));
        };
        const int first_column = std::max(0, tile_at(visible.left(), m_origin.x()));
        const int last_column =
            std::min((extent.width - 1) / TileCache::side, tile_at(visible.right(), m_origin.x()));
        const int first_row = std::max(0, tile_at(visible.top(), m_origin.y()));
        const int last_row =
            std::min((extent.height - 1) / TileCache::side, tile_at(visible.bottom(), m_origin.y()));
        std::vector<std::pair<double, TileKey>> urgent;
        for (int row = first_row; row <= last_row; ++row) {
            for (int column = first_column; column <= last_column; ++column) {
                const TileKey key{kind, milli_dpi, column, row};
                const QPointF corner((m_origin.x() + column * TileCache::side) / ratio,
                                     (m_origin.y() + row * TileCache::side) / ratio);
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
    const double scale = m_dpi / (96.0 * devicePixelRatioF());
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

void LightTable::resizeEvent(QResizeEvent *)
{
    if (m_fitted) {
        fitPage();
    }
}

void LightTable::wheelEvent(QWheelEvent *event)
{
    const double steps = event->angleDelta().y() / 120.0;
    if (steps != 0) {
        zoomTo(m_dpi * std::pow(2.0, steps / 4.0), event->position());
    }
    event->accept();
}

void LightTable::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton || event->button() == Qt::MiddleButton) {
        m_grip = event->pos();
        setCursor(Qt::ClosedHandCursor);
    }
}

void LightTable::mouseMoveEvent(QMouseEvent *event)
{
    m_pointer = event->position();
    if (m_grip && m_tiles.source()) {
        m_origin += QPointF(event->pos() - *m_grip) * devicePixelRatioF();
        m_grip = event->pos();
        m_fitted = false;
        limitOrigin();
    }
    if (m_tiles.source()) {
        const bool on_page = pageRect().contains(event->position()) && tableRect().contains(event->pos());
        Q_EMIT pointed(on_page ? std::optional(pageFromWidget(event->position())) : std::nullopt);
    }
    update();
}

void LightTable::mouseReleaseEvent(QMouseEvent *)
{
    m_grip.reset();
    unsetCursor();
}

void LightTable::leaveEvent(QEvent *)
{
    m_pointer.reset();
    Q_EMIT pointed(std::nullopt);
    update();
}

void LightTable::setPeeking(bool peeking)
{
    if (m_peeking != peeking) {
        m_peeking = peeking;
        update();
    }
}

void LightTable::keyPressEvent(QKeyEvent *event)
{
    constexpr double step = 40;
    const auto pan = [this](double x, double y) {
        if (m_tiles.source()) {
            m_origin += QPointF(x, y) * devicePixelRatioF();
            m_fitted = false;
            limitOrigin();
            update();
        }
    };
    switch (event->key()) {
    case Qt::Key_O:
        if (!event->isAutoRepeat()) {
            setPeeking(true);
        }
        return;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        zoomBy(std::pow(2.0, 0.5));
        return;
    case Qt::Key_Minus:
        zoomBy(std::pow(2.0, -0.5));
        return;
    case Qt::Key_0:
        fitPage();
        return;
    case Qt::Key_1:
        m_view.setLook(Look::Plates);
        return;
    case Qt::Key_2:
        m_view.setLook(Look::Dots);
        return;
    case Qt::Key_Left:
        pan(step, 0);
        return;
    case Qt::Key_Right:
        pan(-step, 0);
        return;
    case Qt::Key_Up:
        pan(0, step);
        return;
    case Qt::Key_Down:
        pan(0, -step);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void LightTable::keyReleaseEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_O && !event->isAutoRepeat()) {
        setPeeking(false);
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void LightTable::focusOutEvent(QFocusEvent *event)
{
    setPeeking(false);
    QWidget::focusOutEvent(event);
}

} // namespace bichrom
