/// \file
/// Outputs stop at damage that nobody has accepted.
/// Layer: core/output.
#pragma once

#include "core/artwork/artwork.h"
#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// What is damaged, a sentence each, when all of it is accepted (AcceptedFinding of damaged_check, by kind).
/// Damaged with the list when some is not.
[[nodiscard]] Outcome<std::vector<std::string>> pass_damage(const PageContent &page, const Job &job);

/// Accepts all damage of the page that the job is worked on.
void accept_damage(Job &job, const std::string &reason);

} // namespace bichrom
