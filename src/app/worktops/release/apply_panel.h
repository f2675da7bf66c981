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
class QPushButton;
class QTreeWidget;

namespace bichrom {

class FolderRow;
class WorkStrip;

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
    void setBusy(bool busy);

    Session &m_session;
    Prompts &m_prompts;
    QLabel *m_empty;
    QWidget *m_body;
    QTreeWidget *m_files;
    QComboBox *m_do;
    FolderRow *m_folder;
    QCheckBox *m_watch;
    QPushButton *m_add, *m_remove, *m_run;
    WorkStrip *m_work;
    QString m_watched; ///< a folder; empty = none
    QTimer m_looking;
};

} // namespace bichrom
