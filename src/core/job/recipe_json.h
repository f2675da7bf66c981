/// \file
/// Recipes as JSON (docs/job-format.md).
/// Layer: core/job, private to it.
#pragma once

#include "core/base/outcome.h"
#include "core/job/recipe.h"

#include <nlohmann/json_fwd.hpp>

namespace bichrom {

[[nodiscard]] nlohmann::json recipe_to_json(const Recipe &recipe);

/// WrongFormat for steps unknown or impossible; throws nlohmann's exceptions for what is missing.
[[nodiscard]] Outcome<Recipe> recipe_from_json(const nlohmann::json &list);

[[nodiscard]] nlohmann::json mark_to_json(const ObjectMark &mark);
[[nodiscard]] Outcome<ObjectMark> mark_from_json(const nlohmann::json &entry);

} // namespace bichrom
