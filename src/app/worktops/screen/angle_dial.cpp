#include "app/worktops/screen/angle_dial.h"

#include "app/widgets/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

AngleDial::AngleDial(QWidget *parent) : QWidget(parent)
{
    setMouseTracking(true);
    setToolTip(tr("Drag a hand to turn its screen; with Shift to any half degree"));
}

void AngleDial::setPlates(const std::vector<Plate> &plates)
{
    m_plates = plates;
    update();
}

QPointF AngleDial::centre() const
{
    return {width() / 2.0, height() - 8.0};
}

double AngleDial::radius() const
{
    return std::min(width() / 2.0 - 34, height() - 36.0);
}

std::optional<double> AngleDial::handOf(const Plate &plate) const
{
    if (!has_lattice(plate.screen)) {
        return std::nullopt;
    }
    const double turn = repeats_after(plate.screen);
    return plate.screen.angle.value - std::floor(plate.screen.angle.value / turn) * turn;
}

int AngleDial::handAt(QPointF at) const
{
    const QPointF off = at - centre();
    const double length = std::hypot(off.x(), off.y());
    const double degrees = std::atan2(-off.y(), off.x()) * 180 / std::numbers::pi;
    int found = -1;
    double nearest = 8; // pixels beside the hand
    for (std::size_t i = m_plates.size(); i-- > 0;) {
        const auto hand = handOf(m_plates[i]);
        if (!hand || length < 14 || length > radius() + 8) {
            continue;
        }
        const double beside = std::fabs(std::sin((degrees - *hand) * std::numbers::pi / 180)) * length;
        if (beside < nearest && std::cos((degrees - *hand) * std::numbers::pi / 180) > 0) {
            nearest = beside;
            found = static_cast<int>(i);
        }
    }
    return found;
}

void AngleDial::mousePressEvent(QMouseEvent *event)
{
    m_held = handAt(event->position());
    ++m_drag;
}

void AngleDial::mouseMoveEvent(QMouseEvent *event)
{
    if (m_held < 0 || static_cast<std::size_t>(m_held) >= m_plates.size()) {
        setCursor(handAt(event->position()) >= 0 ? Qt::OpenHandCursor : Qt::ArrowCursor);
        return;
    }
    const QPointF off = event->position() - centre();
    double degrees = std::clamp(std::atan2(-off.y(), off.x()) * 180 / std::numbers::pi, 0.0, 180.0);
    degrees = off.y() > 0 ? (off.x() < 0 ? 180.0 : 0.0) : degrees;
    degrees = std::round(degrees * 2) / 2;
    if (!(event->modifiers() & Qt::ShiftModifier)) {
        constexpr double step = 7.5, hold = 1.5;
        const double round = std::round(degrees / step) * step;
        degrees = std::fabs(degrees - round) <= hold ? round : degrees;
    }
    const auto now = handOf(m_plates[static_cast<std::size_t>(m_held)]);
    if (!now || *now != degrees) {
        Q_EMIT turned(m_held, degrees, m_drag);
    }
}

void AngleDial::mouseReleaseEvent(QMouseEvent *)
{
    m_held = -1;
}

void AngleDial::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double radius = this->radius();
    const QPointF centre = this->centre();
    const auto at = [&](double degrees, double r) {
        const double a = degrees * std::numbers::pi / 180.0;
        return centre + QPointF(std::cos(a), -std::sin(a)) * r;
    };
    painter.setPen(QPen(theme::line, 1));
    painter.drawArc(QRectF(centre.x() - radius, centre.y() - radius, radius * 2, radius * 2), 0, 180 * 16);
    painter.drawLine(at(0, radius), at(180, radius));
    painter.setFont(theme::font(11));
    for (int degrees = 0; degrees <= 180; degrees += 15) {
        const bool named = degrees % 45 == 0;
        painter.setPen(QPen(theme::quiet, 1));
        painter.drawLine(at(degrees, radius), at(degrees, radius + (named ? 6 : 3)));
        if (named) {
            const QPointF p = at(degrees, radius + 17);
            painter.drawText(QRectF(p.x() - 20, p.y() - 8, 40, 16), Qt::AlignCenter,
                             QStringLiteral("%1°").arg(degrees));
        }
    }
    for (const Plate &plate : m_plates) {
        const auto hand = handOf(plate);
        if (!hand) {
            continue; // it has no angle
        }
        const double angle = *hand;
        const QPointF tip = at(angle, radius - 4);
        painter.setPen(QPen(theme::text, 4, Qt::SolidLine, Qt::RoundCap)); // pale inks stay visible
        painter.drawLine(at(angle, 16), tip);
        painter.setPen(QPen(theme::ink_color(plate.shown()), 2.4, Qt::SolidLine, Qt::RoundCap));
        painter.drawLine(at(angle, 16), tip);
        painter.setPen(QPen(theme::text, 1));
        painter.setBrush(theme::ink_color(plate.shown()));
        painter.drawEllipse(tip, 5, 5);
    }
}

} // namespace bichrom
