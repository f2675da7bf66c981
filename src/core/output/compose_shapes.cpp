#include "core/output/compose_shapes.h"

#include "core/page/vector_page.h"
#include "core/raster/trace.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>

namespace bichrom {

namespace {

constexpr double finest_trace = 600, finest_picture = 300; // dpi
constexpr double most_pixels = 60e6;
constexpr int rows_at_once = 1024;

/// One plate of the whole page.
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

Polygons rectangle(const Rect &mm, double narrower)
{
    const double scale = points_per_inch / millimetres_per_inch;
    const double left = (mm.x + narrower) * scale, top = (mm.y + narrower) * scale;
    const double right = (mm.x + mm.width - narrower) * scale, bottom = (mm.y + mm.height - narrower) * scale;
    return right > left && bottom > top
               ? Polygons{{{left, top}, {right, top}, {right, bottom}, {left, bottom}}}
               : Polygons();
}

/// A recipe followed on exact shapes; none where a step or source has tones or is known as pixels only.
Outcome<std::optional<Polygons>> exact_shapes(const PlateLine &plate_line, const Recipe &recipe,
                                              const JobControl &control)
{
    const auto none = [] { return std::optional<Polygons>(); };
    const double points = points_per_inch / millimetres_per_inch; // of a millimetre
    std::optional<Polygons> area;                                 // of the artwork, once it is needed
    Polygons shapes;
    for (const RecipeStep &step : recipe) {
        const RecipeSource &from = step.source;
        Polygons source;
        if (has_source(step.does)) {
            const double narrower = step.does != RecipeDo::KeepAway ? step.distance
                                    : from.from == RecipeFrom::Box  ? step.distance
                                                                    : -step.distance;
            if (from.from == RecipeFrom::Area && from.inks.empty()) {
                if (!area) {
                    auto found = plate_line.area_shapes(control);
                    if (!found) {
                        return found.error();
                    }
                    if (!*found) {
                        return none();
                    }
                    area = std::move(**found);
                }
                source = offset(*area, -narrower * points);
            } else if (from.from == RecipeFrom::Box && from.fade == Fade()) {
                source = rectangle(plate_line.box(from.box), narrower);
            } else if (from.from == RecipeFrom::Drawn && from.fade == Fade()) {
                const Rect media = plate_line.box(PageBox::Media);
                for (const Rect &one : from.areas) {
                    source =
                        united(source, rectangle({one.x + media.x, one.y + media.y, one.width, one.height},
                                                 narrower));
                }
            } else {
                return none();
            }
        }
        const double distance = step.distance * points;
        switch (step.does) {
        case RecipeDo::Add:
        case RecipeDo::TakeAway:
            if (step.amount < 1) {
                return none();
            }
            shapes = step.does == RecipeDo::Add ? united(shapes, source) : subtracted(shapes, source);
            break;
        case RecipeDo::Keep:
            shapes = intersected(shapes, source);
            break;
        case RecipeDo::KeepAway:
            shapes = from.from == RecipeFrom::Box ? intersected(shapes, source) : subtracted(shapes, source);
            break;
        case RecipeDo::Choke:
        case RecipeDo::Spread:
            if (step.tonal) {
                return none();
            }
            shapes = offset(shapes, step.does == RecipeDo::Choke ? -distance : distance);
            break;
        case RecipeDo::RemoveThin:
            shapes = offset(offset(shapes, -distance / 2), distance / 2);
            break;
        case RecipeDo::FillHoles:
            shapes = offset(offset(shapes, distance / 2), -distance / 2);
            break;
        default:
            return none();
        }
    }
    // What lies beside the page is never printed.
    return std::optional<Polygons>(
        intersected(shapes, rectangle({0, 0, to_millimetres(plate_line.page().width()).value,
                                       to_millimetres(plate_line.page().height()).value},
                                      0)));
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

void put(std::string &out, double value)
{
    out += format_number(value, 4) + " ";
}

void put_outlines(std::string &out, const std::vector<Outline> &outlines, double scale, double x, double y)
{
    for (const Outline &outline : outlines) {
        put(out, (outline.x + x) * scale);
        put(out, (outline.y + y) * scale);
        out += "m\n";
        for (const OutlinePiece &piece : outline.pieces) {
            if (piece.x1 == piece.x && piece.y1 == piece.y && piece.x2 == piece.x && piece.y2 == piece.y) {
                put(out, (piece.x + x) * scale);
                put(out, (piece.y + y) * scale);
                out += "l\n";
                continue;
            }
            for (const auto &[px, py] : {std::pair(piece.x1, piece.y1), std::pair(piece.x2, piece.y2),
                                         std::pair(piece.x, piece.y)}) {
                put(out, (px + x) * scale);
                put(out, (py + y) * scale);
            }
            out += "c\n";
        }
        out += "h\n";
    }
}

std::string overprinting(VectorPage &page)
{
    VectorState overprint;
    overprint.entries = "/OP true /op true /OPM 0 ";
    page.states.push_back(overprint);
    return "/G" + std::to_string(page.states.size() - 1) + " gs ";
}

std::string space_of(VectorPage &page, int number)
{
    page.spaces.push_back({number});
    return "/C" + std::to_string(page.spaces.size() - 1);
}

Outcome<FoundShapes> find_shapes(const PlateLine &plate_line, int number, const Recipe &recipe,
                                 const JobControl &control)
{
    const auto exact = exact_shapes(plate_line, recipe, control);
    if (!exact) {
        return exact.error();
    }
    FoundShapes found;
    if (*exact) {
        found.tone = (*exact)->empty() ? 0 : 255;
        found.outlines = as_outlines(**exact);
        return found;
    }
    const double square_inches = plate_line.page().width().value * plate_line.page().height().value /
                                 points_per_inch / points_per_inch;
    const Dpi fine(std::min(finest_trace, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    auto plate = whole_plate(plate_line, number, fine, control);
    if (!plate) {
        return plate.error();
    }
    found.resolution = fine;
    found.tone = flat_tone(*plate);
    if (found.tone <= 0) {
        found.pixels = std::move(*plate);
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

Outcome<Composed> add_computed(VectorPage &page, const PlateLine &plate_line, int number,
                               const Recipe &recipe, double stroke_mm, const JobControl &control)
{
    auto found = find_shapes(plate_line, number, recipe, control);
    if (!found) {
        return found.error();
    }
    if (found->tone == 0) {
        return Composed::Nothing;
    }
    const std::string state = overprinting(page);
    const std::string name = space_of(page, number);
    const int space = static_cast<int>(page.spaces.size()) - 1;
    std::string &out = page.content;
    if (found->tone > 0) {
        const bool stroked = stroke_mm > 0; // of the shape whose edge it is
        out += "q " + state + name + (stroked ? " CS " : " cs ");
        put(out, stroked ? 1.0 : found->tone / 255.0);
        out += stroked ? "SCN 1 j " : "scn ";
        if (stroked) {
            put(out, to_points(Millimetres(stroke_mm)).value);
            out += "w\n";
        }
        put_outlines(out, found->outlines, found->scale);
        out += stroked ? "S Q\n" : "f* Q\n";
        return stroked ? Composed::Line : Composed::Shapes;
    }
    const Dpi coarse(std::min(found->resolution.value, finest_picture));
    if (coarse.value < found->resolution.value) {
        auto plate = whole_plate(plate_line, number, coarse, control);
        if (!plate) {
            return plate.error();
        }
        found->pixels = std::move(*plate);
    }
    VectorImage image;
    image.width = found->pixels.width;
    image.height = found->pixels.height;
    image.space = space;
    image.data = std::move(found->pixels.pixels);
    // The last row and column of pixels may reach over the page's edge.
    const double wide = image.width * points_per_inch / coarse.value;
    const double high = image.height * points_per_inch / coarse.value;
    page.images.push_back(std::move(image));
    out += "q " + state;
    put(out, wide);
    out += "0 0 ";
    put(out, -high);
    out += "0 ";
    put(out, high);
    out += "cm /I" + std::to_string(page.images.size() - 1) + " Do Q\n";
    return Composed::Picture;
}

void add_knockout(VectorPage &page, const FoundShapes &shapes, int from)
{
    if (shapes.tone > 0) {
        const std::string state = overprinting(page);
        page.content += "q " + state + space_of(page, from) + " cs 0 scn ";
        put_outlines(page.content, shapes.outlines, shapes.scale);
        page.content += "f* Q\n";
    }
}

} // namespace bichrom
