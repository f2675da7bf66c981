/// \file
/// Traps: how wide, which pairs meet, who spreads; shown on the light table.
/// Layer: app/worktops/fit.
#pragma once

#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/fit/trap_table.h"

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QTreeWidget;

namespace bichrom {

class NumberField;

class TrapPanel : public StagePanel
{
    Q_OBJECT

public:
    TrapPanel(Session &session, ViewState &view, QWidget *parent = nullptr);

    /// A rectangle, mm of the shown page, gets a width of its own: none, until it is typed.
    void addZone(const QRectF &area);
    /// Whether what is listed is of the job as it is.
    [[nodiscard]] bool isMeasured() const
    {
        return m_table.state() == Measured::State::Known && !isResting();
    }

Q_SIGNALS:
    void note(const QString &sentence);

private:
    struct Found
    {
        std::vector<TrapTableRow> rows;
        std::vector<std::string> inks;
        std::shared_ptr<const BitPlane> more, less;
        Dpi resolution{600};
    };
    using Measured = Fact<Found>;
    void changeTraps(const QString &text, const std::function<void(TrapSettings &)> &edit);
    void changePair();
    [[nodiscard]] TrapRules rulesNow() const;
    void measure() override;
    void stop() override;
    void forget() override;
    void fill() override;
    void refreshPair();
    void refreshZones();
    void draw() override;
    void drawPair();

    QCheckBox *m_on;
    QWidget *m_rest;
    NumberField *m_width, *m_holdBack, *m_baseChoke, *m_darker;
    QCheckBox *m_underThin;
    QLabel *m_words;
    QTreeWidget *m_pairs;
    QWidget *m_pairEdit;
    QLabel *m_pairName;
    QComboBox *m_side;
    NumberField *m_pairWidth;
    QListWidget *m_zones;
    NumberField *m_zoneWidth;
    QPushButton *m_removeZone;
    QWidget *m_zoneRow;
    QCheckBox *m_draw;
    Measured m_table;
    std::string m_first, m_second; ///< the chosen pair; empty = none
    CancelSwitch m_running, m_drawing;
    quint64 m_drawTicket = 0;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
