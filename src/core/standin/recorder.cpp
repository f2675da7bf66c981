#include "core/standin/device_parts.h"

#include "core/base/atomic_file.h"
#include "core/report/pdf_pages.h"
#include "core/screen/densitometer.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

constexpr double roll_scale = 1.0;  ///< pixels of roll.png a millimetre
constexpr double roll_shown = 2000; ///< mm of the roll's end that are drawn
constexpr int overview_side = 2000;

/// Share of black film in each square millimetre, as grey; \p emulsion_up shows it from the other side.
ReportPicture small_film(const FilmOverview &film, bool emulsion_up)
{
    const double step =
        film.resolution.value / millimetres_per_inch / roll_scale / film.square; // squares of the overview
    ReportPicture small;
    small.width = std::max(1, static_cast<int>(film.width / (step * film.square)));
    small.height = std::max(1, static_cast<int>(film.height / (step * film.square)));
    for (int y = 0; y < small.height; ++y) {
        const int v = std::min(film.share.height - 1, static_cast<int>((y + 0.5) * step));
        for (int x = 0; x < small.width; ++x) {
            const int column = emulsion_up ? small.width - 1 - x : x;
            const int u = std::min(film.share.width - 1, static_cast<int>((column + 0.5) * step));
            const auto grey = static_cast<std::uint32_t>(255 - film.share.at(u, v) * 235 / 255);
            small.pixels.push_back(0xFF000000u | grey << 16 | grey << 8 | grey);
        }
    }
    return small;
}

} // namespace

Outcome<DeviceEvent> expose(DeviceFolder &device, const fs::path &file, const JobControl &control)
{
    nlohmann::json &state = device.state();
    if (device.flag("jammed")) {
        return DeviceFolder::leave(file, "The film is jammed. Clear the jam; the film will be exposed from "
                                         "its beginning.");
    }
    const auto film = read_film_overview(file, overview_side, control); // to its end: what is cut is refused
    if (!film) {
        return film.error().code == ErrorCode::Cancelled
                   ? Outcome<DeviceEvent>(film.error())
                   : device.refuse(file, film.error().reason + " " + film.error().remedy);
    }
    const double dpi = device.number("dpi", 0);
    if (dpi > 0 && std::fabs(film->resolution.value - dpi) > 0.01) {
        return device.refuse(file, "It is of " + format_number(film->resolution.value, 2) +
                                       " dpi; the recorder exposes " + format_number(dpi, 0) +
                                       ", and would write it at another size.");
    }
    const double to_mm = millimetres_per_inch / film->resolution.value;
    const double width = film->width * to_mm, height = film->height * to_mm;
    const double roll = device.number("roll_mm", 610);
    const bool turned = width > roll && height <= roll;
    if (std::min(width, height) > roll) {
        return device.refuse(file, "It is " + format_number(width, 1) + " × " + format_number(height, 1) +
                                       " mm; the roll is " + format_number(roll, 0) + " mm wide.");
    }
    const double length = turned ? width : height, across = turned ? height : width;
    const double gap = std::clamp(device.number("gap_mm", 10), 0.0, 1000.0);
    const double left = device.number("roll_left_mm", 0), used = device.number("used_mm", 0);
    if (length + gap > left) {
        return DeviceFolder::leave(file, "Out of film: it takes " + format_number(length + gap, 0) +
                                             " mm, and " + format_number(left, 0) +
                                             " mm are left. Load a roll.");
    }
    const auto wind = [&](double mm) {
        state["roll_left_mm"] = left - mm;
        state["used_mm"] = used + mm;
    };
    if (device.flag("jam")) {
        wind(length / 2 + gap);
        state["jam"] = false;
        state["jammed"] = true;
        return DeviceFolder::leave(file, "The film jammed half way; " + format_number(length / 2, 0) +
                                             " mm are lost. Clear the jam; the film will be exposed from its "
                                             "beginning.");
    }
    wind(length + gap);
    state["exposed"].push_back({{"file", file.filename().string()},
                                {"from_mm", used},
                                {"length_mm", length},
                                {"width_mm", across},
                                {"turned", turned}});
    return device.take(file, "Exposed at " + format_number(film->resolution.value, 0) + " dpi, emulsion " +
                                 device.word("emulsion", "down") +
                                 (turned ? ", turned to fit the roll" : "") + "; " +
                                 format_number(length, 0) + " mm of film.");
}

Done draw_roll(const DeviceFolder &device, const JobControl &control)
{
    const double used = device.number("used_mm", 0);
    const double shown = std::min(used, roll_shown);
    if (shown < 1) {
        return {};
    }
    const double begin = used - shown;
    ReportPicture roll;
    roll.width = std::max(1, static_cast<int>(shown * roll_scale));
    roll.height = static_cast<int>(std::clamp(device.number("roll_mm", 610), 10.0, 3000.0) * roll_scale);
    roll.pixels.assign(static_cast<std::size_t>(roll.width) * static_cast<std::size_t>(roll.height),
                       0xFFC9CDD0);
    const nlohmann::json exposed = device.state().value("exposed", nlohmann::json::array());
    for (const nlohmann::json &one : exposed) {
        if (!one.is_object() || one.value("from_mm", -1.0) < begin) {
            continue;
        }
        const auto film = read_film_overview(device.path() / "done" / one.value("file", std::string()),
                                             overview_side, control);
        if (!film) {
            continue; // taken away by somebody
        }
        // The roll runs from left to right: the film's length lies along it.
        const bool up = device.word("emulsion", "down") == "up", turned = one.value("turned", false);
        const ReportPicture small = small_film(*film, up);
        const int from = static_cast<int>((one.value("from_mm", 0.0) - begin) * roll_scale);
        for (int y = 0; y < small.height; ++y) {
            for (int x = 0; x < small.width; ++x) {
                const int along = from + (turned ? x : y), across = turned ? y : small.width - 1 - x;
                if (along >= 0 && along < roll.width && across < roll.height) {
                    roll.pixels[static_cast<std::size_t>(across) * static_cast<std::size_t>(roll.width) +
                                static_cast<std::size_t>(along)] =
                        small.pixels[static_cast<std::size_t>(y) * static_cast<std::size_t>(small.width) +
                                     static_cast<std::size_t>(x)];
                }
            }
        }
    }
    const auto png = png_bytes(roll);
    return png ? write_file(device.path() / "roll.png", *png) : Done(png.error());
}

} // namespace bichrom
