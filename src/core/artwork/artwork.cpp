#include "core/artwork/artwork.h"

#include "core/artwork/intake/normalise.h"
#include "core/artwork/intake/prepare_pdf.h"
#include "core/artwork/intake/probe.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/text_encoding.h"
#include "core/base/atomic_file.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace bichrom {

namespace {

constexpr double interpret_seconds = 8.0;
constexpr double millimetres_per_point = millimetres_per_inch / points_per_inch;

std::string hex_digest(std::span<const std::byte> bytes)
{
    fz_sha256 state;
    fz_sha256_init(&state);
    fz_sha256_update(&state, reinterpret_cast<const unsigned char *>(bytes.data()), bytes.size());
    unsigned char digest[32];
    fz_sha256_final(&state, digest);
    static constexpr char digits[] = "0123456789abcdef";
    std::string text;
    for (const unsigned char byte : digest) {
        text += digits[byte >> 4];
        text += digits[byte & 15];
    }
    return text;
}

fz_rect normalised(fz_rect r)
{
    return {std::min(r.x0, r.x1), std::min(r.y0, r.y1), std::max(r.x0, r.x1), std::max(r.y0, r.y1)};
}

/// The boxes of a page with the defaults and clipping of ISO 32000-1, 14.11.2.
struct RawBoxes
{
    fz_rect box[5];
    fz_rect written[5];
    bool is_written[5];
    float user_unit;
    int rotate;
};

RawBoxes read_boxes(fz_context *ctx, pdf_obj *page)
{
    RawBoxes raw{};
    fz_rect media = normalised(pdf_to_rect(ctx, pdf_dict_get_inheritable(ctx, page, PDF_NAME(MediaBox))));
    if (fz_is_empty_rect(media) || !std::isfinite(media.x0 + media.y0 + media.x1 + media.y1)) {
        media = {0, 0, 612, 792}; // what interpreters take for a missing MediaBox
    }
    const auto read = [&](int which, pdf_obj *key, bool inherits, fz_rect otherwise) {
        pdf_obj *entry = inherits ? pdf_dict_get_inheritable(ctx, page, key) : pdf_dict_get(ctx, page, key);
        if (entry == nullptr) {
            return otherwise;
        }
        raw.written[which] = normalised(pdf_to_rect(ctx, entry));
        raw.is_written[which] = true;
        const fz_rect clipped = fz_intersect_rect(raw.written[which], media);
        return fz_is_empty_rect(clipped) ? otherwise : clipped;
    };
    (void)read(0, PDF_NAME(MediaBox), true, media);
    const fz_rect crop = read(1, PDF_NAME(CropBox), true, media);
    raw.box[0] = media;
    raw.box[1] = crop;
    raw.box[2] = read(2, PDF_NAME(BleedBox), false, crop);
    raw.box[3] = read(3, PDF_NAME(TrimBox), false, crop);
    raw.box[4] = read(4, PDF_NAME(ArtBox), false, crop);
    raw.user_unit = pdf_dict_get_real(ctx, page, PDF_NAME(UserUnit));
    if (!(raw.user_unit > 0)) {
        raw.user_unit = 1;
    }
    const int quarter = pdf_to_int(ctx, pdf_dict_get_inheritable(ctx, page, PDF_NAME(Rotate)));
    raw.rotate = ((quarter % 360) + 360) % 360 / 90 * 90;
    return raw;
}

/// Annotations that leave marks on paper: flag Print set, Hidden not (ISO 32000-1, table 165).
int count_printing_annotations(fz_context *ctx, pdf_obj *page)
{
    constexpr int hidden = 2;
    constexpr int print = 4;
    pdf_obj *annotations = pdf_dict_get(ctx, page, PDF_NAME(Annots));
    const int length = std::min(pdf_array_len(ctx, annotations), 100000);
    int count = 0;
    for (int i = 0; i < length; ++i) {
        pdf_obj *annotation = pdf_array_get(ctx, annotations, i);
        const int flags = pdf_dict_get_int(ctx, annotation, PDF_NAME(F));
        const bool shown =
            pdf_dict_get(ctx, annotation, PDF_NAME(AP)) != nullptr &&
            !pdf_name_eq(ctx, pdf_dict_get(ctx, annotation, PDF_NAME(Subtype)), PDF_NAME(Popup));
        count += shown && (flags & print) != 0 && (flags & hidden) == 0 ? 1 : 0;
    }
    return count;
}

} // namespace

const char *to_string(PageBox box)
{
    static constexpr const char *names[] = {"media", "crop", "bleed", "trim", "art"};
    return names[static_cast<std::size_t>(box)];
}

Outcome<PageBox> parse_page_box(std::string_view name)
{
    for (const PageBox box : all_page_boxes) {
        if (name == to_string(box)) {
            return box;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' is not a page box.",
                 {},
                 "Use media, crop, bleed, trim or art."};
}

struct Artwork::Impl
{
    std::string name;
    std::vector<std::byte> bytes;
    std::string sha256;
    std::shared_ptr<MupdfRuntime> runtime;
    pdf_document *document = nullptr;
    std::mutex guard; ///< a pdf_document may be used by one thread at a time
    int pages = 0;
    InputKind kind = InputKind::Pdf;
    std::vector<std::byte> normalised; ///< of other inputs: the PDF made from them
    PreparedPdf prepared;
    std::vector<Layer> layers;
    std::vector<std::string> warnings;
    std::vector<std::string> assumptions;
    std::vector<int> slow_pages; ///< found to take too long or too much; not tried again

    ~Impl()
    {
        if (document != nullptr) {
            const auto lease = runtime->lease();
            pdf_drop_document(lease.ctx(), document);
        }
    }
    [[nodiscard]] std::string page_place(int number) const
    {
        return name + ", page " + std::to_string(number);
    }
    [[nodiscard]] Done check_page(int number) const
    {
        if (number >= 1 && number <= pages) {
            return {};
        }
        return Error{ErrorCode::NoSuchPage, "There is no page " + std::to_string(number) + ".", name,
                     pages == 1 ? "The file has one page."
                                : "Choose a page from 1 to " + std::to_string(pages) + "."};
    }
};

Artwork::Artwork(std::shared_ptr<Impl> impl) : m_impl(std::move(impl)) {}
Artwork::~Artwork() = default;

Outcome<std::shared_ptr<const Artwork>>
Artwork::open(const std::filesystem::path &path, const ReadingOptions &options, const JobControl &control)
{
    auto bytes = read_file(path);
    if (!bytes) {
        return bytes.error();
    }
    ReadingOptions more = options;
    more.untrusted = true;
    more.folder = path.parent_path().empty() ? std::filesystem::path(".") : path.parent_path();
    return open_bytes(std::move(*bytes), path.string(), more, control);
}

Outcome<std::shared_ptr<const Artwork>> Artwork::open_bytes(std::vector<std::byte> bytes,
                                                            const std::string &name,
                                                            const ReadingOptions &options,
                                                            const JobControl &control)
{
    auto impl = std::make_shared<Impl>();
    impl->name = name;
    impl->bytes = std::move(bytes);
    impl->sha256 = hex_digest(impl->bytes);
    impl->kind = input_kind(impl->bytes);
    std::span<const std::byte> pdf = impl->bytes;
    if (impl->kind == InputKind::Unknown) {
        return Error{ErrorCode::WrongFormat,
                     impl->bytes.empty() ? "The file is empty." : "This is not a kind of file Bichrom reads.",
                     name, "Ask for PDF, EPS, PostScript, SVG, TIFF, PNG or JPEG."};
    }
    if (impl->kind != InputKind::Pdf) {
        auto made = normalise(pdf, impl->kind, {options.folder, options.assumed_ppi}, control);
        if (!made) {
            Error error = made.error();
            error.place = name;
            return error;
        }
        impl->normalised = std::move(made->pdf);
        impl->assumptions = std::move(made->assumptions);
        pdf = impl->normalised;
    }
    if (impl->kind == InputKind::Pdf && options.untrusted) {
        auto slow_pages = probe_pdf(pdf, options.password, control);
        if (!slow_pages) {
            Error error = slow_pages.error();
            error.place = name;
            return error;
        }
        impl->slow_pages = std::move(*slow_pages);
    }
    impl->prepared = prepare_pdf(pdf, options.password);
    const std::vector<std::string> &assumed = impl->prepared.assumptions;
    impl->assumptions.insert(impl->assumptions.end(), assumed.begin(), assumed.end());
    impl->layers = impl->prepared.layers;
    const bool copied = !impl->prepared.bytes.empty();
    if (copied) {
        pdf = impl->prepared.bytes;
    }
    const std::string password = copied ? std::string() : options.password;
    auto runtime = MupdfRuntime::make();
    if (!runtime) {
        return runtime.error();
    }
    impl->runtime = *runtime;

    const auto lease = impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    Impl *raw = impl.get();
    bool locked = false;
    const Done opened = guarded(ctx, name, [&] {
        fz_stream *stream =
            fz_open_memory(ctx, reinterpret_cast<const unsigned char *>(pdf.data()), pdf.size());
        fz_try(ctx)
        {
            raw->document = pdf_open_document_with_stream(ctx, stream);
        }
        fz_always(ctx)
        {
            fz_drop_stream(ctx, stream);
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
        locked = pdf_needs_password(ctx, raw->document) != 0 &&
                 pdf_authenticate_password(ctx, raw->document, password.c_str()) == 0;
        if (!locked) {
            raw->pages = pdf_count_pages(ctx, raw->document);
        }
    });
    if (!opened) {
        return opened.error();
    }
    if (locked) {
        return Error{ErrorCode::PasswordNeeded,
                     password.empty() ? "The file is protected by a password."
                                      : "The password does not open the file.",
                     name, "Ask the customer for the password."};
    }
    if (impl->pages < 1) {
        return Error{ErrorCode::CannotRead, "The file holds no page.", name,
                     "It may be damaged; ask the customer for a new copy."};
    }
    impl->warnings = impl->runtime->take_warnings();
    if (impl->prepared.damaged) {
        impl->warnings.push_back("The file's structure is damaged: it was repaired to be looked at, and its "
                                 "colour profiles and layers cannot be read.");
    }
    return std::shared_ptr<const Artwork>(new Artwork(std::move(impl)));
}

const std::string &Artwork::name() const
{
    return m_impl->name;
}
std::span<const std::byte> Artwork::bytes() const
{
    return m_impl->bytes;
}
const std::string &Artwork::sha256() const
{
    return m_impl->sha256;
}
int Artwork::page_count() const
{
    return m_impl->pages;
}
const std::vector<Layer> &Artwork::layers() const
{
    return m_impl->layers;
}
const std::vector<std::string> &Artwork::warnings() const
{
    return m_impl->warnings;
}
const std::vector<std::string> &Artwork::assumptions() const
{
    return m_impl->assumptions;
}
const std::string &Artwork::output_intent() const
{
    return m_impl->prepared.output_intent;
}
InputKind Artwork::kind() const
{
    return m_impl->kind;
}

Outcome<PageInfo> Artwork::page_info(int number) const
{
    if (const Done known = m_impl->check_page(number); !known) {
        return known.error();
    }
    const std::lock_guard guard(m_impl->guard);
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    PageInfo info;
    info.number = number;
    RawBoxes raw{};
    const Done done = guarded(ctx, m_impl->page_place(number), [&] {
        pdf_obj *page = pdf_lookup_page_obj(ctx, m_impl->document, number - 1);
        raw = read_boxes(ctx, page);
        info.printing_annotations = count_printing_annotations(ctx, page);
    });
    if (!done) {
        return done.error();
    }
    const double scale = millimetres_per_point * static_cast<double>(raw.user_unit);
    const auto scaled = [scale](fz_rect r) {
        return Rect{static_cast<double>(r.x0) * scale, static_cast<double>(r.y0) * scale,
                    (static_cast<double>(r.x1) - static_cast<double>(r.x0)) * scale,
                    (static_cast<double>(r.y1) - static_cast<double>(r.y0)) * scale};
    };
    for (std::size_t i = 0; i < 5; ++i) {
        info.boxes[i] = scaled(raw.box[i]);
        info.written[i] = raw.is_written[i];
        info.raw[i] = raw.is_written[i] ? scaled(raw.written[i]) : Rect{};
    }
    info.rotate = raw.rotate;
    return info;
}

Outcome<std::shared_ptr<const PageContent>>
Artwork::interpret(int number, PageBox box, const ColourSettings &settings, const JobControl &control) const
{
    const auto info = page_info(number);
    if (!info) {
        return info.error();
    }
    const std::vector<int> &slow = m_impl->slow_pages;
    if (std::find(slow.begin(), slow.end(), number) != slow.end()) {
        return Error{ErrorCode::TooLarge,
                     "It takes too long or too much memory to interpret; the file may be damaged or hostile.",
                     m_impl->page_place(number), "Ask the customer for a new copy of the file."};
    }
    auto content = std::make_unique<PageContent::Impl>();
    content->runtime = m_impl->runtime;
    content->document = m_impl;
    content->place = m_impl->page_place(number);
    auto colours = PageColours::make(settings, m_impl->prepared.profiles, content->warnings);
    if (!colours) {
        return colours.error();
    }
    content->colours = *colours;
    PageContent::Impl *raw = content.get();

    const std::lock_guard guard(m_impl->guard);
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    CookieWatch watch(control, interpret_seconds);
    const Done done = guarded(ctx, raw->place, [&] {
        pdf_page *page = nullptr;
        fz_device *device = nullptr;
        fz_var(page);
        fz_var(device);
        fz_try(ctx)
        {
            // MuPDF shows the crop box; the box asked for takes its place, in memory only.
            pdf_obj *object = pdf_lookup_page_obj(ctx, m_impl->document, number - 1);
            const RawBoxes boxes = read_boxes(ctx, object);
            pdf_dict_put_drop(ctx, object, PDF_NAME(MediaBox),
                              pdf_new_rect(ctx, m_impl->document, boxes.box[0]));
            pdf_obj *crop_before =
                pdf_keep_obj(ctx, pdf_dict_get_inheritable(ctx, object, PDF_NAME(CropBox)));
            pdf_dict_put_drop(ctx, object, PDF_NAME(CropBox),
                              pdf_new_rect(ctx, m_impl->document, boxes.box[static_cast<int>(box)]));
            fz_try(ctx)
            {
                page = pdf_load_page(ctx, m_impl->document, number - 1);
                const fz_rect bounds = pdf_bound_page(ctx, page);
                raw->width = static_cast<double>(bounds.x1) - static_cast<double>(bounds.x0);
                raw->height = static_cast<double>(bounds.y1) - static_cast<double>(bounds.y0);
                raw->list = fz_new_display_list(ctx, bounds);
                device = fz_new_list_device(ctx, raw->list);
                const fz_matrix origin = fz_translate(-bounds.x0, -bounds.y0);
                pdf_run_page_with_usage(ctx, page, device, origin, "Print", watch.cookie());
                fz_close_device(ctx, device);
            }
            fz_always(ctx)
            {
                // Put the crop box back: the boxes reported must stay those of the file.
                if (crop_before != nullptr) {
                    pdf_dict_put_drop(ctx, object, PDF_NAME(CropBox), crop_before);
                } else {
                    pdf_dict_del(ctx, object, PDF_NAME(CropBox));
                }
            }
            fz_catch(ctx)
            {
                fz_rethrow(ctx);
            }
        }
        fz_always(ctx)
        {
            fz_drop_device(ctx, device);
            fz_drop_page(ctx, reinterpret_cast<fz_page *>(page));
        }
        fz_catch(ctx)
        {
            fz_rethrow(ctx);
        }
    });
    if (const Done verdict = watch.verdict(raw->place); !verdict) {
        return verdict.error();
    }
    if (!done) {
        return done.error();
    }
    const std::vector<std::string> noted = m_impl->runtime->take_warnings();
    content->warnings.insert(content->warnings.end(), noted.begin(), noted.end());
    return std::shared_ptr<const PageContent>(new PageContent(std::move(content)));
}

PageContent::PageContent(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PageContent::~PageContent() = default;
Points PageContent::width() const
{
    return Points(m_impl->width);
}
Points PageContent::height() const
{
    return Points(m_impl->height);
}
const std::string &PageContent::place() const
{
    return m_impl->place;
}
const std::vector<std::string> &PageContent::warnings() const
{
    return m_impl->warnings;
}

} // namespace bichrom
