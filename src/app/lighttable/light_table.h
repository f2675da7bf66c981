/// \file
/// The large view of the artwork.
/// Layer: app/lighttable.
#pragma once

#include "app/lighttable/tile_cache.h"
#include "app/lighttable/view_transform.h"
#include "app/models/view_state.h"
#include "app/services/session.h"

#include <QWidget>

#include <optional>

class QButtonGroup;

namespace bichrom {

/// Shows plates or dots in tiles made in the background; zooms round the pointer, pans
/// with the mouse or the arrow keys, shows the customer's original while O is held.
class LightTable : public QWidget
{
    Q_OBJECT

public:
    LightTable(Session &session, ViewState &view, QWidget *parent = nullptr);

    /// Screen pixels an inch of artwork takes.
    [[nodiscard]] double viewDpi() const { return m_place.dpi(); }
    /// Shows the whole page.
    void fitPage();
    /// Zooms so that an inch takes \p dpi pixels, keeping the page point under \p anchor (widget pixels).
    void zoomTo(double dpi, QPointF anchor);
    /// Zooms about the middle.
    void zoomBy(double factor);
    /// Centres \p point (mm from the page's top left).
    void centreOn(QPointF point);

    /// Page point in mm under a widget point.
    [[nodiscard]] QPointF pageFromWidget(QPointF point) const;
    [[nodiscard]] QPointF widgetFromPage(QPointF mm) const;

    [[nodiscard]] bool isPeeking() const { return m_peeking; }
    /// Whether every tile now visible has been drawn.
    [[nodiscard]] bool isComplete() const { return m_complete; }
    /// Whether dots were asked for but are too small to draw, so that tones are shown.
    [[nodiscard]] bool showsTonesInstead() const;

    void setUnit(LengthUnit unit);

Q_SIGNALS:
    /// The pointer moved to a page point (mm), or left the page.
    void pointed(std::optional<QPointF> mm);

protected:
    void paintEvent(QPaintEvent *event) override;
    void resizeEvent(QResizeEvent *event) override;
    void wheelEvent(QWheelEvent *event) override;
    void mousePressEvent(QMouseEvent *event) override;
    void mouseMoveEvent(QMouseEvent *event) override;
    void mouseReleaseEvent(QMouseEvent *event) override;
    void leaveEvent(QEvent *event) override;
    void keyPressEvent(QKeyEvent *event) override;
    void keyReleaseEvent(QKeyEvent *event) override;
    void focusOutEvent(QFocusEvent *event) override;

private:
    void takePage();
    void takeJob();
    void buildLookSwitch();
    [[nodiscard]] TileKind shownKind() const;
    [[nodiscard]] QRectF pageRect() const; ///< widget pixels
    [[nodiscard]] QRect tableRect() const; ///< without the rulers
    void paintPage(QPainter &painter);
    void paintBoxes(QPainter &painter);
    void paintNotes(QPainter &painter);
    void compose(Tile &tile);
    void limitOrigin();
    void setPeeking(bool peeking);

    Session &m_session;
    ViewState &m_view;
    TileCache m_tiles;
    ViewTransform m_place;
    bool m_fitted = true;
    bool m_peeking = false;
    bool m_complete = false;
    quint64 m_revision = 1; ///< of what composed tiles look like
    std::optional<QPoint> m_grip;
    std::optional<QPointF> m_pointer;
    LengthUnit m_unit = LengthUnit::Millimetre;
    QWidget *m_lookSwitch = nullptr;
    QButtonGroup *m_lookButtons = nullptr;
};

} // namespace bichrom
