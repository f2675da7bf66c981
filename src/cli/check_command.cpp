#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "core/base/atomic_file.h"
#include "core/job/job_file.h"
#include "core/preflight/finding_groups.h"
#include "core/preflight/preflight.h"
#include "core/report/findings_report.h"

#include <CLI/CLI.hpp>
#include <nlohmann/json.hpp>

#include <algorithm>

namespace bichrom {

namespace {

/// A shipped set by its name, or a file.
Outcome<ShopRules> choose_rules(const std::string &text)
{
    if (text.empty()) {
        return shipped_rules().front();
    }
    for (const ShopRules &rules : shipped_rules()) {
        if (rules.name == text) {
            return rules;
        }
    }
    return read_rules(text);
}

std::string area_text(const Rect &area)
{
    return area.width <= 0 && area.height <= 0
               ? std::string()
               : "at " + format_number(area.x, 1) + ", " + format_number(area.y, 1) + " mm, " +
                     format_number(area.width, 1) + " × " + format_number(area.height, 1) + " mm";
}

/// Findings of one check about one subject are one row, whatever the pages; up to five places follow, worst
/// first, then why it matters and what to do.
void print_text(const std::string &file, int pages, const std::vector<Finding> &findings,
                const std::vector<AcceptedFinding> &accepted)
{
    say("%s\n", file.c_str());
    for (const FindingGroup &group : group_findings(findings, accepted)) {
        const Finding &first = findings[static_cast<std::size_t>(group.findings.front())];
        say("  %-8s %s%s", to_string(first.severity), first.title.c_str(),
            first.limit.empty() ? "" : ("; asked: " + first.limit).c_str());
        if (group.places > 1 || group.pages > 1) {
            say(" (%s)", count_text(group, pages).c_str());
        }
        say("%s%s\n", first.is_solved() ? (" [solved: " + first.solved + "]").c_str() : "",
            group.accepted ? " [accepted]" : "");
        if (first.is_solved() || first.muted) {
            continue;
        }
        int listed = 0;
        constexpr int most_listed = 5;
        for (const int number : group.findings) {
            const Finding &finding = findings[static_cast<std::size_t>(number)];
            for (const FindingPlace &place : finding.places) {
                const std::string where = area_text(place.area);
                if (listed == most_listed || (where.empty() && place.measured.empty() && finding.page == 1)) {
                    continue;
                }
                ++listed;
                say("           page %d%s%s%s%s\n", finding.page,
                    place.object >= 0 ? (", object " + std::to_string(place.object)).c_str() : "",
                    where.empty() ? "" : (" " + where).c_str(), place.measured.empty() ? "" : ": ",
                    place.measured.c_str());
            }
        }
        say("           why: %s\n           do:  %s\n", first.why.c_str(), first.remedy.c_str());
    }
    if (findings.empty()) {
        say("  nothing found\n");
    }
}

class CheckCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub =
            app.add_subcommand("check", "Run shop rules over artwork; exit code 1 when a finding is "
                                        "an error that nobody has accepted");
        sub->add_option("FILE", m_files, "Artwork or jobs, one or many")->required();
        sub->add_option("--rules", m_rules,
                        "A rules file, or the name of a shipped set (Textile screen); a job brings its own");
        sub->add_option("--report", m_report, "Folder for a PDF report of each file");
        sub->add_option("--password", m_password, "For encrypted files");
        sub->add_flag("--json", m_json, "As JSON on standard output: an object, for many files an array");
        return sub;
    }

    int run() override
    {
        const auto rules = choose_rules(m_rules);
        if (!rules) {
            return report_error(rules.error());
        }
        int worst = exit_done;
        std::string out;
        for (const std::string &file : m_files) {
            worst = std::max(worst, check(file, *rules, out));
            if (worst == exit_stopped) {
                break;
            }
        }
        if (m_json) {
            say("%s\n", m_files.size() > 1 ? ("[" + out + "]").c_str() : out.c_str());
        }
        return worst;
    }

private:
    int check(const std::string &file, const ShopRules &asked, std::string &out) const
    {
        ReadingOptions options;
        options.password = m_password;
        OpenedJob opened;
        if (is_job_file(file)) {
            auto job = open_job(file, options, stoppable());
            if (!job) {
                return fail(file, job.error(), out);
            }
            opened = std::move(*job);
        } else {
            auto artwork = Artwork::open(file, options, stoppable());
            if (!artwork) {
                return fail(file, artwork.error(), out);
            }
            opened.artwork = std::move(*artwork);
        }
        ShopRules rules = asked;
        if (m_rules.empty() && !opened.job.rules.empty()) {
            auto own = rules_from_json(opened.job.rules, file);
            if (!own) {
                return fail(file, own.error(), out);
            }
            rules = std::move(*own);
        }
        const auto findings = findings_of(*opened.artwork, opened.job, rules, progress_on_terminal("check"));
        if (!findings) {
            return fail(file, findings.error(), out);
        }
        const std::vector<AcceptedFinding> &accepted = opened.job.accepted;
        if (m_json) {
            out += (out.empty() ? "" : ",\n") + findings_to_json(file, rules.name, *findings, accepted);
        } else {
            print_text(file, opened.artwork->page_count(), *findings, accepted);
        }
        if (!m_report.empty()) {
            if (const Done done = write_report(file, opened, rules, *findings); !done) {
                return report_error(done.error());
            }
        }
        const bool bad = std::any_of(findings->begin(), findings->end(), [&](const Finding &finding) {
            return finding.severity == Severity::Error && is_open(finding, accepted);
        });
        return bad ? exit_findings : exit_done;
    }

    /// Says why \p file cannot be checked; its place in the list of many files is not left out.
    int fail(const std::string &file, const Error &error, std::string &out) const
    {
        if (m_json) {
            const nlohmann::ordered_json entry = {
                {"file", file},
                {"error", {{"reason", error.reason}, {"place", error.place}, {"remedy", error.remedy}}}};
            out += (out.empty() ? "" : ",\n") +
                   entry.dump(2, ' ', false, nlohmann::ordered_json::error_handler_t::replace);
        }
        return report_error(error);
    }

    Done write_report(const std::string &file, const OpenedJob &opened, const ShopRules &rules,
                      const std::vector<Finding> &findings) const
    {
        const auto bytes = findings_report(opened, rules, findings, today());
        if (!bytes) {
            return bytes.error();
        }
        if (const Done done = prepare_folder(m_report); !done) {
            return done;
        }
        const std::filesystem::path name = std::filesystem::path(file).filename();
        return write_file(std::filesystem::path(m_report) / (name.string() + "-findings.pdf"), *bytes);
    }

    std::vector<std::string> m_files;
    std::string m_rules, m_password, m_report;
    bool m_json = false;
};

} // namespace

std::unique_ptr<Command> make_check_command()
{
    return std::make_unique<CheckCommand>();
}

} // namespace bichrom
