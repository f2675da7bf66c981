#include "core/job/film_settings.h"

#include <algorithm>
#include <string>

namespace bichrom {

namespace {

/// The one of \p all that is called \p name.
template <class Value, std::size_t n>
Outcome<Value> find_named(const std::array<Value, n> &all, std::string_view name, const char *what)
{
    std::string known;
    for (const Value value : all) {
        if (name == to_string(value)) {
            return value;
        }
        known += (known.empty() ? "" : ", ") + std::string(to_string(value));
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is not " + what + ".",
                 {},
                 "Use one of: " + known + "."};
}

constexpr std::array<FilmFormat, 3> all_film_formats = {FilmFormat::Tiff, FilmFormat::Pdf,
                                                        FilmFormat::PostScript};

} // namespace

const char *to_string(FilmFormat format)
{
    static constexpr const char *names[] = {"tiff", "pdf", "ps"};
    return names[static_cast<std::size_t>(format)];
}

Outcome<FilmFormat> parse_film_format(std::string_view name)
{
    return find_named(all_film_formats, name, "a film format");
}

const char *to_string(RegistrationMark mark)
{
    static constexpr const char *names[] = {"none", "cross", "cross in ring"};
    return names[static_cast<std::size_t>(mark)];
}

Outcome<RegistrationMark> parse_registration_mark(std::string_view name)
{
    return find_named(all_registration_marks, name, "a registration mark");
}

const char *to_string(LabelPiece piece)
{
    static constexpr const char *names[] = {"job",    "number",   "page",       "ink",  "order", "size",
                                            "screen", "printing", "resolution", "side", "date"};
    return names[static_cast<std::size_t>(piece)];
}

Outcome<LabelPiece> parse_label_piece(std::string_view name)
{
    return find_named(all_label_pieces, name, "a piece of the label");
}

Done check_resolution(Dpi resolution)
{
    if (resolution.value >= 72.0 && resolution.value <= 5080.0) {
        return {};
    }
    return Error{ErrorCode::OutOfRange,
                 "A resolution of " + format_number(resolution.value, 1) + " dpi cannot be made.",
                 {},
                 "Use 72 to 5080 dpi."};
}

Done check_film(const FilmOptions &film)
{
    if (const Done good = check_resolution(film.resolution); !good) {
        return good;
    }
    const auto within = [](double value, double low, double high) { return value >= low && value <= high; };
    const auto refuse = [](const char *what, const char *remedy) {
        return Error{ErrorCode::OutOfRange, what, {}, remedy};
    };
    if (!within(film.across, 0.5, 2) || !within(film.along, 0.5, 2)) {
        return refuse("The art cannot be stretched by that much.", "Use 50 to 200 %.");
    }
    if (film.columns < 1 || film.columns > 100 || film.rows < 1 || film.rows > 100 ||
        !within(film.gap, 0, 1000)) {
        return refuse("The art cannot be repeated so.", "Use 1 to 100 copies each way, 0 to 1000 mm apart.");
    }
    if (!within(film.sheet_width, 0, 10000) || !within(film.sheet_height, 0, 10000) ||
        !within(film.from_left, -1, 10000) || !within(film.from_top, -1, 10000)) {
        return refuse("There is no film of that size.", "Use up to 10 m; 0 takes the smallest that does.");
    }
    const MarkSet &marks = film.mark_set;
    if (!within(marks.size, 2, 30) || !within(marks.line, 0.1, 6) || !within(marks.distance, 0, 50)) {
        return refuse("The marks cannot be made so.",
                      "Use 2 to 30 mm, lines of 0.1 to 6 pt, 0 to 50 mm from the art.");
    }
    if (marks.wedge_steps.size() > 100 || std::any_of(marks.wedge_steps.begin(), marks.wedge_steps.end(),
                                                      [&](double step) { return !within(step, 0, 100); })) {
        return refuse("The step wedge cannot be made so.", "Use up to 100 steps of 0 to 100 %.");
    }
    return {};
}

} // namespace bichrom
