/// \file
/// A small picture of a film: the art, its copies, marks and label, to scale.
/// Layer: app/worktops/fit.
#pragma once

#include "core/base/outcome.h"
#include "core/fit/film_sheet.h"

#include <QColor>
#include <QLineF>
#include <QRectF>
#include <QWidget>

#include <vector>

namespace bichrom {

class SheetPicture : public QWidget
{
    Q_OBJECT

public:
    explicit SheetPicture(QWidget *parent = nullptr);
    /// Shows \p sheet, or why there is none.
    void show(const Outcome<FilmSheet> &sheet, bool mirrored);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    /// Something drawn, in pixels of the film.
    struct Patch
    {
        QRectF area;
        QColor colour;
    };
    QSizeF m_size; ///< of the film; empty when there is none
    std::vector<Patch> m_patches;
    std::vector<QLineF> m_crosses;
    QString m_fault;
    bool m_mirrored = false;
};

/// "402.3 × 498.1 mm"
[[nodiscard]] QString sheet_size_words(const FilmSheet &sheet);

} // namespace bichrom
