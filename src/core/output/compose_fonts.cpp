#include "core/output/compose_fonts.h"

#include "core/base/units.h"

#include <qpdf/QPDF.hh>

#include <algorithm>
#include <map>

namespace bichrom {

namespace {

QPDFObjectHandle name(const std::string &text)
{
    return QPDFObjectHandle::newName("/" + text);
}

QPDFObjectHandle number(double value)
{
    return QPDFObjectHandle::newReal(format_number(value, 2));
}

std::string hex(unsigned value, int digits)
{
    static constexpr char letters[] = "0123456789ABCDEF";
    std::string text;
    for (int shift = (digits - 1) * 4; shift >= 0; shift -= 4) {
        text += letters[value >> shift & 15];
    }
    return text;
}

/// UTF-16BE in hexadecimal digits.
std::string utf16(const std::u32string &text)
{
    std::string out;
    for (const char32_t letter : text) {
        if (letter >= 0x10000) {
            out += hex(0xD800 + static_cast<unsigned>((letter - 0x10000) >> 10), 4) +
                   hex(0xDC00 + static_cast<unsigned>((letter - 0x10000) & 0x3FF), 4);
        } else {
            out += hex(static_cast<unsigned>(letter), 4);
        }
    }
    return out;
}

/// Glyphs by the code they are written with.
std::map<int, const VectorGlyph *> by_code(const VectorFont &font)
{
    std::map<int, const VectorGlyph *> glyphs;
    for (const auto &[number, glyph] : font.glyphs) {
        glyphs[glyph.code] = &glyph;
    }
    return glyphs;
}

/// What each code stands for, as a ToUnicode CMap (ISO 32000-1, 9.10.3). \param digits  of a code
std::string unicode_map(const std::map<int, const VectorGlyph *> &glyphs, int digits)
{
    std::string out = "/CIDInit /ProcSet findresource begin\n12 dict begin\nbegincmap\n"
                      "/CIDSystemInfo << /Registry (Bichrom) /Ordering (UCS) /Supplement 0 >> def\n"
                      "/CMapName /Bichrom-UCS def\n/CMapType 2 def\n1 begincodespacerange\n<" +
                      std::string(static_cast<std::size_t>(digits), '0') + "> <" +
                      std::string(static_cast<std::size_t>(digits), 'F') + ">\nendcodespacerange\n";
    // Where a page does not say what its codes stand for, the interpreter takes them for letters.
    const bool is_told = std::any_of(glyphs.begin(), glyphs.end(), [](const auto &one) {
        return one.second->text != std::u32string(1, static_cast<char32_t>(one.first));
    });
    std::vector<std::string> lines;
    for (const auto &[code, glyph] : glyphs) {
        if (is_told && !glyph->text.empty()) {
            lines.push_back("<" + hex(static_cast<unsigned>(code), digits) + "> <" + utf16(glyph->text) +
                            ">\n");
        }
    }
    constexpr std::size_t most_lines = 100; // of one list
    for (std::size_t i = 0; i < lines.size(); i += most_lines) {
        const std::size_t end = std::min(lines.size(), i + most_lines);
        out += std::to_string(end - i) + " beginbfchar\n";
        for (std::size_t line = i; line < end; ++line) {
            out += lines[line];
        }
        out += "endbfchar\n";
    }
    return out + "endcmap\nCMapName currentdict /CMap defineresource pop\nend\nend\n";
}

/// Where the encrypted part of a Type 1 program begins and how long it is (ISO 32000-1, table 127).
std::array<std::size_t, 3> type1_lengths(const std::string &program)
{
    const std::size_t mark = program.find("eexec");
    if (mark == std::string::npos) {
        return {program.size(), 0, 0};
    }
    std::size_t begin = mark + 5;
    while (begin < program.size() &&
           (program[begin] == '\r' || program[begin] == '\n' || program[begin] == ' ')) {
        ++begin;
    }
    // The end is 512 zeros, in lines, and "cleartomark"; many programs in PDFs go without.
    const std::size_t clear = program.rfind("cleartomark");
    std::size_t end = program.size();
    if (clear != std::string::npos && clear > begin) {
        end = clear;
        for (int zeros = 0; end > begin && zeros < 512; --end) {
            const char before = program[end - 1];
            if (before == '0') {
                ++zeros;
            } else if (before != '\r' && before != '\n' && before != ' ') {
                break;
            }
        }
    }
    return {begin, end - begin, program.size() - end};
}

} // namespace

QPDFObjectHandle FontFiles::font(const VectorFont &font)
{
    return m_pdf.makeIndirectObject(font.program == FontProgram::Type1 ? simple(font) : composite(font));
}

QPDFObjectHandle FontFiles::program(const VectorFont &font)
{
    const auto [at, is_new] = m_programs.try_emplace(font.data);
    if (is_new) {
        at->second = QPDFObjectHandle::newStream(&m_pdf, font.data);
        QPDFObjectHandle dict = at->second.getDict();
        if (font.program == FontProgram::Cff) {
            dict.replaceKey("/Subtype", name("CIDFontType0C"));
        } else if (font.program == FontProgram::TrueType) {
            dict.replaceKey("/Length1",
                            QPDFObjectHandle::newInteger(static_cast<long long>(font.data.size())));
        } else {
            const std::array<std::size_t, 3> lengths = type1_lengths(font.data);
            for (std::size_t i = 0; i < lengths.size(); ++i) {
                dict.replaceKey("/Length" + std::to_string(i + 1),
                                QPDFObjectHandle::newInteger(static_cast<long long>(lengths[i])));
            }
        }
    }
    return at->second;
}

QPDFObjectHandle FontFiles::descriptor(const VectorFont &font)
{
    enum Flag // ISO 32000-1, table 123
    {
        FixedPitch = 1,
        Serif = 2,
        Symbolic = 4,
        Italic = 64
    };
    QPDFObjectHandle made = QPDFObjectHandle::parse("<< /Type /FontDescriptor >>");
    made.replaceKey("/FontName", name(font.name));
    made.replaceKey("/Flags",
                    QPDFObjectHandle::newInteger(Symbolic | (font.fixed_width ? FixedPitch : 0) |
                                                 (font.serif ? Serif : 0) | (font.italic ? Italic : 0)));
    QPDFObjectHandle box = QPDFObjectHandle::newArray();
    for (const double value : font.box) {
        box.appendItem(number(value));
    }
    made.replaceKey("/FontBBox", box);
    made.replaceKey("/ItalicAngle", number(font.italic ? -12 : 0)); // of use to who substitutes it only
    made.replaceKey("/Ascent", number(font.ascent));
    made.replaceKey("/Descent", number(font.descent));
    made.replaceKey("/CapHeight", number(font.ascent));
    made.replaceKey("/StemV", number(80));
    made.replaceKey(font.program == FontProgram::TrueType ? "/FontFile2"
                    : font.program == FontProgram::Cff    ? "/FontFile3"
                                                          : "/FontFile",
                    program(font));
    return m_pdf.makeIndirectObject(made);
}

QPDFObjectHandle FontFiles::composite(const VectorFont &font)
{
    const std::map<int, const VectorGlyph *> glyphs = by_code(font);
    QPDFObjectHandle inner = QPDFObjectHandle::parse("<< /Type /Font >>");
    inner.replaceKey("/Subtype",
                     name(font.program == FontProgram::TrueType ? "CIDFontType2" : "CIDFontType0"));
    inner.replaceKey("/BaseFont", name(font.name));
    // Codes are what the program is numbered by, no known collection of characters: Identity-H goes with any
    // (ISO 32000-1, table 118).
    inner.replaceKey("/CIDSystemInfo",
                     QPDFObjectHandle::parse("<< /Registry (Bichrom) /Ordering (Codes) /Supplement 0 >>"));
    inner.replaceKey("/FontDescriptor", descriptor(font));
    QPDFObjectHandle widths = QPDFObjectHandle::newArray();
    int expected = -1;
    for (const auto &[code, glyph] : glyphs) { // "first [w w w]", a list for codes that follow each other
        if (code != expected) {
            widths.appendItem(QPDFObjectHandle::newInteger(code));
            widths.appendItem(QPDFObjectHandle::newArray());
        }
        widths.getArrayItem(widths.getArrayNItems() - 1).appendItem(number(glyph->width));
        expected = code + 1;
    }
    inner.replaceKey("/W", widths);
    if (font.program == FontProgram::TrueType) {
        inner.replaceKey("/CIDToGIDMap", name("Identity"));
    }
    QPDFObjectHandle made =
        QPDFObjectHandle::parse("<< /Type /Font /Subtype /Type0 /Encoding /Identity-H >>");
    made.replaceKey("/BaseFont", name(font.name));
    QPDFObjectHandle descendants = QPDFObjectHandle::newArray();
    descendants.appendItem(m_pdf.makeIndirectObject(inner));
    made.replaceKey("/DescendantFonts", descendants);
    made.replaceKey("/ToUnicode", QPDFObjectHandle::newStream(&m_pdf, unicode_map(glyphs, 4)));
    return made;
}

QPDFObjectHandle FontFiles::simple(const VectorFont &font)
{
    const std::map<int, const VectorGlyph *> glyphs = by_code(font); // numbered from 1 on
    QPDFObjectHandle made = QPDFObjectHandle::parse("<< /Type /Font /Subtype /Type1 >>");
    made.replaceKey("/BaseFont", name(font.name));
    made.replaceKey("/FirstChar", QPDFObjectHandle::newInteger(1));
    made.replaceKey("/LastChar", QPDFObjectHandle::newInteger(static_cast<long long>(glyphs.size())));
    QPDFObjectHandle widths = QPDFObjectHandle::newArray();
    QPDFObjectHandle differences = QPDFObjectHandle::newArray();
    differences.appendItem(QPDFObjectHandle::newInteger(1));
    for (const auto &[code, glyph] : glyphs) {
        widths.appendItem(number(glyph->width));
        differences.appendItem(name(glyph->name));
    }
    made.replaceKey("/Widths", widths);
    QPDFObjectHandle encoding = QPDFObjectHandle::parse("<< /Type /Encoding >>");
    encoding.replaceKey("/Differences", differences);
    made.replaceKey("/Encoding", encoding);
    made.replaceKey("/FontDescriptor", descriptor(font));
    made.replaceKey("/ToUnicode", QPDFObjectHandle::newStream(&m_pdf, unicode_map(glyphs, 2)));
    return made;
}

} // namespace bichrom
