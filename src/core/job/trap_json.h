/// \file
/// Traps and decisions on overprint as JSON, as jobs hold them.
/// Layer: core/job, private to it.
#pragma once

#include "core/job/overprint.h"
#include "core/job/trap_settings.h"

#include <nlohmann/json_fwd.hpp>

namespace bichrom {

[[nodiscard]] nlohmann::json traps_to_json(const TrapSettings &traps);
/// WrongFormat, OutOfRange; throws as the JSON library does where something is missing.
[[nodiscard]] Outcome<TrapSettings> traps_from_json(const nlohmann::json &entry);

[[nodiscard]] nlohmann::json overprint_to_json(const OverprintSettings &settings);
/// As traps_from_json().
[[nodiscard]] Outcome<OverprintSettings> overprint_from_json(const nlohmann::json &entry);

} // namespace bichrom
