/// \file
/// Which screens beat against each other and the mesh, and better angles.
/// Layer: app/worktops/screen.
#pragma once

#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/screen/moire_survey.h"

class QLabel;
class QPushButton;
class QTreeWidget;

namespace bichrom {

class BeatChart;
class BeatPicture;
class NumberField;

class BeatsPanel : public StagePanel
{
    Q_OBJECT

public:
    BeatsPanel(Session &session, ViewState &view, QWidget *parent = nullptr);

    /// Whether what is listed is of the job as it is.
    [[nodiscard]] bool isMeasured() const
    {
        return m_survey.state() == Fact<MoireSurvey>::State::Known && !isResting();
    }

Q_SIGNALS:
    /// The place, mm of the shown page, where the chosen pair meets most.
    void placeChosen(QPointF mm);

private:
    void measure() override;
    void stop() override { m_running.cancel(); }
    void forget() override { m_survey.forget(); }
    void fill() override;
    void draw() override {}
    void showPair();
    void takeProposal();
    [[nodiscard]] std::optional<Mesh> mesh() const;

    NumberField *m_threads, *m_meshAngle, *m_viewing;
    QTreeWidget *m_pairs;
    QLabel *m_words, *m_proposal;
    BeatPicture *m_picture;
    BeatChart *m_chart;
    QPushButton *m_take;
    Fact<MoireSurvey> m_survey;
    /// What repeats on the plates of that line: it takes longest to find, and angles and mesh change nothing
    /// of it.
    std::shared_ptr<const std::vector<ArtPeriod>> m_periods;
    std::shared_ptr<const PlateLine> m_periodsOf;
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
