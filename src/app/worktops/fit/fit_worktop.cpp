#include "app/worktops/fit/fit_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/panel_switch.h"
#include "app/worktops/fit/areas_panel.h"
#include "app/worktops/fit/marks_panel.h"
#include "app/worktops/fit/overprint_panel.h"
#include "app/worktops/fit/size_panel.h"
#include "app/worktops/fit/slip_panel.h"
#include "app/worktops/fit/trap_panel.h"

#include <QStackedWidget>

namespace bichrom {

FitWorktop::FitWorktop(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight,
                       Prompts &prompts, QWidget *parent)
    : Worktop(parent), m_session(session), m_view(view)
{
    setObjectName(QStringLiteral("fitWorktop"));
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto *top = new QVBoxLayout();
    top->setContentsMargins(16, 12, 16, 4);
    top->setSpacing(4);
    top->addWidget(make_heading(tr("Fit"), this));
    m_switch = new PanelSwitch(this);
    QStackedWidget *panels = m_switch->panels();
    m_size = new SizePanel(session, view, panels);
    m_traps = new TrapPanel(session, view, panels);
    m_slip = new SlipPanel(session, view, choice, spotlight, panels);
    m_overprint = new OverprintPanel(session, view, choice, spotlight, panels);
    m_marks = new MarksPanel(session, view, panels);
    m_areas = new AreasPanel(session, view, prompts, panels);
    m_switch->add(QStringLiteral("panelTraps"), tr("Traps"), m_traps);
    m_switch->add(QStringLiteral("panelSlip"), tr("Slip"), m_slip);
    m_switch->add(QStringLiteral("panelOverprint"), tr("Overprint"), m_overprint);
    m_switch->add(QStringLiteral("panelSize"), tr("Size"), m_size);
    m_switch->add(QStringLiteral("panelMarks"), tr("Marks"), m_marks);
    m_switch->add(QStringLiteral("panelAreas"), tr("Areas"), m_areas);
    m_panels = {m_traps, m_slip, m_overprint, m_size, m_marks, m_areas};
    top->addWidget(m_switch);
    outer->addLayout(top);
    outer->addWidget(panels, 1);
    connect(panels, &QStackedWidget::currentChanged, this, &FitWorktop::showPanel);
    connect(m_traps, &TrapPanel::note, this, &Worktop::note);
    connect(m_slip, &SlipPanel::tested, this, &Worktop::stateChanged);
    connect(&m_session, &Session::jobChanged, this, &Worktop::stateChanged);
    connect(m_slip, &SlipPanel::trapsShown, this, [this] { m_switch->choose(0); });
}

StageState FitWorktop::state(bool looked_at) const
{
    return !looked_at ? StageState::NotLookedAt : StageState::InWork;
}

void FitWorktop::setActive(bool active)
{
    m_active = active;
    showPanel(active ? m_switch->panels()->currentIndex() : -1);
}

/// Only what is looked at is measured, and draws on the light table.
void FitWorktop::showPanel(int number)
{
    m_view.setOverlay(nullptr);
    m_view.setSlips({});
    m_view.setSliding({});
    const int shown = m_active ? number : -1;
    for (std::size_t i = 0; i < m_panels.size(); ++i) {
        m_panels[i]->setShown(shown == static_cast<int>(i));
    }
}

void FitWorktop::areaDrawn(const QRectF &area, Gesture)
{
    if (!m_session.isOpen()) {
        return;
    }
    if (m_switch->panels()->currentWidget() == m_traps) {
        m_traps->addZone(area);
    } else if (m_switch->panels()->currentWidget() == m_areas) {
        m_areas->addArea(area);
    }
}

void FitWorktop::slid(QPointF mm, bool released)
{
    m_slip->slid(mm, released);
}

} // namespace bichrom
