#include "core/job/kept_sets.h"

#include "core/base/atomic_file.h"
#include "core/job/film_json.h"

#include <nlohmann/json.hpp>

namespace bichrom {

using nlohmann::json;

namespace {

Error no_set(const char *kind, const std::string &place)
{
    return {ErrorCode::WrongFormat, std::string("The file holds no set of ") + kind + ".", place,
            "Choose a file that was kept by this program."};
}

/// The entry of that kind; null when \p text holds no such thing.
json entry_of(const std::string &text, const char *kind)
{
    json all = json::parse(text, nullptr, false);
    return all.is_object() && all.value("bichrom", json()) == kind ? all.value("values", json()) : json();
}

std::string text_of(const char *kind, const std::string &name, json values)
{
    return json{{"bichrom", kind}, {"name", name}, {"values", std::move(values)}}.dump(
               2, ' ', false, json::error_handler_t::replace) +
           "\n";
}

} // namespace

std::string mark_set_text(const std::string &name, const MarkSet &marks)
{
    return text_of("marks", name, marks_to_json(marks));
}

std::string press_curve_text(const std::string &name, const PressCurve &press)
{
    json plate;
    add_screen_json(plate, {}, press);
    return text_of("curve", name, plate.at("press"));
}

Outcome<MarkSet> read_mark_set(const std::string &text, const std::string &place)
{
    try {
        auto marks = marks_from_json(entry_of(text, "marks"));
        if (!marks) {
            return no_set("marks", place);
        }
        FilmOptions film;
        film.mark_set = *marks;
        if (const Done good = check_film(film); !good) {
            Error error = good.error();
            error.place = place;
            return error;
        }
        return marks;
    } catch (const json::exception &) {
        return no_set("marks", place);
    }
}

Outcome<PressCurve> read_press_curve(const std::string &text, const std::string &place)
{
    try {
        json plate;
        add_screen_json(plate, {}, {});
        plate["press"] = entry_of(text, "curve");
        Screen screen;
        PressCurve press;
        if (!read_screen_json(plate, screen, press)) {
            return no_set("curves", place);
        }
        if (const Done good = check_press_curve(press); !good) {
            Error error = good.error();
            error.place = place;
            return error;
        }
        return press;
    } catch (const json::exception &) {
        return no_set("curves", place);
    }
}

std::string name_of_set(const std::string &text)
{
    const json all = json::parse(text, nullptr, false);
    const json name = all.is_object() && all.contains("bichrom") ? all.value("name", json()) : json();
    return name.is_string() ? name.get<std::string>() : std::string();
}

Outcome<std::string> read_set_file(const std::filesystem::path &path)
{
    constexpr std::size_t most_bytes = 1 << 20;
    const auto bytes = read_file(path, most_bytes);
    if (!bytes) {
        return bytes.error();
    }
    return std::string(reinterpret_cast<const char *>(bytes->data()), bytes->size());
}

} // namespace bichrom
