#include "core/output/film_documents.h"

#include "core/output/pdf_file.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>

namespace bichrom {

namespace {

class RowsProvider final : public QPDFObjectHandle::StreamDataProvider
{
public:
    explicit RowsProvider(std::FILE *rows) : m_rows(rows) {}
    void provideStreamData(QPDFObjGen const &, Pipeline *pipeline) override
    {
        std::rewind(m_rows);
        std::vector<unsigned char> block(1 << 16);
        std::size_t count = 0;
        while ((count = std::fread(block.data(), 1, block.size(), m_rows)) > 0) {
            pipeline->write(block.data(), count);
        }
        pipeline->finish();
    }

private:
    std::FILE *m_rows;
};

QPDFObjectHandle film_image(QPDF &pdf, const FilmPagesHead &head, std::FILE *rows)
{
    const std::string width = std::to_string(head.width), height = std::to_string(head.height);
    QPDFObjectHandle image = QPDFObjectHandle::newStream(&pdf);
    // BlackIs1 false: T.6's black, which is ink, comes out as sample 0, black on the page.
    image.replaceDict(QPDFObjectHandle::parse("<< /Type /XObject /Subtype /Image /Width " + width +
                                              " /Height " + height +
                                              " /ColorSpace /DeviceGray /BitsPerComponent 1 >>"));
    image.replaceStreamData(
        std::make_shared<RowsProvider>(rows), QPDFObjectHandle::parse("/CCITTFaxDecode"),
        QPDFObjectHandle::parse("<< /K -1 /Columns " + width + " /Rows " + height + " /BlackIs1 false >>"));
    return image;
}

} // namespace

Done write_film_pdf(const FilmPagesHead &head, const std::vector<WaitingFilm> &films, const AtomicFile &file)
{
    const auto build = [&](QPDF &pdf) {
        // Readers offer to fit pages to the paper; a film is printed at its own size.
        pdf.getRoot().replaceKey("/ViewerPreferences", QPDFObjectHandle::parse("<< /PrintScaling /None >>"));
        QPDFPageDocumentHelper pages(pdf);
        const std::string wide = format_number(head.width * points_per_inch / head.resolution.value, 5);
        const std::string high = format_number(head.height * points_per_inch / head.resolution.value, 5);
        for (const WaitingFilm &film : films) {
            QPDFObjectHandle contents =
                QPDFObjectHandle::newStream(&pdf, "q " + wide + " 0 0 " + high + " 0 0 cm /Film Do Q\n");
            QPDFObjectHandle page = pdf.makeIndirectObject(
                QPDFObjectHandle::parse("<< /Type /Page /MediaBox [0 0 " + wide + " " + high + "] >>"));
            page.replaceKey("/Contents", contents);
            QPDFObjectHandle resources = QPDFObjectHandle::parse("<< /XObject << >> >>");
            resources.getKey("/XObject").replaceKey("/Film", film_image(pdf, head, film.rows));
            page.replaceKey("/Resources", resources);
            QPDFObjectHandle info = QPDFObjectHandle::newDictionary();
            info.replaceKey("/Ink", QPDFObjectHandle::newUnicodeString(film.ink));
            QPDFObjectHandle piece = QPDFObjectHandle::newDictionary();
            piece.replaceKey("/Private", info);
            piece.replaceKey("/LastModified", QPDFObjectHandle::newString("D:20000101000000Z"));
            QPDFObjectHandle pieces = QPDFObjectHandle::newDictionary();
            pieces.replaceKey("/Bichrom", piece);
            page.replaceKey("/PieceInfo", pieces);
            page.replaceKey("/LastModified", QPDFObjectHandle::newString("D:20000101000000Z"));
            pages.addPage(QPDFPageObjectHelper(page), false);
        }
    };
    return write_pdf_file(file, build, {"1.3", false});
}

} // namespace bichrom
