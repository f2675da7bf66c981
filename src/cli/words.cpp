#include "cli/words.h"

#include <CLI/CLI.hpp>

namespace bichrom {

namespace {

std::optional<std::pair<std::string, std::string>> halves_at(const std::string &text, std::size_t at)
{
    if (at == std::string::npos || at == 0 || at + 1 == text.size()) {
        return std::nullopt;
    }
    return std::pair(text.substr(0, at), text.substr(at + 1));
}

} // namespace

Error usage_error(const std::string &what, const std::string &remedy)
{
    return {ErrorCode::OutOfRange, what, {}, remedy};
}

std::optional<std::pair<std::string, std::string>> halves_at_first(const std::string &text, char sign)
{
    auto parts = halves_at(text, text.find(sign));
    if (parts) {
        CLI::detail::trim(parts->first);
        CLI::detail::trim(parts->second);
    }
    return parts;
}

std::optional<std::pair<std::string, std::string>> halves_at_last(const std::string &text, char sign)
{
    return halves_at(text, text.rfind(sign));
}

} // namespace bichrom
