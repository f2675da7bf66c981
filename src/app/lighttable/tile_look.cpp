#include "app/lighttable/tile_look.h"

namespace bichrom {

QImage TileLook::compose(const PlateTile &planes) const
{
    QImage picture(planes.rect.width, planes.rect.height, QImage::Format_RGB32);
    const std::span<std::uint32_t> pixels(reinterpret_cast<std::uint32_t *>(picture.bits()),
                                          static_cast<std::size_t>(planes.rect.width) *
                                              static_cast<std::size_t>(planes.rect.height));
    if (const auto *print = std::get_if<PrintLook>(&m_what)) {
        print->compose(planes, pixels);
    } else if (const auto *film = std::get_if<FilmLook>(&m_what)) {
        compose_film(planes.plates[film->plate], pixels);
    } else {
        compose_plates(planes, std::get<InkLook>(m_what), Rgb8{255, 255, 255}, pixels);
    }
    return picture;
}

} // namespace bichrom
