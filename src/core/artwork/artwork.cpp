#include "core/artwork/artwork.h"

#include "core/artwork/fingerprint.h"

#include "core/artwork/intake/normalise.h"
#include "core/artwork/intake/prepare_pdf.h"
#include "core/artwork/intake/probe.h"
#include "core/artwork/intake/unpack.h"
#include "core/artwork/mupdf/broken_pictures.h"
#include "core/artwork/mupdf/group_bounds.h"
#include "core/artwork/mupdf/mask_groups.h"
#include "core/artwork/mupdf/noting_list.h"
#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/page_boxes.h"
#include "core/artwork/placed_artwork.h"
#include "core/artwork/text_encoding.h"
#include "core/base/atomic_file.h"
#include "core/base/original_guard.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <map>
#include <mutex>

namespace bichrom {

namespace {

constexpr double interpret_seconds = 10.0;        // of work
constexpr fz_rect usual_media = {0, 0, 612, 792}; // what interpreters take for a missing MediaBox
constexpr double millimetres_per_point = millimetres_per_inch / points_per_inch;

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
    bool no_media;  ///< no MediaBox is written, not even inherited
    bool bad_media; ///< one is, but it holds no area
};

/// Whether \p box is written as four numbers (ISO 32000-1, 7.9.5).
bool is_written_box(fz_context *ctx, pdf_obj *box)
{
    if (pdf_array_len(ctx, box) < 4) {
        return false;
    }
    for (int i = 0; i < 4; ++i) {
        if (pdf_is_number(ctx, pdf_array_get(ctx, box, i)) == 0) {
            return false;
        }
    }
    return true;
}

RawBoxes read_boxes(fz_context *ctx, pdf_obj *page)
{
    RawBoxes raw{};
    pdf_obj *media_object = pdf_dict_get_inheritable(ctx, page, PDF_NAME(MediaBox));
    fz_rect media = normalised(pdf_to_rect(ctx, media_object));
    raw.no_media = media_object == nullptr || pdf_is_null(ctx, media_object) != 0;
    raw.bad_media = !raw.no_media && (!is_written_box(ctx, media_object) || fz_is_empty_rect(media) ||
                                      !std::isfinite(media.x0 + media.y0 + media.x1 + media.y1));
    if (raw.no_media || raw.bad_media) {
        media = usual_media;
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

/// An annotation that prints; nothing here has a destructor, since what follows may jump.
struct RawAnnotation
{
    char kind[32];
    fz_rect area;
};

constexpr int most_annotations = 1000;

/// Annotations that leave marks on paper: flag Print set, Hidden not (ISO 32000-1, table 165).
/// \param out  room for most_annotations
int find_printing_annotations(fz_context *ctx, pdf_obj *page, RawAnnotation *out)
{
    constexpr int hidden = 2;
    constexpr int print = 4;
    pdf_obj *annotations = pdf_dict_get(ctx, page, PDF_NAME(Annots));
    const int length = std::min(pdf_array_len(ctx, annotations), 100000);
    int count = 0;
    for (int i = 0; i < length && count < most_annotations; ++i) {
        pdf_obj *annotation = pdf_array_get(ctx, annotations, i);
        const int flags = pdf_dict_get_int(ctx, annotation, PDF_NAME(F));
        const bool shown =
            pdf_dict_get(ctx, annotation, PDF_NAME(AP)) != nullptr &&
            !pdf_name_eq(ctx, pdf_dict_get(ctx, annotation, PDF_NAME(Subtype)), PDF_NAME(Popup));
        if (shown && (flags & print) != 0 && (flags & hidden) == 0) {
            fz_strlcpy(out[count].kind, pdf_to_name(ctx, pdf_dict_get(ctx, annotation, PDF_NAME(Subtype))),
                       sizeof out[count].kind);
            out[count].area = normalised(pdf_dict_get_rect(ctx, annotation, PDF_NAME(Rect)));
            ++count;
        }
    }
    return count;
}

/// Ends whatever clips, groups, masks and patterns are open, so that a page that breaks off can be painted.
void close_containers(fz_context *ctx, fz_device *device)
{
    while (device->container_len > 0) {
        switch (device->container[device->container_len - 1].type) {
        case fz_device_container_stack_is_mask:
            fz_end_mask(ctx, device); // and it is a clip now
            break;
        case fz_device_container_stack_is_group:
            fz_end_group(ctx, device);
            break;
        case fz_device_container_stack_is_tile:
            fz_end_tile(ctx, device);
            break;
        default:
            fz_pop_clip(ctx, device);
            break;
        }
    }
}

/// "Widget" → "form field": the subtypes of ISO 32000-1, table 169, in words.
std::string annotation_words(const std::string &subtype)
{
    static const std::map<std::string, const char *> words = {{"Widget", "form field"},
                                                              {"Stamp", "stamp"},
                                                              {"Highlight", "highlight"},
                                                              {"Text", "note"},
                                                              {"FreeText", "typed note"},
                                                              {"Underline", "underline"},
                                                              {"StrikeOut", "strike-out"},
                                                              {"Squiggly", "underline"},
                                                              {"Ink", "drawn line"},
                                                              {"Line", "line"},
                                                              {"Square", "rectangle"},
                                                              {"Circle", "circle"},
                                                              {"Polygon", "polygon"},
                                                              {"PolyLine", "line"},
                                                              {"Link", "link"},
                                                              {"FileAttachment", "attached file"},
                                                              {"Watermark", "watermark"},
                                                              {"Caret", "insertion mark"}};
    const auto found = words.find(subtype);
    return found == words.end() ? valid_utf8(subtype) : found->second;
}

/// What everything is stretched by across the page as seen, and along it.
std::pair<double, double> stretch_of(const Placements &placements)
{
    return {placements.scale * placements.across, placements.scale * placements.along};
}

PageInfo with_bleed(PageInfo own, const Placements &placements)
{
    const double width = placements.bleed.width;
    if (width > 0) {
        add_bleed(own, width * placements.across, width * placements.along);
    }
    return own;
}

} // namespace

const char *to_string(BleedBy by)
{
    return by == BleedBy::Mirror ? "mirror" : "extend";
}

Outcome<BleedBy> parse_bleed_by(std::string_view name)
{
    for (const BleedBy by : {BleedBy::Mirror, BleedBy::Extend}) {
        if (name == to_string(by)) {
            return by;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "Bleed is not made by '" + std::string(name) + "'.",
                 {},
                 "Use mirror or extend."};
}

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

/// A customer's file as it came, and the PDF it is read from.
struct SourceFile
{
    std::string name;
    std::vector<std::byte> bytes;
    std::string password;
    InputKind kind = InputKind::Pdf;
    std::vector<std::byte> normalised;    ///< of other inputs, and packed ones: the PDF made from them
    std::vector<std::string> assumptions; ///< made on the way
    std::vector<Damage> damage;           ///< of other inputs: what could not be read whole
    int patience = 1;                     ///< how many times the usual work a page may take
    std::vector<int> slow_pages;          ///< found to take too long or too much; not tried again
    std::shared_ptr<const OriginalGuard> guard;
    /// What takes long and is the same for every page, and whatever is placed over it.
    std::shared_ptr<PageMemory> memory = std::make_shared<PageMemory>();

    [[nodiscard]] std::span<const std::byte> pdf() const { return normalised.empty() ? bytes : normalised; }
    /// SHA-256 of bytes, worked out when it is first asked for: films need none. Any thread.
    [[nodiscard]] const std::string &fingerprint() const
    {
        std::call_once(m_fingerprinted, [this] { m_fingerprint = fingerprint_of(bytes); });
        return m_fingerprint;
    }

private:
    mutable std::once_flag m_fingerprinted;
    mutable std::string m_fingerprint;
};

struct Artwork::Impl
{
    std::shared_ptr<const SourceFile> source;
    Placements placements; ///< what lies over and under it
    std::shared_ptr<MupdfRuntime> runtime;
    pdf_document *document = nullptr;
    std::mutex guard; ///< a pdf_document may be used by one thread at a time
    int pages = 0;
    PreparedPdf prepared;
    std::vector<Layer> layers;
    std::vector<std::string> warnings;
    std::vector<std::string> assumptions;
    std::vector<Damage> damage;
    /// The page interpreted last, for who asks for it while somebody has it.
    struct Latest
    {
        int number = 0;
        PageBox box = PageBox::Media;
        ColourSettings settings;
        std::weak_ptr<const PageContent> content;
    };
    Latest latest; ///< behind guard

    ~Impl()
    {
        if (document != nullptr) {
            const auto lease = runtime->lease();
            pdf_drop_document(lease.ctx(), document);
        }
    }
    [[nodiscard]] std::string page_place(int number) const
    {
        return source->name + ", page " + std::to_string(number);
    }
    [[nodiscard]] Done check_page(int number) const
    {
        if (number >= 1 && number <= pages) {
            return {};
        }
        return Error{ErrorCode::NoSuchPage, "There is no page " + std::to_string(number) + ".", source->name,
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
    auto source = std::make_shared<SourceFile>();
    source->name = name;
    source->guard = std::make_shared<OriginalGuard>(name);
    source->password = options.password;
    source->patience = options.patience;
    source->bytes = std::move(bytes);
    std::vector<std::byte> unpacked;
    std::string inner = name;
    if (is_gzip(source->bytes)) {
        auto made = unpack_gzip(source->bytes);
        if (!made) {
            Error error = made.error();
            error.place = name;
            return error;
        }
        unpacked = std::move(*made);
        inner = inner.ends_with(".gz") ? inner.substr(0, inner.size() - 3) : inner;
    }
    const std::span<const std::byte> content =
        unpacked.empty() ? std::span<const std::byte>(source->bytes) : unpacked;
    source->kind = input_kind(content, inner);
    if (source->kind == InputKind::Unknown) {
        return Error{ErrorCode::WrongFormat,
                     source->bytes.empty() ? "The file is empty."
                                           : "This is not a kind of file Bichrom reads.",
                     name, "Ask for PDF, EPS, PostScript, SVG, TIFF, PNG or JPEG."};
    }
    if (source->kind != InputKind::Pdf) {
        auto made = normalise(content, source->kind, {options.folder, options.assumed_ppi, options.patience},
                              control);
        if (!made) {
            Error error = made.error();
            error.place = name;
            return error;
        }
        source->normalised = std::move(made->pdf);
        source->assumptions = std::move(made->assumptions);
        source->damage = std::move(made->damage);
    }
    if (source->kind == InputKind::Pdf && !unpacked.empty()) {
        source->normalised = std::move(unpacked);
    }
    if (source->kind == InputKind::Pdf && options.untrusted) {
        auto slow_pages = probe_pdf(source->pdf(), options.password, options.patience, control);
        if (!slow_pages) {
            Error error = slow_pages.error();
            error.place = name;
            return error;
        }
        source->slow_pages = std::move(*slow_pages);
    }
    return load(std::move(source), {}, {});
}

/// Interprets \p source with what is placed on it.
Outcome<std::shared_ptr<const Artwork>> Artwork::load(std::shared_ptr<const SourceFile> source,
                                                      const Placements &placements,
                                                      const std::vector<PageToPlace> &pages)
{
    auto impl = std::make_shared<Impl>();
    impl->source = std::move(source);
    impl->placements = placements;
    const std::string &name = impl->source->name;
    std::span<const std::byte> pdf = impl->source->pdf();
    impl->prepared = prepare_pdf(pdf, impl->source->password, pages);
    if (impl->prepared.damaged && !pages.empty()) {
        return Error{ErrorCode::CannotRead, "The structure of a file does not allow placing one on another.",
                     name, "Have the files saved anew as PDF, and place those."};
    }
    impl->assumptions = impl->source->assumptions;
    for (const PlacedArtwork &one : placements.artworks) {
        for (const std::string &text : one.original->assumptions()) {
            impl->assumptions.push_back(one.name + ": " + text);
        }
    }
    const std::vector<std::string> &assumed = impl->prepared.assumptions;
    impl->assumptions.insert(impl->assumptions.end(), assumed.begin(), assumed.end());
    impl->layers = impl->prepared.layers;
    const bool copied = !impl->prepared.bytes.empty();
    if (copied) {
        pdf = impl->prepared.bytes;
    }
    const std::string password = copied ? std::string() : impl->source->password;
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
        impl->damage.push_back(
            {DamageKind::Structure,
             -1,
             {},
             "it was repaired to be looked at; its colour profiles and layers cannot be read"});
    }
    impl->damage.insert(impl->damage.end(), impl->source->damage.begin(), impl->source->damage.end());
    for (const PlacedArtwork &one : placements.artworks) {
        for (const Damage &damage : one.original->damage()) {
            impl->damage.push_back({damage.kind, -1, {}, one.name + ": " + damage.note});
        }
    }
    for (const Damage &damage : impl->damage) {
        impl->warnings.push_back(describe(damage));
    }
    std::vector<int> without_size;
    const Done sizes = guarded(ctx, name, [&] {
        constexpr int enough = 1000;
        for (int page = 0; page < std::min(raw->pages, enough); ++page) {
            if (read_boxes(ctx, pdf_lookup_page_obj(ctx, raw->document, page)).no_media) {
                without_size.push_back(page + 1);
            }
        }
    });
    (void)sizes; // a page that cannot be found says so when it is asked for
    if (!without_size.empty()) {
        impl->assumptions.push_back((without_size.size() == 1
                                         ? "Page " + std::to_string(without_size.front()) + " gives"
                                         : std::to_string(without_size.size()) + " pages, from page " +
                                               std::to_string(without_size.front()) + " on, give") +
                                    " no size (MediaBox): 612 × 792 pt (US Letter) is assumed.");
    }
    return std::shared_ptr<const Artwork>(new Artwork(std::move(impl)));
}

const std::string &Artwork::name() const
{
    return m_impl->source->name;
}
std::span<const std::byte> Artwork::bytes() const
{
    return m_impl->source->bytes;
}
const std::string &Artwork::sha256() const
{
    return m_impl->source->fingerprint();
}
const Placements &Artwork::placements() const
{
    return m_impl->placements;
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
const std::vector<Damage> &Artwork::damage() const
{
    return m_impl->damage;
}
const std::vector<std::string> &Artwork::assumptions() const
{
    return m_impl->assumptions;
}
const std::string &Artwork::output_intent() const
{
    return m_impl->prepared.output_intent;
}
bool Artwork::output_intent_has_profile() const
{
    return m_impl->prepared.output_intent_has_profile;
}
InputKind Artwork::kind() const
{
    return m_impl->source->kind;
}

Outcome<PageInfo> Artwork::page_info(int number) const
{
    auto own = own_page_info(number);
    return own ? Outcome<PageInfo>(with_bleed(std::move(*own), m_impl->placements)) : std::move(own);
}

/// Before bleed is made.
Outcome<PageInfo> Artwork::own_page_info(int number) const
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
    std::vector<RawAnnotation> annotations(most_annotations);
    int annotation_count = 0;
    const Done done = guarded(ctx, m_impl->page_place(number), [&] {
        pdf_obj *page = pdf_lookup_page_obj(ctx, m_impl->document, number - 1);
        raw = read_boxes(ctx, page);
        annotation_count = find_printing_annotations(ctx, page, annotations.data());
    });
    if (!done) {
        return done.error();
    }
    if (raw.bad_media) {
        return Error{ErrorCode::CannotRead, "The page's size (its MediaBox) holds no area.",
                     m_impl->page_place(number), "Ask the customer for a new copy of the file."};
    }
    const auto [across, along] = stretch_of(m_impl->placements);
    const bool upright = raw.rotate % 180 == 0; // what is across the page as seen is up it as written
    const double unit = millimetres_per_point * static_cast<double>(raw.user_unit);
    const double sx = unit * (upright ? across : along), sy = unit * (upright ? along : across);
    const auto scaled = [sx, sy](fz_rect r) {
        return Rect{static_cast<double>(r.x0) * sx, static_cast<double>(r.y0) * sy,
                    (static_cast<double>(r.x1) - static_cast<double>(r.x0)) * sx,
                    (static_cast<double>(r.y1) - static_cast<double>(r.y0)) * sy};
    };
    for (std::size_t i = 0; i < 5; ++i) {
        info.boxes[i] = scaled(raw.box[i]);
        info.written[i] = raw.is_written[i];
        info.raw[i] = raw.is_written[i] ? scaled(raw.written[i]) : Rect{};
    }
    info.own_media = info.box(PageBox::Media);
    info.rotate = raw.rotate;
    for (int i = 0; i < annotation_count; ++i) {
        const RawAnnotation &one = annotations[static_cast<std::size_t>(i)];
        info.annotations.push_back({annotation_words(one.kind), scaled(one.area)});
    }
    return info;
}

Outcome<std::shared_ptr<const PageContent>>
Artwork::interpret(int number, PageBox box, const ColourSettings &settings, const JobControl &control) const
{
    const auto own = own_page_info(number);
    if (!own) {
        return own.error();
    }
    const PageInfo info = with_bleed(*own, m_impl->placements);
    const std::vector<int> &slow = m_impl->source->slow_pages;
    if (std::find(slow.begin(), slow.end(), number) != slow.end()) {
        return Error{ErrorCode::TakesLong,
                     "It takes too long or too much memory to interpret; the file may be damaged or hostile.",
                     m_impl->page_place(number),
                     "Go on with more patience, or ask the customer for a new copy of the file."};
    }
    const std::lock_guard guard(m_impl->guard); // others wait here: they may need the same
    const Impl::Latest &latest = m_impl->latest;
    if (latest.number == number && latest.box == box && latest.settings == settings) {
        if (auto known = latest.content.lock()) {
            return known;
        }
    }
    auto content = std::make_unique<PageContent::Impl>();
    content->runtime = m_impl->runtime;
    content->shared_memory = m_impl->source->memory;
    content->document = m_impl;
    content->place = m_impl->page_place(number);
    const auto within = [&](const Rect &rect) { return rect_within(info, rect, box); };
    for (const PageBox one : all_page_boxes) {
        content->boxes[static_cast<std::size_t>(one)] = within(info.box(one));
    }
    if (const MadeBleed &bleed = m_impl->placements.bleed; bleed.width > 0) {
        content->made_bleed = {{bleed.by, within(info.box(PageBox::Trim)), within(info.box(PageBox::Bleed)),
                                within(info.own_media)}};
    }
    auto colours = PageColours::make(settings, m_impl->prepared.profiles, content->warnings);
    if (!colours) {
        return colours.error();
    }
    content->colours = *colours;
    PageContent::Impl *raw = content.get();
    const auto [across, along] = stretch_of(m_impl->placements);
    const bool upright = info.rotate % 180 == 0;
    const fz_matrix stretch = fz_scale(static_cast<float>(across), static_cast<float>(along));
    const auto lease = m_impl->runtime->lease();
    fz_context *ctx = lease.ctx();
    CookieWatch watch(control, interpret_seconds * m_impl->source->patience);
    NoteScope notes(ctx);
    const auto run_page = [&] {
        pdf_page *page = nullptr;
        fz_device *device = nullptr;
        fz_var(page);
        fz_var(device);
        fz_drop_display_list(ctx, raw->list);
        raw->list = nullptr;
        fz_try(ctx)
        {
            // MuPDF shows the crop box; the box asked for takes its place, in memory only.
            pdf_obj *object = pdf_lookup_page_obj(ctx, m_impl->document, number - 1);
            const RawBoxes boxes = read_boxes(ctx, object);
            const auto written = [&](const Rect &rect) { // as the file does: back to its units
                for (std::size_t i = 0; i < own->boxes.size(); ++i) {
                    if (rect == own->boxes[i]) {
                        return boxes.box[i]; // to the bit
                    }
                }
                const double unit = millimetres_per_point * static_cast<double>(boxes.user_unit);
                const double sx = unit * (upright ? across : along), sy = unit * (upright ? along : across);
                return fz_rect{static_cast<float>(rect.x / sx), static_cast<float>(rect.y / sy),
                               static_cast<float>((rect.x + rect.width) / sx),
                               static_cast<float>((rect.y + rect.height) / sy)};
            };
            const fz_rect media = written(info.box(PageBox::Media)), part = written(info.box(box));
            pdf_dict_put_drop(ctx, object, PDF_NAME(MediaBox), pdf_new_rect(ctx, m_impl->document, media));
            pdf_obj *crop_before =
                pdf_keep_obj(ctx, pdf_dict_get_inheritable(ctx, object, PDF_NAME(CropBox)));
            pdf_dict_put_drop(ctx, object, PDF_NAME(CropBox), pdf_new_rect(ctx, m_impl->document, part));
            fz_try(ctx)
            {
                page = pdf_load_page(ctx, m_impl->document, number - 1);
                const fz_rect bounds = pdf_bound_page(ctx, page);
                raw->width = across * (static_cast<double>(bounds.x1) - static_cast<double>(bounds.x0));
                raw->height = along * (static_cast<double>(bounds.y1) - static_cast<double>(bounds.y0));
                raw->list = fz_new_display_list(ctx, fz_transform_rect(bounds, stretch));
                device = fz_new_list_device(ctx, raw->list);
                mark_notes(device);
                correct_mask_groups(device);
                const fz_matrix origin = fz_concat(fz_translate(-bounds.x0, -bounds.y0), stretch);
                fz_try(ctx)
                {
                    pdf_run_page_with_usage(ctx, page, device, origin, "Print", watch.cookie());
                }
                fz_catch(ctx)
                {
                    close_containers(ctx, device); // what was recorded until here can be shown
                    fz_rethrow(ctx);
                }
                fz_close_device(ctx, device);
                raw->group_bounds.clear();
                find_group_bounds(ctx, raw->list, watch.cookie(), raw->group_bounds);
            }
            fz_always(ctx)
            {
                // Put the boxes back: those reported must stay those of the file.
                pdf_dict_put_drop(ctx, object, PDF_NAME(MediaBox),
                                  pdf_new_rect(ctx, m_impl->document, boxes.box[0]));
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
    };
    Done done = guarded(ctx, raw->place, run_page);
    std::vector<fz_image *> stencils;
    if (!done && watch.verdict(raw->place) && done.error().code != ErrorCode::TooLarge &&
        replace_broken_pictures(ctx, m_impl->document, pdf_lookup_page_obj(ctx, m_impl->document, number - 1),
                                raw->pictures, stencils) > 0) {
        notes.forget();
        done = guarded(ctx, raw->place, run_page);
    }
    for (fz_image *stencil : stencils) {
        fz_drop_image(ctx, stencil); // the list keeps those that are painted
    }
    if (const Done verdict = watch.verdict(raw->place); !verdict) {
        return verdict.error();
    }
    if (!done && (raw->list == nullptr || done.error().code == ErrorCode::TooLarge)) {
        return done.error();
    }
    if (!done) {
        notes.add("interpretation ends early, what follows on the page is missing");
    }
    fz_flush_warnings(ctx);
    for (const Damage &damage : m_impl->damage) {
        content->damage.add(damage);
    }
    if (std::any_of(notes.notes().begin(), notes.notes().end(),
                    [](const NoteScope::Note &note) { return is_damage(note.text); })) {
        find_noted_objects(*content, notes);
    }
    const std::vector<std::string> noted = notes.sort_into(content->damage);
    content->warnings.insert(content->warnings.end(), noted.begin(), noted.end());
    auto made = std::shared_ptr<const PageContent>(new PageContent(std::move(content)));
    m_impl->latest = {number, box, settings, made};
    return made;
}

const PlacedArtwork *Placements::find(int id) const
{
    const auto found = std::find_if(artworks.begin(), artworks.end(),
                                    [id](const PlacedArtwork &one) { return one.id == id; });
    return found == artworks.end() ? nullptr : &*found;
}

Outcome<std::pair<double, double>> placed_size(const PlacedArtwork &placed)
{
    const auto info = placed.original->page_info(placed.page);
    if (!info) {
        return info.error();
    }
    const Rect &crop = info->box(PageBox::Crop);
    const bool upright = (info->rotate + placed.turn * 90) % 180 == 0;
    return std::pair((upright ? crop.width : crop.height) * placed.scale,
                     (upright ? crop.height : crop.width) * placed.scale);
}

Outcome<std::shared_ptr<const Artwork>> assemble(const std::shared_ptr<const Artwork> &first,
                                                 const Placements &placements)
{
    if (!(placements.scale >= 0.01 && placements.scale <= 100) ||
        !(placements.across >= 0.5 && placements.across <= 2) ||
        !(placements.along >= 0.5 && placements.along <= 2)) {
        return Error{ErrorCode::OutOfRange, "The artwork cannot be made as large or as small as that.",
                     first->name(), "Scale it to 1 to 10000 %, and stretch it to 50 to 200 %."};
    }
    if (!(placements.bleed.width >= 0 && placements.bleed.width <= MadeBleed::most)) {
        return Error{ErrorCode::OutOfRange, "That much bleed cannot be made.", first->name(),
                     "Make at most " + format_number(MadeBleed::most, 0) + " mm."};
    }
    std::vector<PageToPlace> pages;
    const auto [across, along] = stretch_of(first->placements());
    for (std::size_t i = 0; i < placements.artworks.size(); ++i) {
        const PlacedArtwork &one = placements.artworks[i];
        const auto target = first->own_page_info(one.on_page);
        const auto info = one.original->page_info(one.page);
        if (!target || !info) {
            return target ? info.error() : target.error();
        }
        constexpr double farthest = 20000; // mm, more than the largest page there is
        if (!(one.scale >= 0.01 && one.scale <= 100) || one.turn < 0 || one.turn > 3 ||
            !(std::fabs(one.x) <= farthest && std::fabs(one.y) <= farthest)) {
            return Error{ErrorCode::OutOfRange, "'" + one.name + "' cannot be placed so.", first->name(),
                         "Scale it to 1 to 10000 %, and place it within 20 m."};
        }
        const SourceFile &source = *one.original->m_impl->source;
        if (std::find(source.slow_pages.begin(), source.slow_pages.end(), one.page) !=
            source.slow_pages.end()) {
            return Error{ErrorCode::TooLarge, "It takes too long or too much memory to interpret.",
                         one.original->m_impl->page_place(one.page),
                         "Ask the customer for a new copy of the file."};
        }
        // Placed in the file as it is; it is scaled with everything else.
        Rect media = target->box(PageBox::Media);
        const bool turned = target->rotate % 180 != 0;
        const double sx = turned ? along : across, sy = turned ? across : along;
        media = {media.x / sx, media.y / sy, media.width / sx, media.height / sy};
        // Places count from the page as it will be, with its bleed.
        const Rect trim = box_within(*target, PageBox::Trim, PageBox::Media);
        const double left = std::max(0.0, placements.bleed.width - trim.x / across * placements.scale);
        const double top = std::max(0.0, placements.bleed.width - trim.y / along * placements.scale);
        pages.push_back({one.id,
                         source.pdf(),
                         source.password,
                         one.page,
                         {info->box(PageBox::Crop), info->rotate},
                         one.on_page,
                         {media, target->rotate},
                         (one.x - left) / placements.scale,
                         (one.y - top) / placements.scale,
                         one.scale / placements.scale,
                         one.turn,
                         one.overprints,
                         i < placements.below});
    }
    return Artwork::load(first->m_impl->source, placements, pages);
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
std::vector<std::string> PageContent::warnings() const
{
    std::vector<std::string> all;
    for (const Damage &damage : m_impl->damage.all()) {
        all.push_back(describe(damage));
    }
    all.insert(all.end(), m_impl->warnings.begin(), m_impl->warnings.end());
    return all;
}
std::vector<Damage> PageContent::damage() const
{
    return m_impl->damage.all();
}

} // namespace bichrom
