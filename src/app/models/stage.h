/// \file
/// The stages of the work and how they stand.
/// Layer: app/models.
#pragma once

namespace bichrom {

/// In the order of the work; any can be opened at any time.
enum class Stage
{
    Receive,
    Ink,
    Build,
    Fit,
    Screen,
    Release
};
inline constexpr int stage_count = 6;

enum class StageState
{
    NotLookedAt,
    InWork,
    FindingsOpen,
    Finished
};

} // namespace bichrom
