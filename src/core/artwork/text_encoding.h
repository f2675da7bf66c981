/// \file
/// Names from files as text the program can show.
/// Layer: core/artwork.
#pragma once

#include <string>
#include <string_view>

namespace bichrom {

/// \p bytes themselves when they are UTF-8, otherwise read as ISO 8859-1.
/// The same bytes always give the same name, different ones different names
/// unless one of the two is the other's UTF-8 form.
[[nodiscard]] std::string valid_utf8(std::string_view bytes);

} // namespace bichrom
