#include "core/artwork/found_colours.h"

#include <map>

namespace bichrom {

std::vector<FoundColour> find_colours(const Scene &scene)
{
    std::vector<FoundColour> found;
    std::map<std::string, std::size_t> known;
    for (const SceneObject &object : scene.objects) {
        if (object.colour.values.empty()) {
            continue;
        }
        std::string key = object.colour.space + '\0' + object.colour.profile;
        for (const std::string &name : object.colour.colorants) {
            key += '\0' + name;
        }
        key.append(reinterpret_cast<const char *>(object.colour.values.data()),
                   object.colour.values.size() * sizeof(float));
        const auto [place, is_new] = known.try_emplace(key, found.size());
        if (is_new) {
            found.push_back({object.colour, 0});
        }
        ++found[place->second].objects;
    }
    return found;
}

std::string describe(const ColourUse &colour)
{
    std::string text = colour.profile.empty() ? colour.space : colour.space + " (" + colour.profile + ")";
    const bool named = colour.space.find("Separation") != std::string::npos ||
                       colour.space.find("DeviceN") != std::string::npos;
    const bool lab = colour.space.find("Lab") != std::string::npos;
    for (std::size_t i = 0; i < colour.values.size(); ++i) {
        const auto value = static_cast<double>(colour.values[i]);
        if (named && i < colour.colorants.size()) {
            text += (i > 0 ? " + " : " ") + colour.colorants[i];
        }
        text += " " + format_number(lab ? value : value * 100.0, 1);
        if (named) {
            text += " %";
        }
    }
    return named || lab || colour.values.empty() ? text : text + " %";
}

std::string describe(const SceneObject &object)
{
    std::string text = to_string(object.kind);
    if (!object.font.empty()) {
        text += " " + format_number(object.font_size, 1) + " pt " + object.font;
        if (!object.font_embedded) {
            text += " (not embedded)";
        }
    }
    if (object.image_width > 0) {
        text += " " + std::to_string(object.image_width) + " × " + std::to_string(object.image_height) +
                " px, " + format_number(object.image_ppi, 0) + " ppi";
    }
    text += ", " + describe(object.colour);
    if (object.kind == ObjectKind::Stroke || object.kind == ObjectKind::StrokedText) {
        text += ", line " + format_number(object.stroke_width, 3) + " pt";
    }
    if (object.overprint) {
        text += ", overprints";
    }
    if (object.alpha < 1.0f) {
        text += ", opacity " + format_number(static_cast<double>(object.alpha) * 100.0, 0) + " %";
    }
    if (!object.layer.empty()) {
        text += ", layer " + object.layer;
    }
    return text;
}

} // namespace bichrom
