/// \file
/// What is known of a plate's ink.
/// Layer: app/dialogs.
#pragma once

#include "app/services/prompts.h"
#include "core/job/job.h"

#include <QDialog>

class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bichrom {

class CurveEdit;
class NumberField;

/// Kind, colour, opacity, tone curve, density and screen colour of one plate's ink, with how it looks over
/// white, over black and over the job's stock. Accepted when the artist wants them for the plate.
class InkDialog : public QDialog
{
    Q_OBJECT

public:
    /// \param condition  of process inks, never null
    InkDialog(Plate plate, Stock stock, std::shared_ptr<const ProcessProfile> condition, Prompts &prompts,
              QWidget *parent = nullptr);

    /// As edited.
    [[nodiscard]] const Plate &plate() const { return m_plate; }

private:
    void build();
    void takeColour();
    void takeTyped();
    void refresh();
    void chooseShown();

    Plate m_plate;
    Stock m_stock;
    std::shared_ptr<const ProcessProfile> m_condition;
    Prompts &m_prompts;
    QComboBox *m_kind;
    NumberField *m_l;
    NumberField *m_a;
    NumberField *m_b;
    QLineEdit *m_typed;
    NumberField *m_opacity;
    NumberField *m_density;
    QPushButton *m_usualDensity;
    QPushButton *m_shown;
    QPushButton *m_notShown;
    CurveEdit *m_gain;
    QLabel *m_preview;
    QLabel *m_note;
};

} // namespace bichrom
