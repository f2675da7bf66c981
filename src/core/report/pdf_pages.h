/// \file
/// Pages of text, rules and pictures at exact places, as PDF.
/// Layer: core/report, private. MuPDF stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/report/html_pdf.h"

#include <cstddef>
#include <list>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// How words look.
struct WordStyle
{
    double size = 9; ///< pt
    bool bold = false;
    std::uint32_t colour = 0xFF1C1C1B; ///< 0xFFRRGGBB
};

/// Collects what stands on pages. Points, origin at the top left, y down. For one thread.
class PdfPages
{
public:
    [[nodiscard]] static Outcome<PdfPages> make();
    ~PdfPages();
    PdfPages(PdfPages &&) noexcept;
    PdfPages &operator=(PdfPages &&) = delete;

    /// Further calls are about this new page.
    void begin_page(double width, double height);
    [[nodiscard]] double page_width() const;
    [[nodiscard]] double page_height() const;
    /// One line, from \p x on the baseline \p y.
    void words(double x, double y, std::string text, const WordStyle &style);
    /// Filled; thin ones are rules.
    void box(double x, double y, double width, double height, std::uint32_t colour);
    /// Kept by the pages, so that one that stands often is written once.
    [[nodiscard]] std::size_t keep(ReportPicture picture);
    [[nodiscard]] const ReportPicture &kept(std::size_t picture) const;
    void picture(std::size_t kept, double x, double y, double width, double height);

    [[nodiscard]] double width_of(const std::string &text, const WordStyle &style) const;
    /// \p text in lines no wider than \p width; at least one. Words that are wider are cut.
    [[nodiscard]] std::vector<std::string> lines_of(const std::string &text, const WordStyle &style,
                                                    double width) const;

    /// \return the PDF; CannotWrite
    [[nodiscard]] Outcome<std::vector<std::byte>> finish();

private:
    struct Impl;
    explicit PdfPages(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

/// PNG of a picture, which says its resolution. \p dpi 0 = not said
[[nodiscard]] Outcome<std::vector<std::byte>> png_bytes(const ReportPicture &picture, double dpi = 0);

/// The same as text for addresses within pages (RFC 4648).
[[nodiscard]] Outcome<std::string> png_base64(const ReportPicture &picture);

} // namespace bichrom
