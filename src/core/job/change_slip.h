/// \file
/// Everything a job does to the customer's artwork, in words.
/// Layer: core/job.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// One line of the change slip.
struct ChangeEntry
{
    std::string key;  ///< stable for the same decision; states are kept by it
    std::string what; ///< what is done, in words a customer understands
    std::string why;
    ChangeState state = ChangeState::AskCustomer;
    friend bool operator==(const ChangeEntry &, const ChangeEntry &) = default;
};

/// The key of a question's line.
[[nodiscard]] std::string key_of(const Question &question);

/// The key of a route's line: an agreement covers what it looks at and what becomes of it.
[[nodiscard]] std::string key_of(const Route &route);

/// Derived from the job's decisions, so it can never lag behind them; only the states are kept
/// in the job. Empty when the artwork prints as it came and nothing is asked.
[[nodiscard]] std::vector<ChangeEntry> list_changes(const Job &job);

} // namespace bichrom
