/// \file
/// How far apart the bands of two screens lie, by the angle between them.
/// Layer: app/worktops/screen.
#pragma once

#include "core/screen/moire.h"

#include <QWidget>

#include <optional>

namespace bichrom {

class BeatChart : public QWidget
{
    Q_OBJECT

public:
    explicit BeatChart(QWidget *parent = nullptr);
    /// Shows what turning \p second does to its beat with \p first; nothing without them. \param badness  of
    /// the beat now, as the two inks show it
    void show(const std::optional<Lattice> &first, const std::optional<Lattice> &second, double badness,
              double viewing_mm);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::optional<Lattice> m_first, m_second;
    double m_badness = 0;
    std::vector<double> m_beats; ///< badness by half degree, 0 to 90, of second's angle
};

} // namespace bichrom
