#include "core/output/compose_pixels.h"

#include "core/artwork/ink_space.h"
#include "core/artwork/intake/pdf_names.h"
#include "core/output/compose_parts.h"
#include "core/output/damage_gate.h"
#include "core/output/page_progress.h"
#include "core/output/pdf_file.h"
#include "core/output/plate_rows.h"

#include <qpdf/Pipeline.hh>
#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>

#include <algorithm>
#include <list>
#include <stdexcept>

namespace bichrom {

namespace {

/// Colourants of one space that every PDF 1.3 RIP takes (PDF Reference 1.3, appendix C).
constexpr std::size_t most_inks = 8;

/// Some plates of a page, interleaved.
class PlatesProvider final : public QPDFObjectHandle::StreamDataProvider
{
public:
    PlatesProvider(SpooledPlates &plates, std::size_t first, std::size_t count, JobControl control)
        : m_plates(plates), m_first(first), m_count(count), m_control(std::move(control))
    {
    }
    void provideStreamData(QPDFObjGen const &, Pipeline *pipeline) override
    {
        const auto width = static_cast<std::size_t>(m_plates.width);
        std::vector<std::uint8_t> row(width), pixels(width * m_count);
        const auto need = [](const Done &done) {
            if (!done) {
                throw std::runtime_error(done.error().reason);
            }
        };
        for (std::size_t ink = 0; ink < m_count; ++ink) {
            need(m_plates.spools[m_first + ink].rewind());
        }
        for (int y = 0; y < m_plates.height; ++y) {
            if (m_control.cancelled()) {
                throw std::runtime_error("stopped");
            }
            for (std::size_t ink = 0; ink < m_count; ++ink) {
                need(m_plates.spools[m_first + ink].read(row));
                for (std::size_t x = 0; x < width; ++x) {
                    pixels[x * m_count + ink] = row[x];
                }
            }
            pipeline->write(pixels.data(), pixels.size());
        }
        pipeline->finish();
    }

private:
    SpooledPlates &m_plates;
    std::size_t m_first, m_count;
    JobControl m_control;
};

struct PixelPage
{
    PageInfo info;
    double width = 0, height = 0; ///< points
    SpooledPlates plates;
};

class PixelPdf
{
public:
    PixelPdf(QPDF &pdf, const Job &job, const ProcessProfile &condition, const JobControl &control)
        : m_pdf(pdf), m_job(job), m_condition(condition), m_control(control)
    {
    }

    /// All plates on a page, by eights, which overprint each other.
    void add_flat(PixelPage &page)
    {
        const std::size_t count = page.plates.spools.size();
        QPDFObjectHandle objects = QPDFObjectHandle::newDictionary();
        std::string content = "/G0 gs ";
        for (std::size_t first = 0; first < count; first += most_inks) {
            const std::size_t many = std::min(most_inks, count - first);
            std::vector<std::string> inks;
            std::vector<std::array<double, 4>> looks;
            for (std::size_t i = first; i < first + many; ++i) {
                const Plate &plate = m_job.plates[page.plates.numbers[i]];
                inks.push_back(plate.ink);
                looks.push_back(look_of(plate, m_condition));
            }
            const std::string name = "/I" + std::to_string(first / most_inks);
            objects.replaceKey(
                name, image(page, first, many,
                            many == 1 ? ink_space(m_pdf, inks[0], looks[0]) : ink_space(m_pdf, inks, looks)));
            content += placed(page, name);
        }
        add_page(page, objects, content, QPDFObjectHandle::newNull());
    }

    /// A grey page for each plate, told by its separation dictionary (PDF Reference, "Separation
    /// Dictionaries").
    void add_separated(PixelPage &page)
    {
        QPDFObjectHandle together = QPDFObjectHandle::newArray();
        std::vector<QPDFObjectHandle> made;
        for (std::size_t i = 0; i < page.plates.spools.size(); ++i) {
            const Plate &plate = m_job.plates[page.plates.numbers[i]];
            QPDFObjectHandle grey = image(page, i, 1, QPDFObjectHandle::newName("/DeviceGray"));
            grey.getDict().replaceKey("/Decode", QPDFObjectHandle::parse("[1 0]")); // ink is black
            QPDFObjectHandle objects = QPDFObjectHandle::newDictionary();
            objects.replaceKey("/I0", grey);
            QPDFObjectHandle about = QPDFObjectHandle::newDictionary();
            about.replaceKey("/DeviceColorant", QPDFObjectHandle::newName("/" + plate.ink));
            about.replaceKey("/ColorSpace", ink_space(m_pdf, plate.ink, look_of(plate, m_condition)));
            made.push_back(about);
            together.appendItem(add_page(page, objects, placed(page, "/I0"), about));
        }
        for (QPDFObjectHandle &about : made) {
            about.replaceKey("/Pages", together);
        }
    }

private:
    QPDFObjectHandle image(PixelPage &page, std::size_t first, std::size_t count, QPDFObjectHandle space)
    {
        QPDFObjectHandle made = QPDFObjectHandle::newStream(&m_pdf);
        made.replaceDict(QPDFObjectHandle::parse(
            "<< /Type /XObject /Subtype /Image /Width " + std::to_string(page.plates.width) + " /Height " +
            std::to_string(page.plates.height) + " /BitsPerComponent 8 >>"));
        made.getDict().replaceKey("/ColorSpace", space);
        made.replaceStreamData(std::make_shared<PlatesProvider>(page.plates, first, count, m_control),
                               QPDFObjectHandle::newNull(), QPDFObjectHandle::newNull());
        return made;
    }

    /// The last row and column of pixels may reach over the page's edge.
    static std::string placed(const PixelPage &page, const std::string &name)
    {
        const double resolution = page.plates.manifest.plates.front().resolution.value;
        const double wide = page.plates.width * points_per_inch / resolution;
        const double high = page.plates.height * points_per_inch / resolution;
        return "q " + format_number(wide, 5) + " 0 0 " + format_number(high, 5) + " 0 " +
               format_number(page.height - high, 5) + " cm " + name + " Do Q\n";
    }

    QPDFObjectHandle add_page(const PixelPage &page, QPDFObjectHandle objects, const std::string &content,
                              QPDFObjectHandle separation)
    {
        QPDFObjectHandle dict = m_pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /Page >>"));
        add_boxes(dict, page.info, page.height);
        QPDFObjectHandle resources = QPDFObjectHandle::parse(
            "<< /ExtGState << /G0 << /Type /ExtGState /OP true /op true /OPM 0 >> >> >>");
        resources.replaceKey("/XObject", objects);
        dict.replaceKey("/Resources", resources);
        dict.replaceKey("/Contents", QPDFObjectHandle::newStream(&m_pdf, content));
        if (!separation.isNull()) {
            dict.replaceKey("/SeparationInfo", separation);
        }
        QPDFPageDocumentHelper(m_pdf).addPage(QPDFPageObjectHelper(dict), false);
        return dict;
    }

    QPDF &m_pdf;
    const Job &m_job;
    const ProcessProfile &m_condition;
    const JobControl &m_control;
};

} // namespace

Outcome<ComposedPdf> compose_pixels(const OpenedJob &opened, const std::filesystem::path &path,
                                    const ComposeRequest &request, const JobControl &control)
{
    const PageList numbers = request.pages.empty() ? PageList{opened.job.page} : request.pages;
    auto whole = turn_through(opened, numbers, control);
    if (!whole) {
        return whole.error();
    }
    OutputRequest wanted;
    wanted.inks = request.inks;
    wanted.blank_too = !request.inks.empty();
    std::list<PixelPage> pages; // they stay where they are
    ComposedPdf made;
    Error nothing;
    for (std::size_t i = 0; i < numbers.size(); ++i) {
        whole->job.page = numbers[i];
        if (!request.accept_damage.empty()) {
            accept_damage(whole->job, request.accept_damage);
        }
        const auto info = whole->artwork->page_info(numbers[i]);
        if (!info) {
            return info.error();
        }
        auto plates = spool_plates(*whole, request.resolution, PageBox::Media, wanted, path,
                                   page_share(control, i, numbers.size()));
        if (!plates) {
            if (plates.error().code != ErrorCode::NothingToPrint) {
                return plates.error();
            }
            nothing = plates.error();
            continue;
        }
        made.pages.push_back({numbers[i], {}});
        for (const std::size_t number : plates->numbers) {
            made.pages.back().plates.push_back({whole->job.plates[number].ink, Composed::Pixels});
        }
        const auto &damage = plates->manifest.damage;
        made.damage.insert(made.damage.end(), damage.begin(), damage.end());
        const double width = to_points(plates->manifest.width).value;
        const double height = to_points(plates->manifest.height).value;
        pages.push_back({*info, width, height, std::move(*plates)});
    }
    if (pages.empty()) {
        return nothing;
    }
    const auto condition = condition_of(opened.job.colours);
    if (!condition) {
        return condition.error();
    }
    AtomicFile file(path);
    const Done written = write_pdf_file(
        file,
        [&](QPDF &pdf) {
            PixelPdf writer(pdf, whole->job, **condition, control);
            for (PixelPage &page : pages) {
                request.form == PdfForm::Flat ? writer.add_flat(page) : writer.add_separated(page);
            }
            QPDFObjectHandle about = QPDFObjectHandle::newDictionary();
            about.replaceKey("/Producer", QPDFObjectHandle::newString("Bichrom"));
            about.replaceKey("/Title", QPDFObjectHandle::newUnicodeString(opened.job.name));
            pdf.getTrailer().replaceKey("/Info", pdf.makeIndirectObject(about));
            spell_out_number_signs(pdf);
        },
        {"1.3", true});
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped on request.", opened.artwork->name(), {}};
    }
    if (!written) {
        return written.error();
    }
    if (const Done done = file.commit(); !done) {
        return done.error();
    }
    return made;
}

} // namespace bichrom
