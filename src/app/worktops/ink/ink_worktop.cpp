#include "app/worktops/ink/ink_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/panel_switch.h"
#include "app/worktops/ink/artworks_panel.h"
#include "app/worktops/ink/book_panel.h"
#include "app/worktops/ink/pictures_panel.h"
#include "app/worktops/ink/routes_panel.h"
#include "app/worktops/ink/savings_panel.h"

#include <QStackedWidget>
#include <QVBoxLayout>

namespace bichrom {

InkWorktop::InkWorktop(Session &session, Router &router, Choice &choice, InkLibrary &library,
                       Spotlight &spotlight, Prompts &prompts, QWidget *parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("inkWorktop"));
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->setSpacing(0);
    auto *top = new QVBoxLayout();
    top->setContentsMargins(16, 12, 16, 4);
    top->setSpacing(6);
    top->addWidget(make_heading(tr("Ink"), this));
    m_switch = new PanelSwitch(this);
    QStackedWidget *panels = m_switch->panels();
    m_switch->add(QStringLiteral("panelRoutes"), tr("Routes"),
                  new RoutesPanel(session, router, choice, library, spotlight, panels));
    m_switch->add(QStringLiteral("panelSavings"), tr("Fewer inks"),
                  new SavingsPanel(session, router, panels));
    m_pictures = new PicturesPanel(session, panels);
    m_switch->add(QStringLiteral("panelPictures"), tr("Pictures"), m_pictures);
    m_switch->add(QStringLiteral("panelBook"), tr("Book"),
                  new BookPanel(session, library, choice, prompts, panels));
    m_switch->add(QStringLiteral("panelArtworks"), tr("Files"),
                  new ArtworksPanel(session, spotlight, prompts, panels));
    top->addWidget(m_switch);
    outer->addLayout(top);
    outer->addWidget(panels, 1);
}

void InkWorktop::pick(QPointF mm)
{
    m_pictures->pick(mm);
}

void InkWorktop::showPanel(Panel panel)
{
    m_switch->choose(static_cast<int>(panel));
}

} // namespace bichrom
