#include "core/job/film_json.h"

#include "core/job/traits_json.h"

#include <nlohmann/json.hpp>

#include <charconv>

namespace bichrom {

using nlohmann::json;

json marks_to_json(const MarkSet &marks)
{
    json pieces = json::array();
    for (const LabelPiece piece : marks.pieces) {
        pieces.push_back(to_string(piece));
    }
    return {{"registration", to_string(marks.registration)},
            {"size_mm", marks.size},
            {"line_pt", marks.line},
            {"distance_mm", marks.distance},
            {"corners", marks.corners},
            {"crop", marks.crop},
            {"bleed", marks.bleed},
            {"centre", marks.centre},
            {"pinholes", marks.pinholes},
            {"ruler", marks.ruler},
            {"wedge", marks.wedge},
            {"wedge_steps", marks.wedge_steps},
            {"patches", marks.patches},
            {"label", marks.label},
            {"label_pieces", pieces},
            {"number", marks.number}};
}

Outcome<MarkSet> marks_from_json(const json &entry)
{
    MarkSet marks;
    const auto registration = parse_registration_mark(entry.at("registration").get<std::string>());
    if (!registration) {
        return registration.error();
    }
    marks.registration = *registration;
    marks.size = entry.at("size_mm").get<double>();
    marks.line = entry.at("line_pt").get<double>();
    marks.distance = entry.at("distance_mm").get<double>();
    marks.corners = entry.at("corners").get<bool>();
    marks.crop = entry.at("crop").get<bool>();
    marks.bleed = entry.at("bleed").get<bool>();
    marks.centre = entry.at("centre").get<bool>();
    marks.pinholes = entry.at("pinholes").get<bool>();
    marks.ruler = entry.at("ruler").get<bool>();
    marks.wedge = entry.at("wedge").get<bool>();
    marks.wedge_steps = entry.at("wedge_steps").get<std::vector<double>>();
    marks.patches = entry.at("patches").get<bool>();
    marks.label = entry.at("label").get<bool>();
    marks.pieces.clear();
    for (const json &name : entry.at("label_pieces")) {
        const auto piece = parse_label_piece(name.get<std::string>());
        if (!piece) {
            return piece.error();
        }
        marks.pieces.push_back(*piece);
    }
    marks.number = entry.at("number").get<std::string>();
    return marks;
}

json film_to_json(const FilmOptions &film)
{
    return {{"dpi", film.resolution.value},
            {"format", to_string(film.format)},
            {"box", to_string(film.box)},
            {"around_art", film.around_art},
            {"marks", film.marks},
            {"mirror", film.mirror},
            {"negative", film.negative},
            {"mark_set", marks_to_json(film.mark_set)},
            {"across", film.across},
            {"along", film.along},
            {"columns", film.columns},
            {"rows", film.rows},
            {"gap_mm", film.gap},
            {"sheet_width_mm", film.sheet_width},
            {"sheet_height_mm", film.sheet_height},
            {"from_left_mm", film.from_left},
            {"from_top_mm", film.from_top}};
}

Outcome<FilmOptions> film_from_json(const json &entry)
{
    FilmOptions film;
    film.resolution = Dpi(entry.at("dpi").get<double>());
    const auto format = parse_film_format(entry.at("format").get<std::string>());
    const auto box = parse_page_box(entry.at("box").get<std::string>());
    if (!format || !box) {
        return Error{ErrorCode::WrongFormat, "its film settings are unknown", {}, {}};
    }
    film.format = *format;
    film.box = *box;
    film.around_art = entry.value("around_art", false); // since version 12
    film.marks = entry.at("marks").get<bool>();
    film.mirror = entry.at("mirror").get<bool>();
    film.negative = entry.at("negative").get<bool>();
    if (entry.contains("mark_set")) { // since version 8
        auto marks = marks_from_json(entry.at("mark_set"));
        if (!marks) {
            return marks.error();
        }
        film.mark_set = std::move(*marks);
        film.across = entry.at("across").get<double>();
        film.along = entry.at("along").get<double>();
        film.columns = entry.at("columns").get<int>();
        film.rows = entry.at("rows").get<int>();
        film.gap = entry.at("gap_mm").get<double>();
        film.sheet_width = entry.at("sheet_width_mm").get<double>();
        film.sheet_height = entry.at("sheet_height_mm").get<double>();
        film.from_left = entry.at("from_left_mm").get<double>();
        film.from_top = entry.at("from_top_mm").get<double>();
    }
    return film;
}

namespace {

/// Thresholds as four hexadecimal digits each.
json tile_to_json(const OwnTile &tile)
{
    constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (const std::uint16_t threshold : tile.thresholds()) {
        for (int shift = 12; shift >= 0; shift -= 4) {
            text += digits[threshold >> shift & 15];
        }
    }
    return {{"name", tile.name()}, {"side", tile.side()}, {"thresholds", std::move(text)}};
}

Outcome<OwnTile> tile_from_json(const json &entry)
{
    const auto text = entry.at("thresholds").get<std::string>();
    std::vector<std::uint16_t> thresholds;
    for (std::size_t at = 0; at + 4 <= text.size(); at += 4) {
        std::uint16_t threshold = 0;
        const auto read = std::from_chars(text.data() + at, text.data() + at + 4, threshold, 16);
        if (read.ptr != text.data() + at + 4) {
            break; // make() finds too few
        }
        thresholds.push_back(threshold);
    }
    return OwnTile::make(entry.at("name").get<std::string>(), entry.at("side").get<int>(),
                         std::move(thresholds));
}

} // namespace

void add_screen_json(json &plate, const Screen &screen, const PressCurve &press)
{
    plate["lpi"] = screen.ruling.value;
    plate["angle"] = screen.angle.value;
    plate["dot"] = to_string(screen.dot);
    plate["screen"] = to_string(screen.kind);
    plate["chain"] = screen.chain;
    plate["least_dot_px"] = screen.least_dot;
    if (!screen.tile.empty()) {
        plate["tile"] = tile_to_json(screen.tile);
    }
    plate["press"] = {{"printed", curve_to_json(press.printed)},
                      {"wish", curve_to_json(press.wish)},
                      {"least", press.least},
                      {"most", press.most},
                      {"hold", press.hold}};
}

Done read_screen_json(const json &plate, Screen &screen, PressCurve &press)
{
    screen.ruling = Lpi(plate.at("lpi").get<double>());
    screen.angle = Degrees(plate.at("angle").get<double>());
    const auto dot = parse_dot_shape(plate.at("dot").get<std::string>());
    if (!dot) {
        return dot.error();
    }
    screen.dot = *dot;
    if (!plate.contains("screen")) { // since version 8
        return {};
    }
    const auto kind = parse_screen_kind(plate.at("screen").get<std::string>());
    if (!kind) {
        return kind.error();
    }
    screen.kind = *kind;
    screen.chain = plate.at("chain").get<double>();
    screen.least_dot = plate.at("least_dot_px").get<int>();
    if (plate.contains("tile")) { // since version 11
        auto tile = tile_from_json(plate.at("tile"));
        if (!tile) {
            return tile.error();
        }
        screen.tile = std::move(*tile);
    }
    const json &entry = plate.at("press");
    for (const auto &[key, curve] : {std::pair("printed", &press.printed), std::pair("wish", &press.wish)}) {
        auto read = curve_from_json(entry.at(key));
        if (!read) {
            return read.error();
        }
        *curve = std::move(*read);
    }
    press.least = entry.at("least").get<double>();
    press.most = entry.at("most").get<double>();
    press.hold = entry.at("hold").get<bool>();
    return check_press_curve(press);
}

} // namespace bichrom
