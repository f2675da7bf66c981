#include "app/lighttable/tile_source.h"

#include "core/proof/dots_look.h"

#include <cstring>

namespace bichrom {

std::shared_ptr<const TileSource> TileSource::make(std::shared_ptr<const PlateRenderer> renderer,
                                                   std::shared_ptr<const OriginalView> original,
                                                   const Job &job)
{
    auto source = std::make_shared<TileSource>();
    source->renderer = std::move(renderer);
    source->original = std::move(original);
    source->film = job.film.resolution;
    for (const std::string &ink : source->renderer->inks()) {
        const int plate = job.find_plate(ink);
        auto screen = Halftone::make(
            plate < 0 ? Screen{} : job.plates[static_cast<std::size_t>(plate)].screen, job.film.resolution);
        if (!screen) {
            source->screens.clear();
            break;
        }
        source->screens.push_back(std::move(*screen));
    }
    return source;
}

Outcome<Tile> TileSource::render(TileKind kind, PixelRect rect, Dpi resolution) const
{
    Tile tile;
    if (kind == TileKind::Original) {
        const auto pixels = original->render(rect, resolution);
        if (!pixels) {
            return pixels.error();
        }
        tile.picture = QImage(rect.width, rect.height, QImage::Format_RGB32);
        for (int y = 0; y < rect.height; ++y) {
            std::memcpy(tile.picture.scanLine(y),
                        pixels->data() + static_cast<std::size_t>(y) * static_cast<std::size_t>(rect.width),
                        static_cast<std::size_t>(rect.width) * 4);
        }
        return tile;
    }
    auto planes = kind == TileKind::Dots ? render_dots(*renderer, screens, rect, resolution, film)
                                         : renderer->render(rect, resolution);
    if (!planes) {
        return planes.error();
    }
    tile.planes = std::move(*planes);
    return tile;
}

} // namespace bichrom
