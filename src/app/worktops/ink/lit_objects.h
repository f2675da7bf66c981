/// \file
/// Objects of the page lit in the artwork.
/// Layer: app/worktops.
#pragma once

#include "app/models/spotlight.h"
#include "app/services/session.h"

#include <vector>

namespace bichrom {

/// Where objects of the page's scene stand, mm of the shown page.
[[nodiscard]] std::vector<QRectF> places_of(const Session &session, const std::vector<int> &objects);

/// Lights \p objects, counted by \p one ("1 object by this route") or \p several, where %1 is their number;
/// puts the light out when there are none.
void light_objects(const Session &session, Spotlight &spotlight, const std::vector<int> &objects,
                   const QString &one, const QString &several);

} // namespace bichrom
