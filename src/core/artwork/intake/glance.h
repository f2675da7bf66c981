/// \file
/// A first look at a customer's PDF, long before it is read.
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"

#include <cstdint>
#include <filesystem>
#include <string>
#include <vector>

namespace bichrom {

/// A page as the interpreter itself paints it: without profiles, overprint and smooth edges.
struct Glance
{
    int width = 0, height = 0;
    std::vector<std::uint32_t> pixels; ///< 0xFFRRGGBB, rows top down
};

/// The longer side of what glance_at_pdf() gives, pixels.
inline constexpr int glance_side = 800;

/// Has the helper program paint page \p number of \p file, within a few seconds of work. CannotRead whatever
/// the reason: whoever opens the file next says why; WrongFormat for what is no PDF; Cancelled.
[[nodiscard]] Outcome<Glance> glance_at_pdf(const std::filesystem::path &file, int number,
                                            const std::string &password, const JobControl &control = {});

/// The helper's part: paints into the file \p output. \return its exit code
int paint_glance(const char *input, const char *password_file, const char *number, const char *output);

} // namespace bichrom
