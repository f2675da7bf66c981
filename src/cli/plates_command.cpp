#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"

#include <CLI/CLI.hpp>

namespace bichrom {

namespace {

class PlatesCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("plates", "Write the plates as 8-bit TIFF, and manifest.json");
        m_choice.declare(*sub);
        m_choice.declare_sets(*sub);
        sub->add_option("--out", m_out, "Folder for the plates; made when missing")->required();
        sub->add_option("--dpi", m_dpi, "Resolution in pixels per inch")->capture_default_str();
        sub->add_option("--format", m_format,
                        "tiff: a grey TIFF for each plate; multi: one TIFF with a sample for each ink")
            ->check(CLI::IsMember({"tiff", "multi"}))
            ->capture_default_str();
        sub->add_option("--box", m_box, "Page box to write: media, crop, bleed, trim or art")
            ->capture_default_str();
        return sub;
    }

    int run() override
    {
        const auto box = parse_page_box(m_box);
        if (!box) {
            return report_error(box.error());
        }
        if (const Done good = check_resolution(Dpi(m_dpi)); !good) {
            return report_error(good.error());
        }
        const auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        const PageWriter write = [&](const OpenedJob &opened, const OutputRequest &request,
                                     const JobControl &control) {
            return write_plates(opened, Dpi(m_dpi), *box, request, control,
                                m_format == "multi" ? PlateFiles::OneForAll : PlateFiles::OneEach);
        };
        const auto written = write_pages(chosen->opened, chosen->pages, m_choice.request(*chosen, m_out),
                                         m_choice.accepted(), write, progress_on_terminal("plates"));
        if (!written) {
            return report_error(written.error());
        }
        told.report_written(*written);
        return exit_done;
    }

private:
    OutputChoice m_choice;
    std::string m_out;
    std::string m_box = "media", m_format = "tiff";
    double m_dpi = 300;
};

} // namespace

std::unique_ptr<Command> make_plates_command()
{
    return std::make_unique<PlatesCommand>();
}

} // namespace bichrom
