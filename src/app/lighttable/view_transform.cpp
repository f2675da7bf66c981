#include "app/lighttable/view_transform.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

QPointF rounded(QPointF point)
{
    return {std::round(point.x()), std::round(point.y())};
}

} // namespace

double ViewTransform::pixelsPerMm() const
{
    return m_dpi / millimetres_per_inch;
}

QPointF ViewTransform::toPage(QPointF pixel) const
{
    return (pixel - m_origin) / pixelsPerMm();
}

QPointF ViewTransform::toPixel(QPointF mm) const
{
    return mm * pixelsPerMm() + m_origin;
}

void ViewTransform::fit(const QRectF &room, QSizeF inches)
{
    m_dpi = std::clamp(std::min(room.width() / inches.width(), room.height() / inches.height()), smallest_dpi,
                       largest_dpi);
    m_origin = rounded(room.center() - QPointF(inches.width(), inches.height()) * m_dpi / 2);
}

void ViewTransform::zoom(double dpi, QPointF anchor)
{
    const double wanted = std::clamp(dpi, smallest_dpi, largest_dpi);
    m_origin = anchor - (anchor - m_origin) * (wanted / m_dpi);
    m_dpi = wanted;
}

void ViewTransform::moveBy(QPointF pixels)
{
    m_origin += pixels;
}

void ViewTransform::place(QPointF mm, QPointF pixel)
{
    m_origin = pixel - mm * pixelsPerMm();
}

void ViewTransform::limit(const QRectF &table, QSize page)
{
    constexpr double keep = 60;
    m_origin = rounded({std::clamp(m_origin.x(), table.left() + keep - page.width(), table.right() - keep),
                        std::clamp(m_origin.y(), table.top() + keep - page.height(), table.bottom() - keep)});
}

} // namespace bichrom
