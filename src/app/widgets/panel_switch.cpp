#include "app/widgets/panel_switch.h"

#include "app/widgets/theme.h"

#include <QButtonGroup>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>

namespace bichrom {

PanelSwitch::PanelSwitch(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("panelSwitch"));
    setAttribute(Qt::WA_StyledBackground);
    setStyleSheet(
        QStringLiteral("#panelSwitch { background: %1; border-radius: 3px; }").arg(theme::card.name()) +
        theme::switchStyle().replace(QStringLiteral("padding: 2px 9px"), QStringLiteral("padding: 2px 1px")));
    m_row = new QHBoxLayout(this);
    m_row->setContentsMargins(2, 2, 2, 2);
    m_row->setSpacing(0);
    m_buttons = new QButtonGroup(this);
    m_buttons->setExclusive(true);
    m_panels = new QStackedWidget(parent);
    connect(m_buttons, &QButtonGroup::idClicked, m_panels, &QStackedWidget::setCurrentIndex);
}

void PanelSwitch::add(const QString &name, const QString &text, QWidget *panel)
{
    auto *button = new QPushButton(text, this);
    button->setObjectName(name);
    button->setCheckable(true);
    button->setChecked(m_panels->count() == 0);
    m_buttons->addButton(button, m_panels->count());
    // Long words get more room; the chosen one is bold.
    const int words = QFontMetrics(theme::font(12, QFont::DemiBold)).horizontalAdvance(text);
    button->setMinimumWidth(words + 8);
    m_row->addWidget(button, words);
    m_panels->addWidget(panel);
}

void PanelSwitch::choose(int number)
{
    m_buttons->button(number)->setChecked(true);
    m_panels->setCurrentIndex(number);
}

} // namespace bichrom
