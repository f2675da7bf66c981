#include "cli/commands.h"
#include "cli/report.h"
#include "core/base/atomic_file.h"
#include "core/job/job_file.h"
#include "core/preflight/lost_artwork.h"
#include "core/preflight/preflight.h"
#include "core/report/findings_report.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <cstdio>

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

void print_text(const std::string &file, const std::vector<Finding> &findings,
                const std::vector<AcceptedFinding> &accepted)
{
    std::printf("%s\n", file.c_str());
    for (const Finding &finding : findings) {
        const FindingPlace &worst = finding.places.front();
        const bool taken = std::any_of(accepted.begin(), accepted.end(),
                                       [&](const AcceptedFinding &one) { return covers(one, finding); });
        std::printf("  %-8s page %d: %s", to_string(finding.severity), finding.page, finding.title.c_str());
        if (finding.places.size() > 1) {
            std::printf(" (%zu places)", finding.places.size());
        }
        if (!worst.measured.empty()) {
            std::printf(": %s", worst.measured.c_str());
        }
        if (!finding.limit.empty()) {
            std::printf("; asked: %s", finding.limit.c_str());
        }
        std::printf("%s\n", taken ? " [accepted]" : "");
    }
    if (findings.empty()) {
        std::printf("  nothing found\n");
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
        }
        if (m_json) {
            std::printf("%s\n", m_files.size() > 1 ? ("[" + out + "]").c_str() : out.c_str());
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
            auto job = open_job(file, options);
            if (!job) {
                return report_error(job.error());
            }
            opened = std::move(*job);
        } else {
            auto artwork = Artwork::open(file, options);
            if (!artwork) {
                return report_error(artwork.error());
            }
            opened.artwork = std::move(*artwork);
        }
        ShopRules rules = asked;
        if (m_rules.empty() && !opened.job.rules.empty()) {
            auto own = rules_from_json(opened.job.rules, file);
            if (!own) {
                return report_error(own.error());
            }
            rules = std::move(*own);
        }
        auto findings =
            check_artwork(*opened.artwork, rules, opened.job.colours, progress_on_terminal("check"));
        if (!findings) {
            return report_error(findings.error());
        }
        if (!opened.job.plates.empty()) {
            const auto faults = job_findings(opened, rules);
            if (!faults) {
                return report_error(faults.error());
            }
            findings->insert(findings->end(), faults->begin(), faults->end());
            sort_findings(*findings);
        }
        const std::vector<AcceptedFinding> &accepted = opened.job.accepted;
        if (m_json) {
            out += (out.empty() ? "" : ",\n") + findings_to_json(file, rules.name, *findings, accepted);
        } else {
            print_text(file, *findings, accepted);
        }
        if (!m_report.empty()) {
            if (const Done done = write_report(file, opened, rules, *findings); !done) {
                return report_error(done.error());
            }
        }
        const bool bad = std::any_of(findings->begin(), findings->end(), [&](const Finding &finding) {
            return finding.severity == Severity::Error &&
                   std::none_of(accepted.begin(), accepted.end(),
                                [&](const AcceptedFinding &one) { return covers(one, finding); });
        });
        return bad ? exit_findings : exit_done;
    }

    /// What the job's own plates show: what is lost, and the checks of plates.
    static Outcome<std::vector<Finding>> job_findings(const OpenedJob &opened, const ShopRules &rules)
    {
        const auto page = opened.artwork->interpret(opened.job.page, PageBox::Media, opened.job.colours);
        if (!page) {
            return page.error();
        }
        const auto scene = record_scene(**page);
        if (!scene) {
            return scene.error();
        }
        auto lost = find_lost(*page, *scene, opened.job);
        const auto faults = check_plates(*opened.artwork, *page, *scene, opened.job, rules);
        if (!lost || !faults) {
            return lost ? faults : lost;
        }
        lost->insert(lost->end(), faults->begin(), faults->end());
        return lost;
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
