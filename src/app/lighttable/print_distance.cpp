#include "app/lighttable/print_distance.h"

#include "app/widgets/theme.h"
#include "core/proof/change_look.h"

#include <QLinearGradient>
#include <QPainter>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int rest_ms = 400; // after an edit
constexpr double seen = 2;   // ΔE from which a difference is worth a ring

QString number(double value)
{
    return theme::text_of(format_number(value, 1));
}

} // namespace

PrintDistance::PrintDistance(Session &session, QObject *parent) : QObject(parent), m_session(session)
{
    m_rest.setSingleShot(true);
    m_rest.setInterval(rest_ms);
    connect(&m_rest, &QTimer::timeout, this, &PrintDistance::start);
    connect(&m_session, &Session::jobChanged, this, &PrintDistance::measure);
    connect(&m_session, &Session::pageChanged, this, [this] {
        m_report.forget();
        measure();
    });
}

void PrintDistance::setWanted(bool wanted)
{
    if (wanted == m_wanted) {
        return;
    }
    m_wanted = wanted;
    if (wanted) {
        measure();
    } else {
        m_rest.stop();
        m_running.cancel();
        m_report.forget();
    }
}

void PrintDistance::measure()
{
    m_running.cancel();
    if (m_wanted && m_session.isOpen()) {
        m_rest.start();
    }
}

void PrintDistance::start()
{
    const quint64 ticket = m_report.begin();
    m_running = m_tasks.start(
        [opened = m_session.opened()](const JobControl &control) {
            constexpr int side = 700; // pixels of the longer one
            return measure_separation(opened, side, control);
        },
        [this, ticket](Outcome<SeparationReport> report) {
            if (m_report.take(ticket, std::move(report))) {
                Q_EMIT changed();
            }
        });
    Q_EMIT changed();
}

std::optional<QPointF> PrintDistance::worst() const
{
    const SeparationReport *report = m_report.value();
    if (report == nullptr || report->worst < seen) {
        return std::nullopt;
    }
    return QPointF(report->worst_x, report->worst_y);
}

QString PrintDistance::words() const
{
    using State = Fact<SeparationReport>::State;
    if (m_report.state() == State::Failed) {
        return tr("How near it comes is not known: %1").arg(m_report.fault());
    }
    const SeparationReport *report = m_report.value();
    if (report == nullptr) {
        return tr("measuring …");
    }
    return tr("ΔE median %1, 95 % under %2, worst %3; %4 % of it beyond ΔE 6")
        .arg(number(report->median), number(report->p95), number(report->worst),
             number(report->beyond * 100));
}

QRectF PrintDistance::paintLegend(QPainter &painter, const QRectF &room) const
{
    painter.save();
    painter.setFont(theme::font(11));
    const QFontMetricsF metrics(painter.font());
    const QString text = words();
    const double line = metrics.height(), bar = 10;
    const QSizeF size(std::min(room.width(), metrics.horizontalAdvance(text) + 16), 2 * line + bar + 14);
    const QRectF box(room.left(), room.bottom() - size.height(), size.width(), size.height());
    painter.fillRect(box, theme::field);
    const QRectF scale(box.left() + 8, box.top() + 6, box.width() - 16, bar);
    QLinearGradient greys(scale.topLeft(), scale.topRight());
    greys.setColorAt(0, Qt::white);
    greys.setColorAt(1, Qt::black);
    painter.fillRect(scale, greys);
    painter.setPen(theme::quiet);
    painter.drawRect(scale);
    for (const int mark : {0, 6, 12, 18, static_cast<int>(darkest_difference)}) {
        const double x = scale.left() + scale.width() * mark / darkest_difference;
        const QString name = mark == 0 ? tr("ΔE 0") : QString::number(mark);
        const double wide = metrics.horizontalAdvance(name);
        const double left = std::clamp(x - wide / 2, scale.left(), scale.right() - wide);
        painter.drawText(QPointF(left, scale.bottom() + 2 + metrics.ascent()), name);
    }
    painter.setPen(theme::text);
    painter.drawText(QRectF(box.left() + 8, box.bottom() - line - 4, box.width() - 16, line),
                     Qt::AlignLeft | Qt::AlignVCenter,
                     metrics.elidedText(text, Qt::ElideRight, box.width() - 16));
    painter.restore();
    return box;
}

} // namespace bichrom
