#include "cli/console.h"

#include <cstdarg>
#include <cstdio>
#include <string>

namespace bichrom {

namespace {

/// \p text without what steers a terminal: the control characters of ISO 6429, but tabs and ends of lines.
std::string harmless(const std::string &text)
{
    std::string clean = text;
    for (std::size_t i = 0; i < clean.size(); ++i) {
        const auto byte = static_cast<unsigned char>(clean[i]);
        if ((byte < 0x20 && byte != '\n' && byte != '\t') || byte == 0x7F) {
            clean[i] = '?';
        } else if (byte == 0xC2 && i + 1 < clean.size() && static_cast<unsigned char>(clean[i + 1]) < 0xA0) {
            clean.replace(i, 2, "?"); // U+0080 to U+009F
        }
    }
    return clean;
}

__attribute__((format(printf, 2, 0))) void write(std::FILE *to, const char *format, std::va_list arguments)
{
    std::va_list again;
    va_copy(again, arguments);
    const int size = std::vsnprintf(nullptr, 0, format, again);
    va_end(again);
    if (size <= 0) {
        return;
    }
    std::string text(static_cast<std::size_t>(size) + 1, '\0');
    (void)std::vsnprintf(text.data(), text.size(), format, arguments);
    text.pop_back();
    const std::string clean = harmless(text);
    (void)std::fwrite(clean.data(), 1, clean.size(), to);
}

} // namespace

void say(const char *format, ...)
{
    std::va_list arguments;
    va_start(arguments, format);
    write(stdout, format, arguments);
    va_end(arguments);
}

void complain(const char *format, ...)
{
    std::va_list arguments;
    va_start(arguments, format);
    write(stderr, format, arguments);
    va_end(arguments);
}

} // namespace bichrom
