#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/release/apply_job.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <map>
#include <thread>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

class ApplyCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand(
            "apply", "Lay a job's routes, recipes, plates, stock and screens on other files; one that fails "
                     "stops none of the others");
        sub->add_option("JOB", m_job, "The job")->required();
        sub->add_option("FILE", m_files, "Artwork, one or many");
        sub->add_option("--out", m_out, "Folder for what is written")->required();
        sub->add_option("--do", m_do, "film, plates, compose or job")->required();
        sub->add_option("--watch", m_watch, "A folder: files that come into it are worked off until stopped");
        sub->add_option("--date", m_date, "Date on labels and documents (today)");
        sub->add_flag("--accept-damage", m_accept_damage, "Even what could not be read whole");
        return sub;
    }

    int run() override
    {
        const auto what = parse_apply_do(m_do);
        if (!what) {
            return report_error(what.error());
        }
        if (m_files.empty() && m_watch.empty()) {
            return report_error(usage_error("No file is given.", "Name files, or a folder with --watch."));
        }
        if (!m_watch.empty()) {
            if (const Done good = may_be_watched(m_watch, m_out); !good) {
                return report_error(good.error());
            }
        }
        auto opened = open_job_or_artwork(m_job, 0, {}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened);
        const auto pattern = JobPattern::make(std::move(*opened), stoppable());
        if (!pattern) {
            return report_error(pattern.error());
        }
        const std::vector<fs::path> files(m_files.begin(), m_files.end());
        const std::vector<std::string> names = apply_names(files);
        int worst = exit_done;
        for (std::size_t i = 0; i < files.size(); ++i) {
            const int code = work_off(*pattern, files[i], *what, names[i]);
            if (code == exit_stopped) {
                return code;
            }
            worst = std::max(worst, code);
        }
        return m_watch.empty() ? worst : watch(*pattern, *what);
    }

private:
    int work_off(const JobPattern &pattern, const fs::path &file, ApplyDo what, const std::string &name) const
    {
        const Applied applied = apply_job(
            pattern, file, what,
            {m_out, name, m_date.empty() ? today() : m_date, m_accept_damage ? "--accept-damage" : ""},
            progress_on_terminal(name));
        if (!applied.written) {
            say("%s: failed\n", file.c_str());
            std::fflush(stdout);
            return report_error(applied.written.error());
        }
        say("%s: %zu written%s\n", file.c_str(), applied.written->size(),
            applied.exceptions.empty() ? "" : ", with exceptions");
        for (const std::string &words : applied.exceptions.words()) {
            say("  %s\n", words.c_str());
        }
        std::fflush(stdout);
        return exit_done;
    }

    /// Works off each file once it has not grown for a second; one that changes later comes again.
    int watch(const JobPattern &pattern, ApplyDo what) const
    {
        struct Seen
        {
            std::uintmax_t size = 0;
            fs::file_time_type time;
            bool done = false;
        };
        std::map<fs::path, Seen> seen;
        std::vector<fs::path> taken(m_files.begin(), m_files.end()); // each keeps the name it got first
        const JobControl control = stoppable();
        say("watching %s\n", m_watch.c_str());
        std::fflush(stdout);
        while (!control.cancelled()) {
            std::error_code fault;
            if (!fs::is_directory(m_watch, fault)) {
                return report_error(
                    {ErrorCode::FileMissing, "The folder is not there any more.", m_watch, {}});
            }
            for (fs::directory_iterator entry(m_watch, fault), end; !fault && entry != end;
                 entry.increment(fault)) {
                const fs::path file = entry->path();
                if (!entry->is_regular_file(fault) || file.filename().string().starts_with('.')) {
                    continue;
                }
                const std::uintmax_t size = entry->file_size(fault);
                const auto time = entry->last_write_time(fault);
                Seen &known = seen[file];
                const bool settled = known.size == size && known.time == time;
                if (settled && !known.done && size > 0) {
                    known.done = true;
                    if (std::find(taken.begin(), taken.end(), file) == taken.end()) {
                        taken.push_back(file);
                    }
                    const auto place = std::find(taken.begin(), taken.end(), file) - taken.begin();
                    (void)work_off(pattern, file, what, apply_names(taken)[static_cast<std::size_t>(place)]);
                } else if (!settled) {
                    known = {size, time, false};
                }
            }
            std::this_thread::sleep_for(std::chrono::seconds(1));
        }
        return exit_done;
    }

    std::string m_job, m_out, m_do, m_watch, m_date;
    std::vector<std::string> m_files;
    bool m_accept_damage = false;
};

} // namespace

std::unique_ptr<Command> make_apply_command()
{
    return std::make_unique<ApplyCommand>();
}

} // namespace bichrom
