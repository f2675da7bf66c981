#include "app/widgets/hue_bar.h"

#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom {

namespace {

double around(double degrees)
{
    const double turned = std::fmod(degrees, 360.0);
    return turned < 0 ? turned + 360 : turned;
}

} // namespace

HueBar::HueBar(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setMinimumHeight(30);
    setToolTip(tr("Drag along it: the ink prints in these hues only, the others do without it. "
                  "Double-click: in all."));
}

void HueBar::setHold(const HueHold &hold)
{
    m_hold = hold;
    update();
}

QRectF HueBar::bar() const
{
    return QRectF(rect()).adjusted(4, 4, -4, -10);
}

double HueBar::hueAt(double x) const
{
    return std::clamp((x - bar().left()) / bar().width(), 0.0, 1.0) * 360;
}

void HueBar::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const QRectF field = bar();
    for (int x = 0; x < static_cast<int>(field.width()); ++x) {
        const double hue = hueAt(field.left() + x);
        const double radians = hue * std::numbers::pi / 180;
        constexpr double lightness = 66, chroma = 42; // within sRGB all around
        const Lab lab{lightness, chroma * std::cos(radians), chroma * std::sin(radians)};
        const double share = m_hold.share(lab);
        const QColor ink = theme::ink_color(lab);
        const auto mix = [&](int one, int off) { return static_cast<int>(off + (one - off) * share); };
        painter.fillRect(QRectF(field.left() + x, field.top(), 1, field.height()),
                         QColor(mix(ink.red(), theme::strip.red()), mix(ink.green(), theme::strip.green()),
                                mix(ink.blue(), theme::strip.blue())));
    }
    painter.setPen(QPen(theme::line, 1));
    painter.drawRect(field);
    if (m_hold.holds()) { // its edges, told by lines too
        painter.setPen(QPen(theme::text, 2));
        for (const double side : {-0.5, 0.5}) {
            const double x = field.left() + around(m_hold.middle + side * m_hold.width) / 360 * field.width();
            painter.drawLine(QPointF(x, field.top() - 3), QPointF(x, field.bottom() + 7));
        }
    }
    if (hasFocus()) {
        painter.setPen(QPen(theme::amber, 1));
        painter.drawRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5));
    }
}

void HueBar::take(const HueHold &hold, bool tell)
{
    m_hold = hold;
    update();
    if (tell) {
        Q_EMIT holdChanged(m_hold);
    }
}

void HueBar::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton) {
        m_pressed = hueAt(event->position().x());
        m_before = m_hold;
    }
}

void HueBar::mouseMoveEvent(QMouseEvent *event)
{
    if (m_pressed < 0) {
        return;
    }
    const double hue = hueAt(event->position().x());
    const double width = std::fabs(hue - m_pressed);
    if (width >= HueHold::least_width / 2) {
        take({around((hue + m_pressed) / 2), std::clamp(width, HueHold::least_width, HueHold::all)}, false);
    }
}

void HueBar::mouseReleaseEvent(QMouseEvent *)
{
    if (m_pressed >= 0 && !(m_hold == m_before)) {
        Q_EMIT holdChanged(m_hold);
    }
    m_pressed = -1;
}

void HueBar::mouseDoubleClickEvent(QMouseEvent *)
{
    m_pressed = -1;
    take(HueHold(), true);
}

void HueBar::keyPressEvent(QKeyEvent *event)
{
    const bool left = event->key() == Qt::Key_Left;
    if (event->key() == Qt::Key_Delete || event->key() == Qt::Key_Backspace) {
        take(HueHold(), true);
    } else if (left || event->key() == Qt::Key_Right) {
        constexpr double step = 5, first = 60; // degrees
        HueHold next = m_hold.holds() ? m_hold : HueHold{180, first};
        if (event->modifiers().testFlag(Qt::ShiftModifier)) {
            next.width = std::clamp(next.width + (left ? -step : step), HueHold::least_width, HueHold::all);
        } else {
            next.middle = around(next.middle + (left ? -step : step));
        }
        take(next, true);
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace bichrom
