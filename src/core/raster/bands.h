/// \file
/// Work on a tall picture in bands: many computed at once, taken off in order.
/// Layer: core/raster. oneTBB stays inside.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <functional>
#include <memory>

namespace bichrom {

/// The rows [top, top + rows) of a picture.
struct Band
{
    int index = 0;
    int top = 0;
    int rows = 0;
};

/// What computing a band gives to the step that takes it; made by the caller's own type.
struct BandResult
{
    virtual ~BandResult() = default;
};

/// The two steps of a banded computation.
struct BandSteps
{
    /// Called from several threads at once.
    std::function<Outcome<std::unique_ptr<BandResult>>(const Band &)> compute;
    /// Called once a band from top to bottom, never twice at the same time.
    std::function<Done(const Band &, BandResult &)> take;
};

/// Runs \p steps over \p height rows in bands of \p band_rows. Holds at most two
/// results more than there are threads, so memory is bounded for any height.
///
/// \param threads  0 = as many as the machine has
/// \return the first error of a step; Cancelled when \p control asked to stop
[[nodiscard]] Done run_bands(int height, int band_rows, const BandSteps &steps, const JobControl &control,
                             int threads = 0);

/// Calls \p work once for each of \p height rows, from several threads, until \p control asks to stop.
void each_row(int height, const std::function<void(int row)> &work, const JobControl &control = {});

} // namespace bichrom
