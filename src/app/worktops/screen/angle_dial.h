/// \file
/// All screen angles on one dial.
/// Layer: app/worktops/screen.
#pragma once

#include "core/job/job.h"

#include <QWidget>

namespace bichrom {

/// A half circle with a ray for each plate. A screen repeats every 90° for round dots and
/// every 180° for others, so every ray stands between 0° and 180°.
class AngleDial : public QWidget
{
    Q_OBJECT

public:
    using QWidget::QWidget;
    void setPlates(const std::vector<Plate> &plates);
    QSize sizeHint() const override { return {264, 132}; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    std::vector<Plate> m_plates;
};

} // namespace bichrom
