#include "app/worktops/ink/picture_inks.h"

#include "app/widgets/controls.h"
#include "app/widgets/swatch.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/ink_controls.h"

#include <QComboBox>
#include <QListWidget>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

namespace {

QVBoxLayout *column_of(QWidget *page)
{
    auto *column = new QVBoxLayout(page);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    return column;
}

QLabel *explanation(const QString &text, QWidget *parent)
{
    QLabel *label = make_label(text, 11, QFont::Normal, true, parent);
    label->setWordWrap(true);
    return label;
}

} // namespace

BlackChoice::BlackChoice(QWidget *parent) : QWidget(parent)
{
    QVBoxLayout *column = column_of(this);
    column->addWidget(make_label(tr("Black"), 11, QFont::DemiBold, true, this));
    m_amount = new QComboBox(this);
    m_amount->setObjectName(QStringLiteral("blackAmount"));
    m_amount->setAccessibleName(tr("How much of the greys is printed in black"));
    m_amount->addItems({tr("as the profile separates"), tr("least: only in the depths"), tr("light"),
                        tr("medium"), tr("heavy"), tr("most: greys in black alone")});
    column->addWidget(m_amount);
    auto *row = new QHBoxLayout();
    row->setSpacing(6);
    row->addWidget(make_label(tr("all inks together at most"), 11, QFont::Normal, true, this));
    row->addStretch();
    m_limit =
        new NumberField(QStringLiteral("%"), 0, NumberField::plain(QStringLiteral("%"), 100, 400), this);
    m_limit->setObjectName(QStringLiteral("inkLimit"));
    m_limit->setAccessibleName(tr("Total ink at most"));
    m_limit->setFixedWidth(64);
    row->addWidget(m_limit);
    column->addLayout(row);
    column->addWidget(
        explanation(tr("Colours stay what they are; black takes the place of the grey that cyan, "
                       "magenta and yellow make together."),
                    this));
    column->addStretch();
    connect(m_amount, &QComboBox::activated, this, &BlackChoice::take);
    connect(m_limit, &NumberField::valueEntered, this, &BlackChoice::take);
    show({});
}

void BlackChoice::show(const BlackGeneration &black)
{
    m_amount->setCurrentIndex(static_cast<int>(black.amount));
    m_limit->setValue(black.ink_limit * 100);
}

void BlackChoice::take()
{
    Q_EMIT chosen(
        {all_black_amounts[static_cast<std::size_t>(m_amount->currentIndex())], m_limit->value() / 100});
}

InkChoice::InkChoice(QWidget *parent) : QWidget(parent)
{
    QVBoxLayout *column = column_of(this);
    m_list = new QListWidget(this);
    m_list->setObjectName(QStringLiteral("separationInks"));
    m_list->setAccessibleName(tr("Inks the picture is printed in"));
    m_list->setIconSize(swatch_size);
    m_list->setStyleSheet(theme::listStyle());
    m_list->setToolTip(
        tr("At most eight inks. Their tones are solved so that together, on this stock, they look "
           "like the picture: estimated from their colours and opacity. It takes some seconds."));
    column->addWidget(m_list, 1);
    m_controls = new InkControls(this);
    column->addWidget(m_controls, 1);
    m_dots = new DotsChoice(this);
    column->addWidget(m_dots);
    connect(m_list, &QListWidget::itemChanged, this, &InkChoice::take);
    connect(m_list, &QListWidget::currentRowChanged, this, &InkChoice::showControls);
    connect(m_controls, &InkControls::changed, this, &InkChoice::controlled);
    connect(m_dots, &DotsChoice::chosen, this, &InkChoice::dotsChosen);
}

void InkChoice::show(const std::vector<Plate> &plates, const Route *route)
{
    const QSignalBlocker quiet(m_list);
    const int row = m_list->currentRow();
    m_route = route == nullptr ? Route() : *route;
    m_plates = plates;
    m_list->clear();
    for (auto plate = plates.rbegin(); plate != plates.rend(); ++plate) { // last printed on top
        auto *item = new QListWidgetItem(make_swatch(theme::ink_color(plate->shown())),
                                         theme::text_of(plate->ink), m_list);
        const bool used = route != nullptr && route->separated &&
                          std::any_of(route->targets.begin(), route->targets.end(),
                                      [&](const RouteTarget &target) { return target.ink == plate->ink; });
        item->setCheckState(used ? Qt::Checked : Qt::Unchecked);
    }
    m_list->setCurrentRow(std::clamp(row, 0, m_list->count() - 1));
    m_dots->show(m_route.dots);
    showControls();
}

void InkChoice::showControls()
{
    const QListWidgetItem *item = m_list->currentItem();
    const std::string ink = item == nullptr ? std::string() : item->text().toStdString();
    const auto target = std::find_if(m_route.targets.begin(), m_route.targets.end(),
                                     [&](const RouteTarget &one) { return one.ink == ink; });
    const auto plate =
        std::find_if(m_plates.begin(), m_plates.end(), [&](const Plate &one) { return one.ink == ink; });
    m_controls->show(&m_route, target == m_route.targets.end() ? nullptr : &*target,
                     plate == m_plates.end() ? theme::quiet : theme::ink_color(plate->shown()));
}

void InkChoice::take()
{
    std::vector<std::string> inks;
    for (int row = m_list->count(); row-- > 0;) {
        if (m_list->item(row)->checkState() == Qt::Checked && inks.size() < ColourTable::most_inks) {
            inks.push_back(m_list->item(row)->text().toStdString());
        }
    }
    Q_EMIT chosen(inks);
}

} // namespace bichrom
