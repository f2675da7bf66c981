/// \file
/// How the file is read: what its colours mean, what was assumed, and the change slip.
/// Layer: app/worktops.
#pragma once

#include "app/services/prompts.h"
#include "app/services/session.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QVBoxLayout;

namespace bichrom {

class NumberField;

class ReadingPanel : public QWidget
{
    Q_OBJECT

public:
    ReadingPanel(Session &session, Prompts &prompts, QWidget *parent = nullptr);

private:
    QComboBox *addChooser(QVBoxLayout *column, const QString &label, const char *name);
    void refresh();
    void refreshSlip();
    /// Reads the artwork by changed settings.
    void read(const QString &text, const std::function<void(Job &)> &change);
    /// Takes another profile from a file, or the shipped one.
    void chooseProfile(QComboBox *chooser, int row, bool condition);
    void saveSlip();

    Session &m_session;
    Prompts &m_prompts;
    QComboBox *m_rgb;
    QComboBox *m_cmyk;
    QComboBox *m_condition;
    QComboBox *m_intent;
    QCheckBox *m_blackPoint;
    QWidget *m_ppiRow;
    NumberField *m_ppi;
    QLabel *m_intentOfFile;
    QLabel *m_notes;
    QVBoxLayout *m_slip;
    QPushButton *m_saveSlip;
    QLabel *m_slipState;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
