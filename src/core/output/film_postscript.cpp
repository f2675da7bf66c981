#include "core/output/film_documents.h"

#include "core/colour/process_profile.h"

#include <array>
#include <cerrno>
#include <cmath>

namespace bichrom {

namespace {

/// \p text as a PostScript string; what is no printable ASCII by its bytes. At most 200 bytes of it: lines of
/// structuring comments are no longer than 255 characters.
std::string quoted(const std::string &text)
{
    std::string out = "(";
    for (const char c : text.substr(0, 200)) {
        const auto byte = static_cast<unsigned char>(c);
        std::string next(1, c);
        if (c == '(' || c == ')' || c == '\\') {
            next = std::string("\\") + c;
        } else if (byte < 32 || byte > 126) {
            next = {'\\', static_cast<char>('0' + (byte >> 6)), static_cast<char>('0' + (byte >> 3 & 7)),
                    static_cast<char>('0' + (byte & 7))};
        }
        if (out.size() + next.size() > 200) {
            break;
        }
        out += next;
    }
    return out + ")";
}

/// A list of inks in a comment; each after the first on a line of its own.
std::string listed(const std::string &comment, const std::vector<std::string> &inks)
{
    std::string out;
    for (const std::string &ink : inks) {
        out += (out.empty() ? "%%" + comment + ": " : "%%+ ") + ink + "\n";
    }
    return out;
}

/// Bytes as ASCII base-85 digits in lines, closed at the end (ASCII85Decode, PostScript Language Reference,
/// 3.13.3).
class Base85
{
public:
    explicit Base85(std::FILE *out) : m_out(out) {}

    void put(const unsigned char *bytes, std::size_t count)
    {
        for (std::size_t i = 0; i < count; ++i) {
            m_word = m_word << 8 | bytes[i];
            if (++m_have == 4) {
                group(5);
            }
        }
    }
    void end()
    {
        if (m_have > 0) {
            const int digits = m_have + 1;
            m_word <<= 8 * (4 - m_have);
            group(digits, false);
        }
        std::fputs("~>\n", m_out);
    }

private:
    void group(int digits, bool may_shorten = true)
    {
        if (m_word == 0 && may_shorten) {
            std::fputc('z', m_out);
            ++m_column;
        } else {
            std::array<char, 5> text{};
            for (int i = 4; i >= 0; --i) {
                text[static_cast<std::size_t>(i)] = static_cast<char>('!' + m_word % 85);
                m_word /= 85;
            }
            // A line of data must not look like a comment.
            if (m_column == 0 && text[0] == '%') {
                std::fputc(' ', m_out);
            }
            std::fwrite(text.data(), 1, static_cast<std::size_t>(digits), m_out);
            m_column += digits;
        }
        if (m_column >= 75) {
            std::fputc('\n', m_out);
            m_column = 0;
        }
        m_word = 0;
        m_have = 0;
    }

    std::FILE *m_out;
    std::uint32_t m_word = 0;
    int m_have = 0, m_column = 0;
};

void put_text(std::FILE *out, const std::string &text)
{
    std::fwrite(text.data(), 1, text.size(), out);
}

} // namespace

Done write_film_postscript(const FilmPagesHead &head, const std::vector<WaitingFilm> &films,
                           const AtomicFile &file)
{
    std::FILE *target = std::fopen(file.path().c_str(), "wbe");
    if (target == nullptr) {
        return write_error(file.target(), errno);
    }
    errno = 0;
    const double wide = head.width * points_per_inch / head.resolution.value;
    const double high = head.height * points_per_inch / head.resolution.value;
    const std::string exact = format_number(wide, 5) + " " + format_number(high, 5);
    const std::string whole = "0 0 " + format_number(std::ceil(wide - 1e-9), 0) + " " +
                              format_number(std::ceil(high - 1e-9), 0) + "\n";
    std::vector<std::string> process, custom;
    for (const WaitingFilm &film : films) {
        (process_channel(film.ink) >= 0 ? process : custom)
            .push_back(process_channel(film.ink) >= 0 ? film.ink : quoted(film.ink));
    }
    put_text(target, "%!PS-Adobe-3.0\n%%Title: " + quoted(head.title) +
                         "\n%%Creator: (Bichrom)\n%%LanguageLevel: 3\n%%DocumentData: Clean7Bit\n%%Pages: " +
                         std::to_string(films.size()) + "\n%%BoundingBox: " + whole +
                         "%%HiResBoundingBox: 0 0 " + exact + "\n" +
                         listed("DocumentProcessColors", process) + listed("DocumentCustomColors", custom) +
                         "%%EndComments\n%%BeginSetup\n<< /PageSize [" + exact +
                         "] /ImagingBBox null >> setpagedevice\n%%EndSetup\n");
    std::vector<unsigned char> block(1 << 16);
    for (std::size_t i = 0; i < films.size(); ++i) {
        const bool is_process = process_channel(films[i].ink) >= 0;
        const std::string ink = quoted(films[i].ink);
        put_text(target,
                 "%%Page: " + ink + " " + std::to_string(i + 1) + "\n%%PageBoundingBox: " + whole +
                     (is_process ? "%%PageProcessColors: " + films[i].ink : "%%PageCustomColors: " + ink) +
                     "\n%%PlateColor: " + (is_process ? films[i].ink : ink) + "\ngsave " + exact +
                     " scale /DeviceGray setcolorspace\n"
                     "/film currentfile /ASCII85Decode filter def\n"
                     "{ << /ImageType 1 /Width " +
                     std::to_string(head.width) + " /Height " + std::to_string(head.height) +
                     " /BitsPerComponent 1 /Decode [0 1]\n/ImageMatrix [" + std::to_string(head.width) +
                     " 0 0 -" + std::to_string(head.height) + " 0 " + std::to_string(head.height) +
                     "]\n/DataSource film << /K -1 /Columns " + std::to_string(head.width) + " /Rows " +
                     std::to_string(head.height) +
                     " /BlackIs1 false >> /CCITTFaxDecode filter >> image film flushfile } exec\n");
        Base85 digits(target);
        std::rewind(films[i].rows);
        std::size_t count = 0;
        while ((count = std::fread(block.data(), 1, block.size(), films[i].rows)) > 0) {
            digits.put(block.data(), count);
        }
        digits.end();
        put_text(target, "grestore showpage\n");
    }
    put_text(target, "%%Trailer\n%%EOF\n");
    const bool failed = std::ferror(target) != 0;
    const int fault = errno;
    if (std::fclose(target) != 0 || failed) {
        return write_error(file.target(), failed ? fault : errno);
    }
    return {};
}

} // namespace bichrom
