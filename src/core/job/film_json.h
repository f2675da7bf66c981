/// \file
/// Settings of films, of screens and of what becomes of tones in print as JSON, as jobs hold them.
/// Layer: core/job, private to it.
#pragma once

#include "core/job/film_settings.h"
#include "core/job/screen_settings.h"

#include <nlohmann/json_fwd.hpp>

namespace bichrom {

[[nodiscard]] nlohmann::json film_to_json(const FilmOptions &film);
/// WrongFormat, OutOfRange; throws as the JSON library does where something is missing.
[[nodiscard]] Outcome<FilmOptions> film_from_json(const nlohmann::json &entry);

[[nodiscard]] nlohmann::json marks_to_json(const MarkSet &marks);
/// As film_from_json().
[[nodiscard]] Outcome<MarkSet> marks_from_json(const nlohmann::json &entry);

/// Adds the keys of a screen and its curve to the entry of a plate.
void add_screen_json(nlohmann::json &plate, const Screen &screen, const PressCurve &press);
/// As film_from_json().
[[nodiscard]] Done read_screen_json(const nlohmann::json &plate, Screen &screen, PressCurve &press);

} // namespace bichrom
