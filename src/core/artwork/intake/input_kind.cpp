#include "core/artwork/intake/input_kind.h"

#include <algorithm>
#include <string_view>

namespace bichrom {

using namespace std::string_view_literals;

const char *to_string(InputKind kind)
{
    static constexpr const char *names[] = {"unknown", "PDF", "PostScript", "EPS",
                                            "SVG",     "PNG", "JPEG",       "TIFF"};
    return names[static_cast<std::size_t>(kind)];
}

InputKind input_kind(std::span<const std::byte> bytes)
{
    const std::string_view all(reinterpret_cast<const char *>(bytes.data()), bytes.size());
    const std::string_view head = all.substr(0, 1024);
    if (head.starts_with("\x89PNG\r\n\x1a\n"sv)) {
        return InputKind::Png;
    }
    if (head.starts_with("\xff\xd8\xff"sv)) {
        return InputKind::Jpeg;
    }
    if (head.starts_with("II*\0"sv) || head.starts_with("MM\0*"sv) || head.starts_with("II+\0"sv) ||
        head.starts_with("MM\0+"sv)) {
        return InputKind::Tiff;
    }
    if (head.starts_with("\xc5\xd0\xd3\xc6"sv)) {
        return InputKind::Eps; // the binary header of the EPS specification, version 3
    }
    // ISO 32000-1, implementation note 13: the header stands in the first 1024 bytes.
    if (head.find("%PDF-") != std::string_view::npos) {
        return InputKind::Pdf;
    }
    if (head.starts_with("%!") || head.starts_with("\x04%!"sv)) {
        const std::string_view line = head.substr(0, head.find_first_of("\r\n"));
        return line.find("EPSF") != std::string_view::npos ? InputKind::Eps : InputKind::PostScript;
    }
    if (head.starts_with("\x1f\x8b"sv)) {
        return InputKind::Svg; // compressed; the reader says when it is something else
    }
    // An SVG may begin with a declaration, comments and an entity table of any length.
    const std::string_view text = all.substr(0, 65536);
    return text.find("<svg") != std::string_view::npos || text.find(":svg") != std::string_view::npos
               ? InputKind::Svg
               : InputKind::Unknown;
}

} // namespace bichrom
