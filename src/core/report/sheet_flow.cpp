#include "core/report/sheet_flow.h"

#include <algorithm>

namespace bichrom {

namespace {

constexpr std::uint32_t quiet = 0xFF565653, rule = 0xFFBBBBB7;
constexpr double leading = 1.32; ///< of the size, from line to line

} // namespace

SheetFlow::SheetFlow(PdfPages &pages, std::string foot) : m_pages(pages), m_foot(std::move(foot))
{
    new_sheet();
}

void SheetFlow::new_sheet()
{
    m_pages.begin_page(sheet_width, sheet_height);
    ++m_sheet;
    m_y = top;
    const WordStyle small{7.5, false, quiet};
    m_pages.words(left, sheet_height - 28, m_foot, small);
    const std::string number = std::to_string(m_sheet);
    m_pages.words(right - m_pages.width_of(number, small), sheet_height - 28, number, small);
}

void SheetFlow::need(double height)
{
    if (room() < height) {
        new_sheet();
    }
}

void SheetFlow::title(const std::string &text)
{
    const WordStyle style{18, true};
    for (const std::string &line : m_pages.lines_of(text, style, width())) {
        m_pages.words(left, m_y + 16, line, style);
        m_y += 22;
    }
    m_y += 2;
}

void SheetFlow::heading(const std::string &text)
{
    need(52);
    m_y += 10;
    m_pages.words(left, m_y + 11, text, {11.5, true});
    m_y += 17;
}

void SheetFlow::paragraph(const std::string &text, const WordStyle &style)
{
    for (const std::string &line : m_pages.lines_of(text, style, width())) {
        need(style.size * leading);
        m_pages.words(left, m_y + style.size, line, style);
        m_y += style.size * leading;
    }
    m_y += 2;
}

void SheetFlow::facts(const std::vector<std::pair<std::string, std::string>> &facts)
{
    constexpr double names = 110;
    const WordStyle name{9, false, quiet}, value{9};
    for (const auto &[what, said] : facts) {
        bool first = true;
        for (const std::string &line : m_pages.lines_of(said, value, width() - names)) {
            need(value.size * leading);
            if (first) {
                m_pages.words(left, m_y + name.size, what, name);
            }
            m_pages.words(left + names, m_y + value.size, line, value);
            m_y += value.size * leading;
            first = false;
        }
    }
    m_y += 2;
}

void SheetFlow::table(const std::vector<FlowColumn> &columns,
                      const std::vector<std::vector<std::string>> &rows)
{
    constexpr double gap = 8;
    double shares = 0;
    for (const FlowColumn &column : columns) {
        shares += column.share;
    }
    const double share = (width() - gap * static_cast<double>(columns.size() - 1)) / shares;
    const auto row = [&](const std::vector<std::string> &cells, const WordStyle &style) {
        std::vector<std::vector<std::string>> lines;
        std::size_t most = 1;
        for (std::size_t i = 0; i < columns.size(); ++i) {
            lines.push_back(m_pages.lines_of(cells[i], style, columns[i].share * share));
            most = std::max(most, lines.back().size());
        }
        const double height = static_cast<double>(most) * style.size * leading + 4;
        need(height);
        double x = left;
        for (std::size_t i = 0; i < columns.size(); ++i) {
            const double wide = columns[i].share * share;
            for (std::size_t k = 0; k < lines[i].size(); ++k) {
                const double at = columns[i].figures ? x + wide - m_pages.width_of(lines[i][k], style) : x;
                m_pages.words(at, m_y + style.size * (1 + leading * static_cast<double>(k)), lines[i][k],
                              style);
            }
            x += wide + gap;
        }
        m_y += height;
        m_pages.box(left, m_y - 2, width(), 0.4, rule);
        m_y += 2;
    };
    std::vector<std::string> heads;
    for (const FlowColumn &column : columns) {
        heads.push_back(column.head);
    }
    need(40);
    row(heads, {8, false, quiet});
    for (const std::vector<std::string> &cells : rows) {
        row(cells, {8.5});
    }
    m_y += 2;
}

void SheetFlow::pictures(const std::vector<std::size_t> &kept, const std::vector<std::string> &captions,
                         double width, double height)
{
    constexpr double gap = 14, under = 16;
    const auto across =
        std::max<std::size_t>(1, static_cast<std::size_t>((this->width() + gap) / (width + gap)));
    for (std::size_t first = 0; first < kept.size(); first += across) {
        need(height + under + 6);
        const std::size_t end = std::min(first + across, kept.size());
        double tallest = 0;
        for (std::size_t i = first; i < end; ++i) {
            const ReportPicture &picture = m_pages.kept(kept[i]);
            const double scale = std::min(width / picture.width, height / picture.height);
            tallest = std::max(tallest, picture.height * scale);
        }
        for (std::size_t i = first; i < end; ++i) {
            const ReportPicture &picture = m_pages.kept(kept[i]);
            const double scale = std::min(width / picture.width, height / picture.height);
            const double x = left + static_cast<double>(i - first) * (width + gap);
            m_pages.picture(kept[i], x, m_y, picture.width * scale, picture.height * scale);
            m_pages.words(x, m_y + tallest + 10, m_pages.lines_of(captions[i], {8}, width).front(), {8});
        }
        m_y += tallest + under + 6;
    }
}

} // namespace bichrom
