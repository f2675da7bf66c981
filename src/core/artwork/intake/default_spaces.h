/// \file
/// DefaultRGB and DefaultCMYK (ISO 32000-1, 8.6.5.6) spelled out.
/// Layer: core/artwork, private. qpdf stays inside.
#pragma once

class QPDF;

namespace bichrom {

/// Where resources say that device colours mean a profile, makes contents, pictures and shadings name that
/// space, which the interpreter would not do by itself. Only for ICCBased and CalRGB spaces; a DefaultGray
/// stays, since grey keeps its numbers. Pictures shared with resources that say nothing follow those that do.
/// \return whether anything was changed
bool spell_out_default_spaces(QPDF &pdf);

} // namespace bichrom
