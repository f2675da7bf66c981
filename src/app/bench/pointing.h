/// \file
/// The pointer in the artwork: what lies under it is chosen, poured on, asked about, framed.
/// Layer: app/bench.
#pragma once

#include "app/lighttable/light_table.h"
#include "app/models/choice.h"
#include "app/models/gesture.h"
#include "app/models/spotlight.h"
#include "app/services/ink_library.h"
#include "app/services/router.h"
#include "app/services/session.h"
#include "app/tasks/object_finder.h"
#include "app/worktops/worktop.h"

#include <QObject>
#include <QPoint>

#include <functional>
#include <vector>

namespace bichrom {

/// Finds the objects first, off the window's thread, then does what was meant.
class Pointing : public QObject
{
    Q_OBJECT

public:
    /// \param active  lends the worktop of the active stage
    Pointing(Session &session, Router &router, Choice &choice, Spotlight &spotlight, InkLibrary &library,
             LightTable &table, const QWidget &lay_down, std::function<Worktop &()> active);

    /// A plate let go over the window: over the artwork it is poured there.
    void dropPlate(const QString &ink, QPoint global);
    /// An ink of the book let go over the window: over the artwork the colour there gets it, and a plate for
    /// it where there is none; with Shift the object alone. Over the lay-down a plate is made.
    void dropInk(const QString &ink, QPoint global);
    /// While pouring, frames the topmost of \p objects, which lie under the pointer.
    void frame(const std::vector<int> &objects);

Q_SIGNALS:
    void objectChosen(int object); ///< of the page's scene

private:
    void choose(const std::vector<int> &objects);
    void pour(QPointF mm, const std::vector<int> &objects);
    void openMenu(const std::vector<int> &objects);
    void giveInk(const std::vector<int> &objects);
    void ask(ObjectFinder &finder, QPointF mm);

    Session &m_session;
    Router &m_router;
    Choice &m_choice;
    Spotlight &m_spotlight;
    InkLibrary &m_library;
    LightTable &m_table;
    const QWidget &m_layDown;
    std::function<Worktop &()> m_active;
    ObjectFinder m_clicked, m_poured, m_asked, m_inked;
    QString m_ink;      ///< that was let go
    Gesture m_how;      ///< of what is poured
    QPoint m_menuPlace; ///< of the screen
};

} // namespace bichrom
