/// \file
/// Colour spaces of named inks in a PDF.
/// Layer: core/artwork, private to the core. qpdf stays inside.
#pragma once

#include <qpdf/QPDFObjectHandle.hh>

#include <array>
#include <string>
#include <vector>

namespace bichrom {

/// DeviceN of \p inks, an indirect object of \p pdf, whose tint transform adds up what they look like.
/// \param looks  of each ink's solid, cyan, magenta, yellow, black, 0 to 1
[[nodiscard]] QPDFObjectHandle ink_space(QPDF &pdf, const std::vector<std::string> &inks,
                                         const std::vector<std::array<double, 4>> &looks);

/// Separation of one ink, the same.
[[nodiscard]] QPDFObjectHandle ink_space(QPDF &pdf, const std::string &ink,
                                         const std::array<double, 4> &look);

} // namespace bichrom
