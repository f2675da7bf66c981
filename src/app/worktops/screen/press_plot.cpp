#include "app/worktops/screen/press_plot.h"

#include "app/widgets/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <functional>

namespace bichrom {

PressPlot::PressPlot(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("pressPlot"));
    setMinimumHeight(204);
    setAccessibleName(tr("Tones on film and in print"));
}

void PressPlot::show(const PressCurve &press)
{
    m_press = press;
    update();
}

void PressPlot::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setFont(theme::font(11));
    const QFontMetrics metrics = painter.fontMetrics();
    const double side = std::min(width() - 40.0 - 84, height() - 2.0 * metrics.height() - 4);
    const QRectF field(36, metrics.height() / 2.0 + 2, side, side);
    painter.fillRect(field, theme::field);
    painter.setPen(theme::line);
    const auto place = [&](double in, double out) {
        return QPointF(field.left() + in * field.width(), field.bottom() - out * field.height());
    };
    for (const double quarter : {0.25, 0.5, 0.75}) {
        painter.drawLine(place(quarter, 0), place(quarter, 1));
        painter.drawLine(place(0, quarter), place(1, quarter));
    }
    painter.setPen(theme::quiet);
    painter.drawRect(field);
    for (const int percent : {0, 50, 100}) {
        const double at = percent / 100.0;
        const QString words = percent == 100 ? QStringLiteral("100 %") : QString::number(percent);
        painter.drawText(QRectF(0, place(0, at).y() - metrics.height() / 2.0, 33, metrics.height()),
                         Qt::AlignRight | Qt::AlignVCenter, words);
        painter.drawText(QRectF(place(at, 0).x() - 24, field.bottom() + 2, 48, metrics.height()),
                         Qt::AlignCenter, words);
    }
    painter.setRenderHint(QPainter::Antialiasing);
    const auto draw = [&](const QPen &pen, const std::function<double(double)> &curve) {
        QPainterPath path(place(0, curve(0)));
        constexpr int steps = 200;
        for (int i = 1; i <= steps; ++i) {
            path.lineTo(place(double(i) / steps, curve(double(i) / steps)));
        }
        painter.setPen(pen);
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
    };
    // Told by the kind of line, and named where they end.
    const QPen measured(theme::quiet, 1.4), film(theme::text, 1.6, Qt::DashLine), print(theme::text, 2.2);
    draw(measured, [&](double tone) { return m_press.printed.at(tone); });
    draw(film, [&](double tone) { return film_tone(m_press, tone); });
    draw(print, [&](double tone) { return printed_tone(m_press, tone); });
    painter.setPen(theme::quiet);
    painter.setBrush(theme::card);
    for (const CurvePoint &point : m_press.printed.points()) {
        painter.drawEllipse(place(point.in, point.out), 2.6, 2.6);
    }
    double y = field.top() + 6;
    const auto name = [&](const QPen &pen, const QString &words) {
        painter.setPen(pen);
        painter.drawLine(QPointF(field.right() + 10, y + 7), QPointF(field.right() + 26, y + 7));
        painter.setPen(theme::text);
        painter.drawText(QPointF(field.right() + 30, y + 11), words);
        y += 20;
    };
    name(print, tr("print"));
    name(film, tr("film"));
    name(measured, tr("press"));
}

} // namespace bichrom
