/// \file
/// All screen angles on one dial.
/// Layer: app/worktops/screen.
#pragma once

#include "core/job/job.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace bichrom {

/// A half circle with a ray for each plate. A screen repeats every 90° for round dots and
/// every 180° for others, so every ray stands between 0° and 180°.
class AngleDial : public QWidget
{
    Q_OBJECT

public:
    explicit AngleDial(QWidget *parent = nullptr);
    void setPlates(const std::vector<Plate> &plates);
    QSize sizeHint() const override { return {264, 132}; }

Q_SIGNALS:
    /// A hand was dragged: half degrees, held for a moment at multiples of 15° and of 7.5°; with Shift free.
    /// \param drag  another number for each drag
    void turned(int plate, double degrees, int drag);

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;

private:
    [[nodiscard]] QPointF centre() const;
    [[nodiscard]] double radius() const;
    /// Where the hand of a plate points, 0 to 180°; nothing when it has none.
    [[nodiscard]] std::optional<double> handOf(const Plate &plate) const;
    /// The plate whose hand is at a place, or −1.
    [[nodiscard]] int handAt(QPointF at) const;

    std::vector<Plate> m_plates;
    int m_held = -1;
    int m_drag = 0;
};

} // namespace bichrom
