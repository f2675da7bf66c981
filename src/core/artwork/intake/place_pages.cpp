#include "core/artwork/intake/place_pages.h"

#include "core/artwork/intake/print_layers.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFPageDocumentHelper.hh>
#include <qpdf/QPDFPageObjectHelper.hh>

#include <array>
#include <utility>

namespace bichrom {

namespace {

using Point = std::pair<double, double>;

/// Millimetres of a unit of a page's user space.
double unit_of(QPDFObjectHandle page)
{
    QPDFObjectHandle unit = page.getKey("/UserUnit");
    const double value = unit.isNumber() ? unit.getNumericValue() : 1.0;
    return (value > 0 ? value : 1.0) * millimetres_per_inch / points_per_inch;
}

/// From mm from the box's lower left, y up, to mm from its top left after a turn clockwise, y down.
Point turned(Point p, double width, double height, int turn)
{
    switch (turn) {
    case 90:
        return {p.second, p.first};
    case 180:
        return {width - p.first, p.second};
    case 270:
        return {height - p.second, width - p.first};
    default:
        return {p.first, height - p.second};
    }
}

/// The way back; \p width and \p height are still the box's own.
Point turned_back(Point p, double width, double height, int turn)
{
    return turn == 270 ? turned(p, height, width, turn) : turned(p, width, height, turn);
}

/// The cm operator that takes the user space of the placed page to that of the page it is placed on.
std::string placing_matrix(const PageToPlace &one, double source_unit, double target_unit)
{
    const int turn = (one.crop.rotate + one.turn * 90) % 360;
    const auto mapped = [&](double x, double y) {
        const Rect &crop = one.crop.box;
        Point p = turned({x * source_unit - crop.x, y * source_unit - crop.y}, crop.width, crop.height, turn);
        p = {p.first * one.scale + one.x, p.second * one.scale + one.y};
        const Rect &media = one.media.box;
        p = turned_back(p, media.width, media.height, one.media.rotate);
        return Point{(p.first + media.x) / target_unit, (p.second + media.y) / target_unit};
    };
    const Point origin = mapped(0, 0);
    const Point right = mapped(1, 0);
    const Point up = mapped(0, 1);
    std::string text;
    for (const double value :
         {right.first - origin.first, right.second - origin.second, up.first - origin.first,
          up.second - origin.second, origin.first, origin.second}) {
        text += QPDFObjectHandle::newReal(value, 8).getRealValue() + " ";
    }
    return text + "cm";
}

QPDFObjectHandle new_name(const char *text)
{
    return QPDFObjectHandle::newName(text);
}

QPDFObjectHandle array_of(QPDFObjectHandle dict, const char *key)
{
    if (!dict.getKey(key).isArray()) {
        dict.replaceKey(key, QPDFObjectHandle::newArray());
    }
    return dict.getKey(key);
}

/// Adds \p group to the file's layers, in its state.
void add_group(QPDF &pdf, QPDFObjectHandle group, bool prints)
{
    QPDFObjectHandle root = pdf.getRoot();
    if (!root.getKey("/OCProperties").isDictionary()) {
        root.replaceKey("/OCProperties", QPDFObjectHandle::newDictionary());
    }
    QPDFObjectHandle properties = root.getKey("/OCProperties");
    if (!properties.getKey("/D").isDictionary()) {
        properties.replaceKey("/D", QPDFObjectHandle::newDictionary());
    }
    QPDFObjectHandle groups = array_of(properties, "/OCGs");
    // The interpreter takes groups for the same when all their entries are: this one differs.
    group.replaceKey("/BichromNumber", QPDFObjectHandle::newInteger(groups.getArrayNItems()));
    groups.appendItem(group);
    array_of(properties.getKey("/D"), prints ? "/ON" : "/OFF").appendItem(group);
}

/// A form that paints \p page of \p source, in its layer and way of overprinting.
QPDFObjectHandle placed_form(QPDF &pdf, QPDF &source, QPDFObjectHandle target, const PageToPlace &one)
{
    QPDFPageDocumentHelper document(source);
    document.flattenAnnotations(); // those that print
    QPDFPageObjectHelper page(source.getAllPages().at(static_cast<std::size_t>(one.page - 1)));
    const double unit = unit_of(page.getObjectHandle());
    QPDFObjectHandle form = pdf.copyForeignObject(page.getFormXObjectForPage(false));
    const Rect &crop = one.crop.box;
    QPDFObjectHandle dict = form.getDict();
    dict.replaceKey("/BBox", QPDFObjectHandle::newFromRectangle({crop.x / unit, crop.y / unit,
                                                                 (crop.x + crop.width) / unit,
                                                                 (crop.y + crop.height) / unit}));
    dict.removeKey("/Matrix");
    if (one.overprints && !dict.getKey("/Group").isDictionary()) {
        // Multiplied as a whole: within itself the artwork knocks out as it was drawn.
        QPDFObjectHandle group = QPDFObjectHandle::newDictionary();
        group.replaceKey("/Type", new_name("/Group"));
        group.replaceKey("/S", new_name("/Transparency"));
        group.replaceKey("/I", QPDFObjectHandle::newBool(true));
        dict.replaceKey("/Group", group);
    }
    const PrintLayers layers(source);
    for (const QPDFObjectHandle &group : layers.groups()) {
        add_group(pdf, pdf.copyForeignObject(group), layers.prints(group));
    }

    QPDFObjectHandle layer = QPDFObjectHandle::newDictionary();
    layer.replaceKey("/Type", new_name("/OCG"));
    layer.replaceKey("/Name", QPDFObjectHandle::newString(placed_layer_prefix + std::to_string(one.id)));
    layer = pdf.makeIndirectObject(layer);
    add_group(pdf, layer, true);

    QPDFObjectHandle state = QPDFObjectHandle::newDictionary();
    state.replaceKey("/BM", new_name(one.overprints ? "/Multiply" : "/Normal"));
    QPDFObjectHandle resources = QPDFObjectHandle::newDictionary();
    const auto add = [&](const char *kind, const char *key, QPDFObjectHandle value) {
        QPDFObjectHandle entry = QPDFObjectHandle::newDictionary();
        entry.replaceKey(key, value);
        resources.replaceKey(kind, entry);
    };
    add("/Properties", "/L", layer);
    add("/ExtGState", "/G", state);
    add("/XObject", "/F", form);

    const std::string matrix = placing_matrix(one, unit, unit_of(target));
    QPDFObjectHandle wrapper =
        QPDFObjectHandle::newStream(&pdf, "/OC /L BDC q " + matrix + " /G gs /F Do Q EMC\n");
    QPDFObjectHandle wrapping = wrapper.getDict();
    wrapping.replaceKey("/Type", new_name("/XObject"));
    wrapping.replaceKey("/Subtype", new_name("/Form"));
    const double target_unit = unit_of(target);
    const Rect &media = one.media.box;
    wrapping.replaceKey("/BBox",
                        QPDFObjectHandle::newFromRectangle({media.x / target_unit, media.y / target_unit,
                                                            (media.x + media.width) / target_unit,
                                                            (media.y + media.height) / target_unit}));
    wrapping.replaceKey("/Resources", resources);
    return wrapper;
}

} // namespace

std::vector<std::shared_ptr<QPDF>> place_pages(QPDF &pdf, std::span<const PageToPlace> pages)
{
    std::vector<std::shared_ptr<QPDF>> sources;
    std::vector<QPDFObjectHandle> targets = pdf.getAllPages();
    struct Contents
    {
        std::string below, above;
    };
    std::vector<Contents> contents(targets.size());
    for (const PageToPlace &one : pages) {
        const auto number = static_cast<std::size_t>(one.on_page - 1);
        QPDFPageObjectHelper target(targets.at(number));
        auto source = QPDF::create();
        source->setSuppressWarnings(true);
        source->processMemoryFile("placed artwork", reinterpret_cast<const char *>(one.pdf.data()),
                                  one.pdf.size(), one.password.c_str());
        sources.push_back(source);
        clear_placed_names(*source);
        const QPDFObjectHandle form = placed_form(pdf, *source, target.getObjectHandle(), one);
        QPDFObjectHandle resources = target.getAttribute("/Resources", true);
        if (!resources.isDictionary()) {
            resources = QPDFObjectHandle::newDictionary();
            target.getObjectHandle().replaceKey("/Resources", resources);
        }
        QPDFObjectHandle forms = resources.getKey("/XObject");
        forms = forms.isDictionary() ? forms.shallowCopy() : QPDFObjectHandle::newDictionary();
        int least = 1;
        const std::string name = resources.getUniqueResourceName("/Placed", least);
        forms.replaceKey(name, form);
        resources.replaceKey("/XObject", forms);
        (one.below ? contents[number].below : contents[number].above) += "q " + name + " Do Q\n";
    }
    for (std::size_t i = 0; i < targets.size(); ++i) {
        const auto &[below, above] = contents[i];
        QPDFPageObjectHelper target(targets[i]);
        if (!above.empty()) { // the page's own state ends before what lies over it
            target.addPageContents(QPDFObjectHandle::newStream(&pdf, below + "q\n"), true);
            target.addPageContents(QPDFObjectHandle::newStream(&pdf, "\nQ\n" + above), false);
        } else if (!below.empty()) {
            target.addPageContents(QPDFObjectHandle::newStream(&pdf, below), true);
        }
    }
    return sources;
}

bool clear_placed_names(QPDF &pdf)
{
    bool any = false;
    const std::string prefix = placed_layer_prefix;
    for (QPDFObjectHandle object : pdf.getAllObjects()) {
        if (object.isDictionary() && object.getKey("/Name").isString() &&
            object.getKey("/Name").getUTF8Value().compare(0, prefix.size(), prefix) == 0) {
            object.replaceKey("/Name", QPDFObjectHandle::newString("?"));
            any = true;
        }
    }
    return any;
}

} // namespace bichrom
