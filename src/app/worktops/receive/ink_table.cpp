#include "app/worktops/receive/ink_table.h"

#include "app/widgets/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int row_height = 42;

} // namespace

InkTable::InkTable(QWidget *parent) : QWidget(parent)
{
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
}

void InkTable::setRows(std::vector<Row> rows)
{
    m_rows = std::move(rows);
    QStringList words;
    for (const Row &row : m_rows) {
        words << tr("%1, %2, %3 of the trim, %4 cm²")
                     .arg(row.name, row.kind, theme::percent(std::max(0.0, row.share), 2))
                     .arg(row.area_cm2, 0, 'f', 1);
    }
    setAccessibleName(words.join(QStringLiteral("; ")));
    updateGeometry();
    update();
}

QSize InkTable::sizeHint() const
{
    return {200, std::max(1, static_cast<int>(m_rows.size())) * row_height};
}

void InkTable::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    if (m_rows.empty()) {
        painter.setPen(theme::quiet);
        painter.drawText(rect(), Qt::AlignVCenter, tr("none: the page paints nothing"));
    }
    double most = 0;
    for (const Row &row : m_rows) {
        most = std::max(most, row.share);
    }
    int y = 0;
    for (const Row &row : m_rows) {
        const QRect swatch(0, y + 4, 22, 22);
        painter.setPen(QPen(theme::quiet, 1));
        painter.setBrush(row.colour);
        painter.drawRect(swatch.adjusted(0, 0, -1, -1));
        const QString amount = row.share < 0 ? QStringLiteral("…") : theme::percent(row.share, 2);
        const QString area =
            row.share < 0 ? QString()
                          : tr("%1 cm²").arg(QString::number(row.area_cm2, 'f', row.area_cm2 < 10 ? 2 : 1));
        const QRect words(30, y + 1, width() - 30, 28);
        painter.setPen(theme::text);
        painter.setFont(theme::font(12, QFont::Medium));
        painter.drawText(words, Qt::AlignTop | Qt::AlignRight, amount);
        const int name_room = words.width() - painter.fontMetrics().horizontalAdvance(amount) - 8;
        painter.drawText(words, Qt::AlignTop | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(row.name, Qt::ElideMiddle, name_room));
        painter.setFont(theme::font(11));
        painter.setPen(theme::quiet);
        painter.drawText(words, Qt::AlignBottom | Qt::AlignLeft,
                         row.objects == 1 ? tr("%1, 1 object").arg(row.kind)
                                          : tr("%1, %2 objects").arg(row.kind).arg(row.objects));
        painter.drawText(words, Qt::AlignBottom | Qt::AlignRight, area);
        if (most > 0 && row.share > 0) {
            const int bar = std::max(1, static_cast<int>(std::lround(words.width() * row.share / most)));
            painter.fillRect(QRect(words.x(), y + 33, words.width(), 3), theme::line);
            painter.fillRect(QRect(words.x(), y + 33, bar, 3), theme::quiet);
        }
        y += row_height;
    }
}

} // namespace bichrom
