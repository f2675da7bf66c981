/// \file
/// Ink, panel Ink book: what each plate is printed in.
/// Layer: app/worktops.
#pragma once

#include "app/models/choice.h"
#include "app/services/ink_library.h"
#include "app/services/prompts.h"
#include "app/services/session.h"

#include <QPoint>
#include <QWidget>

#include <optional>

class QComboBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace bichrom {

class BookPanel : public QWidget
{
    Q_OBJECT

public:
    BookPanel(Session &session, InkLibrary &library, Choice &choice, Prompts &prompts,
              QWidget *parent = nullptr);

Q_SIGNALS:
    void inkDropped(const QString &ink, const QPoint &global); ///< dragged out of a list and let go

protected:
    /// Inks are dragged out of the lists.
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void refresh();
    void refreshNearest();
    void refreshBook();
    void refreshButtons();
    void addRow(QListWidget *list, const QString &text, const QColor &left, const QColor &right, int index);
    void editInk();
    void give(const QListWidgetItem *item);
    void addToBook();
    void changeLock();
    void rename();
    void removeInk();
    void importBook();
    void exportBook();
    void complain(const Error &error);
    [[nodiscard]] const Plate *chosenPlate() const;
    [[nodiscard]] int chosenInk() const; ///< index in the book; −1 when none is

    Session &m_session;
    InkLibrary &m_library;
    Choice &m_choice;
    Prompts &m_prompts;
    QListWidget *m_plates;
    QListWidget *m_nearest;
    QLineEdit *m_search;
    QComboBox *m_family;
    QListWidget *m_book;
    QLineEdit *m_name;
    QPushButton *m_edit;
    QPushButton *m_give;
    QPushButton *m_add;
    QPushButton *m_lock;
    QPushButton *m_remove;
    QLabel *m_state;
    std::optional<QPoint> m_pressed; ///< where, of a list's viewport
    QString m_dragged;               ///< the ink under way; empty while none is
};

} // namespace bichrom
