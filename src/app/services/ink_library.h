/// \file
/// The shop's ink book: the shipped one until it is changed, then its own file.
/// Layer: app/services.
#pragma once

#include "core/colour/ink_book.h"

#include <QObject>
#include <QString>

namespace bichrom {

/// Every change is written at once. Names tell inks apart; each is there once.
class InkLibrary : public QObject
{
    Q_OBJECT

public:
    /// \param file  of the shop's own book, CGATS text; made with the first change
    explicit InkLibrary(QString file, QObject *parent = nullptr);

    [[nodiscard]] const InkBook &book() const { return m_book; }
    /// Index of the ink of that name; −1 when there is none.
    [[nodiscard]] int find(const std::string &name) const;

    /// Adds inks whose names are new. \return how many were added; CannotWrite, and then none is
    [[nodiscard]] Outcome<int> add(const std::vector<BookInk> &inks);
    /// Replaces an ink, also its name. OutOfRange when another has the name, or the ink is locked and stays
    /// so.
    [[nodiscard]] Done replace(int index, const BookInk &ink);
    /// OutOfRange for a locked ink.
    [[nodiscard]] Done remove(int index);

    /// Why the shop's own book could not be read, for people; empty when it could.
    [[nodiscard]] const QString &fault() const { return m_fault; }

Q_SIGNALS:
    void changed();

private:
    [[nodiscard]] Done take(InkBook book);
    QString m_file;
    QString m_fault;
    InkBook m_book;
};

} // namespace bichrom
