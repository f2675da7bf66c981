#include "app/worktops/screen/beat_chart.h"

#include "app/widgets/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace bichrom {

BeatChart::BeatChart(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("beatChart"));
    setAccessibleName(tr("How strongly two screens beat, by the angle of the second"));
    setMinimumHeight(132);
}

void BeatChart::take(const MoirePair &pair, double viewing_mm)
{
    const Lattice turned = pair.turned();
    m_angle = turned.angle - std::floor(turned.angle / 90) * 90;
    m_badness = pair.beat.badness;
    m_unseen = pair.unseen_angle;
    m_beats.clear();
    const TurnedBeat beat(pair.fixed(), turned, m_badness, viewing_mm);
    for (int half = 0; half <= 180; ++half) {
        m_beats.push_back(beat.at(half / 2.0));
    }
    update();
}

void BeatChart::clear()
{
    m_beats.clear();
    update();
}

void BeatChart::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setFont(theme::font(11));
    const int line = painter.fontMetrics().height();
    const QRectF field(4, line + 4, width() - 8, height() - 2 * line - 8);
    painter.fillRect(field, theme::field);
    painter.setPen(theme::quiet);
    painter.drawText(QRectF(4, 0, width() - 8, line + 2), Qt::AlignLeft | Qt::AlignVCenter,
                     m_beats.empty() ? tr("Choose two that beat.")
                     : m_unseen      ? tr("how much is seen, by angle; at %1° no more")
                                      .arg(theme::text_of(format_number(*m_unseen, 1)))
                                : tr("how much is seen, by its angle"));
    painter.setPen(theme::line);
    for (int degrees = 0; degrees <= 90; degrees += 15) {
        const double x = field.left() + field.width() * degrees / 90.0;
        painter.drawLine(QPointF(x, field.top()), QPointF(x, field.bottom()));
    }
    painter.setPen(theme::quiet);
    for (int degrees = 0; degrees <= 90; degrees += 15) {
        const double x = field.left() + field.width() * degrees / 90.0;
        const QRectF words(x - 20, field.bottom() + 2, 40, line);
        painter.drawText(degrees == 0    ? words.translated(14, 0)
                         : degrees == 90 ? words.translated(-14, 0)
                                         : words,
                         Qt::AlignCenter, QStringLiteral("%1°").arg(degrees));
    }
    if (m_beats.empty()) {
        return;
    }
    double most = 2 * seen_badness;
    for (const double beat : m_beats) {
        most = std::max(most, std::min(beat, 1.5));
    }
    const auto place = [&](double degrees, double badness) {
        return QPointF(field.left() + field.width() * degrees / 90,
                       field.bottom() - field.height() * std::min(badness, most) / most);
    };
    painter.setPen(QPen(theme::amber, 1, Qt::DashLine));
    painter.drawLine(place(0, seen_badness), place(90, seen_badness));
    painter.setPen(theme::amberText);
    painter.drawText(QRectF(place(30, seen_badness) + QPointF(0, -line - 1), QSizeF(140, line)),
                     Qt::AlignLeft, tr("above: to be seen"));
    painter.setRenderHint(QPainter::Antialiasing);
    QPainterPath path(place(0, m_beats.front()));
    for (std::size_t i = 1; i < m_beats.size(); ++i) {
        path.lineTo(place(static_cast<double>(i) / 2, m_beats[i]));
    }
    painter.setPen(QPen(theme::text, 1.5));
    painter.drawPath(path);
    painter.setBrush(theme::amber);
    painter.drawEllipse(place(m_angle, m_badness), 4, 4);
}

} // namespace bichrom
