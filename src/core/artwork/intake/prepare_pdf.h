/// \file
/// A copy of a PDF in which everything the interpreter would get wrong is spelled out.
/// Layer: core/artwork. qpdf stays inside.
#pragma once

#include "core/artwork/intake/place_pages.h"
#include "core/artwork/layer.h"

#include <cstddef>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// What preparing gives. The original is never written to.
struct PreparedPdf
{
    std::vector<std::byte> bytes; ///< the copy, not encrypted; empty when the original can be read as it is
    /// ICC profiles, by the numbers that the copy's private colour spaces carry.
    std::vector<std::vector<std::byte>> profiles;
    std::vector<Layer> layers;            ///< in the file's order, with their state in print
    std::vector<std::string> assumptions; ///< how doubtful things were read
    std::string output_intent;            ///< the printing condition the file names; empty when none
    bool output_intent_has_profile = false;
    bool damaged = false; ///< the structure cannot be read: use the original
};

/// Spells out, for an interpreter without colour management:
/// - ICCBased and CalRGB spaces: DeviceN spaces with private colourants (colourants.h);
/// - transparency groups in such spaces: device spaces of the same size;
/// - layers: the state of every group in print (ISO 32000-1, 8.11.4: configuration, usage
///   application dictionaries), and of every membership dictionary (policies, expressions);
/// - blend modes given as a list: the first that the standard knows (ISO 32000-1, 11.6.3).
/// \param password  for an encrypted file; when it is wrong the result is damaged
/// \param placed    pages of other files to be laid over and under its own, first of all
[[nodiscard]] PreparedPdf prepare_pdf(std::span<const std::byte> bytes, const std::string &password,
                                      std::span<const PageToPlace> placed = {});

} // namespace bichrom
