#include "core/standin/devices.h"

#include "core/standin/device_parts.h"

#include <array>

namespace bichrom {

namespace {

constexpr std::array<DeviceKind, 3> all_devices = {DeviceKind::Recorder, DeviceKind::Press,
                                                   DeviceKind::Cutter};

} // namespace

const char *to_string(DeviceKind kind)
{
    static constexpr const char *names[] = {"recorder", "press", "cutter"};
    return names[static_cast<std::size_t>(kind)];
}

Outcome<DeviceKind> parse_device_kind(std::string_view name)
{
    for (const DeviceKind kind : all_devices) {
        if (name == to_string(kind)) {
            return kind;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no device.",
                 {},
                 "There are: recorder, press, cutter."};
}

nlohmann::json usual_device(DeviceKind kind)
{
    nlohmann::json usual = {{"device", to_string(kind)}, {"offline", false}};
    switch (kind) {
    case DeviceKind::Recorder:
        usual.update({{"dpi", 0},
                      {"roll_mm", 610},
                      {"roll_left_mm", 30000},
                      {"used_mm", 0},
                      {"gap_mm", 10},
                      {"emulsion", "down"},
                      {"jam", false},
                      {"jammed", false},
                      {"exposed", nlohmann::json::array()}});
        break;
    case DeviceKind::Press:
        usual.update({{"under", "White"},
                      {"under_kind", "white"},
                      {"over", ""},
                      {"over_kind", "clear"},
                      {"double_hit", false},
                      {"stock", "White stock"},
                      {"pages", "all"},
                      {"dpi", 150}});
        break;
    case DeviceKind::Cutter:
        usual.update({{"ink", "Cut"}});
        break;
    }
    return usual;
}

Outcome<DeviceFolder> open_device(DeviceKind kind, const std::filesystem::path &folder)
{
    return DeviceFolder::open(folder, usual_device(kind));
}

Outcome<std::vector<DeviceEvent>> run_device(DeviceKind kind, DeviceFolder &device, const JobControl &control)
{
    const std::string ending = kind == DeviceKind::Recorder ? ".tif" : ".pdf";
    const auto work = kind == DeviceKind::Recorder ? expose
                      : kind == DeviceKind::Press  ? print_pages
                                                   : cut_lines;
    std::vector<DeviceEvent> events;
    const auto waiting = device.waiting(ending);
    const double used = device.number("used_mm", 0);
    std::int64_t done = 0;
    for (const auto &file : waiting) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", device.path().string(), {}};
        }
        if (device.flag("offline")) {
            events.push_back(DeviceFolder::leave(file, "The device is offline."));
            continue;
        }
        auto event = work(device, file, control);
        if (!event) {
            return event.error();
        }
        if (const Done kept = device.save(); !kept) { // after each, so that nothing is done twice
            return kept.error();
        }
        events.push_back(std::move(*event));
        control.progress(++done, static_cast<std::int64_t>(waiting.size()));
    }
    for (const auto &file : device.strangers(ending)) {
        auto event = device.refuse(file, std::string("A ") + to_string(kind) + " takes files that end in " +
                                             ending + ".");
        if (!event) {
            return event.error();
        }
        events.push_back(std::move(*event));
    }
    if (kind == DeviceKind::Recorder && device.number("used_mm", 0) != used) { // a jam takes film as well
        if (const Done drawn = draw_roll(device, control); !drawn) {
            return drawn.error();
        }
    }
    return events;
}

} // namespace bichrom
