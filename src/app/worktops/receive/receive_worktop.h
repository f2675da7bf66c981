/// \file
/// Receive: what the customer's file contains.
/// Layer: app/worktops.
#pragma once

#include "app/services/session.h"

#include <QWidget>

class QComboBox;
class QLabel;

namespace bichrom {

class FactList;

class ReceiveWorktop : public QWidget
{
    Q_OBJECT

public:
    explicit ReceiveWorktop(Session &session, QWidget *parent = nullptr);

Q_SIGNALS:
    void pageChosen(int page);

private:
    void refresh();
    Session &m_session;
    QLabel *m_file;
    QLabel *m_promise;
    QComboBox *m_page;
    QLabel *m_pageLabel;
    FactList *m_about;
    FactList *m_inks;
    FactList *m_boxes;
    FactList *m_contents;
    QLabel *m_notesHead;
    QLabel *m_notes;
};

} // namespace bichrom
