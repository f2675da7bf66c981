#include "cli/cli.h"

#include "cli/commands.h"
#include "cli/report.h"

#include <CLI/CLI.hpp>

#include <clocale>
#include <csignal>
#include <utility>

namespace bichrom {

int run_cli(int argc, char **argv)
{
    // A file that hits a size limit is an error to report, not a reason to die.
    std::signal(SIGXFSZ, SIG_IGN);
    stop_on_signals();
    CLI::App app("Bichrom turns artwork into plates and films from scripts.", "bichrom-cli");
    app.set_version_flag("--version", "bichrom-cli 0.1.0");
    app.require_subcommand(1);
    app.footer("Exit codes: 0 done, 1 findings, 2 usage, 3 cannot read the input, 4 cannot write the output, "
               "130 stopped.");

    std::vector<std::pair<CLI::App *, std::unique_ptr<Command>>> commands;
    for (auto &command :
         {make_inspect_command, make_check_command, make_plates_command, make_film_command,
          make_rename_ink_command, make_compose_command, make_job_command, make_slip_command,
          make_moire_command, make_densitometer_command, make_proof_command, make_ticket_command,
          make_release_command, make_apply_command, make_standin_command, make_separate_command}) {
        auto made = command();
        CLI::App *declared = made->declare(app);
        commands.emplace_back(declared, std::move(made));
    }
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError &error) {
        return app.exit(error) == 0 ? exit_done : exit_usage;
    }
    for (auto &[declared, command] : commands) {
        if (declared->parsed()) {
            return command->run();
        }
    }
    return exit_usage;
}

} // namespace bichrom
