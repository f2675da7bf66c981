#include "app/lighttable/plate_sheet.h"

#include "app/services/picture.h"
#include "app/widgets/theme.h"
#include "core/proof/plates_look.h"

#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr int gap = 10, label_height = 20;

} // namespace

PlateSheet::PlateSheet(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    setObjectName(QStringLiteral("plateSheet"));
    setAccessibleName(tr("All plates side by side"));
    setToolTip(tr("A click shows the plate alone"));
    hide();
    connect(&m_session, &Session::platesChanged, this, &PlateSheet::follow);
    connect(&m_session, &Session::pageChanged, this, [this] {
        m_made.forget(); // plates of another page
        follow();
    });
    connect(&m_session.facts(), &Facts::coverageChanged, this, qOverload<>(&QWidget::update));
}

int PlateSheet::columns(std::size_t count) const
{
    const auto number = static_cast<int>(std::max<std::size_t>(count, 1));
    const PageContent &page = m_session.page()->content();
    const double ratio = page.width().value / std::max(page.height().value, 1e-6);
    int best = 1;
    double largest = 0;
    for (int across = 1; across <= number; ++across) {
        const int down = (number + across - 1) / across;
        const double wide = (contentsRect().width() - gap * (across + 1.0)) / across;
        const double high = (contentsRect().height() - gap * (down + 1.0)) / down - label_height;
        const double shown = std::min(wide, high * ratio);
        if (shown > largest) {
            largest = shown;
            best = across;
        }
    }
    return best;
}

QRect PlateSheet::cell(std::size_t number, std::size_t count) const
{
    const int across = columns(count);
    const int down = (static_cast<int>(count) + across - 1) / across;
    const QRect all = contentsRect();
    const int wide = (all.width() - gap * (across + 1)) / across;
    const int high = (all.height() - gap * (down + 1)) / down;
    const int at = static_cast<int>(number);
    return {all.left() + gap + at % across * (wide + gap), all.top() + gap + at / across * (high + gap), wide,
            high};
}

QSize PlateSheet::room(std::size_t count) const
{
    const QRect one = cell(0, count);
    return QSize(one.width(), one.height() - label_height) * devicePixelRatioF();
}

QRect PlateSheet::cellOf(const QString &ink) const
{
    if (const std::vector<Film> *films = m_made.value()) {
        for (std::size_t i = 0; i < films->size(); ++i) {
            if ((*films)[i].ink == ink) {
                return cell(i, films->size());
            }
        }
    }
    return {};
}

/// Paints the plates anew, for who looks; nobody else waits for them.
void PlateSheet::follow()
{
    if (!isVisible() || !m_session.isOpen()) {
        return;
    }
    m_running.cancel();
    const std::shared_ptr<const PlateLine> line = m_session.page()->plate_line;
    const QSize most = room(line->inks().size());
    if (most.width() < 8 || most.height() < 8) {
        return;
    }
    const PageContent &page = line->page();
    const double dpi =
        std::min(most.width() / page.width().value, most.height() / page.height().value) * points_per_inch;
    const quint64 ticket = m_made.begin();
    m_running = m_tasks.start(
        [line, dpi](const JobControl &control) -> Outcome<std::vector<Film>> {
            const auto tile = line->whole_page(Dpi(dpi), Edges::Seen, control);
            if (!tile) {
                return tile.error();
            }
            std::vector<Film> films;
            for (std::size_t i = 0; i < tile->plates.size(); ++i) {
                const Plane &plane = tile->plates[i];
                std::vector<std::uint32_t> pixels(static_cast<std::size_t>(plane.width) *
                                                  static_cast<std::size_t>(plane.height));
                compose_film(plane, pixels);
                films.push_back(
                    {QString::fromStdString(line->inks()[i]), picture_of(pixels, plane.width, plane.height)});
            }
            return films;
        },
        [this, ticket](Outcome<std::vector<Film>> films) {
            if (m_made.take(ticket, std::move(films))) {
                update();
            }
        });
    update();
}

void PlateSheet::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    painter.fillRect(rect(), theme::surround);
    painter.setFont(theme::font(12));
    painter.setPen(theme::text);
    const std::vector<Film> *films = m_made.value();
    if (films == nullptr) {
        painter.drawText(rect(), Qt::AlignCenter,
                         m_made.state() == Made::State::Failed ? m_made.fault() : tr("Plates are painted …"));
        return;
    }
    const Facts &facts = m_session.facts();
    for (std::size_t i = 0; i < films->size(); ++i) {
        const Film &film = (*films)[i];
        const QRect at = cell(i, films->size());
        const double tone = facts.coverage(film.ink.toStdString());
        const QString words =
            tone < 0 ? film.ink : QStringLiteral("%1   %2 %").arg(film.ink).arg(tone * 100, 0, 'f', 1);
        painter.drawText(QRect(at.left(), at.top(), at.width(), label_height),
                         Qt::AlignLeft | Qt::AlignVCenter,
                         painter.fontMetrics().elidedText(words, Qt::ElideMiddle, at.width()));
        QSizeF shown = QSizeF(film.picture.size()) / devicePixelRatioF();
        shown.scale(QSizeF(at.width(), at.height() - label_height), Qt::KeepAspectRatio);
        const QRectF place(QPointF(at.left(), at.top() + label_height), shown);
        painter.setRenderHint(QPainter::SmoothPixmapTransform);
        painter.drawImage(place, film.picture);
        painter.drawRect(place.adjusted(-0.5, -0.5, 0.5, 0.5));
    }
}

void PlateSheet::mousePressEvent(QMouseEvent *event)
{
    const std::vector<Film> *films = m_made.value();
    for (std::size_t i = 0; films != nullptr && i < films->size(); ++i) {
        if (cell(i, films->size()).contains(event->position().toPoint())) {
            Q_EMIT chosen((*films)[i].ink);
            return;
        }
    }
}

void PlateSheet::showEvent(QShowEvent *)
{
    follow();
}

void PlateSheet::hideEvent(QHideEvent *)
{
    m_running.cancel();
    m_made.forget();
}

void PlateSheet::resizeEvent(QResizeEvent *)
{
    follow();
}

} // namespace bichrom
