#include "support/mini_pdf.h"

#include <qpdf/Buffer.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>

#include <cstdio>
#include <cstring>

namespace bichrom::test {

std::vector<std::byte> MiniPdf::bytes() const
{
    std::string out = "%PDF-1.7\n";
    std::vector<std::pair<int, std::size_t>> places;
    const auto add = [&](int number, const std::string &body) {
        places.emplace_back(number, out.size());
        out += std::to_string(number) + " 0 obj\n" + body + "\nendobj\n";
    };
    add(1, "<< /Type /Catalog /Pages 2 0 R " + catalog_extra + " >>");
    constexpr int first_more = 500; // further pages and their contents, two numbers each
    std::string kids = "3 0 R";
    for (std::size_t i = 0; i < more_pages.size(); ++i) {
        kids += " " + std::to_string(first_more + static_cast<int>(2 * i)) + " 0 R";
    }
    add(2, "<< /Type /Pages /Kids [" + kids + "] /Count " + std::to_string(1 + more_pages.size()) + " >>");
    const auto add_page = [&](int page, int stream, const std::string &text) {
        add(page, "<< /Type /Page /Parent 2 0 R /MediaBox [0 0 " + format_number(width, 4) + " " +
                      format_number(height, 4) + "] /Contents " + std::to_string(stream) +
                      " 0 R /Resources << " + resources + " >> " + page_extra + " >>");
        add(stream, "<< /Length " + std::to_string(text.size()) + " >>\nstream\n" + text + "\nendstream");
    };
    add_page(3, 4, contents);
    for (std::size_t i = 0; i < objects.size(); ++i) {
        add(static_cast<int>(10 + i), objects[i]);
    }
    for (std::size_t i = 0; i < more_pages.size(); ++i) {
        const int page = first_more + static_cast<int>(2 * i);
        add_page(page, page + 1, more_pages[i]);
    }
    const std::size_t start = out.size();
    const int size = places.back().first + 1;
    out += "xref\n0 1\n0000000000 65535 f \n";
    for (const auto &[number, place] : places) {
        char line[64];
        std::snprintf(line, sizeof line, "%d 1\n%010zu 00000 n \n", number, place);
        out += line;
    }
    out += "trailer\n<< /Size " + std::to_string(size) + " /Root 1 0 R >>\nstartxref\n" +
           std::to_string(start) + "\n%%EOF\n";
    std::vector<std::byte> result(out.size());
    std::memcpy(result.data(), out.data(), out.size());
    return result;
}

std::shared_ptr<const Artwork> MiniPdf::artwork() const
{
    return take(Artwork::open_bytes(bytes(), "mini.pdf"));
}

std::shared_ptr<const PageContent> MiniPdf::content(PageBox box) const
{
    return take(artwork()->interpret(1, box));
}

Scene MiniPdf::scene() const
{
    return take(record_scene(*content()));
}

PlateTile MiniPdf::plates(double dpi, Edges edges) const
{
    const auto page = content();
    const Scene found = take(record_scene(*page));
    const auto plate_line = take(PlateLine::make(page, propose_job(found, "mini").inks()));
    return take(plate_line->render(plate_line->extent(Dpi(dpi)), Dpi(dpi), edges));
}

OpenedJob MiniPdf::job() const
{
    const auto art = artwork();
    const Scene found = take(record_scene(*take(art->interpret(1, PageBox::Media))));
    return {propose_job(found, "mini"), art, {}};
}

void MiniPdf::save(const QString &path) const
{
    save_bytes(bytes(), path);
}

void save_bytes(const std::vector<std::byte> &bytes, const QString &path)
{
    QFile file(path);
    const auto size = static_cast<qint64>(bytes.size());
    if (!file.open(QIODevice::WriteOnly) ||
        file.write(reinterpret_cast<const char *>(bytes.data()), size) != size) {
        qFatal("cannot write %s", qPrintable(path));
    }
}

std::string separation(const std::string &key, const std::string &name, const std::string &cmyk)
{
    return "/" + key + " [/Separation /" + name +
           " /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] /C1 [" + cmyk + "] >>] ";
}

MiniPdf spots_page(std::string contents, std::string more_resources)
{
    MiniPdf pdf;
    pdf.contents = std::move(contents);
    pdf.resources =
        "/ColorSpace << " + separation("A", "Alpha") + separation("B", "Beta", "1 0 0 0") +
        "/N [/DeviceN [/Alpha /Beta] /DeviceCMYK 10 0 R] /AN [/DeviceN [/Alpha /None] /DeviceCMYK 10 0 R] " +
        separation("All", "All", "1 1 1 1") + separation("No", "None") +
        "/Pal [/Indexed [/Separation /Alpha /DeviceCMYK << /FunctionType 2 /Domain [0 1] /N 1 /C0 [0 0 0 0] "
        "/C1 [0 1 0 0] >>] 3 <0055AAFF>] >> "
        "/ExtGState << /OP << /OP true /op true >> /OPM1 << /OP true /op true /OPM 1 >> /Half << /ca 0.5 "
        "/CA 0.5 >> /Mul << /BM /Multiply >> /Diff << /BM /Difference >> >> " +
        more_resources;
    pdf.objects = {"<< /FunctionType 4 /Domain [0 1 0 1] /Range [0 1 0 1 0 1 0 1] /Length 7 >>\nstream\n{ 0 "
                   "0 }\nendstream"};
    return pdf;
}

std::vector<std::byte> encrypted(const std::vector<std::byte> &bytes, const std::string &password)
{
    QPDF pdf;
    pdf.processMemoryFile("mini", reinterpret_cast<const char *>(bytes.data()), bytes.size());
    QPDFWriter writer(pdf);
    writer.setOutputMemory();
    writer.setR6EncryptionParameters(password.c_str(), "owner", true, true, true, true, true, true,
                                     qpdf_r3p_full, true);
    writer.write();
    const std::shared_ptr<Buffer> buffer = writer.getBufferSharedPointer();
    std::vector<std::byte> result(buffer->getSize());
    std::memcpy(result.data(), buffer->getBuffer(), result.size());
    return result;
}

const Plane &plane(const PlateTile &tile, const Scene &scene, const std::string &ink)
{
    const int index = propose_job(scene, {}).find_plate(ink);
    if (index < 0) {
        qFatal("no plate for ink %s", ink.c_str());
    }
    return tile.plates[static_cast<std::size_t>(index)];
}

QString demo_file()
{
    return QStringLiteral(BICHROM_SOURCE_DIR "/demo/night-tote.pdf");
}

} // namespace bichrom::test
