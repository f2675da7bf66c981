/// \file
/// Folds, glue, what must stay free and the platen, and files laid over the page to be looked at.
/// Layer: app/worktops/fit.
#pragma once

#include "app/services/prompts.h"
#include "app/worktops/stage_panel.h"
#include "core/job/named_area.h"

#include <QListWidget>

#include <functional>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QPushButton;

namespace bichrom {

class NumberField;

class AreasPanel : public StagePanel
{
    Q_OBJECT

public:
    AreasPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

    /// A rectangle drawn on the light table, mm of the shown page, becomes one of the kind chosen last.
    void addArea(const QRectF &shown);

private:
    void measure() override {}
    void stop() override {}
    void forget() override {}
    void fill() override;
    void draw() override {}

    /// Areas and templates in one list; an area's row is its number in the job.
    [[nodiscard]] int chosenArea() const;
    [[nodiscard]] int chosenTemplate() const; ///< the artwork's number; 0 = none
    void change(const QString &text, const std::function<void(NamedArea &)> &edit);
    void add(const Rect &area);
    void remove();
    void useKept(const QString &name, const QString &path);
    void layTemplate();
    void fillFields();

    Prompts &m_prompts;
    QListWidget *m_list;
    QWidget *m_fields;
    QComboBox *m_kind;
    QLineEdit *m_name;
    NumberField *m_x, *m_y, *m_width, *m_height;
    QCheckBox *m_thisPage, *m_shownBox;
    QPushButton *m_remove;
    QLabel *m_words;
    AreaKind m_last = AreaKind::KeepOut; ///< that what is drawn becomes
};

} // namespace bichrom
