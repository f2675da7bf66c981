#include "core/job/savings.h"

#include "core/job/edits/plates.h"

#include "core/artwork/found_colours.h"
#include "core/colour/colour_difference.h"
#include "core/job/routing.h"

#include <algorithm>
#include <map>
#include <set>

namespace bichrom {

namespace {

/// What is left of a name without case, blanks and marks.
std::string bare_name(const std::string &name)
{
    std::string bare;
    for (const char c : name) {
        if (c >= 'A' && c <= 'Z') {
            bare += static_cast<char>(c - 'A' + 'a');
        } else if ((c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') ||
                   static_cast<unsigned char>(c) >= 0x80) {
            bare += c;
        }
    }
    return bare;
}

Route ink_to(const std::string &from, const std::string &to, int artwork)
{
    Route route;
    route.artwork = artwork;
    route.by = RouteBy::Ink;
    route.name = from;
    route.targets = {{to, true, 1.0, {}}};
    return route;
}

class Proposer
{
public:
    Proposer(const Scene &scene, const Job &job, const std::vector<double> &areas)

    {
        each_reach(scene, job, [&](int colour, const Reach &reach) {
            const auto number = static_cast<std::size_t>(colour);
            for (const InkAmount &one : reach.plates) {
                if (m_users[one.ink].insert(colour).second && number < areas.size() && areas[number] > 0.0) {
                    m_area[one.ink] += areas[number];
                }
            }
        });
        m_known_areas = !areas.empty();
    }

    [[nodiscard]] bool is_used(const std::string &ink) const { return m_users.count(ink) > 0; }
    [[nodiscard]] double area(const std::string &ink) const
    {
        const auto found = m_area.find(ink);
        return found == m_area.end() ? 0.0 : found->second;
    }
    [[nodiscard]] bool knows_areas() const { return m_known_areas; }

private:
    std::map<std::string, std::set<int>> m_users; ///< colours on each plate
    std::map<std::string, double> m_area;
    bool m_known_areas = false;
};

/// Moves everything on the plate \p from to \p to: its ink's route, and the routes that print on it.
Saving move_plate(const Scene &scene, const Job &job, const Proposer &proposer, const Plate &from,
                  const Plate &to)
{
    Saving saving;
    saving.frees = {from.ink};
    saving.difference = ciede2000(from.solid, to.solid);
    saving.square_cm = proposer.area(from.ink);
    for (const int artwork : artworks_with(scene, from.ink)) {
        if (ink_route(job.routes, from.ink, job.page, artwork) < 0) {
            saving.routes.push_back(ink_to(from.ink, to.ink, artwork));
        }
    }
    for (const Route &route : job.routes) {
        Route moved = route;
        bool touches = false;
        for (RouteTarget &target : moved.targets) {
            if (target.ink == from.ink) {
                target.ink = to.ink;
                touches = true;
            }
        }
        if (touches) {
            saving.routes.push_back(std::move(moved));
        }
    }
    return saving;
}

} // namespace

std::vector<Saving> propose_savings(const Scene &scene, const Job &job, const std::vector<double> &areas,
                                    double alike, double small)
{
    const Proposer proposer(scene, job, areas);
    std::vector<const Plate *> spots;
    for (const Plate &plate : job.plates) {
        if (plate.kind == InkUse::Spot && proposer.is_used(plate.ink)) {
            spots.push_back(&plate);
        }
    }
    // The plate that covers more stays.
    std::stable_sort(spots.begin(), spots.end(), [&](const Plate *a, const Plate *b) {
        return proposer.area(a->ink) > proposer.area(b->ink);
    });
    std::vector<Saving> savings;
    for (std::size_t i = 1; i < spots.size(); ++i) {
        const Plate &from = *spots[i];
        const Plate *nearest = nullptr;
        const Plate *same = nullptr;
        for (std::size_t k = 0; k < spots.size(); ++k) {
            const Plate &other = *spots[k];
            if (k == i) {
                continue;
            }
            if (k < i && same == nullptr && bare_name(other.ink) == bare_name(from.ink)) {
                same = &other;
            }
            if (nearest == nullptr ||
                ciede2000(from.solid, other.solid) < ciede2000(from.solid, nearest->solid)) {
                nearest = &other;
            }
        }
        const bool is_small = proposer.knows_areas() && proposer.area(from.ink) < small;
        const bool nearest_stays =
            nearest != nullptr && std::find(spots.begin(), spots.begin() + static_cast<std::ptrdiff_t>(i),
                                            nearest) != spots.begin() + static_cast<std::ptrdiff_t>(i);
        Saving saving;
        if (same != nullptr) {
            saving = move_plate(scene, job, proposer, from, *same);
            saving.kind = Saving::Kind::SameName;
            saving.what = from.ink + " and " + same->ink + " are one ink by their names.";
        } else if (nearest_stays && ciede2000(from.solid, nearest->solid) <= alike) {
            saving = move_plate(scene, job, proposer, from, *nearest);
            saving.kind = Saving::Kind::AlikeInks;
            saving.what = from.ink + " looks like " + nearest->ink + ": one ink can print both.";
        } else if (is_small && nearest != nullptr) {
            saving = move_plate(scene, job, proposer, from, *nearest);
            saving.kind = Saving::Kind::SmallInk;
            saving.what = from.ink + " covers only " + format_number(proposer.area(from.ink), 2) +
                          " cm² and takes a press unit; " + nearest->ink + " is the nearest ink.";
        } else {
            continue;
        }
        savings.push_back(std::move(saving));
    }
    // Process builds that are meant as one of the spots.
    const std::vector<std::string> plates = job.inks();
    for (const Plate *spot : spots) {
        Saving saving;
        saving.kind = Saving::Kind::BuildIsSpot;
        int builds = 0;
        for (std::size_t number = 0; number < scene.colours.size(); ++number) {
            const FoundColour &colour = scene.colours[number];
            if (colour.colour.values.empty() || colour.inks.size() < 2) {
                continue;
            }
            const bool process =
                std::all_of(colour.inks.begin(), colour.inks.end(),
                            [](const InkAmount &ink) { return process_channel(ink.ink) >= 0; });
            const Reach reach = reach_of({job.page, -1, {}, &colour}, job.routes, plates);
            const double difference = ciede2000(colour.appearance, spot->solid);
            if (!process || reach.route >= 0 || reach.plates.size() < 2 || difference > alike) {
                continue;
            }
            Route route = route_from(scene, job.page, {static_cast<int>(number)}, 0);
            route.targets = {{spot->ink, false, 1.0, {}}};
            saving.routes.push_back(std::move(route));
            saving.difference = std::max(saving.difference, difference);
            saving.square_cm += number < areas.size() ? std::max(0.0, areas[number]) : 0.0;
            ++builds;
        }
        if (builds > 0) {
            saving.what = (builds == 1 ? std::string("A colour built from process inks looks")
                                       : std::to_string(builds) + " colours built from process inks look") +
                          " like " + spot->ink + ": the spot ink can print " +
                          (builds == 1 ? "it." : "them.");
            savings.push_back(std::move(saving));
        }
    }
    for (Saving &saving : savings) {
        const Job after = with_saving(job, saving);
        for (const std::string &idle : idle_plates(scene, after)) {
            const bool listed =
                std::find(saving.frees.begin(), saving.frees.end(), idle) != saving.frees.end();
            if (!listed && proposer.is_used(idle)) {
                saving.frees.push_back(idle);
            }
        }
    }
    std::stable_sort(savings.begin(), savings.end(), [](const Saving &a, const Saving &b) {
        return std::pair(a.frees.empty(), a.difference) < std::pair(b.frees.empty(), b.difference);
    });
    return savings;
}

Job with_saving(Job job, const Saving &saving)
{
    for (const Route &route : saving.routes) {
        job = with_route(std::move(job), route);
    }
    for (const std::string &ink : saving.frees) {
        const auto route = std::find_if(saving.routes.begin(), saving.routes.end(), [&](const Route &one) {
            return one.by == RouteBy::Ink && one.name == ink && one.targets.size() == 1;
        });
        auto merged = route == saving.routes.end() ? Outcome<Job>(Error{})
                                                   : merge_plates(job, ink, route->targets.front().ink);
        job = merged ? std::move(*merged) : remove_plate(std::move(job), ink, false); // other plates print it
    }
    return job;
}

Reduction reduce_to(const Scene &scene, Job job, const std::vector<double> &areas, std::size_t plates,
                    double alike, double small)
{
    Reduction reduction{std::move(job), {}};
    while (reduction.job.plates.size() > plates) {
        std::vector<Saving> savings = propose_savings(scene, reduction.job, areas, alike, small);
        if (savings.empty()) {
            break;
        }
        reduction.job = with_saving(std::move(reduction.job), savings.front());
        reduction.taken.push_back(std::move(savings.front()));
    }
    return reduction;
}

} // namespace bichrom
