/// \file
/// Headings, paragraphs, tables and pictures one under the other on A4 sheets.
/// Layer: core/report, private.
#pragma once

#include "core/report/pdf_pages.h"

#include <functional>
#include <string>
#include <vector>

namespace bichrom {

/// A column of a table.
struct FlowColumn
{
    std::string head;
    double share = 1;     ///< of the width, relative to the other columns
    bool figures = false; ///< set to the right
};

/// Sets on A4 (ISO 216), goes on on a new sheet where one is full; each says at its foot what it belongs to.
class SheetFlow
{
public:
    SheetFlow(PdfPages &pages, std::string foot);

    [[nodiscard]] double width() const { return right - left; }
    [[nodiscard]] double room() const { return bottom - m_y; }
    void new_sheet();
    /// Begins a new sheet unless there is so much room, in points.
    void need(double height);
    void space(double height) { m_y += height; }
    void title(const std::string &text);
    void heading(const std::string &text);
    void paragraph(const std::string &text, const WordStyle &style = {});
    /// Pairs of a name and what is said of it.
    void facts(const std::vector<std::pair<std::string, std::string>> &facts);
    void table(const std::vector<FlowColumn> &columns, const std::vector<std::vector<std::string>> &rows);
    /// In a row, as large as fits \p width × \p height each, a line of text under each.
    void pictures(const std::vector<std::size_t> &kept, const std::vector<std::string> &captions,
                  double width, double height);
    /// The baseline-free position, for what is drawn by hand.
    [[nodiscard]] double y() const { return m_y; }

    static constexpr double sheet_width = 595.276, sheet_height = 841.890; ///< pt, 210 × 297 mm
    static constexpr double left = 48, right = 547, top = 46, bottom = 792;

private:
    PdfPages &m_pages;
    std::string m_foot;
    double m_y = top;
    int m_sheet = 0;
};

} // namespace bichrom
