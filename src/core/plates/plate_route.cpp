#include "core/plates/plate_route.h"

#include "core/artwork/mupdf/colourants.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

namespace bichrom {

namespace {

constexpr int no_plane = -1;   ///< None, or an ink that is not printed
constexpr int all_planes = -2; ///< the colourant All
constexpr std::uint32_t base_mask = 0xF;

/// The tint transform of a plane space: MuPDF asks for it when pixels hold process inks.
/// \p tint carries the set of planes; spots find their planes by name without it.
void process_part(fz_context *, void *tint, const float *in, int in_count, float *out, int out_count)
{
    std::fill(out, out + out_count, 0.0f);
    const auto planes = static_cast<std::uint32_t>(reinterpret_cast<std::uintptr_t>(tint));
    int component = 0;
    for (int plane = 0; plane < base_planes && component < in_count; ++plane) {
        if ((planes >> plane & 1) != 0) {
            out[plane] = in[component++];
        }
    }
}

void no_drop(fz_context *, void *) {}

/// MuPDF cuts value × 255 down to a whole number; this makes it the nearest one.
float exact_byte(float value)
{
    return (std::round(std::clamp(value, 0.0f, 1.0f) * 255.0f) + 0.25f) / 255.0f;
}

} // namespace

std::string plane_name(int plane)
{
    return plane < base_planes ? process_names[static_cast<std::size_t>(plane)]
                               : "plane " + std::to_string(plane);
}

PlateRoute::PlateRoute(const std::vector<std::string> &spots, bool process, const PageColours &colours,
                       bool honour_overprint)
    : m_process(process), m_honour_overprint(honour_overprint),
      m_planes((process ? base_planes : 0) + static_cast<int>(spots.size())), m_colours(colours)
{
    if (process) {
        for (std::size_t i = 0; i < process_names.size(); ++i) {
            m_plane_of[process_names[i]] = static_cast<int>(i);
        }
    }
    for (std::size_t i = 0; i < spots.size(); ++i) {
        m_plane_of[spots[i]] = (process ? base_planes : 0) + static_cast<int>(i);
    }
}

void PlateRoute::release(fz_context *ctx)
{
    for (auto &[mask, space] : m_spaces) {
        fz_drop_colorspace(ctx, space);
    }
    for (auto &[space, planes] : m_colorants) {
        fz_drop_colorspace(ctx, space);
    }
    m_spaces.clear();
    m_colorants.clear();
}

fz_colorspace *PlateRoute::plane_space(fz_context *ctx, std::uint32_t planes)
{
    if (const auto found = m_spaces.find(planes); found != m_spaces.end()) {
        return found->second;
    }
    fz_colorspace *space = fz_new_colorspace(ctx, FZ_COLORSPACE_SEPARATION,
                                             (planes & base_mask) != 0 ? FZ_COLORSPACE_HAS_CMYK_AND_SPOTS
                                                                       : FZ_COLORSPACE_HAS_SPOTS,
                                             std::popcount(planes), "plates");
    space->u.separation.base = fz_keep_colorspace(ctx, fz_device_cmyk(ctx));
    space->u.separation.eval = process_part;
    space->u.separation.tint = reinterpret_cast<void *>(static_cast<std::uintptr_t>(planes));
    space->u.separation.drop = no_drop;
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((planes >> plane & 1) != 0) {
            fz_colorspace_name_colorant(ctx, space, component++, plane_name(plane).c_str());
        }
    }
    m_spaces[planes] = space;
    return space;
}

const std::vector<int> &PlateRoute::colorant_planes(fz_context *ctx, fz_colorspace *space)
{
    if (const auto found = m_colorants.find(space); found != m_colorants.end()) {
        return found->second;
    }
    std::vector<int> planes;
    for (const std::string &name : m_colours.colorant_names(ctx, space)) {
        const auto plane = m_plane_of.find(name);
        planes.push_back(name == "All" ? all_planes : plane == m_plane_of.end() ? no_plane : plane->second);
    }
    return m_colorants[fz_keep_colorspace(ctx, space)] = std::move(planes);
}

std::uint32_t PlateRoute::painted_planes(fz_context *ctx, fz_colorspace *space)
{
    fz_colorspace *base = base_space(space);
    if (!m_colours.names_inks(ctx, base)) {
        return m_process ? base_mask : 0;
    }
    std::uint32_t painted = 0;
    for (const int plane : colorant_planes(ctx, base)) {
        if (plane == all_planes) {
            return static_cast<std::uint32_t>((std::uint64_t(1) << m_planes) - 1);
        }
        if (plane != no_plane) {
            painted |= std::uint32_t(1) << plane;
        }
    }
    return painted;
}

std::uint32_t PlateRoute::resolve(fz_context *ctx, fz_colorspace *space, const float *value,
                                  int overprint_mode, Values &planes)
{
    planes.fill(0.0f);
    fz_colorspace *base = base_space(space);
    if (!m_colours.names_inks(ctx, base)) {
        if (!m_process) {
            return 0;
        }
        const Cmyk cmyk = m_colours.to_cmyk(m_colours.alternate(ctx, space, value));
        std::uint32_t painted = base_mask;
        for (std::size_t i = 0; i < 4; ++i) {
            planes[i] = cmyk[i];
            // OPM 1 holds for DeviceCMYK written directly, not through Indexed (ISO 32000-1, 11.7.4.3).
            if (overprint_mode == 1 && space->type == FZ_COLORSPACE_CMYK && value[i] <= 0.0f) {
                painted &= ~(std::uint32_t(1) << i);
            }
        }
        return painted;
    }
    float looked_up[FZ_MAX_COLORS] = {};
    const float *tints = value;
    if (space->type == FZ_COLORSPACE_INDEXED) {
        const int index =
            std::clamp(static_cast<int>(std::lround(value[0] * 255.0f)), 0, space->u.indexed.high);
        for (int i = 0; i < base->n; ++i) {
            looked_up[i] = static_cast<float>(space->u.indexed.lookup[index * base->n + i]) / 255.0f;
        }
        tints = looked_up;
    }
    const std::vector<int> &targets = colorant_planes(ctx, base);
    for (int i = 0; i < base->n; ++i) {
        const int plane = targets[static_cast<std::size_t>(i)];
        const float tint = std::clamp(tints[i], 0.0f, 1.0f);
        if (plane == all_planes) {
            std::fill(planes.begin(), planes.begin() + m_planes, tint);
        } else if (plane != no_plane) {
            planes[static_cast<std::size_t>(plane)] = tint;
        }
    }
    return painted_planes(ctx, base);
}

void PlateRoute::colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params params,
                        bool solid_colour, RoutedColour &out)
{
    Values planes;
    const int mode = params.op != 0 && solid_colour ? params.opm : 0;
    std::uint32_t painted = resolve(ctx, space, value, mode, planes);
    out.overprint = params.op != 0;
    if (painted == 0 && !out.overprint && !m_process && !m_colours.names_inks(ctx, space)) {
        painted = 1; // process colour where no process plate is: it knocks out, with no ink in any plane
    }
    if (painted == 0) {
        out.paints = false; // None, or zero everywhere under OPM 1
        return;
    }
    if (!out.overprint) {
        // Everything else is knocked out anyway; naming only what holds ink is cheaper.
        std::uint32_t inked = 0;
        for (int plane = 0; plane < m_planes; ++plane) {
            if (planes[static_cast<std::size_t>(plane)] > 0.0f) {
                inked |= std::uint32_t(1) << plane;
            }
        }
        painted = inked != 0 ? inked : painted;
    }
    out.space = plane_space(ctx, painted);
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((painted >> plane & 1) != 0) {
            out.value[component++] = exact_byte(planes[static_cast<std::size_t>(plane)]);
        }
    }
}

std::uint32_t PlateRoute::target_planes(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    if (m_process && !overprint && base_space(space)->type == FZ_COLORSPACE_GRAY) {
        return 1u << 3; // the other process inks are knocked out without being named
    }
    return painted_planes(ctx, space);
}

fz_colorspace *PlateRoute::target_space(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    const std::uint32_t painted = target_planes(ctx, space, overprint);
    // All process inks and nothing else: MuPDF's own space is the fastest.
    return painted == 0 ? nullptr : painted == base_mask ? fz_device_cmyk(ctx) : plane_space(ctx, painted);
}

void PlateRoute::components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                            float *out)
{
    Values planes;
    (void)resolve(ctx, space, value, 0, planes);
    const std::uint32_t painted = target_planes(ctx, space, overprint);
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((painted >> plane & 1) != 0) {
            out[component++] = planes[static_cast<std::size_t>(plane)];
        }
    }
}

fz_pixmap *PlateRoute::pixels(fz_context *ctx, fz_pixmap *source, bool overprint)
{
    fz_colorspace *space = source->colorspace;
    fz_colorspace *target = target_space(ctx, space, overprint);
    const int alpha = source->alpha;
    const int in = source->n - alpha;
    const int out = target->n;
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, alpha);
    const auto width = static_cast<std::size_t>(source->w);
    const SourceProfile *profile = m_colours.source_of(ctx, space);
    const bool names_inks = m_colours.names_inks(ctx, space);
    const bool is_lab = space->type == FZ_COLORSPACE_LAB;
    const bool through_profile = profile != nullptr || is_lab || (!names_inks && in == 3);
    unsigned char *colours = nullptr;
    unsigned char *cmyk = nullptr;
    fz_var(colours);
    fz_var(cmyk);
    fz_try(ctx)
    {
        if (through_profile) {
            colours = static_cast<unsigned char *>(fz_malloc(ctx, width * 4));
            cmyk = static_cast<unsigned char *>(fz_malloc(ctx, width * 4));
        }
    }
    fz_catch(ctx)
    {
        fz_free(ctx, colours);
        fz_drop_pixmap(ctx, result);
        fz_rethrow(ctx);
    }
    // Which target component each source component feeds; no_plane drops it.
    int feeds[FZ_MAX_COLORS];
    std::fill(std::begin(feeds), std::end(feeds), no_plane);
    int all_from = no_plane;
    if (names_inks) {
        const std::uint32_t painted = painted_planes(ctx, space);
        const std::vector<int> &planes = colorant_planes(ctx, space);
        for (int i = 0; i < in; ++i) {
            const int plane = planes[static_cast<std::size_t>(i)];
            if (plane == all_planes) {
                all_from = i;
            } else if (plane != no_plane) {
                feeds[i] = std::popcount(painted & ((std::uint32_t(1) << plane) - 1));
            }
        }
    }
    for (int y = 0; y < source->h; ++y) {
        const unsigned char *from = source->samples + y * source->stride;
        unsigned char *to = result->samples + y * result->stride;
        if (through_profile) {
            const auto channels = static_cast<std::size_t>(in);
            for (std::size_t x = 0; x < width; ++x) {
                const unsigned char *p = from + x * static_cast<std::size_t>(source->n);
                std::copy(p, p + channels, colours + x * channels);
            }
            if (space->type == FZ_COLORSPACE_BGR) {
                for (std::size_t x = 0; x < width; ++x) {
                    std::swap(colours[x * 3], colours[x * 3 + 2]);
                }
            }
            if (profile != nullptr) {
                profile->pixels_to_cmyk(colours, cmyk, width);
            } else if (is_lab) {
                m_colours.condition().lab_pixels_to_cmyk(colours, cmyk, width);
            } else {
                m_colours.condition().rgb_pixels_to_cmyk(colours, cmyk, width);
            }
        }
        for (std::size_t x = 0; x < width; ++x, from += source->n, to += result->n) {
            if (through_profile) {
                std::copy(cmyk + x * 4, cmyk + x * 4 + 4, to);
            } else if (!names_inks && in == 1) {
                std::fill(to, to + out, static_cast<unsigned char>(0));
                to[out - 1] = static_cast<unsigned char>(255 - from[0]);
            } else if (!names_inks) {
                std::copy(from, from + 4, to);
            } else if (all_from != no_plane) {
                std::fill(to, to + out, from[all_from]);
            } else {
                for (int i = 0; i < in; ++i) {
                    if (feeds[i] != no_plane) {
                        to[feeds[i]] = from[i];
                    }
                }
            }
            if (alpha != 0) {
                to[out] = from[in];
                if (from[in] == 0) {
                    std::fill(to, to + out, static_cast<unsigned char>(0)); // premultiplied
                }
            }
        }
    }
    fz_free(ctx, colours);
    fz_free(ctx, cmyk);
    return result;
}

} // namespace bichrom
