/// \file
/// What the light table shows: not part of the job, not undone.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QSet>
#include <QString>

namespace bichrom {

/// The looks of the light table.
enum class Look
{
    Print,   ///< predicted, on the stock
    Plates,  ///< the chosen plates in their ink colours
    Dots,    ///< the film's own pixels
    Outline, ///< every object by its contour
    Change   ///< how far the print, or a revised file, is from what was there before
};

class ViewState : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    [[nodiscard]] Look look() const { return m_look; }
    void setLook(Look look);

    [[nodiscard]] bool isShown(const QString &ink) const;
    void setShown(const QString &ink, bool shown);

    /// Whether the look Print heeds the file's overprint, as the press does.
    [[nodiscard]] bool honoursOverprint() const { return m_overprint; }
    void setHonoursOverprint(bool on);

    /// Whether the look Change compares a revised file with the one before, not the print with the artwork.
    [[nodiscard]] bool comparesFiles() const { return m_comparesFiles; }
    void setComparesFiles(bool on);

    /// The ink shown alone as grey film; empty = none.
    [[nodiscard]] const QString &alone() const { return m_alone; }
    void setAlone(const QString &ink);

    /// The ink that is lit in the artwork while the pointer rests on its plate; empty = none.
    [[nodiscard]] const QString &hovered() const { return m_hovered; }
    void setHovered(const QString &ink);

    /// As for a job just opened: all plates shown, none alone, overprint as it prints.
    void reset();

Q_SIGNALS:
    void changed();
    void hoveredChanged();

private:
    Look m_look = Look::Plates;
    bool m_overprint = true;
    bool m_comparesFiles = true;
    QSet<QString> m_hidden;
    QString m_alone;
    QString m_hovered;
};

} // namespace bichrom
