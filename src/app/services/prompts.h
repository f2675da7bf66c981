/// \file
/// Questions to the artist that need an answer before going on.
/// Layer: app/services.
#pragma once

#include <QColor>
#include <QString>
#include <QStringList>

#include <optional>

namespace bichrom {

/// What to do with unsaved work.
enum class UnsavedChoice
{
    Save,
    Discard,
    Stay
};

/// What to do with work that a crash left behind.
enum class LeftoverChoice
{
    Open,
    Drop,
    Later
};

/// What a file is opened or saved for.
enum class FileUse
{
    ArtworkOrJob,
    Artwork, ///< a customer's file, no job
    Job,
    Profile,
    Rules,
    InkBook, ///< CxF3, or CGATS text when the name ends with .txt
    ReportPdf,
    ReportJson,
    ChangeSlip,
    PlatePdf,   ///< every ink a named plate
    Proof,      ///< PDF, HTML or PNG by the name's ending
    Ticket,     ///< PDF or JSON
    PressCurve, ///< what was measured of a press: pairs of percent, or a CGATS table
    ScreenTile  ///< a picture of thresholds
};

/// Dialogs behind an interface, so that tests can answer.
class Prompts
{
public:
    virtual ~Prompts() = default;
    virtual QString askOpenFile(FileUse use, const QString &folder) = 0; ///< empty when dismissed
    /// Several at once; none when dismissed.
    virtual QStringList askOpenFiles(FileUse use, const QString &folder) = 0;
    virtual QString askSaveFile(FileUse use, const QString &proposal) = 0;
    virtual QString askFolder(const QString &folder) = 0;
    virtual std::optional<QString> askPassword(const QString &file, const QString &reason) = 0;
    virtual std::optional<QColor> askColour(const QString &title, const QColor &proposal) = 0;
    virtual UnsavedChoice askUnsaved(const QString &name) = 0;
    /// \param when  in words
    virtual LeftoverChoice askLeftover(const QString &name, const QString &when) = 0;
    /// Whether to go on with a file that takes more work than usual, or to stop.
    virtual bool askPatience(const QString &file, const QString &reason) = 0;
    virtual void showError(const QString &title, const QString &text) = 0;
};

} // namespace bichrom
