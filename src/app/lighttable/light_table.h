/// \file
/// The large view of the artwork.
/// Layer: app/lighttable.
#pragma once

#include "app/lighttable/far_view.h"
#include "app/lighttable/loupe.h"
#include "app/lighttable/print_distance.h"
#include "app/lighttable/template_pictures.h"
#include "app/lighttable/tile_cache.h"
#include "app/lighttable/view_transform.h"
#include "app/models/gesture.h"
#include "app/models/spotlight.h"
#include "app/models/view_state.h"
#include "app/services/session.h"

#include "core/proof/print_look.h"

#include <QElapsedTimer>
#include <QLineF>
#include <QTimer>
#include <QWidget>

#include <optional>

class QAbstractButton;
class QButtonGroup;
class QComboBox;

namespace bichrom {

class ChangeList;
class PlateSheet;

/// What dragging on the light table does.
enum class Hand
{
    Move,    ///< moves the page; a click chooses the object there
    Measure, ///< measures from point to point
    Area,    ///< draws the rectangle that the core sample averages
    Pour     ///< a click sends the colour there to the chosen plate
};

/// Shows a look in tiles made in the background; zooms round the pointer, pans
/// with the mouse or the arrow keys, shows the customer's original while O is held.
class LightTable : public QWidget
{
    Q_OBJECT

public:
    LightTable(Session &session, ViewState &view, Spotlight &spotlight, QWidget *parent = nullptr);

    /// Screen pixels an inch of artwork takes.
    [[nodiscard]] double viewDpi() const { return m_place.dpi(); }
    /// Shows the whole page.
    void fitPage();
    /// Zooms so that an inch takes \p dpi pixels, keeping the page point under \p anchor (widget pixels).
    void zoomTo(double dpi, QPointF anchor);
    /// What was read of the dots under the last click in the look Dots, a plate a line; empty = nothing yet.
    [[nodiscard]] const QStringList &dotsRead() const { return m_loupe.lines(); }
    /// How near the print comes to the artwork; measured in the look Change.
    [[nodiscard]] const PrintDistance &nearness() const { return m_nearness; }
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

    /// Whether the plates of a revised file are compared with those before.
    [[nodiscard]] bool comparesFiles() const;
    /// Shows the next place they changed, or with −1 the one before.
    void stepChange(int by);

    /// Whether the key means something here that it means nowhere else in the window.
    [[nodiscard]] static bool takesKey(int key);

    [[nodiscard]] Hand hand() const { return m_hand; }
    void setHand(Hand hand);

    /// What is said at the foot while pouring.
    void setPourWords(const QString &words);
    /// Draws a thin frame round what lies under the pointer, with its size; an empty \p area takes it away.
    void frame(const QRectF &area);

    /// Says something at the foot of the table for a few seconds.
    void note(const QString &words);
    [[nodiscard]] const QString &said() const { return m_said; } ///< by note(), while it is shown

    /// The two points last measured between, mm; none when nothing is measured.
    [[nodiscard]] const std::optional<QLineF> &measured() const { return m_measured; }
    /// Zooms and moves so that \p area (mm) stands in the middle with room around it.
    void bringIntoView(const QRectF &area);

Q_SIGNALS:
    /// The pointer moved to a page point (mm), or left the page.
    void pointed(std::optional<QPointF> mm);
    void clicked(QPointF mm);                        ///< on the page, with Hand::Move
    void areaDrawn(const QRectF &area, Gesture how); ///< mm, with Hand::Area
    void poured(QPointF mm, Gesture how);            ///< with Hand::Pour
    /// The plate that the view lets slide was dragged by so many mm since the button went down.
    void slid(QPointF mm, bool released);
    void menuWanted(QPointF mm, QPoint global); ///< a click with the right button
    void blinkWanted();                         ///< what reaches no plate shall be shown
    void holdWanted(QPointF mm);                ///< the core sample at this point shall be kept
    void handChanged();

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
    void takePlates();
    void takeView();
    QWidget *buildSwitch(const QString &name, QButtonGroup *group);
    void buildLookSwitch();
    void buildHandSwitch();
    void placeSwitches();
    void drag(QPointF to);
    [[nodiscard]] TileKind shownKind() const;
    [[nodiscard]] QRectF pageRect() const;    ///< widget pixels
    [[nodiscard]] QRect tableRect() const;    ///< without the rulers
    [[nodiscard]] QRectF fittingRoom() const; ///< for a whole page, widget pixels
    void paintPage(QPainter &painter);
    bool paintTiles(QPainter &painter, TileKind kind, const QRectF &part, bool lit,
                    std::vector<TileKey> &wanted);
    void paintFromAfar(QPainter &painter, const QRectF &part, bool &complete, std::vector<TileKey> &wanted);
    void paintWipe(QPainter &painter);
    void paintLoupe(QPainter &painter);
    void paintNearness(QPainter &painter);
    [[nodiscard]] QRectF clearOfSwitches(QRectF box) const;
    void readDots(QPointF mm);
    [[nodiscard]] std::optional<double>
    wipeAt() const; ///< widget pixels from the left; none = nothing is wiped
    [[nodiscard]] bool isOnWipe(QPointF at) const;
    void wipeTo(double x);
    void paintPreview(QPainter &painter);
    void paintFault(QPainter &painter, const QRectF &place, const Tile &tile);
    void paintLit(QPainter &painter, const Tile &tile, const QPointF &corner);
    void paintOverlay(QPainter &painter);
    void paintBoxes(QPainter &painter);
    void paintAreas(QPainter &painter);
    void paintSpotlight(QPainter &painter);
    void paintPins(QPainter &painter);
    void paintFrame(QPainter &painter);
    void paintMeasure(QPainter &painter);
    void paintSize(QPainter &painter, const QString &words, QPointF at);
    void paintNotes(QPainter &painter);
    [[nodiscard]] QStringList faintInks() const;
    [[nodiscard]] TileLook makeLook() const;
    [[nodiscard]] PrintLook makePrintLook() const;
    [[nodiscard]] bool showsStock() const;
    [[nodiscard]] QRectF widgetArea(const QRectF &mm) const;
    void limitOrigin();
    void setPeeking(bool peeking);

    Session &m_session;
    ViewState &m_view;
    Spotlight &m_spotlight;
    TileCache m_tiles;
    ViewTransform m_place;
    bool m_fitted = true;
    bool m_peeking = false;
    std::optional<double> m_wipe; ///< mm of the page; what is left of it is the customer's original
    Loupe m_loupe;
    PrintDistance m_nearness;
    TemplatePictures m_templates;
    FarView m_far;
    double m_metres = 0; ///< that dots are seen from; 0 = each pixel
    bool m_complete = false;
    quint64 m_revision = 1;     ///< of what composed tiles look like
    quint64 m_lookRevision = 0; ///< that the tiles know
    Hand m_hand = Hand::Move;
    QSizeF m_pageSize; ///< points, of the page last shown
    QImage m_preview;  ///< of what is being opened; null otherwise
    QImage m_standIn;  ///< the preview, until the tiles of what was opened have all been there once
    std::optional<QPointF> m_press; ///< where the left button went down
    bool m_wiping = false;          ///< the line between original and print is held
    bool m_slides = false;          ///< what is held moves a plate or a placed file, not the page
    bool m_dragged = false;
    std::optional<QLineF> m_measured;
    std::optional<QRectF> m_area;
    QRectF m_framed;  ///< by frame(), mm
    QImage m_overlay; ///< of the part of the page that was last shown
    std::shared_ptr<const Overlay> m_overlayOf;
    QSizeF m_overlayPage; ///< its size when m_overlay was made
    QRect m_overlayPart;  ///< of it, that m_overlay shows
    QString m_said;       ///< by note()
    QString m_pourWords;
    QTimer m_saying;
    QTimer m_slow;             ///< until it is said that tiles are still being painted
    QElapsedTimer m_unpainted; ///< since visible tiles are missing; invalid while none is
    QTimer m_resting;          ///< of the pointer on a plate of the lay-down
    QString m_lit;             ///< its ink, once it has rested there
    std::optional<QPoint> m_grip;
    std::optional<QPointF> m_pointer;
    LengthUnit m_unit = LengthUnit::Millimetre;
    QWidget *m_lookSwitch = nullptr;
    QButtonGroup *m_lookButtons = nullptr;
    QWidget *m_handSwitch = nullptr;
    QButtonGroup *m_handButtons = nullptr;
    QAbstractButton *m_overprint = nullptr;
    QAbstractButton *m_compare = nullptr;
    QAbstractButton *m_beside = nullptr;
    QAbstractButton *m_sideBySide = nullptr;
    PlateSheet *m_sheet = nullptr;
    QComboBox *m_distance = nullptr;
    ChangeList *m_changes = nullptr;
};

} // namespace bichrom
