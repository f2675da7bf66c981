#include "cli/fit_options.h"

#include "cli/words.h"
#include "core/base/units.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <optional>
#include <utility>

namespace bichrom {

namespace {

Outcome<double> millimetres(const std::string &text)
{
    const auto length = parse_length(text, LengthUnit::Millimetre);
    if (!length) {
        return length.error();
    }
    return length->value;
}

} // namespace

void FitOptions::declare(CLI::App &command)
{
    command.add_option("--trap", m_trap,
                       "Width by which plates that meet overlap, such as 0.1mm or 0.3pt; 0 = none");
    command
        .add_option("--trap-pair", m_pairs,
                    "A,B=SIDE[@WIDTH]: two inks, and who spreads: usual, first, second, both or none; may be "
                    "given many times, and like those below turns traps on")
        ->allow_extra_args(false);
    command.add_option("--hold-back", m_hold_back, "What inks that support a black draw back from its edge");
    command.add_option("--base-choke", m_base_choke,
                       "What a white base draws back where it ends together with the colours on it");
    command
        .add_option(
            "--house-overprint", m_house,
            "Rules with commas between them: black-text[@POINTS], black-lines[@POINTS], white (knocks "
            "out), finishing (overprints), foil (knocks out)")
        ->allow_extra_args(false);
    command
        .add_option(
            "--prints", m_prints,
            "INK=overprint|knock-out|as-in-the-file: what prints on that plate; may be given many times")
        ->allow_extra_args(false);
}

Outcome<Job> FitOptions::apply(Job job) const
{
    auto next = trapped(std::move(job));
    return next ? overprinted(std::move(*next)) : next;
}

Outcome<Job> FitOptions::trapped(Job job) const
{
    TrapSettings &traps = job.traps;
    const auto read = [&](const std::string &text, double &length) -> Done {
        if (text.empty()) {
            return {};
        }
        const auto mm = millimetres(text);
        if (!mm) {
            return mm.error();
        }
        length = *mm;
        traps.on = true;
        return {};
    };
    for (const auto &[text, length] :
         {std::pair(&m_trap, &traps.width), std::pair(&m_hold_back, &traps.hold_back),
          std::pair(&m_base_choke, &traps.base_choke)}) {
        if (const Done done = read(*text, *length); !done) {
            return done.error();
        }
    }
    if (!m_trap.empty() && traps.width == 0 && m_hold_back.empty() && m_base_choke.empty() &&
        m_pairs.empty()) {
        traps.on = false;
    }
    for (const std::string &text : m_pairs) {
        const auto parts = halves_at_last(text, '=');
        const auto inks = parts ? halves_at_last(parts->first, ',') : std::nullopt;
        if (!inks) {
            return usage_error("'" + text + "' is no pair of inks and side.",
                               "Write, for example, --trap-pair \"Fern,Night Black=first@0.2mm\".");
        }
        TrapPair pair{CLI::detail::trim_copy(inks->first), CLI::detail::trim_copy(inks->second)};
        for (const std::string &ink : {pair.first, pair.second}) {
            if (job.find_plate(ink) < 0) {
                return unknown_ink(job, ink);
            }
        }
        std::string side = parts->second;
        if (const auto width = halves_at_last(side, '@')) {
            const auto mm = millimetres(width->second);
            if (!mm) {
                return mm.error();
            }
            pair.width = *mm;
            side = width->first;
        }
        const auto parsed = parse_trap_side(side);
        if (!parsed) {
            return parsed.error();
        }
        pair.side = *parsed;
        traps = with_pair(std::move(traps), std::move(pair));
        traps.on = true;
    }
    if (const Done good = check_traps(traps); !good) {
        return good.error();
    }
    return job;
}

Outcome<Job> FitOptions::overprinted(Job job) const
{
    HouseOverprint &house = job.overprint.house;
    for (const std::string &list : m_house) {
        for (const std::string &part : CLI::detail::split(list, ',')) {
            std::string rule = CLI::detail::trim_copy(part);
            std::optional<double> size;
            if (const auto sized = halves_at_last(rule, '@')) {
                const auto points = parse_number(sized->second);
                if (!points) {
                    return points.error();
                }
                size = *points;
                rule = sized->first;
            }
            if (rule == "black-text") {
                house.black_text = true;
                house.text_size = size.value_or(house.text_size);
            } else if (rule == "black-lines") {
                house.black_lines = true;
                house.line_width = size.value_or(house.line_width);
            } else if (rule == "white" && !size) {
                house.white_knocks_out = true;
            } else if (rule == "finishing" && !size) {
                house.finishing_overprints = true;
            } else if (rule == "foil" && !size) {
                house.foil_knocks_out = true;
            } else {
                return usage_error("'" + part + "' is no rule of overprint.",
                                   "Rules are black-text@12, black-lines@1, white, finishing and foil.");
            }
        }
    }
    for (const std::string &text : m_prints) {
        const auto parts = halves_at_last(text, '=');
        if (!parts) {
            return usage_error("'" + text + "' is no ink and way of printing.",
                               "Write, for example, --prints \"Night Black=overprint\".");
        }
        if (job.find_plate(parts->first) < 0) {
            return unknown_ink(job, parts->first);
        }
        std::string words = parts->second;
        std::replace(words.begin(), words.end(), '-', ' ');
        const auto wish = parse_overprint_wish(words);
        if (!wish) {
            return wish.error();
        }
        OverprintRule rule;
        rule.source.by = RouteBy::Ink;
        rule.source.name = parts->first;
        rule.wish = *wish;
        job.overprint = with_rule(std::move(job.overprint), std::move(rule));
    }
    if (const Done good = check_overprint(job.overprint); !good) {
        return good.error();
    }
    return job;
}

} // namespace bichrom
