/// \file
/// What is known of an ink, as JSON (docs/job-format.md).
/// Layer: core/job, private to it.
#pragma once

#include "core/base/outcome.h"
#include "core/colour/ink_traits.h"

#include <nlohmann/json_fwd.hpp>

namespace bichrom {

[[nodiscard]] nlohmann::json traits_to_json(const InkTraits &traits);

/// WrongFormat for values that cannot be; throws nlohmann's exceptions for what is missing.
[[nodiscard]] Outcome<InkTraits> traits_from_json(const nlohmann::json &entry);

[[nodiscard]] nlohmann::json curve_to_json(const ToneCurve &curve);
[[nodiscard]] Outcome<ToneCurve> curve_from_json(const nlohmann::json &points);

} // namespace bichrom
