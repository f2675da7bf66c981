#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/release/device_needs.h"
#include "core/release/release.h"

#include <CLI/CLI.hpp>

#include <algorithm>

namespace bichrom {

namespace {

class ReleaseCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand(
            "release", "Write all that leaves the desk for jobs into numbered folders with checksums: films, "
                       "plates as PDF, proof, ticket; exit code 1 when something stands in the way");
        sub->add_option("JOB", m_jobs, "Jobs, or artwork as it came; one or many")->required();
        sub->add_option("--out", m_out, "Folder of all releases")->required();
        sub->add_option("--again", m_again, "Write release N once more, as it was, and compare");
        sub->add_option("--pages", m_pages, "Pages, such as 1-3,5 or all (the one worked on)");
        sub->add_option("--pass", m_reason, "Release all the same, for this reason, which is kept");
        sub->add_option("--device", m_devices,
                        "Folder of a stand-in that the release goes to; may be given "
                        "many times: inks are checked, files are sent");
        sub->add_flag("--plates", m_plates, "Also 8-bit plates at 300 dpi");
        sub->add_flag("--no-films", m_no_films, "Without films");
        sub->add_flag("--no-pdf", m_no_pdf, "Without the PDF of the plates");
        sub->add_option("--date", m_date, "Date on labels and documents, YYYY-MM-DD (today)");
        sub->add_flag("--accept-damage", m_accept_damage, "Even what could not be read whole");
        return sub;
    }

    int run() override
    {
        int worst = exit_done;
        for (const std::string &file : m_jobs) {
            const int code = m_again > 0 ? again(file) : release(file);
            if (code == exit_stopped) {
                return code;
            }
            worst = std::max(worst, code);
        }
        return worst;
    }

private:
    int release(const std::string &file) const
    {
        auto opened = open_job_or_artwork(file, 0, {}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        ReleaseRequest request;
        request.folder = m_out;
        request.date = m_date.empty() ? today() : m_date;
        request.pass_reason = m_reason;
        request.accept_damage = m_accept_damage ? "--accept-damage" : "";
        request.parts = {!m_no_films, !m_no_pdf, m_plates};
        if (!m_pages.empty()) {
            auto pages = parse_pages(m_pages, opened->artwork->page_count());
            if (!pages) {
                return report_error(pages.error());
            }
            request.pages = std::move(*pages);
        }
        auto needs = needs_of_devices({m_devices.begin(), m_devices.end()});
        if (!needs) {
            return report_error(needs.error());
        }
        request.devices = std::move(*needs);
        const auto made = release_job(*opened, request, progress_on_terminal("release"));
        if (!made) {
            return report_error(made.error());
        }
        for (const GateStop &stop : made->stops) {
            complain("bichrom-cli: %s: %s: %s%s%s\n", file.c_str(),
                     made->number > 0 ? "passed" : "in the way", stop.what.c_str(),
                     made->number > 0 || stop.remedy.empty() ? "" : " ",
                     made->number > 0 ? "" : stop.remedy.c_str());
        }
        if (made->number == 0) {
            complain("bichrom-cli: %s: nothing was released. Settle these, or pass them with --pass "
                     "\"reason\".\n",
                     file.c_str());
            return exit_findings;
        }
        for (const Manifest &page : made->films) {
            told.report_more(page.damage);
        }
        say("%s: release %d, %zu files\n", made->folder.c_str(), made->number, made->files.size());
        return send(*made);
    }

    int send(const Release &made) const
    {
        for (const std::string &folder : m_devices) {
            const auto sent = send_release(made, folder);
            if (!sent) {
                return report_error(sent.error()); // the release is there; sending goes on with the next try
            }
            say("%s: %zu %s sent\n", folder.c_str(), sent->size(), sent->size() == 1 ? "file" : "files");
        }
        return exit_done;
    }

    int again(const std::string &file) const
    {
        const auto opened = open_job_or_artwork(file, 0, {}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const auto made = release_again(m_out, opened->job.name, m_again, progress_on_terminal("release"));
        if (!made) {
            return report_error(made.error());
        }
        say("%s: release %d again, %zu files, ", made->folder.c_str(), made->number, made->files.size());
        if (made->differing.empty()) {
            say("all as they were\n");
            return send(*made);
        }
        say("%zu not as they were\n", made->differing.size());
        for (const std::string &name : made->differing) {
            say("  %s\n", name.c_str());
        }
        return exit_findings;
    }

    std::vector<std::string> m_jobs, m_devices;
    std::string m_out, m_pages, m_reason, m_date;
    int m_again = 0;
    bool m_plates = false, m_no_films = false, m_no_pdf = false, m_accept_damage = false;
};

} // namespace

std::unique_ptr<Command> make_release_command()
{
    return std::make_unique<ReleaseCommand>();
}

} // namespace bichrom
