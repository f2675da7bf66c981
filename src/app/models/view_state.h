/// \file
/// What the light table shows: not part of the job, not undone.
/// Layer: app/models.
#pragma once

#include "app/models/overlay.h"
#include "core/fit/slip_test.h"

#include <QObject>
#include <QRectF>
#include <QSet>
#include <QString>

#include <memory>
#include <vector>

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

    /// What the stage draws over the page; null = nothing.
    [[nodiscard]] const std::shared_ptr<const Overlay> &overlay() const { return m_overlay; }
    void setOverlay(std::shared_ptr<const Overlay> overlay);

    /// Whether folds, glue and the like, and templates, are drawn over the page.
    [[nodiscard]] bool showsAreas() const { return m_areas; }
    void setShowsAreas(bool on);

    /// How plates are shown moved against each other.
    [[nodiscard]] const std::vector<Slip> &slips() const { return m_slips; }
    void setSlips(std::vector<Slip> slips);
    /// The ink of the plate that dragging on the light table moves; empty = the page is moved.
    [[nodiscard]] const QString &sliding() const { return m_sliding; }
    void setSliding(const QString &ink);
    /// What lies on the page and is moved by dragging it, mm of the shown page; null = nothing.
    [[nodiscard]] const QRectF &movable() const { return m_movable; }
    void setMovable(const QRectF &area) { m_movable = area; }

    /// As for a job just opened: all plates shown, none alone, overprint as it prints.
    void reset();

Q_SIGNALS:
    void changed();
    void hoveredChanged();
    void overlayChanged();
    void slipsChanged();
    void slidingChanged();

private:
    Look m_look = Look::Plates;
    bool m_overprint = true;
    bool m_comparesFiles = true;
    bool m_areas = true;
    QSet<QString> m_hidden;
    QString m_alone;
    QString m_hovered;
    std::shared_ptr<const Overlay> m_overlay;
    std::vector<Slip> m_slips;
    QString m_sliding;
    QRectF m_movable;
};

} // namespace bichrom
