#include "app/worktops/release/release_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/panel_switch.h"
#include "app/worktops/release/apply_panel.h"
#include "app/worktops/release/films_panel.h"
#include "app/worktops/release/hand_over_panel.h"
#include "app/worktops/release/ticket_panel.h"

#include <QStackedWidget>

namespace bichrom {

ReleaseWorktop::ReleaseWorktop(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : Worktop(parent)
{
    setObjectName(QStringLiteral("releaseWorktop"));
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto *top = new QVBoxLayout();
    top->setContentsMargins(16, 12, 16, 4);
    top->setSpacing(4);
    top->addWidget(make_heading(tr("Release"), this));
    m_switch = new PanelSwitch(this);
    QStackedWidget *panels = m_switch->panels();
    m_films = new FilmsPanel(session, view, prompts, panels);
    auto *ticket = new TicketPanel(session, view, prompts, panels);
    m_handOver = new HandOverPanel(session, view, prompts, panels);
    auto *apply = new ApplyPanel(session, prompts, panels);
    m_switch->add(QStringLiteral("panelFilms"), tr("Films"), m_films);
    m_switch->add(QStringLiteral("panelTicket"), tr("Proof"), ticket);
    m_switch->add(QStringLiteral("panelHandOver"), tr("Hand over"), m_handOver);
    m_switch->add(QStringLiteral("panelApply"), tr("Other files"), apply);
    m_panels = {nullptr, ticket, m_handOver, nullptr};
    top->addWidget(m_switch);
    outer->addLayout(top);
    outer->addWidget(panels, 1);
    connect(panels, &QStackedWidget::currentChanged, this, &ReleaseWorktop::showPanel);
    connect(m_films, &FilmsPanel::stateChanged, this, &Worktop::stateChanged);
    connect(m_handOver, &HandOverPanel::released, this, &Worktop::stateChanged);
    connect(m_films, &FilmsPanel::filmsWanted, this, &ReleaseWorktop::filmsWanted);
}

StageState ReleaseWorktop::state(bool looked_at) const
{
    return m_films->isReleased() || m_handOver->isReleased() ? StageState::Finished
                                                             : Worktop::state(looked_at);
}

void ReleaseWorktop::setActive(bool active)
{
    m_active = active;
    showPanel(active ? m_switch->panels()->currentIndex() : -1);
}

void ReleaseWorktop::showPanel(int number)
{
    const int shown = m_active ? number : -1;
    for (std::size_t i = 0; i < m_panels.size(); ++i) {
        if (m_panels[i] != nullptr) {
            m_panels[i]->setShown(shown == static_cast<int>(i));
        }
    }
}

} // namespace bichrom
