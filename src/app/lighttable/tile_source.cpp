#include "app/lighttable/tile_source.h"

#include "core/base/within_memory.h"
#include "core/proof/change_look.h"
#include "core/proof/dots_look.h"
#include "core/proof/outline_view.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstring>
#include <deque>
#include <mutex>

namespace bichrom {

namespace {

/// Lines in dark grey on paper.
QImage line_picture(const std::vector<std::uint8_t> &lines, const PixelRect &rect)
{
    QImage picture(rect.width, rect.height, QImage::Format_RGB32);
    const auto width = static_cast<std::size_t>(rect.width);
    for (int y = 0; y < rect.height; ++y) {
        auto *out = reinterpret_cast<QRgb *>(picture.scanLine(y));
        const std::uint8_t *line = lines.data() + static_cast<std::size_t>(y) * width;
        for (std::size_t x = 0; x < width; ++x) {
            const int grey = 255 - line[x] * 223 / 255;
            out[x] = qRgb(grey, grey, grey);
        }
    }
    return picture;
}

/// Screens are asked for by every tile: the last ones are kept.
Outcome<Halftone> known_screen(const Screen &screen, const PressCurve &press, Dpi resolution)
{
    struct Known
    {
        Screen screen;
        PressCurve press;
        double dpi;
        Halftone made;
    };
    static std::mutex guard;
    static std::deque<Known> all;
    constexpr std::size_t most = 24; // megabytes each
    const auto find = [&] {
        return std::find_if(all.begin(), all.end(), [&](const Known &one) {
            return one.screen == screen && one.press == press && one.dpi == resolution.value;
        });
    };
    {
        const std::lock_guard lock(guard);
        if (const auto known = find(); known != all.end()) {
            return known->made;
        }
    }
    auto made = Halftone::make(screen, resolution, press);
    const std::lock_guard lock(guard);
    if (made && find() == all.end()) {
        all.push_back({screen, press, resolution.value, *made});
        if (all.size() > most) {
            all.pop_front();
        }
    }
    return made;
}

} // namespace

std::shared_ptr<const TileSource> TileSource::make(const LoadedPage &page, const Job &job,
                                                   std::vector<Slip> slips)
{
    auto source = std::make_shared<TileSource>();
    source->plate_line = page.plate_line;
    source->knocked_out = page.knocked_out;
    source->original = page.original;
    source->previous = page.previous;
    source->previous_plates = page.previous_plates;
    source->revised_plates = page.revised_plates;
    source->condition = page.condition;
    source->job = job;
    source->slips = std::move(slips);
    source->film = job.film.resolution;
    for (const Plate &plate : job.plates) {
        source->screenable = source->screenable && check_screen(plate.screen, job.film.resolution) &&
                             check_press_curve(plate.press);
    }
    return source;
}

Outcome<std::vector<Halftone>> TileSource::screens() const
{
    std::vector<Halftone> made;
    for (const std::string &ink : plate_line->inks()) {
        const int plate = job.find_plate(ink);
        const Plate usual;
        const Plate &one = plate < 0 ? usual : job.plates[static_cast<std::size_t>(plate)];
        auto screen = known_screen(one.screen, one.press, film);
        if (!screen) {
            return screen.error();
        }
        made.push_back(std::move(*screen));
    }
    return made;
}

int TileSource::reading_side() const
{
    constexpr double periods = 12; // read_dots() needs six, and some at its rim count little
    constexpr double least = 128;  // pixels
    double side = least;
    for (const Plate &plate : job.plates) {
        if (has_lattice(plate.screen)) {
            side = std::max(side, periods * film.value / plate.screen.ruling.value);
        }
    }
    return static_cast<int>(std::lround(side));
}

Outcome<std::vector<DotReading>> TileSource::read_films(PixelRect rect, const JobControl &control) const
{
    return within_memory({}, [&]() -> Outcome<std::vector<DotReading>> {
        const auto all = screens();
        const auto films = all ? film_dots(*plate_line, *all, rect, film, control)
                               : Outcome<std::vector<Bitmap>>(all.error());
        if (!films) {
            return films.error();
        }
        std::vector<DotReading> readings;
        for (const Bitmap &dots : *films) {
            readings.push_back(read_dots(dots, film));
        }
        return readings;
    });
}

Outcome<Tile> TileSource::render(TileKind kind, PixelRect rect, Dpi resolution,
                                 const JobControl &control) const
{
    return within_memory({}, [&] { return make_tile(kind, rect, resolution, control); });
}

/// Plates of \p rect; nearer than the film they are the film's pixels, enlarged.
Outcome<PlateTile> TileSource::plates(const PlateLine &from, PixelRect rect, Dpi resolution,
                                      const JobControl &control) const
{
    if (resolution.value <= film.value) {
        return from.render(rect, resolution, Edges::Seen, control);
    }
    const double ratio = film.value / resolution.value;
    const PixelRect page = from.extent(film);
    const auto sources = [ratio](int first, int count, int most) {
        std::vector<int> at;
        for (int i = 0; i < count; ++i) {
            at.push_back(std::clamp(static_cast<int>(std::floor((first + i + 0.5) * ratio)), 0, most - 1));
        }
        return at;
    };
    const std::vector<int> columns = sources(rect.x, rect.width, page.width);
    const std::vector<int> rows = sources(rect.y, rect.height, page.height);
    const PixelRect part = {columns.front(), rows.front(), columns.back() - columns.front() + 1,
                            rows.back() - rows.front() + 1};
    const auto small = from.render(part, film, Edges::Seen, control);
    if (!small) {
        return small.error();
    }
    const auto enlarged = [&](const Plane &plane) {
        Plane large(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            const auto source = plane.row(rows[static_cast<std::size_t>(y)] - part.y);
            const auto row = large.row(y);
            for (std::size_t x = 0; x < row.size(); ++x) {
                row[x] = source[static_cast<std::size_t>(columns[x] - part.x)];
            }
        }
        return large;
    };
    return each_plane(*small, rect, enlarged);
}

/// Plates of \p rect, each from where it lay before it moved.
Outcome<PlateTile> TileSource::slipped(const PlateLine &from, PixelRect rect, Dpi resolution,
                                       const JobControl &control) const
{
    const PixelRect page = from.extent(resolution);
    const double per_mm = resolution.value / millimetres_per_inch;
    std::vector<SlipBack> backs;
    int left = rect.x, top = rect.y, right = rect.x + rect.width, bottom = rect.y + rect.height;
    for (const std::string &ink : from.inks()) {
        const auto slip =
            std::find_if(slips.begin(), slips.end(), [&](const Slip &one) { return one.ink == ink; });
        backs.emplace_back(slip == slips.end() ? Slip() : *slip, page.width, page.height, per_mm);
        for (const int x : {rect.x, rect.x + rect.width}) {
            for (const int y : {rect.y, rect.y + rect.height}) {
                const auto [source_x, source_y] = backs.back().place(x, y);
                left = std::min(left, static_cast<int>(std::floor(source_x)) - 1);
                top = std::min(top, static_cast<int>(std::floor(source_y)) - 1);
                right = std::max(right, static_cast<int>(std::ceil(source_x)) + 1);
                bottom = std::max(bottom, static_cast<int>(std::ceil(source_y)) + 1);
            }
        }
    }
    const PixelRect wide = {left, top, right - left, bottom - top};
    const auto still = plates(from, wide, resolution, control);
    if (!still) {
        return still.error();
    }
    PlateTile made;
    made.rect = rect;
    made.area = Plane(rect.width, rect.height);
    for (std::size_t i = 0; i < still->plates.size(); ++i) {
        Plane plane(rect.width, rect.height);
        for (int y = 0; y < rect.height; ++y) {
            for (int x = 0; x < rect.width; ++x) {
                const auto [source_x, source_y] = backs[i].place(rect.x + x + 0.5, rect.y + y + 0.5);
                plane.row(y)[static_cast<std::size_t>(x)] =
                    still->plates[i].at(static_cast<int>(std::floor(source_x)) - wide.x,
                                        static_cast<int>(std::floor(source_y)) - wide.y);
            }
        }
        made.plates.push_back(std::move(plane));
    }
    for (int y = 0; y < rect.height; ++y) {
        const auto row = part_of_row(*still, still->area, rect, y);
        std::copy(row.begin(), row.end(), made.area.row(y).begin());
    }
    return made;
}

Outcome<Tile> TileSource::make_tile(TileKind kind, PixelRect rect, Dpi resolution,
                                    const JobControl &control) const
{
    Tile tile;
    if (kind == TileKind::Original) {
        const auto pixels = original->render(rect, resolution, Edges::Smooth, control);
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
    if (kind == TileKind::Outline) {
        const auto lines = OutlineView(plate_line->share_page()).render(rect, resolution);
        if (!lines) {
            return lines.error();
        }
        tile.picture = line_picture(*lines, rect);
        return tile;
    }
    if (kind == TileKind::PrintChange || kind == TileKind::FileChange) {
        const auto shown = original->render(rect, resolution, Edges::Smooth, control);
        if (!shown) {
            return shown.error();
        }
        std::vector<std::uint32_t> other(shown->size(), 0xFFFFFFFFu);
        if (kind == TileKind::FileChange && previous != nullptr) {
            const auto before = previous->render(rect, resolution, Edges::Smooth, control);
            if (!before) {
                return before.error();
            }
            other = *before;
        } else if (kind == TileKind::PrintChange) {
            const auto printed = plates(*plate_line, rect, resolution, control);
            if (!printed) {
                return printed.error();
            }
            PrintLook(job, plate_line->inks(), *condition, {0, {}, false}).compose(*printed, other);
        }
        std::vector<std::uint8_t> difference = difference_map(*shown, other);
        if (kind == TileKind::FileChange && previous_plates != nullptr) {
            // Viewers do not show overprint: what prints is compared too, ink by ink.
            const auto now = plates(*revised_plates, rect, resolution, control);
            const auto before = plates(*previous_plates, rect, resolution, control);
            if (!now || !before) {
                return now ? before.error() : now.error();
            }
            const Plane bare(rect.width, rect.height);
            const auto plate_of = [&](const PlateLine &from, const PlateTile &tiles, const std::string &ink) {
                const auto at = std::find(from.inks().begin(), from.inks().end(), ink);
                return at == from.inks().end()
                           ? &bare
                           : &tiles.plates[static_cast<std::size_t>(at - from.inks().begin())];
            };
            std::vector<std::string> inks = revised_plates->inks();
            inks.insert(inks.end(), previous_plates->inks().begin(), previous_plates->inks().end());
            for (const std::string &ink : inks) {
                const Plane &a = *plate_of(*revised_plates, *now, ink);
                const Plane &b = *plate_of(*previous_plates, *before, ink);
                for (std::size_t i = 0; i < difference.size(); ++i) {
                    constexpr int noise = 2; // of antialiased edges
                    const int change = std::abs(int(a.pixels[i]) - int(b.pixels[i]));
                    difference[i] =
                        std::max(difference[i], static_cast<std::uint8_t>(change > noise ? change : 0));
                }
            }
        }
        tile.picture = line_picture(difference, rect);
        return tile;
    }
    const auto dots = [&]() -> Outcome<PlateTile> {
        const auto made = screens();
        return made ? render_dots(*plate_line, *made, rect, resolution, film, control)
                    : Outcome<PlateTile>(made.error());
    };
    auto planes = kind == TileKind::Dots ? dots()
                  : !slips.empty() ? slipped(kind == TileKind::KnockedOut ? *knocked_out : *plate_line, rect,
                                             resolution, control)
                  : kind == TileKind::KnockedOut ? plates(*knocked_out, rect, resolution, control)
                                                 : plates(*plate_line, rect, resolution, control);
    if (!planes) {
        return planes.error();
    }
    tile.planes = std::make_shared<const PlateTile>(std::move(*planes));
    return tile;
}

} // namespace bichrom
