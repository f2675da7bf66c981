/// \file
/// The job's routes in the order they decide.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/services/router.h"
#include "app/services/session.h"

#include <QWidget>

#include <vector>

class QListWidget;
class QPushButton;

namespace bichrom {

/// Under the pointer a route lights what it decides in the artwork.
class RouteList : public QWidget
{
    Q_OBJECT

public:
    RouteList(Session &session, Router &router, Spotlight &spotlight, QWidget *parent = nullptr);

protected:
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void refresh();
    void refreshButtons();
    [[nodiscard]] std::vector<int> chosen() const; ///< numbers of the routes chosen in the list
    void openMenu(int number, const QPoint &global);
    /// Lights what route \p number decides on this page.
    void light(int number);

    Session &m_session;
    Router &m_router;
    Spotlight &m_spotlight;
    QListWidget *m_routes;
    QPushButton *m_up;
    QPushButton *m_down;
    QPushButton *m_remove;
    int m_lit = -1; ///< the route under the pointer
};

} // namespace bichrom
