/// \file
/// One plate of the lay-down.
/// Layer: app/laydown.
#pragma once

#include "core/job/job.h"

#include <QColor>
#include <QPoint>
#include <QWidget>

class QAbstractButton;

class QLineEdit;

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
    /// \param worked_on  it is the one that is worked on, of those chosen
    void setActive(bool chosen, bool worked_on);
    /// Why the coverage could not be measured; empty when it was, or is not known yet.
    void setFault(const QString &fault);
    /// What the swatch shows of the ink over white and over the stock, and what lies under this plate while
    /// it is wet; empty when that has dried.
    void setPrint(const QColor &over_white, const QColor &over_stock, const QString &wet_on);

    static constexpr int high = 56;
    QSize sizeHint() const override { return {220, high}; }

Q_SIGNALS:
    void showToggled(const QString &ink, bool shown);
    void aloneToggled(const QString &ink);
    void chosen(const QString &ink, Qt::KeyboardModifiers keys);
    void moved(const QString &ink, int steps);              ///< up the pile is positive
    void dragged(const QString &ink, const QPoint &global); ///< held and moved
    void dropped(const QString &ink, const QPoint &global);
    void hovered(const QString &ink, bool on);
    void renamed(const QString &ink, const QString &name); ///< other than it is, not empty
    void removeWanted(const QString &ink);
    void menuWanted(const QString &ink, const QPoint &global);

public Q_SLOTS:
    void beginRenaming(); ///< in place; Enter takes the new name, Esc leaves the old one

protected:
    void contextMenuEvent(QContextMenuEvent *event) override;
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void mouseDoubleClickEvent(QMouseEvent *event) override;
    void enterEvent(QEnterEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    bool eventFilter(QObject *watched, QEvent *event) override;

private:
    void describe();
    void endRenaming();
    Plate m_plate;
    double m_coverage = -1;
    double m_square_cm = 0;
    bool m_shown = true;
    bool m_alone = false;
    bool m_active = false;   ///< chosen
    bool m_workedOn = false; ///< and not only with another
    bool m_dragging = false;
    QPoint m_pressed;
    QString m_fault, m_tip;
    QColor m_overWhite, m_overStock;
    QString m_wetOn;
    QLineEdit *m_name = nullptr; ///< while it is renamed
    QAbstractButton *m_show;
    QAbstractButton *m_aloneButton;
};

} // namespace bichrom
