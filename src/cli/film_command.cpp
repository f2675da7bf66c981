#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"
#include "cli/screen_options.h"
#include "cli/words.h"
#include "core/base/units.h"

#include <CLI/CLI.hpp>

#include <optional>

namespace bichrom {

namespace {

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
        m_screen.declare(*sub);
        sub->add_option("--format", m_format,
                        "tiff: a file for each film; pdf or ps: a page for each film (tiff)");
        sub->add_option("--box", m_box, "Page box to write: media, crop, bleed, trim or art (media)");
        m_sheet.declare(*sub);
        sub->add_option("--together", m_together,
                        "Several films on larger ones: WIDTHxHEIGHT, or WIDTH of a roll");
        sub->add_option("--between", m_between, "Length between films that share one (5mm)");
        sub->add_flag("--turned", m_turned, "Films that share one lie turned by 90 degrees");
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
        const auto together = films_together();
        if (!together) {
            return report_error(together.error());
        }
        request.together = *together;
        const auto written = write_pages(chosen->opened, chosen->pages, request, m_choice.accepted(),
                                         write_films, progress_on_terminal("films"));
        if (!written) {
            return report_error(written.error());
        }
        told.report_written(*written);
        return exit_done;
    }

private:
    Outcome<FilmsTogether> films_together() const
    {
        FilmsTogether on;
        if (m_together.empty()) {
            return on;
        }
        const auto parts = halves_at_first(m_together, 'x');
        const auto width = parse_length(parts ? parts->first : m_together, LengthUnit::Millimetre);
        const auto height = parse_length(parts ? parts->second : "0", LengthUnit::Millimetre);
        const auto gap = parse_length(m_between.empty() ? "5" : m_between, LengthUnit::Millimetre);
        constexpr double widest = 5000; // mm
        if (!width || !height || !gap || !(width->value > 0 && width->value <= widest) ||
            !(height->value >= 0 && height->value <= widest) || !(gap->value >= 0 && gap->value <= 500)) {
            return usage_error("'" + m_together + "' is no film that others share.",
                               "Write, for example, --together 610mmx900mm or, of a roll, --together 610mm.");
        }
        on.turned = m_turned;
        on.width = width->value;
        on.height = height->value;
        on.gap = gap->value;
        return on;
    }

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
        auto sheet = m_sheet.apply(std::move(film));
        if (!sheet) {
            return sheet.error();
        }
        film = std::move(*sheet);
        film.marks = film.marks && !m_no_marks;
        film.mirror = film.mirror || m_mirror;
        film.negative = film.negative || m_negative;
        auto screened = m_screen.apply(std::move(job));
        if (!screened) {
            return screened.error();
        }
        job = std::move(*screened);
        return {};
    }

    OutputChoice m_choice;
    SheetOptions m_sheet;
    ScreenOptions m_screen;
    std::string m_out, m_format, m_box, m_date, m_together, m_between;
    std::optional<double> m_dpi;
    bool m_no_marks = false, m_turned = false, m_mirror = false, m_negative = false;
};

} // namespace

std::unique_ptr<Command> make_film_command()
{
    return std::make_unique<FilmCommand>();
}

} // namespace bichrom
