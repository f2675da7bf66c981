#include "core/job/screen_settings.h"

#include <cmath>
#include <string>

namespace bichrom {

const char *to_string(DotShape shape)
{
    static constexpr const char *names[] = {"round", "ellipse", "line"};
    return names[static_cast<std::size_t>(shape)];
}

Outcome<DotShape> parse_dot_shape(std::string_view name)
{
    for (const DotShape shape : all_dot_shapes) {
        if (name == to_string(shape)) {
            return shape;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is not a dot shape.",
                 {},
                 "Use round, ellipse or line."};
}

Done check_screen(const Screen &screen, Dpi resolution)
{
    const double ruling = screen.ruling.value;
    if (!(ruling >= 1.0 && ruling <= 600.0)) {
        return Error{ErrorCode::OutOfRange,
                     "A ruling of " + format_number(ruling, 2) + " lpi cannot be made.",
                     {},
                     "Use 1 to 600 lpi."};
    }
    if (ruling * 3.0 > resolution.value) {
        return Error{ErrorCode::OutOfRange,
                     "A ruling of " + format_number(ruling, 2) + " lpi is too fine for " +
                         format_number(resolution.value, 0) + " dpi.",
                     {},
                     "Use at most a third of the resolution, " + format_number(resolution.value / 3.0, 1) +
                         " lpi."};
    }
    if (!(std::fabs(screen.angle.value) <= 360.0)) {
        return Error{
            ErrorCode::OutOfRange, "The screen angle is outside −360° to 360°.", {}, "Use 0° to 180°."};
    }
    return {};
}

const char *to_string(FilmFormat format)
{
    return format == FilmFormat::Tiff ? "tiff" : "pdf";
}

Outcome<FilmFormat> parse_film_format(std::string_view name)
{
    if (name == "tiff") {
        return FilmFormat::Tiff;
    }
    if (name == "pdf") {
        return FilmFormat::Pdf;
    }
    return Error{
        ErrorCode::OutOfRange, "'" + std::string(name) + "' is not a film format.", {}, "Use tiff or pdf."};
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

} // namespace bichrom
