#include "app/services/dialog_prompts.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMessageBox>

namespace bichrom {

QString DialogPrompts::askOpenFile(const QString &folder)
{
    return QFileDialog::getOpenFileName(m_parent, tr("Open artwork or job"), folder,
                                        tr("Artwork and jobs (*.pdf *.bichrom);;All files (*)"));
}

QString DialogPrompts::askSaveFile(const QString &proposal)
{
    QString path =
        QFileDialog::getSaveFileName(m_parent, tr("Save job"), proposal, tr("Bichrom jobs (*.bichrom)"));
    if (!path.isEmpty() && QFileInfo(path).suffix() != QStringLiteral("bichrom")) {
        path += QStringLiteral(".bichrom");
    }
    return path;
}

QString DialogPrompts::askFolder(const QString &folder)
{
    return QFileDialog::getExistingDirectory(m_parent, tr("Folder for the films"), folder);
}

std::optional<QString> DialogPrompts::askPassword(const QString &file, const QString &reason)
{
    bool accepted = false;
    const QString password = QInputDialog::getText(
        m_parent, tr("Password"), reason + QLatin1Char('\n') + file, QLineEdit::Password, {}, &accepted);
    return accepted ? std::optional(password) : std::nullopt;
}

UnsavedChoice DialogPrompts::askUnsaved(const QString &name)
{
    QMessageBox box(QMessageBox::NoIcon, tr("Unsaved work"),
                    tr("“%1” has changes that are not saved yet.").arg(name), QMessageBox::NoButton,
                    m_parent);
    QPushButton *save = box.addButton(tr("Save job"), QMessageBox::AcceptRole);
    QPushButton *discard = box.addButton(tr("Drop the changes"), QMessageBox::DestructiveRole);
    box.addButton(tr("Keep working"), QMessageBox::RejectRole);
    box.exec();
    return box.clickedButton() == save      ? UnsavedChoice::Save
           : box.clickedButton() == discard ? UnsavedChoice::Discard
                                            : UnsavedChoice::Stay;
}

void DialogPrompts::showError(const QString &title, const QString &text)
{
    QMessageBox box(QMessageBox::NoIcon, title, text, QMessageBox::Ok, m_parent);
    box.exec();
}

} // namespace bichrom
