#include "core/output/compose.h"

#include "core/artwork/ink_space.h"
#include "core/artwork/intake/pdf_names.h"
#include "core/base/original_guard.h"
#include "core/base/within_memory.h"
#include "core/output/compose_fonts.h"
#include "core/output/compose_parts.h"
#include "core/output/compose_pixels.h"
#include "core/output/compose_shapes.h"
#include "core/output/compose_traps.h"
#include "core/output/damage_gate.h"
#include "core/output/page_progress.h"
#include "core/output/pdf_file.h"
#include "core/output/pdfx.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>

#include <algorithm>

namespace bichrom {

namespace {

QPDFObjectHandle real(double value)
{
    return QPDFObjectHandle::newReal(format_number(value, 5));
}

QPDFObjectHandle number(int value)
{
    return QPDFObjectHandle::newInteger(value);
}

QPDFObjectHandle boolean(bool value)
{
    return QPDFObjectHandle::newBool(value);
}

/// Puts a page's values together as PDF objects.
class PageObjects
{
public:
    /// \param inks  of the plates wanted; empty = all. Others are called None, which paints nothing anywhere
    ///              (ISO 32000-1, 8.6.6.4)
    PageObjects(QPDF &pdf, const VectorPage &page, const std::vector<Plate> &plates,
                const std::vector<std::string> &inks, const ProcessProfile &condition, FontFiles &programs)
        : m_pdf(pdf), m_page(page), m_resources(pdf.makeIndirectObject(QPDFObjectHandle::newDictionary()))
    {
        for (const Plate &plate : plates) {
            if (!inks.empty() && std::find(inks.begin(), inks.end(), plate.ink) == inks.end()) {
                m_inks.emplace_back("None");
                m_looks.emplace_back();
                continue;
            }
            m_inks.push_back(plate.ink);
            m_looks.push_back(look_of(plate, condition));
        }
        const auto dictionary = [&](const char *key) {
            QPDFObjectHandle made = QPDFObjectHandle::newDictionary();
            m_resources.replaceKey(key, made);
            return made;
        };
        QPDFObjectHandle spaces = dictionary("/ColorSpace");
        for (const std::vector<int> &numbers : page.spaces) {
            m_spaces.push_back(space(numbers));
            spaces.replaceKey("/C" + std::to_string(m_spaces.size() - 1), m_spaces.back());
        }
        if (!page.fonts.empty()) {
            QPDFObjectHandle fonts = dictionary("/Font");
            for (std::size_t i = 0; i < page.fonts.size(); ++i) {
                if (!page.fonts[i].glyphs.empty()) {
                    fonts.replaceKey("/T" + std::to_string(i), programs.font(page.fonts[i]));
                }
            }
        }
        QPDFObjectHandle objects = dictionary("/XObject");
        for (const VectorImage &one : page.images) {
            m_images.push_back(image(one));
            objects.replaceKey("/I" + std::to_string(m_images.size() - 1), m_images.back());
        }
        for (const VectorForm &one : page.forms) {
            m_forms.push_back(form(one));
            objects.replaceKey("/F" + std::to_string(m_forms.size() - 1), m_forms.back());
        }
        QPDFObjectHandle shadings = dictionary("/Shading");
        for (std::size_t i = 0; i < page.shadings.size(); ++i) {
            shadings.replaceKey("/S" + std::to_string(i), shading(page.shadings[i]));
        }
        QPDFObjectHandle states = dictionary("/ExtGState");
        for (std::size_t i = 0; i < page.states.size(); ++i) {
            states.replaceKey("/G" + std::to_string(i), state(page.states[i]));
        }
    }

    [[nodiscard]] QPDFObjectHandle resources() const { return m_resources; }

private:
    QPDFObjectHandle space(const std::vector<int> &numbers)
    {
        if (numbers.size() == 1) {
            const auto plate = static_cast<std::size_t>(numbers.front());
            return ink_space(m_pdf, m_inks[plate], m_looks[plate]);
        }
        std::vector<std::string> inks;
        std::vector<std::array<double, 4>> looks;
        for (const int one : numbers) {
            inks.push_back(m_inks[static_cast<std::size_t>(one)]);
            looks.push_back(m_looks[static_cast<std::size_t>(one)]);
        }
        return ink_space(m_pdf, inks, looks);
    }

    QPDFObjectHandle image(const VectorImage &one)
    {
        QPDFObjectHandle made = QPDFObjectHandle::newStream(
            &m_pdf, std::string(reinterpret_cast<const char *>(one.data.data()), one.data.size()));
        QPDFObjectHandle dict = made.getDict();
        dict.replaceKey("/Type", QPDFObjectHandle::newName("/XObject"));
        dict.replaceKey("/Subtype", QPDFObjectHandle::newName("/Image"));
        dict.replaceKey("/Width", number(one.width));
        dict.replaceKey("/Height", number(one.height));
        dict.replaceKey("/BitsPerComponent", number(8));
        dict.replaceKey("/ColorSpace", one.space < 0 ? QPDFObjectHandle::newName("/DeviceGray")
                                                     : m_spaces[static_cast<std::size_t>(one.space)]);
        if (one.interpolate) {
            dict.replaceKey("/Interpolate", boolean(true));
        }
        if (one.is_jpeg) {
            QPDFObjectHandle parameters = QPDFObjectHandle::newNull();
            if (one.jpeg_transform >= 0) {
                parameters = QPDFObjectHandle::newDictionary();
                parameters.replaceKey("/ColorTransform", number(one.jpeg_transform));
            }
            made.replaceStreamData(
                std::string(reinterpret_cast<const char *>(one.data.data()), one.data.size()),
                QPDFObjectHandle::newName("/DCTDecode"), parameters);
        }
        if (!one.decode.empty()) {
            QPDFObjectHandle decode = QPDFObjectHandle::newArray();
            for (const double value : one.decode) {
                decode.appendItem(real(value));
            }
            dict.replaceKey("/Decode", decode);
        }
        if (one.soft_mask >= 0) { // it stands before its image
            dict.replaceKey("/SMask", m_images[static_cast<std::size_t>(one.soft_mask)]);
        }
        return made;
    }

    QPDFObjectHandle form(const VectorForm &one)
    {
        QPDFObjectHandle made = QPDFObjectHandle::newStream(&m_pdf, one.content);
        QPDFObjectHandle dict = made.getDict();
        dict.replaceKey("/Type", QPDFObjectHandle::newName("/XObject"));
        dict.replaceKey("/Subtype", QPDFObjectHandle::newName("/Form"));
        QPDFObjectHandle box = QPDFObjectHandle::newArray();
        for (const double value : one.box) {
            box.appendItem(real(value));
        }
        dict.replaceKey("/BBox", box);
        dict.replaceKey("/Resources", m_resources);
        if (one.group) {
            QPDFObjectHandle group = QPDFObjectHandle::newDictionary();
            group.replaceKey("/S", QPDFObjectHandle::newName("/Transparency"));
            group.replaceKey("/I", boolean(one.isolated));
            group.replaceKey("/K", boolean(one.knockout));
            if (one.grey) {
                group.replaceKey("/CS", QPDFObjectHandle::newName("/DeviceGray"));
            }
            dict.replaceKey("/Group", group);
        }
        return made;
    }

    QPDFObjectHandle shading(const VectorShading &one)
    {
        const int components = static_cast<int>(m_page.spaces[static_cast<std::size_t>(one.space)].size());
        QPDFObjectHandle function = QPDFObjectHandle::newStream(
            &m_pdf, std::string(reinterpret_cast<const char *>(one.samples.data()), one.samples.size()));
        std::string range;
        for (int i = 0; i < components; ++i) {
            range += "0 1 ";
        }
        function.replaceDict(QPDFObjectHandle::parse(
            "<< /FunctionType 0 /Domain [0 1] /Range [" + range + "] /Size [" +
            std::to_string(static_cast<int>(one.samples.size()) / components) + "] /BitsPerSample 8 >>"));
        QPDFObjectHandle made = QPDFObjectHandle::newDictionary();
        made.replaceKey("/ShadingType", number(one.radial ? 3 : 2));
        made.replaceKey("/ColorSpace", m_spaces[static_cast<std::size_t>(one.space)]);
        QPDFObjectHandle coords = QPDFObjectHandle::newArray();
        for (const double value : one.coords) {
            coords.appendItem(real(value));
        }
        made.replaceKey("/Coords", coords);
        QPDFObjectHandle extend = QPDFObjectHandle::newArray();
        extend.appendItem(boolean(one.extend[0]));
        extend.appendItem(boolean(one.extend[1]));
        made.replaceKey("/Extend", extend);
        made.replaceKey("/Function", function);
        return made;
    }

    QPDFObjectHandle state(const VectorState &one)
    {
        QPDFObjectHandle made = QPDFObjectHandle::parse("<< " + one.entries + " >>");
        if (one.mask_form >= 0) {
            QPDFObjectHandle mask = QPDFObjectHandle::newDictionary();
            mask.replaceKey("/S", QPDFObjectHandle::newName(one.luminosity ? "/Luminosity" : "/Alpha"));
            mask.replaceKey("/G", m_forms[static_cast<std::size_t>(one.mask_form)]);
            if (one.luminosity) {
                QPDFObjectHandle backdrop = QPDFObjectHandle::newArray();
                backdrop.appendItem(real(one.backdrop));
                mask.replaceKey("/BC", backdrop);
            }
            made.replaceKey("/SMask", mask);
        }
        return made;
    }

    QPDF &m_pdf;
    const VectorPage &m_page;
    QPDFObjectHandle m_resources;
    std::vector<std::string> m_inks;
    std::vector<std::array<double, 4>> m_looks;
    std::vector<QPDFObjectHandle> m_spaces, m_images, m_forms;
};

/// Part of a page's content, from where the part before it ends.
struct ContentPart
{
    std::string layer;
    std::size_t end = 0;
};

/// A page ready to be written.
struct PreparedVectors
{
    VectorPage page;
    std::vector<ContentPart> parts; ///< all of the content
    PageInfo info;
    Job job; ///< turned to it
    ComposedPage made;
    std::vector<std::string> damage;
};

/// Layers of the file (ISO 32000-1, 8.11), each of which parts of many pages may belong to.
class Layers
{
public:
    explicit Layers(QPDF &pdf) : m_pdf(pdf) {}

    /// The layer of that name, made when it is new.
    QPDFObjectHandle named(const std::string &name)
    {
        for (const auto &[known, layer] : m_layers) {
            if (known == name) {
                return layer;
            }
        }
        QPDFObjectHandle layer = m_pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /OCG >>"));
        layer.replaceKey("/Name", QPDFObjectHandle::newUnicodeString(name));
        m_layers.emplace_back(name, layer);
        return layer;
    }
    void finish()
    {
        QPDFObjectHandle all = QPDFObjectHandle::newArray();
        for (const auto &[name, layer] : m_layers) {
            all.appendItem(layer);
        }
        QPDFObjectHandle properties = QPDFObjectHandle::parse("<< /D << /Name (Plates) >> >>");
        properties.replaceKey("/OCGs", all);
        properties.getKey("/D").replaceKey("/Order", all);
        m_pdf.getRoot().replaceKey("/OCProperties", properties);
    }

private:
    QPDF &m_pdf;
    std::vector<std::pair<std::string, QPDFObjectHandle>> m_layers;
};

void add_page(QPDF &pdf, const PreparedVectors &one, const std::vector<std::string> &inks,
              const ProcessProfile &condition, Layers &layers, FontFiles &programs)
{
    const VectorPage &page = one.page;
    const PageObjects objects(pdf, page, one.job.plates, inks, condition, programs);
    QPDFObjectHandle dict = pdf.makeIndirectObject(QPDFObjectHandle::parse("<< /Type /Page >>"));
    add_boxes(dict, one.info, page.height);
    dict.replaceKey("/Resources", objects.resources());
    std::string content = "1 0 0 -1 0 " + format_number(page.height, 5) + " cm\n";
    if (page.transparent && !page.spaces.empty()) {
        // On bare paper painted as such: some readers take what overprints a half transparent ink for
        // opaque ink where nothing lies under both.
        content += "q /C0 cs ";
        for (std::size_t i = 0; i < page.spaces.front().size(); ++i) {
            content += "0 ";
        }
        content +=
            "scn 0 0 " + format_number(page.width, 5) + " " + format_number(page.height, 5) + " re f Q\n";
    }
    QPDFObjectHandle properties = QPDFObjectHandle::newDictionary();
    std::size_t begin = 0;
    for (std::size_t i = 0; i < one.parts.size(); ++i) {
        const ContentPart &part = one.parts[i];
        if (part.end > begin) {
            const std::string name = "/L" + std::to_string(i);
            properties.replaceKey(name, layers.named(part.layer));
            content += "/OC " + name + " BDC\n" + page.content.substr(begin, part.end - begin) + "EMC\n";
        }
        begin = part.end;
    }
    objects.resources().replaceKey("/Properties", properties);
    dict.replaceKey("/Contents", QPDFObjectHandle::newStream(&pdf, content));
    if (page.transparent) { // process inks blend as such, spots by themselves
        dict.replaceKey("/Group",
                        QPDFObjectHandle::parse("<< /S /Transparency /CS /DeviceCMYK /I true /K false >>"));
    }
    QPDFPageDocumentHelper(pdf).addPage(QPDFPageObjectHelper(dict), false);
}

Done write_pdf(const std::vector<PreparedVectors> &pages, const PdfxHead &head,
               const std::vector<std::string> &inks, const ProcessProfile &condition, AtomicFile &file)
{
    const Done written = write_pdf_file(file,
                                        [&](QPDF &pdf) {
                                            Layers layers(pdf);
                                            FontFiles programs(pdf);
                                            for (const PreparedVectors &page : pages) {
                                                add_page(pdf, page, inks, condition, layers, programs);
                                            }
                                            layers.finish();
                                            make_pdfx4(pdf, head);
                                            spell_out_number_signs(pdf);
                                        },
                                        {"1.6", true});
    return written ? file.commit() : written;
}

/// What the recipe of \p plate takes away from what artwork and routes make; none when it does more.
Recipe taken_away(const Plate &plate)
{
    const auto is_own = [&](const RecipeStep &step) {
        return step.does == RecipeDo::Add && step.source.from == RecipeFrom::Plate && step.amount == 1 &&
               step.distance == 0 && step.source.inks == std::vector<std::string>{plate.ink};
    };
    Recipe taken;
    for (std::size_t i = 0; i < plate.recipe.size(); ++i) {
        RecipeStep step = plate.recipe[i];
        if (i == 0 ? !is_own(step) : step.does != RecipeDo::TakeAway || step.amount < 1) {
            return {};
        }
        if (i > 0) {
            step.does = RecipeDo::Add;
            taken.push_back(std::move(step));
        }
    }
    return taken;
}

/// A plate from whose own artwork a recipe only takes shapes away, as under a foil.
struct KnockedOut
{
    int plate = 0;
    int helper = 0; ///< the plate of what is taken away
};

/// Adds a helper plate of what is taken away for each such plate of \p job.
std::vector<KnockedOut> add_helpers(Job &job)
{
    std::vector<KnockedOut> found;
    const std::size_t own = job.plates.size();
    for (std::size_t i = 0; i < own; ++i) {
        Plate helper;
        helper.recipe = taken_away(job.plates[i]);
        if (!helper.recipe.empty()) {
            helper.ink = "\x01 taken away " + std::to_string(i); // no ink's name
            helper.kind = InkUse::Technical;
            found.push_back({static_cast<int>(i), static_cast<int>(job.plates.size())});
            job.plates.push_back(std::move(helper));
        }
    }
    return found;
}

Outcome<PreparedVectors> compose_page(const OpenedJob &opened, const JobControl &control)
{
    const std::string place = opened.artwork->name() + ", page " + std::to_string(opened.job.page);
    if (opened.job.plates.empty()) {
        return Error{ErrorCode::NothingToPrint, "The page paints nothing, so there is no plate to write.",
                     place, "Choose another page, or check that the right layers are on."};
    }
    const auto info = opened.artwork->page_info(opened.job.page);
    if (!info) {
        return info.error();
    }
    const auto content =
        opened.artwork->interpret(opened.job.page, PageBox::Media, opened.job.colours, control);
    if (!content) {
        return content.error();
    }
    // A recipe that ends with an outline is a stroke along the edge of what the steps before it make.
    Job job = opened.job;
    std::vector<double> strokes(job.plates.size());
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        Recipe &recipe = job.plates[i].recipe;
        recipe = Recipe(job.plates[i].recipe_on(job.page));
        if (recipe.size() > 1 && recipe.back().does == RecipeDo::Outline) {
            strokes[i] = recipe.back().distance;
            recipe.pop_back();
        }
    }
    job.traps.on = false; // they are shapes of their own, on top
    const std::size_t count = job.plates.size();
    const std::vector<KnockedOut> helpers = add_helpers(job);
    const auto plate_line = PlateLine::make(*content, setup_of(job), control);
    if (!plate_line) {
        return plate_line.error();
    }
    // Their vectors stay where what is taken away is a solid shape; else they are computed like others.
    std::vector<int> kept;
    std::vector<PlateShapes> knockouts;
    for (const KnockedOut &one : helpers) {
        auto shapes = plate_shapes(**plate_line, one.helper, control);
        if (!shapes) {
            return shapes.error();
        }
        if (shapes->is_solid()) {
            kept.push_back(one.plate);
            knockouts.push_back(std::move(*shapes));
        }
    }
    auto page = (*plate_line)->vector_page(kept, control);
    if (!page) {
        return page.error();
    }
    for (std::size_t i = 0; i < kept.size(); ++i) {
        add_knockout(*page, knockouts[i], kept[i]);
    }
    std::vector<ContentPart> parts{{"Artwork", page->content.size()}};
    ComposedPage made{job.page, {}};
    for (std::size_t i = 0; i < count; ++i) {
        control.progress(static_cast<std::int64_t>(i), static_cast<std::int64_t>(count));
        Composed how = Composed::Artwork;
        const bool is_kept = std::find(kept.begin(), kept.end(), static_cast<int>(i)) != kept.end();
        if (!job.plates[i].recipe.empty() && !is_kept) {
            const auto added = add_computed(*page, **plate_line, static_cast<int>(i), strokes[i], control);
            if (!added) {
                return added.error();
            }
            how = *added;
            parts.push_back({job.plates[i].ink, page->content.size()});
        }
        made.plates.push_back({job.plates[i].ink, how});
    }
    job.plates.resize(count);
    if (opened.job.traps.on) {
        const auto trapped = PlateLine::make(*content, setup_of(opened.job), control);
        if (!trapped) {
            return trapped.error();
        }
        if (const Done added = add_traps(*page, **trapped, control); !added) {
            return added.error();
        }
        parts.push_back({"Traps", page->content.size()});
    }
    auto passed = pass_damage(**content, opened.job);
    if (!passed) {
        return passed.error();
    }
    return PreparedVectors{std::move(*page), std::move(parts), *info,
                           std::move(job),   std::move(made),  std::move(*passed)};
}

constexpr std::array<PdfForm, 3> all_pdf_forms = {PdfForm::X4, PdfForm::Flat, PdfForm::Separated};

} // namespace

const char *to_string(PdfForm form)
{
    static constexpr const char *names[] = {"pdfx4", "flat", "separated"};
    return names[static_cast<std::size_t>(form)];
}

Outcome<PdfForm> parse_pdf_form(std::string_view name)
{
    for (const PdfForm form : all_pdf_forms) {
        if (name == to_string(form)) {
            return form;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is no kind of PDF.",
                 {},
                 "Use one of: pdfx4, flat, separated."};
}

Outcome<ComposedPdf> compose_pdf(const OpenedJob &opened, const std::filesystem::path &path,
                                 const ComposeRequest &request, const JobControl &control)
{
    if (const Done good = may_replace(path); !good) { // before the work, not after it
        return good.error();
    }
    return within_memory(opened.artwork->name(), [&]() -> Outcome<ComposedPdf> {
        if (request.form != PdfForm::X4) {
            return compose_pixels(opened, path, request, control);
        }
        const PageList numbers = request.pages.empty() ? PageList{opened.job.page} : request.pages;
        auto whole = turn_through(opened, numbers, control);
        if (!whole) {
            return whole.error();
        }
        for (const std::string &ink : request.inks) {
            if (whole->job.find_plate(ink) < 0) {
                return Error{
                    ErrorCode::UnknownInk, "There is no plate of '" + ink + "'.", opened.artwork->name(), {}};
            }
        }
        std::vector<PreparedVectors> pages;
        ComposedPdf made;
        for (std::size_t i = 0; i < numbers.size(); ++i) {
            whole->job.page = numbers[i];
            if (!request.accept_damage.empty()) {
                accept_damage(whole->job, request.accept_damage);
            }
            auto page = compose_page(*whole, page_share(control, i, numbers.size()));
            if (!page) {
                return page.error();
            }
            std::erase_if(page->made.plates, [&](const ComposedPlate &plate) {
                return !request.inks.empty() &&
                       std::find(request.inks.begin(), request.inks.end(), plate.ink) == request.inks.end();
            });
            made.pages.push_back(page->made);
            made.damage.insert(made.damage.end(), page->damage.begin(), page->damage.end());
            pages.push_back(std::move(*page));
        }
        const auto condition = condition_of(opened.job.colours);
        if (!condition) {
            return condition.error();
        }
        AtomicFile file(path);
        if (control.cancelled()) { // a small page may be done before anybody looks
            return Error{ErrorCode::Cancelled, "Stopped on request.", opened.artwork->name(), {}};
        }
        const PdfxHead head = pdfx_head(opened, (*condition)->name(), request.date);
        if (const Done done = write_pdf(pages, head, request.inks, **condition, file); !done) {
            return done.error();
        }
        double widest = 0, highest = 0;
        std::size_t inks = 0;
        for (const PreparedVectors &page : pages) {
            widest = std::max(widest, page.page.width);
            highest = std::max(highest, page.page.height);
            for (const std::vector<int> &space : page.page.spaces) {
                inks = std::max(inks, space.size());
            }
        }
        made.against = against_pdfx4(head, widest, highest, inks, made.damage);
        return made;
    });
}

} // namespace bichrom
