/// \file
/// Named areas of a page as JSON, as jobs and kept sets hold them.
/// Layer: core/job, private to it.
#pragma once

#include "core/job/named_area.h"

#include <nlohmann/json_fwd.hpp>

namespace bichrom {

[[nodiscard]] nlohmann::json areas_to_json(const std::vector<NamedArea> &areas);
/// OutOfRange; throws as the JSON library does where something is missing.
[[nodiscard]] Outcome<std::vector<NamedArea>> areas_from_json(const nlohmann::json &entries);

} // namespace bichrom
