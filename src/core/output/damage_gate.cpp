#include "core/output/damage_gate.h"

#include <algorithm>

namespace bichrom {

Outcome<std::vector<std::string>> pass_damage(const PageContent &page, const Job &job)
{
    std::vector<std::string> all;
    std::string refused;
    int count = 0;
    for (const Damage &damage : page.damage()) {
        const std::string text = describe(damage);
        const bool accepted =
            std::any_of(job.accepted.begin(), job.accepted.end(), [&](const AcceptedFinding &one) {
                return one.check == damaged_check && one.page == job.page &&
                       one.subject == to_string(damage.kind);
            });
        constexpr int most_listed = 20;
        if (!accepted && ++count <= most_listed) {
            refused += "\n  " + text;
        }
        all.push_back(text);
    }
    if (count > 0) {
        return Error{
            ErrorCode::Damaged,
            "Not everything on the page could be read whole, and nobody has accepted that:" + refused + "\n",
            page.place(),
            "Ask the customer for a new file, or accept the finding with a reason in the stage "
            "Receive (on the command line with --accept-damage)."};
    }
    return all;
}

void accept_damage(Job &job, const std::string &reason)
{
    for (int kind = 0; kind <= static_cast<int>(DamageKind::Painting); ++kind) {
        job.accepted.push_back({damaged_check, job.page, to_string(static_cast<DamageKind>(kind)), reason});
    }
}

} // namespace bichrom
