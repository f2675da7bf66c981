#include "cli/commands.h"
#include "cli/report.h"
#include "core/output/output_set.h"

#include <CLI/CLI.hpp>

namespace bichrom {

namespace {

class PlatesCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub =
            app.add_subcommand("plates", "Write one 8-bit TIFF for each plate, and manifest.json");
        sub->add_option("FILE", m_file, "Artwork, or a .bichrom job")->required();
        sub->add_option("--out", m_out, "Folder for the plates; made when missing")->required();
        sub->add_option("--dpi", m_dpi, "Resolution in pixels per inch")->capture_default_str();
        sub->add_option("--page", m_page, "Page number, from 1");
        sub->add_option("--box", m_box, "Page box to write: media, crop, bleed, trim or art")
            ->capture_default_str();
        sub->add_option("--password", m_password, "For an encrypted file");
        declare_accept_damage(*sub, m_accept_damage);
        declare_move_earlier(*sub, m_move_earlier);
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
        auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened, m_accept_damage);
        OutputRequest request;
        request.folder = m_out;
        request.earlier = m_move_earlier ? EarlierFiles::MoveAway : EarlierFiles::Keep;
        const auto manifest =
            write_plates(*opened, Dpi(m_dpi), *box, request, progress_on_terminal("plates"));
        if (!manifest) {
            return report_error(manifest.error());
        }
        told.report_more(manifest->damage);
        report_earlier(*manifest);
        return exit_done;
    }

private:
    std::string m_file, m_out, m_password;
    std::string m_box = "media";
    double m_dpi = 300;
    int m_page = 0;
    bool m_accept_damage = false;
    bool m_move_earlier = false;
};

} // namespace

std::unique_ptr<Command> make_plates_command()
{
    return std::make_unique<PlatesCommand>();
}

} // namespace bichrom
