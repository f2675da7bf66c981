/// \file
/// Progress of several pages as one.
/// Layer: core/output, private.
#pragma once

#include "core/base/job_control.h"

#include <cstddef>

namespace bichrom {

/// What the work on page \p index of \p count reports to: its part of the whole, which is told to \p control.
/// Stops with it, and must not outlive it.
[[nodiscard]] inline JobControl page_share(const JobControl &control, std::size_t index, std::size_t count)
{
    constexpr std::int64_t fine = 1000; // parts of a page that are told
    return control.with_report([&control, index, count](std::int64_t done, std::int64_t total) {
        control.progress(static_cast<std::int64_t>(index) * fine + (total > 0 ? done * fine / total : 0),
                         static_cast<std::int64_t>(count) * fine);
    });
}

} // namespace bichrom
