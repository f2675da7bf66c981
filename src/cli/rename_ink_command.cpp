#include "cli/commands.h"
#include "cli/report.h"
#include "core/artwork/rename_ink.h"
#include "core/base/atomic_file.h"
#include "core/base/units.h"

#include <CLI/CLI.hpp>

#include <algorithm>
#include <cstdio>
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
        sub->add_option("--match", m_match, "exact, nocase or regex (ECMAScript, the whole name)")
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
        if (!m_preview) {
            if (const Done ready = prepare_folder(m_out); !ready) {
                return report_error(ready.error());
            }
        }
        int worst = exit_done;
        for (const std::string &file : m_files) {
            if (stoppable().cancelled()) {
                return exit_stopped;
            }
            worst = std::max(worst, rename(file));
        }
        return worst;
    }

private:
    int rename(const std::string &file)
    {
        const std::filesystem::path target =
            std::filesystem::path(m_out) / std::filesystem::path(file).filename();
        std::error_code fault;
        if (!m_preview && std::filesystem::equivalent(file, target, fault)) {
            return report_error({ErrorCode::CannotWrite, "The copy would replace the original.", file,
                                 "Choose another folder."});
        }
        if (!m_preview && std::find(m_written.begin(), m_written.end(), target) != m_written.end()) {
            return report_error({ErrorCode::CannotWrite,
                                 "Another of the files has the same name; its copy would be replaced.", file,
                                 "Choose another folder for this one."});
        }
        const auto bytes = read_file(file);
        if (!bytes) {
            return report_error(bytes.error());
        }
        const auto renamed = rename_ink(*bytes, file, m_rename, m_password);
        if (!renamed) {
            return report_error(renamed.error());
        }
        if (!m_preview) {
            const Done done = write_file(
                target, std::span<const std::byte>(renamed->bytes.empty() ? *bytes : renamed->bytes));
            if (!done) {
                return report_error(done.error());
            }
            m_written.push_back(target);
        }
        std::printf("%s\n", file.c_str());
        for (const RenamedInk &ink : renamed->inks) {
            std::printf("  %s → %s, in %d colour space%s\n", ink.from.c_str(), ink.to.c_str(), ink.spaces,
                        ink.spaces == 1 ? "" : "s");
        }
        if (renamed->inks.empty()) {
            std::printf("  no ink of that name%s\n", m_preview ? "" : "; copied as it is");
        }
        return exit_done;
    }

    std::vector<std::string> m_files;
    InkRename m_rename;
    std::string m_match = "exact", m_out, m_password;
    std::string m_standin;
    bool m_preview = false;
    std::vector<std::filesystem::path> m_written;
};

} // namespace

std::unique_ptr<Command> make_rename_ink_command()
{
    return std::make_unique<RenameInkCommand>();
}

} // namespace bichrom
