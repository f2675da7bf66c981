/// \file
/// Measured prints: CGATS.17 (ISO 28178) text tables of tests/data.
#pragma once

#include "core/colour/process_profile.h"

#include <QString>

#include <vector>

namespace bichrom::test {

struct MeasuredPatch
{
    Cmyk cmyk{};
    Lab lab; ///< D50/2°, absolute
};

/// Fails the test when the table is missing.
[[nodiscard]] std::vector<MeasuredPatch> measured_table(const QString &file);

} // namespace bichrom::test
