#include "app/worktops/ink/ink_worktop.h"

#include "app/dialogs/separation_dialog.h"
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

InkWorktop::InkWorktop(Session &session, Router &router, ViewState &view, Choice &choice, InkLibrary &library,
                       Spotlight &spotlight, Prompts &prompts, QWidget *parent)
    : Worktop(parent), m_session(session), m_choice(choice), m_spotlight(spotlight)
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
    m_routes = new RoutesPanel(session, router, choice, library, spotlight, panels);
    connect(m_routes, &RoutesPanel::pourEndChanged, this, &Worktop::pourChanged);
    m_switch->add(QStringLiteral("panelRoutes"), tr("Routes"), m_routes);
    m_switch->add(QStringLiteral("panelSavings"), tr("Fewer inks"),
                  new SavingsPanel(session, router, panels));
    m_pictures = new PicturesPanel(session, panels);
    connect(m_pictures, &PicturesPanel::inksWanted, this, [this, &library] {
        if (m_session.isOpen()) {
            auto *dialog = new SeparationDialog(m_session, library.book(), window());
            dialog->show();
        }
    });
    m_switch->add(QStringLiteral("panelPictures"), tr("Pictures"), m_pictures);
    auto *book = new BookPanel(session, library, choice, prompts, panels);
    connect(book, &BookPanel::inkDropped, this, &InkWorktop::inkDropped);
    m_switch->add(QStringLiteral("panelBook"), tr("Book"), book);
    m_artworks = new ArtworksPanel(session, router, view, spotlight, prompts, panels);
    m_switch->add(QStringLiteral("panelArtworks"), tr("Files"), m_artworks);
    top->addWidget(m_switch);
    outer->addLayout(top);
    outer->addWidget(panels, 1);
    connect(&m_session, &Session::jobChanged, this, &Worktop::stateChanged);
    connect(&m_session.facts(), &Facts::findingsChanged, this, &Worktop::stateChanged);
}

StageState InkWorktop::state(bool looked_at) const
{
    const Facts &facts = m_session.facts();
    const bool failed = facts.followed().state() == Fact<Facts::Followed>::State::Failed;
    return failed || !facts.openLosses().empty()          ? StageState::FindingsOpen
           : looked_at || !m_session.job().routes.empty() ? StageState::InWork
                                                          : StageState::NotLookedAt;
}

void InkWorktop::clicked(QPointF mm)
{
    m_pictures->pick(mm);
}

void InkWorktop::areaDrawn(const QRectF &area, Gesture)
{
    std::vector<int> inside;
    std::vector<QRectF> places;
    for (const SceneObject &object : m_session.page()->scene.objects) {
        const QRectF at = m_session.shownArea(m_session.markOf(object.index).bounds);
        if (at.width() > 0 && at.height() > 0 && area.contains(at)) {
            inside.push_back(object.index);
            places.push_back(at);
        }
    }
    const auto count = static_cast<int>(inside.size());
    m_spotlight.light(std::move(places), count > 0 ? 0 : -1,
                      count == 1 ? tr("1 object inside") : tr("%1 objects inside").arg(count), -1, false);
    m_choice.chooseObjects(std::move(inside));
    Q_EMIT note(count == 0
                    ? tr("No object lies wholly inside.")
                    : tr("R sends the objects inside to the chosen plate; the buttons of Routes act on "
                         "them too."));
}

bool InkWorktop::pour(QPointF, const std::vector<int> &objects, Gesture how)
{
    if (objects.empty() || m_routes->pourEnd().isEmpty()) {
        return false;
    }
    const int top = objects.back();
    m_choice.chooseColour(m_session.page()->scene.objects[static_cast<std::size_t>(top)].colour_number);
    if (how.one) {
        m_choice.chooseObjects({top});
    }
    return m_routes->pourToEnd();
}

QString InkWorktop::pourWords() const
{
    const QString end = m_routes->pourEnd();
    return end.isEmpty() ? Worktop::pourWords()
                         : tr("a click pours the colour there to: %1; Shift only that object").arg(end);
}

void InkWorktop::slid(QPointF mm, bool released)
{
    m_artworks->slid(mm, released);
}

void InkWorktop::setHand(bool pours, bool)
{
    m_routes->setPouring(pours);
}

void InkWorktop::showPanel(Panel panel)
{
    m_switch->choose(static_cast<int>(panel));
}

} // namespace bichrom
