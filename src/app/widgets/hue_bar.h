/// \file
/// A range of hues, dragged out on a bar that shows them.
/// Layer: app/widgets.
#pragma once

#include "core/colour/ink_control.h"

#include <QWidget>

namespace bichrom {

/// Drag along the bar for a range, double-click for all hues. Left and right move a range by 5°, with Shift
/// they make it narrower and wider; Delete lifts it.
class HueBar : public QWidget
{
    Q_OBJECT

public:
    explicit HueBar(QWidget *parent = nullptr);

    void setHold(const HueHold &hold); ///< without telling anybody
    [[nodiscard]] const HueHold &hold() const { return m_hold; }

    QSize sizeHint() const override { return {160, 30}; }

Q_SIGNALS:
    void holdChanged(const bichrom::HueHold &hold);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;

private:
    [[nodiscard]] QRectF bar() const;
    [[nodiscard]] double hueAt(double x) const;
    void take(const HueHold &hold, bool tell);

    HueHold m_hold, m_before;
    double m_pressed = -1; ///< hue where the drag began; −1 = none goes on
};

} // namespace bichrom
