/// \file
/// Lists of pages: "1-3,5", "all".
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// Page numbers from 1, ascending, each once. Of what holds for pages, an empty list means all of them.
using PageList = std::vector<int>;

/// Whether what holds for \p pages holds for \p page.
[[nodiscard]] bool holds_for(const PageList &pages, int page);

/// Numbers and ranges with commas between them, in any order, blanks allowed; "all".
/// \param count  of pages, at least 1
/// \return every page named, never empty; OutOfRange for what is no list, NoSuchPage beyond \p count
[[nodiscard]] Outcome<PageList> parse_pages(std::string_view text, int count);

/// The shortest text parse_pages() reads so: "1-3,5"; "all" for an empty list.
[[nodiscard]] std::string format_pages(const PageList &pages);

/// "on all pages", "on page 3", "on pages 1-3,5".
[[nodiscard]] std::string describe_pages(const PageList &pages);

} // namespace bichrom
