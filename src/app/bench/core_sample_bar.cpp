#include "app/bench/core_sample_bar.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr qint64 milli_dpi = 300'000;
constexpr double dpi = 300.0;

} // namespace

CoreSampleBar::CoreSampleBar(Session &session, QWidget *parent)
    : QWidget(parent), m_session(session), m_tiles(this)
{
    setObjectName(QStringLiteral("coreSample"));
    setAccessibleName(tr("Core sample"));
    setFixedHeight(84);
    connect(&m_session, &Session::pageChanged, this, [this] {
        const auto &page = m_session.page();
        m_tiles.setSource(TileSource::make(page->renderer, page->original, m_session.job()));
        setPoint(std::nullopt);
    });
    connect(&m_session, &Session::jobChanged, this, &CoreSampleBar::read);
    connect(&m_tiles, &TileCache::tileReady, this, &CoreSampleBar::read);
}

void CoreSampleBar::setUnit(LengthUnit unit)
{
    m_unit = unit;
    update();
}

void CoreSampleBar::setPoint(std::optional<QPointF> mm)
{
    m_point = mm;
    m_reading.reset();
    read();
}

void CoreSampleBar::read()
{
    update();
    if (!m_point || !m_tiles.source() || !m_session.isOpen()) {
        return;
    }
    const PixelRect page = m_tiles.source()->renderer->extent(Dpi(dpi));
    const int x = std::clamp(static_cast<int>(std::floor(m_point->x() * dpi / millimetres_per_inch)), 0,
                             page.width - 1);
    const int y = std::clamp(static_cast<int>(std::floor(m_point->y() * dpi / millimetres_per_inch)), 0,
                             page.height - 1);
    const TileKey key{TileKind::Plates, milli_dpi, x / TileCache::side, y / TileCache::side};
    const Tile *tile = m_tiles.find(key);
    if (tile == nullptr) {
        m_tiles.want({key});
        return;
    }
    const int column = x - key.column * TileCache::side;
    const int row = y - key.row * TileCache::side;
    Reading reading;
    reading.painted = tile->planes.area.at(column, row) > 0;
    const std::vector<std::string> &inks = m_tiles.source()->renderer->inks();
    for (const Plate &plate : m_session.job().plates) {
        const auto found = std::find(inks.begin(), inks.end(), plate.ink);
        reading.tones.push_back(
            found == inks.end()
                ? 0
                : tile->planes.plates[static_cast<std::size_t>(found - inks.begin())].at(column, row));
    }
    m_reading = std::move(reading);
}

void CoreSampleBar::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::strip);
    painter.fillRect(0, 0, width(), 1, theme::line);
    painter.setPen(theme::text);
    painter.setFont(theme::font(13, QFont::DemiBold));
    painter.drawText(QRect(16, 8, 160, 18), Qt::AlignVCenter, tr("Core sample"));
    painter.setFont(theme::font(11));
    painter.setPen(theme::quiet);
    if (!m_session.isOpen()) {
        return;
    }
    if (!m_point) {
        painter.drawText(QRect(16, 28, 160, 44), Qt::AlignTop | Qt::TextWordWrap,
                         tr("Point at the artwork to read every plate there."));
    } else {
        painter.drawText(QRect(16, 28, 170, 16), Qt::AlignVCenter,
                         tr("x %1   y %2")
                             .arg(theme::text_of(format_length(Millimetres(m_point->x()), m_unit, 1)),
                                  theme::text_of(format_length(Millimetres(m_point->y()), m_unit, 1))));
        painter.drawText(QRect(16, 44, 170, 16), Qt::AlignVCenter, tr("one pixel at 300 dpi"));
        if (m_reading) {
            painter.drawText(QRect(16, 60, 170, 16), Qt::AlignVCenter,
                             m_reading->painted ? tr("painted") : tr("bare: nothing paints here"));
        }
    }
    const auto &plates = m_session.job().plates;
    if (plates.empty()) {
        return;
    }
    const int left = 196;
    const int right_room = 120;
    const int step = std::clamp((width() - left - right_room) / static_cast<int>(plates.size()), 30, 112);
    const int fit = std::max(1, (width() - left - right_room) / step);
    int sum = 0;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        const int tone = m_reading ? m_reading->tones[i] : 0;
        sum += tone;
        if (static_cast<int>(i) >= fit) {
            continue;
        }
        const QRect swatch(left + static_cast<int>(i) * step, 12, step - 4, 28);
        painter.setPen(QPen(theme::quiet, 1));
        painter.setBrush(theme::field);
        painter.drawRect(swatch.adjusted(0, 0, -1, -1));
        const QColor ink = theme::ink_color(plates[i].solid);
        const double share = tone / 255.0;
        // The tint fills from the bottom, so that amount is seen without colour too.
        const int high = static_cast<int>(std::lround((swatch.height() - 2) * share));
        painter.fillRect(QRect(swatch.x() + 1, swatch.bottom() - high, swatch.width() - 2, high), ink);
        painter.setPen(theme::quiet);
        painter.setFont(theme::font(11));
        const QString name =
            painter.fontMetrics().elidedText(theme::text_of(plates[i].ink), Qt::ElideMiddle, step - 4);
        painter.drawText(QRect(swatch.x(), 42, step - 4, 16), Qt::AlignHCenter | Qt::AlignVCenter, name);
        painter.setPen(theme::text);
        painter.setFont(theme::font(12, QFont::DemiBold));
        const QString value =
            m_reading ? (tone == 0 ? QStringLiteral("0") : theme::percent(share, 0)) : QStringLiteral("–");
        painter.drawText(QRect(swatch.x(), 58, step - 4, 18), Qt::AlignHCenter | Qt::AlignVCenter, value);
    }
    const int at = left + std::min(fit, static_cast<int>(plates.size())) * step + 12;
    painter.setFont(theme::font(11));
    painter.setPen(theme::quiet);
    painter.drawText(QRect(at, 12, right_room, 16), Qt::AlignVCenter, tr("total ink"));
    painter.setFont(theme::font(15, QFont::DemiBold));
    painter.setPen(theme::text);
    painter.drawText(QRect(at, 28, right_room, 22), Qt::AlignVCenter,
                     m_reading ? theme::percent(sum / 255.0, 0) : QStringLiteral("–"));
    if (static_cast<int>(plates.size()) > fit) {
        painter.setFont(theme::font(11));
        painter.setPen(theme::quiet);
        painter.drawText(QRect(at, 52, right_room, 16), Qt::AlignVCenter,
                         tr("and %1 more").arg(static_cast<int>(plates.size()) - fit));
    }
}

} // namespace bichrom
