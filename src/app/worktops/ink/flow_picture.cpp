#include "app/worktops/ink/flow_picture.h"

#include "app/widgets/theme.h"

#include <QContextMenuEvent>
#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QToolTip>

#include <algorithm>
#include <cmath>
#include <utility>

namespace bichrom {

namespace {

constexpr int row_height = 24;
constexpr int left_width = 134;
constexpr int right_width = 98;
constexpr int swatch_width = 18;
constexpr double widest_stream = 9.0;

} // namespace

FlowPicture::FlowPicture(QWidget *parent) : QWidget(parent)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Colours and the plates they go to"));
}

void FlowPicture::setFlow(std::vector<FlowSource> sources, std::vector<FlowEnd> ends)
{
    m_sources = std::move(sources);
    m_ends = std::move(ends);
    m_source = std::min(m_source, static_cast<int>(m_sources.size()) - 1);
    m_end = std::min(m_end, static_cast<int>(m_ends.size()) - 1);
    std::erase_if(m_besides, [this](int one) { return one >= static_cast<int>(m_sources.size()); });
    updateGeometry();
    describe();
    update();
}

void FlowPicture::choose(int source, int end)
{
    m_source = source;
    m_end = end;
    describe();
    update();
}

void FlowPicture::chooseBesides(std::vector<int> sources)
{
    m_besides = std::move(sources);
    describe();
    update();
}

bool FlowPicture::isChosen(int source) const
{
    return source == m_source || std::find(m_besides.begin(), m_besides.end(), source) != m_besides.end();
}

/// Ctrl takes \p source in or leaves it out; Shift takes in all up to it.
void FlowPicture::extendTo(int source, Qt::KeyboardModifiers keys)
{
    if (keys.testFlag(Qt::ShiftModifier)) {
        m_besides.clear();
        for (int one = std::min(source, m_source); one <= std::max(source, m_source); ++one) {
            if (one != m_source && one >= 0) {
                m_besides.push_back(one);
            }
        }
    } else if (source != m_source && std::erase(m_besides, source) == 0) {
        m_besides.push_back(source);
    }
    describe();
    update();
    Q_EMIT besidesChanged();
}

void FlowPicture::describe()
{
    const auto known = [](int index, const auto &list) {
        return index >= 0 && index < static_cast<int>(list.size());
    };
    QString words = known(m_source, m_sources) ? m_sources[static_cast<std::size_t>(m_source)].tip
                                               : tr("no colour chosen");
    if (!m_besides.empty()) {
        words += tr(" and %1 more").arg(static_cast<int>(m_besides.size()));
    }
    words += QStringLiteral("; ") +
             (known(m_end, m_ends) ? m_ends[static_cast<std::size_t>(m_end)].name : tr("no plate chosen"));
    setAccessibleDescription(words);
}

QSize FlowPicture::sizeHint() const
{
    const auto rows = static_cast<int>(std::max(m_sources.size(), m_ends.size()));
    return {left_width + right_width + 28, std::max(2, rows) * row_height + 4};
}

QRect FlowPicture::sourceRect(int index) const
{
    return {0, 2 + index * row_height, left_width, row_height};
}

QRect FlowPicture::endRect(int index) const
{
    return {width() - right_width, 2 + index * row_height, right_width, row_height};
}

int FlowPicture::sourceAt(QPoint point) const
{
    const int row = (point.y() - 2) / row_height;
    return point.x() < left_width && point.y() >= 2 && row < static_cast<int>(m_sources.size()) ? row : -1;
}

int FlowPicture::endAt(QPoint point) const
{
    const int row = (point.y() - 2) / row_height;
    return point.x() >= width() - right_width && point.y() >= 2 && row < static_cast<int>(m_ends.size()) ? row
                                                                                                         : -1;
}

void FlowPicture::paintStreams(QPainter &painter, const QRect &exposed) const
{
    double largest = 0;
    for (const FlowSource &source : m_sources) {
        largest = std::max(largest, source.area);
    }
    for (std::size_t i = 0; i < m_sources.size(); ++i) {
        const FlowSource &source = m_sources[i];
        const bool chosen = isChosen(static_cast<int>(i));
        const double share = largest > 0 && source.area > 0 ? std::sqrt(source.area / largest) : 0.2;
        const double width = 1.5 + (widest_stream - 1.5) * share;
        const QRect from = sourceRect(static_cast<int>(i));
        constexpr int beyond = 20 * row_height; // streams of rows out of sight, as far as they are told apart
        if (!from.adjusted(0, -beyond, 0, beyond).intersects(exposed)) {
            continue;
        }
        for (const FlowSource::Stream &stream : source.streams) {
            const QRect to = endRect(stream.to);
            const QPointF start(from.right() - 2, from.center().y() + 0.5);
            const QPointF end(to.left() + 2, to.center().y() + 0.5);
            const double bend = (end.x() - start.x()) * 0.5;
            QPainterPath path(start);
            path.cubicTo(start + QPointF(bend, 0), end - QPointF(bend, 0), end);
            const FlowEnd &target = m_ends[static_cast<std::size_t>(stream.to)];
            const QColor ink = target.swatch.isValid() ? target.swatch : theme::line;
            if (chosen) {
                painter.setPen(QPen(theme::text, width + 3.0));
                painter.drawPath(path);
            }
            // Light inks would vanish on the panel: a thin edge keeps every stream visible.
            painter.setPen(QPen(theme::quiet, width + 1.0));
            painter.drawPath(path);
            // A tint is drawn as the ink thinned with the panel's own grey.
            const double t = std::clamp(stream.amount, 0.15, 1.0);
            const auto mix = [t](int a, int b) { return static_cast<int>(std::lround(t * a + (1 - t) * b)); };
            const QColor tinted(mix(ink.red(), theme::field.red()), mix(ink.green(), theme::field.green()),
                                mix(ink.blue(), theme::field.blue()));
            painter.setPen(QPen(tinted, width, target.swatch.isValid() ? Qt::SolidLine : Qt::DotLine));
            painter.drawPath(path);
        }
    }
}

void FlowPicture::paintEvent(QPaintEvent *event)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    paintStreams(painter, QRect(0, event->rect().top(), width(), event->rect().height()));
    painter.setRenderHint(QPainter::Antialiasing, false);
    const auto paint_row = [&](const QRect &row, const QColor &swatch, const std::vector<QRectF> &places,
                               const QString &name, bool chosen, bool marked, bool quiet) {
        if (chosen) {
            painter.fillRect(row.adjusted(0, 1, 0, -1), theme::amberField);
            painter.fillRect(row.left(), row.top() + 1, 3, row.height() - 2, theme::amber);
        }
        const QRect chip(row.left() + 6, row.top() + 5, swatch_width, row.height() - 10);
        if (!places.empty()) {
            painter.fillRect(chip, theme::field);
            for (const QRectF &place : places) {
                const QRectF at(chip.x() + place.x() * chip.width(), chip.y() + place.y() * chip.height(),
                                std::max(2.0, place.width() * chip.width()),
                                std::max(2.0, place.height() * chip.height()));
                painter.fillRect(at.intersected(QRectF(chip)), theme::text);
            }
        } else if (swatch.isValid()) {
            painter.fillRect(chip, swatch);
        } else {
            painter.fillRect(chip, QBrush(theme::quiet, Qt::Dense6Pattern));
        }
        painter.setPen(theme::quiet);
        painter.drawRect(chip.adjusted(0, 0, -1, -1));
        painter.setFont(theme::font(11, marked ? QFont::DemiBold : QFont::Normal));
        painter.setPen(marked ? theme::amberText : quiet ? theme::quiet : theme::text);
        const QRect text(chip.right() + 6, row.top(), row.right() - chip.right() - 7, row.height());
        painter.drawText(text, Qt::AlignVCenter | Qt::AlignLeft,
                         painter.fontMetrics().elidedText(name, Qt::ElideRight, text.width()));
    };
    for (std::size_t i = 0; i < m_sources.size(); ++i) {
        const FlowSource &source = m_sources[i];
        const int index = static_cast<int>(i);
        const QRect row = sourceRect(index);
        if (!row.intersects(event->rect().adjusted(0, 0, 12, 0))) {
            continue;
        }
        paint_row(row, source.swatch, source.places, source.name, isChosen(index), source.lost, false);
        if (source.lost) { // a stream that ends in the open
            painter.setPen(QPen(theme::amberText, 2, Qt::DotLine));
            painter.drawLine(row.right(), row.center().y(), row.right() + 12, row.center().y());
            painter.drawText(QRect(row.right() + 13, row.top(), 10, row.height()), Qt::AlignCenter,
                             QStringLiteral("?"));
        }
    }
    for (std::size_t i = 0; i < m_ends.size(); ++i) {
        const FlowEnd &end = m_ends[i];
        paint_row(endRect(static_cast<int>(i)), end.swatch, {}, end.name, static_cast<int>(i) == m_end, false,
                  end.idle);
    }
    if (m_dragged >= 0) {
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme::amber, 3));
        painter.drawLine(QPointF(sourceRect(m_dragged).right(), sourceRect(m_dragged).center().y()),
                         QPointF(m_pointer));
    }
    if (hasFocus()) {
        painter.setRenderHint(QPainter::Antialiasing, false);
        painter.setPen(QPen(theme::quiet, 1, Qt::DotLine));
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void FlowPicture::contextMenuEvent(QContextMenuEvent *event)
{
    if (const int source = sourceAt(event->pos()); source >= 0) {
        Q_EMIT menuWanted(source, event->globalPos());
    }
}

void FlowPicture::mousePressEvent(QMouseEvent *event)
{
    const QPoint at = event->position().toPoint();
    if (const int source = sourceAt(at); source >= 0) {
        if ((event->modifiers() & (Qt::ShiftModifier | Qt::ControlModifier)) != 0 && m_source >= 0) {
            extendTo(source, event->modifiers());
            return;
        }
        if (isChosen(source) &&
            !m_besides.empty()) { // all of them may be dragged; a mere click chooses this one
            m_dragged = source;
            m_pointer = at;
            return;
        }
        m_besides.clear();
        choose(source, m_end);
        m_dragged = source;
        m_pointer = at;
        Q_EMIT sourceChosen(source);
    } else if (const int end = endAt(at); end >= 0) {
        choose(m_source, end);
        Q_EMIT endChosen(end);
    }
}

void FlowPicture::mouseMoveEvent(QMouseEvent *event)
{
    m_pointer = event->position().toPoint();
    if (const int under = m_dragged >= 0 ? -1 : sourceAt(m_pointer); under != m_hovered) {
        m_hovered = under;
        Q_EMIT sourceHovered(under);
    }
    if (m_dragged >= 0) {
        if (const int end = endAt(m_pointer); end >= 0) {
            m_end = end;
        }
        update();
    }
}

void FlowPicture::mouseReleaseEvent(QMouseEvent *event)
{
    const int source = std::exchange(m_dragged, -1);
    const int end = endAt(event->position().toPoint());
    if (source >= 0 && end >= 0) {
        Q_EMIT endChosen(end);
        Q_EMIT sent(source, end);
    } else if (source >= 0 && !m_besides.empty() && sourceAt(event->position().toPoint()) == source) {
        m_besides.clear();
        choose(source, m_end);
        Q_EMIT sourceChosen(source);
    }
    update();
}

void FlowPicture::leaveEvent(QEvent *event)
{
    QWidget::leaveEvent(event);
    if (std::exchange(m_hovered, -1) >= 0) {
        Q_EMIT sourceHovered(-1);
    }
}

void FlowPicture::keyPressEvent(QKeyEvent *event)
{
    const auto step = [](int from, int by, std::size_t count) {
        return count == 0 ? -1 : std::clamp(from + by, 0, static_cast<int>(count) - 1);
    };
    switch (event->key()) {
    case Qt::Key_Up:
    case Qt::Key_Down:
        if (event->modifiers().testFlag(Qt::ShiftModifier) && m_source >= 0) {
            const int by = event->key() == Qt::Key_Up ? -1 : 1;
            const int last = m_besides.empty() ? m_source : by < 0 ? m_besides.front() : m_besides.back();
            extendTo(step(last, by, m_sources.size()), Qt::ShiftModifier);
            return;
        }
        m_besides.clear();
        choose(step(m_source, event->key() == Qt::Key_Up ? -1 : 1, m_sources.size()), m_end);
        Q_EMIT sourceChosen(m_source);
        return;
    case Qt::Key_Left:
    case Qt::Key_Right:
        choose(m_source, step(m_end, event->key() == Qt::Key_Left ? -1 : 1, m_ends.size()));
        Q_EMIT endChosen(m_end);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        if (m_source >= 0 && m_end >= 0) {
            Q_EMIT sent(m_source, m_end);
        }
        return;
    case Qt::Key_Delete:
    case Qt::Key_Backspace:
        if (m_source >= 0) {
            Q_EMIT released(m_source);
        }
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

bool FlowPicture::event(QEvent *event)
{
    if (event->type() == QEvent::ToolTip) {
        auto *help = static_cast<QHelpEvent *>(event);
        const int source = sourceAt(help->pos());
        const int end = endAt(help->pos());
        QToolTip::showText(help->globalPos(),
                           source >= 0 ? m_sources[static_cast<std::size_t>(source)].tip
                           : end >= 0  ? m_ends[static_cast<std::size_t>(end)].name
                                       : QString(),
                           this);
        return true;
    }
    return QWidget::event(event);
}

} // namespace bichrom
