/// \file
/// The fonts of a PDF of plates.
/// Layer: core/output, private. qpdf stays inside.
#pragma once

#include "core/page/vector_page.h"

#include <qpdf/QPDFObjectHandle.hh>

#include <string>
#include <unordered_map>

class QPDF;

namespace bichrom {

/// Writes fonts into a file, each program once however many pages use it.
class FontFiles
{
public:
    explicit FontFiles(QPDF &pdf) : m_pdf(pdf) {}

    /// A font with its program embedded, the widths of its glyphs, and what they stand for: TrueType and CFF
    /// as composite fonts whose codes of two bytes are glyphs or CIDs, Type 1 as a simple one (ISO 32000-1,
    /// 9.6 and 9.7).
    [[nodiscard]] QPDFObjectHandle font(const VectorFont &font);

private:
    QPDFObjectHandle program(const VectorFont &font);
    QPDFObjectHandle descriptor(const VectorFont &font);
    QPDFObjectHandle composite(const VectorFont &font);
    QPDFObjectHandle simple(const VectorFont &font);

    QPDF &m_pdf;
    std::unordered_map<std::string, QPDFObjectHandle> m_programs; ///< by their bytes
};

} // namespace bichrom
