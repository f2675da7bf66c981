#include "cli/commands.h"
#include "cli/console.h"
#include "cli/fit_options.h"
#include "cli/report.h"
#include "core/fit/slip_test.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <cmath>
#include <optional>

namespace bichrom {

namespace {

using nlohmann::json;

/// Without rounding noise.
double rounded(double value)
{
    return std::round(value * 1000) / 1000;
}

/// "INK=DX,DY[,TURN[,STRETCH%]]" taken apart.
Outcome<Slip> parse_slip(const std::string &text)
{
    const Error bad{ErrorCode::OutOfRange,
                    "'" + text + "' is no slip.",
                    {},
                    "Write, for example, --shift \"Luna Green=0.2mm,-0.1mm,0.1,0.05%\": right, down, degrees "
                    "clockwise, percent grown."};
    const std::size_t sign = text.rfind('=');
    if (sign == std::string::npos || sign == 0) {
        return bad;
    }
    const auto parts = CLI::detail::split(text.substr(sign + 1), ',');
    if (parts.size() < 2 || parts.size() > 4) {
        return bad;
    }
    Slip made;
    made.ink = text.substr(0, sign);
    const auto x = parse_length(parts[0], LengthUnit::Millimetre);
    const auto y = parse_length(parts[1], LengthUnit::Millimetre);
    if (!x || !y) {
        return bad;
    }
    made.x = x->value;
    made.y = y->value;
    const auto number = [&](std::size_t at, const std::string &unit, double &to) {
        if (at >= parts.size()) {
            return true;
        }
        std::string part = parts[at];
        if (part.size() > unit.size() && part.substr(part.size() - unit.size()) == unit) {
            part.resize(part.size() - unit.size());
        }
        const auto value = parse_number(part);
        to = value ? *value : 0;
        return static_cast<bool>(value);
    };
    if (!number(2, "°", made.degrees) || !number(3, "%", made.stretch)) {
        return bad;
    }
    return made;
}

class SlipCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("slip", "Tell what shows when plates move against each other");
        sub->add_option("FILE", m_file, "A .bichrom job, or artwork")->required();
        sub->add_option("--page", m_page, "Page number, from 1");
        sub->add_option("--password", m_password, "For an encrypted file");
        auto *shift =
            sub->add_option("--shift", m_shifts,
                            "INK=DX,DY[,TURN[,STRETCH%]]: how a plate has moved, to the right and down, "
                            "turned clockwise in degrees, grown in percent; may be given many times")
                ->allow_extra_args(false);
        sub->add_option("--within", m_within, "How far any one plate may move, such as 0.3mm")
            ->excludes(shift);
        sub->add_option("--dpi", m_dpi,
                        "Resolution of the test (450 to 900, where slip and traps are whole pixels)");
        m_fit.declare(*sub);
        sub->add_flag("--json", m_json, "As JSON");
        return sub;
    }

    int run() override
    {
        std::vector<Slip> slips;
        for (const std::string &text : m_shifts) {
            auto parsed = parse_slip(text);
            if (!parsed) {
                return report_error(parsed.error());
            }
            slips.push_back(std::move(*parsed));
        }
        std::optional<double> within;
        if (!m_within.empty()) {
            const auto length = parse_length(m_within, LengthUnit::Millimetre);
            if (!length) {
                return report_error(length.error());
            }
            within = length->value;
        }
        if (slips.empty() && !within) {
            return report_error(Error{ErrorCode::OutOfRange,
                                      "Nothing moves.",
                                      {},
                                      "Give --within 0.3mm, or --shift with an ink and lengths."});
        }
        if (const Done good = check_resolution(Dpi(m_dpi)); m_dpi != 0 && !good) {
            return report_error(good.error());
        }
        auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        auto job = m_fit.apply(std::move(opened->job));
        if (!job) {
            return report_error(job.error());
        }
        const JobControl control = progress_on_terminal("slip test");
        const auto page = opened->artwork->interpret(job->page, PageBox::Media, job->colours, control);
        if (!page) {
            return report_error(page.error());
        }
        const auto line = PlateLine::make(*page, setup_of(*job), control);
        if (!line) {
            return report_error(line.error());
        }
        const Dpi dpi = m_dpi != 0
                            ? Dpi(m_dpi)
                            : slip_resolution(job->traps, within ? *within : std::fabs(slips.front().x));
        const auto plates = slip_plates(**line, *job, dpi, control);
        if (!plates) {
            return report_error(plates.error());
        }
        const auto result = within ? slip_within(*plates, *within, control) : slip(*plates, slips, control);
        if (!result) {
            return report_error(result.error());
        }
        m_json ? print_json(*result) : print_words(*result);
        return exit_done;
    }

private:
    static void print_json(const SlipResult &result)
    {
        json pairs = json::array();
        for (const SlipPair &pair : result.pairs) {
            pairs.push_back({{"a", pair.moved},
                             {"b", pair.other},
                             {"shows", pair.base ? "base" : "stock"},
                             {"bare_mm2", rounded(pair.bare)},
                             {"darker_mm2", rounded(pair.darker)},
                             {"worst_mm", {rounded(pair.worst_x), rounded(pair.worst_y)}},
                             {"closing_mm", rounded(pair.closes)}});
        }
        const json root = {{"bare_mm2", rounded(result.bare)},
                           {"base_mm2", rounded(result.base)},
                           {"darker_mm2", rounded(result.darker)},
                           {"worst_mm", {rounded(result.worst_x), rounded(result.worst_y)}},
                           {"pairs", pairs}};
        say("%s\n", root.dump(2, ' ', false, json::error_handler_t::replace).c_str());
    }

    static void print_words(const SlipResult &result)
    {
        if (result.bare == 0 && result.base == 0) {
            say("No bare stock shows.\n");
        } else {
            say("Bare stock %.2f mm², white base %.2f mm²; most of it %.1f mm from the left, %.1f mm from "
                "the top.\n",
                result.bare, result.base, result.worst_x, result.worst_y);
        }
        for (const SlipPair &pair : result.pairs) {
            if (pair.bare > 0) {
                say("%s off %s: %s %.2f mm², worst at %.1f, %.1f mm; closed by %.2f mm\n", pair.moved.c_str(),
                    pair.other.c_str(), pair.base ? "base" : "stock", pair.bare, pair.worst_x, pair.worst_y,
                    pair.closes);
            }
        }
        if (result.darker > 0) {
            say("Plates newly lie on each other: %.2f mm².\n", result.darker);
        }
    }

    FitOptions m_fit;
    std::string m_file, m_within, m_password;
    std::vector<std::string> m_shifts;
    double m_dpi = 0;
    int m_page = 0;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_slip_command()
{
    return std::make_unique<SlipCommand>();
}

} // namespace bichrom
