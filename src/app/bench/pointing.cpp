#include "app/bench/pointing.h"

#include "app/widgets/theme.h"
#include "app/worktops/colour_menu.h"

#include <QGuiApplication>
#include <QMenu>

#include <algorithm>

namespace bichrom {

Pointing::Pointing(Session &session, Router &router, Choice &choice, Spotlight &spotlight,
                   InkLibrary &library, LightTable &table, const QWidget &lay_down,
                   std::function<Worktop &()> active)
    : QObject(&table), m_session(session), m_router(router), m_choice(choice), m_spotlight(spotlight),
      m_library(library), m_table(table), m_layDown(lay_down), m_active(std::move(active))
{
    connect(&m_table, &LightTable::clicked, this, [this](QPointF mm) { ask(m_clicked, mm); });
    connect(&m_table, &LightTable::poured, this, [this](QPointF mm, Gesture how) {
        m_how = how;
        ask(m_poured, mm);
    });
    connect(&m_table, &LightTable::menuWanted, this, [this](QPointF mm, QPoint global) {
        m_menuPlace = global;
        ask(m_asked, mm);
    });
    connect(&m_clicked, &ObjectFinder::found, this,
            [this](QPointF, const std::vector<int> &objects) { choose(objects); });
    connect(&m_poured, &ObjectFinder::found, this, &Pointing::pour);
    connect(&m_inked, &ObjectFinder::found, this,
            [this](QPointF, const std::vector<int> &objects) { giveInk(objects); });
    connect(&m_session, &Session::pageChanged, this, [this] { // objects are numbered by page
        for (ObjectFinder *finder : {&m_clicked, &m_poured, &m_asked, &m_inked}) {
            finder->forget();
        }
    });
    connect(&m_asked, &ObjectFinder::found, this,
            [this](QPointF, const std::vector<int> &objects) { openMenu(objects); });
}

void Pointing::ask(ObjectFinder &finder, QPointF mm)
{
    finder.ask(m_session.page()->plate_line->share_page(), mm);
}

void Pointing::dropPlate(const QString &ink, QPoint global)
{
    const QPoint at = m_table.mapFromGlobal(global);
    if (m_table.rect().contains(at)) {
        m_choice.choosePlate(ink);
        m_how = gesture_of(QGuiApplication::keyboardModifiers());
        ask(m_poured, m_table.pageFromWidget(at));
    }
}

void Pointing::dropInk(const QString &ink, QPoint global)
{
    if (m_layDown.rect().contains(m_layDown.mapFromGlobal(global))) {
        if (const Done added = m_router.addPlate(ink); !added) {
            m_table.note(theme::text_of(added.error().message()));
        }
        return;
    }
    const QPoint at = m_table.mapFromGlobal(global);
    if (m_session.isOpen() && m_table.rect().contains(at)) {
        m_ink = ink;
        m_how = gesture_of(QGuiApplication::keyboardModifiers());
        ask(m_inked, m_table.pageFromWidget(at));
    }
}

void Pointing::giveInk(const std::vector<int> &objects)
{
    if (objects.empty()) {
        m_table.note(tr("Nothing is painted there."));
        return;
    }
    const int top = objects.back();
    const SceneObject &object = m_session.page()->scene.objects[static_cast<std::size_t>(top)];
    if (m_how.one || object.colour.values.empty()) { // a picture is always meant alone
        m_router.sendObjects({top}, m_ink, true, 1);
    } else {
        m_choice.chooseColour(object.colour_number);
        m_router.send(object.colour_number, m_ink);
    }
    m_choice.choosePlate(m_ink);
}

void Pointing::frame(const std::vector<int> &objects)
{
    const bool framed = m_table.hand() == Hand::Pour && !objects.empty();
    m_table.frame(framed ? m_session.shownArea(m_session.markOf(objects.back()).bounds) : QRectF());
}

void Pointing::choose(const std::vector<int> &objects)
{
    m_choice.chooseColour(m_choice.colour()); // objects chosen before are not meant any more
    if (objects.empty()) {
        m_spotlight.clear();
        return;
    }
    // A click where the chosen object lies goes on to the one below it, and from the lowest to the top.
    const auto chosen = std::find(objects.begin(), objects.end(), m_spotlight.object());
    const int next = chosen == objects.end() || chosen == objects.begin() ? objects.back() : *(chosen - 1);
    Q_EMIT objectChosen(next); // lit in every stage
    m_choice.chooseColour(m_session.page()->scene.objects[static_cast<std::size_t>(next)].colour_number);
}

void Pointing::pour(QPointF mm, const std::vector<int> &objects)
{
    if (m_active().pour(mm, objects, m_how)) {
        return;
    }
    if (m_session.job().find_plate(m_choice.plate().toStdString()) < 0) {
        m_table.note(tr("Choose the plate to pour into first, in the lay-down."));
        return;
    }
    if (objects.empty()) {
        m_table.note(tr("Nothing is painted there."));
        return;
    }
    const int top = objects.back();
    const int colour = m_session.page()->scene.objects[static_cast<std::size_t>(top)].colour_number;
    m_choice.chooseColour(colour);
    if (m_how.one) {
        m_router.routeObjects({top}, RouteTo::Plates, m_choice.plate());
    } else {
        m_router.send(colour, m_choice.plate());
    }
}

void Pointing::openMenu(const std::vector<int> &objects)
{
    if (objects.empty()) {
        m_table.note(tr("Nothing is painted there."));
        return;
    }
    const int top = objects.back();
    const int colour = m_session.page()->scene.objects[static_cast<std::size_t>(top)].colour_number;
    if (QMenu *menu = make_colour_menu(m_session, m_router, m_library, colour, top, &m_table)) {
        menu->popup(m_menuPlace);
    }
}

} // namespace bichrom
