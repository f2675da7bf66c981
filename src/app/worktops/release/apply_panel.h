/// \file
/// The job laid on other files.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/prompts.h"
#include "app/services/session.h"
#include "app/tasks/task_scope.h"
#include "core/release/apply_job.h"

#include <QTimer>
#include <QWidget>

#include <filesystem>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTreeWidget;

namespace bichrom {

class ApplyPanel : public QWidget
{
    Q_OBJECT

public:
    ApplyPanel(Session &session, Prompts &prompts, QWidget *parent = nullptr);

private:
    void refresh();
    void addFiles(const QStringList &paths);
    void chooseWatched(bool on);
    void lookIntoFolder();
    void run();
    void tell(std::size_t number, const Applied &applied);
    void setWriting(bool writing);
    void say(const QString &text, bool needs_artist);

    Session &m_session;
    Prompts &m_prompts;
    QLabel *m_empty;
    QWidget *m_body;
    QTreeWidget *m_files;
    QComboBox *m_do;
    QLineEdit *m_folder;
    QCheckBox *m_watch;
    QPushButton *m_add, *m_remove, *m_browse, *m_run, *m_cancel;
    QProgressBar *m_progress;
    QLabel *m_result;
    QString m_watched; ///< a folder; empty = none
    QTimer m_looking;
    bool m_writing = false, m_folderChosen = false;
    CancelSwitch m_running;
    TaskScope m_tasks;
};

} // namespace bichrom
