/// \file
/// How much lies on the layers that do not print.
/// Layer: core/artwork/intake, private to it.
#pragma once

#include "core/artwork/intake/print_layers.h"

#include <map>

namespace bichrom {

/// Counts what would be painted on each group of \p layers that does not print: painting operators between
/// its marks, and the forms and pictures that belong to it. Groups that print are not in the result. \param
/// whole  set to false when the file holds more than is looked through, so that a count may be too low
[[nodiscard]] std::map<QPDFObjGen, int> count_unprinted(QPDF &pdf, const PrintLayers &layers, bool &whole);

} // namespace bichrom
