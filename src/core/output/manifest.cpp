#include "core/output/output_set.h"

#include "core/base/rounded.h"
#include <nlohmann/json.hpp>

namespace bichrom {

std::string manifest_to_json(const Manifest &manifest)
{
    using json = nlohmann::ordered_json;
    json plates = json::array();
    for (const WrittenPlate &plate : manifest.plates) {
        json entry = {{"ink", plate.ink},
                      {"kind", to_string(plate.kind)},
                      {"file", plate.file},
                      {"dpi", plate.resolution.value},
                      {"width_px", plate.width},
                      {"height_px", plate.height},
                      {"coverage", rounded(plate.coverage, 6)}};
        if (manifest.screened) {
            entry["screen"] = to_string(plate.screen.kind);
        }
        if (manifest.screened && has_lattice(plate.screen)) {
            entry["lpi"] = plate.screen.ruling.value;
            entry["angle"] = plate.screen.angle.value;
            entry["dot"] = to_string(plate.screen.dot);
        } else {
            entry["lpi"] = nullptr;
            entry["angle"] = nullptr;
            entry["dot"] = nullptr;
        }
        entry["order"] = plate.order;
        if (plate.shares) {
            entry["sheet"] = plate.sheet;
            entry["turned"] = plate.turned;
            entry["x_mm"] = rounded(plate.x_mm, 4);
            entry["y_mm"] = rounded(plate.y_mm, 4);
        }
        plates.push_back(std::move(entry));
    }
    json root = {{"source", manifest.source},
                 {"page", manifest.page},
                 {"width_mm", rounded(manifest.width.value, 4)},
                 {"height_mm", rounded(manifest.height.value, 4)},
                 {"plates", plates}};
    if (manifest.scale != 1) {
        root["scale"] = manifest.scale;
    }
    if (manifest.across != 1 || manifest.along != 1) {
        root["stretched"] = {{"along", manifest.along}, {"across", manifest.across}};
    }
    if (manifest.columns != 1 || manifest.rows != 1) {
        root["copies"] = {manifest.columns, manifest.rows};
    }
    if (!manifest.blank.empty()) {
        root["blank"] = manifest.blank;
    }
    if (!manifest.damage.empty()) {
        root["damage"] = manifest.damage;
    }
    if (!manifest.earlier.empty()) {
        root["earlier"] = manifest.earlier;
    }
    return root.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

} // namespace bichrom
