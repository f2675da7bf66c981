/// \file
/// What people agreed to: findings accepted as they are, changes told to the customer.
/// Layer: core/job.
#pragma once

#include "core/base/outcome.h"

#include <string>
#include <string_view>

namespace bichrom {

/// A finding that somebody took responsibility for, by the finding's check, page and subject.
struct AcceptedFinding
{
    std::string check;
    int page = 1;
    std::string subject;
    std::string reason;
    friend bool operator==(const AcceptedFinding &, const AcceptedFinding &) = default;
};

/// A finding that the customer is asked about: a line of the change slip.
struct Question
{
    std::string check;
    int page = 1;
    std::string subject;
    std::string words; ///< what is asked, for the customer
    friend bool operator==(const Question &, const Question &) = default;
};

/// Whether the customer has agreed to a change.
enum class ChangeState
{
    AskCustomer,
    Agreed,
    NotNeeded
};
inline constexpr ChangeState all_change_states[] = {ChangeState::AskCustomer, ChangeState::Agreed,
                                                    ChangeState::NotNeeded};
[[nodiscard]] const char *to_string(ChangeState state); ///< "ask customer", "agreed", "not needed"
[[nodiscard]] Outcome<ChangeState> parse_change_state(std::string_view name);

} // namespace bichrom
