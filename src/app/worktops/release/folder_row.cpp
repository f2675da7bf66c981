#include "app/worktops/release/folder_row.h"

#include "app/widgets/controls.h"

#include <QDir>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPushButton>

namespace bichrom {

FolderRow::FolderRow(const char *field, const char *button, const QString &name, Prompts &prompts,
                     QWidget *parent)
    : QWidget(parent)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    m_field = new QLineEdit(this);
    m_field->setObjectName(QLatin1String(field));
    m_field->setAccessibleName(name);
    QPushButton *browse = make_small_button(button, tr("Choose …"), {}, this);
    row->addWidget(m_field, 1);
    row->addWidget(browse);
    connect(m_field, &QLineEdit::textEdited, this, [this] { m_chosen = true; });
    connect(m_field, &QLineEdit::editingFinished, this, &FolderRow::chosen);
    connect(browse, &QPushButton::clicked, this, [this, &prompts] {
        const QString chosen_folder = prompts.askFolder(m_field->text());
        if (!chosen_folder.isEmpty()) {
            m_field->setText(chosen_folder);
            m_chosen = true;
            Q_EMIT chosen();
        }
    });
}

QString FolderRow::folder() const
{
    return m_field->text().trimmed();
}

void FolderRow::offer(const QString &folder)
{
    if (!m_chosen) {
        m_field->setText(QDir::toNativeSeparators(folder));
    }
}

} // namespace bichrom
