#include "core/proof/dots_look.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

/// Film pixels [first, last) under each view pixel along one axis; at least one.
struct Cover
{
    std::vector<int> first, last;
};

Cover cover(int origin, int count, double ratio)
{
    Cover result;
    for (int i = 0; i < count; ++i) {
        int a = 0;
        int b = 0;
        if (ratio <= 1.0) {
            a = static_cast<int>(std::floor((origin + i + 0.5) * ratio));
            b = a + 1;
        } else {
            a = static_cast<int>(std::floor((origin + i) * ratio));
            b = std::max(a + 1, static_cast<int>(std::floor((origin + i + 1) * ratio)));
        }
        result.first.push_back(a);
        result.last.push_back(b);
    }
    return result;
}

} // namespace

Outcome<std::vector<Bitmap>> film_dots(const PlateLine &plate_line, std::span<const Halftone> screens,
                                       PixelRect rect, Dpi film, const JobControl &control)
{
    int reach = 0;
    for (const Halftone &screen : screens) {
        reach = std::max(reach, screen.reach());
    }
    PixelRect around = rect;
    if (reach > 0) { // of what is printed
        const PixelRect page = plate_line.extent(film);
        const int left = std::min(rect.x, std::max(0, rect.x - reach)),
                  top = std::min(rect.y, std::max(0, rect.y - reach));
        const int right = std::max(rect.x + rect.width, std::min(page.width, rect.x + rect.width + reach));
        const int bottom =
            std::max(rect.y + rect.height, std::min(page.height, rect.y + rect.height + reach));
        around = {left, top, right - left, bottom - top};
    }
    const auto tones = plate_line.render(around, film, Edges::Crisp, control);
    if (!tones) {
        return tones.error();
    }
    std::vector<Bitmap> plates;
    for (std::size_t plate = 0; plate < screens.size(); ++plate) {
        plates.push_back(screens[plate].dots(tones->plates[plate], around, rect));
    }
    return plates;
}

Outcome<PlateTile> render_dots(const PlateLine &plate_line, std::span<const Halftone> screens, PixelRect rect,
                               Dpi view, Dpi film, const JobControl &control)
{
    const double ratio = film.value / view.value;
    if (ratio > most_film_pixels || rect.empty()) {
        return Error{
            ErrorCode::OutOfRange, "The dots are too small to be drawn at this zoom.", {}, "Zoom in."};
    }
    const Cover columns = cover(rect.x, rect.width, ratio);
    const Cover rows = cover(rect.y, rect.height, ratio);
    const PixelRect source = {columns.first.front(), rows.first.front(),
                              columns.last.back() - columns.first.front(),
                              rows.last.back() - rows.first.front()};
    const auto films = film_dots(plate_line, screens, source, film, control);
    if (!films) {
        return films.error();
    }
    PlateTile tile;
    tile.rect = rect;
    tile.area = Plane(rect.width, rect.height);
    std::vector<int> ink(static_cast<std::size_t>(source.width) + 1);
    for (const Bitmap &dots : *films) {
        Plane plane(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            const auto j = static_cast<std::size_t>(y);
            std::vector<int> sums(static_cast<std::size_t>(rect.width), 0);
            for (int row = rows.first[j]; row < rows.last[j]; ++row) {
                for (int x = 0; x < source.width; ++x) {
                    const auto k = static_cast<std::size_t>(x);
                    ink[k + 1] = ink[k] + (dots.at(x, row - source.y) ? 1 : 0);
                }
                for (std::size_t i = 0; i < sums.size(); ++i) {
                    sums[i] += ink[static_cast<std::size_t>(columns.last[i] - source.x)] -
                               ink[static_cast<std::size_t>(columns.first[i] - source.x)];
                }
            }
            for (std::size_t i = 0; i < sums.size(); ++i) {
                const int area = (rows.last[j] - rows.first[j]) * (columns.last[i] - columns.first[i]);
                plane.row(y)[i] = static_cast<std::uint8_t>((sums[i] * 255 + area / 2) / area);
            }
        }
        tile.plates.push_back(std::move(plane));
    }
    return tile;
}

} // namespace bichrom
