/// \file
/// What all PDFs of plates have in common.
/// Layer: core/output, private. qpdf stays inside.
#pragma once

#include "core/artwork/artwork.h"
#include "core/job/job.h"

#include <qpdf/QPDFObjectHandle.hh>

#include <array>

namespace bichrom {

/// What a composite viewer shows for the solid of a plate: cyan, magenta, yellow, black, 0 to 1.
[[nodiscard]] std::array<double, 4> look_of(const Plate &plate, const ProcessProfile &condition);

/// Media, bleed and trim box of a page that is \p height points high.
void add_boxes(QPDFObjectHandle page, const PageInfo &info, double height);

} // namespace bichrom
