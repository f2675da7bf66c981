#include "core/fit/film_sheet.h"

#include "core/line/painted_area.h"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <span>

namespace bichrom {

namespace {

constexpr int largest_side = 131072;
constexpr double rim_mm = 1.0; ///< bare film outside the marks
constexpr double crop_mm = 6.0;
constexpr double patch_mm = 5.0;
constexpr double pin_mm = 6.0;
constexpr double label_pt = 9.0;
constexpr double ruler_mm = 100.0;
constexpr double tick_mm = 3.0; ///< of a centimetre; a millimetre has half of it

/// Lays marks onto one sheet.
class Layout
{
public:
    Layout(FilmSheet &sheet, const Job &job, const FilmArt &art)
        : m_sheet(sheet), m_job(job), m_marks(job.film.mark_set), m_one(art), m_dpi(sheet.resolution.value)
    {
    }

    /// Pixels of a length, at least one.
    [[nodiscard]] int mm(double length) const { return std::max(1, place(length)); }
    /// Pixels of a length from a corner.
    [[nodiscard]] int place(double length) const
    {
        return static_cast<int>(std::lround(length * m_dpi / millimetres_per_inch));
    }

    /// Film that marks take beside the art, on all sides.
    [[nodiscard]] int margin() const
    {
        const bool registration = m_marks.registration != RegistrationMark::None;
        const double size =
            std::max({registration ? m_marks.size : 0.0,
                      m_marks.crop || m_marks.bleed || m_marks.centre ? crop_mm : 0.0,
                      m_marks.pinholes ? pin_mm : 0.0, m_marks.wedge || m_marks.patches ? patch_mm : 0.0});
        return mm(size > 0 ? m_marks.distance + size + rim_mm : rim_mm);
    }
    /// Rows of the ruler below that, and columns of the one that stands upright.
    [[nodiscard]] int ruler_rows() const { return m_marks.ruler ? mm(tick_mm + rim_mm) : 0; }
    [[nodiscard]] int ruler_columns() const
    {
        return m_marks.ruler && across() != along() ? mm(tick_mm + rim_mm) : 0;
    }

    void add_registration();
    void add_trim_marks();
    void add_pinholes();
    void add_patches();
    void add_wedge();
    void add_ruler(int top);
    void add_upright_ruler(int left);

private:
    /// What a printed mm is on the film.
    [[nodiscard]] double across() const { return m_job.placements.across * m_job.film.across; }
    [[nodiscard]] double along() const { return m_job.placements.along * m_job.film.along; }
    [[nodiscard]] int line() const
    {
        return std::max(1, static_cast<int>(std::lround(m_marks.line * m_dpi / points_per_inch)));
    }
    [[nodiscard]] int gap() const { return place(m_marks.distance); }
    void solid(const PixelRect &area) { m_sheet.common.push_back(solid_mark(area)); }
    /// Short lines in line with the edges of \p box, mm of each copy, outside all of them.
    void add_corner_lines(const Rect &box);
    /// Where registration marks stand: the middle of the art, or of the trims where that is marked.
    [[nodiscard]] PixelPoint middle() const;
    bool lay_steps(int from, int room, bool on_base);
    /// mm of a ruler in \p room pixels.
    [[nodiscard]] int whole_centimetres(int room, double unit) const
    {
        const double fits = (room - mm(rim_mm)) * millimetres_per_inch / m_dpi / unit;
        return static_cast<int>(std::min(ruler_mm, std::floor(fits / 10) * 10));
    }

    FilmSheet &m_sheet;
    const Job &m_job;
    const MarkSet &m_marks;
    const FilmArt &m_one;
    double m_dpi;
};

PixelPoint Layout::middle() const
{
    const PixelRect &art = m_sheet.art;
    if (!m_marks.centre) {
        return {art.x + art.width / 2.0, art.y + art.height / 2.0};
    }
    const auto between = [&](double first, double last, int pitch, int copies, int from) {
        return from + (place(first) + place(last) + (copies - 1) * pitch) / 2.0;
    };
    return {
        between(m_one.trim.x, m_one.trim.x + m_one.trim.width, m_sheet.column_pitch, m_sheet.columns, art.x),
        between(m_one.trim.y, m_one.trim.y + m_one.trim.height, m_sheet.row_pitch, m_sheet.rows, art.y)};
}

void Layout::add_registration()
{
    const PixelRect &art = m_sheet.art;
    const int size = mm(m_marks.size);
    if (m_marks.registration != RegistrationMark::None) {
        const int x = static_cast<int>(std::floor(middle().x - size / 2.0));
        const int y = static_cast<int>(std::floor(middle().y - size / 2.0));
        const int left = art.x - gap() - size, right = art.x + art.width + gap();
        const int above = art.y - gap() - size, below = art.y + art.height + gap();
        m_sheet.registration = {
            {x, above, size, size}, {x, below, size, size}, {left, y, size, size}, {right, y, size, size}};
        if (m_marks.corners) {
            for (const int corner_y : {above, below}) {
                for (const int corner_x : {left, right}) {
                    m_sheet.registration.push_back({corner_x, corner_y, size, size});
                }
            }
        }
        const bool ring = m_marks.registration == RegistrationMark::CrossInRing;
        for (const PixelRect &area : m_sheet.registration) {
            m_sheet.common.push_back(registration_mark(area, line(), ring));
        }
        return; // a cross is a centre mark too
    }
    if (m_marks.centre) {
        const int x = static_cast<int>(std::floor(middle().x - line() / 2.0));
        const int y = static_cast<int>(std::floor(middle().y - line() / 2.0));
        const int length = mm(crop_mm);
        solid({x, art.y - gap() - length, line(), length});
        solid({x, art.y + art.height + gap(), line(), length});
        solid({art.x - gap() - length, y, length, line()});
        solid({art.x + art.width + gap(), y, length, line()});
    }
}

void Layout::add_corner_lines(const Rect &box)
{
    const int length = mm(crop_mm);
    const PixelRect &art = m_sheet.art;
    // The mark's inner edge is the box's edge.
    for (int column = 0; column < m_sheet.columns; ++column) {
        const int at = art.x + column * m_sheet.column_pitch;
        for (const int x : {at + place(box.x) - line(), at + place(box.x + box.width)}) {
            if (m_one.cut && (x + line() < at || x > at + m_sheet.copy_width)) {
                m_sheet.boxes_beyond = true;
                continue;
            }
            solid({x, art.y - gap() - length, line(), length});
            solid({x, art.y + art.height + gap(), line(), length});
        }
    }
    for (int row = 0; row < m_sheet.rows; ++row) {
        const int at = art.y + row * m_sheet.row_pitch;
        for (const int y : {at + place(box.y) - line(), at + place(box.y + box.height)}) {
            if (m_one.cut && (y + line() < at || y > at + m_sheet.copy_height)) {
                m_sheet.boxes_beyond = true;
                continue;
            }
            solid({art.x - gap() - length, y, length, line()});
            solid({art.x + art.width + gap(), y, length, line()});
        }
    }
}

void Layout::add_trim_marks()
{
    if (m_marks.crop) {
        add_corner_lines(m_one.trim);
    }
    if (m_marks.bleed && !(m_one.bleed == m_one.trim && m_marks.crop)) {
        add_corner_lines(m_one.bleed);
    }
}

/// Left and right, a quarter of the art's height from its head: clear of the registration marks.
void Layout::add_pinholes()
{
    const PixelRect &art = m_sheet.art;
    const int size = mm(pin_mm);
    const int y = art.y + art.height / 4 - size / 2;
    if (m_marks.pinholes && art.height / 4 > mm(m_marks.size) / 2 + size) {
        for (const int x : {art.x - gap() - size, art.x + art.width + gap()}) {
            m_sheet.common.push_back(pin_target({x, y, size, size}, line()));
        }
    }
}

/// Above the art, left of the registration mark: solid, and one half.
void Layout::add_patches()
{
    const int size = mm(patch_mm), clear = mm(crop_mm);
    const PixelRect &art = m_sheet.art;
    const int end = static_cast<int>(middle().x) - mm(m_marks.size) / 2 - clear;
    if (m_marks.patches && end - 2 * size >= art.x + clear) {
        m_sheet.wedge.push_back({{end - 2 * size, art.y - gap() - size, size, size}, 255, false});
        m_sheet.wedge.push_back({{end - size, art.y - gap() - size, size, size}, 128, false});
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

bool Layout::lay_steps(int from, int room, bool on_base)
{
    // The smallest that may hold, even steps, and those that may fill in.
    static constexpr double all[] = {1, 2, 3, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 95, 98, 100};
    static constexpr double few[] = {2, 5, 20, 40, 60, 80, 95, 100};
    static constexpr double least[] = {5, 25, 50, 75, 100};
    const int patch = mm(patch_mm);
    std::span<const double> steps;
    for (const std::span<const double> some :
         {std::span<const double>(least), std::span<const double>(few), std::span<const double>(all)}) {
        steps = room >= static_cast<int>(some.size()) * patch ? some : steps;
    }
    if (const auto &wanted = m_marks.wedge_steps; !wanted.empty()) {
        const int fit = std::clamp(room / patch, 0, static_cast<int>(wanted.size()));
        steps = std::span(wanted).first(static_cast<std::size_t>(fit));
    }
    for (std::size_t i = 0; i < steps.size(); ++i) {
        m_sheet.wedge.push_back(
            {{from + static_cast<int>(i) * patch, m_sheet.art.y + m_sheet.art.height + gap(), patch, patch},
             static_cast<std::uint8_t>(std::lround(steps[i] / 100 * 255)),
             on_base});
    }
    return !steps.empty();
}

/// Beside the registration mark at the foot: to its right on bare stock, to its left on the base.
void Layout::add_wedge()
{
    if (!m_marks.wedge) {
        return;
    }
    const PixelRect &art = m_sheet.art;
    const int mark = mm(m_marks.size), clear = mm(m_marks.distance);
    const int mark_x = static_cast<int>(std::floor(middle().x - mark / 2.0));
    const int right = mark_x + mark + clear;
    (void)lay_steps(right, art.x + art.width - clear - right, false);
    const int left = art.x + clear;
    const int base = base_of(m_job);
    if (base >= 0 && lay_steps(left, mark_x - clear - left, true)) {
        m_sheet.base = base;
    }
}

void Layout::add_ruler(int top)
{
    if (!m_marks.ruler) {
        return;
    }
    // It is stretched as the art is: on what is printed, 100 mm are 100 mm.
    const int left = m_sheet.art.x;
    const int whole = whole_centimetres(m_sheet.width - left, across());
    const int thin = std::max(1, line() / 2);
    for (int tick = 0; tick <= whole && whole > 0; ++tick) {
        const int height = mm(tick % 10 == 0 ? tick_mm : tick_mm / 2);
        solid({left + place(tick * across()), top, thin, height});
    }
    if (whole > 0) {
        solid({left, top, place(whole * across()) + thin, thin});
    }
}

void Layout::add_upright_ruler(int left)
{
    if (ruler_columns() == 0) {
        return;
    }
    const int top = m_sheet.art.y;
    const int whole = whole_centimetres(m_sheet.height - top, along());
    const int thin = std::max(1, line() / 2);
    for (int tick = 0; tick <= whole && whole > 0; ++tick) {
        solid({left, top + place(tick * along()), mm(tick % 10 == 0 ? tick_mm : tick_mm / 2), thin});
    }
    if (whole > 0) {
        solid({left, top, thin, place(whole * along()) + thin});
    }
}

/// Labels of all plates, broken into lines.
struct Labels
{
    double em = 0;
    int x = 0, line_height = 0, most_lines = 0;
    std::vector<std::vector<std::string>> lines; ///< by plate
};

} // namespace

FilmPart whole_part(const PlateLine &plate_line)
{
    return {plate_line.page().width(), plate_line.page().height(), plate_line.box(PageBox::Trim),
            plate_line.box(PageBox::Bleed)};
}

Outcome<Rect> painted_part(const PlateLine &plate_line, const FilmOptions &film, const JobControl &control)
{
    const auto painted = painted_area(plate_line, control, Painted::Plates);
    return painted ? painted_part(whole_part(plate_line), *painted, film) : painted;
}

Rect painted_part(const FilmPart &part, const Rect &painted, const FilmOptions &film)
{
    const double width = to_millimetres(part.width).value, height = to_millimetres(part.height).value;
    if (!(painted.width > 0 && painted.height > 0)) {
        return {0, 0, width, height};
    }
    double left = painted.x, right = painted.x + painted.width;
    double top = painted.y, bottom = painted.y + painted.height;
    if (film.marks && film.mark_set.centre) {
        const double x = part.trim.x + part.trim.width / 2, y = part.trim.y + part.trim.height / 2;
        left = std::min(left, x);
        right = std::max(right, x);
        top = std::min(top, y);
        bottom = std::max(bottom, y);
    }
    const double pixel = millimetres_per_inch / film.resolution.value;
    left = std::clamp(std::floor(left / pixel) * pixel, 0.0, width);
    top = std::clamp(std::floor(top / pixel) * pixel, 0.0, height);
    right = std::clamp(std::ceil(right / pixel) * pixel, left, width);
    bottom = std::clamp(std::ceil(bottom / pixel) * pixel, top, height);
    return {left, top, right - left, bottom - top};
}

FilmPart cut_to(const FilmPart &part, const Rect &rect)
{
    const auto moved = [&](const Rect &box) {
        return Rect{box.x - rect.x, box.y - rect.y, box.width, box.height};
    };
    return {to_points(Millimetres(rect.width)), to_points(Millimetres(rect.height)), moved(part.trim),
            moved(part.bleed), true};
}

FilmArt film_art(const FilmPart &part, const FilmOptions &film)
{
    const auto pixels = [&](Points length, double stretch) {
        return std::max(1, static_cast<int>(std::lround(length.value * stretch * film.resolution.value /
                                                        points_per_inch)));
    };
    const auto stretched = [&](const Rect &rect) {
        return Rect{rect.x * film.across, rect.y * film.along, rect.width * film.across,
                    rect.height * film.along};
    };
    return {pixels(part.width, film.across), pixels(part.height, film.along), stretched(part.trim),
            stretched(part.bleed), part.cut};
}

Outcome<FilmSheet> lay_out_film(const Job &job, const FilmArt &one, const LabelText &text)
{
    const FilmOptions &film = job.film;
    if (const Done good = check_film(film); !good) {
        return good.error();
    }
    FilmSheet sheet;
    sheet.resolution = film.resolution;
    sheet.plate.resize(job.plates.size());
    const double dpi = film.resolution.value;
    Layout layout(sheet, job, one);
    const auto length = [&](double pixels) {
        return format_length(Millimetres(pixels * millimetres_per_inch / dpi), LengthUnit::Millimetre, 0);
    };
    const auto too_large = [&](double width, double height) -> Error {
        const double largest_mm = largest_side * millimetres_per_inch / dpi;
        return {ErrorCode::TooLarge,
                "The film would be " + length(width) + " × " + length(height) + "; at " +
                    format_number(dpi, 0) + " dpi the longest side is " + format_number(largest_mm, 0) +
                    " mm.",
                {},
                "Lower the resolution, choose a smaller page box, or fewer copies."};
    };
    sheet.columns = film.columns;
    sheet.rows = film.rows;
    const double wide = (one.width + film.gap * dpi / millimetres_per_inch) * film.columns;
    const double high = (one.height + film.gap * dpi / millimetres_per_inch) * film.rows;
    if (one.width > largest_side || one.height > largest_side || wide > 2.0 * largest_side ||
        high > 2.0 * largest_side) {
        return too_large(wide, high);
    }
    sheet.copy_width = one.width;
    sheet.copy_height = one.height;
    sheet.column_pitch = one.width + layout.place(film.gap);
    sheet.row_pitch = one.height + layout.place(film.gap);
    sheet.art = {0, 0, (film.columns - 1) * sheet.column_pitch + one.width,
                 (film.rows - 1) * sheet.row_pitch + one.height};
    const int margin = film.marks ? layout.margin() : 0;
    const int right = margin + (film.marks ? layout.ruler_columns() : 0);
    // Whole words of pixels, and whole strips of the plate line, begin at the art.
    const int corner = (margin + 63) / 64 * 64;
    const bool set_width = film.sheet_width > 0, set_height = film.sheet_height > 0;
    const auto along = [&](bool is_set, double whole, double from, int art, int before, int after, int &at,
                           int &all) -> bool {
        if (!is_set) {
            at = film.marks ? corner : 0;
            all = at + art + after;
            return true;
        }
        all = layout.place(whole);
        at = from >= 0 ? layout.place(from) : (all - art) / 2;
        return at >= before && at + art + after <= all;
    };
    bool fits = along(set_width, film.sheet_width, film.from_left, sheet.art.width, margin, right,
                      sheet.art.x, sheet.width);

    const bool labelled = film.marks && film.mark_set.label;
    auto words = FilmText::make();
    if (!words) {
        return words.error();
    }
    Labels labels;
    labels.em = label_pt * dpi / points_per_inch;
    labels.line_height = static_cast<int>(std::ceil(labels.em * 1.25));
    labels.x = floor_64(layout.mm(rim_mm) + 63);
    // Where the film is too narrow the label is that of one that would do, so that what it takes is known.
    const int takes_width = film.from_left >= 0 && set_width ? sheet.art.x + sheet.art.width + right
                                                             : sheet.art.width + 2 * right;
    const int room = std::max(sheet.width, takes_width) - labels.x - layout.mm(rim_mm);
    const double width_mm = sheet.to_length(one.width).value, height_mm = sheet.to_length(one.height).value;
    for (std::size_t i = 0; i < job.plates.size() && labelled; ++i) {
        labels.lines.push_back(
            break_lines(*words, film_label(job, i, text, width_mm, height_mm), labels.em, room));
        labels.most_lines = std::max(labels.most_lines, static_cast<int>(labels.lines.back().size()));
    }
    const int foot = !film.marks ? 0
                                 : margin + layout.ruler_rows() + labels.most_lines * labels.line_height +
                                       (labelled ? layout.mm(rim_mm) : 0);
    fits = along(set_height, film.sheet_height, film.from_top, sheet.art.height, margin, foot, sheet.art.y,
                 sheet.height) &&
           fits;
    if (sheet.width > largest_side || sheet.height > largest_side) {
        return too_large(sheet.width, sheet.height);
    }
    if (!fits) {
        // Centred, what the larger side needs is needed on both.
        const int takes_height = film.from_top >= 0 && set_height ? sheet.art.y + sheet.art.height + foot
                                 : set_height ? sheet.art.height + 2 * std::max(margin, foot)
                                              : sheet.height;
        const auto at_least = [&](int pixels) {
            return format_number(std::ceil(pixels * millimetres_per_inch / dpi), 0) + " mm";
        };
        return Error{ErrorCode::OutOfRange,
                     "The art with its marks does not fit the film of " + length(sheet.width) + " × " +
                         length(sheet.height) + ".",
                     {},
                     "It takes " + at_least(takes_width) + " × " + at_least(takes_height) +
                         ": choose a larger film, or fewer marks."};
    }
    if (!film.marks) {
        return sheet;
    }
    layout.add_registration();
    layout.add_trim_marks();
    layout.add_pinholes();
    layout.add_wedge();
    layout.add_patches();
    const int below = sheet.art.y + sheet.art.height + margin;
    layout.add_ruler(below);
    layout.add_upright_ruler(sheet.art.x + sheet.art.width + margin);
    for (std::size_t i = 0; i < labels.lines.size(); ++i) {
        int y = below + layout.ruler_rows();
        for (const std::string &line : labels.lines[i]) {
            auto tile =
                text_tile(*words, line, labels.em, labels.x, y, sheet.width - labels.x, labels.line_height);
            if (!tile) {
                return tile.error();
            }
            sheet.plate[i].push_back(std::move(*tile));
            y += labels.line_height;
        }
    }
    return sheet;
}

} // namespace bichrom
