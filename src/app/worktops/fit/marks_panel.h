/// \file
/// The marks that stand around the art on every film.
/// Layer: app/worktops/fit.
#pragma once

#include "app/worktops/stage_panel.h"
#include "core/job/film_settings.h"

#include <functional>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;

namespace bichrom {

class NumberField;
class SheetPicture;

class MarksPanel : public StagePanel
{
    Q_OBJECT

public:
    MarksPanel(Session &session, ViewState &view, QWidget *parent = nullptr);

private:
    void measure() override {}
    void stop() override {}
    void forget() override {}
    void fill() override;
    void draw() override {}
    void showEvent(QShowEvent *event) override;
    void change(const QString &text, const std::function<void(FilmOptions &)> &edit);
    void changePieces();
    [[nodiscard]] std::vector<ObjectMark> ownMarks() const; ///< of the file, beside the page that is open
    void useKept(const QString &name, const QString &path);
    void layOut();

    QCheckBox *m_on;
    QComboBox *m_around, *m_own;
    QWidget *m_rest;
    QComboBox *m_registration;
    NumberField *m_size, *m_line, *m_distance;
    std::vector<std::pair<QCheckBox *, bool MarkSet::*>> m_switches;
    QLineEdit *m_steps, *m_number;
    QListWidget *m_pieces;
    QLabel *m_words;
    SheetPicture *m_picture;
};

} // namespace bichrom
