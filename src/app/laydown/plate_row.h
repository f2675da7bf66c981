/// \file
/// One plate of the lay-down.
/// Layer: app/laydown.
#pragma once

#include "core/job/job.h"

#include <QWidget>

class QAbstractButton;

namespace bichrom {

class PlateRow : public QWidget
{
    Q_OBJECT

public:
    PlateRow(Plate plate, QWidget *parent = nullptr);

    [[nodiscard]] QString ink() const;
    void setPlate(const Plate &plate);
    /// \param share 0 to 1, negative while unknown
    void setCoverage(double share, double square_cm);
    void setShown(bool shown, bool alone);
    void setActive(bool active);

    QSize sizeHint() const override { return {220, 56}; }

Q_SIGNALS:
    void showToggled(const QString &ink, bool shown);
    void aloneToggled(const QString &ink);
    void chosen(const QString &ink);
    void moved(const QString &ink, int steps); ///< up the pile is positive

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;

private:
    void describe();
    Plate m_plate;
    double m_coverage = -1;
    double m_square_cm = 0;
    bool m_shown = true;
    bool m_alone = false;
    bool m_active = false;
    QAbstractButton *m_show;
    QAbstractButton *m_aloneButton;
};

} // namespace bichrom
