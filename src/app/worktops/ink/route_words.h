/// \file
/// Colours and routes in a few words, for lists.
/// Layer: app/worktops.
#pragma once

#include "core/job/route.h"

#include <QString>

namespace bichrom {

/// "C 60 M 50", "Moth Copper", "R 12 G 80 B 200" (0 to 255), "pictures, RGB".
[[nodiscard]] QString short_name(const ColourUse &use);
/// With the number of the placed artwork before it.
[[nodiscard]] QString in_artwork(int artwork, const QString &what);
/// "2 objects".
[[nodiscard]] QString short_source(const Route &route);
/// "2 objects → Moth Copper, own tint".
[[nodiscard]] QString short_route(const Route &route);

} // namespace bichrom
