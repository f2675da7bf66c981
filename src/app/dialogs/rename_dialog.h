/// \file
/// Another name for an ink in many files at once, with a preview.
/// Layer: app/dialogs.
#pragma once

#include "app/services/prompts.h"
#include "app/tasks/task_scope.h"
#include "core/artwork/rename_files.h"

#include <QDialog>
#include <QTimer>

#include <vector>

class QComboBox;
class QLabel;
class QLineEdit;
class QProgressBar;
class QPushButton;
class QTreeWidget;

namespace bichrom {

/// Copies go into a folder; the files themselves stay as they are. What is typed is tried out at once.
class RenameDialog : public QDialog
{
    Q_OBJECT

public:
    explicit RenameDialog(Prompts &prompts, QWidget *parent = nullptr);

    void addFiles(const QStringList &paths);

private:
    [[nodiscard]] InkRename rename() const;
    void tryOut();
    void write();
    void start(const std::filesystem::path &folder);
    void show(const Outcome<std::vector<RenamedFile>> &made, bool written);
    void refresh();

    Prompts &m_prompts;
    QStringList m_files;
    QTreeWidget *m_list;
    QLineEdit *m_from, *m_to, *m_folder;
    QComboBox *m_match;
    QLabel *m_words;
    QProgressBar *m_progress;
    QPushButton *m_add, *m_remove, *m_choose, *m_write;
    QTimer m_resting; ///< of typing
    quint64 m_ticket = 0;
    bool m_writing = false;
    CancelSwitch m_running;
    TaskScope m_tasks; // last: destroyed first
};

} // namespace bichrom
