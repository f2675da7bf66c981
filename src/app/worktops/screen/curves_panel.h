/// \file
/// What the press does to a plate's tones, and what films make up for.
/// Layer: app/worktops/screen.
#pragma once

#include "app/services/prompts.h"
#include "app/worktops/stage_panel.h"
#include "core/job/screen_settings.h"

#include <functional>

class QCheckBox;
class QComboBox;
class QLabel;
class QPlainTextEdit;
class QPushButton;

namespace bichrom {

class NumberField;
class PressPlot;

class CurvesPanel : public StagePanel
{
    Q_OBJECT

public:
    CurvesPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

private:
    void measure() override {}
    void stop() override {}
    void forget() override {}
    void fill() override;
    void draw() override {}
    /// The chosen plates: one, or all.
    void change(const QString &text, const std::function<void(PressCurve &)> &edit);
    void takeText(const QString &text, const QString &place);
    void useKept(const QString &name, const QString &path);
    [[nodiscard]] PressCurve shown() const;
    [[nodiscard]] bool isWish() const; ///< whether points are of what is wanted in print

    Prompts &m_prompts;
    QComboBox *m_plate; ///< all, then each
    QComboBox *m_which; ///< curve whose points are shown: measured, or wanted
    PressPlot *m_plot;
    QPlainTextEdit *m_points;
    QPushButton *m_use, *m_file, *m_clear;
    QLabel *m_words;
    NumberField *m_least, *m_most;
    QCheckBox *m_hold;
    QString m_said;                  ///< of what was read last
    QString m_filled, m_filledPlate; ///< the points of the curve shown, and whose it is
};

} // namespace bichrom
