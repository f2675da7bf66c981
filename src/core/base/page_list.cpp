#include "core/base/page_list.h"

#include <algorithm>
#include <charconv>
#include <numeric>
#include <optional>

namespace bichrom {

namespace {

std::string_view trimmed(std::string_view text)
{
    const std::size_t first = text.find_first_not_of(" \t");
    return first == std::string_view::npos ? std::string_view()
                                           : text.substr(first, text.find_last_not_of(" \t") - first + 1);
}

std::optional<int> number_in(std::string_view text)
{
    text = trimmed(text);
    int number = 0;
    const auto [end, fault] = std::from_chars(text.data(), text.data() + text.size(), number);
    return fault == std::errc() && end == text.data() + text.size() && number > 0 ? std::optional(number)
                                                                                  : std::nullopt;
}

} // namespace

bool holds_for(const PageList &pages, int page)
{
    return pages.empty() || std::binary_search(pages.begin(), pages.end(), page);
}

Outcome<PageList> parse_pages(std::string_view text, int count)
{
    PageList pages;
    if (trimmed(text) == "all") {
        pages.resize(static_cast<std::size_t>(count));
        std::iota(pages.begin(), pages.end(), 1);
        return pages;
    }
    std::string_view rest = text;
    while (true) {
        const std::size_t comma = rest.find(',');
        const std::string_view part = rest.substr(0, comma);
        const std::size_t dash = part.find('-');
        const auto first = number_in(part.substr(0, dash));
        const auto last = dash == std::string_view::npos ? first : number_in(part.substr(dash + 1));
        if (!first || !last || *last < *first) {
            return Error{ErrorCode::OutOfRange,
                         "'" + std::string(text) + "' is no list of pages.",
                         {},
                         "Write, for example, 1-3,5 or all."};
        }
        if (*last > count) {
            return Error{ErrorCode::NoSuchPage,
                         "There is no page " + std::to_string(std::max(*first, count + 1)) + ".",
                         {},
                         count == 1 ? "There is only one page."
                                    : "The pages are 1 to " + std::to_string(count) + "."};
        }
        for (int page = *first; page <= *last; ++page) {
            pages.push_back(page);
        }
        if (comma == std::string_view::npos) {
            break;
        }
        rest = rest.substr(comma + 1);
    }
    std::sort(pages.begin(), pages.end());
    pages.erase(std::unique(pages.begin(), pages.end()), pages.end());
    return pages;
}

std::string format_pages(const PageList &pages)
{
    if (pages.empty()) {
        return "all";
    }
    std::string text;
    for (std::size_t i = 0; i < pages.size();) {
        std::size_t end = i;
        while (end + 1 < pages.size() && pages[end + 1] == pages[end] + 1) {
            ++end;
        }
        text += (text.empty() ? "" : ",") + std::to_string(pages[i]);
        if (end > i) {
            text += (end == i + 1 ? "," : "-") + std::to_string(pages[end]);
        }
        i = end + 1;
    }
    return text;
}

std::string describe_pages(const PageList &pages)
{
    return pages.empty() ? "on all pages"
                         : (pages.size() == 1 ? "on page " : "on pages ") + format_pages(pages);
}

} // namespace bichrom
