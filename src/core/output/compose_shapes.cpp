#include "core/output/compose_shapes.h"

#include "core/raster/trace.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <cstring>
#include <mutex>
#include <optional>

namespace bichrom {

namespace {

constexpr double finest_trace = 600, finest_picture = 300; // dpi
constexpr double most_pixels = 60e6;
constexpr int rows_at_once = 1024;

/// One plate of the whole page.
Outcome<Plane> whole_plate(const PlateRenderer &renderer, int number, Dpi resolution,
                           const JobControl &control)
{
    const PixelRect page = renderer.extent(resolution);
    Plane plate(page.width, page.height);
    const int bands = (page.height + rows_at_once - 1) / rows_at_once;
    std::mutex guard;
    std::optional<Error> fault;
    oneapi::tbb::parallel_for(0, bands, [&](int band) {
        {
            const std::lock_guard lock(guard);
            if (!fault && control.cancelled()) {
                fault = Error{ErrorCode::Cancelled, "Stopped.", renderer.page().place(), {}};
            }
            if (fault) {
                return;
            }
        }
        const int y = band * rows_at_once;
        const auto tile =
            renderer.render({0, y, page.width, std::min(rows_at_once, page.height - y)}, resolution);
        if (!tile) {
            const std::lock_guard lock(guard);
            fault = tile.error();
            return;
        }
        const Plane &part = tile->plates[static_cast<std::size_t>(number)];
        std::copy(part.pixels.begin(), part.pixels.end(), plate.row(y).begin());
    });
    if (fault) {
        return *fault;
    }
    return plate;
}

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

void put(std::string &out, double value)
{
    out += format_number(value, 4) + " ";
}

void put_outlines(std::string &out, const std::vector<Outline> &outlines, double scale)
{
    for (const Outline &outline : outlines) {
        put(out, outline.x * scale);
        put(out, outline.y * scale);
        out += "m\n";
        for (const OutlinePiece &piece : outline.pieces) {
            for (const double value : {piece.x1, piece.y1, piece.x2, piece.y2, piece.x, piece.y}) {
                put(out, value * scale);
            }
            out += "c\n";
        }
        out += "h\n";
    }
}

} // namespace

Outcome<Composed> add_computed(VectorPage &page, const PlateRenderer &renderer, int number, double stroke_mm,
                               const JobControl &control)
{
    const double square_inches = page.width * page.height / points_per_inch / points_per_inch;
    const Dpi fine(std::min(finest_trace, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    auto plate = whole_plate(renderer, number, fine, control);
    if (!plate) {
        return plate.error();
    }
    int tone = flat_tone(*plate);
    if (tone == 0) {
        return Composed::Nothing;
    }
    VectorState overprint;
    overprint.entries = "/OP true /op true /OPM 0 ";
    page.states.push_back(overprint);
    const std::string state = "/G" + std::to_string(page.states.size() - 1) + " gs ";
    page.spaces.push_back({number});
    const int space = static_cast<int>(page.spaces.size()) - 1;
    std::string &out = page.content;
    if (stroke_mm > 0) {
        tone = 255; // of the shape whose edge it is
    }
    if (tone > 0) {
        for (std::uint8_t &value : plate->pixels) {
            value = static_cast<std::uint8_t>(std::min(255, value * 255 / tone));
        }
        const auto outlines = trace_outlines(*plate);
        if (!outlines) {
            return outlines.error();
        }
        const double scale = points_per_inch / fine.value;
        const std::string name = "/C" + std::to_string(space);
        out += "q " + state + name + (stroke_mm > 0 ? " CS " : " cs ");
        put(out, stroke_mm > 0 ? 1.0 : tone / 255.0);
        out += stroke_mm > 0 ? "SCN 1 j " : "scn ";
        if (stroke_mm > 0) {
            put(out, to_points(Millimetres(stroke_mm)).value);
            out += "w\n";
        }
        put_outlines(out, *outlines, scale);
        out += stroke_mm > 0 ? "S Q\n" : "f* Q\n";
        return stroke_mm > 0 ? Composed::Line : Composed::Shapes;
    }
    const Dpi coarse(std::min(fine.value, finest_picture));
    if (coarse.value < fine.value) {
        plate = whole_plate(renderer, number, coarse, control);
        if (!plate) {
            return plate.error();
        }
    }
    VectorImage image;
    image.width = plate->width;
    image.height = plate->height;
    image.space = space;
    image.data = std::move(plate->pixels);
    page.images.push_back(std::move(image));
    // The last row and column of pixels may reach over the page's edge.
    const double wide = image.width * points_per_inch / coarse.value;
    const double high = image.height * points_per_inch / coarse.value;
    out += "q " + state;
    put(out, wide);
    out += "0 0 ";
    put(out, -high);
    out += "0 ";
    put(out, high);
    out += "cm /I" + std::to_string(page.images.size() - 1) + " Do Q\n";
    return Composed::Picture;
}

} // namespace bichrom
