/// \file
/// Which films are written, how, and where.
/// Layer: app/worktops/release.
#pragma once

#include "app/models/view_state.h"
#include "app/services/prompts.h"
#include "app/services/session.h"
#include "core/output/output_set.h"

#include <QWidget>

#include <map>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QTreeWidget;

namespace bichrom {

class FactList;
class FilmThumbnails;
class FolderRow;
class NumberField;
class PagesRow;
class WorkStrip;

class FilmsPanel : public QWidget
{
    Q_OBJECT

public:
    FilmsPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

    /// Whether the last films were written.
    [[nodiscard]] bool isReleased() const { return m_released; }

Q_SIGNALS:
    void stateChanged();
    /// Films are to be seen as they will be exposed: those ticked, \p first of them first.
    void filmsWanted(const std::vector<std::string> &inks, const std::string &first);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void refresh();
    void describeSheet();
    void showSheet();
    void listFilms();
    void openFilmMenu(const QPoint &at);
    /// Inks ticked in the list; empty when nothing is to be left out.
    [[nodiscard]] std::vector<std::string> tickedInks() const;
    [[nodiscard]] bool isTicked(const std::string &ink) const;
    void edit(const QString &text, const std::function<void(FilmOptions &)> &change);
    void write();
    void compose();
    void finish(Outcome<std::vector<Manifest>> pages, const QString &folder);
    void setBusy(bool busy);

    /// What is said of the sheet that every film of this page is.
    struct SheetSize
    {
        int width = 0, height = 0; ///< pixels
        double wide_mm = 0, high_mm = 0;
        bool has_wedge = true;
    };
    Session &m_session;
    ViewState &m_view;
    Prompts &m_prompts;
    QLabel *m_empty;
    QWidget *m_body;
    QComboBox *m_format;
    QComboBox *m_box;
    QCheckBox *m_marks;
    QCheckBox *m_mirror;
    QCheckBox *m_negative;
    QCheckBox *m_turned;     ///< of films that share one
    NumberField *m_together; ///< mm of a film that several share; 0 = none
    QCheckBox *m_moveEarlier;
    PagesRow *m_pages;
    QTreeWidget *m_films;
    QLabel *m_filmsNote;
    std::map<std::string, bool> m_ticks; ///< of inks that the artist has ticked on or off
    FactList *m_sheet;
    Outcome<SheetSize> m_layout = SheetSize{};
    FolderRow *m_folder;
    QPushButton *m_look;
    QPushButton *m_write;
    QComboBox *m_pdfForm;
    QPushButton *m_compose;
    WorkStrip *m_work;
    FilmThumbnails *m_thumbnails;
    bool m_released = false;
};

} // namespace bichrom
