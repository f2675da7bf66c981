#include "app/worktops/fit/trap_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/line/plate_line.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHeaderView>
#include <QListWidget>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QTreeWidget>

#include <algorithm>

namespace bichrom {

namespace {

constexpr Dpi table_resolution(600);

QString millimetres(double mm)
{
    return TrapPanel::tr("%1 mm").arg(mm, 0, 'f', 2);
}

/// "A under B" on two lines, as the traps came out.
QString pair_words(const TrapTableRow &row)
{
    const QString first = theme::text_of(row.first), second = theme::text_of(row.second);
    const bool first_spreads = row.first_spreads > 0, second_spreads = row.second_spreads > 0;
    if (first_spreads && second_spreads) {
        return TrapPanel::tr("%1\nand %2, both").arg(first, second);
    }
    if (first_spreads) {
        return TrapPanel::tr("%1\nunder %2").arg(first, second);
    }
    return second_spreads ? TrapPanel::tr("%1\nunder %2").arg(second, first)
                          : TrapPanel::tr("%1\nbeside %2").arg(first, second);
}

} // namespace

TrapPanel::TrapPanel(Session &session, ViewState &view, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to see which plates meet."), parent)
{
    setObjectName(QStringLiteral("trapPanel"));
    QVBoxLayout *column = m_column;
    m_on = new QCheckBox(tr("Plates that meet overlap"), m_body);
    m_on->setObjectName(QStringLiteral("trapsOn"));
    m_on->setToolTip(tr("The lighter ink is made larger under the darker one, so that no stock shows between "
                        "them when plates move"));
    column->addWidget(m_on);
    m_rest = new QWidget(m_body);
    auto *grid = new QGridLayout(m_rest);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    const auto field = [&](int row, const char *object, const QString &words, const QString &tip) {
        auto *made =
            make_number_field(object, words, tr("mm"), 2, NumberField::length(0, 1), 92, tip, m_rest);
        grid->addWidget(make_label(words, 12, QFont::Normal, true, m_rest), row, 0);
        grid->addWidget(made, row, 1);
        return made;
    };
    m_width = field(0, "trapWidth", tr("Overlap"),
                    tr("0 to 1 mm, of all pairs but those with a width of their own"));
    m_holdBack = field(1, "holdBack", tr("Rich black holds back"),
                       tr("Inks under a black end so far before its edge"));
    m_baseChoke = field(2, "baseChoke", tr("White base draws back"),
                        tr("Where a base ends together with the colours on it"));
    m_darker =
        new NumberField(QStringLiteral("L*"), 0, NumberField::plain(QStringLiteral("L*"), 5, 100), m_rest);
    m_darker->setObjectName(QStringLiteral("trapDarker"));
    m_darker->setAccessibleName(tr("How much darker an overlap may be"));
    m_darker->setToolTip(
        tr("Where an overlap would be darker than the ink over it by more, it is printed lighter"));
    m_darker->setFixedWidth(92);
    grid->addWidget(make_label(tr("Overlap darker by at most"), 12, QFont::Normal, true, m_rest), 3, 0);
    grid->addWidget(m_darker, 3, 1);
    m_underThin = new QCheckBox(tr("Thin strokes and small text: a third"), m_rest);
    m_underThin->setObjectName(QStringLiteral("underThin"));
    m_underThin->setToolTip(
        tr("Under strokes thinner than three overlaps the trap takes a third of the stroke; "
           "else none. Counters never close"));
    grid->addWidget(m_underThin, 4, 0, 1, 2);
    column->addWidget(m_rest);
    column->addWidget(make_rule(m_body));
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("trapWords"));
    m_words->setWordWrap(true);
    column->addWidget(m_words);
    m_pairs = new QTreeWidget(m_body);
    m_pairs->setObjectName(QStringLiteral("trapPairs"));
    m_pairs->setAccessibleName(tr("Plates that meet"));
    m_pairs->setStyleSheet(theme::listStyle());
    m_pairs->setFont(theme::font(11));
    m_pairs->setRootIsDecorated(false);
    m_pairs->setHeaderLabels({tr("They meet"), tr("along"), tr("overlap")});
    m_pairs->header()->setStretchLastSection(false);
    m_pairs->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_pairs->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_pairs->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    m_pairs->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_pairs, 1);
    m_pairEdit = new QWidget(m_body);
    auto *pair = new QGridLayout(m_pairEdit);
    pair->setContentsMargins(0, 0, 0, 0);
    pair->setHorizontalSpacing(6);
    pair->setVerticalSpacing(4);
    pair->setColumnStretch(0, 1);
    m_pairName = make_label({}, 11, QFont::DemiBold, false, m_pairEdit);
    m_pairName->setObjectName(QStringLiteral("trapPair"));
    pair->addWidget(m_pairName, 0, 0, 1, 2);
    m_side = new QComboBox(m_pairEdit);
    m_side->setObjectName(QStringLiteral("trapSide"));
    m_side->setAccessibleName(tr("Who spreads"));
    m_pairWidth = new NumberField(tr("mm"), 2, NumberField::length(0, 1), m_pairEdit);
    m_pairWidth->setObjectName(QStringLiteral("pairWidth"));
    m_pairWidth->setAccessibleName(tr("Overlap of this pair"));
    m_pairWidth->setFixedWidth(92);
    pair->addWidget(m_side, 1, 0);
    pair->addWidget(m_pairWidth, 1, 1);
    column->addWidget(m_pairEdit);
    m_zones = new QListWidget(m_body);
    m_zones->setObjectName(QStringLiteral("trapZones"));
    m_zones->setAccessibleName(tr("Areas with an overlap of their own"));
    m_zones->setStyleSheet(theme::listStyle());
    m_zones->setFont(theme::font(11));
    m_zones->setFixedHeight(48);
    column->addWidget(m_zones);
    m_zoneRow = new QWidget(m_body);
    auto *zone = new QHBoxLayout(m_zoneRow);
    zone->setContentsMargins(0, 0, 0, 0);
    m_zoneWidth = new NumberField(tr("mm"), 2, NumberField::length(0, 1), m_zoneRow);
    m_zoneWidth->setObjectName(QStringLiteral("zoneWidth"));
    m_zoneWidth->setAccessibleName(tr("Overlap in the area"));
    m_zoneWidth->setFixedWidth(92);
    m_removeZone =
        make_small_button("removeZone", tr("Remove"), tr("The area is trapped like the rest"), m_zoneRow);
    zone->addWidget(make_label(tr("Overlap there"), 11, QFont::Normal, true, m_zoneRow));
    zone->addStretch();
    zone->addWidget(m_zoneWidth);
    zone->addWidget(m_removeZone);
    column->addWidget(m_zoneRow);
    m_draw = new QCheckBox(tr("Show the traps alone"), m_body);
    m_draw->setObjectName(QStringLiteral("showTraps"));
    m_draw->setToolTip(tr("Dark: spreads; slanted lines: draws back; amber: of the chosen pair"));
    column->addWidget(m_draw);

    const auto length = [&](NumberField *made, double TrapSettings::*member, const QString &words) {
        connect(made, &NumberField::valueEntered, this, [this, member, words](double mm) {
            changeTraps(words.arg(mm, 0, 'f', 2), [&](TrapSettings &traps) { traps.*member = mm; });
        });
    };
    length(m_width, &TrapSettings::width, tr("Overlap of plates %1 mm"));
    length(m_holdBack, &TrapSettings::hold_back, tr("Rich black holds back %1 mm"));
    length(m_baseChoke, &TrapSettings::base_choke, tr("White base draws back %1 mm"));
    length(m_darker, &TrapSettings::darker, tr("Overlaps darker by %1 L*"));
    connect(m_on, &QCheckBox::clicked, this, [this](bool on) {
        changeTraps(on ? tr("Plates that meet overlap") : tr("Plates do not overlap"),
                    [&](TrapSettings &traps) { traps.on = on; });
    });
    connect(m_underThin, &QCheckBox::clicked, this, [this](bool on) {
        changeTraps(tr("Overlap under thin strokes"), [&](TrapSettings &traps) { traps.under_thin = on; });
    });
    connect(m_side, &QComboBox::activated, this, &TrapPanel::changePair);
    connect(m_pairWidth, &NumberField::valueEntered, this, &TrapPanel::changePair);
    connect(m_pairs, &QTreeWidget::currentItemChanged, this, [this](QTreeWidgetItem *item) {
        m_first = item == nullptr ? std::string() : item->data(0, Qt::UserRole).toString().toStdString();
        m_second = item == nullptr ? std::string() : item->data(1, Qt::UserRole).toString().toStdString();
        refreshPair();
        drawPair();
    });
    connect(m_zones, &QListWidget::currentRowChanged, this, [this](int row) {
        const auto &zones = m_session.job().traps.zones;
        m_zoneRow->setVisible(row >= 0);
        if (row >= 0 && static_cast<std::size_t>(row) < zones.size()) {
            m_zoneWidth->setValue(zones[static_cast<std::size_t>(row)].width);
        }
    });
    connect(m_zoneWidth, &NumberField::valueEntered, this, [this](double mm) {
        const int row = m_zones->currentRow();
        changeTraps(tr("Overlap of an area %1 mm").arg(mm, 0, 'f', 2), [&](TrapSettings &traps) {
            if (row >= 0 && static_cast<std::size_t>(row) < traps.zones.size()) {
                traps.zones[static_cast<std::size_t>(row)].width = mm;
            }
        });
    });
    connect(m_removeZone, &QPushButton::clicked, this, [this] {
        const int row = m_zones->currentRow();
        changeTraps(tr("Remove the area of an overlap"), [&](TrapSettings &traps) {
            if (row >= 0 && static_cast<std::size_t>(row) < traps.zones.size()) {
                traps.zones.erase(traps.zones.begin() + row);
            }
        });
    });
    connect(m_draw, &QCheckBox::clicked, this, [this] {
        draw();
        drawPair();
    });
    refresh();
}

void TrapPanel::stop()
{
    m_running.cancel();
    m_drawing.cancel();
}

void TrapPanel::forget()
{
    m_table.forget();
    m_first.clear();
    m_second.clear();
}

void TrapPanel::changeTraps(const QString &text, const std::function<void(TrapSettings &)> &edit)
{
    Job job = m_session.job();
    edit(job.traps);
    m_session.change(job, text);
}

void TrapPanel::changePair()
{
    if (m_first.empty()) {
        return;
    }
    changeTraps(tr("Overlap of %1 and %2").arg(theme::text_of(m_first), theme::text_of(m_second)),
                [&](TrapSettings &traps) {
                    TrapPair pair = traps.pair_of(m_first, m_second);
                    pair.side = static_cast<TrapSide>(m_side->currentIndex());
                    const double width = m_pairWidth->value();
                    pair.width = width == traps.width ? std::nullopt : std::optional(width);
                    traps = with_pair(traps, pair);
                });
}

void TrapPanel::addZone(const QRectF &area)
{
    changeTraps(tr("An area without overlaps"), [&](TrapSettings &traps) {
        traps.zones.push_back({m_session.mediaArea(area), m_session.job().page, 0});
    });
    m_zones->setCurrentRow(m_zones->count() - 1);
    Q_EMIT note(tr("No overlaps in this area; type a width to have one."));
}

/// What traps are, or would be were they turned on, with the inks as they are now.
TrapRules TrapPanel::rulesNow() const
{
    const Job &job = m_session.job();
    TrapSettings settings = job.traps;
    settings.on = true;
    return {m_session.page()->plate_line->inks(), job.plates, settings, job.stock_here().behind};
}

void TrapPanel::measure()
{
    m_running.cancel();
    const quint64 ticket = m_table.begin();
    const TrapSettings settings = m_session.job().traps;
    m_running = m_tasks.start(
        [page = m_session.page(), settings, rules = rulesNow()](const JobControl &control) -> Outcome<Found> {
            const auto traps = page->plate_line->page_traps(table_resolution, control, &rules);
            if (!traps) {
                return traps.error();
            }
            TrapMap map = trap_map(*traps);
            return Found{trap_table(*traps, page->plate_line->inks(), settings), page->plate_line->inks(),
                         std::make_shared<const BitPlane>(std::move(map.more)),
                         std::make_shared<const BitPlane>(std::move(map.less)), map.resolution};
        },
        [this, ticket](Outcome<Found> found) {
            if (m_table.take(ticket, std::move(found))) {
                refresh();
                draw();
                drawPair();
            }
        });
    refresh();
}

void TrapPanel::fill()
{
    const TrapSettings &traps = m_session.job().traps;
    m_on->setChecked(traps.on);
    m_width->setValue(traps.width);
    m_holdBack->setValue(traps.hold_back);
    m_baseChoke->setValue(traps.base_choke);
    m_darker->setValue(traps.darker);
    m_underThin->setChecked(traps.under_thin);
    const Found *found = m_table.value();
    switch (m_table.state()) {
    case Measured::State::Unknown:
        m_words->setText(tr("Nobody has looked yet which plates meet."));
        break;
    case Measured::State::Running:
        m_words->setText(tr("Looking where plates meet …"));
        break;
    case Measured::State::Failed:
        m_words->setText(tr("It is not known which plates meet: %1").arg(m_table.fault()));
        break;
    case Measured::State::Known:
        m_words->setText(found->rows.empty()
                             ? tr("No plates meet on this page in a way that asks for an overlap.")
                         : traps.on ? tr("Longest edge first. Choose a pair to decide for it; draw an area "
                                         "(A) that is to have none.")
                                    : tr("Off: this is what would overlap. Longest edge first."));
        break;
    }
    const QSignalBlocker quiet(m_pairs);
    m_pairs->clear();
    if (found != nullptr && m_table.state() != Measured::State::Failed) {
        for (const TrapTableRow &row : found->rows) {
            auto *item = new QTreeWidgetItem(m_pairs);
            const bool none = row.first_spreads == 0 && row.second_spreads == 0;
            item->setText(0, pair_words(row));
            item->setToolTip(0, item->text(0));
            item->setText(1, tr("%1 mm").arg(row.edge, 0, 'f', row.edge < 10 ? 1 : 0));
            item->setText(2, none ? tr("none") : millimetres(row.width));
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            item->setTextAlignment(2, Qt::AlignRight | Qt::AlignVCenter);
            item->setData(0, Qt::UserRole, theme::text_of(row.first));
            item->setData(1, Qt::UserRole, theme::text_of(row.second));
            const bool decided = row.decided.side != TrapSide::Usual || row.decided.width;
            item->setFont(0, theme::font(11, decided ? QFont::DemiBold : QFont::Normal));
            if (row.first == m_first && row.second == m_second) {
                m_pairs->setCurrentItem(item);
            }
        }
    }
    refreshPair();
    refreshZones();
}

void TrapPanel::refreshPair()
{
    m_pairEdit->setVisible(!m_first.empty());
    if (m_first.empty()) {
        return;
    }
    const TrapSettings &traps = m_session.job().traps;
    const TrapPair pair = traps.pair_of(m_first, m_second);
    const QString first = theme::text_of(m_first), second = theme::text_of(m_second);
    m_pairName->setText(
        m_pairName->fontMetrics().elidedText(tr("%1 and %2").arg(first, second), Qt::ElideMiddle, 270));
    const QSignalBlocker quiet(m_side);
    m_side->clear();
    m_side->addItem(tr("the lighter one spreads"));
    m_side->addItem(tr("%1 spreads").arg(first));
    m_side->addItem(tr("%1 spreads").arg(second));
    m_side->addItem(tr("both, half each"));
    m_side->addItem(tr("no overlap"));
    m_side->setCurrentIndex(static_cast<int>(pair.side));
    m_pairWidth->setValue(pair.width.value_or(traps.width));
}

void TrapPanel::refreshZones()
{
    const auto &zones = m_session.job().traps.zones;
    const int row = std::min(m_zones->currentRow(), static_cast<int>(zones.size()) - 1);
    const QSignalBlocker quiet(m_zones);
    m_zones->clear();
    for (const TrapZone &zone : zones) {
        m_zones->addItem(tr("page %1, %2 × %3 mm: %4")
                             .arg(zone.page)
                             .arg(zone.area.width, 0, 'f', 1)
                             .arg(zone.area.height, 0, 'f', 1)
                             .arg(zone.width > 0 ? millimetres(zone.width) : tr("none")));
    }
    m_zones->setCurrentRow(row);
    m_zones->setVisible(!zones.empty());
    m_zoneRow->setVisible(row >= 0);
    if (row >= 0) {
        m_zoneWidth->setValue(zones[static_cast<std::size_t>(row)].width);
    }
}

void TrapPanel::draw()
{
    if (!isShown()) {
        return;
    }
    const Found *found = m_table.value();
    if (!m_draw->isChecked() || found == nullptr) {
        m_view.setOverlay(nullptr);
        return;
    }
    auto overlay = std::make_shared<Overlay>();
    overlay->resolution = found->resolution;
    overlay->layers = {{found->more, OverlayPattern::Solid}, {found->less, OverlayPattern::Hatch}};
    m_view.setOverlay(std::move(overlay));
}

/// The chosen pair's traps in amber over those of all.
void TrapPanel::drawPair()
{
    m_drawing.cancel();
    const Found *found = m_table.value();
    if (!isShown() || !m_draw->isChecked() || found == nullptr || m_first.empty()) {
        draw();
        return;
    }
    const auto number = [&](const std::string &ink) {
        return static_cast<int>(std::find(found->inks.begin(), found->inks.end(), ink) - found->inks.begin());
    };
    const auto pair =
        std::pair(std::min(number(m_first), number(m_second)), std::max(number(m_first), number(m_second)));
    m_drawing = m_tasks.start(
        [page = m_session.page(), rules = rulesNow(), pair](const JobControl &control) -> Outcome<TrapMap> {
            const auto traps = page->plate_line->page_traps(table_resolution, control, &rules, pair);
            return traps ? Outcome<TrapMap>(trap_map(*traps)) : traps.error();
        },
        [this, ticket = ++m_drawTicket](Outcome<TrapMap> map) {
            const Found *all = m_table.value();
            if (ticket != m_drawTicket || !map || !isShown() || !m_draw->isChecked() || all == nullptr) {
                return; // the traps of all are drawn meanwhile
            }
            auto overlay = std::make_shared<Overlay>();
            overlay->resolution = all->resolution;
            overlay->layers = {
                {all->more, OverlayPattern::Solid},
                {all->less, OverlayPattern::Hatch},
                {std::make_shared<const BitPlane>(std::move(map->more)), OverlayPattern::Lamp}};
            m_view.setOverlay(std::move(overlay));
        });
}

} // namespace bichrom
