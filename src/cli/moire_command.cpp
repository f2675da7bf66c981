#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "cli/screen_options.h"
#include "core/colour/colour_settings.h"
#include "core/job/job_file.h"
#include "core/screen/moire_survey.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <cmath>
#include <optional>

namespace bichrom {

namespace {

using nlohmann::json;

/// "77/cm@22.5@48um": threads, their angle, their diameter.
Outcome<Mesh> parse_mesh(const std::string &text)
{
    const Error bad{ErrorCode::OutOfRange,
                    "'" + text + "' is no mesh.",
                    {},
                    "Write, for example, --mesh 77/cm@0 or --mesh 195/in@22.5@55um."};
    std::vector<std::string> parts = CLI::detail::split(text, '@');
    if (parts.empty() || parts.size() > 3) {
        return bad;
    }
    const auto cut = [](std::string &word, const std::string &end) {
        const bool found = word.size() > end.size() && word.substr(word.size() - end.size()) == end;
        if (found) {
            word.resize(word.size() - end.size());
        }
        return found;
    };
    const bool inches = cut(parts[0], "/in");
    if (!inches) {
        cut(parts[0], "/cm");
    }
    Mesh mesh;
    const auto threads = parse_number(parts[0]);
    if (parts.size() > 1) {
        cut(parts[1], "°");
    }
    const auto angle = parts.size() > 1 ? parse_number(parts[1]) : Outcome<double>(0.0);
    if (parts.size() > 2) {
        cut(parts[2], "um");
        cut(parts[2], "µm");
    }
    const auto thread = parts.size() > 2 ? parse_number(parts[2]) : Outcome<double>(0.0);
    if (!threads || !angle || !thread || !(*threads > 0 && *threads <= 2000) || !(std::fabs(*angle) <= 360) ||
        !(*thread >= 0 && *thread <= 1000)) {
        return bad;
    }
    mesh.per_cm = inches ? *threads * 10 / millimetres_per_inch : *threads;
    mesh.angle = *angle;
    mesh.thread_um = *thread;
    return mesh;
}

class MoireCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub =
            app.add_subcommand("moire", "Tell which screens of a job beat, and propose better angles");
        sub->add_option("JOB", m_file, "A .bichrom job, or artwork")->required();
        sub->add_option("--page", m_page, "Page number, from 1");
        sub->add_option("--password", m_password, "For an encrypted file");
        sub->add_option("--mesh", m_mesh, "THREADS/cm[@DEG[@THREADum]]: the mesh it is printed through");
        sub->add_option("--hold", m_held, "An ink whose angle stays; may be given many times")
            ->allow_extra_args(false);
        sub->add_option("--viewing", m_viewing, "Distance it is looked at from, such as 50cm (500mm)");
        m_screen.declare(*sub);
        sub->add_flag("--json", m_json, "As JSON");
        return sub;
    }

    int run() override
    {
        std::optional<Mesh> mesh;
        if (!m_mesh.empty()) {
            const auto parsed = parse_mesh(m_mesh);
            if (!parsed) {
                return report_error(parsed.error());
            }
            mesh = *parsed;
        }
        const auto viewing = parse_length(m_viewing, LengthUnit::Millimetre);
        if (!viewing || !(viewing->value >= 50 && viewing->value <= 1e6)) {
            return report_error(Error{ErrorCode::OutOfRange,
                                      "'" + m_viewing + "' is no distance to look from.",
                                      {},
                                      "Give 50 mm to 1 km."});
        }
        auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        auto screened = m_screen.apply(std::move(opened->job));
        if (!screened) {
            return report_error(screened.error());
        }
        const Job job = std::move(*screened);
        for (const std::string &ink : m_held) {
            if (job.find_plate(ink) < 0) {
                return report_error(unknown_ink(job, ink));
            }
        }
        const JobControl control = progress_on_terminal("moiré");
        const auto page = opened->artwork->interpret(job.page, PageBox::Media, job.colours, control);
        if (!page) {
            return report_error(page.error());
        }
        const auto line = PlateLine::make(*page, setup_of(job), control);
        if (!line) {
            return report_error(line.error());
        }
        const auto condition = condition_of(job.colours);
        if (!condition) {
            return report_error(condition.error());
        }
        const auto periods = find_art_periods(**line, control);
        if (!periods) {
            return report_error(periods.error());
        }
        const auto survey =
            survey_moire(**line, job, **condition, *periods, mesh, m_held, viewing->value, control);
        if (!survey) {
            return report_error(survey.error());
        }
        m_json ? print_json(*survey) : print_words(*survey);
        return exit_done;
    }

private:
    static json period_of(const Beat &beat)
    {
        return std::isfinite(beat.period_mm) ? json(std::round(beat.period_mm * 1000) / 1000) : json();
    }

    static void print_json(const MoireSurvey &survey)
    {
        json pairs = json::array();
        for (const MoirePair &pair : survey.pairs) {
            json entry = {{"a", pair.a},
                          {"b", pair.b},
                          {"period_mm", period_of(pair.beat)},
                          {"strength", std::round(pair.beat.strength * 1e4) / 1e4},
                          {"badness", std::round(pair.beat.badness * 1e4) / 1e4},
                          {"meet", pair.meet}};
            if (pair.b == "artwork") {
                entry["artwork_of"] = pair.art_of;
                entry["lpi"] = std::round(pair.task.other->ruling * 100) / 100;
                entry["angle"] = std::round(pair.task.other->angle * 100) / 100;
            }
            if (pair.unseen_angle) {
                entry["unseen_angle"] = *pair.unseen_angle;
            }
            if (pair.has_place()) {
                entry["worst_mm"] = {std::round(pair.worst_x * 10) / 10, std::round(pair.worst_y * 10) / 10};
            }
            pairs.push_back(std::move(entry));
        }
        const json root = {{"pairs", pairs},
                           {"proposed", survey.proposed},
                           {"badness", std::round(survey.badness * 1e4) / 1e4},
                           {"badness_proposed", std::round(survey.badness_proposed * 1e4) / 1e4}};
        say("%s\n", root.dump(2, ' ', false, json::error_handler_t::replace).c_str());
    }

    static void print_words(const MoireSurvey &survey)
    {
        if (survey.pairs.empty()) {
            say("No two screens have an angle: nothing beats.\n");
        }
        for (const MoirePair &pair : survey.pairs) {
            const std::string other = pair.b != "artwork"     ? pair.b
                                      : pair.art_of == pair.a ? "its artwork"
                                                              : "the artwork of " + pair.art_of;
            if (!pair.meet) {
                say("%s and %s do not print on each other.\n", pair.a.c_str(), other.c_str());
            } else {
                say("%s and %s: bands %.2f mm apart, strength %.3f%s\n", pair.a.c_str(), other.c_str(),
                    pair.beat.period_mm, pair.beat.strength,
                    pair.beat.badness < seen_badness ? ""
                    : pair.unseen_angle ? ("; to be seen, " + (pair.task.other ? pair.a : pair.b) +
                                           " not from " + format_number(*pair.unseen_angle, 1) + "° on")
                                              .c_str()
                                        : "; to be seen");
            }
        }
        if (survey.badness_proposed < 0.95 * survey.badness) {
            say("Better angles (%.2f instead of %.2f):", survey.badness_proposed, survey.badness);
            for (const auto &[ink, angle] : survey.proposed) {
                say(" %s %.1f°", ink.c_str(), angle);
            }
            say("\n");
        } else if (!survey.pairs.empty()) {
            say("No better angles were found.\n");
        }
    }

    ScreenOptions m_screen;
    std::string m_file, m_mesh, m_password, m_viewing = "500mm";
    std::vector<std::string> m_held;
    int m_page = 0;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_moire_command()
{
    return std::make_unique<MoireCommand>();
}

} // namespace bichrom
