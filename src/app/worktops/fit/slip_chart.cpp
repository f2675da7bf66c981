#include "app/worktops/fit/slip_chart.h"

#include "app/widgets/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int row_height = 46;

QString area(double square_mm)
{
    return SlipChart::tr("%1 mm²").arg(square_mm, 0, 'f', square_mm < 10 ? 2 : 0);
}

} // namespace

SlipChart::SlipChart(QWidget *parent) : QWidget(parent)
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setCursor(Qt::PointingHandCursor);
}

void SlipChart::setRows(std::vector<Row> rows, bool trapped)
{
    m_rows = std::move(rows);
    m_trapped = trapped;
    QStringList words;
    for (const Row &row : m_rows) {
        words << tr("%1: %2; %3").arg(row.pair, area(row.now), row.note);
    }
    setAccessibleName(words.join(QStringLiteral("; ")));
    updateGeometry();
    update();
}

QSize SlipChart::sizeHint() const
{
    return {200, std::max(1, static_cast<int>(m_rows.size())) * row_height};
}

void SlipChart::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    double most = 0;
    for (const Row &row : m_rows) {
        most = std::max({most, row.now, row.plain});
    }
    int y = 0;
    for (const Row &row : m_rows) {
        const QRect words(0, y + 2, width(), 30);
        painter.setPen(theme::text);
        painter.setFont(theme::font(11, QFont::Medium));
        const QString amount = area(row.now);
        painter.drawText(words, Qt::AlignTop | Qt::AlignRight, amount);
        const int room = words.width() - painter.fontMetrics().horizontalAdvance(amount) - 8;
        painter.drawText(words, Qt::AlignTop | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(row.pair, Qt::ElideMiddle, room));
        painter.setFont(theme::font(11));
        painter.setPen(theme::quiet);
        painter.drawText(words, Qt::AlignBottom | Qt::AlignLeft, row.note);
        if (m_trapped) {
            painter.drawText(words, Qt::AlignBottom | Qt::AlignRight, tr("without %1").arg(area(row.plain)));
        }
        const auto bar = [&](double value) {
            return most > 0 ? static_cast<int>(std::lround(width() * value / most)) : 0;
        };
        painter.fillRect(QRect(0, y + 36, width(), 4), theme::line);
        if (m_trapped) {
            painter.fillRect(QRect(0, y + 36, bar(row.plain), 4), QColor(0x9c, 0x9c, 0x98));
        }
        painter.fillRect(QRect(0, y + 36, std::max(row.now > 0 ? 1 : 0, bar(row.now)), 4), theme::text);
        y += row_height;
    }
}

void SlipChart::mousePressEvent(QMouseEvent *event)
{
    const int row = static_cast<int>(event->position().y()) / row_height;
    if (row >= 0 && row < static_cast<int>(m_rows.size())) {
        Q_EMIT chosen(row);
    }
}

} // namespace bichrom
