/// \file
/// The slip test: what shows when plates move, within a tolerance or by hand.
/// Layer: app/worktops/fit.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/fit/slip_test.h"

#include <optional>

class QCheckBox;
class QLabel;
class QPushButton;

namespace bichrom {

class NumberField;
class SlipChart;

class SlipPanel : public StagePanel
{
    Q_OBJECT

public:
    SlipPanel(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight,
              QWidget *parent = nullptr);

    /// The chosen plate was dragged on the light table by \p mm since the button went down.
    void slid(QPointF mm, bool released);
    [[nodiscard]] bool isTested() const { return m_fact.state() == Tested::State::Known && !isResting(); }

Q_SIGNALS:
    void tested();
    void trapsShown(); ///< the artist wants to see the traps

private:
    struct Found
    {
        SlipResult now;
        SlipResult plain; ///< without traps; as now where there are none
        std::shared_ptr<const BitPlane> map;
        Dpi resolution{600};
    };
    /// The plates of the job, kept while only slips change.
    struct Plates
    {
        std::shared_ptr<const PlateLine> of;
        double resolution = 0;
        std::shared_ptr<const SlipPlates> now, plain;
    };
    using Tested = Fact<Found>;
    void measure() override;
    void stop() override;
    void forget() override;
    void fill() override;
    void draw() override;
    [[nodiscard]] Slip &slipOf(const QString &ink);
    void takeFields();
    void showPlate();
    void showRow(int row);
    void closeGaps();

    Choice &m_choice;
    Spotlight &m_spotlight;
    NumberField *m_within;
    QLabel *m_sum;
    QPushButton *m_close;
    SlipChart *m_chart;
    QCheckBox *m_map;
    QLabel *m_plate;
    QWidget *m_fields;
    NumberField *m_right, *m_down, *m_turn, *m_stretch;
    QPushButton *m_back;
    std::vector<Slip> m_slips;     ///< by hand; none = within the tolerance
    std::optional<Slip> m_dragged; ///< as the chosen plate lay when the button went down
    Tested m_fact;
    Plates m_plates;
    double m_tolerance = 0.3; ///< mm
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
