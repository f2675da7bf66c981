#include "core/artwork/damage.h"

#include <algorithm>
#include <array>
#include <tuple>

namespace bichrom {

namespace {

bool holds(std::string_view text, std::string_view part)
{
    return text.find(part) != std::string_view::npos;
}

template <std::size_t Count>
bool holds_any(std::string_view text, const std::array<std::string_view, Count> &parts)
{
    return std::any_of(parts.begin(), parts.end(), [&](std::string_view part) { return holds(text, part); });
}

// What the interpreter says while it reads good files, or repairs without loss.
constexpr std::array<std::string_view, 38> harmless = {
    "... repeated",
    "Ignoring error during interpretation", // follows the error itself
    "PDF stream Length incorrect",
    "ignoring transfer function",
    "gstate underflow",
    "line feed missing after stream begin",
    "non-embedded font using identity encoding",
    "cannot load ToUnicode CMap",
    "freetype could not",
    "freetype get glyph name",
    "unknown cid collection",
    "CIDFont is missing CIDSystemInfo",
    "workaround for S22PDF",
    "unexpectedly replacing entry",
    "non-indirect internal node",
    "missing file identifier",
    "invalid date format",
    "too many indirections",
    "ignoring embedded ICC profile",
    "invalid number of components in ICC",
    "invalid ICC",
    "skipping out of range icc",
    "jpx file and dict colorspace do not match",
    "openjpeg info",
    "jbig2dec info",
    "jbig2dec debug",
    "tolerating a single out of range",
    "faxd stream doesn't start with EOL",
    "bad eod marker in a85d",
    "partial final byte in a85d",
    "curveto with no current point",
    "lineto with no current point",
    "quadto with no current point",
    "unknown PDF version",
    "cannot create appearance stream", // of an annotation that never had one
    "found duplicate fz_image",
    "link destination",
    "unknown link",
};

} // namespace

const char *to_string(DamageKind kind)
{
    static constexpr const char *names[] = {"structure", "instructions", "missing part",
                                            "picture",   "font",         "painting"};
    return names[static_cast<std::size_t>(kind)];
}

const char *describe(DamageKind kind)
{
    static constexpr const char *sentences[] = {
        "The file's structure is damaged: what could be found again is shown, the rest is missing.",
        "The page's drawing instructions are damaged: some of it may be missing or drawn otherwise.",
        "The page uses a part that the file lacks: what it would draw is missing.",
        "A picture's data is cut short or corrupt: what is missing prints bare, solid or as noise.",
        "A font cannot be read: other glyphs, or none, stand in its place.",
        "An object cannot be painted: it is missing."};
    return sentences[static_cast<std::size_t>(kind)];
}

std::string describe(const Damage &damage)
{
    std::string text = damage.object >= 0 ? "object " + std::to_string(damage.object) + ": " : std::string();
    text += describe(damage.kind);
    return damage.note.empty() ? text : text + " (" + damage.note + ")";
}

bool is_damage(std::string_view note)
{
    return !holds_any(note, harmless);
}

DamageKind kind_of_note(std::string_view note, bool of_picture)
{
    static constexpr std::array<std::string_view, 8> missing = {
        "cannot find XObject", "cannot find ColorSpace", "cannot find Pattern", "cannot find ExtGState",
        "cannot find Shading", "cannot find Properties", "no XObject subtype",  "not a xobject dict"};
    static constexpr std::array<std::string_view, 8> font = {"font", "Font",   "FT_",  "glyph",
                                                             "cmap", "encode", "CMap", "Type3"};
    static constexpr std::array<std::string_view, 12> data = {
        "image", "jpeg", "jbig2", "jpx",       "JPX",          "openjpeg",
        "lzw",   "faxd", "j2k",   "predictor", "bits per com", "soft mask"};
    if (holds_any(note, missing)) {
        return DamageKind::MissingPart;
    }
    if (of_picture || holds_any(note, data)) {
        return DamageKind::Picture;
    }
    return holds_any(note, font) ? DamageKind::Font : DamageKind::Instructions;
}

void DamageLog::add(Damage damage)
{
    constexpr std::size_t most = 500;
    const std::lock_guard guard(m_guard);
    if (m_all.size() < most && std::find(m_all.begin(), m_all.end(), damage) == m_all.end()) {
        m_all.push_back(std::move(damage));
    }
}

std::vector<Damage> DamageLog::all() const
{
    const std::lock_guard guard(m_guard);
    std::vector<Damage> sorted = m_all;
    const auto order = [](const Damage &damage) {
        const bool of_page = damage.object < 0;
        const bool says_how_much = holds(damage.note, " %");
        return std::tuple(damage.object, of_page ? DamageKind{} : damage.kind, !of_page && !says_how_much);
    };
    std::stable_sort(sorted.begin(), sorted.end(),
                     [&](const Damage &a, const Damage &b) { return order(a) < order(b); });
    const auto follows = [](const Damage &first, const Damage &next) {
        return first.object >= 0 && first.object == next.object && first.kind == next.kind;
    };
    sorted.erase(std::unique(sorted.begin(), sorted.end(), follows), sorted.end());
    return sorted;
}

bool DamageLog::empty() const
{
    const std::lock_guard guard(m_guard);
    return m_all.empty();
}

} // namespace bichrom
