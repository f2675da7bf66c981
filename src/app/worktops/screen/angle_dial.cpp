#include "app/worktops/screen/angle_dial.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

void AngleDial::setPlates(const std::vector<Plate> &plates)
{
    m_plates = plates;
    update();
}

void AngleDial::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const double radius = std::min(width() / 2.0 - 34, height() - 36.0);
    const QPointF centre(width() / 2.0, height() - 8.0);
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
        if (plate.screen.kind == ScreenKind::Fm || plate.screen.kind == ScreenKind::None) {
            continue; // it has no angle
        }
        const bool half = plate.screen.dot == DotShape::Line || plate.screen.dot == DotShape::Ellipse;
        const double turn = half ? 180.0 : 90.0;
        const double angle = plate.screen.angle.value - std::floor(plate.screen.angle.value / turn) * turn;
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
