#include "core/artwork/object_filter.h"

#include "core/artwork/found_colours.h"

#include <algorithm>

namespace bichrom {

bool names_ink(const SceneObject &object, const std::string &ink)
{
    const ColourUse &colour = object.colour;
    const bool is_process = process_channel(ink) >= 0;
    for (std::size_t i = 0; i < colour.colorants.size(); ++i) {
        if (colour.colorants[i] == ink) {
            return i >= colour.values.size() || colour.values[i] > 0;
        }
    }
    const bool grey = colour.colorants.size() == 1 && colour.colorants[0] == "Gray";
    if (grey) {
        return ink == "Black" && (colour.values.empty() || colour.values[0] < 1.0f);
    }
    const bool unready = colour.space.find("RGB") != std::string::npos ||
                         colour.space.find("Lab") != std::string::npos || colour.colorants.size() == 3;
    const bool names_spots = colour.space.find("Separation") != std::string::npos ||
                             colour.space.find("DeviceN") != std::string::npos;
    return is_process && unready && !names_spots;
}

namespace {

std::string lower(std::string text)
{
    for (char &letter : text) {
        letter = letter >= 'A' && letter <= 'Z' ? static_cast<char>(letter - 'A' + 'a') : letter;
    }
    return text;
}

bool says(const SceneObject &object, const std::vector<std::string> &words)
{
    std::string all = describe(object) + '\n' + object.layer + '\n' + object.text;
    for (const TextRun &run : object.runs) {
        all += '\n' + run.text + '\n' + run.font;
    }
    all = lower(std::move(all));
    return std::all_of(words.begin(), words.end(),
                       [&](const std::string &word) { return all.find(lower(word)) != std::string::npos; });
}

} // namespace

bool matches(const SceneObject &object, const ObjectFilter &filter)
{
    const double longer = to_millimetres(Points(std::max(object.bounds.width, object.bounds.height))).value;
    return (!filter.kind || object.kind == *filter.kind) &&
           (filter.ink.empty() || names_ink(object, filter.ink)) &&
           (!filter.layer || object.layer == *filter.layer) &&
           (!filter.overprint || object.overprint == *filter.overprint) &&
           (!filter.smaller_than || longer < filter.smaller_than->value) &&
           (!filter.larger_than || longer > filter.larger_than->value) &&
           (filter.colour.empty() || describe(object.colour) == filter.colour) &&
           (filter.words.empty() || says(object, filter.words));
}

std::vector<int> find_objects(const Scene &scene, const ObjectFilter &filter)
{
    std::vector<int> found;
    for (const SceneObject &object : scene.objects) {
        if (matches(object, filter)) {
            found.push_back(object.index);
        }
    }
    return found;
}

} // namespace bichrom
