#include "core/output/pdf_file.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <cerrno>
#include <cstdio>

namespace bichrom {

Done write_pdf_file(const AtomicFile &file, const std::function<void(QPDF &)> &build, const PdfWriting &how)
{
    std::FILE *target = std::fopen(file.path().c_str(), "wbe");
    if (target == nullptr) {
        return write_error(file.target(), errno);
    }
    errno = 0;
    try {
        QPDF pdf;
        pdf.emptyPDF();
        build(pdf);
        QPDFWriter writer(pdf, file.path().c_str(), target, false);
        writer.setMinimumPDFVersion(how.version);
        writer.setStreamDataMode(how.compress ? qpdf_s_compress : qpdf_s_preserve);
        writer.setDeterministicID(true);
        writer.write();
    } catch (const std::exception &fault) {
        const int number = errno;
        const bool unwritten = std::ferror(target) != 0;
        std::fclose(target);
        return unwritten ? write_error(file.target(), number)
                         : Error{ErrorCode::Internal,
                                 std::string("The PDF could not be put together (") + fault.what() + ").",
                                 file.target().string(), "Write TIFF instead, and report this."};
    }
    return std::fclose(target) == 0 ? Done() : Done(write_error(file.target(), errno));
}

} // namespace bichrom
