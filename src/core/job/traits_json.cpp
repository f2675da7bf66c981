#include "core/job/traits_json.h"

#include <nlohmann/json.hpp>

#include <algorithm>

namespace bichrom {

using nlohmann::json;

json curve_to_json(const ToneCurve &curve)
{
    json points = json::array();
    for (const CurvePoint &point : curve.points()) {
        points.push_back({point.in, point.out});
    }
    return points;
}

Outcome<ToneCurve> curve_from_json(const json &entries)
{
    std::vector<CurvePoint> points;
    for (const json &point : entries) {
        points.push_back({point.at(0).get<double>(), point.at(1).get<double>()});
    }
    return ToneCurve::through(std::move(points));
}

json traits_to_json(const InkTraits &traits)
{
    json entry = {{"opacity", traits.opacity}, {"gain", curve_to_json(traits.gain)}};
    if (traits.reflectance) {
        entry["reflectance"] = *traits.reflectance;
    }
    if (traits.shown_as) {
        entry["shown_as_lab"] = {traits.shown_as->l, traits.shown_as->a, traits.shown_as->b};
    }
    if (traits.density) {
        entry["density"] = *traits.density;
    }
    return entry;
}

Outcome<InkTraits> traits_from_json(const json &entry)
{
    InkTraits traits;
    traits.opacity = entry.at("opacity").get<double>();
    auto gain = curve_from_json(entry.at("gain"));
    if (!gain || !(traits.opacity >= 0 && traits.opacity <= 1)) {
        return Error{ErrorCode::WrongFormat, "an ink has an impossible opacity or tone curve", {}, {}};
    }
    traits.gain = std::move(*gain);
    if (entry.contains("reflectance")) {
        traits.reflectance = entry["reflectance"].get<Spectrum>();
    }
    if (entry.contains("shown_as_lab")) {
        const auto lab = entry["shown_as_lab"].get<std::array<double, 3>>();
        traits.shown_as = Lab{lab[0], lab[1], lab[2]};
    }
    if (entry.contains("density")) {
        traits.density = entry["density"].get<double>();
        if (!(*traits.density >= -1 && *traits.density <= 10)) {
            return Error{ErrorCode::WrongFormat, "an ink has an impossible density", {}, {}};
        }
    }
    return traits;
}

} // namespace bichrom
