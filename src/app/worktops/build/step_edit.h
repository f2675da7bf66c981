/// \file
/// The settings of one step of a recipe.
/// Layer: app/worktops.
#pragma once

#include "core/job/job.h"

#include <QWidget>

#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QListWidget;
class QPlainTextEdit;

namespace bichrom {

class CurveEdit;
class NumberField;

/// Shows what a step needs and nothing else.
class StepEdit : public QWidget
{
    Q_OBJECT

public:
    explicit StepEdit(QWidget *parent = nullptr);
    /// Null shows nothing.
    void show(const RecipeStep *step, const Job &job);

Q_SIGNALS:
    void changed(const bichrom::RecipeStep &step);

private:
    void take();
    void takeAreas();
    [[nodiscard]] bool needs(const QWidget *field) const;
    RecipeStep m_step;
    bool m_filling = false;
    QComboBox *m_from;
    QListWidget *m_inks;
    QComboBox *m_box;
    NumberField *m_amount;
    NumberField *m_distance;
    NumberField *m_low;
    NumberField *m_high;
    QCheckBox *m_windows;
    QCheckBox *m_anywhere;
    NumberField *m_size;
    QComboBox *m_file;
    QPlainTextEdit *m_areas;
    NumberField *m_fadeStart;
    NumberField *m_fadeEnd;
    NumberField *m_fadeAngle;
    QCheckBox *m_tonal;
    CurveEdit *m_curve;
    std::vector<std::pair<QLabel *, QWidget *>> m_rows; ///< label and field
};

} // namespace bichrom
