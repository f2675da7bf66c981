/// \file
/// Where the page lies on the light table.
/// Layer: app/lighttable.
#pragma once

#include <QPointF>
#include <QRectF>
#include <QSize>

namespace bichrom {

/// Zoom and place of a page in a widget, in device pixels. The page's top left always
/// lies on a whole device pixel, so that tiles are shown without resampling.
class ViewTransform
{
public:
    static constexpr double smallest_dpi = 1.0; ///< a page of ten metres still fits
    static constexpr double largest_dpi = 19200.0;

    [[nodiscard]] double dpi() const { return m_dpi; }        ///< device pixels an inch of artwork takes
    [[nodiscard]] QPointF origin() const { return m_origin; } ///< of the page's top left
    [[nodiscard]] double pixelsPerMm() const;

    [[nodiscard]] QPointF toPage(QPointF pixel) const; ///< mm from the page's top left
    [[nodiscard]] QPointF toPixel(QPointF mm) const;

    /// Shows a page of \p inches whole and centred in \p room.
    void fit(const QRectF &room, QSizeF inches);
    /// Changes the zoom, within its limits, keeping the page point under \p anchor.
    void zoom(double dpi, QPointF anchor);
    void moveBy(QPointF pixels);
    /// Brings the page point \p mm to \p pixel.
    void place(QPointF mm, QPointF pixel);
    /// Keeps some of a page of \p page pixels in sight of \p table.
    void limit(const QRectF &table, QSize page);

private:
    double m_dpi = 72;
    QPointF m_origin;
};

} // namespace bichrom
