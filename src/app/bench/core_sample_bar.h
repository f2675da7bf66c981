/// \file
/// The read-out of the point under the pointer.
/// Layer: app/bench.
#pragma once

#include "app/lighttable/tile_cache.h"
#include "app/services/session.h"
#include "app/tasks/object_finder.h"
#include "core/proof/core_sample.h"
#include "core/proof/print_estimate.h"

#include <QWidget>

#include <optional>
#include <vector>

class QComboBox;

namespace bichrom {

/// A column through all plates at one place, first printed at the left, and the object that lies on top
/// there. Values are read from plates rendered at 300 dpi, whatever the zoom, and averaged over a square
/// around the pointer, or over a drawn rectangle; under each plate stands the colour of the print so far, at
/// the end the print beside the customer's own colour.
class CoreSampleBar : public QWidget
{
    Q_OBJECT

public:
    CoreSampleBar(Session &session, QWidget *parent = nullptr);

    /// Shows the point (mm from the page's top left), or nothing.
    void setPoint(std::optional<QPointF> mm);
    /// Averages over a rectangle (mm) until the artist goes back to a square; an empty one ends it.
    void setArea(const QRectF &area);
    void setUnit(LengthUnit unit);

    struct Reading
    {
        std::vector<double> tones;  ///< 0 to 1, by plate of the job
        double painted = 0;         ///< share of the place where anything paints, 0 to 1
        long long pixels = 0;       ///< averaged over
        PrintEstimate estimate;     ///< what is printed looks like, plate by plate
        std::optional<Lab> artwork; ///< the customer's colour there; none while it is being looked up
        /// How far the print is from the customer's colour; CIEDE2000.
        [[nodiscard]] std::optional<double> difference() const;
    };
    /// The values shown; none while there is no point or they are still being computed.
    [[nodiscard]] const std::optional<Reading> &reading() const { return m_reading; }
    /// The object on top under the pointer, in words; empty when none lies there or it is being looked for.
    [[nodiscard]] const QString &objectText() const { return m_object; }
    /// Side in pixels of the square averaged over.
    [[nodiscard]] int side() const;

    QSize sizeHint() const override { return {400, 84}; }

Q_SIGNALS:
    /// What paints under the pointer, by index into the page's scene, painted first first; nothing beside it.
    void objectsFound(const std::vector<int> &objects);

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void read();
    void readArea();
    void take(const CoreSample &sample, long long pixels, const std::optional<Lab> &artwork);
    [[nodiscard]] QString placeText() const;
    [[nodiscard]] QString trimText() const;
    void paintPlates(QPainter &painter, const QRect &room) const;
    void paintColours(QPainter &painter, const QRect &room) const;
    void estimate();

    Session &m_session;
    TileCache m_tiles;
    ObjectFinder m_finder;
    QComboBox *m_size;
    std::optional<QPointF> m_point;
    std::optional<QRectF> m_area;
    std::optional<Reading> m_reading;
    QString m_object;
    LengthUnit m_unit = LengthUnit::Millimetre;
    CancelSwitch m_sampling;
    quint64 m_request = 0;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
