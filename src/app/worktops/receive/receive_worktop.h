/// \file
/// Receive: look at the customer's file, change nothing.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/router.h"
#include "app/services/rules_shelf.h"
#include "app/services/session.h"
#include "app/worktops/worktop.h"

class QLabel;

namespace bichrom {

class ContentsPanel;
class FindingsPanel;
class ObjectsPanel;
class PanelSwitch;

/// The file and its pages on top, below them one of four panels.
class ReceiveWorktop : public Worktop
{
    Q_OBJECT

public:
    enum class Panel
    {
        Findings,
        Contents,
        Objects,
        Reading
    };

    ReceiveWorktop(Session &session, ViewState &view, Router &router, Choice &choice, Spotlight &spotlight,
                   RulesShelf &shelf, Prompts &prompts, QWidget *parent = nullptr);
    void showPanel(Panel panel);
    [[nodiscard]] ObjectsPanel &objects() { return *m_objects; }
    [[nodiscard]] StageState state(bool looked_at) const override;
    void setUnit(LengthUnit unit) override;
    [[nodiscard]] FindingsPanel &findings() { return *m_findings; }
    /// Chooses an object that was clicked in the artwork.
    void chooseObject(int object);

private:
    void refresh();
    Session &m_session;
    QLabel *m_file;
    QLabel *m_promise;
    PanelSwitch *m_switch;
    FindingsPanel *m_findings;
    ContentsPanel *m_contents;
    ObjectsPanel *m_objects;
};

} // namespace bichrom
