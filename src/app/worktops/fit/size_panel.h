/// \file
/// How large the artwork is printed, how often, and what is stretched for the press.
/// Layer: app/worktops/fit.
#pragma once

#include "app/services/fact.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"

#include <functional>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;

namespace bichrom {

class FactList;
class NumberField;
class SheetPicture;

class SizePanel : public StagePanel
{
    Q_OBJECT

public:
    SizePanel(Session &session, ViewState &view, QWidget *parent = nullptr);

private:
    void measure() override;
    void stop() override { m_running.cancel(); }
    void forget() override { m_painted.forget(); }
    void fill() override;
    void draw() override {}
    void showEvent(QShowEvent *event) override;
    /// The artwork times \p factor.
    void scaleBy(double factor, const QString &text);
    void makeBleed(const MadeBleed &bleed, const QString &text);
    void changeFilm(const QString &text, const std::function<void(FilmOptions &)> &edit);
    /// What a width or height is measured of, mm, as it is now.
    [[nodiscard]] Rect measured() const;
    void layOut();

    QComboBox *m_of;
    NumberField *m_width, *m_height, *m_percent;
    QLabel *m_words;
    QPushButton *m_own;
    NumberField *m_bleed;
    QComboBox *m_bleedBy;
    NumberField *m_along, *m_across;
    NumberField *m_columns, *m_rows, *m_gap;
    QCheckBox *m_ownSheet;
    QWidget *m_sheetRow;
    NumberField *m_sheetWidth, *m_sheetHeight, *m_left, *m_top;
    QCheckBox *m_centred;
    SheetPicture *m_picture;
    FactList *m_facts;
    Fact<Rect> m_painted; ///< what is painted, measured when it is asked for
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
