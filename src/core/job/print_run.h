/// \file
/// What is printed with a job's films, for its ticket.
/// Layer: core/job. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace bichrom {

/// How many pieces, how fast, and what things cost; 0 and empty = not said, then the ticket leaves it out.
struct PrintRun
{
    int pieces = 0;               ///< 0 to 10 million; of a film that holds several copies each is a piece
    double pieces_per_hour = 0;   ///< of the press, 0 to 100 000
    double minutes_per_plate = 0; ///< to set a plate up and take it off again, 0 to 1000
    double film_price = 0;        ///< of a square metre
    double ink_price = 0;         ///< of a kilogram
    double hour_price = 0;        ///< of the press
    std::string currency{};       ///< as written behind an amount
    std::string note{};           ///< to the printer
    friend bool operator==(const PrintRun &, const PrintRun &) = default;
};

/// OutOfRange for a number beyond its limits.
[[nodiscard]] Done check_run(const PrintRun &run);

[[nodiscard]] nlohmann::json run_to_json(const PrintRun &run);
/// OutOfRange; throws as the JSON library does where something is missing.
[[nodiscard]] Outcome<PrintRun> run_from_json(const nlohmann::json &entry);

} // namespace bichrom
