/// \file
/// What tiles of the light table are made from.
/// Layer: app/lighttable.
#pragma once

#include "core/job/job.h"
#include "core/plates/plate_renderer.h"
#include "core/proof/original_view.h"
#include "core/screen/halftone.h"

#include <QImage>

#include <memory>
#include <vector>

namespace bichrom {

enum class TileKind
{
    Plates,
    Dots,
    Original
};

/// A finished tile: planes of values for plates and dots, a picture for the original.
struct Tile
{
    PlateTile planes;
    QImage picture;               ///< composed on demand for plates and dots
    quint64 picture_revision = 0; ///< what the picture was composed for; 0 = not yet
};

/// Everything needed to make tiles. Immutable; used from several threads.
struct TileSource
{
    std::shared_ptr<const PlateRenderer> renderer;
    std::shared_ptr<const OriginalView> original;
    std::vector<Halftone> screens; ///< by the renderer's inks; empty when they cannot be made
    Dpi film{1200};

    /// Screens follow the job; the renderer's own order of inks is kept.
    [[nodiscard]] static std::shared_ptr<const TileSource> make(std::shared_ptr<const PlateRenderer> renderer,
                                                                std::shared_ptr<const OriginalView> original,
                                                                const Job &job);

    [[nodiscard]] Outcome<Tile> render(TileKind kind, PixelRect rect, Dpi resolution) const;
};

} // namespace bichrom
