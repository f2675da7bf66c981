#include "app/lighttable/change_list.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QLocale>
#include <QPushButton>

namespace bichrom {

namespace {

QString square_cm(double square_mm)
{
    const double value = square_mm / 100.0;
    return ChangeList::tr("%1 cm²").arg(QLocale::c().toString(value, 'f', value < 10 ? 2 : 0));
}

QStringList words_of(const std::vector<std::string> &inks)
{
    QStringList words;
    for (const std::string &ink : inks) {
        words << theme::text_of(ink);
    }
    return words;
}

} // namespace

ChangeList::ChangeList(Spotlight &spotlight, QWidget *parent)
    : QFrame(parent), m_spotlight(spotlight), m_tasks(this)
{
    setObjectName(QStringLiteral("changeList"));
    setAccessibleName(tr("What the revised file prints otherwise"));
    setStyleSheet(
        QStringLiteral("#changeList { background: %1; border-radius: 3px; }").arg(theme::card.name()));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(8, 6, 8, 8);
    column->setSpacing(4);
    m_summary = make_label({}, 12, QFont::Medium, false, this);
    m_summary->setObjectName(QStringLiteral("changeSummary"));
    m_summary->setWordWrap(true);
    m_inks = new FactList(this);
    m_inks->setObjectName(QStringLiteral("changedInks"));
    column->addWidget(m_summary);
    column->addWidget(m_inks);
    m_steps = new QWidget(this);
    auto *steps = new QHBoxLayout(m_steps);
    steps->setContentsMargins(0, 2, 0, 0);
    m_back = new QPushButton(tr("Back"), m_steps);
    m_back->setObjectName(QStringLiteral("previousChange"));
    m_back->setToolTip(tr("The changed place before (Shift+N)"));
    m_where = make_label({}, 11, QFont::Normal, true, m_steps);
    m_where->setObjectName(QStringLiteral("changedPlace"));
    m_where->setAlignment(Qt::AlignCenter);
    m_next = new QPushButton(tr("Next"), m_steps);
    m_next->setObjectName(QStringLiteral("nextChange"));
    m_next->setToolTip(tr("The next changed place (N)"));
    for (QPushButton *button : {m_back, m_next}) {
        button->setFocusPolicy(Qt::TabFocus);
    }
    steps->addWidget(m_back);
    steps->addWidget(m_where, 1);
    steps->addWidget(m_next);
    column->addWidget(m_steps);
    connect(m_back, &QPushButton::clicked, this, [this] { step(-1); });
    connect(m_next, &QPushButton::clicked, this, [this] { step(1); });
    setFixedWidth(288);
    hide();
}

void ChangeList::follow(const std::shared_ptr<const LoadedPage> &page, bool wanted)
{
    const bool replaced = page != nullptr && page->previous_plates != nullptr;
    setVisible(wanted && replaced);
    if (!replaced) { // what was compared before is gone, and need not be held
        m_running.cancel();
        ++m_request;
        m_changes.reset();
        m_before = m_after = nullptr;
        return;
    }
    if (!wanted || (page->previous_plates == m_before && page->revised_plates == m_after)) {
        return;
    }
    m_before = page->previous_plates;
    m_after = page->revised_plates;
    m_running.cancel();
    m_changes.reset();
    m_place = -1;
    m_running =
        m_tasks.start([before = m_before, after = m_after](
                          const JobControl &control) { return compare_plates(*before, *after, control); },
                      [this, request = ++m_request](Outcome<PlateChanges> changes) {
                          if (request == m_request) {
                              m_changes = std::move(changes);
                              refresh();
                          }
                      });
    refresh();
}

void ChangeList::refresh()
{
    m_inks->clear();
    m_steps->hide();
    if (!m_changes) {
        m_summary->setText(tr("Comparing the plates …"));
    } else if (!*m_changes) {
        m_summary->setText(
            tr("The plates could not be compared: %1").arg(theme::text_of(m_changes->error().message())));
    } else {
        const PlateChanges &changes = **m_changes;
        const int places = static_cast<int>(changes.places.size());
        QString text = changes.inks.empty() ? tr("Every plate prints as it did before.")
                       : changes.places_in_all == 1
                           ? tr("1 place prints otherwise")
                           : tr("%1 places print otherwise").arg(changes.places_in_all);
        if (changes.page_size) {
            text += tr("\nThe page has another size; compared from its top left.");
        }
        if (changes.places_in_all > changes.places.size()) {
            text += tr("\nThe %1 largest are walked.").arg(places);
        }
        m_summary->setText(text);
        constexpr std::size_t most = 6; // the card shall not hide the artwork
        const auto number = [](double share) { return QLocale::c().toString(share * 100.0, 'f', 1); };
        const std::size_t shown = changes.inks.size() > most + 1 ? most : changes.inks.size();
        for (std::size_t i = 0; i < shown; ++i) {
            const InkChange &ink = changes.inks[i];
            m_inks->add(theme::text_of(ink.ink),
                        tr("%1   %2").arg(square_cm(ink.area_mm2),
                                          ink.added ? tr("new")
                                          : ink.removed
                                              ? tr("gone")
                                              : tr("%1 → %2 %").arg(number(ink.before), number(ink.after))),
                        tr("Changed area, and how much of the page the ink covers, before → now"));
        }
        if (shown < changes.inks.size()) {
            QStringList rest;
            for (std::size_t i = shown; i < changes.inks.size(); ++i) {
                rest << tr("%1  %2").arg(theme::text_of(changes.inks[i].ink),
                                         square_cm(changes.inks[i].area_mm2));
            }
            m_inks->add(tr("and %1 more").arg(changes.inks.size() - shown), {}, rest.join(QLatin1Char('\n')));
        }
        m_steps->setVisible(places > 0);
        m_where->setText(m_place < 0 ? QString() : tr("%1 of %2").arg(m_place + 1).arg(places));
    }
}

/// Rows are shown, and have a size, only after they were added.
bool ChangeList::event(QEvent *event)
{
    const bool done = QFrame::event(event);
    if (event->type() == QEvent::LayoutRequest) {
        const int wrapped = layout()->totalHeightForWidth(width()); // −1 while no words wrap
        setFixedHeight(wrapped > 0 ? wrapped : layout()->totalSizeHint().height());
        Q_EMIT resized();
    }
    return done;
}

void ChangeList::step(int by)
{
    if (!m_changes || !*m_changes || (*m_changes)->places.empty()) {
        return;
    }
    const auto &places = (*m_changes)->places;
    const int count = static_cast<int>(places.size());
    m_place = m_place < 0 ? (by > 0 ? 0 : count - 1) : (m_place + by + count) % count;
    refresh();
    std::vector<QRectF> areas;
    for (const ChangedPlace &place : places) {
        areas.emplace_back(place.area.x, place.area.y, place.area.width, place.area.height);
    }
    const ChangedPlace &place = places[static_cast<std::size_t>(m_place)];
    m_spotlight.light(
        std::move(areas), m_place,
        tr("%1: %2").arg(words_of(place.inks).join(QStringLiteral(", ")), square_cm(place.area_mm2)), -1,
        true);
}

} // namespace bichrom
