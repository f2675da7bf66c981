#include "core/preflight/checks/checks.h"

#include "core/preflight/ink_names.h"

#include <algorithm>

namespace bichrom::checks {

namespace {

/// Reports every object that names \p ink, or the page when none does by itself.
void report_users(CheckContext &c, const std::string &subject, const std::string &ink,
                  const std::string &measured, const std::string &limit, const std::string &title)
{
    bool any = false;
    for (const SceneObject &object : c.scene.objects) {
        const auto &names = object.colour.colorants;
        const bool named =
            names_inks(object.colour) && std::find(names.begin(), names.end(), ink) != names.end();
        const auto inks = inks_of(object.colour);
        const bool painted =
            std::any_of(inks.begin(), inks.end(), [&](const auto &part) { return part.first == ink; });
        if (named || painted) {
            c.report(subject, object, measured, 0, limit, title);
            any = true;
        }
    }
    if (!any) {
        c.report(subject, FindingPlace{-1, {}, measured}, 0, limit, title);
    }
}

} // namespace

void ink_count(CheckContext &c)
{
    const auto count = static_cast<int>(c.scene.inks.size());
    if (count > c.rules.press.units) {
        std::string names;
        for (const FoundInk &ink : c.scene.inks) {
            names += (names.empty() ? "" : ", ") + ink.name;
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
    const std::vector<FoundInk> &inks = c.scene.inks;
    for (std::size_t i = 0; i < inks.size(); ++i) {
        for (std::size_t k = i + 1; k < inks.size(); ++k) {
            const NameLikeness likeness = compare_names(inks[i].name, inks[k].name);
            if (likeness != NameLikeness::Different) {
                report_users(c, inks[i].name + " / " + inks[k].name, inks[k].name, describe(likeness), {},
                             "One ink under two names? " + inks[i].name + " and " + inks[k].name);
            }
        }
    }
}

} // namespace bichrom::checks
