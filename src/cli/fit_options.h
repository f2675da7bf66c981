/// \file
/// Options by which commands trap and overprint.
/// Layer: cli.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

/// --trap, --trap-pair, --hold-back, --base-choke, --house-overprint, --prints.
class FitOptions
{
public:
    void declare(CLI::App &command);
    /// \p job with what was given. OutOfRange, UnknownInk.
    [[nodiscard]] Outcome<Job> apply(Job job) const;

private:
    [[nodiscard]] Outcome<Job> trapped(Job job) const;
    [[nodiscard]] Outcome<Job> overprinted(Job job) const;

    std::string m_trap, m_hold_back, m_base_choke;
    std::vector<std::string> m_pairs, m_house, m_prints;
};

} // namespace bichrom
