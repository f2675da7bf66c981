#include "core/preflight/finding_groups.h"

#include <algorithm>
#include <set>

namespace bichrom {

std::vector<FindingGroup> group_findings(const std::vector<Finding> &findings,
                                         const std::vector<AcceptedFinding> &accepted)
{
    std::vector<FindingGroup> groups;
    for (std::size_t i = 0; i < findings.size(); ++i) {
        const Finding &finding = findings[i];
        auto group = std::find_if(groups.begin(), groups.end(), [&](const FindingGroup &one) {
            const Finding &first = findings[static_cast<std::size_t>(one.findings.front())];
            return first.check == finding.check && first.subject == finding.subject &&
                   first.title == finding.title && first.severity == finding.severity &&
                   first.is_solved() == finding.is_solved();
        });
        if (group == groups.end()) {
            groups.emplace_back();
            group = groups.end() - 1;
            group->accepted = true;
        }
        group->findings.push_back(static_cast<int>(i));
        group->solved = finding.is_solved();
        group->muted = finding.muted;
        group->places += std::max(finding.places_in_all, static_cast<int>(finding.places.size()));
        const auto with_object =
            static_cast<int>(std::count_if(finding.places.begin(), finding.places.end(),
                                           [](const auto &place) { return place.object >= 0; }));
        const bool all = with_object == static_cast<int>(finding.places.size());
        group->objects += all ? std::max(finding.places_in_all, with_object) : with_object;
        group->accepted =
            group->accepted && std::any_of(accepted.begin(), accepted.end(),
                                           [&](const auto &one) { return covers(one, finding); });
    }
    for (FindingGroup &group : groups) {
        std::set<int> pages;
        for (const int finding : group.findings) {
            pages.insert(findings[static_cast<std::size_t>(finding)].page);
        }
        group.pages = static_cast<int>(pages.size());
    }
    return groups;
}

std::string count_text(const FindingGroup &group, int pages_in_file)
{
    const auto counted = [](int count, const char *one) {
        return std::to_string(count) + " " + one + (count == 1 ? "" : "s");
    };
    const bool all_objects = group.objects == group.places;
    const std::string what = counted(group.places, all_objects ? "object" : "place");
    return pages_in_file > 1 ? what + " on " + counted(group.pages, "page") : what;
}

} // namespace bichrom
