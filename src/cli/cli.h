/// \file
/// The command line as a function.
/// Layer: cli. May use core.
#pragma once

namespace bichrom {

/// Runs one command. \return 0 done, 1 findings, 2 usage, 3 cannot read the input,
/// 4 cannot write the output
int run_cli(int argc, char **argv);

} // namespace bichrom
