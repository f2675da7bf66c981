/// \file
/// Which inks print painted artwork best on the job's stock, and what one more buys.
/// Layer: app/dialogs.
#pragma once

#include "app/services/session.h"
#include "app/tasks/task_scope.h"
#include "core/separate/choose_inks.h"
#include "core/separate/separate_job.h"

#include <QDialog>

#include <set>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace bichrom {

/// The expected difference by the number of inks; a click chooses a number.
class InkCountPlot : public QWidget
{
    Q_OBJECT

public:
    explicit InkCountPlot(QWidget *parent);
    void show(std::vector<InkSet> sets, int chosen);

Q_SIGNALS:
    void chosen(int set);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;

private:
    [[nodiscard]] QPointF place(std::size_t set) const;
    std::vector<InkSet> m_sets;
    int m_chosen = -1;
    double m_top = 1;
};

class SeparationDialog : public QDialog
{
    Q_OBJECT

public:
    /// \param book  whose inks may be taken
    SeparationDialog(Session &session, InkBook book, QWidget *parent);

private:
    void find();
    void found(Outcome<std::vector<InkSet>> sets);
    void choose(int set);
    void showInks();
    void makeThumbnails();
    void print();
    void measure();
    void say(const QString &text, bool needs_artist);
    void setBusy(bool busy);
    [[nodiscard]] std::vector<BookInk> fixedInks() const;

    Session &m_session;
    InkBook m_book;
    std::vector<InkSet> m_sets;
    int m_chosen = -1;
    std::set<std::string> m_kept, m_out; ///< inks locked, and left out
    QComboBox *m_most;
    QCheckBox *m_white, *m_process;
    QLineEdit *m_limit;
    QPushButton *m_find, *m_stop, *m_print;
    QProgressBar *m_progress;
    InkCountPlot *m_plot;
    QListWidget *m_thumbnails, *m_inks;
    QLabel *m_words;
    CancelSwitch m_finding, m_showing;
    TaskScope m_tasks;
};

} // namespace bichrom
