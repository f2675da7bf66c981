/// \file
/// What every command is.
/// Layer: cli.
#pragma once

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

/// One command: declares its options, then runs with what was given.
class Command
{
public:
    virtual ~Command() = default;
    /// Adds the subcommand; called once before parsing.
    virtual CLI::App *declare(CLI::App &app) = 0;
    /// \return the exit code
    virtual int run() = 0;
};

} // namespace bichrom
