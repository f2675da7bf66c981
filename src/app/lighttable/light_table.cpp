#include "app/lighttable/light_table.h"

#include "app/lighttable/change_list.h"
#include "app/lighttable/plate_sheet.h"
#include "app/lighttable/rulers.h"
#include "app/widgets/theme.h"
#include "core/artwork/page_boxes.h"
#include "core/proof/dots_look.h"

#include <QAbstractButton>
#include <QButtonGroup>
#include <QComboBox>
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

LightTable::LightTable(Session &session, ViewState &view, Spotlight &spotlight, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_spotlight(spotlight), m_tiles(this),
      m_nearness(session), m_templates(session)
{
    setObjectName(QStringLiteral("lightTable"));
    setAccessibleName(tr("Light table"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setMinimumSize(300, 200);
    setAttribute(Qt::WA_OpaquePaintEvent);
    buildLookSwitch();
    buildHandSwitch();
    m_slow.setSingleShot(true);
    connect(&m_slow, &QTimer::timeout, this, qOverload<>(&QWidget::update));
    m_saying.setSingleShot(true);
    connect(&m_saying, &QTimer::timeout, this, [this] {
        m_said.clear();
        update();
    });
    connect(&m_tiles, &TileCache::tileReady, this, qOverload<>(&QWidget::update));
    connect(&m_session, &Session::pageChanged, this, &LightTable::takePage);
    connect(&m_session, &Session::previewed, this, [this](const QImage &picture) {
        m_preview = picture;
        update();
    });
    connect(&m_session, &Session::loadingChanged, this, [this] {
        // Of what was being opened before, or there are plates now.
        m_standIn = m_session.isLoading() ? QImage() : std::exchange(m_preview, {});
        m_preview = {};
        update();
    });
    connect(&m_loupe, &Loupe::changed, this, qOverload<>(&QWidget::update));
    connect(&m_nearness, &PrintDistance::changed, this, qOverload<>(&QWidget::update));
    connect(&m_templates, &TemplatePictures::changed, this, qOverload<>(&QWidget::update));
    connect(&m_session, &Session::artworkChanged, this, [this] { // another job: nothing set for the last one
        m_wipe.reset();
        m_beside->setChecked(false);
        m_sideBySide->setChecked(false);
        m_distance->setCurrentIndex(0);
        m_metres = 0;
    });
    connect(&m_session, &Session::jobChanged, this, &LightTable::takeJob);
    connect(&m_session, &Session::platesChanged, this, &LightTable::takePlates);
    connect(&m_view, &ViewState::changed, this, &LightTable::takeView);
    connect(&m_view, &ViewState::overlayChanged, this, qOverload<>(&QWidget::update));
    connect(&m_view, &ViewState::slipsChanged, this, [this] {
        if (m_session.isOpen()) {
            takePlates();
        }
    });
    m_resting.setSingleShot(true);
    m_resting.setInterval(250); // a pointer that only passes over plates lights none
    connect(&m_resting, &QTimer::timeout, this, [this] {
        m_lit = m_view.hovered();
        update();
    });
    connect(&m_view, &ViewState::hoveredChanged, this, [this] {
        m_resting.start();
        if (!m_lit.isEmpty()) {
            m_lit.clear();
            update();
        }
    });
    connect(&m_spotlight, &Spotlight::changed, this, qOverload<>(&QWidget::update));
    connect(&m_spotlight, &Spotlight::broughtIntoView, this, &LightTable::bringIntoView);
}

void LightTable::takeView()
{
    ++m_revision;
    for (QAbstractButton *button : m_lookButtons->buttons()) {
        button->setChecked(m_lookButtons->id(button) == static_cast<int>(m_view.look()));
    }
    m_compare->setChecked(m_view.comparesFiles());
    m_compare->setText(m_view.comparesFiles() ? tr("The file before") : tr("The print"));
    m_overprint->setChecked(m_view.honoursOverprint());
    m_overprint->setText(m_view.honoursOverprint() ? tr("Overprint as it prints") : tr("All knocks out"));
    placeSwitches();
    update();
}

QWidget *LightTable::buildSwitch(const QString &name, QButtonGroup *group)
{
    auto *box = new QWidget(this);
    box->setObjectName(name);
    auto *row = new QHBoxLayout(box);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(0);
    group->setExclusive(true);
    box->setStyleSheet(QStringLiteral("#%1 { background: #eeeeeb; border-radius: 3px; }").arg(name) +
                       theme::switchStyle());
    box->hide(); // until there is something to look at
    return box;
}

void LightTable::buildLookSwitch()
{
    m_lookButtons = new QButtonGroup(this);
    m_lookSwitch = buildSwitch(QStringLiteral("lookSwitch"), m_lookButtons);
    struct Entry
    {
        Look look;
        QString object, name, tip;
    };
    const Entry looks[] = {
        {Look::Print, QStringLiteral("lookPrint"), tr("Print"),
         tr("What it will look like on the stock (1)")},
        {Look::Plates, QStringLiteral("lookPlates"), tr("Plates"),
         tr("The chosen plates in their ink colours (2)")},
        {Look::Dots, QStringLiteral("lookDots"), tr("Dots"), tr("The film's own pixels, dot by dot (3)")},
        {Look::Outline, QStringLiteral("lookOutline"), tr("Outline"),
         tr("Every object by its contour, also those that print nothing (4)")},
        {Look::Change, QStringLiteral("lookChange"), tr("Change"),
         tr("How far the print, or a revised file, is from what was there before (5)")}};
    for (const Entry &entry : looks) {
        auto *button = new QPushButton(entry.name, m_lookSwitch);
        button->setObjectName(entry.object);
        button->setCheckable(true);
        button->setChecked(entry.look == m_view.look());
        button->setFocusPolicy(Qt::TabFocus);
        button->setToolTip(entry.tip);
        m_lookButtons->addButton(button, static_cast<int>(entry.look));
        m_lookSwitch->layout()->addWidget(button);
    }
    connect(m_lookButtons, &QButtonGroup::idClicked, this,
            [this](int id) { m_view.setLook(static_cast<Look>(id)); });
    m_overprint = new QPushButton(tr("Overprint as it prints"), this);
    m_overprint->setObjectName(QStringLiteral("overprintReading"));
    m_overprint->setCheckable(true);
    m_overprint->setChecked(true);
    m_overprint->setFocusPolicy(Qt::TabFocus);
    m_overprint->hide();
    m_compare = new QPushButton(this);
    m_compare->setObjectName(QStringLiteral("compareFiles"));
    m_compare->setCheckable(true);
    m_compare->setFocusPolicy(Qt::TabFocus);
    m_compare->setToolTip(tr("Compare the revised file with the one before, or the print with the artwork"));
    m_compare->hide();
    connect(m_compare, &QAbstractButton::clicked, this, [this](bool on) { m_view.setComparesFiles(on); });
    m_beside = new QPushButton(tr("Original beside"), this);
    m_beside->setObjectName(QStringLiteral("wipe"));
    m_beside->setCheckable(true);
    m_beside->setFocusPolicy(Qt::TabFocus);
    m_beside->setToolTip(
        tr("The customer's original left of a line, what is looked at right of it; drag the line"));
    m_beside->setProperty("target", true);
    m_beside->setMinimumWidth(m_beside->sizeHint().width() + 24); // bold while it is on
    m_beside->hide();
    connect(m_beside, &QAbstractButton::clicked, this, [this](bool on) {
        m_wipe.reset();
        if (on) {
            wipeTo(tableRect().center().x());
        }
        update();
    });
    m_sheet = new PlateSheet(m_session, this);
    m_sheet->lower(); // under the switches
    m_sideBySide = new QPushButton(tr("All side by side"), this);
    m_sideBySide->setObjectName(QStringLiteral("sideBySide"));
    m_sideBySide->setCheckable(true);
    m_sideBySide->setFocusPolicy(Qt::TabFocus);
    m_sideBySide->setToolTip(tr("Every plate as a film of its own; a click shows one alone"));
    m_sideBySide->setProperty("target", true);
    m_sideBySide->setMinimumWidth(m_sideBySide->sizeHint().width() + 24); // bold while it is on
    m_sideBySide->hide();
    connect(m_sideBySide, &QAbstractButton::clicked, this, &LightTable::placeSwitches);
    connect(m_sheet, &PlateSheet::chosen, this, [this](const QString &ink) {
        m_sideBySide->setChecked(false);
        m_view.setAlone(ink);
        placeSwitches();
    });
    m_distance = new QComboBox(this);
    m_distance->setObjectName(QStringLiteral("seenFrom"));
    m_distance->setAccessibleName(tr("Distance that dots are seen from"));
    m_distance->setFocusPolicy(Qt::TabFocus);
    m_distance->setToolTip(
        tr("Blurs the dots as an eye does that is so far away, one minute of arc (ISO 8596)"));
    m_distance->addItem(tr("each pixel"), 0.0);
    for (const double metres : {0.3, 0.5, 1.0, 2.0, 5.0, 10.0}) {
        m_distance->addItem(tr("from %1 m").arg(metres), metres);
    }
    m_distance->hide();
    connect(m_distance, &QComboBox::activated, this, [this] {
        m_metres = m_distance->currentData().toDouble();
        update();
    });
    m_changes = new ChangeList(m_spotlight, this);
    connect(m_changes, &ChangeList::resized, this, &LightTable::placeSwitches);
    connect(m_overprint, &QAbstractButton::clicked, this,
            [this](bool on) { m_view.setHonoursOverprint(on); });
}

void LightTable::buildHandSwitch()
{
    m_handButtons = new QButtonGroup(this);
    m_handSwitch = buildSwitch(QStringLiteral("handSwitch"), m_handButtons);
    struct Entry
    {
        Hand hand;
        QString object, name, tip;
    };
    const Entry hands[] = {
        {Hand::Move, QStringLiteral("handMove"), tr("Move"),
         tr("Drag moves the page, a click chooses the object there (Esc)")},
        {Hand::Measure, QStringLiteral("handMeasure"), tr("Measure"),
         tr("Drag from point to point: distance and angle (M)")},
        {Hand::Area, QStringLiteral("handArea"), tr("Area"),
         tr("Drag a rectangle that the core sample averages (A)")},
        {Hand::Pour, QStringLiteral("handPour"), tr("Pour"),
         tr("A click sends the colour there to the chosen plate; with Shift only that object, "
            "with Alt away from a recipe (P)")}};
    for (const Entry &entry : hands) {
        auto *button = new QPushButton(entry.name, m_handSwitch);
        button->setObjectName(entry.object);
        button->setCheckable(true);
        button->setChecked(entry.hand == m_hand);
        button->setFocusPolicy(Qt::TabFocus);
        button->setToolTip(entry.tip);
        m_handButtons->addButton(button, static_cast<int>(entry.hand));
        m_handSwitch->layout()->addWidget(button);
    }
    connect(m_handButtons, &QButtonGroup::idClicked, this,
            [this](int id) { setHand(static_cast<Hand>(id)); });
}

void LightTable::placeSwitches()
{
    const bool open = m_tiles.source() != nullptr;
    m_lookSwitch->setVisible(open);
    m_handSwitch->setVisible(open);
    m_overprint->setVisible(open && m_view.look() == Look::Print);
    m_compare->setVisible(open && m_view.look() == Look::Change && m_session.page()->previous != nullptr);
    m_beside->setVisible(open && m_view.look() == Look::Print);
    m_distance->setVisible(open && m_view.look() == Look::Dots);
    m_sideBySide->setVisible(open && m_view.look() == Look::Plates);
    m_sideBySide->adjustSize();
    m_compare->adjustSize();
    m_beside->adjustSize();
    m_distance->adjustSize();
    m_changes->follow(m_session.page(), comparesFiles());
    m_nearness.setWanted(open && m_view.look() == Look::Change && !comparesFiles());
    constexpr int foot = 34; // the line of notes and a gap
    m_changes->move(ruler_width + 10, height() - m_changes->height() - foot);
    m_lookSwitch->adjustSize();
    m_handSwitch->adjustSize();
    m_overprint->adjustSize();
    constexpr int gap = 10;
    m_lookSwitch->move(ruler_width + gap, ruler_width + gap);
    // Side by side where there is room, else one under the other.
    const int beside = width() - m_handSwitch->width() - gap;
    const bool narrow = beside < m_lookSwitch->geometry().right() + gap;
    m_handSwitch->move(narrow ? ruler_width + gap : beside,
                       narrow ? m_lookSwitch->geometry().bottom() + 5 : ruler_width + gap);
    const int below = (narrow ? m_handSwitch : m_lookSwitch)->geometry().bottom() + 5;
    m_compare->move(ruler_width + gap, below);
    m_overprint->move(ruler_width + gap, below);
    m_distance->move(ruler_width + gap, below);
    m_beside->move(m_overprint->geometry().right() + 5, below);
    m_sideBySide->move(ruler_width + gap, below);
    m_sheet->setGeometry(ruler_width, ruler_width, width() - ruler_width, height() - ruler_width);
    m_sheet->setContentsMargins(0, m_sideBySide->geometry().bottom() + 5 - ruler_width, 0, 0);
    m_sheet->setVisible(m_sideBySide->isVisibleTo(this) && m_sideBySide->isChecked());
    if (open) {
        const bool any = m_session.page()->scene.uses_overprint;
        m_overprint->setEnabled(any);
        m_overprint->setToolTip(any ? tr("Compare both readings of the file's overprint")
                                    : tr("Nothing on this page is set to overprint."));
    }
}

void LightTable::setHand(Hand hand)
{
    m_hand = hand;
    for (QAbstractButton *button : m_handButtons->buttons()) {
        button->setChecked(m_handButtons->id(button) == static_cast<int>(hand));
    }
    if (hand != Hand::Measure) {
        m_measured.reset();
    }
    if (hand != Hand::Area) {
        m_area.reset();
    }
    setCursor(hand == Hand::Move ? Qt::ArrowCursor : Qt::CrossCursor);
    update();
    Q_EMIT handChanged();
}

void LightTable::note(const QString &words)
{
    constexpr int seconds = 5;
    m_said = words;
    m_saying.start(seconds * 1000);
    update();
}

void LightTable::setUnit(LengthUnit unit)
{
    m_unit = unit;
    update();
}

void LightTable::takePage()
{
    m_loupe.forget(); // what was read is of before
    m_tiles.setSource(TileSource::make(*m_session.page(), m_session.job()));
    ++m_revision;
    m_spotlight.clear(); // what was lit lay on the page before
    placeSwitches();
    const PageContent &page = m_session.page()->content();
    const QSizeF size(page.width().value, page.height().value);
    if (std::exchange(m_pageSize, size) != size) {
        m_measured.reset();
        m_area.reset();
        fitPage();
    }
    update();
}

void LightTable::takeJob()
{
    m_loupe.forget(); // what was read is of before
    if (!m_session.isOpen()) {
        return;
    }
    m_tiles.setSource(TileSource::make(*m_session.page(), m_session.job(), m_view.slips()),
                      {TileKind::Plates, TileKind::KnockedOut, TileKind::Outline, TileKind::Original,
                       TileKind::FileChange});
    ++m_revision;
    update();
}

void LightTable::takePlates()
{
    m_tiles.setSource(TileSource::make(*m_session.page(), m_session.job(), m_view.slips()),
                      {TileKind::Outline, TileKind::Original, TileKind::FileChange}, true);
    ++m_revision;
    placeSwitches();
    update();
}

TileKind LightTable::shownKind() const
{
    if (m_peeking) {
        return TileKind::Original;
    }
    switch (m_view.look()) {
    case Look::Print:
        return m_view.honoursOverprint() ? TileKind::Plates : TileKind::KnockedOut;
    case Look::Dots:
        return showsTonesInstead() ? TileKind::Plates : TileKind::Dots;
    case Look::Outline:
        return TileKind::Outline;
    case Look::Change:
        return comparesFiles() ? TileKind::FileChange : TileKind::PrintChange;
    case Look::Plates:
        break;
    }
    return TileKind::Plates;
}

std::optional<double> LightTable::wipeAt() const
{
    if (!m_wipe || m_beside->isHidden() || m_peeking) {
        return std::nullopt;
    }
    return std::clamp(widgetFromPage({*m_wipe, 0}).x(), static_cast<double>(tableRect().left()),
                      static_cast<double>(tableRect().right()));
}

void LightTable::wipeTo(double x)
{
    constexpr double rim = 20; // pixels: so that it can be seized again
    m_wipe = pageFromWidget({std::clamp(x, static_cast<double>(tableRect().left()) + rim,
                                        static_cast<double>(tableRect().right()) - rim),
                             0})
                 .x();
    update();
}

/// In the look Dots a click reads what stands on the films there.
void LightTable::readDots(QPointF mm)
{
    if (m_view.look() != Look::Dots || m_peeking || showsTonesInstead()) {
        m_loupe.forget();
        return;
    }
    m_loupe.read(m_tiles.source(), mm, [this](const QString &ink) {
        return m_view.alone() == ink                             ? Loupe::Seen::Alone
               : m_view.alone().isEmpty() && m_view.isShown(ink) ? Loupe::Seen::WithOthers
                                                                 : Loupe::Seen::Not;
    });
}

bool LightTable::isOnWipe(QPointF at) const
{
    constexpr double grip = 6; // pixels
    const std::optional<double> wipe = wipeAt();
    return wipe && m_hand == Hand::Move && std::abs(at.x() - *wipe) <= grip;
}

bool LightTable::comparesFiles() const
{
    return m_session.isOpen() && m_view.look() == Look::Change && m_view.comparesFiles() &&
           m_session.page()->previous != nullptr;
}

void LightTable::stepChange(int by)
{
    m_changes->step(by);
}

bool LightTable::showsTonesInstead() const
{
    const auto &source = m_tiles.source();
    return m_view.look() == Look::Dots && source != nullptr &&
           (!source->screenable || source->film.value / m_place.dpi() > most_film_pixels);
}

QRect LightTable::tableRect() const
{
    return rect().adjusted(ruler_width, ruler_width, 0, 0);
}

QRectF LightTable::pageRect() const
{
    const PixelRect page = m_tiles.source()->plate_line->extent(Dpi(m_place.dpi()));
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

QRectF LightTable::fittingRoom() const
{
    return QRectF(tableRect()).adjusted(margin, margin + 24, -margin, -margin - 4);
}

void LightTable::fitPage()
{
    m_fitted = true;
    if (!m_tiles.source()) {
        return;
    }
    const double ratio = devicePixelRatioF();
    const PageContent &page = m_tiles.source()->plate_line->page();
    const QRectF room = fittingRoom();
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

QRectF LightTable::widgetArea(const QRectF &mm) const
{
    return {widgetFromPage(mm.topLeft()), widgetFromPage(mm.bottomRight())};
}

void LightTable::bringIntoView(const QRectF &area)
{
    if (!m_tiles.source()) {
        return;
    }
    // As large as helps, but never closer than needed to see what surrounds it.
    constexpr double share = 0.35, closest = 1200.0;
    const QRectF room = QRectF(tableRect());
    const double ratio = devicePixelRatioF();
    const double wanted =
        std::min({share * room.width() / std::max(area.width(), 0.1),
                  share * room.height() / std::max(area.height(), 0.1), closest / millimetres_per_inch}) *
        millimetres_per_inch * ratio;
    const QRectF page({0, 0}, QSizeF(to_millimetres(m_tiles.source()->plate_line->page().width()).value,
                                     to_millimetres(m_tiles.source()->plate_line->page().height()).value));
    if (area.contains(page.adjusted(1, 1, -1, -1))) {
        fitPage();
        return;
    }
    m_place.zoom(wanted, room.center() * ratio);
    centreOn(area.center());
}

void LightTable::limitOrigin()
{
    const PixelRect page = m_tiles.source()->plate_line->extent(Dpi(m_place.dpi()));
    const double ratio = devicePixelRatioF();
    const QRectF table(tableRect());
    m_place.limit({table.topLeft() * ratio, table.size() * ratio}, {page.width, page.height});
}

void LightTable::resizeEvent(QResizeEvent *)
{
    placeSwitches();
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
    if (event->button() == Qt::LeftButton && m_tiles.source() && isOnWipe(event->position())) {
        m_wiping = true;
        return;
    }
    const bool move =
        event->button() == Qt::MiddleButton || (event->button() == Qt::LeftButton && m_hand == Hand::Move);
    if (event->button() == Qt::LeftButton) {
        m_press = event->position();
        m_dragged = false;
    }
    if (event->button() == Qt::LeftButton) {
        m_slides =
            m_hand == Hand::Move && m_tiles.source() &&
            (!m_view.sliding().isEmpty() || m_view.movable().contains(pageFromWidget(event->position())));
    }
    if (move && !(m_slides && event->button() == Qt::LeftButton)) {
        m_grip = event->pos();
        setCursor(Qt::ClosedHandCursor);
    }
}

void LightTable::drag(QPointF to)
{
    const QPointF from = pageFromWidget(*m_press);
    const QPointF at = pageFromWidget(to);
    if (m_hand == Hand::Measure) {
        m_measured = QLineF(from, at);
    } else if (m_hand == Hand::Area) {
        m_area = QRectF(from, at).normalized();
    } else if (m_slides) {
        Q_EMIT slid(at - from, false);
    }
}

void LightTable::mouseMoveEvent(QMouseEvent *event)
{
    constexpr int still = 3; // pixels within which a press is a click
    m_pointer = event->position();
    if (m_wiping) {
        wipeTo(event->position().x());
        return;
    }
    if (m_press && (event->position() - *m_press).manhattanLength() > still) {
        m_dragged = true;
    }
    if (!m_press && !m_grip && m_hand == Hand::Move && m_tiles.source()) {
        const bool movable = m_view.movable().contains(pageFromWidget(event->position()));
        setCursor(isOnWipe(event->position()) ? Qt::SplitHCursor
                  : movable                   ? Qt::SizeAllCursor
                                              : Qt::ArrowCursor);
    }
    if (m_grip && m_tiles.source() && (m_dragged || !m_press)) {
        m_place.moveBy(QPointF(event->pos() - *m_grip) * devicePixelRatioF());
        m_grip = event->pos();
        m_fitted = false;
        limitOrigin();
    }
    if (m_press && m_dragged && m_tiles.source()) {
        drag(event->position());
    }
    if (m_tiles.source()) {
        const bool on_page = pageRect().contains(event->position()) && tableRect().contains(event->pos());
        Q_EMIT pointed(on_page ? std::optional(pageFromWidget(event->position())) : std::nullopt);
    }
    update();
}

void LightTable::mouseReleaseEvent(QMouseEvent *event)
{
    m_grip.reset();
    setCursor(m_hand == Hand::Move ? Qt::ArrowCursor : Qt::CrossCursor);
    if (std::exchange(m_wiping, false)) {
        return;
    }
    if (event->button() == Qt::RightButton && m_tiles.source() && pageRect().contains(event->position())) {
        Q_EMIT menuWanted(pageFromWidget(event->position()), event->globalPosition().toPoint());
        return;
    }
    if (event->button() != Qt::LeftButton || !m_press || !m_tiles.source()) {
        return;
    }
    const bool on_page = pageRect().contains(event->position());
    if (m_dragged && m_slides) {
        Q_EMIT slid(pageFromWidget(event->position()) - pageFromWidget(*m_press), true);
    } else if (!m_dragged && m_hand == Hand::Move) {
        if (on_page) {
            Q_EMIT clicked(pageFromWidget(event->position()));
            readDots(pageFromWidget(event->position()));
        } else {
            m_spotlight.clear();
        }
    } else if (!m_dragged && m_hand == Hand::Pour && on_page) {
        Q_EMIT poured(pageFromWidget(event->position()), gesture_of(event->modifiers()));
    } else if (m_dragged && m_hand == Hand::Area) {
        const QRectF page(0, 0, to_millimetres(m_session.page()->content().width()).value,
                          to_millimetres(m_session.page()->content().height()).value);
        m_area = m_area ? m_area->intersected(page) : QRectF();
        if (m_area->isEmpty()) {
            m_area.reset();
        } else {
            Q_EMIT areaDrawn(*m_area, gesture_of(event->modifiers()));
        }
    }
    m_press.reset();
    update();
}

void LightTable::setPourWords(const QString &words)
{
    m_pourWords = words;
    update();
}

void LightTable::frame(const QRectF &area)
{
    if (m_framed != area) {
        m_framed = area;
        update();
    }
}

void LightTable::leaveEvent(QEvent *)
{
    m_pointer.reset();
    m_framed = {};
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

bool LightTable::takesKey(int key)
{
    static constexpr int keys[] = {Qt::Key_O,     Qt::Key_1, Qt::Key_2,    Qt::Key_3,
                                   Qt::Key_4,     Qt::Key_5, Qt::Key_0,    Qt::Key_M,
                                   Qt::Key_A,     Qt::Key_H, Qt::Key_Plus, Qt::Key_Equal,
                                   Qt::Key_Minus, Qt::Key_P, Qt::Key_B,    Qt::Key_Escape};
    return std::find(std::begin(keys), std::end(keys), key) != std::end(keys);
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
    case Qt::Key_2:
    case Qt::Key_3:
    case Qt::Key_4:
    case Qt::Key_5:
        m_view.setLook(static_cast<Look>(event->key() - Qt::Key_1));
        return;
    case Qt::Key_M:
        setHand(Hand::Measure);
        return;
    case Qt::Key_A:
        setHand(Hand::Area);
        return;
    case Qt::Key_P:
        setHand(Hand::Pour);
        return;
    case Qt::Key_B:
        Q_EMIT blinkWanted();
        return;
    case Qt::Key_H:
        if (m_pointer && m_tiles.source() && pageRect().contains(*m_pointer)) {
            Q_EMIT holdWanted(pageFromWidget(*m_pointer));
        }
        return;
    case Qt::Key_Escape:
        setHand(Hand::Move);
        m_spotlight.clear();
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
