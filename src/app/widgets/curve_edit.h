/// \file
/// A tone curve drawn and bent by hand.
/// Layer: app/widgets.
#pragma once

#include "core/colour/tone_curve.h"

#include <QColor>
#include <QWidget>

namespace bichrom {

/// Drag a point, double-click to add one, Delete to remove it; arrow keys move the chosen one by 1 %.
class CurveEdit : public QWidget
{
    Q_OBJECT

public:
    explicit CurveEdit(QWidget *parent = nullptr);

    /// Shows a curve without telling anybody; the identity gets its two ends.
    void setCurve(const ToneCurve &curve);
    /// The curve as drawn; the identity when it is a straight line from corner to corner.
    [[nodiscard]] ToneCurve curve() const;
    void setInk(const QColor &ink);
    /// Where a tone stands, widget pixels.
    [[nodiscard]] QPointF placeOf(const CurvePoint &point) const;

    QSize sizeHint() const override { return {120, 96}; }

Q_SIGNALS:
    void curveChanged();

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    [[nodiscard]] QRectF field() const;
    [[nodiscard]] CurvePoint toneAt(QPointF place) const;
    [[nodiscard]] int pointAt(QPointF place) const;
    void moveTo(int index, CurvePoint point);

    std::vector<CurvePoint> m_points;
    QColor m_ink;
    int m_chosen = 0;
    bool m_dragging = false;
};

} // namespace bichrom
