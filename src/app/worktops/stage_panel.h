/// \file
/// What panels of a stage have in common that measure: they do so only while they are looked at, once edits
/// rest. Layer: app/worktops.
#pragma once

#include "app/models/view_state.h"
#include "app/services/session.h"

#include <QTimer>
#include <QWidget>

class QLabel;
class QScrollArea;
class QVBoxLayout;

namespace bichrom {

class StagePanel : public QWidget
{
    Q_OBJECT

public:
    /// \param empty  said while nothing is open
    StagePanel(Session &session, ViewState &view, const QString &empty, QWidget *parent);

    /// Whether the artist looks at it.
    void setShown(bool shown);

protected:
    /// Measures anew; the panel is shown and a job open.
    virtual void measure() = 0;
    /// Nobody looks any more: what is under way stops.
    virtual void stop() = 0;
    /// Another page is on the table: what was measured is void.
    virtual void forget() = 0;
    /// Shows what is set and what is known; a job is open.
    virtual void fill() = 0;
    /// Draws over the light table, or nothing.
    virtual void draw() = 0;

    void refresh();     ///< fill(), or says that nothing is open
    void measureSoon(); ///< once edits rest
    [[nodiscard]] bool isShown() const { return m_shown; }
    [[nodiscard]] bool isResting() const { return m_resting.isActive(); }

    Session &m_session;
    ViewState &m_view;
    QWidget *m_body;
    QVBoxLayout *m_column; ///< of the body

private:
    QLabel *m_empty;
    QScrollArea *m_scroll;
    QTimer m_resting;
    bool m_shown = false;
};

} // namespace bichrom
