#include "core/preflight/deeds.h"

#include "core/colour/colour_difference.h"
#include "core/preflight/lost_artwork.h"

#include <algorithm>
#include <iterator>
#include <string_view>
#include <utility>

namespace bichrom {

namespace {

/// Checks about objects that stand on the wrong plates.
bool is_about_plates(const std::string &check)
{
    static constexpr std::string_view checks[] = {"process_in_spot_job", "unready_colour", "built_black",
                                                  "registration_colour", "ink_not_in_list"};
    return check == lost_check || std::find(std::begin(checks), std::end(checks), check) != std::end(checks);
}

std::vector<std::string> split(const std::string &text, const std::string &between)
{
    std::vector<std::string> parts;
    std::size_t from = 0;
    for (std::size_t at = text.find(between); at != std::string::npos; at = text.find(between, from)) {
        parts.push_back(text.substr(from, at - from));
        from = at + between.size();
    }
    parts.push_back(text.substr(from));
    return parts;
}

Deed merge(const std::string &from, const std::string &into)
{
    return {Deed::Does::Merge, {}, from, into, false, "Print " + from + " as " + into};
}

/// A deed about the finding's objects in \p scene; about none when it lists none.
Deed about_objects(const Finding &finding, const Scene &scene)
{
    Deed deed;
    for (const FindingPlace &place : finding.places) {
        if (place.object >= 0 && place.object < static_cast<int>(scene.objects.size()) &&
            std::find(deed.objects.begin(), deed.objects.end(), place.object) == deed.objects.end()) {
            deed.objects.push_back(place.object);
        }
    }
    return deed;
}

/// "this object", "these 4 objects", "the first 200 objects"
std::string words_of(const Finding &finding, const Deed &deed)
{
    const bool all = finding.places_in_all <= static_cast<int>(finding.places.size());
    return deed.objects.size() == 1
               ? "this object"
               : (all ? "these " : "the first ") + std::to_string(deed.objects.size()) + " objects";
}

/// What lets the finding's objects overprint or knock out, where that solves it.
std::vector<Deed> overprints(const Finding &finding, const Scene &scene)
{
    static constexpr std::pair<std::string_view, Deed::Does> checks[] = {
        {"black_knocks_out", Deed::Does::Overprint},
        {"finish_knocks_out", Deed::Does::Overprint},
        {"white_knocked_out", Deed::Does::Overprint},
        {"white_overprints", Deed::Does::KnockOut},
        {"overprint_vanishes", Deed::Does::KnockOut}};
    const auto known = std::find_if(std::begin(checks), std::end(checks),
                                    [&](const auto &one) { return finding.check == one.first; });
    Deed deed = about_objects(finding, scene);
    if (known == std::end(checks) || deed.objects.empty()) {
        return {};
    }
    deed.does = known->second;
    deed.words =
        "Let " + words_of(finding, deed) + (deed.does == Deed::Does::Overprint ? " overprint" : " knock out");
    return {deed};
}

std::vector<Deed> sends(const Finding &finding, const Job &job, const Scene &scene, const std::string &chosen)
{
    Deed deed = about_objects(finding, scene);
    if (deed.objects.empty()) {
        return {};
    }
    const std::string what = "Send " + words_of(finding, deed) + " to ";
    deed.own_tint = std::all_of(deed.objects.begin(), deed.objects.end(), [&](int object) {
        return scene.objects[static_cast<std::size_t>(object)].colour.colorants.size() == 1;
    });
    const SceneObject &first = scene.objects[static_cast<std::size_t>(deed.objects.front())];
    const Lab seen = scene.colours[static_cast<std::size_t>(first.colour_number)].appearance;
    std::vector<const Plate *> plates; // those the artwork or the artist makes, the likeliest first
    for (const Plate &plate : job.plates) {
        const bool stray = finding.check == "process_in_spot_job" && process_channel(plate.ink) >= 0;
        if (!stray && plate.recipe.empty()) {
            plates.push_back(&plate);
        }
    }
    std::stable_sort(plates.begin(), plates.end(), [&](const Plate *a, const Plate *b) {
        const bool a_chosen = a->ink == chosen, b_chosen = b->ink == chosen;
        return a_chosen != b_chosen ? a_chosen : ciede2000(a->shown(), seen) < ciede2000(b->shown(), seen);
    });
    std::vector<Deed> deeds;
    for (const Plate *plate : plates) {
        deed.into = plate->ink;
        deed.words = what + plate->ink;
        deeds.push_back(deed);
    }
    return deeds;
}

} // namespace

std::vector<Deed> deeds_for(const Finding &finding, const Job &job, const Scene &scene,
                            const std::string &chosen)
{
    if (finding.is_solved()) {
        return {};
    }
    if (is_about_plates(finding.check)) {
        return sends(finding, job, scene, chosen);
    }
    std::vector<Deed> deeds = overprints(finding, scene);
    if (finding.check == "process_as_spot" && job.find_plate(finding.subject) >= 0) {
        deeds.push_back(merge(finding.subject, finding.limit));
    }
    if (finding.check == "ink_twice") {
        const std::vector<std::string> names = split(finding.subject, " / ");
        for (const std::string &into : names) {
            for (const std::string &from : names) {
                if (from != into && job.find_plate(from) >= 0 && job.find_plate(into) >= 0) {
                    deeds.push_back(merge(from, into));
                }
            }
        }
    }
    return deeds;
}

} // namespace bichrom
