#include "app/worktops/ink/pile_picture.h"

#include "app/widgets/theme.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

PilePicture::PilePicture(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("pilePicture"));
    setMinimumHeight(170);
}

void PilePicture::show(const QRectF &page, const QRectF &trim, std::vector<Sheet> sheets, int chosen)
{
    m_page = page;
    m_trim = trim;
    m_sheets = std::move(sheets);
    m_chosen = chosen;
    update();
}

QRectF PilePicture::extent() const
{
    QRectF all = m_page;
    for (const Sheet &sheet : m_sheets) {
        all = all.united(sheet.area);
    }
    return all;
}

double PilePicture::scale() const
{
    const QRectF all = extent();
    constexpr double margin = 8;
    return std::max(1e-6, std::min((width() - 2 * margin) / std::max(all.width(), 1e-6),
                                   (height() - 2 * margin) / std::max(all.height(), 1e-6)));
}

QPointF PilePicture::shownAt(QPointF mm) const
{
    const QPointF off = mm - extent().center();
    return QRectF(rect()).center() + off * scale();
}

QRectF PilePicture::shown(const QRectF &mm) const
{
    return {shownAt(mm.topLeft()), shownAt(mm.bottomRight())};
}

void PilePicture::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    painter.fillRect(rect(), theme::surround);
    if (m_page.isEmpty()) {
        return;
    }
    painter.setPen(Qt::NoPen);
    painter.fillRect(shown(m_page), theme::card);
    painter.setPen(QPen(theme::quiet, 1, Qt::DashLine));
    painter.drawRect(shown(m_trim));
    painter.setFont(theme::font(11));
    for (const Sheet &sheet : m_sheets) {
        const bool chosen = sheet.id == m_chosen;
        const QRectF at = shown(chosen ? sheet.area.translated(m_shift) : sheet.area);
        QColor fill = chosen ? theme::amberField : theme::card.darker(112);
        fill.setAlpha(200);
        painter.setPen(QPen(chosen ? theme::amber : theme::quiet, chosen ? 2 : 1));
        painter.setBrush(fill);
        painter.drawRect(at);
        painter.setPen(theme::quiet);
        painter.drawText(at.adjusted(4, 3, -4, -3), Qt::AlignLeft | Qt::AlignTop, QString::number(sheet.id));
    }
}

void PilePicture::mousePressEvent(QMouseEvent *event)
{
    for (std::size_t i = m_sheets.size(); i-- > 0;) { // the uppermost under the mouse
        if (shown(m_sheets[i].area).contains(event->position())) {
            m_dragging = true;
            m_shift = {};
            m_grip = event->position();
            if (m_sheets[i].id != m_chosen) {
                m_chosen = m_sheets[i].id;
                Q_EMIT chosen(m_chosen);
            }
            update();
            return;
        }
    }
}

void PilePicture::mouseMoveEvent(QMouseEvent *event)
{
    if (m_dragging) {
        m_shift = (event->position() - m_grip) / scale();
        update();
    }
}

void PilePicture::mouseReleaseEvent(QMouseEvent *event)
{
    if (!m_dragging) {
        return;
    }
    m_dragging = false;
    m_shift = (event->position() - m_grip) / scale();
    const QPointF shift = std::exchange(m_shift, QPointF());
    const auto sheet = std::find_if(m_sheets.begin(), m_sheets.end(),
                                    [this](const Sheet &one) { return one.id == m_chosen; });
    if (sheet != m_sheets.end() && !shift.isNull()) {
        Q_EMIT moved(m_chosen, sheet->area.topLeft() + shift);
    }
    update();
}

} // namespace bichrom
