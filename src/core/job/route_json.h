/// \file
/// Routes in the job's file.
/// Layer: core/job, private to the core.
#pragma once

#include "core/job/route.h"

#include <nlohmann/json_fwd.hpp>

#include <vector>

namespace bichrom {

[[nodiscard]] nlohmann::json routes_to_json(const std::vector<Route> &routes);

/// WrongFormat for unknown words; throws nlohmann's exceptions for what is missing or of another type.
[[nodiscard]] Outcome<std::vector<Route>> routes_from_json(const nlohmann::json &list);

} // namespace bichrom
