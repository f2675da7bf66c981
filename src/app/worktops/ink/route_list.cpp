#include "app/worktops/ink/route_list.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/ink/lit_objects.h"
#include "app/worktops/ink/route_words.h"
#include "core/job/routing.h"

#include <QEvent>
#include <QHBoxLayout>
#include <QListWidget>
#include <QMenu>
#include <QPushButton>
#include <QSignalBlocker>

#include <algorithm>

namespace bichrom {

RouteList::RouteList(Session &session, Router &router, Spotlight &spotlight, QWidget *parent)
    : QWidget(parent), m_session(session), m_router(router), m_spotlight(spotlight)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    auto *head = new QHBoxLayout();
    head->setSpacing(4);
    head->addWidget(make_label(tr("Routes: the first that fits decides"), 11, QFont::DemiBold, true, this));
    head->addStretch();
    m_up = make_small_button("routeUp", QStringLiteral("↑"), tr("Decides earlier"), this);
    m_down = make_small_button("routeDown", QStringLiteral("↓"), tr("Decides later"), this);
    m_remove = make_small_button("routeRemove", QStringLiteral("×"), tr("Removes the route"), this);
    for (QPushButton *button : {m_up, m_down, m_remove}) {
        button->setFixedWidth(24);
        button->setAccessibleName(button->toolTip());
        head->addWidget(button);
    }
    column->addLayout(head);
    m_routes = new QListWidget(this);
    m_routes->setObjectName(QStringLiteral("routeList"));
    m_routes->setAccessibleName(tr("Routes in the order they decide"));
    m_routes->setFixedHeight(74);
    m_routes->setStyleSheet(theme::listStyle());
    m_routes->setFont(theme::font(11));
    m_routes->setTextElideMode(Qt::ElideRight);
    m_routes->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_routes->setSelectionMode(QAbstractItemView::ExtendedSelection);
    m_routes->setMouseTracking(true);
    m_routes->viewport()->installEventFilter(this);
    column->addWidget(m_routes);
    const auto move = [this](int by) {
        const int row = m_routes->currentRow();
        m_router.moveRoute(row, by);
        m_routes->setCurrentRow(row + by);
    };
    connect(m_up, &QPushButton::clicked, this, [move] { move(-1); });
    connect(m_down, &QPushButton::clicked, this, [move] { move(1); });
    connect(m_remove, &QPushButton::clicked, this, [this] { m_router.removeRoutes(chosen()); });
    connect(m_routes, &QListWidget::itemSelectionChanged, this, &RouteList::refreshButtons);
    m_routes->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_routes, &QListWidget::customContextMenuRequested, this, [this](const QPoint &at) {
        if (const QListWidgetItem *item = m_routes->itemAt(at)) {
            openMenu(m_routes->row(item), m_routes->viewport()->mapToGlobal(at));
        }
    });
    connect(m_routes, &QListWidget::itemEntered, this,
            [this](QListWidgetItem *item) { light(m_routes->row(item)); });
    connect(&m_session, &Session::jobChanged, this, &RouteList::refresh);
    connect(&m_session, &Session::pageChanged, this, &RouteList::refresh);
    refresh();
}

std::vector<int> RouteList::chosen() const
{
    std::vector<int> rows;
    for (const QModelIndex &index : m_routes->selectionModel()->selectedIndexes()) {
        rows.push_back(index.row());
    }
    return rows;
}

bool RouteList::eventFilter(QObject *watched, QEvent *event)
{
    if (watched == m_routes->viewport() && event->type() == QEvent::Leave && m_lit >= 0) {
        m_lit = -1;
        m_spotlight.clear();
    }
    return QWidget::eventFilter(watched, event);
}

void RouteList::refresh()
{
    const QSignalBlocker quiet(m_routes);
    const int before = m_routes->currentRow();
    m_routes->clear();
    if (m_session.isOpen()) {
        for (const Route &route : m_session.job().routes) {
            auto *item = new QListWidgetItem(short_route(route), m_routes);
            item->setToolTip(
                tr("%1 %2").arg(theme::text_of(describe_source(route)), theme::text_of(describe_end(route))));
        }
    }
    m_routes->setCurrentRow(std::min(before, m_routes->count() - 1));
    refreshButtons();
}

void RouteList::refreshButtons()
{
    const int row = m_routes->currentRow();
    const std::size_t several = chosen().size();
    m_up->setEnabled(several == 1 && row > 0);
    m_down->setEnabled(several == 1 && row >= 0 && row + 1 < m_routes->count());
    m_remove->setEnabled(several > 0);
}

void RouteList::openMenu(int number, const QPoint &global)
{
    const Route &route = m_session.job().routes[static_cast<std::size_t>(number)];
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("routeMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [&](const char *name, const QString &text) {
        QAction *action = menu->addAction(text);
        action->setObjectName(QString::fromLatin1(name));
        return action;
    };
    if (m_session.artwork().page_count() > 1 && route.by != RouteBy::Objects) { // those say their pages
        for (const PageList &pages : {PageList{}, PageList{m_session.job().page}}) {
            QAction *action = add(pages.empty() ? "routeAllPages" : "routeThisPage",
                                  pages.empty() ? tr("Holds on all pages") : tr("Holds on this page only"));
            action->setCheckable(true);
            action->setChecked(route.pages == pages);
            connect(action, &QAction::triggered, this,
                    [this, number, pages] { m_router.setRoutePages(number, pages); });
        }
        menu->addSeparator();
    }
    connect(add("routeDrop", tr("Remove the route")), &QAction::triggered, this,
            [this, number] { m_router.removeRoutes({number}); });
    menu->popup(global);
}

void RouteList::light(int number)
{
    m_lit = number;
    light_objects(m_session, m_spotlight, decided_by(m_session.job(), m_session.page()->scene, number),
                  tr("1 object by this route"), tr("%1 objects by this route"));
}

} // namespace bichrom
