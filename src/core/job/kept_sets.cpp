#include "core/job/kept_sets.h"

#include "core/base/atomic_file.h"
#include "core/job/area_json.h"
#include "core/job/film_json.h"

#include <nlohmann/json.hpp>

namespace bichrom {

using nlohmann::json;

namespace {

Error at_place(Error error, const std::string &place)
{
    error.place = place;
    return error;
}

/// The values of a set of \p kind, by \p read; what it says is wrong is told of \p place.
template <typename Set, typename Read>
Outcome<Set> read_set(const char *kind, const std::string &text, const std::string &place, Read read)
{
    try {
        const json all = json::parse(text, nullptr, false);
        if (all.is_object() && all.value("bichrom", json()) == kind) {
            Outcome<Set> set = read(all.at("values"));
            if (set || set.error().code == ErrorCode::OutOfRange) {
                return set ? std::move(set) : Outcome<Set>(at_place(set.error(), place));
            }
        }
    } catch (const json::exception &) { // something is missing
    }
    return Error{ErrorCode::WrongFormat, std::string("The file holds no set of this kind (") + kind + ").",
                 place, "Choose a file that was kept by this program."};
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

std::string area_set_text(const std::string &name, const std::vector<NamedArea> &areas)
{
    return text_of("areas", name, areas_to_json(areas));
}

Outcome<std::vector<NamedArea>> read_area_set(const std::string &text, const std::string &place)
{
    return read_set<std::vector<NamedArea>>("areas", text, place, areas_from_json);
}

Outcome<MarkSet> read_mark_set(const std::string &text, const std::string &place)
{
    return read_set<MarkSet>("marks", text, place, [](const json &values) {
        auto marks = marks_from_json(values);
        FilmOptions film;
        film.mark_set = marks ? *marks : MarkSet();
        const Done good = marks ? check_film(film) : Done();
        return good ? marks : Outcome<MarkSet>(good.error());
    });
}

Outcome<PressCurve> read_press_curve(const std::string &text, const std::string &place)
{
    return read_set<PressCurve>("curve", text, place, [](const json &values) {
        json plate;
        add_screen_json(plate, {}, {});
        plate["press"] = values;
        Screen screen;
        PressCurve press;
        Done good = read_screen_json(plate, screen, press);
        if (good) {
            good = check_press_curve(press);
        }
        return good ? Outcome<PressCurve>(press) : Outcome<PressCurve>(good.error());
    });
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
