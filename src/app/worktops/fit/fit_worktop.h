/// \file
/// Fit: what overprints, how plates overlap, and what shows when they slip.
/// Layer: app/worktops/fit.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/session.h"
#include "app/worktops/worktop.h"

#include <vector>

namespace bichrom {

class AreasPanel;
class OverprintPanel;
class StagePanel;
class MarksPanel;
class PanelSwitch;
class Prompts;
class SizePanel;
class SlipPanel;
class TrapPanel;

class FitWorktop : public Worktop
{
    Q_OBJECT

public:
    FitWorktop(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight, Prompts &prompts,
               QWidget *parent = nullptr);

    [[nodiscard]] StageState state(bool looked_at) const override;
    void setActive(bool active) override;
    void areaDrawn(const QRectF &area, Gesture how) override;
    void slid(QPointF mm, bool released) override;

private:
    void showPanel(int number);

    Session &m_session;
    ViewState &m_view;
    PanelSwitch *m_switch;
    SizePanel *m_size;
    TrapPanel *m_traps;
    SlipPanel *m_slip;
    OverprintPanel *m_overprint;
    MarksPanel *m_marks;
    AreasPanel *m_areas;
    std::vector<StagePanel *> m_panels; ///< as they are switched
    bool m_active = false;
};

} // namespace bichrom
