#include "app/worktops/receive/receive_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/panel_switch.h"
#include "app/widgets/theme.h"
#include "app/worktops/receive/contents_panel.h"
#include "app/worktops/receive/findings_panel.h"
#include "app/worktops/receive/objects_panel.h"
#include "app/worktops/receive/reading_panel.h"

#include <QFileInfo>
#include <QStackedWidget>

namespace bichrom {

ReceiveWorktop::ReceiveWorktop(Session &session, ViewState &view, Router &router, Choice &choice,
                               Spotlight &spotlight, RulesShelf &shelf, Prompts &prompts, QWidget *parent)
    : Worktop(parent), m_session(session)
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
    m_switch = new PanelSwitch(this);
    QStackedWidget *panels = m_switch->panels();
    m_findings = new FindingsPanel(session, router, choice, spotlight, shelf, prompts, panels);
    m_contents = new ContentsPanel(session, view, router, spotlight, panels);
    m_objects = new ObjectsPanel(session, choice, spotlight, panels);
    m_switch->add(QStringLiteral("panelFindings"), tr("Findings"), m_findings);
    m_switch->add(QStringLiteral("panelContents"), tr("Contents"), m_contents);
    m_switch->add(QStringLiteral("panelObjects"), tr("Objects"), m_objects);
    m_switch->add(QStringLiteral("panelReading"), tr("Reading"), new ReadingPanel(session, prompts, panels));
    top->addWidget(m_switch);
    outer->addLayout(top);
    outer->addWidget(panels, 1);
    connect(&m_session, &Session::artworkChanged, this, &ReceiveWorktop::refresh);
    connect(&m_session, &Session::jobChanged, this, &Worktop::stateChanged);
    connect(&m_session.facts(), &Facts::findingsChanged, this, &Worktop::stateChanged);
    refresh();
}

void ReceiveWorktop::showPanel(Panel panel)
{
    m_switch->choose(static_cast<int>(panel));
}

void ReceiveWorktop::setUnit(LengthUnit unit)
{
    m_contents->setUnit(unit);
    m_objects->setUnit(unit);
}

void ReceiveWorktop::chooseObject(int object)
{
    const bool walking = m_findings->isVisible() && m_findings->currentPlace() >= 0;
    if (!walking) { // else the artist stays at the findings
        showPanel(Panel::Objects);
    }
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

StageState ReceiveWorktop::state(bool looked_at) const
{
    const Facts &facts = m_session.facts();
    if (!facts.findings()) {
        return looked_at ? StageState::InWork : StageState::NotLookedAt;
    }
    const bool open = facts.openFindings(Severity::Error) + facts.openFindings(Severity::Warning) > 0;
    return open ? StageState::FindingsOpen : looked_at ? StageState::Finished : StageState::NotLookedAt;
}

} // namespace bichrom
