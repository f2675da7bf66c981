#include "core/job/print_run.h"

#include <nlohmann/json.hpp>

namespace bichrom {

Done check_run(const PrintRun &run)
{
    const auto within = [](double value, double most) { return value >= 0 && value <= most; };
    constexpr double most_money = 1e9;
    if (!within(run.pieces, 1e7) || !within(run.pieces_per_hour, 1e5) ||
        !within(run.minutes_per_plate, 1e3) || !within(run.film_price, most_money) ||
        !within(run.ink_price, most_money) || !within(run.hour_price, most_money)) {
        return Error{ErrorCode::OutOfRange,
                     "The number of pieces, the speed, the times or the prices cannot be.",
                     {},
                     "Up to 10 million pieces, 100 000 an hour, 1000 minutes a plate; prices from 0."};
    }
    return {};
}

nlohmann::json run_to_json(const PrintRun &run)
{
    return {{"pieces", run.pieces},
            {"pieces_per_hour", run.pieces_per_hour},
            {"minutes_per_plate", run.minutes_per_plate},
            {"film_price_m2", run.film_price},
            {"ink_price_kg", run.ink_price},
            {"hour_price", run.hour_price},
            {"currency", run.currency},
            {"note", run.note}};
}

Outcome<PrintRun> run_from_json(const nlohmann::json &entry)
{
    const PrintRun run{entry.at("pieces").get<int>(),
                       entry.at("pieces_per_hour").get<double>(),
                       entry.at("minutes_per_plate").get<double>(),
                       entry.at("film_price_m2").get<double>(),
                       entry.at("ink_price_kg").get<double>(),
                       entry.at("hour_price").get<double>(),
                       entry.at("currency").get<std::string>(),
                       entry.at("note").get<std::string>()};
    if (const Done good = check_run(run); !good) {
        return good.error();
    }
    return run;
}

} // namespace bichrom
