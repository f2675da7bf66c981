/// \file
/// The commands there are.
/// Layer: cli.
#pragma once

#include "cli/command.h"

#include <memory>

namespace bichrom {

[[nodiscard]] std::unique_ptr<Command> make_inspect_command();
[[nodiscard]] std::unique_ptr<Command> make_check_command();
[[nodiscard]] std::unique_ptr<Command> make_plates_command();
[[nodiscard]] std::unique_ptr<Command> make_film_command();
[[nodiscard]] std::unique_ptr<Command> make_rename_ink_command();
[[nodiscard]] std::unique_ptr<Command> make_compose_command();
[[nodiscard]] std::unique_ptr<Command> make_job_command();
[[nodiscard]] std::unique_ptr<Command> make_slip_command();
[[nodiscard]] std::unique_ptr<Command> make_moire_command();
[[nodiscard]] std::unique_ptr<Command> make_densitometer_command();
[[nodiscard]] std::unique_ptr<Command> make_proof_command();
[[nodiscard]] std::unique_ptr<Command> make_ticket_command();
[[nodiscard]] std::unique_ptr<Command> make_separate_command();
[[nodiscard]] std::unique_ptr<Command> make_release_command();
[[nodiscard]] std::unique_ptr<Command> make_apply_command();
[[nodiscard]] std::unique_ptr<Command> make_standin_command();

} // namespace bichrom
