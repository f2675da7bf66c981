#include "core/line/plate_shapes.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>

namespace bichrom {

namespace {

constexpr Dpi finest_trace{600};
constexpr double most_pixels = 60e6;
constexpr int rows_at_once = 1024;

/// The one tone that all pixels away from edges have; 0 when nothing prints; −1 when there are several.
int flat_tone(const Plane &plate)
{
    int least = 256;
    int most = 0;
    int darkest = 0;
    for (int y = 0; y < plate.height; ++y) {
        const auto row = plate.row(y);
        const auto above = plate.row(std::max(0, y - 1));
        const auto below = plate.row(std::min(plate.height - 1, y + 1));
        for (std::size_t x = 0; x < row.size(); ++x) {
            const int tone = row[x];
            if (tone == 0) {
                std::uint64_t word = 0; // bare stretches go by eights
                while (x + 1 + sizeof word <= row.size()) {
                    std::memcpy(&word, row.data() + x + 1, sizeof word);
                    if (word != 0) {
                        break;
                    }
                    x += sizeof word;
                }
                continue;
            }
            darkest = std::max(darkest, tone);
            const std::size_t left = x > 0 ? x - 1 : x;
            const std::size_t right = std::min(x + 1, row.size() - 1);
            bool inner = true; // like all its neighbours
            for (const auto &line : {above, row, below}) {
                for (const std::size_t at : {left, x, right}) {
                    inner = inner && std::abs(line[at] - tone) <= 1;
                }
            }
            if (inner) {
                least = std::min(least, tone);
                most = std::max(most, tone);
            }
        }
    }
    if (darkest == 0) {
        return 0;
    }
    if (most == 0) {
        return 255; // nothing but edges: hairlines
    }
    return most - least <= 2 && most >= 3 ? most : -1;
}

std::vector<Outline> as_outlines(const Polygons &shapes)
{
    std::vector<Outline> outlines;
    for (const Polygon &polygon : shapes) {
        Outline outline{polygon.front().x, polygon.front().y, {}};
        for (const PolygonPoint &point : polygon) {
            outline.pieces.push_back({point.x, point.y, point.x, point.y, point.x, point.y});
        }
        outlines.push_back(std::move(outline));
    }
    return outlines;
}

} // namespace

Dpi plate_resolution(const PlateLine &plate_line, Dpi finest)
{
    const double square_inches = plate_line.page().width().value * plate_line.page().height().value /
                                 points_per_inch / points_per_inch;
    return Dpi(std::min(finest.value, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
}

Outcome<Plane> whole_plate(const PlateLine &plate_line, int number, Dpi resolution, const JobControl &control)
{
    const PixelRect page = plate_line.extent(resolution);
    Plane plate(page.width, page.height);
    PlateSink sink;
    sink.compute = [&](const Band &band, const PlateRuns &plates) {
        for (int y = 0; y < band.rows; ++y) {
            plates.plates[static_cast<std::size_t>(number)].write_row(y, plate.row(band.top + y).data());
        }
        return Outcome<std::unique_ptr<BandResult>>(std::make_unique<BandResult>());
    };
    sink.take = [](const Band &, BandResult &) { return Done(); };
    if (const Done done =
            plate_line.run({resolution, Edges::Smooth, 0, page.height, rows_at_once, 0}, sink, control);
        !done) {
        return done.error();
    }
    return plate;
}

Outcome<PlateShapes> plate_shapes(const PlateLine &plate_line, int number, const JobControl &control)
{
    PlateShapes found;
    const auto exact = plate_line.exact_shapes(number, control);
    if (!exact) {
        return exact.error();
    }
    if (*exact) {
        found.tone = (*exact)->empty() ? 0 : 255;
        found.outlines = as_outlines(**exact);
        return found;
    }
    const Dpi fine = plate_resolution(plate_line, finest_trace);
    auto plate = whole_plate(plate_line, number, fine, control);
    if (!plate) {
        return plate.error();
    }
    found.tone = flat_tone(*plate);
    if (found.tone <= 0) {
        return found;
    }
    for (std::uint8_t &value : plate->pixels) {
        value = static_cast<std::uint8_t>(std::min(255, value * 255 / found.tone));
    }
    auto traced = trace_outlines(*plate);
    if (!traced) {
        return traced.error();
    }
    found.outlines = std::move(*traced);
    found.scale = points_per_inch / fine.value;
    return found;
}

} // namespace bichrom
