#include "core/preflight/shop_rules.h"

#include "core/base/atomic_file.h"
#include "core/preflight/check_table.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

extern "C" {
extern const unsigned char bichrom_rules_textile[];
extern const unsigned char bichrom_rules_textile_end[];
extern const unsigned char bichrom_rules_clear_film[];
extern const unsigned char bichrom_rules_clear_film_end[];
extern const unsigned char bichrom_rules_duplicator[];
extern const unsigned char bichrom_rules_duplicator_end[];
extern const unsigned char bichrom_rules_digital[];
extern const unsigned char bichrom_rules_digital_end[];
}

namespace bichrom {

namespace {

using json = nlohmann::ordered_json;
constexpr int format_version = 1;

Error unusable(const std::string &place, const std::string &why)
{
    return {ErrorCode::WrongFormat, "These are no readable shop rules (" + why + ").", place,
            "Choose another file, or export the rules again where they came from."};
}

ShopRules shipped(const unsigned char *first, const unsigned char *last)
{
    const std::string text(reinterpret_cast<const char *>(first), static_cast<std::size_t>(last - first));
    return *rules_from_json(text, "shipped rules");
}

double number_in(const json &object, const char *key, double otherwise, double least, double most)
{
    const double value = object.value(key, otherwise);
    if (!(value >= least && value <= most)) {
        throw std::out_of_range(key);
    }
    return value;
}

} // namespace

const char *to_string(Severity severity)
{
    static constexpr const char *names[] = {"off", "note", "warning", "error"};
    return names[static_cast<std::size_t>(severity)];
}

Outcome<Severity> parse_severity(std::string_view name)
{
    for (const Severity severity : {Severity::Off, Severity::Note, Severity::Warning, Severity::Error}) {
        if (name == to_string(severity)) {
            return severity;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no severity.",
                 {},
                 "Use off, note, warning or error."};
}

CheckSetting ShopRules::setting(const std::string &check) const
{
    const auto found = checks.find(check);
    if (found == checks.end() && check == damaged_check) {
        return {Severity::Error, {}}; // also where a set was saved before there was this check
    }
    return found == checks.end() ? CheckSetting{} : found->second;
}

double ShopRules::limit(const std::string &check, const std::string &limit_name) const
{
    const CheckSetting set = setting(check);
    if (const auto found = set.limits.find(limit_name); found != set.limits.end()) {
        return found->second;
    }
    if (const CheckInfo *info = find_check(check)) {
        for (const LimitInfo &limit : info->limits) {
            if (limit_name == limit.name) {
                return limit.usual;
            }
        }
    }
    return 0;
}

const std::vector<ShopRules> &shipped_rules()
{
    static const std::vector<ShopRules> rules = {
        shipped(bichrom_rules_textile, bichrom_rules_textile_end),
        shipped(bichrom_rules_clear_film, bichrom_rules_clear_film_end),
        shipped(bichrom_rules_duplicator, bichrom_rules_duplicator_end),
        shipped(bichrom_rules_digital, bichrom_rules_digital_end),
    };
    return rules;
}

std::string rules_to_json(const ShopRules &rules)
{
    json root = json::parse(rules.source, nullptr, false);
    if (!root.is_object()) {
        root = json::object();
    }
    root["format"] = "bichrom shop rules";
    root["version"] = format_version;
    root["name"] = rules.name;
    json &press = root["press"];
    press["units"] = rules.press.units;
    press["sheet_mm"] = {rules.press.sheet_width.value, rules.press.sheet_height.value};
    press["resolution_dpi"] = rules.press.resolution.value;
    press["ruling_lpi"] = rules.press.ruling.value;
    root["spot_only"] = rules.spot_only;
    root["inks"] = rules.inks;
    root["folds"] = json::array();
    for (const Fold &fold : rules.folds) {
        root["folds"].push_back(
            {{"direction", fold.upright ? "upright" : "level"}, {"at_mm", fold.at.value}});
    }
    root["keep_out_mm"] = json::array();
    for (const Rect &zone : rules.keep_out) {
        root["keep_out_mm"].push_back({zone.x, zone.y, zone.width, zone.height});
    }
    json &checks = root["checks"];
    for (const auto &[name, setting] : rules.checks) {
        checks[name]["severity"] = to_string(setting.severity);
        for (const auto &[limit, value] : setting.limits) {
            checks[name]["limits"][limit] = value;
        }
    }
    return root.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

Outcome<ShopRules> rules_from_json(const std::string &text, const std::string &place)
{
    const json root = json::parse(text, nullptr, false);
    if (!root.is_object() || root.value("format", json()) != "bichrom shop rules") {
        return unusable(place, "the file is not marked as shop rules");
    }
    try {
        if (const int version = root.at("version").get<int>(); version > format_version) {
            return Error{ErrorCode::NewerVersion,
                         "The shop rules were written by a newer version of Bichrom.", place,
                         "Update Bichrom."};
        }
        ShopRules rules;
        rules.source = text;
        rules.name = root.at("name").get<std::string>();
        const json &press = root.at("press");
        rules.press.units = static_cast<int>(number_in(press, "units", 4, 1, 99));
        if (press.contains("sheet_mm")) {
            rules.press.sheet_width = Millimetres(press.at("sheet_mm").at(0).get<double>());
            rules.press.sheet_height = Millimetres(press.at("sheet_mm").at(1).get<double>());
        }
        rules.press.resolution = Dpi(number_in(press, "resolution_dpi", 1200, 72, 10000));
        rules.press.ruling = Lpi(number_in(press, "ruling_lpi", 55, 1, 1000));
        rules.spot_only = root.value("spot_only", false);
        rules.inks = root.value("inks", std::vector<std::string>());
        for (const json &fold : root.value("folds", json::array())) {
            rules.folds.push_back(
                {fold.at("direction") == "upright", Millimetres(fold.at("at_mm").get<double>())});
        }
        for (const json &zone : root.value("keep_out_mm", json::array())) {
            rules.keep_out.push_back({zone.at(0).get<double>(), zone.at(1).get<double>(),
                                      zone.at(2).get<double>(), zone.at(3).get<double>()});
        }
        const json checks = root.value("checks", json::object());
        for (const auto &[name, entry] : checks.items()) {
            if (find_check(name) == nullptr) {
                continue; // from a newer version; kept in the source
            }
            CheckSetting setting;
            const auto severity = parse_severity(entry.value("severity", "off"));
            if (!severity) {
                return unusable(place, "check " + name + ": " + severity.error().reason);
            }
            setting.severity = *severity;
            const json limits = entry.value("limits", json::object());
            for (const auto &[limit, value] : limits.items()) {
                setting.limits[limit] = value.get<double>();
            }
            rules.checks[name] = std::move(setting);
        }
        return rules;
    } catch (const json::exception &) {
        return unusable(place, "something is missing or of the wrong kind");
    } catch (const std::out_of_range &fault) {
        return unusable(place, std::string(fault.what()) + " is out of range");
    }
}

Outcome<ShopRules> read_rules(const std::filesystem::path &path)
{
    const auto bytes = read_file(path, 16 << 20);
    if (!bytes) {
        return bytes.error();
    }
    return rules_from_json(std::string(reinterpret_cast<const char *>(bytes->data()), bytes->size()),
                           path.string());
}

Done write_rules(const std::filesystem::path &path, const ShopRules &rules)
{
    return write_file(path, rules_to_json(rules));
}

} // namespace bichrom
