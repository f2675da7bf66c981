#include "core/output/pdfx.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFObjectHandle.hh>

#include <algorithm>

namespace bichrom {

namespace {

std::string escaped(const std::string &text)
{
    std::string out;
    for (const char c : text) {
        out += c == '&' ? "&amp;" : c == '<' ? "&lt;" : c == '>' ? "&gt;" : std::string(1, c);
    }
    return out;
}

/// The metadata that ISO 15930-7 asks for, as XMP (ISO 16684-1, which fixes the names of its name spaces).
std::string metadata(const PdfxHead &head)
{
    const std::string time = head.date + "T00:00:00Z";
    const std::string &id = head.id;
    const std::string uuid = "uuid:" + id.substr(0, 8) + "-" + id.substr(8, 4) + "-" + id.substr(12, 4) +
                             "-" + id.substr(16, 4) + "-" + id.substr(20, 12);
    return "<?xpacket begin=\"\xEF\xBB\xBF\" id=\"W5M0MpCehiHzreSzNTczkc9d\"?>\n"
           "<x:xmpmeta xmlns:x=\"adobe:ns:meta/\"><rdf:RDF "
           "xmlns:rdf=\"http://www.w3.org/1999/02/22-rdf-syntax-ns#\">\n"
           "<rdf:Description rdf:about=\"\" xmlns:dc=\"http://purl.org/dc/elements/1.1/\" "
           "xmlns:xmp=\"http://ns.adobe.com/xap/1.0/\" xmlns:xmpMM=\"http://ns.adobe.com/xap/1.0/mm/\" "
           "xmlns:pdf=\"http://ns.adobe.com/pdf/1.3/\" "
           "xmlns:pdfxid=\"http://www.npes.org/pdfx/ns/id/\">\n"
           "<pdfxid:GTS_PDFXVersion>PDF/X-4</pdfxid:GTS_PDFXVersion>\n"
           "<dc:title><rdf:Alt><rdf:li xml:lang=\"x-default\">" +
           escaped(head.title) +
           "</rdf:li></rdf:Alt></dc:title>\n"
           "<xmp:CreateDate>" +
           time + "</xmp:CreateDate><xmp:ModifyDate>" + time + "</xmp:ModifyDate><xmp:MetadataDate>" + time +
           "</xmp:MetadataDate><xmp:CreatorTool>Bichrom</xmp:CreatorTool>\n"
           "<xmpMM:DocumentID>" +
           uuid +
           "</xmpMM:DocumentID><xmpMM:RenditionClass>default</xmpMM:RenditionClass>"
           "<xmpMM:VersionID>1</xmpMM:VersionID>\n"
           "<pdf:Producer>Bichrom</pdf:Producer><pdf:Trapped>" +
           (head.trapped ? "True" : "False") +
           "</pdf:Trapped>\n</rdf:Description></rdf:RDF></x:xmpmeta>\n<?xpacket end=\"w\"?>\n";
}

} // namespace

void make_pdfx4(QPDF &pdf, const PdfxHead &head)
{
    QPDFObjectHandle profile = QPDFObjectHandle::newStream(
        &pdf, std::string(reinterpret_cast<const char *>(head.profile.data()), head.profile.size()));
    profile.getDict().replaceKey("/N", QPDFObjectHandle::newInteger(4));
    QPDFObjectHandle intent =
        pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /OutputIntent /S /GTS_PDFX >>"));
    intent.replaceKey("/OutputConditionIdentifier", QPDFObjectHandle::newUnicodeString(head.intent));
    intent.replaceKey("/Info", QPDFObjectHandle::newUnicodeString(head.intent));
    intent.replaceKey("/DestOutputProfile", profile);
    QPDFObjectHandle intents = QPDFObjectHandle::newArray();
    intents.appendItem(intent);
    QPDFObjectHandle root = pdf.getRoot();
    root.replaceKey("/OutputIntents", intents);

    QPDFObjectHandle words = QPDFObjectHandle::newStream(&pdf, metadata(head));
    words.getDict().replaceKey("/Type", QPDFObjectHandle::newName("/Metadata"));
    words.getDict().replaceKey("/Subtype", QPDFObjectHandle::newName("/XML"));
    words.setFilterOnWrite(false); // to be found by who does not read PDF
    root.replaceKey("/Metadata", words);

    std::string day = head.date;
    std::erase(day, '-');
    QPDFObjectHandle about = pdf.makeIndirectObject(QPDFObjectHandle::newDictionary());
    about.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(head.title));
    about.replaceKey("/Creator", QPDFObjectHandle::newString("Bichrom"));
    about.replaceKey("/Producer", QPDFObjectHandle::newString("Bichrom"));
    about.replaceKey("/CreationDate", QPDFObjectHandle::newString("D:" + day + "000000Z"));
    about.replaceKey("/ModDate", QPDFObjectHandle::newString("D:" + day + "000000Z"));
    about.replaceKey("/Trapped", QPDFObjectHandle::newName(head.trapped ? "/True" : "/False"));
    pdf.getTrailer().replaceKey("/Info", about);
}

PdfxHead pdfx_head(const OpenedJob &opened, const std::string &condition, const std::string &date)
{
    const Job &job = opened.job;
    PdfxHead head{job.name, date, opened.artwork->sha256(), "FOGRA39", {}, job.traps.on};
    if (job.colours.condition != nullptr) {
        head.intent = condition;
        head.profile = *job.colours.condition;
    } else {
        const auto shipped = ProcessProfile::fogra39_bytes();
        head.profile.assign(shipped.begin(), shipped.end());
    }
    return head;
}

std::vector<std::string> against_pdfx4(const PdfxHead &head, double widest, double highest, std::size_t inks,
                                       const std::vector<std::string> &damage)
{
    std::vector<std::string> against;
    constexpr double longest = 14400; // points (ISO 32000-1, annex C)
    constexpr std::size_t most_inks = 32;
    constexpr std::size_t version_byte = 8; // major version of the profile (ICC.1, 7.2)
    if (std::max(widest, highest) > longest) {
        against.push_back("A page is longer than 14400 pt, which PDF readers need not show.");
    }
    if (inks > most_inks) {
        against.push_back("Colours stand in spaces of " + std::to_string(inks) +
                          " inks; readers need not know more than 32.");
    }
    if (head.profile.size() > version_byte && static_cast<int>(head.profile[version_byte]) > 4) {
        against.push_back("The profile of the printing condition is of a later ICC version than 4.");
    }
    if (!damage.empty()) {
        against.push_back("The artwork is damaged; what could not be read is missing.");
    }
    return against;
}

} // namespace bichrom
