/// \file
/// How plates lie on each other in print, for who shows them without this program.
/// Layer: core/report, private.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace bichrom {

/// The layered model (print/print_stack.h) of \p job as JSON. Films on what is dry, wet ones too; process
/// inks each by itself, so that of mixtures only the product of what they let through is known. \param planes
/// inks by the number that the layers call them \return {"stock": roots of its bands, "floor", "light":
/// [band][r, g, b], "layers": [{"plane", "gain": 33
///         coverages, and "body", "through", "hits" by band, or "passed": 33 × bands}]} from the stock up
[[nodiscard]] std::string layer_json(const Job &job, const std::vector<std::string> &planes,
                                     const ProcessProfile &condition);

} // namespace bichrom
