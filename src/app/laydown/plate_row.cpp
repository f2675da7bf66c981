#include "app/laydown/plate_row.h"

#include "app/widgets/theme.h"

#include <QAbstractButton>
#include <QContextMenuEvent>
#include <QKeyEvent>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cstdlib>
#include <utility>

namespace bichrom {

namespace {

/// A small button that draws its own sign.
class SignButton final : public QAbstractButton
{
public:
    enum class Sign
    {
        Show, ///< filled disc when on, ring when off
        Alone ///< a frame round a disc
    };
    SignButton(Sign sign, QWidget *parent) : QAbstractButton(parent), m_sign(sign)
    {
        setCheckable(true);
        setFixedSize(22, 22);
        setFocusPolicy(Qt::TabFocus);
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        if (underMouse() || hasFocus()) {
            painter.setPen(hasFocus() ? QPen(theme::text, 1) : QPen(Qt::NoPen));
            painter.setBrush(theme::field);
            painter.drawRoundedRect(QRectF(0.5, 0.5, 21, 21), 3, 3);
        }
        const QPointF c(11, 11);
        if (m_sign == Sign::Show) {
            painter.setPen(QPen(theme::text, 1.5));
            painter.setBrush(isChecked() ? QBrush(theme::text) : QBrush(Qt::NoBrush));
            painter.drawEllipse(c, 5, 5);
        } else {
            painter.setBrush(Qt::NoBrush);
            painter.setPen(QPen(isChecked() ? theme::amber : theme::quiet, isChecked() ? 2.5 : 1.4));
            painter.drawRect(QRectF(4.5, 4.5, 13, 13));
            painter.setPen(Qt::NoPen);
            painter.setBrush(isChecked() ? theme::text : theme::quiet);
            painter.drawEllipse(c, 2.6, 2.6);
        }
    }

private:
    Sign m_sign;
};

} // namespace

namespace {

/// Where the ink's name stands in a row of that width.
QRect name_place(int width)
{
    return {34, 4, width - 34 - 62, 20};
}

} // namespace

PlateRow::PlateRow(Plate plate, QWidget *parent)
    : QWidget(parent), m_plate(std::move(plate)), m_show(new SignButton(SignButton::Sign::Show, this)),
      m_aloneButton(new SignButton(SignButton::Sign::Alone, this))
{
    setObjectName(QStringLiteral("plate ") + ink());
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(high);
    m_show->setObjectName(QStringLiteral("show"));
    m_show->setChecked(true);
    m_aloneButton->setObjectName(QStringLiteral("alone"));
    connect(m_show, &QAbstractButton::clicked, this, [this](bool on) { Q_EMIT showToggled(ink(), on); });
    connect(m_aloneButton, &QAbstractButton::clicked, this, [this] { Q_EMIT aloneToggled(ink()); });
    describe();
}

QString PlateRow::ink() const
{
    return theme::text_of(m_plate.ink);
}

void PlateRow::describe()
{
    setAccessibleName(tr("Plate %1").arg(ink()));
    m_show->setAccessibleName(tr("Show plate %1").arg(ink()));
    m_show->setToolTip(m_shown ? tr("Hide %1 (Space)").arg(ink()) : tr("Show %1 (Space)").arg(ink()));
    m_aloneButton->setAccessibleName(tr("Show plate %1 alone").arg(ink()));
    m_aloneButton->setToolTip(m_alone ? tr("Back to all plates (Enter)")
                                      : tr("%1 alone, as grey film (Enter)").arg(ink()));
    update();
}

void PlateRow::setPlate(const Plate &plate)
{
    m_plate = plate;
    describe();
}

void PlateRow::setCoverage(double share, double square_cm)
{
    m_coverage = share;
    m_square_cm = square_cm;
    update();
}

void PlateRow::setShown(bool shown, bool alone)
{
    m_shown = shown;
    m_alone = alone;
    m_show->setChecked(shown);
    m_aloneButton->setChecked(alone);
    describe();
}

void PlateRow::setActive(bool chosen, bool worked_on)
{
    m_active = chosen;
    m_workedOn = worked_on;
    update();
}

void PlateRow::resizeEvent(QResizeEvent *)
{
    m_show->move(width() - 28, 30);
    m_aloneButton->move(width() - 50, 30);
}

void PlateRow::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    const QRect body = rect().adjusted(1, 1, -2, -2);
    painter.setBrush(m_active ? theme::field : theme::card);
    painter.setPen(QPen(m_active ? theme::amber : theme::line, m_workedOn ? 2 : 1));
    painter.drawRect(body);
    if (hasFocus() && !m_active) {
        painter.setPen(QPen(theme::text, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(body.adjusted(1, 1, -1, -1));
    }
    // A piece of the cut through the print: the ink on white at the left, on the bare stock at the right, a
    // layer for each hit. A hidden plate only keeps its outline.
    const QRect swatch(6, 0, 24, height());
    const QRect left(swatch.x(), swatch.y(), swatch.width() / 2, swatch.height());
    if (m_shown) {
        painter.fillRect(swatch, m_overStock);
        painter.fillRect(left, m_overWhite);
    }
    if (m_plate.kind == InkUse::White || m_plate.kind == InkUse::Varnish) { // never invisible
        painter.save();
        painter.setClipRect(swatch);
        painter.setPen(QPen(theme::line, 1));
        for (int across = -swatch.height(); across < swatch.width(); across += 6) {
            painter.drawLine(swatch.x() + across, swatch.bottom(), swatch.x() + across + swatch.height() / 3,
                             swatch.y());
        }
        painter.restore();
    }
    painter.setBrush(Qt::NoBrush);
    painter.setPen(QPen(theme::quiet, 1));
    painter.drawRect(swatch.adjusted(0, 0, -1, -1));
    for (int hit = 1; hit < m_plate.printing.hits; ++hit) {
        const int y = swatch.height() * hit / m_plate.printing.hits;
        painter.drawLine(swatch.left(), y, swatch.right(), y);
    }
    if (!m_wetOn.isEmpty()) { // the two layers run into each other
        painter.setRenderHint(QPainter::Antialiasing);
        QPainterPath wave(QPointF(swatch.left() + 1, height() - 2));
        for (int step = 0; step < 4; ++step) {
            const double from = swatch.left() + 1 + step * 5.5;
            wave.quadTo(from + 2.75, height() - 2 + (step % 2 == 0 ? -5 : 5), from + 5.5, height() - 2);
        }
        painter.setPen(QPen(theme::text, 1.4));
        painter.drawPath(wave);
        painter.setRenderHint(QPainter::Antialiasing, false);
    }

    const int x = 36;
    const QString amount = theme::coverage(m_coverage);
    painter.setFont(theme::font(12, QFont::DemiBold));
    const int amount_wide = painter.fontMetrics().horizontalAdvance(amount);
    painter.setPen(theme::text);
    painter.drawText(QRect(x, 5, width() - x - 8, 16), Qt::AlignRight | Qt::AlignVCenter, amount);
    const QString name =
        painter.fontMetrics().elidedText(ink(), Qt::ElideMiddle, width() - x - amount_wide - 16);
    painter.setPen(m_shown ? theme::text : theme::quiet);
    painter.drawText(QRect(x, 5, width() - x - amount_wide - 12, 16), Qt::AlignVCenter, name);

    painter.setFont(theme::font(11));
    painter.setPen(theme::quiet);
    QString screen = theme::text_of(bichrom::describe(m_plate.screen));
    if (m_plate.printing.hits > 1) {
        screen += tr(", %1 hits").arg(m_plate.printing.hits);
    }
    painter.drawText(QRect(x, 21, width() - x - 54, 15), Qt::AlignVCenter,
                     painter.fontMetrics().elidedText(screen, Qt::ElideRight, width() - x - 54));
    if (!m_fault.isEmpty()) {
        painter.drawText(QRect(x, 36, width() - x - 54, 15), Qt::AlignVCenter, tr("not measured"));
    } else if (m_coverage >= 0) {
        painter.drawText(QRect(x, 36, 90, 15), Qt::AlignVCenter,
                         tr("%1 cm²").arg(QString::number(m_square_cm, 'f', m_square_cm < 10 ? 2 : 0)));
        const QRect bar(x + 62, 42, width() - x - 62 - 56, 4);
        if (bar.width() > 8) {
            painter.fillRect(bar, theme::line);
            painter.fillRect(
                QRect(bar.x(), bar.y(), static_cast<int>(bar.width() * std::min(1.0, m_coverage)), 4),
                theme::text);
        }
    }
}

void PlateRow::setFault(const QString &fault)
{
    m_fault = fault;
    setToolTip(fault.isEmpty() ? m_tip : tr("Its coverage could not be measured: %1\n").arg(fault) + m_tip);
    update();
}

void PlateRow::setPrint(const QColor &over_white, const QColor &over_stock, const QString &wet_on)
{
    m_overWhite = over_white;
    m_overStock = over_stock;
    m_wetOn = wet_on;
    const QString hits = m_plate.printing.hits == 1 ? tr("1 hit") : tr("%1 hits").arg(m_plate.printing.hits);
    const double opacity = m_plate.traits.opacity;
    const QString covers = opacity <= 0.1   ? tr("transparent")
                           : opacity < 0.75 ? tr("half opaque")
                                            : tr("opaque");
    QString words = tr("%1: %2, %3").arg(ink(), covers, hits);
    words += wet_on.isEmpty() ? QString() : tr(", wet on %1").arg(wet_on);
    words += m_plate.printing.mesh > 0
                 ? tr(", mesh %1/cm").arg(theme::text_of(format_number(m_plate.printing.mesh, 0)))
                 : QString();
    words += m_plate.printing.flash ? tr(", then a flash") : QString();
    words += m_plate.tin.empty() ? QString() : tr(", from the tin of %1").arg(theme::text_of(m_plate.tin));
    m_tip =
        words +
        tr(".\nDrag, or Alt with ↑ and ↓, to print it earlier or later. F2 renames it, Delete removes it.");
    setFault(m_fault);
    setAccessibleDescription(words);
    update();
}

void PlateRow::mousePressEvent(QMouseEvent *event)
{
    m_pressed = event->pos();
    if (event->button() == Qt::LeftButton) {
        Q_EMIT chosen(ink(), event->modifiers());
    }
}

void PlateRow::mouseMoveEvent(QMouseEvent *event)
{
    constexpr int begins = 6; // pixels, so that a click is none
    if ((event->buttons() & Qt::LeftButton) != 0 &&
        (m_dragging || (event->pos() - m_pressed).manhattanLength() > begins)) {
        m_dragging = true;
        setCursor(Qt::ClosedHandCursor);
        Q_EMIT dragged(ink(), event->globalPosition().toPoint());
    }
}

void PlateRow::mouseReleaseEvent(QMouseEvent *event)
{
    if (std::exchange(m_dragging, false)) {
        unsetCursor();
        Q_EMIT dropped(ink(), event->globalPosition().toPoint());
    }
}

void PlateRow::enterEvent(QEnterEvent *)
{
    Q_EMIT hovered(ink(), true);
}

void PlateRow::leaveEvent(QEvent *)
{
    Q_EMIT hovered(ink(), false);
}

void PlateRow::mouseDoubleClickEvent(QMouseEvent *event)
{
    if (name_place(width()).contains(event->pos())) {
        beginRenaming();
    } else {
        Q_EMIT aloneToggled(ink());
    }
}

void PlateRow::contextMenuEvent(QContextMenuEvent *event)
{
    if (!m_active) { // else the menu is for all that are chosen
        Q_EMIT chosen(ink(), {});
    }
    Q_EMIT menuWanted(ink(), event->globalPos());
}

void PlateRow::beginRenaming()
{
    if (m_name != nullptr) {
        return;
    }
    m_name = new QLineEdit(ink(), this);
    m_name->setObjectName(QStringLiteral("renamePlate"));
    m_name->setAccessibleName(tr("New name of the ink"));
    m_name->setGeometry(name_place(width()));
    m_name->selectAll();
    m_name->installEventFilter(this);
    m_name->show();
    m_name->setFocus();
    connect(m_name, &QLineEdit::editingFinished, this, &PlateRow::endRenaming);
}

void PlateRow::endRenaming()
{
    if (QLineEdit *name = std::exchange(m_name, nullptr)) {
        name->deleteLater();
        setFocus();
        const QString wish = name->text().trimmed();
        if (!wish.isEmpty() && wish != ink()) {
            Q_EMIT renamed(ink(), wish);
        }
    }
}

bool PlateRow::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_name && event->type() == QEvent::KeyPress &&
        static_cast<QKeyEvent *>(event)->key() == Qt::Key_Escape) {
        m_name->setText(ink());
        endRenaming();
        return true;
    }
    return QWidget::eventFilter(watched, event);
}

void PlateRow::keyPressEvent(QKeyEvent *event)
{
    const bool alt = (event->modifiers() & Qt::AltModifier) != 0;
    switch (event->key()) {
    case Qt::Key_Space:
        Q_EMIT showToggled(ink(), !m_shown);
        return;
    case Qt::Key_Return:
    case Qt::Key_Enter:
        Q_EMIT aloneToggled(ink());
        return;
    case Qt::Key_F2:
        beginRenaming();
        return;
    case Qt::Key_Delete:
        Q_EMIT removeWanted(ink());
        return;
    case Qt::Key_Up:
        if (alt) {
            Q_EMIT moved(ink(), 1);
        } else {
            focusPreviousChild();
        }
        return;
    case Qt::Key_Down:
        if (alt) {
            Q_EMIT moved(ink(), -1);
        } else {
            focusNextChild();
        }
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

} // namespace bichrom
