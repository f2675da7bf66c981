#include "cli/commands.h"
#include "cli/console.h"
#include "cli/report.h"
#include "core/artwork/rename_files.h"
#include "core/base/units.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <filesystem>
#include <optional>
#include <sstream>

namespace bichrom {

namespace {

/// "80,20,85,20" as shares; nothing when it is not four numbers from 0 to 100.
std::optional<std::array<double, 4>> read_percents(const std::string &text)
{
    std::array<double, 4> shares{};
    std::size_t count = 0;
    std::istringstream parts(text);
    for (std::string part; std::getline(parts, part, ',');) {
        const auto number = parse_number(part);
        if (!number || *number < 0.0 || *number > 100.0 || count == shares.size()) {
            return std::nullopt;
        }
        shares[count++] = *number / 100.0;
    }
    return count == shares.size() ? std::optional(shares) : std::nullopt;
}

class RenameInkCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("rename-ink", "Give an ink another name in one or many PDFs; "
                                                         "copies go to a folder, the originals stay");
        sub->add_option("--from", m_rename.from, "The ink's name now")->required();
        sub->add_option("--to", m_rename.to, "Its new name; with regex, $1 stands for a group")->required();
        sub->add_option("--match", m_match,
                        "exact, nocase, regex (ECMAScript, the whole name) or regex-nocase")
            ->capture_default_str();
        sub->add_option("FILE", m_files, "PDFs")->required();
        sub->add_option("--out", m_out, "Folder for the copies; made when missing")->required();
        sub->add_option("--password", m_password, "For encrypted files; the copies stay encrypted");
        sub->add_option("--standin", m_standin, "New stand-in colour of single inks: C,M,Y,K in percent");
        sub->add_flag("--preview", m_preview, "Only say what would be renamed");
        return sub;
    }

    int run() override
    {
        const auto match = parse_name_match(m_match);
        if (!match) {
            report_error(match.error());
            return exit_usage;
        }
        m_rename.match = *match;
        if (const Done good = check_rename(m_rename); !good) {
            report_error(good.error());
            return exit_usage;
        }
        if (!m_standin.empty()) {
            m_rename.standin = read_percents(m_standin);
            if (!m_rename.standin) {
                report_error({ErrorCode::OutOfRange, "'" + m_standin + "' is no colour.", "--standin",
                              "Give four numbers from 0 to 100, as in 80,20,85,20."});
                return exit_usage;
            }
        }
        const std::vector<std::filesystem::path> files(m_files.begin(), m_files.end());
        const std::filesystem::path folder =
            m_preview ? std::filesystem::path() : std::filesystem::path(m_out);
        const auto renamed = rename_in_files(files, m_rename, folder, m_password, stoppable());
        if (!renamed) {
            return report_error(renamed.error());
        }
        int worst = exit_done;
        for (const RenamedFile &one : *renamed) {
            if (one.fault) {
                worst = std::max(worst, report_error(*one.fault));
                continue;
            }
            say("%s\n", one.file.c_str());
            for (const RenamedInk &ink : one.inks) {
                say("  %s → %s, in %d colour space%s\n", ink.from.c_str(), ink.to.c_str(), ink.spaces,
                    ink.spaces == 1 ? "" : "s");
            }
            if (one.inks.empty()) {
                say("  no ink of that name%s\n", m_preview ? "" : "; copied as it is");
            }
        }
        if (renamed->size() < files.size()) {
            return exit_stopped;
        }
        const RenameSummary sum = sum_up(*renamed);
        if (files.size() > 1) {
            say("%zu files: %d %s, %d without such an ink, %d failed\n", files.size(), sum.changed,
                m_preview ? "would change" : "changed", sum.without, sum.failed);
        }
        return sum.without > 0 ? std::max(worst, static_cast<int>(exit_findings)) : worst;
    }

private:
    std::vector<std::string> m_files;
    InkRename m_rename;
    std::string m_match = "exact", m_out, m_password;
    std::string m_standin;
    bool m_preview = false;
};

} // namespace

std::unique_ptr<Command> make_rename_ink_command()
{
    return std::make_unique<RenameInkCommand>();
}

} // namespace bichrom
