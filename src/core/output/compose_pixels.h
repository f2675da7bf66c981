/// \file
/// PDFs whose pages are pixels of the plates: for old RIPs, and one page a plate.
/// Layer: core/output, private.
#pragma once

#include "core/output/compose.h"

namespace bichrom {

/// As compose_pdf(), of the forms Flat and Separated. Plates that print nothing are left out.
[[nodiscard]] Outcome<ComposedPdf> compose_pixels(const OpenedJob &opened, const std::filesystem::path &path,
                                                  const ComposeRequest &request, const JobControl &control);

} // namespace bichrom
