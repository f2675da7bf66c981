#include "core/preflight/checks/checks.h"

#include "core/preflight/ink_names.h"

#include <algorithm>
#include <cctype>

namespace bichrom::checks {

namespace {

/// Reports every object that puts \p ink down or names it, pictures included, or the page when none does.
void report_users(CheckContext &c, const std::string &subject, const std::string &ink,
                  const std::string &measured, const std::string &limit, const std::string &title)
{
    bool any = false;
    for (const SceneObject *object : c.art()) {
        const auto &names = object->colour.colorants;
        const bool named =
            names_inks(object->colour) && std::find(names.begin(), names.end(), ink) != names.end();
        const auto inks = c.inks_put_down(*object);
        const bool painted =
            std::any_of(inks.begin(), inks.end(), [&](const auto &part) { return part.first == ink; });
        if (named || painted) {
            c.report(subject, *object, measured.empty() ? describe(*object) : measured, 0, limit, title);
            any = true;
        }
    }
    if (!any && c.job == nullptr) { // of a job: its routes have taken the ink away, and the plate is empty
        c.report(subject, FindingPlace{-1, {}, measured}, 0, limit, title);
    }
}

/// Which process ink the name of a spot means ("Process Cyan", "cyan 2", "Magenta copy"), or −1.
int process_meant(const std::string &name)
{
    std::string text;
    for (const char letter : name) {
        const auto byte = static_cast<unsigned char>(letter);
        text += std::isalpha(byte) != 0 ? static_cast<char>(std::tolower(byte)) : ' ';
    }
    int meant = -1;
    std::size_t at = 0;
    while ((at = text.find_first_not_of(' ', at)) != std::string::npos) {
        const std::size_t end = std::min(text.find(' ', at), text.size());
        const std::string word = text.substr(at, end - at);
        at = end;
        static constexpr const char *inks[] = {"cyan", "magenta", "yellow", "black"};
        const auto *ink = std::find(std::begin(inks), std::end(inks), word);
        if (ink != std::end(inks) && meant < 0) {
            meant = static_cast<int>(ink - std::begin(inks));
        } else if (word != "process" && word != "copy" && word != "plate" && word != "ink") {
            return -1;
        }
    }
    return meant;
}

} // namespace

void ink_count(CheckContext &c)
{
    std::vector<std::string> inks;
    if (c.job != nullptr) { // what the job prints: tins whose plates are not empty
        for (const Plate &plate : c.job->plates) {
            const int at = c.survey.find(plate.ink);
            const std::string &tin = plate.tin.empty() ? plate.ink : plate.tin;
            const bool prints =
                at >= 0 && std::any_of(c.survey.tile.plates[static_cast<std::size_t>(at)].pixels.begin(),
                                       c.survey.tile.plates[static_cast<std::size_t>(at)].pixels.end(),
                                       [](std::uint8_t tone) { return tone > 0; });
            if (prints && plate.kind != InkUse::Technical &&
                std::find(inks.begin(), inks.end(), tin) == inks.end()) {
                inks.push_back(tin);
            }
        }
    } else {
        for (const FoundInk &ink : c.scene.inks) {
            inks.push_back(ink.name);
        }
    }
    const auto count = static_cast<int>(inks.size());
    if (count > c.rules.press.units) {
        std::string names;
        for (const std::string &ink : inks) {
            names += (names.empty() ? "" : ", ") + ink;
        }
        c.report({}, FindingPlace{-1, {}, std::to_string(count) + " inks: " + names}, count,
                 std::to_string(c.rules.press.units) + (c.rules.press.units == 1 ? " unit" : " units"));
    }
}

void process_in_spot_job(CheckContext &c)
{
    if (!c.rules.spot_only) {
        return;
    }
    for (const FoundInk &ink : c.scene.inks) {
        const bool stocked =
            std::find(c.rules.inks.begin(), c.rules.inks.end(), ink.name) != c.rules.inks.end();
        if (ink.kind == InkKind::Process && !stocked) {
            report_users(c, ink.name, ink.name, {}, "spot inks only",
                         "Process ink in a spot job: " + ink.name);
        }
    }
}

void ink_not_in_list(CheckContext &c)
{
    if (c.rules.inks.empty()) {
        return;
    }
    for (const FoundInk &ink : c.scene.inks) {
        if (ink.kind == InkKind::Process) {
            continue; // asked about by another check
        }
        const NearestName nearest = nearest_name(ink.name, c.rules.inks);
        if (nearest.likeness == NameLikeness::Same) {
            continue;
        }
        if (nearest.likeness == NameLikeness::Different) {
            report_users(c, ink.name, ink.name, {}, {}, "Ink not in the shop's list: " + ink.name);
        } else {
            report_users(c, ink.name, ink.name, std::string(describe(nearest.likeness)), nearest.name,
                         "Ink name nearly right: " + ink.name + " for " + nearest.name);
        }
    }
}

void ink_twice(CheckContext &c)
{
    // All names that are alike, however many, are one finding.
    const std::vector<FoundInk> &inks = c.scene.inks;
    std::vector<std::size_t> group(inks.size());
    for (std::size_t i = 0; i < inks.size(); ++i) {
        group[i] = i;
        for (std::size_t k = 0; k < i; ++k) {
            if (compare_names(inks[i].name, inks[k].name) != NameLikeness::Different) {
                const std::size_t from = group[i];
                for (std::size_t &one : group) {
                    one = one == from ? group[k] : one;
                }
            }
        }
    }
    for (std::size_t leader = 0; leader < inks.size(); ++leader) {
        std::string subject;
        std::string title;
        int members = 0;
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (group[i] == leader) {
                ++members;
                subject += (subject.empty() ? "" : " / ") + inks[i].name;
                title += (title.empty() ? "" : " and ") + inks[i].name;
            }
        }
        if (members < 2) {
            continue;
        }
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (group[i] == leader && i != leader) {
                report_users(c, subject, inks[i].name,
                             inks[i].name + ": " + describe(compare_names(inks[leader].name, inks[i].name)),
                             {},
                             "One ink under " + std::string(members == 2 ? "two" : std::to_string(members)) +
                                 " names? " + title);
            }
        }
    }
}

void ink_alternates(CheckContext &c)
{
    for (const FoundInk &ink : c.scene.inks) {
        if (!ink.other_solids.empty()) {
            std::string looks = "L*a*b* " + format_number(ink.solid.l, 0) + " " +
                                format_number(ink.solid.a, 0) + " " + format_number(ink.solid.b, 0);
            for (const Lab &one : ink.other_solids) {
                looks += "; " + format_number(one.l, 0) + " " + format_number(one.a, 0) + " " +
                         format_number(one.b, 0);
            }
            c.report(ink.name, FindingPlace{-1, {}, looks}, 0, "one colour",
                     "One ink, several colours on screen: " + ink.name);
        }
    }
}

void process_as_spot(CheckContext &c)
{
    for (const FoundInk &ink : c.scene.inks) {
        if (ink.kind != InkKind::Spot) {
            continue;
        }
        if (const int meant = process_meant(ink.name); meant >= 0) {
            static constexpr const char *names[] = {"Cyan", "Magenta", "Yellow", "Black"};
            report_users(c, ink.name, ink.name, "a spot ink of that name", names[meant],
                         "Process ink as a spot: " + ink.name + " for " + names[meant]);
        }
    }
}

} // namespace bichrom::checks
