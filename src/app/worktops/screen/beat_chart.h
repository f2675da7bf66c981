/// \file
/// How far apart the bands of two screens lie, by the angle between them.
/// Layer: app/worktops/screen.
#pragma once

#include "core/screen/moire_survey.h"

#include <QWidget>

#include <optional>

namespace bichrom {

class BeatChart : public QWidget
{
    Q_OBJECT

public:
    explicit BeatChart(QWidget *parent = nullptr);
    /// Shows what turning one of \p pair does to its beat.
    void take(const MoirePair &pair, double viewing_mm);
    void clear();

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    double m_angle = 0, m_badness = 0; ///< now
    std::optional<double> m_unseen;    ///< the nearest angle at which it is not seen
    std::vector<double> m_beats;       ///< badness by half degree, 0 to 90°
};

} // namespace bichrom
