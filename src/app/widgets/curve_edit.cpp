#include "app/widgets/curve_edit.h"

#include "app/widgets/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double apart = 0.02; ///< of neighbouring points
constexpr double grip = 8.0;   ///< pixels
const std::vector<CurvePoint> straight = {{0, 0}, {1, 1}};

} // namespace

CurveEdit::CurveEdit(QWidget *parent) : QWidget(parent), m_points(straight), m_ink(theme::text)
{
    setFocusPolicy(Qt::StrongFocus);
    setMinimumSize(80, 70);
    setToolTip(
        tr("From the picture's tone (across) to the ink's (up). Drag a point; double-click adds one, Delete "
           "removes it, arrow keys move it by 1 %."));
}

void CurveEdit::setCurve(const ToneCurve &curve)
{
    m_points = curve.points().empty() ? straight : curve.points();
    m_chosen = std::clamp(m_chosen, 0, static_cast<int>(m_points.size()) - 1);
    update();
}

ToneCurve CurveEdit::curve() const
{
    if (m_points == straight) {
        return {};
    }
    auto curve = ToneCurve::through(m_points);
    return curve ? *curve : ToneCurve();
}

void CurveEdit::setInk(const QColor &ink)
{
    m_ink = ink;
    update();
}

QRectF CurveEdit::field() const
{
    return QRectF(rect()).adjusted(6.5, 6.5, -6.5, -6.5);
}

QPointF CurveEdit::placeOf(const CurvePoint &point) const
{
    const QRectF area = field();
    return {area.left() + point.in * area.width(), area.bottom() - point.out * area.height()};
}

CurvePoint CurveEdit::toneAt(QPointF place) const
{
    const QRectF area = field();
    const auto whole = [](double v) { return std::round(std::clamp(v, 0.0, 1.0) * 100.0) / 100.0; };
    return {whole((place.x() - area.left()) / area.width()),
            whole((area.bottom() - place.y()) / area.height())};
}

int CurveEdit::pointAt(QPointF place) const
{
    for (std::size_t i = 0; i < m_points.size(); ++i) {
        const QPointF away = placeOf(m_points[i]) - place;
        if (std::hypot(away.x(), away.y()) <= grip) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

void CurveEdit::moveTo(int index, CurvePoint point)
{
    const auto i = static_cast<std::size_t>(index);
    const double low = i == 0 ? 0.0 : m_points[i - 1].in + apart;
    const double high = i + 1 == m_points.size() ? 1.0 : m_points[i + 1].in - apart;
    point.in = std::clamp(point.in, low, std::max(low, high));
    point.out = std::clamp(point.out, 0.0, 1.0);
    if (!(m_points[i] == point)) {
        m_points[i] = point;
        update();
        Q_EMIT curveChanged();
    }
}

void CurveEdit::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const QRectF area = field();
    painter.fillRect(area, theme::field);
    painter.setPen(theme::line);
    for (const double quarter : {0.25, 0.5, 0.75}) {
        const QPointF at = placeOf({quarter, quarter});
        painter.drawLine(QPointF(at.x(), area.top()), QPointF(at.x(), area.bottom()));
        painter.drawLine(QPointF(area.left(), at.y()), QPointF(area.right(), at.y()));
    }
    painter.setPen(hasFocus() ? theme::amber : theme::quiet);
    painter.drawRect(area);
    painter.setRenderHint(QPainter::Antialiasing);
    const ToneCurve shown = curve();
    QPainterPath path(placeOf({0, shown.at(0)}));
    for (int i = 1; i <= 50; ++i) {
        path.lineTo(placeOf({i / 50.0, shown.at(i / 50.0)}));
    }
    painter.setPen(QPen(theme::text, 3.5));
    painter.drawPath(path);
    painter.setPen(QPen(m_ink, 2));
    painter.drawPath(path);
    for (std::size_t i = 0; i < m_points.size(); ++i) {
        const bool chosen = static_cast<int>(i) == m_chosen && hasFocus();
        painter.setPen(QPen(theme::text, 1));
        painter.setBrush(chosen ? theme::amber : theme::card);
        painter.drawEllipse(placeOf(m_points[i]), 3.5, 3.5);
    }
}

void CurveEdit::mousePressEvent(QMouseEvent *event)
{
    if (const int point = pointAt(event->position()); point >= 0) {
        m_chosen = point;
        m_dragging = true;
        update();
    }
}

void CurveEdit::mouseMoveEvent(QMouseEvent *event)
{
    if (m_dragging) {
        moveTo(m_chosen, toneAt(event->position()));
    }
}

void CurveEdit::mouseReleaseEvent(QMouseEvent *)
{
    m_dragging = false;
}

void CurveEdit::mouseDoubleClickEvent(QMouseEvent *event)
{
    constexpr std::size_t most = 16;
    const CurvePoint point = toneAt(event->position());
    const auto place = std::find_if(m_points.begin(), m_points.end(),
                                    [&](const CurvePoint &other) { return other.in > point.in - apart; });
    if (pointAt(event->position()) >= 0 || m_points.size() >= most ||
        (place != m_points.end() && place->in < point.in + apart)) {
        return;
    }
    m_chosen = static_cast<int>(place - m_points.begin());
    m_points.insert(place, point);
    update();
    Q_EMIT curveChanged();
}

void CurveEdit::keyPressEvent(QKeyEvent *event)
{
    CurvePoint point = m_points[static_cast<std::size_t>(m_chosen)];
    switch (event->key()) {
    case Qt::Key_Up:
        moveTo(m_chosen, {point.in, point.out + 0.01});
        return;
    case Qt::Key_Down:
        moveTo(m_chosen, {point.in, point.out - 0.01});
        return;
    case Qt::Key_Left:
        moveTo(m_chosen, {point.in - 0.01, point.out});
        return;
    case Qt::Key_Right:
        moveTo(m_chosen, {point.in + 0.01, point.out});
        return;
    case Qt::Key_PageUp:
    case Qt::Key_PageDown:
        m_chosen = std::clamp(m_chosen + (event->key() == Qt::Key_PageUp ? 1 : -1), 0,
                              static_cast<int>(m_points.size()) - 1);
        update();
        return;
    case Qt::Key_Delete:
        if (m_points.size() > 2) {
            m_points.erase(m_points.begin() + m_chosen);
            m_chosen = std::min(m_chosen, static_cast<int>(m_points.size()) - 1);
            update();
            Q_EMIT curveChanged();
        }
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace bichrom
