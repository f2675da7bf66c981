/// \file
/// Every check there is.
/// Layer: core/preflight.
#pragma once

#include "core/preflight/check_context.h"

#include <span>

namespace bichrom {

/// A limit a check can be set to.
struct LimitInfo
{
    const char *name;  ///< in rule files
    const char *label; ///< for people
    const char *unit;  ///< "pt", "mm", "%", "ppi", "cm²" or ""
    double usual;
};

/// A check: its words, its limits, and the function that does it.
struct CheckInfo
{
    const char *name;   ///< in rule files
    const char *title;  ///< for people, also the finding's title unless it gives another
    const char *why;    ///< why it matters, one sentence
    const char *remedy; ///< what can be done, one sentence
    std::vector<LimitInfo> limits;
    void (*run)(CheckContext &context);
    bool plates = false; ///< looks at the plates of a job, else at the artwork
    /// Is about the customer's file as it came; other checks of the artwork are run again on what prints.
    bool original = false;
};

/// In the order in which they are listed.
[[nodiscard]] std::span<const CheckInfo> all_checks();
[[nodiscard]] const CheckInfo *find_check(const std::string &name);

} // namespace bichrom
