#include "core/artwork/intake/read_svg.h"

#include "core/base/units.h"

#include <cairo-pdf.h>
#include <fontconfig/fontconfig.h>
#include <librsvg/rsvg.h>
#include <pugixml.hpp>

#include <algorithm>
#include <cmath>
#include <functional>
#include <memory>
#include <set>

namespace bichrom {

namespace {

constexpr double pixels_per_inch = 96.0;
constexpr double longest_side = 200.0 * points_per_inch;
constexpr double picture_ppi = 600.0; // of what has to become pixels: filters

template <auto Function> struct Deleter
{
    template <typename T> void operator()(T *object) const { Function(object); }
};
using Handle = std::unique_ptr<RsvgHandle, Deleter<g_object_unref>>;
using Surface = std::unique_ptr<cairo_surface_t, Deleter<cairo_surface_destroy>>;
using Context = std::unique_ptr<cairo_t, Deleter<cairo_destroy>>;

Error unreadable(GError *fault)
{
    const std::string why = fault != nullptr ? fault->message : "no reason given";
    if (fault != nullptr) {
        g_error_free(fault);
    }
    return {ErrorCode::CannotRead,
            "The SVG cannot be read (" + why + ").",
            {},
            "Ask the customer for a new copy, best as PDF."};
}

std::string trimmed(const std::string &text)
{
    const std::size_t first = text.find_first_not_of(" \t\r\n\"'");
    const std::size_t last = text.find_last_not_of(" \t\r\n\"'");
    return first == std::string::npos ? std::string() : text.substr(first, last - first + 1);
}

/// Adds the first family of each "font-family: a, b" in \p css.
void families_in(const std::string &css, std::set<std::string> &families)
{
    static const std::string key = "font-family";
    for (std::size_t at = css.find(key); at != std::string::npos; at = css.find(key, at + 1)) {
        const std::size_t colon = css.find(':', at);
        if (colon == std::string::npos) {
            return;
        }
        const std::string value = css.substr(colon + 1, css.find_first_of(";}", colon) - colon - 1);
        families.insert(trimmed(value.substr(0, value.find(','))));
    }
}

/// Families the drawing asks for that this machine does not have.
std::vector<std::string> missing_fonts(std::span<const std::byte> bytes)
{
    pugi::xml_document document;
    if (!document.load_buffer(bytes.data(), bytes.size())) {
        return {};
    }
    std::set<std::string> families;
    struct Walker final : pugi::xml_tree_walker
    {
        std::set<std::string> *families = nullptr;
        bool for_each(pugi::xml_node &node) override
        {
            if (const auto family = node.attribute("font-family")) {
                const std::string list = family.value();
                families->insert(trimmed(list.substr(0, list.find(','))));
            }
            families_in(node.attribute("style").value(), *families);
            if (std::string(node.name()) == "style") {
                families_in(node.text().get(), *families);
            }
            return true;
        }
    } walker;
    walker.families = &families;
    document.traverse(walker);
    std::vector<std::string> missing;
    for (const std::string &family : families) {
        static const std::set<std::string> generic = {
            "", "serif", "sans-serif", "monospace", "cursive", "fantasy", "inherit", "system-ui", "sans"};
        if (generic.count(family) > 0) {
            continue;
        }
        FcPattern *wanted = FcPatternCreate();
        FcPatternAddString(wanted, FC_FAMILY, reinterpret_cast<const FcChar8 *>(family.c_str()));
        FcObjectSet *fields = FcObjectSetBuild(FC_FAMILY, nullptr);
        FcFontSet *found = FcFontList(nullptr, wanted, fields);
        if (found == nullptr || found->nfont == 0) {
            missing.push_back(family);
        }
        if (found != nullptr) {
            FcFontSetDestroy(found);
        }
        FcObjectSetDestroy(fields);
        FcPatternDestroy(wanted);
    }
    return missing;
}

/// All words inside \p node, blanks joined.
std::string words_in(const pugi::xml_node &node)
{
    std::string text;
    struct Walker final : pugi::xml_tree_walker
    {
        std::string *out = nullptr;
        bool for_each(pugi::xml_node &inner) override
        {
            if (inner.type() == pugi::node_pcdata || inner.type() == pugi::node_cdata) {
                for (const char *c = inner.value(); *c != '\0'; ++c) {
                    const bool blank = *c == ' ' || *c == '\n' || *c == '\t' || *c == '\r';
                    if (!blank || (!out->empty() && out->back() != ' ')) {
                        *out += blank ? ' ' : *c;
                    }
                }
            }
            return true;
        }
    } walker;
    walker.out = &text;
    pugi::xml_node start = node;
    start.traverse(walker);
    while (!text.empty() && text.back() == ' ') {
        text.pop_back();
    }
    return text;
}

/// Whether \p node or what it stands in is set not to be shown.
bool is_hidden(pugi::xml_node node)
{
    for (; node; node = node.parent()) {
        const std::string style = node.attribute("style").value();
        const std::string tag = node.name();
        const bool none = std::string(node.attribute("display").value()) == "none" ||
                          style.find("display:none") != std::string::npos ||
                          style.find("display: none") != std::string::npos;
        if (none || tag == "defs" || tag == "symbol" || tag == "metadata") {
            return true;
        }
    }
    return false;
}

/// What the drawing asks for and the SVG reader passes over without a word.
void find_undrawn(std::span<const std::byte> bytes, const std::filesystem::path &folder,
                  std::vector<std::string> &assumptions, std::vector<Damage> &damage)
{
    pugi::xml_document document;
    if (!document.load_buffer(bytes.data(), bytes.size(),
                              pugi::parse_default | pugi::parse_ws_pcdata_single)) {
        return; // compressed, or the reader itself says what is wrong
    }
    struct Walker final : pugi::xml_tree_walker
    {
        const std::filesystem::path *folder = nullptr;
        std::vector<std::string> *assumptions = nullptr;
        std::vector<Damage> *damage = nullptr;

        void missing(const std::string &what)
        {
            constexpr std::size_t most = 50;
            if (damage->size() < most) {
                damage->push_back({DamageKind::MissingPart, -1, {}, what});
            }
        }
        static std::string local(const pugi::xml_node &node)
        {
            const std::string tag = node.name();
            const std::size_t colon = tag.find(':');
            return colon == std::string::npos ? tag : tag.substr(colon + 1);
        }
        void quoted(const pugi::xml_node &node, const std::string &what)
        {
            const std::string words = words_in(node);
            if (!words.empty() && !is_hidden(node)) {
                missing(what + " is not drawn: '" + words.substr(0, 60) + "'");
            }
        }
        bool for_each(pugi::xml_node &node) override
        {
            const std::string tag = local(node);
            if (tag == "flowRoot") {
                quoted(node, "text in a flowing frame (SVG 1.2 flowRoot)");
            } else if (tag == "textPath") {
                quoted(node, "text along a path (textPath)");
            } else if (tag == "foreignObject") {
                // A switch offers something else instead.
                if (local(node.parent()) != "switch") {
                    quoted(node, "a foreign object");
                }
            } else if ((tag == "meshgradient" || tag == "meshGradient" || tag == "hatch") &&
                       node.first_child()) {
                missing("a fill of the kind '" + tag + "' is not drawn");
            } else if (tag == "image") {
                std::string link = node.attribute("href") ? node.attribute("href").value()
                                                          : node.attribute("xlink:href").value();
                if (link.starts_with("file://")) {
                    link.erase(0, 7);
                }
                std::error_code fault;
                const std::filesystem::path path = std::filesystem::path(link);
                const std::filesystem::path where = path.is_absolute() ? path : *folder / path;
                if (!link.empty() && !link.starts_with("data:") && !is_hidden(node) &&
                    !std::filesystem::exists(where, fault)) {
                    missing("the linked picture '" + link.substr(0, 80) + "' is missing");
                }
            } else if (tag.starts_with("fe") && !told_background) {
                for (const char *key : {"in", "in2"}) {
                    const std::string input = node.attribute(key).value();
                    if (input == "BackgroundImage" || input == "BackgroundAlpha") {
                        assumptions->push_back("A filter of the drawing looks at what lies behind (" + input +
                                               "), which is not supported: it is drawn without.");
                        told_background = true;
                    }
                }
            }
            return true;
        }
        bool told_background = false;
    } walker;
    walker.folder = &folder;
    walker.assumptions = &assumptions;
    walker.damage = &damage;
    document.traverse(walker);
}

/// Whether the drawing's own width or height is written in percent.
bool is_in_percent(std::span<const std::byte> bytes)
{
    pugi::xml_document document;
    (void)document.load_buffer(bytes.data(), bytes.size());
    const pugi::xml_node root = document.document_element();
    return std::string(root.attribute("width").value()).ends_with('%') ||
           std::string(root.attribute("height").value()).ends_with('%');
}

/// The size in CSS pixels, and how it was come by.
/// \param percent  the drawing gives a share of its window
bool find_size(RsvgHandle *handle, bool percent, double &width, double &height,
               std::vector<std::string> &assumptions)
{
    if (rsvg_handle_get_intrinsic_size_in_pixels(handle, &width, &height) != 0 && width > 0 && height > 0) {
        return true;
    }
    gboolean has_width = FALSE;
    gboolean has_height = FALSE;
    gboolean has_box = FALSE;
    RsvgLength across{};
    RsvgLength down{};
    RsvgRectangle box{};
    rsvg_handle_get_intrinsic_dimensions(handle, &has_width, &across, &has_height, &down, &has_box, &box);
    const std::string told = percent ? "The SVG gives no size but percent of a window that is not known: "
                                     : "The SVG gives no size of its own: ";
    if (has_box != 0 && box.width > 0 && box.height > 0) {
        width = box.width;
        height = box.height;
        assumptions.push_back(told + "the units of its viewBox are taken as pixels of 1/96 inch.");
        return true;
    }
    RsvgRectangle ink{};
    RsvgRectangle logical{};
    if (rsvg_handle_get_geometry_for_element(handle, nullptr, &ink, &logical, nullptr) != 0 &&
        ink.width > 0 && ink.height > 0) {
        width = ink.x + ink.width;
        height = ink.y + ink.height;
        assumptions.push_back(
            told + "it has no viewBox either, so that the page reaches as far as what it draws, at 96 "
                   "pixels an inch.");
        return width > 0 && height > 0;
    }
    return false;
}

} // namespace

Outcome<std::vector<std::byte>> svg_to_pdf(std::span<const std::byte> bytes,
                                           const std::filesystem::path &folder,
                                           std::vector<std::string> &assumptions, std::vector<Damage> &damage)
{
    GError *fault = nullptr;
    const std::unique_ptr<GInputStream, Deleter<g_object_unref>> stream(
        g_memory_input_stream_new_from_data(bytes.data(), static_cast<gssize>(bytes.size()), nullptr));
    std::unique_ptr<GFile, Deleter<g_object_unref>> base;
    if (!folder.empty()) {
        base.reset(g_file_new_for_path((folder / "drawing.svg").c_str()));
    }
    const Handle handle(
        rsvg_handle_new_from_stream_sync(stream.get(), base.get(), RSVG_HANDLE_FLAGS_NONE, nullptr, &fault));
    if (!handle) {
        return unreadable(fault);
    }
    rsvg_handle_set_dpi(handle.get(), pixels_per_inch);
    double width = 0;
    double height = 0;
    if (!find_size(handle.get(), is_in_percent(bytes), width, height, assumptions)) {
        return Error{ErrorCode::CannotRead,
                     "The SVG draws nothing and gives no size.",
                     {},
                     "Ask the customer for a new copy."};
    }
    const double scale = points_per_inch / pixels_per_inch;
    if (!(std::max(width, height) * scale <= longest_side)) {
        return Error{
            ErrorCode::TooLarge, "The SVG is longer than 200 inches.", {}, "Ask for it at another scale."};
    }
    std::vector<std::byte> pdf;
    const auto append = [](void *target, const unsigned char *data, unsigned length) {
        auto *out = static_cast<std::vector<std::byte> *>(target);
        const auto *first = reinterpret_cast<const std::byte *>(data);
        out->insert(out->end(), first, first + length);
        return CAIRO_STATUS_SUCCESS;
    };
    const Surface surface(cairo_pdf_surface_create_for_stream(append, &pdf, width * scale, height * scale));
    cairo_surface_set_fallback_resolution(surface.get(), picture_ppi, picture_ppi);
    const Context context(cairo_create(surface.get()));
    cairo_scale(context.get(), scale, scale);
    const RsvgRectangle viewport = {0, 0, width, height};
    if (rsvg_handle_render_document(handle.get(), context.get(), &viewport, &fault) == 0) {
        return unreadable(fault);
    }
    cairo_show_page(context.get());
    cairo_surface_finish(surface.get());
    if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS) {
        return Error{ErrorCode::CannotRead,
                     std::string("The SVG cannot be drawn (") +
                         cairo_status_to_string(cairo_surface_status(surface.get())) + ").",
                     {},
                     "Ask the customer for a new copy, best as PDF."};
    }
    find_undrawn(bytes, folder, assumptions, damage);
    for (const std::string &family : missing_fonts(bytes)) {
        assumptions.push_back("The font '" + family +
                              "' is not on this machine: another one stands in its place.");
    }
    return pdf;
}

} // namespace bichrom
