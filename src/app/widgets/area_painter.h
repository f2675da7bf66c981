/// \file
/// Folds, glue, what stays free and the platen, drawn over the page: told by their pattern.
/// Layer: app/widgets.
#pragma once

#include "core/job/named_area.h"

#include <QRectF>

#include <functional>
#include <vector>

class QPainter;

namespace bichrom {

/// \param place  widget pixels of an area's rectangle
void paint_areas(QPainter &painter, const std::vector<NamedArea> &areas, int page,
                 const std::function<QRectF(const Rect &area)> &place);

/// What the artist calls them: "fold", "glue", "keep out", "platen".
[[nodiscard]] QString area_words(AreaKind kind);

} // namespace bichrom
