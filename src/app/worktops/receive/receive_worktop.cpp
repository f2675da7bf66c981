#include "app/worktops/receive/receive_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/receive/contents_panel.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/objects_panel.h"
#include "app/worktops/receive/page_strip.h"
#include "app/worktops/receive/reading_panel.h"

#include <QButtonGroup>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>
#include <QStackedWidget>

namespace bichrom {

ReceiveWorktop::ReceiveWorktop(Session &session, Spotlight &spotlight, RulesShelf &shelf, Prompts &prompts,
                               QWidget *parent)
    : QWidget(parent), m_session(session)
{
    setObjectName(QStringLiteral("receiveWorktop"));
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto *top = new QVBoxLayout();
    top->setContentsMargins(16, 12, 16, 4);
    top->setSpacing(4);
    m_file = make_label({}, 13, QFont::DemiBold, false, this);
    m_file->setObjectName(QStringLiteral("fileName"));
    top->addWidget(m_file);
    m_promise = make_label({}, 11, QFont::Normal, true, this);
    m_promise->setWordWrap(true);
    top->addWidget(m_promise);
    auto *strip = new PageStrip(session, this);
    top->addWidget(strip);
    connect(strip, &PageStrip::pageChosen, &m_session, &Session::showPage);

    auto *choice = new QWidget(this);
    choice->setObjectName(QStringLiteral("panelSwitch"));
    choice->setStyleSheet(
        QStringLiteral("#panelSwitch { background: %1; border-radius: 3px; }"
                       "QPushButton { padding: 2px 4px; }")
            .arg(theme::card.name()) +
        theme::switchStyle().replace(QStringLiteral("padding: 2px 9px"), QStringLiteral("padding: 2px 4px")));
    auto *row = new QHBoxLayout(choice);
    row->setContentsMargins(2, 2, 2, 2);
    row->setSpacing(0);
    m_switch = new QButtonGroup(this);
    m_switch->setExclusive(true);
    const std::pair<const char *, QString> panels[] = {{"panelFindings", tr("Findings")},
                                                       {"panelContents", tr("Contents")},
                                                       {"panelObjects", tr("Objects")},
                                                       {"panelReading", tr("Reading")}};
    int number = 0;
    for (const auto &[name, text] : panels) {
        auto *button = new QPushButton(text, choice);
        button->setObjectName(QString::fromLatin1(name));
        button->setCheckable(true);
        button->setChecked(number == 0);
        m_switch->addButton(button, number++);
        row->addWidget(button, 1);
    }
    top->addWidget(choice);
    outer->addLayout(top);
    m_panels = new QStackedWidget(this);
    m_findings = new FindingsPanel(session, spotlight, shelf, prompts, m_panels);
    m_contents = new ContentsPanel(session, spotlight, m_panels);
    m_objects = new ObjectsPanel(session, spotlight, m_panels);
    m_panels->addWidget(m_findings);
    m_panels->addWidget(m_contents);
    m_panels->addWidget(m_objects);
    m_panels->addWidget(new ReadingPanel(session, prompts, m_panels));
    outer->addWidget(m_panels, 1);
    connect(m_switch, &QButtonGroup::idClicked, m_panels, &QStackedWidget::setCurrentIndex);
    connect(&m_session, &Session::artworkChanged, this, &ReceiveWorktop::refresh);
    refresh();
}

void ReceiveWorktop::showPanel(Panel panel)
{
    m_switch->button(static_cast<int>(panel))->setChecked(true);
    m_panels->setCurrentIndex(static_cast<int>(panel));
}

void ReceiveWorktop::setUnit(LengthUnit unit)
{
    m_contents->setUnit(unit);
    m_objects->setUnit(unit);
}

void ReceiveWorktop::chooseObject(int object)
{
    showPanel(Panel::Objects);
    m_objects->choose(object, false);
}

void ReceiveWorktop::refresh()
{
    const bool open = m_session.isOpen();
    const QString name = open ? QFileInfo(theme::text_of(m_session.artwork().name())).fileName() : QString();
    m_file->setText(open ? m_file->fontMetrics().elidedText(name, Qt::ElideMiddle, 270)
                         : tr("No artwork is open"));
    m_file->setToolTip(name);
    m_promise->setText(
        open ? tr("Only looked at: the file is kept as it came.")
             : tr("Here a customer's file is looked at: what it contains, what would go wrong."));
}

} // namespace bichrom
