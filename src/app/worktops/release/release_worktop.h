/// \file
/// Release: films, proof and ticket, the release itself, and other files that the job is laid on.
/// Layer: app/worktops/release.
#pragma once

#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/session.h"
#include "app/worktops/worktop.h"

#include <string>
#include <vector>

namespace bichrom {

class FilmsPanel;
class HandOverPanel;
class PanelSwitch;
class StagePanel;

class ReleaseWorktop : public Worktop
{
    Q_OBJECT

public:
    ReleaseWorktop(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

    /// Finished when the last films, or a release, were written.
    [[nodiscard]] StageState state(bool looked_at) const override;
    void setActive(bool active) override;

Q_SIGNALS:
    void filmsWanted(const std::vector<std::string> &inks, const std::string &first);

private:
    void showPanel(int number);

    PanelSwitch *m_switch;
    FilmsPanel *m_films;
    HandOverPanel *m_handOver;
    std::vector<StagePanel *> m_panels; ///< as they are switched; null for one that measures nothing
    bool m_active = false;
};

} // namespace bichrom
