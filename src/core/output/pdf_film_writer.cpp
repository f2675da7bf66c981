#include "core/output/pdf_film_writer.h"

#include "core/base/atomic_file.h"

#include <qpdf/Pl_StdioFile.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFWriter.hh>

#include <cerrno>
#include <cstdio>

namespace bichrom {

namespace {

/// Compressed rows of one film, waiting on disk.
struct Spool
{
    AtomicFile file;
    std::FILE *stream = nullptr;
    BitString rest; ///< bits that do not fill a byte block yet

    explicit Spool(const std::filesystem::path &path) : file(path) {}
    Spool(Spool &&other) noexcept
        : file(std::move(other.file)), stream(std::exchange(other.stream, nullptr)),
          rest(std::move(other.rest))
    {
    }
    ~Spool()
    {
        if (stream != nullptr) {
            std::fclose(stream);
        }
    }
};

class SpoolProvider final : public QPDFObjectHandle::StreamDataProvider
{
public:
    explicit SpoolProvider(std::FILE *stream) : m_stream(stream) {}
    void provideStreamData(QPDFObjGen const &, Pipeline *pipeline) override
    {
        std::rewind(m_stream);
        std::vector<unsigned char> block(1 << 16);
        std::size_t count = 0;
        while ((count = std::fread(block.data(), 1, block.size(), m_stream)) > 0) {
            pipeline->write(block.data(), count);
        }
        pipeline->finish();
    }

private:
    std::FILE *m_stream;
};

} // namespace

struct PdfFilmWriter::Impl
{
    AtomicFile file;
    int width, height;
    Dpi resolution;
    std::vector<std::string> names;
    std::vector<Spool> spools;

    Impl(const std::filesystem::path &path, int columns, int rows, Dpi dpi, std::vector<std::string> titles)
        : file(path), width(columns), height(rows), resolution(dpi), names(std::move(titles))
    {
    }
};

PdfFilmWriter::PdfFilmWriter(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PdfFilmWriter::~PdfFilmWriter() = default;
PdfFilmWriter::PdfFilmWriter(PdfFilmWriter &&) noexcept = default;

Outcome<PdfFilmWriter> PdfFilmWriter::create(const std::filesystem::path &path, int width, int height,
                                             Dpi resolution, const std::vector<std::string> &names)
{
    auto impl = std::make_unique<Impl>(path, width, height, resolution, names);
    for (std::size_t i = 0; i < names.size(); ++i) {
        Spool &spool = impl->spools.emplace_back(path.string() + ".rows");
        spool.stream = std::fopen(spool.file.path().c_str(), "w+be");
        if (spool.stream == nullptr) {
            return write_error(path, errno);
        }
    }
    return PdfFilmWriter(std::move(impl));
}

Done PdfFilmWriter::append(std::size_t index, const BitString &rows)
{
    Spool &spool = m_impl->spools[index];
    spool.rest.append(rows);
    const std::vector<std::uint8_t> bytes = spool.rest.take_whole_bytes();
    errno = 0;
    if (!bytes.empty() && std::fwrite(bytes.data(), 1, bytes.size(), spool.stream) != bytes.size()) {
        return write_error(m_impl->file.target(), errno);
    }
    return {};
}

Done PdfFilmWriter::finish(const std::vector<bool> &kept)
{
    for (Spool &spool : m_impl->spools) {
        end_g4(spool.rest);
        const std::vector<std::uint8_t> bytes = spool.rest.take_bytes();
        errno = 0;
        if (std::fwrite(bytes.data(), 1, bytes.size(), spool.stream) != bytes.size() ||
            std::fflush(spool.stream) != 0) {
            return write_error(m_impl->file.target(), errno);
        }
    }
    std::FILE *target = std::fopen(m_impl->file.path().c_str(), "wbe");
    if (target == nullptr) {
        return write_error(m_impl->file.target(), errno);
    }
    errno = 0;
    try {
        QPDF pdf;
        pdf.emptyPDF();
        QPDFPageDocumentHelper pages(pdf);
        const double wide = m_impl->width * points_per_inch / m_impl->resolution.value;
        const double high = m_impl->height * points_per_inch / m_impl->resolution.value;
        const std::string size = format_number(wide, 5) + " " + format_number(high, 5);
        for (std::size_t i = 0; i < m_impl->spools.size(); ++i) {
            if (!kept[i]) {
                continue;
            }
            QPDFObjectHandle image = QPDFObjectHandle::newStream(&pdf);
            // BlackIs1 false: T.6's black, which is ink, comes out as sample 0, black on the page.
            image.replaceDict(QPDFObjectHandle::parse(
                "<< /Type /XObject /Subtype /Image /Width " + std::to_string(m_impl->width) + " /Height " +
                std::to_string(m_impl->height) + " /ColorSpace /DeviceGray /BitsPerComponent 1 >>"));
            image.replaceStreamData(
                std::make_shared<SpoolProvider>(m_impl->spools[i].stream),
                QPDFObjectHandle::parse("/CCITTFaxDecode"),
                QPDFObjectHandle::parse("<< /K -1 /Columns " + std::to_string(m_impl->width) + " /Rows " +
                                        std::to_string(m_impl->height) + " /BlackIs1 false >>"));
            QPDFObjectHandle contents =
                QPDFObjectHandle::newStream(&pdf, "q " + format_number(wide, 5) + " 0 0 " +
                                                      format_number(high, 5) + " 0 0 cm /Film Do Q\n");
            QPDFObjectHandle page = pdf.makeIndirectObject(
                QPDFObjectHandle::parse("<< /Type /Page /MediaBox [0 0 " + size + "] >>"));
            page.replaceKey("/Contents", contents);
            QPDFObjectHandle resources = QPDFObjectHandle::parse("<< /XObject << >> >>");
            resources.getKey("/XObject").replaceKey("/Film", image);
            page.replaceKey("/Resources", resources);
            QPDFObjectHandle info = QPDFObjectHandle::newDictionary();
            info.replaceKey("/Ink", QPDFObjectHandle::newUnicodeString(m_impl->names[i]));
            QPDFObjectHandle piece = QPDFObjectHandle::newDictionary();
            piece.replaceKey("/Private", info);
            piece.replaceKey("/LastModified", QPDFObjectHandle::newString("D:20000101000000Z"));
            QPDFObjectHandle pieces = QPDFObjectHandle::newDictionary();
            pieces.replaceKey("/Bichrom", piece);
            page.replaceKey("/PieceInfo", pieces);
            page.replaceKey("/LastModified", QPDFObjectHandle::newString("D:20000101000000Z"));
            pages.addPage(QPDFPageObjectHelper(page), false);
        }
        QPDFWriter writer(pdf, m_impl->file.path().c_str(), target, false);
        writer.setStreamDataMode(qpdf_s_preserve);
        writer.setDeterministicID(true);
        writer.write();
    } catch (const std::exception &fault) {
        const int number = errno;
        const bool unwritten = std::ferror(target) != 0;
        std::fclose(target);
        return unwritten ? write_error(m_impl->file.target(), number)
                         : Error{ErrorCode::Internal,
                                 std::string("The PDF could not be put together (") + fault.what() + ").",
                                 m_impl->file.target().string(), "Write TIFF instead, and report this."};
    }
    if (std::fclose(target) != 0) {
        return write_error(m_impl->file.target(), errno);
    }
    return {};
}

AtomicFile &PdfFilmWriter::file()
{
    return m_impl->file;
}

} // namespace bichrom
