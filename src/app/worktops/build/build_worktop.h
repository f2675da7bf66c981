/// \file
/// Build: plates that the artwork does not contain, and how plates are printed.
/// Layer: app/worktops.
#pragma once

#include "app/models/choice.h"
#include "app/models/spotlight.h"
#include "app/services/session.h"
#include "app/worktops/worktop.h"

#include <functional>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPushButton;
class QStackedWidget;

namespace bichrom {

class NumberField;
class PourRow;
class StepEdit;

class BuildWorktop : public Worktop
{
    Q_OBJECT

public:
    BuildWorktop(Session &session, Choice &choice, Spotlight &spotlight, QWidget *parent = nullptr);

    bool pour(QPointF mm, const std::vector<int> &objects, Gesture how) override;
    void areaDrawn(const QRectF &area, Gesture how) override;
    [[nodiscard]] QString pourWords() const override;
    void setHand(bool pours, bool draws) override;

private:
    void buildPrinting(class QVBoxLayout *column);
    void refresh();
    void refreshSteps();
    void refreshResult();
    void lightFault(int row);
    [[nodiscard]] QString faultsSaid() const;
    [[nodiscard]] PresetTable presetTable() const;
    void makePlate();
    void addStep();
    void editPlate(const QString &text, const QString &key, const std::function<void(Plate &)> &change);
    void movePlate(int by);
    void moveStep(int by);
    [[nodiscard]] const Plate *plate() const; ///< the chosen one; null when none is

    Session &m_session;
    Choice &m_choice;
    Spotlight &m_spotlight;
    QComboBox *m_presets;
    QPushButton *m_make;
    QLabel *m_about;
    PourRow *m_pour;
    QLabel *m_chosen;
    QPushButton *m_earlier;
    QPushButton *m_later;
    QListWidget *m_steps;
    QComboBox *m_kinds;
    QPushButton *m_up;
    QPushButton *m_down;
    QPushButton *m_remove;
    StepEdit *m_step;
    QComboBox *m_hits;
    QComboBox *m_opacity;
    QComboBox *m_tin;
    QCheckBox *m_wet;
    QCheckBox *m_flash;
    NumberField *m_mesh;
    QLabel *m_result;
    QListWidget *m_faults;
    std::vector<Finding> m_shownFaults;
    std::vector<RecipePreset> m_known;
};

} // namespace bichrom
