/// \file
/// Overprint: rules of the house, decisions for objects, colours and plates, and where they act.
/// Layer: app/worktops/fit.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/fit/overprint_map.h"

#include <optional>

class QButtonGroup;
class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;

namespace bichrom {

class NumberField;

class OverprintPanel : public StagePanel
{
    Q_OBJECT

public:
    OverprintPanel(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight,
                   QWidget *parent = nullptr);

private:
    enum class About
    {
        Object,
        Colour,
        Plate
    };
    using Mapped = Fact<OverprintMap>;
    void changeHouse(const QString &text, const std::function<void(HouseOverprint &)> &edit);
    void decide(OverprintWish wish);
    /// What About means now; nothing when there is no such choice.
    [[nodiscard]] std::optional<Route> source(About about) const;
    void refreshChosen();
    void measure() override;
    void stop() override { m_running.cancel(); }
    void forget() override { m_map.forget(); }
    void fill() override;
    void draw() override;

    Choice &m_choice;
    Spotlight &m_spotlight;
    QCheckBox *m_blackText, *m_blackLines, *m_white, *m_finishing, *m_foil;
    NumberField *m_textSize, *m_lineWidth;
    QComboBox *m_about;
    QLabel *m_what;
    QButtonGroup *m_wishes;
    QListWidget *m_rules;
    QPushButton *m_remove;
    QCheckBox *m_draw;
    QLabel *m_words;
    QWidget *m_legend;
    Mapped m_map;
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
