/// \file
/// The read-out of the point under the pointer.
/// Layer: app/bench.
#pragma once

#include "app/lighttable/tile_cache.h"
#include "app/models/view_state.h"
#include "app/services/session.h"

#include <QWidget>

#include <optional>
#include <vector>

namespace bichrom {

/// A column through all plates at one point, first printed at the left. Values are read
/// from plates rendered at 300 dpi, whatever the zoom.
class CoreSampleBar : public QWidget
{
    Q_OBJECT

public:
    CoreSampleBar(Session &session, QWidget *parent = nullptr);

    /// Shows the point (mm from the page's top left), or nothing.
    void setPoint(std::optional<QPointF> mm);
    void setUnit(LengthUnit unit);

    struct Reading
    {
        std::vector<int> tones; ///< 0 to 255, by plate of the job
        bool painted = false;   ///< anything paints here at all
    };
    /// The values shown; none while there is no point or they are still being computed.
    [[nodiscard]] const std::optional<Reading> &reading() const { return m_reading; }

    QSize sizeHint() const override { return {400, 84}; }

protected:
    void paintEvent(QPaintEvent *event) override;

private:
    void read();
    Session &m_session;
    TileCache m_tiles;
    std::optional<QPointF> m_point;
    std::optional<Reading> m_reading;
    LengthUnit m_unit = LengthUnit::Millimetre;
};

} // namespace bichrom
