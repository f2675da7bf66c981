#include "cli/screen_options.h"

#include "cli/words.h"
#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/job/curve_file.h"
#include "core/job/kept_sets.h"
#include "core/screen/tile_file.h"

#include <CLI/CLI.hpp>

#include <utility>

namespace bichrom {

void ScreenOptions::declare(CLI::App &command)
{
    command.add_option("--lpi", m_lpi, "Screen ruling of every plate in lines per inch (55)");
    command.add_option("--angle", m_angles, "INK=DEG: screen angle of one plate; may be given many times")
        ->allow_extra_args(false);
    command.add_option(
        "--dot", m_dot,
        "Dot shape of every plate: round, ellipse, square, diamond or line (round); or a grey PNG or "
        "TIFF, the shop's own tile, whose darker places take ink first");
    command.add_option(
        "--screen", m_screen,
        "How every plate is screened: am, fm (dots of one size, scattered), hybrid (on a "
        "lattice, whole dots drop out of lights and shadows), diffusion (for photographs), tile (the one "
        "of the job, or of --dot), or none (am)");
    command
        .add_option("--screen-of", m_screens,
                    "INK=KIND[@LPI[@DEG[@DOT]]]: of one plate; may be given many times")
        ->allow_extra_args(false);
    command.add_option("--least-dot", m_least,
                       "Smallest dot in pixels: a side with fm and diffusion (2), in all with hybrid (12)");
    command
        .add_option(
            "--curve", m_curves,
            "[INK=]FILE: what was measured, film and print in percent, a pair a line, or a CGATS "
            "table; films are made so that the print has the artwork's tones; may be given many times")
        ->allow_extra_args(false);
    command.add_option("--holds", m_holds,
                       "LEAST,MOST: percent on film that the press holds, such as 3,95; tones beyond them "
                       "drop and fill, or with a + before are brought to them");
}

Outcome<Job> ScreenOptions::apply(Job job) const
{
    if (const Done done = apply_screens(job); !done) {
        return done.error();
    }
    if (const Done done = apply_curves(job); !done) {
        return done.error();
    }
    return job;
}

Done ScreenOptions::apply_screens(Job &job) const
{
    const std::string ending = file_ending(m_dot);
    OwnTile tile;
    if (ending == ".png" || ending == ".tif" || ending == ".tiff") {
        auto read = read_tile_file(m_dot);
        if (!read) {
            return read.error();
        }
        tile = std::move(*read);
    }
    for (Plate &plate : job.plates) {
        if (m_lpi) {
            plate.screen.ruling = Lpi(*m_lpi);
        }
        if (!tile.empty()) {
            plate.screen.tile = tile;
            plate.screen.kind = ScreenKind::Tile;
        } else if (!m_dot.empty()) {
            const auto dot = parse_dot_shape(m_dot);
            if (!dot) {
                return dot.error();
            }
            plate.screen.dot = *dot;
        }
        if (!m_screen.empty()) {
            const auto kind = parse_screen_kind(m_screen);
            if (!kind) {
                return kind.error();
            }
            plate.screen.kind = *kind;
        }
        plate.screen.least_dot = m_least.value_or(plate.screen.least_dot);
    }
    const auto plate_of = [&](const std::string &ink) -> Outcome<Plate *> {
        const int plate = job.find_plate(ink);
        return plate < 0 ? Outcome<Plate *>(unknown_ink(job, ink))
                         : Outcome<Plate *>(&job.plates[static_cast<std::size_t>(plate)]);
    };
    for (const std::string &text : m_angles) {
        const auto parts = halves_at_last(text, '=');
        const auto angle = parts ? parse_number(parts->second) : Outcome<double>(Error{});
        if (!angle) {
            return usage_error("'" + text + "' is not an ink and an angle.",
                               "Write, for example, --angle \"Luna Green=22.5\".");
        }
        const auto plate = plate_of(parts->first);
        if (!plate) {
            return plate.error();
        }
        (*plate)->screen.angle = Degrees(*angle);
    }
    for (const std::string &text : m_screens) {
        const auto parts = halves_at_last(text, '=');
        const std::vector<std::string> words =
            parts ? CLI::detail::split(parts->second, '@') : std::vector<std::string>();
        const auto refuse = [&] {
            return usage_error("'" + text + "' is not an ink and its screen.",
                               "Write, for example, --screen-of \"Luna Green=am@65@22.5@ellipse\".");
        };
        if (!parts || words.empty() || words.size() > 4) {
            return refuse();
        }
        const auto plate = plate_of(parts->first);
        if (!plate) {
            return plate.error();
        }
        Screen &screen = (*plate)->screen;
        const auto kind = parse_screen_kind(words[0]);
        if (!kind) {
            return kind.error();
        }
        screen.kind = *kind;
        const auto ruling = words.size() > 1 ? parse_number(words[1]) : Outcome<double>(screen.ruling.value);
        const auto angle = words.size() > 2 ? parse_number(words[2]) : Outcome<double>(screen.angle.value);
        if (!ruling || !angle) {
            return refuse();
        }
        screen.ruling = Lpi(*ruling);
        screen.angle = Degrees(*angle);
        if (words.size() > 3) {
            const auto dot = parse_dot_shape(words[3]);
            if (!dot) {
                return dot.error();
            }
            screen.dot = *dot;
        }
    }
    return {};
}

Done ScreenOptions::apply_curves(Job &job) const
{
    for (const std::string &text : m_curves) {
        std::string file = text;
        int only = -1;
        // A file's name may hold '=': what stands before it must be an ink.
        if (const auto parts = halves_at_last(text, '='); parts && job.find_plate(parts->first) >= 0) {
            only = job.find_plate(parts->first);
            file = parts->second;
        } else if (parts && !std::filesystem::exists(text)) {
            return unknown_ink(job, parts->first);
        }
        const auto bytes = read_file(file);
        if (!bytes) {
            return bytes.error();
        }
        const std::string words(reinterpret_cast<const char *>(bytes->data()), bytes->size());
        const bool is_kept = !name_of_set(words).empty();
        PressCurve press;
        if (is_kept) {
            auto kept = read_press_curve(words, file);
            if (!kept) {
                return kept.error();
            }
            press = std::move(*kept);
        } else {
            auto curve = read_measured_curve(words, file);
            if (!curve) {
                return curve.error();
            }
            press.printed = std::move(curve->printed);
        }
        for (std::size_t i = 0; i < job.plates.size(); ++i) {
            if (only >= 0 && only != static_cast<int>(i)) {
                continue;
            }
            PressCurve &own = job.plates[i].press;
            if (is_kept) {
                own = press;
            } else {
                own.printed = press.printed;
            }
        }
    }
    if (!m_holds.empty()) {
        const bool hold = m_holds.front() == '+';
        const std::vector<std::string> parts = CLI::detail::split(m_holds.substr(hold ? 1 : 0), ',');
        const auto least = parts.size() == 2 ? parse_number(parts[0]) : Outcome<double>(Error{});
        const auto most = parts.size() == 2 ? parse_number(parts[1]) : Outcome<double>(Error{});
        if (!least || !most) {
            return usage_error("'" + m_holds + "' are no tones that hold.",
                               "Write, for example, --holds 3,95.");
        }
        for (Plate &plate : job.plates) {
            plate.press.least = *least / 100;
            plate.press.most = *most / 100;
            plate.press.hold = hold;
            if (const Done good = check_press_curve(plate.press); !good) {
                return good;
            }
        }
    }
    return {};
}

} // namespace bichrom
