#include "app/services/ink_library.h"

#include "core/base/atomic_file.h"

#include <QFile>
#include <QFileInfo>

#include <algorithm>

namespace bichrom {

InkLibrary::InkLibrary(QString file, QObject *parent)
    : QObject(parent), m_file(std::move(file)), m_book(shipped_inks())
{
    if (QFile::exists(m_file)) {
        auto own = read_ink_book(m_file.toStdString());
        if (own) {
            m_book = std::move(*own);
        } else {
            m_fault = QString::fromStdString(own.error().message());
        }
    }
}

int InkLibrary::find(const std::string &name) const
{
    const auto found = std::find_if(m_book.inks.begin(), m_book.inks.end(),
                                    [&](const BookInk &ink) { return ink.name == name; });
    return found == m_book.inks.end() ? -1 : static_cast<int>(found - m_book.inks.begin());
}

Done InkLibrary::take(InkBook book)
{
    if (!m_fault.isEmpty()) {
        // A book that cannot be read is not written over.
        return Error{ErrorCode::CannotWrite, "The shop's ink book cannot be read: " + m_fault.toStdString(),
                     m_file.toStdString(), "Put the file aside or correct it, then start again."};
    }
    if (const Done ready = prepare_folder(QFileInfo(m_file).absolutePath().toStdString()); !ready) {
        return ready;
    }
    if (const Done written = write_file(m_file.toStdString(), to_cgats(book)); !written) {
        return written;
    }
    m_book = std::move(book);
    Q_EMIT changed();
    return {};
}

Outcome<int> InkLibrary::add(const std::vector<BookInk> &inks)
{
    InkBook book = m_book;
    int added = 0;
    for (const BookInk &ink : inks) {
        const bool known = std::any_of(book.inks.begin(), book.inks.end(),
                                       [&](const BookInk &one) { return one.name == ink.name; });
        if (!known) {
            book.inks.push_back(ink);
            ++added;
        }
    }
    if (added > 0) {
        if (const Done done = take(std::move(book)); !done) {
            return done.error();
        }
    }
    return added;
}

Done InkLibrary::replace(int index, const BookInk &ink)
{
    const BookInk &old = m_book.inks[static_cast<std::size_t>(index)];
    if (old.locked && ink.locked) {
        return Error{ErrorCode::OutOfRange, "“" + old.name + "” is locked.", {}, "Unlock it first."};
    }
    const int same = find(ink.name);
    if (ink.name.empty() || (same >= 0 && same != index)) {
        return Error{ErrorCode::OutOfRange,
                     ink.name.empty() ? "An ink needs a name."
                                      : "There is another ink named “" + ink.name + "”.",
                     {},
                     "Choose another name."};
    }
    InkBook book = m_book;
    book.inks[static_cast<std::size_t>(index)] = ink;
    return take(std::move(book));
}

Done InkLibrary::remove(int index)
{
    const BookInk &old = m_book.inks[static_cast<std::size_t>(index)];
    if (old.locked) {
        return Error{ErrorCode::OutOfRange, "“" + old.name + "” is locked.", {}, "Unlock it first."};
    }
    InkBook book = m_book;
    book.inks.erase(book.inks.begin() + index);
    return take(std::move(book));
}

} // namespace bichrom
