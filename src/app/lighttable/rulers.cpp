#include "app/lighttable/rulers.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <cmath>

namespace bichrom {

namespace {

struct Steps
{
    double major; ///< in the ruler's unit
    int parts;    ///< small steps in a major one
};

Steps steps_for(double pixels_per_unit)
{
    constexpr double wanted = 60.0; // pixels between numbers
    double power = 1.0;
    while (power * pixels_per_unit < wanted) {
        power *= 10.0;
    }
    while (power * pixels_per_unit >= wanted * 10.0) {
        power /= 10.0;
    }
    if (power * pixels_per_unit >= wanted * 5.0) {
        return {power / 5.0, 4};
    }
    if (power * pixels_per_unit >= wanted * 2.0) {
        return {power / 2.0, 5};
    }
    return {power, 5};
}

} // namespace

void paint_ruler(QPainter &painter, const QRect &area, Qt::Orientation direction, double origin,
                 double pixels_per_mm, LengthUnit unit, double marker)
{
    const bool across = direction == Qt::Horizontal;
    painter.save();
    painter.setClipRect(area);
    painter.fillRect(area, theme::strip);
    const double mm_per_unit = unit == LengthUnit::Inch    ? millimetres_per_inch
                               : unit == LengthUnit::Point ? millimetres_per_inch / points_per_inch
                                                           : 1.0;
    const double per_unit = pixels_per_mm * mm_per_unit;
    const Steps steps = steps_for(per_unit);
    const double small = steps.major / steps.parts;
    const double begin = (across ? area.left() : area.top()) - origin;
    const double end = (across ? area.right() : area.bottom()) + 1 - origin;
    painter.setFont(theme::font(11));
    const auto first = static_cast<qint64>(std::floor(begin / (small * per_unit)));
    const auto last = static_cast<qint64>(std::ceil(end / (small * per_unit)));
    for (qint64 i = first; i <= last; ++i) {
        const double at = origin + static_cast<double>(i) * small * per_unit;
        const bool major = i % steps.parts == 0;
        const int length = major ? 10 : 5;
        painter.setPen(theme::quiet);
        if (across) {
            painter.drawLine(QPointF(at, area.bottom() + 1 - length), QPointF(at, area.bottom() + 1));
        } else {
            painter.drawLine(QPointF(area.right() + 1 - length, at), QPointF(area.right() + 1, at));
        }
        if (!major) {
            continue;
        }
        const QString label = QString::fromStdString(format_number(static_cast<double>(i) * small, 3));
        // A number of which only part would be seen says something else: none is better.
        const double room = painter.fontMetrics().horizontalAdvance(label);
        if (across ? at + 3 < area.left() || at + 3 + room > area.right() + 1
                   : at - 3 - room < area.top() || at - 3 > area.bottom() + 1) {
            continue;
        }
        painter.setPen(theme::text);
        if (across) {
            painter.drawText(QPointF(at + 3, area.top() + 11), label);
        } else {
            painter.save();
            painter.translate(area.left() + 11, at - 3);
            painter.rotate(-90);
            painter.drawText(QPointF(0, 0), label);
            painter.restore();
        }
    }
    if (marker >= (across ? area.left() : area.top())) {
        painter.setPen(QPen(theme::amber, 2));
        if (across) {
            painter.drawLine(QPointF(marker, area.top()), QPointF(marker, area.bottom() + 1));
        } else {
            painter.drawLine(QPointF(area.left(), marker), QPointF(area.right() + 1, marker));
        }
    }
    painter.restore();
}

} // namespace bichrom
