#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"

#include <CLI/CLI.hpp>

#include <optional>

namespace bichrom {

namespace {

/// "INK=DEG" taken apart; the last '=' counts, since an ink's name may hold one.
std::optional<std::pair<std::string, double>> parse_angle(const std::string &text)
{
    const std::size_t sign = text.rfind('=');
    if (sign == std::string::npos || sign == 0) {
        return std::nullopt;
    }
    const auto degrees = parse_number(std::string_view(text).substr(sign + 1));
    if (!degrees) {
        return std::nullopt;
    }
    return std::pair(text.substr(0, sign), *degrees);
}

class FilmCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("film", "Write one 1-bit film for each plate, and manifest.json");
        m_choice.declare(*sub);
        m_choice.declare_sets(*sub);
        sub->add_option("--out", m_out, "Folder for the films; made when missing")->required();
        sub->add_option("--dpi", m_dpi, "Resolution in pixels per inch (1200)");
        sub->add_option("--lpi", m_lpi, "Screen ruling of every plate in lines per inch (55)");
        sub->add_option("--angle", m_angles, "INK=DEG: screen angle of one plate; may be given many times")
            ->allow_extra_args(false);
        sub->add_option("--dot", m_dot, "Dot shape of every plate: round, ellipse or line (round)");
        sub->add_option("--format", m_format, "tiff: a file for each film; pdf: a page for each film (tiff)");
        sub->add_option("--box", m_box, "Page box to write: media, crop, bleed, trim or art (media)");
        sub->add_flag("--no-marks", m_no_marks, "No registration marks, crop marks, wedge and label");
        sub->add_flag("--mirror", m_mirror, "Turn the films over left to right (wrong-reading)");
        sub->add_flag("--negative", m_negative, "Swap ink and bare film");
        sub->add_option("--date", m_date, "Date on the label (today)");
        return sub;
    }

    int run() override
    {
        auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        if (const Done done = apply_options(chosen->opened.job); !done) {
            return report_error(done.error());
        }
        OutputRequest request = m_choice.request(*chosen, m_out);
        request.label.date = m_date.empty() ? today() : m_date;
        const auto written = write_pages(chosen->opened, chosen->pages, request, m_choice.accepted(),
                                         write_films, progress_on_terminal("films"));
        if (!written) {
            return report_error(written.error());
        }
        told.report_written(*written);
        return exit_done;
    }

private:
    Done apply_options(Job &job) const
    {
        FilmOptions &film = job.film;
        if (m_dpi) {
            film.resolution = Dpi(*m_dpi);
        }
        if (!m_format.empty()) {
            const auto format = parse_film_format(m_format);
            if (!format) {
                return format.error();
            }
            film.format = *format;
        }
        if (!m_box.empty()) {
            const auto box = parse_page_box(m_box);
            if (!box) {
                return box.error();
            }
            film.box = *box;
        }
        film.marks = film.marks && !m_no_marks;
        film.mirror = film.mirror || m_mirror;
        film.negative = film.negative || m_negative;
        for (Plate &plate : job.plates) {
            if (m_lpi) {
                plate.screen.ruling = Lpi(*m_lpi);
            }
            if (!m_dot.empty()) {
                const auto dot = parse_dot_shape(m_dot);
                if (!dot) {
                    return dot.error();
                }
                plate.screen.dot = *dot;
            }
        }
        for (const std::string &text : m_angles) {
            const auto angle = parse_angle(text);
            if (!angle) {
                return Error{ErrorCode::OutOfRange,
                             "'" + text + "' is not an ink and an angle.",
                             {},
                             "Write, for example, --angle \"Luna Green=22.5\"."};
            }
            const int plate = job.find_plate(angle->first);
            if (plate < 0) {
                return unknown_ink(job, angle->first);
            }
            job.plates[static_cast<std::size_t>(plate)].screen.angle = Degrees(angle->second);
        }
        return {};
    }

    OutputChoice m_choice;
    std::string m_out, m_dot, m_format, m_box, m_date;
    std::optional<double> m_dpi, m_lpi;
    std::vector<std::string> m_angles;
    bool m_no_marks = false, m_mirror = false, m_negative = false;
};

} // namespace

std::unique_ptr<Command> make_film_command()
{
    return std::make_unique<FilmCommand>();
}

} // namespace bichrom
