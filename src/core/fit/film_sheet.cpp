#include "core/fit/film_sheet.h"

#include "core/fit/film_text.h"
#include "core/raster/bitmap_ops.h"
#include "core/raster/shape_list.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <span>

namespace bichrom {

namespace {

constexpr int largest_side = 131072;
constexpr double gap_mm = 3.0;          ///< between art and marks
constexpr double registration_mm = 8.0; ///< size of a registration mark
constexpr double rim_mm = 1.0;          ///< bare film outside the marks
constexpr double hairline_pt = 1.0;     ///< common practice, no source
constexpr double crop_mm = 6.0;
constexpr double patch_mm = 5.0;
constexpr double label_pt = 9.0;

int floor_64(int x)
{
    return x >= 0 ? x / 64 * 64 : -((-x + 63) / 64 * 64);
}

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

struct Scale
{
    double dpi;
    [[nodiscard]] int mm(double length) const
    {
        return std::max(1, static_cast<int>(std::lround(length * dpi / millimetres_per_inch)));
    }
    [[nodiscard]] int hairline() const
    {
        return std::max(1, static_cast<int>(std::lround(hairline_pt * dpi / points_per_inch)));
    }
};

MarkTile registration_mark(PixelRect area, int line)
{
    TilePainter paint(area);
    const int middle_x = area.x + (area.width - line) / 2;
    const int middle_y = area.y + (area.height - line) / 2;
    paint.box({middle_x, area.y, line, area.height});
    paint.box({area.x, middle_y, area.width, line});
    // A ring of the line's width.
    const double outer = area.width * 0.34;
    const PixelPoint centre = {middle_x + line / 2.0 - paint.origin().x,
                               middle_y + line / 2.0 - paint.origin().y};
    ShapeList shapes = paint.empty_list();
    shapes.begin(true, true);
    for (const double r : {outer, outer - line}) {
        const double k =
            0.5522847498 * r; // a quarter of a circle as a Bézier curve, right to 0.03 % of its radius
        shapes.move_to({centre.x + r, centre.y});
        shapes.curve_to({centre.x + r, centre.y + k}, {centre.x + k, centre.y + r}, {centre.x, centre.y + r});
        shapes.curve_to({centre.x - k, centre.y + r}, {centre.x - r, centre.y + k}, {centre.x - r, centre.y});
        shapes.curve_to({centre.x - r, centre.y - k}, {centre.x - k, centre.y - r}, {centre.x, centre.y - r});
        shapes.curve_to({centre.x + k, centre.y - r}, {centre.x + r, centre.y - k}, {centre.x + r, centre.y});
        shapes.close();
    }
    if (const int ring = shapes.end(); ring >= 0) {
        paint.shape(shapes, ring);
    }
    return paint.take();
}

/// Splits \p label at blanks into lines no wider than \p room pixels.
std::vector<std::string> break_lines(const FilmText &text, const std::string &label, double size, int room)
{
    std::vector<std::string> lines;
    std::string line;
    std::size_t at = 0;
    while (at < label.size()) {
        std::size_t end = label.find(' ', at);
        end = end == std::string::npos ? label.size() : end;
        const std::string word = label.substr(at, end - at);
        const std::string longer = line.empty() ? word : line + " " + word;
        if (!line.empty() && text.width(longer, size) > room) {
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

void add_registration(FilmSheet &sheet, const Scale &scale)
{
    const int size = scale.mm(registration_mm);
    const int gap = scale.mm(gap_mm);
    const PixelRect &art = sheet.art;
    const int mid_x = art.x + (art.width - size) / 2;
    const int mid_y = art.y + (art.height - size) / 2;
    sheet.registration = {{mid_x, art.y - gap - size, size, size},
                          {mid_x, art.y + art.height + gap, size, size},
                          {art.x - gap - size, mid_y, size, size},
                          {art.x + art.width + gap, mid_y, size, size}};
    for (const PixelRect &area : sheet.registration) {
        sheet.common.push_back(registration_mark(area, scale.hairline()));
    }
}

void add_crop_marks(FilmSheet &sheet, const Scale &scale, const Rect &trim)
{
    const int line = scale.hairline();
    const int length = scale.mm(crop_mm);
    const int gap = scale.mm(gap_mm);
    const PixelRect &art = sheet.art;
    const auto px = [&](double mm) {
        return static_cast<int>(std::lround(mm * scale.dpi / millimetres_per_inch));
    };
    const int left = art.x + px(trim.x);
    const int right = art.x + px(trim.x + trim.width);
    const int top = art.y + px(trim.y);
    const int bottom = art.y + px(trim.y + trim.height);
    // The mark's inner edge is the trim edge; lines stand outside the art.
    const std::vector<PixelRect> lines = {
        {left - line, art.y - gap - length, line, length},
        {right, art.y - gap - length, line, length},
        {left - line, art.y + art.height + gap, line, length},
        {right, art.y + art.height + gap, line, length},
        {art.x - gap - length, top - line, length, line},
        {art.x - gap - length, bottom, length, line},
        {art.x + art.width + gap, top - line, length, line},
        {art.x + art.width + gap, bottom, length, line},
    };
    for (const PixelRect &r : lines) {
        TilePainter paint(r);
        paint.box(r);
        sheet.common.push_back(paint.take());
    }
}

/// The first white that is printed before a colour; −1 when there is none.
int base_of(const Job &job)
{
    int base = -1;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const InkUse kind = job.plates[i].kind;
        if (base < 0 && kind == InkUse::White) {
            base = static_cast<int>(i);
        } else if (base >= 0 &&
                   (kind == InkUse::Spot || kind == InkUse::Process || kind == InkUse::Metallic)) {
            return base;
        }
    }
    return -1;
}

/// Beside the registration mark at the foot: to its right on bare stock, to its left on the base.
void add_wedge(FilmSheet &sheet, const Scale &scale, int base)
{
    // The smallest that may hold, even steps, and those that may fill in.
    static constexpr double all[] = {1, 2, 3, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 95, 98, 100};
    static constexpr double few[] = {2, 5, 20, 40, 60, 80, 95, 100};
    static constexpr double least[] = {5, 25, 50, 75, 100};
    const int patch = scale.mm(patch_mm);
    const int gap = scale.mm(gap_mm);
    const PixelRect &mark = sheet.registration[1];
    const auto lay = [&](int from, int room, bool on_base) {
        std::span<const double> steps;
        for (const std::span<const double> some :
             {std::span<const double>(least), std::span<const double>(few), std::span<const double>(all)}) {
            steps = room >= static_cast<int>(some.size()) * patch ? some : steps;
        }
        for (std::size_t i = 0; i < steps.size(); ++i) {
            sheet.wedge.push_back({{from + static_cast<int>(i) * patch, mark.y, patch, patch},
                                   static_cast<std::uint8_t>(std::lround(steps[i] / 100 * 255)),
                                   on_base});
        }
        return !steps.empty();
    };
    const int right = mark.x + mark.width + gap;
    (void)lay(right, sheet.art.x + sheet.art.width - gap - right, false);
    const int left = sheet.art.x + gap;
    if (base >= 0 && lay(left, mark.x - gap - left, true)) {
        sheet.base = base;
    }
}

} // namespace

std::string film_label(const Job &job, std::size_t index, const LabelText &text)
{
    const Plate &plate = job.plates[index];
    const Screen &screen = plate.screen;
    std::string label =
        job.name + (text.page ? " · page " + std::to_string(job.page) : "") + " · " + plate.ink +
        " · plate " + std::to_string(index + 1) + " of " + std::to_string(job.plates.size()) + " · " +
        format_number(screen.ruling.value, 2) + " lpi " + format_number(screen.angle.value, 2) + "° " +
        to_string(screen.dot) +
        (plate.printing.mesh > 0 ? " · mesh " + format_number(plate.printing.mesh, 0) + "/cm" : "") +
        (plate.printing.hits > 1 ? " · " + std::to_string(plate.printing.hits) + " hits" : "") +
        (plate.printing.wet ? " · wet on wet" : "") + (plate.printing.flash ? " · flash" : "") + " · " +
        format_number(job.film.resolution.value, 1) + " dpi" +
        (job.film.mirror ? " · wrong-reading" : " · right-reading") +
        (job.film.negative ? " · negative" : "");
    return text.date.empty() ? label : label + " · " + text.date;
}

Outcome<FilmSheet> lay_out_film(const Job &job, int art_width, int art_height, const Rect &trim,
                                const LabelText &text)
{
    FilmSheet sheet;
    sheet.resolution = job.film.resolution;
    sheet.plate.resize(job.plates.size());
    const Scale scale{job.film.resolution.value};
    const auto too_large = [&]() -> Error {
        const double largest_mm = largest_side * millimetres_per_inch / scale.dpi;
        return {ErrorCode::TooLarge,
                "The film would be " +
                    format_length(sheet.to_length(sheet.width), LengthUnit::Millimetre, 0) + " × " +
                    format_length(sheet.to_length(sheet.height), LengthUnit::Millimetre, 0) + "; at " +
                    format_number(scale.dpi, 0) + " dpi the longest side is " + format_number(largest_mm, 0) +
                    " mm.",
                {},
                "Lower the resolution or choose a smaller page box."};
    };
    sheet.width = art_width;
    sheet.height = art_height;
    if (art_width > largest_side || art_height > largest_side) {
        return too_large();
    }
    if (!job.film.marks) {
        sheet.art = {0, 0, art_width, art_height};
        return sheet;
    }
    const int margin = scale.mm(gap_mm + registration_mm + rim_mm);
    // Whole words of pixels, and whole strips of the plate line, begin at the art.
    const int corner = (margin + 63) / 64 * 64;
    sheet.art = {corner, corner, art_width, art_height};
    sheet.width = sheet.art.x + art_width + margin;

    auto words = FilmText::make();
    if (!words) {
        return words.error();
    }
    const double em = label_pt * scale.dpi / points_per_inch;
    const int line_height = static_cast<int>(std::ceil(em * 1.25));
    const int label_x = floor_64(scale.mm(rim_mm) + 63);
    const int label_room = sheet.width - label_x - scale.mm(rim_mm);
    std::vector<std::vector<std::string>> labels;
    std::size_t most_lines = 0;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        labels.push_back(break_lines(*words, film_label(job, i, text), em, label_room));
        most_lines = std::max(most_lines, labels.back().size());
    }
    const int label_y = sheet.art.y + art_height + margin;
    sheet.height = label_y + static_cast<int>(most_lines) * line_height + scale.mm(rim_mm);
    if (sheet.width > largest_side || sheet.height > largest_side) {
        return too_large();
    }
    add_registration(sheet, scale);
    add_crop_marks(sheet, scale, trim);
    add_wedge(sheet, scale, base_of(job));
    for (std::size_t i = 0; i < labels.size(); ++i) {
        int y = label_y;
        for (const std::string &line : labels[i]) {
            const int width =
                std::min(static_cast<int>(std::ceil(words->width(line, em))) + 2, sheet.width - label_x);
            TilePainter paint({label_x, y, width, line_height});
            ShapeList letters = paint.empty_list();
            letters.begin(false, true);
            if (const Done done = words->add(line, em, label_x + 1 - paint.origin().x, em * 0.95, letters);
                !done) {
                return done.error();
            }
            if (const int shape = letters.end(); shape >= 0) {
                paint.shape(letters, shape);
            }
            sheet.plate[i].push_back(paint.take());
            y += line_height;
        }
    }
    return sheet;
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
