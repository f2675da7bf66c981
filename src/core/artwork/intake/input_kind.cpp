#include "core/artwork/intake/input_kind.h"

#include <algorithm>
#include <cctype>
#include <string>
#include <string_view>

namespace bichrom {

using namespace std::string_view_literals;

const char *to_string(InputKind kind)
{
    static constexpr const char *names[] = {"unknown", "PDF", "PostScript", "EPS",
                                            "SVG",     "PNG", "JPEG",       "TIFF"};
    return names[static_cast<std::size_t>(kind)];
}

namespace {

/// Whether PostScript without the mark of EPS is one all the same: by its file's name, or because it gives a
/// box and neither several pages nor a sheet of its own.
bool is_unmarked_eps(std::string_view text, std::string_view name)
{
    std::string ending(name.substr(name.size() - std::min<std::size_t>(5, name.size())));
    std::transform(ending.begin(), ending.end(), ending.begin(),
                   [](unsigned char c) { return static_cast<char>(std::tolower(c)); });
    if (ending.ends_with(".eps") || ending.ends_with(".epsf") || ending.ends_with(".epsi")) {
        return true;
    }
    const std::string_view head = text.substr(0, 65536);
    if (head.find("%%BoundingBox:") == std::string_view::npos) {
        return false;
    }
    for (const std::string_view sheet : {"setpagedevice"sv, "%%DocumentMedia"sv, "%%DocumentPaperSizes"sv,
                                         "%%PageMedia"sv, "%%PaperSize"sv, "/PageSize"sv}) {
        if (head.find(sheet) != std::string_view::npos) {
            return false;
        }
    }
    std::size_t pages = 0;
    for (std::size_t at = text.find("\n%%Page:"); at != std::string_view::npos && pages < 2;
         at = text.find("\n%%Page:", at + 1)) {
        ++pages;
    }
    return pages < 2;
}

} // namespace

InputKind input_kind(std::span<const std::byte> bytes, std::string_view name)
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
        return line.find("EPSF") != std::string_view::npos || is_unmarked_eps(all, name)
                   ? InputKind::Eps
                   : InputKind::PostScript;
    }
    // An SVG may begin with a declaration, comments and an entity table of any length.
    const std::string_view text = all.substr(0, 65536);
    return text.find("<svg") != std::string_view::npos || text.find(":svg") != std::string_view::npos
               ? InputKind::Svg
               : InputKind::Unknown;
}

} // namespace bichrom
