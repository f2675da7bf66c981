#include "core/artwork/mupdf/colourants.h"

#include "core/artwork/text_encoding.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <cstring>

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

void ink_tints(fz_colorspace *space, const float *value, std::array<float, FZ_MAX_COLORS> &tints)
{
    const fz_colorspace *base = base_space(space);
    if (space->type == FZ_COLORSPACE_INDEXED) {
        const int index =
            std::clamp(static_cast<int>(std::lround(value[0] * 255.0f)), 0, space->u.indexed.high);
        for (int i = 0; i < base->n; ++i) {
            tints[static_cast<std::size_t>(i)] =
                static_cast<float>(space->u.indexed.lookup[index * base->n + i]) / 255.0f;
        }
        return;
    }
    for (int i = 0; i < base->n; ++i) {
        tints[static_cast<std::size_t>(i)] = std::clamp(value[i], 0.0f, 1.0f);
    }
}

Outcome<std::shared_ptr<const PageColours>>
PageColours::make(const ColourSettings &settings, const std::vector<std::vector<std::byte>> &embedded,
                  std::vector<std::string> &warnings)
{
    std::shared_ptr<PageColours> made(new PageColours());
    const auto condition = condition_of(settings);
    if (!condition) {
        return condition.error();
    }
    made->m_condition = *condition;
    if (settings.untagged_rgb != nullptr) {
        const auto rgb = SourceProfile::open(*settings.untagged_rgb, 3, made->m_condition);
        if (!rgb) {
            return rgb.error();
        }
        made->m_assumed_rgb = *rgb;
    }
    made->m_convert_cmyk = settings.convert_cmyk;
    for (const std::vector<std::byte> &icc : embedded) {
        auto source = SourceProfile::open(icc, 0, made->m_condition);
        if (source) {
            made->m_embedded.push_back(*source);
        } else {
            made->m_embedded.push_back(nullptr);
            warnings.push_back("An embedded colour profile cannot be used: " + source.error().reason +
                               " Its colours are read as if they had none.");
        }
    }
    return std::shared_ptr<const PageColours>(std::move(made));
}

int PageColours::profile_number(fz_context *ctx, fz_colorspace *space) const
{
    if (space == nullptr || space->type != FZ_COLORSPACE_SEPARATION) {
        return -1;
    }
    const char *name = fz_colorspace_colorant(ctx, space, 0);
    const std::size_t length = std::strlen(profiled_prefix);
    if (name == nullptr || std::strncmp(name, profiled_prefix, length) != 0) {
        return -1;
    }
    const int number = std::atoi(name + length);
    return number >= 0 && number < static_cast<int>(m_embedded.size()) ? number : -1;
}

bool PageColours::names_inks(fz_context *ctx, fz_colorspace *space) const
{
    fz_colorspace *base = base_space(space);
    return base != nullptr && base->type == FZ_COLORSPACE_SEPARATION && profile_number(ctx, base) < 0;
}

const SourceProfile *PageColours::source_of(fz_context *ctx, fz_colorspace *space) const
{
    if (space == nullptr) {
        return nullptr;
    }
    if (space->type == FZ_COLORSPACE_RGB) {
        return m_assumed_rgb.get();
    }
    const int number = profile_number(ctx, space);
    const SourceProfile *source = number < 0 ? nullptr : m_embedded[static_cast<std::size_t>(number)].get();
    if (source == nullptr || source->components() != space->n ||
        (source->components() == 4 && !m_convert_cmyk)) {
        return nullptr;
    }
    return source;
}

int PageColours::device_channels(fz_context *ctx, fz_colorspace *space) const
{
    return space == nullptr || names_inks(ctx, space) ? 0 : base_space(space)->n;
}

std::string PageColours::space_name(fz_context *ctx, fz_colorspace *space) const
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
        if (profile_number(ctx, space) >= 0) {
            return "ICCBased";
        }
        return space->n == 1 ? "Separation" : "DeviceN";
    default:
        return "Unknown";
    }
}

std::string PageColours::profile_name(fz_context *ctx, fz_colorspace *space) const
{
    const int number = profile_number(ctx, base_space(space));
    const SourceProfile *source = number < 0 ? nullptr : m_embedded[static_cast<std::size_t>(number)].get();
    return source != nullptr ? source->name() : std::string();
}

std::vector<std::string> PageColours::colorant_names(fz_context *ctx, fz_colorspace *space) const
{
    fz_colorspace *base = base_space(space);
    if (base == nullptr) {
        return {};
    }
    if (base->type == FZ_COLORSPACE_LAB) {
        return {"L*", "a*", "b*"};
    }
    if (!names_inks(ctx, base)) {
        switch (base->n) {
        case 1:
            return {"Gray"};
        case 3:
            return {"Red", "Green", "Blue"};
        default:
            return {process_names.begin(), process_names.end()};
        }
    }
    std::vector<std::string> names;
    for (int i = 0; i < base->n; ++i) {
        const char *name = fz_colorspace_colorant(ctx, base, i);
        names.push_back(valid_utf8(name != nullptr ? name : ""));
    }
    return names;
}

AlternateColour PageColours::alternate(fz_context *ctx, fz_colorspace *space, const float *value) const
{
    float current[FZ_MAX_COLORS] = {};
    std::copy(value, value + std::min(space->n, int(FZ_MAX_COLORS)), current);
    const SourceProfile *source = nullptr;
    // Spaces nest at most Indexed → DeviceN → process; the limit guards against a broken chain.
    for (int step = 0; step < 4; ++step) {
        source = source_of(ctx, space);
        if (source != nullptr) {
            break;
        }
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
    if (source != nullptr) {
        out.model = AlternateColour::Model::Profiled;
        out.source = source;
    } else {
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
    }
    std::copy(current, current + 4, out.value.begin());
    if (out.model != AlternateColour::Model::CieLab &&
        (source == nullptr || source->model() != SourceProfile::Model::CieLab)) {
        for (float &v : out.value) {
            v = std::clamp(v, 0.0f, 1.0f);
        }
    }
    return out;
}

FoundColour PageColours::found(fz_context *ctx, fz_colorspace *space, const float *value) const
{
    AlternateColour resolved; // first, since it may throw MuPDF's way over destructors
    if (value != nullptr && space != nullptr) {
        resolved = alternate(ctx, space, value);
    }
    FoundColour found;
    found.colour.space = space_name(ctx, space);
    found.colour.profile = profile_name(ctx, space);
    found.colour.colorants = colorant_names(ctx, space);
    fz_colorspace *base = base_space(space);
    if (base == nullptr) {
        return found;
    }
    if (value != nullptr) {
        found.colour.values.assign(value, value + space->n);
        found.appearance = to_lab(resolved);
        found.build = to_cmyk(resolved);
    }
    if (names_inks(ctx, base)) {
        std::array<float, FZ_MAX_COLORS> tints;
        tints.fill(1.0f);
        if (value != nullptr) {
            ink_tints(space, value, tints);
        }
        for (std::size_t i = 0; i < found.colour.colorants.size(); ++i) {
            const std::string &ink = found.colour.colorants[i];
            if (ink != "None" && !ink.empty() && tints[i] > 0.0f) {
                found.inks.push_back({ink, tints[i]});
            }
        }
    } else {
        const Cmyk build = value != nullptr ? found.build
                           : base->n == 1   ? Cmyk{0, 0, 0, 1}
                                            : Cmyk{1, 1, 1, 1};
        for (std::size_t i = 0; i < 4; ++i) {
            if (std::lround(build[i] * 255.0f) > 0) {
                found.inks.push_back({process_names[i], build[i]});
            }
        }
    }
    return found;
}

Cmyk PageColours::to_cmyk(const AlternateColour &colour) const
{
    const auto &v = colour.value;
    switch (colour.model) {
    case AlternateColour::Model::Gray:
        return {0, 0, 0, 1.0f - v[0]}; // grey stays black only
    case AlternateColour::Model::Rgb:
        return m_condition->from_rgb({v[0], v[1], v[2]});
    case AlternateColour::Model::CieLab:
        return m_condition->from_lab(
            {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])});
    case AlternateColour::Model::Profiled:
        return colour.source->to_cmyk(v.data());
    case AlternateColour::Model::Process:
        break;
    }
    return {v[0], v[1], v[2], v[3]};
}

Lab PageColours::to_lab(const AlternateColour &colour) const
{
    const auto &v = colour.value;
    switch (colour.model) {
    case AlternateColour::Model::Rgb:
        return m_condition->rgb_to_lab(to_rgb(colour));
    case AlternateColour::Model::CieLab:
        return {static_cast<double>(v[0]), static_cast<double>(v[1]), static_cast<double>(v[2])};
    case AlternateColour::Model::Profiled:
        return colour.source->to_lab(v.data());
    default:
        return m_condition->to_lab(to_cmyk(colour));
    }
}

Rgb8 PageColours::to_rgb(const AlternateColour &colour) const
{
    const auto &v = colour.value;
    const auto byte = [](float x) { return static_cast<std::uint8_t>(std::lround(x * 255.0f)); };
    switch (colour.model) {
    case AlternateColour::Model::Rgb:
        return {byte(v[0]), byte(v[1]), byte(v[2])};
    case AlternateColour::Model::CieLab:
        return m_condition->lab_to_rgb(to_lab(colour));
    case AlternateColour::Model::Profiled:
        return colour.source->to_rgb(v.data());
    default:
        return m_condition->to_rgb(to_cmyk(colour));
    }
}

} // namespace bichrom
