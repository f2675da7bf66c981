#include "core/job/change_slip.h"

#include "core/colour/colour_words.h"
#include "core/colour/source_profile.h"

#include <algorithm>
#include <cctype>
#include <functional>

namespace bichrom {

const char *to_string(ChangeState state)
{
    static constexpr const char *names[] = {"ask customer", "agreed", "not needed"};
    return names[static_cast<std::size_t>(state)];
}

Outcome<ChangeState> parse_change_state(std::string_view name)
{
    for (const ChangeState state : all_change_states) {
        if (name == to_string(state)) {
            return state;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no state of a change.",
                 {},
                 "Use ask customer, agreed or not needed."};
}

std::string key_of(const Question &question)
{
    return "ask " + question.check + " " + std::to_string(question.page) + " " + question.subject;
}

namespace {

/// "built from cyan, yellow and black", "written as the ink Green", "written in RGB".
std::string origin_words(const ColourUse &colour)
{
    const bool inks = colour.space.find("Separation") != std::string::npos ||
                      colour.space.find("DeviceN") != std::string::npos;
    if (!inks && colour.space != "DeviceCMYK") {
        return colour.space == "DeviceGray" ? "written as a grey" : "written as a screen colour";
    }
    std::vector<std::string> names;
    for (std::size_t i = 0; i < colour.colorants.size(); ++i) {
        if (i >= colour.values.size() || colour.values.size() != colour.colorants.size() ||
            colour.values[i] > 0.0f) {
            names.push_back(colour.colorants[i]);
        }
    }
    if (names.empty()) {
        return "written without ink";
    }
    std::string list;
    for (std::size_t i = 0; i < names.size(); ++i) {
        list += (i == 0 ? "" : i + 1 == names.size() ? " and " : ", ") + names[i];
    }
    return names.size() == 1 ? "written as " + list
                             : "built from " + std::to_string(names.size()) + " inks (" + list + ")";
}

std::string route_words(const Route &route)
{
    const std::string end =
        describe_end(route) + (route.pages.empty() ? std::string() : " " + describe_pages(route.pages));
    switch (route.by) {
    case RouteBy::Colour:
        return "The " + colour_words(route.appearance) + " that is " + origin_words(route.colour) + " " +
               end + ".";
    case RouteBy::Similar:
        return "Everything that is " + colour_words(route.appearance) + " like the one " +
               origin_words(route.colour) + ", within " +
               (route.measure == ColourMeasure::DeltaE ? "ΔE " + format_number(route.tolerance, 1)
                                                       : format_number(route.tolerance, 1) + " %") +
               ", " + end + ".";
    case RouteBy::Ink:
        return "Whatever is in the ink " + route.name + " " + end + ".";
    case RouteBy::Layer:
        return "Everything on the layer " + route.name + " " + end + ".";
    case RouteBy::Objects:
        break;
    }
    std::string what = describe_source(route);
    what.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(what.front())));
    return what + (route.objects.size() == 1 ? " " : " (chosen by hand) ") + end + ".";
}

std::string placed_words(const PlacedArtwork &placed, const Job &job)
{
    const auto &all = job.placements.artworks;
    const auto place = static_cast<std::size_t>(std::find(all.begin(), all.end(), placed) - all.begin());
    std::string text =
        placed.name +
        (placed.original->page_count() > 1 ? ", page " + std::to_string(placed.page) + "," : std::string()) +
        " is placed " + (place < job.placements.below ? "under" : "on top of") + " the artwork, " +
        format_number(placed.x, 1) + " mm from the left and " + format_number(placed.y, 1) +
        " mm from the top";
    if (placed.scale != 1) {
        text += ", scaled to " + format_number(placed.scale * 100, 1) + " %";
    }
    if (placed.turn != 0) {
        text += ", turned " + std::to_string(placed.turn * 90) + "° clockwise";
    }
    return text + (!placed.prints      ? "; it does not print and only gives recipes an area."
                   : placed.overprints ? "; it prints over what is under it."
                                       : "; it knocks out what is under it.");
}

std::string route_reason(const Route &route)
{
    switch (route.to) {
    case RouteTo::Process:
        return "It needs no ink of its own then.";
    case RouteTo::Nothing:
        return "It is not meant to be printed.";
    case RouteTo::BareStock:
        return "The stock itself shows there.";
    case RouteTo::Plates:
        break;
    }
    return route.targets.size() == 1 ? "The shop prints it with one ink."
                                     : "The shop prints it with these inks.";
}

const char *kind_words(InkUse kind)
{
    switch (kind) {
    case InkUse::White:
        return "opaque white";
    case InkUse::Varnish:
        return "varnish: clear, over everything";
    case InkUse::Metallic:
        return "metallic ink";
    case InkUse::Foil:
        return "foil";
    case InkUse::Technical:
        return "a technical ink: never part of the picture";
    case InkUse::Spot:
    case InkUse::Process:
        break;
    }
    return "ink";
}

using Add = std::function<void(const std::string &key, const std::string &what, const std::string &why)>;

void list_overprint(const Job &job, const Add &add)
{
    const HouseOverprint &house = job.overprint.house;
    const std::string way = "A rule of the shop for small, dark or special parts.";
    if (house.black_text) {
        add("black text overprints " + format_number(house.text_size, 1),
            "Solid black text up to " + format_number(house.text_size, 1) +
                " points is printed on top of the colours under it, which are not left out there.",
            "No bare edge shows beside thin letters when plates move.");
    }
    if (house.black_lines) {
        add("black lines overprint " + format_number(house.line_width, 2),
            "Solid black lines up to " + format_number(house.line_width, 2) +
                " points wide are printed on top of the colours under them.",
            "No bare edge shows beside thin lines when plates move.");
    }
    if (house.white_knocks_out) {
        add("white knocks out", "White ink always leaves out what lies under it, whatever the file says.",
            way);
    }
    if (house.finishing_overprints) {
        add("finishing overprints",
            "Varnish and technical inks never leave out what lies under them, whatever the file says.", way);
    }
    if (house.foil_knocks_out) {
        add("foil knocks out", "Foil always leaves out what lies under it, whatever the file says.", way);
    }
    for (const OverprintRule &rule : job.overprint.rules) {
        std::string what = rule.source.by == RouteBy::Ink ? "what prints on " + rule.source.name
                                                          : describe_source(rule.source);
        const std::string key = std::string(to_string(rule.wish)) + " " + what;
        what.front() = static_cast<char>(std::toupper(static_cast<unsigned char>(what.front())));
        add(key,
            what + (rule.wish == OverprintWish::Overprint ? ": prints on top of what lies under it."
                                                          : ": leaves out what lies under it."),
            "Decided by the artist; the file may say otherwise.");
    }
}

void list_traps(const Job &job, const Add &add)
{
    const TrapSettings &traps = job.traps;
    if (!traps.on) {
        return;
    }
    const auto mm = [](double length) { return format_number(length, 3) + " mm"; };
    add("traps " + mm(traps.width),
        "Where two colours meet the lighter one is made larger by " + mm(traps.width) +
            " under the darker one.",
        "No bare edge shows between them when plates move.");
    if (traps.hold_back > 0) {
        add("hold back " + mm(traps.hold_back),
            "Inks that support a black end " + mm(traps.hold_back) + " before its edge.",
            "They do not show beside the black when plates move.");
    }
    if (traps.base_choke > 0) {
        add("base choke " + mm(traps.base_choke),
            "White ink ends " + mm(traps.base_choke) + " before the edge of the colours on it.",
            "White does not show beside the colours when plates move.");
    }
    for (const TrapPair &pair : traps.pairs) {
        const std::string side = pair.side == TrapSide::None     ? "no trap"
                                 : pair.side == TrapSide::First  ? pair.first + " is made larger"
                                 : pair.side == TrapSide::Second ? pair.second + " is made larger"
                                 : pair.side == TrapSide::Both   ? "both are made larger"
                                                                 : "the lighter one is made larger";
        add("trap " + pair.first + " " + pair.second,
            "Where " + pair.first + " meets " + pair.second + ": " + side +
                (pair.width && pair.side != TrapSide::None ? " by " + mm(*pair.width) : "") + ".",
            "Decided by the artist for these two inks.");
    }
    for (const TrapZone &zone : traps.zones) {
        add("trap zone " + std::to_string(zone.page) + " " + mm(zone.area.x) + " " + mm(zone.area.y) + " " +
                mm(zone.area.width) + " " + mm(zone.area.height),
            "In an area of " + mm(zone.area.width) + " × " + mm(zone.area.height) + " on page " +
                std::to_string(zone.page) +
                (zone.width > 0 ? " traps are " + mm(zone.width) + " wide." : " there are no traps."),
            "Decided by the artist for this place.");
    }
}

} // namespace

std::string key_of(const Route &route)
{
    std::string key = route.artwork == 0 ? "" : std::to_string(route.artwork) + " ";
    key += "route " + describe_source(route) + " " + describe_end(route);
    for (const ObjectMark &mark : route.objects) {
        key += " " + std::to_string(mark.index);
    }
    return key;
}

std::vector<ChangeEntry> list_changes(const Job &job)
{
    std::vector<ChangeEntry> changes;
    const auto add = [&](const std::string &key, const std::string &what, const std::string &why) {
        const auto state = job.change_states.find(key);
        changes.push_back(
            {key, what, why, state == job.change_states.end() ? ChangeState::AskCustomer : state->second});
    };
    const Job usual;
    if (job.colours.untagged_rgb != nullptr) {
        const auto profile = SourceProfile::open(*job.colours.untagged_rgb, 3);
        add("untagged rgb",
            "RGB colours without a profile are read as " +
                (profile ? (*profile)->name() : "another profile") + ", not as sRGB.",
            "The file does not say what its RGB colours mean.");
    }
    if (job.colours.convert_cmyk) {
        add("convert cmyk",
            "CMYK colours with a profile are converted to the printing condition; their numbers "
            "change.",
            "They were made for another printing condition.");
    }
    if (job.colours.condition != nullptr) {
        const auto condition = ProcessProfile::open(*job.colours.condition);
        add("condition",
            "RGB and Lab colours are separated for " +
                (condition ? (*condition)->name() : std::string("another printing condition")) + ".",
            "The job is printed under that condition.");
    }
    if (!(job.colours.rendering == usual.colours.rendering)) {
        add("rendering",
            std::string("Colours that do not fit the printing condition are brought in by the ") +
                to_string(job.colours.rendering.intent) + " intent" +
                (job.colours.rendering.black_point ? ", with black point compensation." : "."),
            "The usual way did not suit this artwork.");
    }
    if (job.assumed_ppi != usual.assumed_ppi) {
        add("assumed ppi",
            "The picture, which does not say its size, is printed at " + format_number(job.assumed_ppi, 1) +
                " pixels per inch.",
            "The size was asked for, or fits the product.");
    }
    if (job.placements.scale != 1) {
        add("size",
            "The artwork is printed at " + format_number(job.placements.scale * 100, 2) + " % of its size.",
            "The product asks for that size.");
    }
    if (const MadeBleed &bleed = job.placements.bleed; bleed.width > 0) {
        add("bleed " + std::string(to_string(bleed.by)),
            format_length(Millimetres(bleed.width), LengthUnit::Millimetre, 2) +
                " of bleed are made beyond the trim: " +
                (bleed.by == BleedBy::Mirror ? "the art is turned over at it."
                                             : "the colours at it are drawn outwards."),
            "The artwork ends at the cut; the smallest shift would show a bare edge.");
    }
    if (job.film.across != 1 || job.film.along != 1) {
        add("stretch",
            "Films and plate files are stretched to " + format_number(job.film.along * 100, 3) +
                " % along and " + format_number(job.film.across * 100, 3) + " % across the page.",
            "The press or the fabric brings the print back to its size.");
    }
    for (const PlacedArtwork &placed : job.placements.artworks) {
        add("placed " + std::to_string(placed.id) + " " + placed.name, placed_words(placed, job),
            "The print is put together from several files.");
    }
    for (const Route &route : job.routes) {
        const std::string name = job.artwork_name(route.artwork);
        add(key_of(route), (name.empty() ? "" : "In " + name + ": ") + route_words(route),
            route_reason(route));
    }
    for (const Plate &plate : job.plates) {
        if (!plate.recipe.empty()) {
            std::string steps;
            for (const RecipeStep &step : plate.recipe) {
                steps += (steps.empty() ? "" : ", ") + describe(step);
            }
            add("recipe " + plate.ink,
                "The plate " + plate.ink + " is made for the print" +
                    (plate.recipe_pages.empty() ? "" : " " + describe_pages(plate.recipe_pages)) + ": " +
                    steps + ".",
                "The artwork does not contain it.");
        }
    }
    for (const Plate &plate : job.plates) {
        if (plate.recipe.empty() && plate.kind != InkUse::Spot && plate.kind != InkUse::Process) {
            add("kind " + plate.ink, plate.ink + " prints as " + kind_words(plate.kind) + ".",
                "Said by the shop, or read from its name.");
        }
    }
    list_overprint(job, add);
    list_traps(job, add);
    for (const std::string &ink : job.removed) {
        const bool sent = std::any_of(job.routes.begin(), job.routes.end(), [&](const Route &route) {
            return route.by == RouteBy::Ink && route.name == ink; // has a line of its own
        });
        if (!sent && job.find_plate(ink) < 0) {
            add("removed " + ink,
                "The ink " + ink +
                    " is not printed: it has no plate. What is not sent to another ink is left out.",
                "The shop does not print this ink.");
        }
    }
    for (const Question &question : job.questions) {
        add(key_of(question), question.words,
            "Found on page " + std::to_string(question.page) + "; nothing is changed.");
    }
    return changes;
}

} // namespace bichrom
