/// \file
/// Release: write the films.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/prompts.h"
#include "app/services/session.h"
#include "core/output/output_set.h"

#include <QWidget>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;

namespace bichrom {

class FactList;
class FilmThumbnails;

class ReleaseWorktop : public QWidget
{
    Q_OBJECT

public:
    ReleaseWorktop(Session &session, Prompts &prompts, QWidget *parent = nullptr);

    [[nodiscard]] bool isWriting() const { return m_writing; }

Q_SIGNALS:
    void released(bool done);

protected:
    void showEvent(QShowEvent *event) override;

private:
    void refresh();
    void describeSheet();
    void edit(const QString &text, const std::function<void(FilmOptions &)> &change);
    void write();
    void compose();
    void finish(Outcome<Manifest> manifest, const QString &folder);
    void setWriting(bool writing);
    void say(const QString &text, bool needs_artist);

    Session &m_session;
    Prompts &m_prompts;
    QLabel *m_empty;
    QWidget *m_body;
    QComboBox *m_format;
    QComboBox *m_box;
    QCheckBox *m_marks;
    QCheckBox *m_mirror;
    QCheckBox *m_negative;
    QCheckBox *m_moveEarlier;
    FactList *m_sheet;
    QLineEdit *m_folder;
    QPushButton *m_browse;
    QPushButton *m_write;
    QPushButton *m_compose;
    QPushButton *m_cancel;
    QProgressBar *m_progress;
    QLabel *m_result;
    FilmThumbnails *m_thumbnails;
    bool m_writing = false;
    bool m_folderChosen = false;
    CancelSwitch m_running;
    TaskScope m_tasks;
};

} // namespace bichrom
