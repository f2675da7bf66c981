#include "core/output/compose_shapes.h"

#include "core/page/vector_page.h"

namespace bichrom {

namespace {

constexpr Dpi finest_picture{300};

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

Outcome<Composed> add_computed(VectorPage &page, const PlateLine &plate_line, int number, double stroke_mm,
                               const JobControl &control)
{
    const auto found = plate_shapes(plate_line, number, control);
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
    const Dpi resolution = plate_resolution(plate_line, finest_picture);
    auto pixels = whole_plate(plate_line, number, resolution, control);
    if (!pixels) {
        return pixels.error();
    }
    VectorImage image;
    image.width = pixels->width;
    image.height = pixels->height;
    image.space = space;
    image.data = std::move(pixels->pixels);
    // The last row and column of pixels may reach over the page's edge.
    const double wide = image.width * points_per_inch / resolution.value;
    const double high = image.height * points_per_inch / resolution.value;
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

void add_knockout(VectorPage &page, const PlateShapes &shapes, int from)
{
    if (shapes.tone > 0) {
        const std::string state = overprinting(page);
        page.content += "q " + state + space_of(page, from) + " cs 0 scn ";
        put_outlines(page.content, shapes.outlines, shapes.scale);
        page.content += "f* Q\n";
    }
}

} // namespace bichrom
