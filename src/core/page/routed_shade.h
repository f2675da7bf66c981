/// \file
/// Shadings repainted in the colours of a route.
/// Layer: core/page, private to the core.
#pragma once

#include "core/page/routing_device.h"

namespace bichrom {

/// Paints \p shade to \p target with its colours changed by \p route.
///
/// A shading with a one-input function keeps its geometry and gets a new table of 256
/// colours. Meshes with colours at their corners and two-input functions are painted
/// as a picture of 300 ppi, since MuPDF would send them to the process inks.
/// \param area  the clip around it, page space; bounds what a background fills
void paint_routed_shade(fz_context *ctx, fz_device *target, ColourRoute &route, fz_shade *shade,
                        fz_matrix ctm, fz_rect area, float alpha, fz_color_params params);

} // namespace bichrom
