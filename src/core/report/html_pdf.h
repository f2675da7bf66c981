/// \file
/// A document of words and pictures as PDF.
/// Layer: core/report, private. MuPDF stays inside.
#pragma once

#include "core/base/outcome.h"

#include <cstddef>
#include <cstdint>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// A picture that the text names by \c src.
struct ReportPicture
{
    std::string name; ///< "1.png"
    int width = 0;
    int height = 0;
    std::vector<std::uint32_t> pixels; ///< 0xFFRRGGBB, rows top down
};

/// Sets HTML (the subset that MuPDF knows) on A4 pages, in a typeface that is embedded.
/// \return the PDF; CannotWrite when the text cannot be set
[[nodiscard]] Outcome<std::vector<std::byte>> html_to_pdf(const std::string &html, const std::string &css,
                                                          const std::vector<ReportPicture> &pictures);

/// Text that is not markup.
[[nodiscard]] std::string html_of(std::string_view text);

} // namespace bichrom
