/// \file
/// Rulers along the light table.
/// Layer: app/lighttable.
#pragma once

#include "core/base/units.h"

#include <QRect>

class QPainter;

namespace bichrom {

inline constexpr int ruler_width = 20; ///< logical pixels

/// Draws a ruler. \p origin is where 0 stands, in logical pixels along the ruler;
/// \p pixels_per_mm how long a millimetre is. \p marker is drawn when it lies on the ruler.
void paint_ruler(QPainter &painter, const QRect &area, Qt::Orientation direction, double origin,
                 double pixels_per_mm, LengthUnit unit, double marker);

} // namespace bichrom
