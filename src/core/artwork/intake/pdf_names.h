/// \file
/// Names as qpdf must be given them to write them right.
/// Layer: core/artwork, private. qpdf stays inside.
#pragma once

class QPDF;

namespace bichrom {

/// Spells out every '#' in names and keys of \p pdf, right before it is written: qpdf 11 writes the sign as
/// it is, where a reader takes it for the beginning of an escape (ISO 32000-1, 7.3.5), so that "A #41" became
/// "A A".
void spell_out_number_signs(QPDF &pdf);

} // namespace bichrom
