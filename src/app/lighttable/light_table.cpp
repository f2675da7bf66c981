#include "app/lighttable/light_table.h"

#include "app/lighttable/rulers.h"
#include "app/widgets/theme.h"
#include "core/fit/page_boxes.h"
#include "core/proof/dots_look.h"
#include "core/proof/plates_look.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QWheelEvent>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double margin = 28.0; // around a fitted page

} // namespace

LightTable::LightTable(Session &session, ViewState &view, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_tiles(this)
{
    setObjectName(QStringLiteral("lightTable"));
    setAccessibleName(tr("Light table"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(300, 200);
    setAttribute(Qt::WA_OpaquePaintEvent);
    buildLookSwitch();
    connect(&m_tiles, &TileCache::tileReady, this, qOverload<>(&QWidget::update));
    connect(&m_session, &Session::pageChanged, this, &LightTable::takePage);
    connect(&m_session, &Session::jobChanged, this, &LightTable::takeJob);
    connect(&m_view, &ViewState::changed, this, [this] {
        ++m_revision;
        for (QAbstractButton *button : m_lookButtons->buttons()) {
            button->setChecked(m_lookButtons->id(button) == static_cast<int>(m_view.look()));
        }
        update();
    });
}

void LightTable::buildLookSwitch()
{
    m_lookSwitch = new QWidget(this);
    m_lookSwitch->setObjectName(QStringLiteral("lookSwitch"));
    auto *row = new QHBoxLayout(m_lookSwitch);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(0);
    m_lookButtons = new QButtonGroup(this);
    m_lookButtons->setExclusive(true);
    const std::pair<Look, QString> looks[] = {{Look::Plates, tr("Plates")}, {Look::Dots, tr("Dots")}};
    for (const auto &[look, name] : looks) {
        auto *button = new QPushButton(name, m_lookSwitch);
        button->setObjectName(look == Look::Plates ? QStringLiteral("lookPlates")
                                                   : QStringLiteral("lookDots"));
        button->setCheckable(true);
        button->setChecked(look == m_view.look());
        button->setFocusPolicy(Qt::TabFocus);
        button->setMinimumWidth(72);
        button->setToolTip(look == Look::Plates ? tr("The chosen plates in their ink colours (1)")
                                                : tr("The film's own pixels, dot by dot (2)"));
        m_lookButtons->addButton(button, static_cast<int>(look));
        row->addWidget(button);
    }
    m_lookSwitch->setStyleSheet(QStringLiteral(
        "#lookSwitch { background: #eeeeeb; border-radius: 3px; }"
        "QPushButton { border: 2px solid transparent; border-radius: 2px; background: transparent; padding: "
        "2px 10px; }"
        "QPushButton:checked { border: 2px solid #e59a1c; background: #fbfbf9; font-weight: 600; }"
        "QPushButton:focus { background: #f7f7f5; border: 2px solid #565653; }"));
    m_lookSwitch->move(ruler_width + 10, ruler_width + 10);
    m_lookSwitch->hide(); // until there is something to look at
    connect(m_lookButtons, &QButtonGroup::idClicked, this,
            [this](int id) { m_view.setLook(static_cast<Look>(id)); });
}

void LightTable::setUnit(LengthUnit unit)
{
    m_unit = unit;
    update();
}

void LightTable::takePage()
{
    m_tiles.setSource(
        TileSource::make(m_session.page()->renderer, m_session.page()->original, m_session.job()));
    m_lookSwitch->show();
    ++m_revision;
    fitPage();
}

void LightTable::takeJob()
{
    if (!m_session.isOpen()) {
        return;
    }
    const auto &page = m_session.page();
    m_tiles.setSource(TileSource::make(page->renderer, page->original, m_session.job()),
                      {TileKind::Plates, TileKind::Original});
    ++m_revision;
    update();
}

TileKind LightTable::shownKind() const
{
    if (m_peeking) {
        return TileKind::Original;
    }
    return m_view.look() == Look::Dots && !showsTonesInstead() ? TileKind::Dots : TileKind::Plates;
}

bool LightTable::showsTonesInstead() const
{
    const auto &source = m_tiles.source();
    return m_view.look() == Look::Dots && source != nullptr &&
           (source->screens.empty() || source->film.value / m_place.dpi() > most_film_pixels);
}

QRect LightTable::tableRect() const
{
    return rect().adjusted(ruler_width, ruler_width, 0, 0);
}

QRectF LightTable::pageRect() const
{
    const PixelRect page = m_tiles.source()->renderer->extent(Dpi(m_place.dpi()));
    const double ratio = devicePixelRatioF();
    return {m_place.origin().x() / ratio, m_place.origin().y() / ratio, page.width / ratio,
            page.height / ratio};
}

QPointF LightTable::pageFromWidget(QPointF point) const
{
    return m_place.toPage(point * devicePixelRatioF());
}

QPointF LightTable::widgetFromPage(QPointF mm) const
{
    return m_place.toPixel(mm) / devicePixelRatioF();
}

void LightTable::fitPage()
{
    m_fitted = true;
    if (!m_tiles.source()) {
        return;
    }
    const double ratio = devicePixelRatioF();
    const PageContent &page = m_tiles.source()->renderer->page();
    const QRectF room = QRectF(tableRect()).adjusted(margin, margin + 24, -margin, -margin - 4);
    m_place.fit({room.topLeft() * ratio, room.size() * ratio},
                {page.width().value / points_per_inch, page.height().value / points_per_inch});
    update();
}

void LightTable::zoomTo(double dpi, QPointF anchor)
{
    if (!m_tiles.source()) {
        return;
    }
    m_place.zoom(dpi, anchor * devicePixelRatioF());
    m_fitted = false;
    limitOrigin();
    update();
}

void LightTable::zoomBy(double factor)
{
    const QPointF anchor = m_pointer && underMouse() ? *m_pointer : QRectF(tableRect()).center();
    zoomTo(m_place.dpi() * factor, anchor);
}

void LightTable::centreOn(QPointF point)
{
    m_place.place(point, QRectF(tableRect()).center() * devicePixelRatioF());
    m_fitted = false;
    limitOrigin();
    update();
}

void LightTable::limitOrigin()
{
    const PixelRect page = m_tiles.source()->renderer->extent(Dpi(m_place.dpi()));
    const double ratio = devicePixelRatioF();
    const QRectF table(tableRect());
    m_place.limit({table.topLeft() * ratio, table.size() * ratio}, {page.width, page.height});
}

void LightTable::resizeEvent(QResizeEvent *)
{
    if (m_fitted) {
        fitPage();
    }
}

void LightTable::wheelEvent(QWheelEvent *event)
{
    const double steps = event->angleDelta().y() / 120.0;
    if (steps != 0) {
        zoomTo(m_place.dpi() * std::pow(2.0, steps / 4.0), event->position());
    }
    event->accept();
}

void LightTable::mousePressEvent(QMouseEvent *event)
{
    if (event->button() == Qt::LeftButton || event->button() == Qt::MiddleButton) {
        m_grip = event->pos();
        setCursor(Qt::ClosedHandCursor);
    }
}

void LightTable::mouseMoveEvent(QMouseEvent *event)
{
    m_pointer = event->position();
    if (m_grip && m_tiles.source()) {
        m_place.moveBy(QPointF(event->pos() - *m_grip) * devicePixelRatioF());
        m_grip = event->pos();
        m_fitted = false;
        limitOrigin();
    }
    if (m_tiles.source()) {
        const bool on_page = pageRect().contains(event->position()) && tableRect().contains(event->pos());
        Q_EMIT pointed(on_page ? std::optional(pageFromWidget(event->position())) : std::nullopt);
    }
    update();
}

void LightTable::mouseReleaseEvent(QMouseEvent *)
{
    m_grip.reset();
    unsetCursor();
}

void LightTable::leaveEvent(QEvent *)
{
    m_pointer.reset();
    Q_EMIT pointed(std::nullopt);
    update();
}

void LightTable::setPeeking(bool peeking)
{
    if (m_peeking != peeking) {
        m_peeking = peeking;
        update();
    }
}

void LightTable::keyPressEvent(QKeyEvent *event)
{
    constexpr double step = 40;
    const auto pan = [this](double x, double y) {
        if (m_tiles.source()) {
            m_place.moveBy(QPointF(x, y) * devicePixelRatioF());
            m_fitted = false;
            limitOrigin();
            update();
        }
    };
    switch (event->key()) {
    case Qt::Key_O:
        if (!event->isAutoRepeat()) {
            setPeeking(true);
        }
        return;
    case Qt::Key_Plus:
    case Qt::Key_Equal:
        zoomBy(std::pow(2.0, 0.5));
        return;
    case Qt::Key_Minus:
        zoomBy(std::pow(2.0, -0.5));
        return;
    case Qt::Key_0:
        fitPage();
        return;
    case Qt::Key_1:
        m_view.setLook(Look::Plates);
        return;
    case Qt::Key_2:
        m_view.setLook(Look::Dots);
        return;
    case Qt::Key_Left:
        pan(step, 0);
        return;
    case Qt::Key_Right:
        pan(-step, 0);
        return;
    case Qt::Key_Up:
        pan(0, step);
        return;
    case Qt::Key_Down:
        pan(0, -step);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void LightTable::keyReleaseEvent(QKeyEvent *event)
{
    if (event->key() == Qt::Key_O && !event->isAutoRepeat()) {
        setPeeking(false);
        return;
    }
    QWidget::keyReleaseEvent(event);
}

void LightTable::focusOutEvent(QFocusEvent *event)
{
    setPeeking(false);
    QWidget::focusOutEvent(event);
}

} // namespace bichrom
