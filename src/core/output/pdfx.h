/// \file
/// What makes a PDF of plates a PDF/X-4 (ISO 15930-7:2010).
/// Layer: core/output, private. qpdf stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/job/job_file.h"

#include <string>
#include <vector>

class QPDF;

namespace bichrom {

/// What the file says of itself.
struct PdfxHead
{
    std::string title;
    std::string date;               ///< "2026-11-28": of making and changing
    std::string id;                 ///< 64 hexadecimal digits that tell this file from others
    std::string intent;             ///< name of the printing condition
    std::vector<std::byte> profile; ///< of the printing condition, CMYK
    bool trapped = false;
};

/// Adds output intent, metadata and information to \p pdf, whose pages have their boxes.
void make_pdfx4(QPDF &pdf, const PdfxHead &head);

/// \param opened  what is written; \return its head
[[nodiscard]] PdfxHead pdfx_head(const OpenedJob &opened, const std::string &condition,
                                 const std::string &date);

/// What of a file that was made so does not keep to PDF/X-4, a sentence each.
/// \param widest, highest  of its pages, points; \param inks  most colourants that stand in one space
[[nodiscard]] std::vector<std::string> against_pdfx4(const PdfxHead &head, double widest, double highest,
                                                     std::size_t inks,
                                                     const std::vector<std::string> &damage);

} // namespace bichrom
