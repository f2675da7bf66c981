/// \file
/// Which pages of a document something is made of.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/session.h"

#include <QWidget>

class QLineEdit;

namespace bichrom {

/// Seen where there are several pages.
class PagesRow : public QWidget
{
    Q_OBJECT

public:
    /// \param field  its object name \param name  what it is \param tip  more than "1-3,5 or all"
    PagesRow(const char *field, const QString &name, const QString &tip, Session &session, QWidget *parent);

    void refresh(); ///< seen or not; an artwork is open
    void clear();
    [[nodiscard]] bool isEmpty() const;
    /// Those that are written; the page on the table where none are. As parse_pages().
    [[nodiscard]] Outcome<PageList> pages() const;

Q_SIGNALS:
    void chosen();

private:
    Session &m_session;
    QLineEdit *m_field;
};

} // namespace bichrom
