#include "app/worktops/release/pages_row.h"

#include "app/widgets/controls.h"

#include <QHBoxLayout>
#include <QLineEdit>

namespace bichrom {

PagesRow::PagesRow(const char *field, const QString &name, const QString &tip, Session &session,
                   QWidget *parent)
    : QWidget(parent), m_session(session)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    m_field = new QLineEdit(this);
    m_field->setObjectName(QLatin1String(field));
    m_field->setAccessibleName(name);
    m_field->setPlaceholderText(tr("this page"));
    m_field->setToolTip(tr("1-3,5 or all; empty: the page on the table.") +
                        (tip.isEmpty() ? QString() : QLatin1Char(' ') + tip));
    m_field->setFixedWidth(129);
    row->addWidget(make_label(tr("Pages"), 12, QFont::Normal, true, this));
    row->addStretch();
    row->addWidget(m_field);
    connect(m_field, &QLineEdit::editingFinished, this, &PagesRow::chosen);
}

void PagesRow::refresh()
{
    setVisible(m_session.artwork().page_count() > 1);
}

void PagesRow::clear()
{
    m_field->clear();
}

bool PagesRow::isEmpty() const
{
    return m_field->text().trimmed().isEmpty();
}

Outcome<PageList> PagesRow::pages() const
{
    const int count = m_session.artwork().page_count();
    return isEmpty() || count == 1 ? Outcome<PageList>(PageList{m_session.job().page})
                                   : parse_pages(m_field->text().trimmed().toStdString(), count);
}

} // namespace bichrom
