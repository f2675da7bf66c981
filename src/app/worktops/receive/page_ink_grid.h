/// \file
/// Inks by pages: where in a file of several pages each ink stands.
/// Layer: app/worktops.
#pragma once

#include "app/services/fact.h"
#include "app/services/session.h"
#include "core/line/page_inks.h"

#include <QWidget>

#include <memory>
#include <vector>

class QLabel;
class QTableWidget;

namespace bichrom {

/// A row an ink, a column a page, cm² in the cells. Measured once it is seen; hidden for a file of one page.
class PageInkGrid : public QWidget
{
    Q_OBJECT

public:
    explicit PageInkGrid(Session &session, QWidget *parent = nullptr);

Q_SIGNALS:
    void cellChosen(int page, const QString &ink);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void follow();
    void refresh();
    [[nodiscard]] QString words() const;

    Session &m_session;
    QLabel *m_state;
    QTableWidget *m_table;
    Fact<std::vector<PageInks>> m_pages;
    std::shared_ptr<const Artwork> m_artwork; ///< that they are of
    ColourSettings m_colours;
    int m_done = 0;
    CancelSwitch m_measuring;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
