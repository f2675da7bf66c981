#include "core/artwork/mupdf/colourants.h"

#include "core/artwork/text_encoding.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

int process_index(const std::string &name)
{
    for (std::size_t i = 0; i < process_names.size(); ++i) {
        if (name == process_names[i]) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

fz_colorspace *base_space(fz_colorspace *space)
{
    while (space != nullptr && space->type == FZ_COLORSPACE_INDEXED) {
        space = space->u.indexed.base;
    }
    return space;
}

std::string space_name(fz_context *ctx, fz_colorspace *space)
{
    if (space == nullptr) {
        return "None";
    }
    switch (space->type) {
    case FZ_COLORSPACE_GRAY:
        return "DeviceGray";
    case FZ_COLORSPACE_RGB:
    case FZ_COLORSPACE_BGR:
        return "DeviceRGB";
    case FZ_COLORSPACE_CMYK:
        return "DeviceCMYK";
    case FZ_COLORSPACE_LAB:
        return "Lab";
    case FZ_COLORSPACE_INDEXED:
        return "Indexed " + space_name(ctx, space->u.indexed.base);
    case FZ_COLORSPACE_SEPARATION:
        return space->n == 1 ? "Separation" : "DeviceN";
    default:
        return "Unknown";
    }
}

std::vector<std::string> colorant_names(fz_context *ctx, fz_colorspace *space)
{
    fz_colorspace *base = base_space(space);
    if (base == nullptr) {
        return {};
    }
    switch (base->type) {
    case FZ_COLORSPACE_GRAY:
        return {"Gray"};
    case FZ_COLORSPACE_RGB:
    case FZ_COLORSPACE_BGR:
        return {"Red", "Green", "Blue"};
    case FZ_COLORSPACE_CMYK:
        return {process_names.begin(), process_names.end()};
    case FZ_COLORSPACE_LAB:
        return {"L*", "a*", "b*"};
    default:
        break;
    }
    std::vector<std::string> names;
    for (int i = 0; i < base->n; ++i) {
        const char *name =
            base->type == FZ_COLORSPACE_SEPARATION ? fz_colorspace_colorant(ctx, base, i) : nullptr;
        names.push_back(valid_utf8(name != nullptr ? name : ""));
    }
    return names;
}

AlternateColour alternate_colour(fz_context *ctx, fz_colorspace *space, const float *value)
{
    float current[FZ_MAX_COLORS] = {};
    std::copy(value, value + std::min(space->n, int(FZ_MAX_COLORS)), current);
    // Spaces nest at most Indexed → DeviceN → process; the limit guards against a broken chain.
    for (int step = 0; step < 4; ++step) {
        float next[FZ_MAX_COLORS] = {};
        if (space->type == FZ_COLORSPACE_INDEXED) {
            fz_colorspace *base = space->u.indexed.base;
            const int index =
                std::clamp(static_cast<int>(std::lround(current[0] * 255.0f)), 0, space->u.indexed.high);
            for (int i = 0; i < base->n; ++i) {
                next[i] = static_cast<float>(space->u.indexed.lookup[index * base->n + i]) / 255.0f;
            }
            if (base->type == FZ_COLORSPACE_LAB) {
                next[0] *= 100.0f;
                next[1] = next[1] * 255.0f - 128.0f;
                next[2] = next[2] * 255.0f - 128.0f;
            }
            space = base;
        } else if (space->type == FZ_COLORSPACE_SEPARATION) {
            fz_colorspace *base = space->u.separation.base;
            space->u.separation.eval(ctx, space->u.separation.tint, current, space->n, next, base->n);
            space = base;
        } else {
            break;
        }
        std::copy(std::begin(next), std::end(next), std::begin(current));
    }
    AlternateColour out;
    switch (space->type) {
    case FZ_COLORSPACE_RGB:
        out.model = AlternateColour::Model::Rgb;
        break;
    case FZ_COLORSPACE_BGR:
        out.model = AlternateColour::Model::Rgb;
        std::swap(current[0], current[2]);
        break;
    case FZ_COLORSPACE_CMYK:
        out.model = AlternateColour::Model::Process;
        break;
    case FZ_COLORSPACE_LAB:
        out.model = AlternateColour::Model::CieLab;
        break;
    default:
        out.model = AlternateColour::Model::Gray;
        break;
    }
    std::copy(current, current + 4, out.value.begin());
    if (out.model != AlternateColour::Model::CieLab) {
        for (float &v : out.value) {
            v = std::clamp(v, 0.0f, 1.0f);
        }
    }
    return out;
}

Cmyk to_cmyk(const AlternateColour &colour, const ProcessProfile &profile)
{
    const auto &v = colour.value;
    switch (colour.model) {
    case AlternateColour::Model::Gray:
        return {0, 0, 0, 1.0f - v[0]}; // grey stays black only
    case AlternateColour::Model::Rgb:
        return profile.from_rgb({v[0], v[1], v[2]});
    case AlternateColour::Model::CieLab:
        return profile.from_lab(
            {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])});
    case AlternateColour::Model::Process:
        break;
    }
    return {v[0], v[1], v[2], v[3]};
}

Lab to_lab(const AlternateColour &colour, const ProcessProfile &profile)
{
    const auto &v = colour.value;
    switch (colour.model) {
    case AlternateColour::Model::Rgb:
        return profile.rgb_to_lab(to_rgb(colour, profile));
    case AlternateColour::Model::CieLab:
        return {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])};
    default:
        return profile.to_lab(to_cmyk(colour, profile));
    }
}

Rgb8 to_rgb(const AlternateColour &colour, const ProcessProfile &profile)
{
    const auto &v = colour.value;
    const auto byte = [](float x) { return static_cast<std::uint8_t>(std::lround(x * 255.0f)); };
    switch (colour.model) {
    case AlternateColour::Model::Rgb:
        return {byte(v[0]), byte(v[1]), byte(v[2])};
    case AlternateColour::Model::CieLab:
        return profile.lab_to_rgb(to_lab(colour, profile));
    default:
        return profile.to_rgb(to_cmyk(colour, profile));
    }
}

} // namespace bichrom
