#include "app/services/dialog_prompts.h"

#include <QColorDialog>
#include <QFileDialog>
#include <QFileInfo>
#include <QInputDialog>
#include <QMessageBox>

namespace bichrom {

namespace {

struct Words
{
    QString open, save, filter, suffix;
};

Words words_of(FileUse use)
{
    using D = DialogPrompts;
    switch (use) {
    case FileUse::ArtworkOrJob:
        return {D::tr("Open artwork or job"),
                {},
                D::tr("Artwork and jobs (*.pdf *.ps *.eps *.svg *.svgz *.tif *.tiff *.png *.jpg *.jpeg "
                      "*.bichrom)"),
                {}};
    case FileUse::Artwork:
        return {D::tr("Open the revised artwork"),
                {},
                D::tr("Artwork (*.pdf *.ps *.eps *.svg *.svgz *.tif *.tiff *.png *.jpg *.jpeg)"),
                {}};
    case FileUse::Job:
        return {{}, D::tr("Save job"), D::tr("Bichrom jobs (*.bichrom)"), QStringLiteral("bichrom")};
    case FileUse::Profile:
        return {D::tr("Open a colour profile"), {}, D::tr("ICC profiles (*.icc *.icm)"), {}};
    case FileUse::Rules:
        return {D::tr("Import shop rules"), D::tr("Export shop rules"), D::tr("Shop rules (*.json)"),
                QStringLiteral("json")};
    case FileUse::InkBook:
        return {D::tr("Import inks"),
                D::tr("Export the ink book"),
                D::tr("Ink books (*.cxf *.xml *.txt *.cgats *.ti3)"),
                {}};
    case FileUse::ReportPdf:
        return {{}, D::tr("Save the report"), D::tr("PDF (*.pdf)"), QStringLiteral("pdf")};
    case FileUse::ReportJson:
        return {{}, D::tr("Save the report"), D::tr("JSON (*.json)"), QStringLiteral("json")};
    case FileUse::PlatePdf:
        return {{}, D::tr("Write the plates as a PDF"), D::tr("PDF (*.pdf)"), QStringLiteral("pdf")};
    case FileUse::Proof:
        return {{}, D::tr("Write the proof"), D::tr("Proofs (*.pdf *.html *.png)"), QStringLiteral("pdf")};
    case FileUse::Ticket:
        return {{}, D::tr("Write the job ticket"), D::tr("Tickets (*.pdf *.json)"), QStringLiteral("pdf")};
    case FileUse::PressCurve:
        return {D::tr("Open a press curve"),
                {},
                D::tr("Measurements (*.txt *.csv *.cgats *.ti3);;All files (*)"),
                {}};
    case FileUse::ScreenTile:
        return {D::tr("Open a tile of thresholds"), {}, D::tr("Grey pictures (*.png *.tif *.tiff)"), {}};
    case FileUse::ChangeSlip:
        return {{}, D::tr("Save the change slip"), D::tr("PDF (*.pdf)"), QStringLiteral("pdf")};
    }
    return {};
}

} // namespace

QString DialogPrompts::askOpenFile(FileUse use, const QString &folder)
{
    const Words words = words_of(use);
    return QFileDialog::getOpenFileName(m_parent, words.open, folder,
                                        words.filter + QStringLiteral(";;") + tr("All files (*)"));
}

QStringList DialogPrompts::askOpenFiles(FileUse use, const QString &folder)
{
    const Words words = words_of(use);
    return QFileDialog::getOpenFileNames(m_parent, tr("Open files"), folder,
                                         words.filter + QStringLiteral(";;") + tr("All files (*)"));
}

QString DialogPrompts::askSaveFile(FileUse use, const QString &proposal)
{
    const Words words = words_of(use);
    QString path = QFileDialog::getSaveFileName(m_parent, words.save, proposal, words.filter);
    if (!path.isEmpty() && !words.suffix.isEmpty() && QFileInfo(path).suffix() != words.suffix) {
        path += QLatin1Char('.') + words.suffix;
    }
    return path;
}

std::optional<QColor> DialogPrompts::askColour(const QString &title, const QColor &proposal)
{
    const QColor colour = QColorDialog::getColor(proposal, m_parent, title);
    return colour.isValid() ? std::optional(colour) : std::nullopt;
}

QString DialogPrompts::askFolder(const QString &folder)
{
    return QFileDialog::getExistingDirectory(m_parent, tr("Folder to write into"), folder);
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

LeftoverChoice DialogPrompts::askLeftover(const QString &name, const QString &when)
{
    QMessageBox box(
        QMessageBox::NoIcon, tr("Unsaved work was kept"),
        tr("Bichrom ended before “%1” was saved. The work was kept as it stood on %2.").arg(name, when),
        QMessageBox::NoButton, m_parent);
    QPushButton *open = box.addButton(tr("Open it"), QMessageBox::AcceptRole);
    QPushButton *drop = box.addButton(tr("Drop it"), QMessageBox::DestructiveRole);
    box.addButton(tr("Ask again later"), QMessageBox::RejectRole);
    box.exec();
    return box.clickedButton() == open   ? LeftoverChoice::Open
           : box.clickedButton() == drop ? LeftoverChoice::Drop
                                         : LeftoverChoice::Later;
}

bool DialogPrompts::askPatience(const QString &file, const QString &reason)
{
    QMessageBox box(
        QMessageBox::NoIcon, tr("This file takes long"),
        tr("“%1”: %2\n\nGoing on may take many minutes; it can be stopped at any time.").arg(file, reason),
        QMessageBox::NoButton, m_parent);
    QPushButton *go_on = box.addButton(tr("Go on"), QMessageBox::AcceptRole);
    box.addButton(tr("Stop"), QMessageBox::RejectRole);
    box.exec();
    return box.clickedButton() == go_on;
}

void DialogPrompts::showError(const QString &title, const QString &text)
{
    QMessageBox box(QMessageBox::NoIcon, title, text, QMessageBox::Ok, m_parent);
    box.exec();
}

} // namespace bichrom
