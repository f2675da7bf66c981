/// \file
/// Any usual input as PDF.
/// Layer: core/artwork.
#pragma once

#include "core/artwork/damage.h"
#include "core/artwork/intake/input_kind.h"
#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <cstddef>
#include <filesystem>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

struct IntakeOptions
{
    std::filesystem::path folder; ///< where an SVG may find its pictures; empty = nowhere
    double assumed_ppi = 300;     ///< of pictures that do not say their resolution
    int patience = 1;             ///< times the usual work
};

/// An input as PDF, and what was assumed on the way.
struct NormalisedInput
{
    std::vector<std::byte> pdf;
    std::vector<std::string> assumptions;
    std::vector<Damage> damage; ///< what could not be read whole
};

/// Converts any kind but PDF in a process of its own, with the usual limits on work and memory. The caller's
/// process neither hangs nor falls with a hostile file, and nothing but a scratch folder is written.
/// WrongFormat, CannotRead, TooLarge, Cancelled.
[[nodiscard]] Outcome<NormalisedInput> normalise(std::span<const std::byte> bytes, InputKind kind,
                                                 const IntakeOptions &options = {},
                                                 const JobControl &control = {});

} // namespace bichrom
