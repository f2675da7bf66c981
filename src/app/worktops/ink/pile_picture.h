/// \file
/// The page and what is placed on it, as a small picture to drag in.
/// Layer: app/worktops.
#pragma once

#include <QWidget>

#include <vector>

namespace bichrom {

/// Draws the page with its placed artworks, lowest first, to scale. All areas in mm from the media box's top
/// left, y down.
class PilePicture : public QWidget
{
    Q_OBJECT

public:
    struct Sheet
    {
        int id = 0;
        QRectF area;
    };

    explicit PilePicture(QWidget *parent = nullptr);
    void show(const QRectF &page, const QRectF &trim, std::vector<Sheet> sheets, int chosen);

    /// Where a place of the page is drawn; used by tests, and by the mouse.
    [[nodiscard]] QPointF shownAt(QPointF mm) const;

Q_SIGNALS:
    void chosen(int id);
    void moved(int id, QPointF top_left); ///< mm; once, when the mouse lets go

protected:
    void paintEvent(QPaintEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;

private:
    [[nodiscard]] double scale() const; ///< pixels a mm
    [[nodiscard]] QRectF shown(const QRectF &mm) const;
    [[nodiscard]] QRectF extent() const; ///< mm, of all that is drawn

    QRectF m_page, m_trim;
    std::vector<Sheet> m_sheets;
    int m_chosen = 0;
    bool m_dragging = false;
    QPointF m_grip;  ///< mm, where the chosen sheet was taken
    QPointF m_shift; ///< mm, so far
};

} // namespace bichrom
