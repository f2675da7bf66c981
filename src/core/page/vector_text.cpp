#include "core/page/vector_text.h"

#include "core/artwork/mupdf/type3.h"
#include "core/page/pdf_operators.h"

#include <ft2build.h>
#include FT_FREETYPE_H
#include FT_ADVANCES_H
#include FT_CID_H
#include FT_FONT_FORMATS_H

#include <algorithm>
#include <cmath>
#include <cstring>
#include <string_view>

namespace bichrom {

namespace {

constexpr std::size_t most_program_bytes = std::size_t(8) << 20; ///< larger ones are not worth a line of text
constexpr int most_type1_codes = 255;

/// FreeType's faces are shared by all threads of the interpreter, under its lock.
class FaceLock
{
public:
    explicit FaceLock(fz_context *ctx) : m_ctx(ctx) { fz_lock(ctx, FZ_LOCK_FREETYPE); }
    ~FaceLock() { fz_unlock(m_ctx, FZ_LOCK_FREETYPE); }
    FaceLock(const FaceLock &) = delete;
    FaceLock &operator=(const FaceLock &) = delete;

private:
    fz_context *m_ctx;
};

FT_Face face_of(const fz_font *font)
{
    return static_cast<FT_Face>(font->ft_face);
}

std::uint32_t big_endian(std::string_view bytes, std::size_t at)
{
    std::uint32_t value = 0;
    for (std::size_t i = 0; i < 4; ++i) {
        value = value << 8 | static_cast<unsigned char>(bytes[at + i]);
    }
    return value;
}

/// The CFF table of an OpenType font; empty when there is none.
std::string_view cff_table(std::string_view font)
{
    constexpr std::size_t head = 12;
    constexpr std::size_t entry = 16;
    for (std::size_t at = head; at + entry <= font.size() && at < head + 64 * entry; at += entry) {
        if (font.substr(at, 4) == "CFF ") {
            const std::size_t from = big_endian(font, at + 8);
            const std::size_t length = big_endian(font, at + 12);
            return from <= font.size() && length <= font.size() - from ? font.substr(from, length)
                                                                       : std::string_view();
        }
    }
    return {};
}

/// A Type 1 program without the heads of segments that some come with: 128, 1 or 2, and the length.
std::string without_segments(std::string_view program)
{
    std::string plain;
    while (program.size() >= 6 && program[0] == '\x80' && (program[1] == '\x01' || program[1] == '\x02')) {
        std::size_t length = 0;
        for (std::size_t i = 4; i-- > 0;) {
            length = length << 8 | static_cast<unsigned char>(program[2 + i]);
        }
        length = std::min(length, program.size() - 6);
        plain += program.substr(6, length);
        program.remove_prefix(6 + length);
    }
    return plain.empty() ? std::string(program) : plain;
}

/// Fills in what \p font is. \return false when text in it stays outlines
bool describe(const fz_font *font, VectorFont &out)
{
    const fz_font_flags_t &flags = font->flags;
    FT_Face face = face_of(font);
    if (flags.fake_bold != 0 || flags.fake_italic != 0 || font->buffer == nullptr ||
        font->buffer->len > most_program_bytes || face->face_index != 0 || !FT_IS_SCALABLE(face) ||
        face->units_per_EM == 0) {
        return false;
    }
    const std::string_view data(reinterpret_cast<const char *>(font->buffer->data), font->buffer->len);
    const char *format = FT_Get_Font_Format(face);
    const std::string_view kind = format == nullptr ? "" : format;
    if (kind == "TrueType" && data.substr(0, 4) != "ttcf") {
        out.program = FontProgram::TrueType;
        out.data = data;
    } else if (kind == "CFF") {
        out.program = FontProgram::Cff;
        out.data = data.substr(0, 4) == "OTTO" ? cff_table(data) : data;
    } else if (kind == "Type 1" && FT_HAS_GLYPH_NAMES(face)) {
        out.program = FontProgram::Type1;
        out.data = without_segments(data);
    }
    if (out.data.empty()) {
        return false;
    }
    // The page's own name for it, which the interpreter cuts to what it has room for.
    const char *name = FT_Get_Postscript_Name(face);
    const bool is_whole = *font->name != '\0' && std::strlen(font->name) + 1 < sizeof font->name;
    out.name = is_whole || name == nullptr || *name == '\0' ? font->name : name;
    out.fixed_width = FT_IS_FIXED_WIDTH(face);
    out.serif = flags.is_serif != 0;
    out.italic = flags.is_italic != 0;
    const double unit = 1000.0 / face->units_per_EM;
    out.box = {static_cast<double>(face->bbox.xMin) * unit, static_cast<double>(face->bbox.yMin) * unit,
               static_cast<double>(face->bbox.xMax) * unit, static_cast<double>(face->bbox.yMax) * unit};
    out.ascent = face->ascender * unit;
    out.descent = face->descender * unit;
    return true;
}

/// What a glyph that is used for the first time is called and how wide it is. \return false when it cannot be
/// named
bool describe(fz_context *ctx, const fz_font *font, int glyph, const VectorFont &among, VectorGlyph &out)
{
    FT_Face face = face_of(font);
    const FaceLock lock(ctx);
    FT_Fixed advance = 0;
    if (glyph >= face->num_glyphs ||
        FT_Get_Advance(face, static_cast<FT_UInt>(glyph), FT_LOAD_NO_SCALE | FT_LOAD_IGNORE_TRANSFORM,
                       &advance) != 0) {
        return false;
    }
    out.width = static_cast<double>(advance) * 1000.0 / face->units_per_EM;
    if (font->flags.ft_stretch != 0 && font->width_table != nullptr) { // stands in for a font of other widths
        const double wanted = glyph < font->width_count ? font->width_table[glyph] : font->width_default;
        if (wanted > 0 && out.width > 0 && std::abs(wanted - out.width) > 1) {
            return false;
        }
    }
    out.code = glyph;
    FT_Bool has_cids = 0;
    FT_UInt cid = 0;
    if (among.program == FontProgram::Cff && FT_Get_CID_Is_Internally_CID_Keyed(face, &has_cids) == 0 &&
        has_cids != 0) {
        if (FT_Get_CID_From_Glyph_Index(face, static_cast<FT_UInt>(glyph), &cid) != 0) {
            return false;
        }
        out.code = static_cast<int>(cid);
    }
    if (among.program == FontProgram::Type1) {
        char name[128] = {};
        out.code = static_cast<int>(among.glyphs.size()) + 1;
        if (out.code > most_type1_codes ||
            FT_Get_Glyph_Name(face, static_cast<FT_UInt>(glyph), name, sizeof name) != 0 || name[0] == '\0') {
            return false;
        }
        out.name = name;
    }
    return out.code <= 0xFFFF;
}

void put_code(std::string &out, const VectorFont &font, int code)
{
    static constexpr char digits[] = "0123456789ABCDEF";
    for (int shift = font.program == FontProgram::Type1 ? 4 : 12; shift >= 0; shift -= 4) {
        out += digits[code >> shift & 15];
    }
}

/// Writes glyphs that stand behind each other as one array, the distances in it.
class GlyphRun
{
public:
    GlyphRun(std::string &out, const VectorFont &font, fz_matrix axes, fz_matrix ctm)
        : m_out(out), m_font(font), m_axes(axes), m_ctm(ctm)
    {
    }
    ~GlyphRun() { end(); }
    GlyphRun(const GlyphRun &) = delete;
    GlyphRun &operator=(const GlyphRun &) = delete;

    void add(const VectorGlyph &glyph, double x, double y)
    {
        if (m_open && !reaches(x, y)) {
            end();
        }
        if (!m_open) {
            fz_matrix place = m_axes;
            place.e = static_cast<float>(x);
            place.f = static_cast<float>(y);
            put_matrix(m_out, fz_concat(place, m_ctm), "Tm");
            m_out += "[<";
            m_open = true;
            m_x = x;
            m_y = y;
            m_at = 0;
        }
        put_code(m_out, m_font, glyph.code);
        m_at += glyph.width / 1000;
    }

private:
    /// Moves on to \p x, \p y when that lies on the line that the glyphs so far stand on.
    bool reaches(double x, double y)
    {
        const double a = static_cast<double>(m_axes.a);
        const double b = static_cast<double>(m_axes.b);
        const double length = std::hypot(a, b);
        const double dx = x - m_x;
        const double dy = y - m_y;
        constexpr double near = 1e-4; // of an em
        const double along = (dx * a + dy * b) / (length * length);
        if (!(length > 0) || std::abs(dx * b - dy * a) / (length * length) > near) {
            return false;
        }
        constexpr double unit = 1e-5; // what two decimals of a thousandth are
        const double back = std::round((m_at - along) / unit) * unit;
        if (std::abs(back) > 30) {
            return false; // some readers keep distances as 16 bits
        }
        if (std::abs(back) > near) {
            m_out += '>';
            put_number(m_out, back * 1000, 2);
            m_out += '<';
            m_at -= back;
        }
        return true;
    }

    void end()
    {
        if (m_open) {
            m_out += ">] TJ\n";
            m_open = false;
        }
    }

    std::string &m_out;
    const VectorFont &m_font;
    fz_matrix m_axes, m_ctm;
    bool m_open = false;
    double m_x = 0, m_y = 0; ///< where the array began
    double m_at = 0;         ///< how far it has come, in ems
};

} // namespace

int VectorFonts::number_of(fz_context *ctx, fz_font *font)
{
    const auto [at, is_new] = m_numbers.try_emplace(font, -1);
    if (is_new && may_have_outlines(font)) {
        VectorFont made;
        const FaceLock lock(ctx);
        if (describe(font, made)) {
            at->second = static_cast<int>(m_page.fonts.size());
            m_page.fonts.push_back(std::move(made));
        }
    }
    return at->second;
}

VectorGlyph *VectorFonts::glyph_of(fz_context *ctx, fz_font *font, int glyph)
{
    const int number = number_of(ctx, font);
    if (number < 0 || glyph < 0) {
        return nullptr;
    }
    VectorFont &among = m_page.fonts[static_cast<std::size_t>(number)];
    if (const auto known = among.glyphs.find(glyph); known != among.glyphs.end()) {
        return &known->second;
    }
    VectorGlyph made;
    return describe(ctx, font, glyph, among, made)
               ? &among.glyphs.emplace(glyph, std::move(made)).first->second
               : nullptr;
}

bool VectorFonts::can_write(fz_context *ctx, const fz_text *text)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        const double turned = static_cast<double>(span->trm.a) * static_cast<double>(span->trm.d) -
                              static_cast<double>(span->trm.b) * static_cast<double>(span->trm.c);
        if (!(std::abs(turned) > 0)) {
            return false;
        }
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid >= 0 && glyph_of(ctx, span->font, span->items[i].gid) == nullptr) {
                return false;
            }
        }
    }
    return true;
}

void VectorFonts::put(fz_context *ctx, std::string &out, const fz_text *text, fz_matrix ctm,
                      TextPainting painting)
{
    out += "BT ";
    if (painting != TextPainting::Fill) {
        out += std::to_string(static_cast<int>(painting)) + " Tr ";
    }
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        const int number = number_of(ctx, span->font);
        if (number < 0) {
            continue;
        }
        out += "/T" + std::to_string(number) + " 1 Tf\n";
        GlyphRun run(out, m_page.fonts[static_cast<std::size_t>(number)], span->trm, ctm);
        VectorGlyph *last = nullptr;
        bool was_empty = false;
        for (int i = 0; i < span->len; ++i) {
            const fz_text_item &item = span->items[i];
            // Further letters of a ligature come as items without a glyph.
            const bool more = item.gid < 0;
            if (!more) {
                last = glyph_of(ctx, span->font, item.gid);
                was_empty = last != nullptr && last->text.empty();
            }
            if (last == nullptr) {
                continue;
            }
            if (was_empty && item.ucs > 0 && item.ucs != FZ_REPLACEMENT_CHARACTER && item.ucs <= 0x10FFFF) {
                last->text.push_back(static_cast<char32_t>(item.ucs));
            }
            if (!more) {
                run.add(*last, static_cast<double>(item.x), static_cast<double>(item.y));
            }
        }
    }
    out += "ET\n";
}

} // namespace bichrom
