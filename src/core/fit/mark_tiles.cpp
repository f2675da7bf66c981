#include "core/fit/mark_tiles.h"

#include "core/raster/bitmap_ops.h"
#include "core/raster/shape_list.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace bichrom {

namespace {

/// Collects ink in one rectangle of the sheet.
class TilePainter
{
public:
    explicit TilePainter(PixelRect area) : m_origin_x(floor_64(area.x)), m_origin_y(area.y)
    {
        m_bits = Bitmap(area.x + area.width - m_origin_x, area.height);
    }
    void box(PixelRect r)
    {
        for (int y = r.y; y < r.y + r.height; ++y) {
            span(y, r.x, r.x + r.width);
        }
    }
    /// A shape of a list whose pixels are those of the tile.
    void shape(const ShapeList &shapes, int number)
    {
        RowFiller filler;
        filler.fill(shapes, shapes.shape(number), 0, m_bits.height, m_bits.width,
                    [&](int row, std::span<const InkSpan> spans) {
                        for (const InkSpan &one : spans) {
                            set_bits(m_bits.row(row), one.begin, one.end);
                        }
                    });
    }
    /// Where the tile begins on the sheet.
    [[nodiscard]] PixelPoint origin() const
    {
        return {static_cast<double>(m_origin_x), static_cast<double>(m_origin_y)};
    }
    [[nodiscard]] ShapeList empty_list() const { return {m_bits.width, m_bits.height}; }
    [[nodiscard]] MarkTile take() { return {m_origin_x, m_origin_y, std::move(m_bits)}; }

private:
    void span(int y, int begin, int end)
    {
        begin = std::max(begin - m_origin_x, 0);
        end = std::min(end - m_origin_x, m_bits.width);
        if (y >= m_origin_y && y < m_origin_y + m_bits.height && begin < end) {
            set_bits(m_bits.row(y - m_origin_y), begin, end);
        }
    }

    int m_origin_x;
    int m_origin_y;
    Bitmap m_bits;
};

/// A ring of \p line pixels, \p outer from its middle to its edge; a disc when the line is as wide.
void add_ring(TilePainter &paint, PixelPoint middle, double outer, double line)
{
    const PixelPoint centre = {middle.x - paint.origin().x, middle.y - paint.origin().y};
    ShapeList shapes = paint.empty_list();
    shapes.begin(true, true);
    for (const double r : {outer, outer - line}) {
        if (!(r > 0)) {
            continue;
        }
        const double k =
            0.5522847498 * r; // a quarter of a circle as a Bézier curve, right to 0.03 % of its radius
        shapes.move_to({centre.x + r, centre.y});
        shapes.curve_to({centre.x + r, centre.y + k}, {centre.x + k, centre.y + r}, {centre.x, centre.y + r});
        shapes.curve_to({centre.x - k, centre.y + r}, {centre.x - r, centre.y + k}, {centre.x - r, centre.y});
        shapes.curve_to({centre.x - r, centre.y - k}, {centre.x - k, centre.y - r}, {centre.x, centre.y - r});
        shapes.curve_to({centre.x + k, centre.y - r}, {centre.x + r, centre.y - k}, {centre.x + r, centre.y});
        shapes.close();
    }
    if (const int shape = shapes.end(); shape >= 0) {
        paint.shape(shapes, shape);
    }
}

} // namespace

int floor_64(int x)
{
    return x >= 0 ? x / 64 * 64 : -((-x + 63) / 64 * 64);
}

MarkTile solid_mark(PixelRect area)
{
    TilePainter paint(area);
    paint.box(area);
    return paint.take();
}

MarkTile registration_mark(PixelRect area, int line, bool ring)
{
    TilePainter paint(area);
    const int middle_x = area.x + (area.width - line) / 2;
    const int middle_y = area.y + (area.height - line) / 2;
    paint.box({middle_x, area.y, line, area.height});
    paint.box({area.x, middle_y, area.width, line});
    if (ring) {
        add_ring(paint, {middle_x + line / 2.0, middle_y + line / 2.0}, area.width * 0.34, line);
    }
    return paint.take();
}

MarkTile pin_target(PixelRect area, int line)
{
    TilePainter paint(area);
    const PixelPoint centre = {area.x + area.width / 2.0, area.y + area.height / 2.0};
    add_ring(paint, centre, area.width / 2.0, line);
    add_ring(paint, centre, area.width / 12.0, area.width / 12.0);
    return paint.take();
}

Outcome<MarkTile> text_tile(const FilmText &words, const std::string &text, double em, int x, int y, int room,
                            int height)
{
    const int width = std::min(static_cast<int>(std::ceil(words.width(text, em))) + 2, room);
    TilePainter paint({x, y, width, height});
    ShapeList letters = paint.empty_list();
    letters.begin(false, true);
    if (const Done done = words.add(text, em, x + 1 - paint.origin().x, em * 0.95, letters); !done) {
        return done.error();
    }
    if (const int shape = letters.end(); shape >= 0) {
        paint.shape(letters, shape);
    }
    return paint.take();
}

std::vector<std::string> break_lines(const FilmText &words, const std::string &label, double em, int room)
{
    std::vector<std::string> lines;
    std::string line;
    std::size_t at = 0;
    while (at < label.size()) {
        std::size_t end = label.find(' ', at);
        end = end == std::string::npos ? label.size() : end;
        const std::string word = label.substr(at, end - at);
        const std::string longer = line.empty() ? word : line + " " + word;
        if (!line.empty() && words.width(longer, em) > room) {
            lines.push_back(line);
            line = word;
        } else {
            line = longer;
        }
        at = end + 1;
    }
    if (!line.empty()) {
        lines.push_back(line);
    }
    return lines;
}

void lay_tile(const MarkTile &tile, int top, Bitmap &rows)
{
    const int first = std::max(tile.y, top);
    const int last = std::min(tile.y + tile.bits.height, top + rows.height);
    for (int y = first; y < last; ++y) {
        const std::uint8_t *from = tile.bits.row(y - tile.y);
        std::uint8_t *to = rows.row(y - top);
        const int offset = tile.x / 8;
        const int skip = offset < 0 ? -offset : 0;
        const int count =
            std::min(static_cast<int>(tile.bits.stride), static_cast<int>(rows.stride) - offset);
        for (int i = skip; i < count; ++i) {
            to[offset + i] = static_cast<std::uint8_t>(to[offset + i] | from[i]);
        }
    }
}

} // namespace bichrom
