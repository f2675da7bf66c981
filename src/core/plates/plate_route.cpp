#include "core/plates/plate_route.h"

#include "core/artwork/text_encoding.h"
#include "core/plates/picture_rows.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

namespace bichrom {

namespace {

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

PlateRoute::PlateRoute(const PlateSetup &setup, const std::vector<std::string> &spots, bool process,
                       const PageColours &colours, PageMemory &memory)
    : m_setup(setup), m_process(process),
      m_planes((process ? base_planes : 0) + static_cast<int>(spots.size())), m_colours(colours),
      m_memory(memory)
{
    if (process) {
        for (std::size_t i = 0; i < process_names.size(); ++i) {
            m_plane_of[process_names[i]] = static_cast<int>(i);
        }
    }
    for (std::size_t i = 0; i < spots.size(); ++i) {
        const int plane = (process ? base_planes : 0) + static_cast<int>(i);
        m_plane_of[spots[i]] = plane;
        if (spots[i] == lost_ink) {
            m_lost_plane = plane;
        }
    }
    for (const std::string &ink : setup.inks) {
        if (const auto plane = m_plane_of.find(ink); plane != m_plane_of.end()) {
            m_printed |= Planes(1) << plane->second;
        }
    }
    for (std::size_t i = setup.routes.size(); i-- > 0;) { // backwards: the first one stays
        const Route &route = setup.routes[i];
        const int number = static_cast<int>(i);
        if (route.by == RouteBy::Layer) {
            m_layer_routes[{route.artwork, route.name}] = number;
        }
        for (const ObjectMark &mark : route.objects) {
            if (route.by == RouteBy::Objects && mark.page == setup.page) {
                m_object_routes[{route.artwork, mark.index}] = number;
            }
        }
        m_routes_by_colour =
            m_routes_by_colour || route.by == RouteBy::Colour || route.by == RouteBy::Similar;
    }
}

void PlateRoute::release(fz_context *ctx)
{
    for (auto &[mask, space] : m_spaces) {
        fz_drop_colorspace(ctx, space);
    }
    for (auto &[key, mapping] : m_mappings) {
        fz_drop_colorspace(ctx, key.second);
    }
    m_spaces.clear();
    m_mappings.clear();
}

fz_colorspace *PlateRoute::plane_space(fz_context *ctx, Planes planes)
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

bool PlateRoute::prints_elsewhere(const std::string &ink) const
{
    return m_plane_of.find(ink) == m_plane_of.end() &&
           std::find(m_setup.inks.begin(), m_setup.inks.end(), ink) != m_setup.inks.end();
}

PlateRoute::Planes PlateRoute::every_plane() const
{
    const auto all = static_cast<Planes>((std::uint64_t(1) << m_planes) - 1);
    return m_lost_plane < 0 ? all : all & ~(Planes(1) << m_lost_plane);
}

bool PlateRoute::are_identity(const std::vector<Table> &tables)
{
    return std::all_of(tables.begin(), tables.end(), [](const Table &table) {
        for (std::size_t i = 0; i < table.tone.size(); ++i) {
            if (table.tone[i] != i) {
                return false;
            }
        }
        return table.from == table.to;
    });
}

// What inks do ---------------------------------------------------------------------------------

void PlateRoute::feed_targets(const Route &route, std::vector<Feed> &feeds, Mapping &mapping) const
{
    for (const RouteTarget &target : route.targets) {
        const auto plane = m_plane_of.find(target.ink);
        if (plane != m_plane_of.end()) {
            feeds.push_back({target.own_tint ? Feed::Kind::Own : Feed::Kind::Fixed, plane->second,
                             static_cast<float>(target.tint),
                             target.curve.is_identity() ? nullptr : &target.curve});
        } else if (prints_elsewhere(target.ink)) {
            mapping.elsewhere = true;
        }
    }
}

void PlateRoute::feed_build(std::vector<Feed> &feeds) const
{
    for (int plane = 0; plane < base_planes && m_process; ++plane) {
        feeds.push_back({Feed::Kind::Build, plane, 1.0f, nullptr});
    }
}

void PlateRoute::feed_ink(const std::string &ink, std::vector<Feed> &feeds, Mapping &mapping) const
{
    const int number = ink_route(m_setup.routes, ink, m_artwork);
    const Route *route = number < 0 ? nullptr : &m_setup.routes[static_cast<std::size_t>(number)];
    if (route == nullptr || (route->to == RouteTo::Process && process_index(ink) >= 0)) {
        if (const auto plane = m_plane_of.find(ink); plane != m_plane_of.end()) {
            feeds.push_back({Feed::Kind::Own, plane->second, 1.0f, nullptr});
        } else if (prints_elsewhere(ink)) {
            mapping.elsewhere = true;
        }
        return;
    }
    switch (route->to) {
    case RouteTo::Plates:
        feed_targets(*route, feeds, mapping);
        break;
    case RouteTo::Process:
        feed_build(feeds);
        mapping.bare = mapping.bare || !m_process;
        break;
    case RouteTo::BareStock:
        mapping.bare = true;
        break;
    case RouteTo::Nothing:
        mapping.dropped = true;
        break;
    }
}

void PlateRoute::count_planes(Mapping &mapping)
{
    for (const std::vector<Feed> &feeds : mapping.feeds) {
        for (const Feed &feed : feeds) {
            mapping.planes |= Planes(1) << feed.plane;
        }
    }
}

const PlateRoute::Mapping &PlateRoute::mapping_of(fz_context *ctx, fz_colorspace *base)
{
    const bool names_inks = m_colours.names_inks(ctx, base);
    // All spaces that name no inks do the same: one entry, under no space.
    const std::pair key(m_artwork, names_inks ? base : nullptr);
    if (const auto found = m_mappings.find(key); found != m_mappings.end()) {
        return found->second;
    }
    Mapping mapping;
    const std::vector<std::string> names =
        names_inks ? m_colours.colorant_names(ctx, base)
                   : std::vector<std::string>(process_names.begin(), process_names.end());
    mapping.feeds.resize(names.size());
    for (std::size_t i = 0; i < names.size(); ++i) {
        if (names[i] == "All") {
            mapping.all = true;
            mapping.planes = every_plane();
        } else if (names[i] != "None") {
            feed_ink(names[i], mapping.feeds[i], mapping);
        }
    }
    count_planes(mapping);
    fz_keep_colorspace(ctx, key.second);
    return m_mappings[key] = std::move(mapping);
}

float PlateRoute::fed(fz_context *ctx, fz_colorspace *base, int component, float tint, const Feed &feed) const
{
    switch (feed.kind) {
    case Feed::Kind::Own:
        return feed.tint *
               (feed.curve == nullptr ? tint : static_cast<float>(feed.curve->at(static_cast<double>(tint))));
    case Feed::Kind::Fixed:
        return tint > 0.0f ? feed.tint : 0.0f;
    case Feed::Kind::Build:
        break;
    }
    float alone[FZ_MAX_COLORS] = {};
    alone[component] = tint;
    return m_colours.to_cmyk(m_colours.alternate(ctx, base, alone))[static_cast<std::size_t>(feed.plane)];
}

PlateRoute::Planes PlateRoute::resolve(fz_context *ctx, fz_colorspace *space, const float *value,
                                       int overprint_mode, Values &planes)
{
    planes.fill(0.0f);
    fz_colorspace *base = base_space(space);
    const Mapping &mapping = mapping_of(ctx, base);
    Values tints{};
    int count = 4;
    if (m_colours.names_inks(ctx, base)) {
        ink_tints(space, value, tints);
        count = base->n;
    } else {
        const Cmyk cmyk = m_colours.to_cmyk(m_colours.alternate(ctx, space, value));
        std::copy(cmyk.begin(), cmyk.end(), tints.begin());
    }
    if (mapping.all) {
        std::fill(planes.begin(), planes.begin() + m_planes, tints[0]);
        if (m_lost_plane >= 0) {
            planes[static_cast<std::size_t>(m_lost_plane)] = 0.0f;
        }
        return mapping.planes;
    }
    // OPM 1 holds for DeviceCMYK written directly, not through Indexed (ISO 32000-1, 11.7.4.3).
    const bool leaves_zeros = overprint_mode == 1 && space->type == FZ_COLORSPACE_CMYK;
    Planes painted = 0;
    for (int i = 0; i < count; ++i) {
        const float tint = tints[static_cast<std::size_t>(i)];
        for (const Feed &feed : mapping.feeds[static_cast<std::size_t>(i)]) {
            if (leaves_zeros && value[i] <= 0.0f) {
                continue;
            }
            float &plane = planes[static_cast<std::size_t>(feed.plane)];
            plane = std::min(1.0f, plane + fed(ctx, base, i, tint, feed)); // two inks on one plate add up
            painted |= Planes(1) << feed.plane;
        }
    }
    return painted;
}

// What routes by object, layer and colour do ---------------------------------------------------

void PlateRoute::begin_object(const ObjectPlace &place, const std::string &layer)
{
    m_object = place.index;
    m_artwork = place.artwork;
    const auto by_object = m_object_routes.find({place.artwork, place.own_index});
    m_picture_route = by_object == m_object_routes.end() ? -1 : by_object->second;
    if (!m_layer_routes.empty()) {
        const auto by_layer = m_layer_routes.find({place.artwork, layer});
        if (by_layer != m_layer_routes.end() && (m_picture_route < 0 || by_layer->second < m_picture_route)) {
            m_picture_route = by_layer->second;
        }
    }
}

const Route *PlateRoute::picture_route() const
{
    return m_picture_route < 0 ? nullptr : &m_setup.routes[static_cast<std::size_t>(m_picture_route)];
}

const Route *PlateRoute::route_of(fz_context *ctx, fz_colorspace *space, const float *value)
{
    int number = m_picture_route;
    if (m_routes_by_colour) {
        std::string key(reinterpret_cast<const char *>(&space), sizeof space);
        key.append(reinterpret_cast<const char *>(&m_artwork), sizeof m_artwork);
        key.append(reinterpret_cast<const char *>(value), static_cast<std::size_t>(space->n) * sizeof(float));
        const auto [place, is_new] = m_decided.try_emplace(std::move(key), -1);
        if (is_new) {
            FoundColour found = m_colours.found(ctx, space, value);
            found.artwork = m_artwork;
            for (std::size_t i = 0; i < m_setup.routes.size() && place->second < 0; ++i) {
                const Route &route = m_setup.routes[i];
                const bool by_colour = route.by == RouteBy::Colour || route.by == RouteBy::Similar;
                if (by_colour && takes(route, {m_setup.page, -1, {}, &found})) {
                    place->second = static_cast<int>(i);
                }
            }
        }
        if (place->second >= 0 && (number < 0 || place->second < number)) {
            number = place->second;
        }
    }
    return number < 0 ? nullptr : &m_setup.routes[static_cast<std::size_t>(number)];
}

PlateRoute::Planes PlateRoute::resolve_routed(fz_context *ctx, const Route &route, fz_colorspace *space,
                                              const float *value, Values &planes, bool &elsewhere) const
{
    planes.fill(0.0f);
    Planes painted = 0;
    if (route.to == RouteTo::Process && m_process) {
        const Cmyk cmyk = m_colours.to_cmyk(m_colours.alternate(ctx, space, value));
        std::copy(cmyk.begin(), cmyk.end(), planes.begin());
        return base_mask;
    }
    if (route.to != RouteTo::Plates) {
        return 0;
    }
    const float strength = strength_of(ctx, space, value);
    for (const RouteTarget &target : route.targets) {
        if (const auto found = m_plane_of.find(target.ink); found != m_plane_of.end()) {
            float &plane = planes[static_cast<std::size_t>(found->second)];
            const double tone = target.own_tint ? target.curve.at(static_cast<double>(strength)) : 1.0;
            plane = std::min(1.0f, plane + static_cast<float>(tone * target.tint));
            painted |= Planes(1) << found->second;
        } else if (prints_elsewhere(target.ink)) {
            elsewhere = true;
        }
    }
    return painted;
}

float PlateRoute::strength_of(fz_context *ctx, fz_colorspace *space, const float *value) const
{
    fz_colorspace *base = base_space(space);
    if (m_colours.names_inks(ctx, base)) {
        Values tints{};
        ink_tints(space, value, tints);
        return *std::max_element(tints.begin(), tints.begin() + base->n);
    }
    const Cmyk cmyk = m_colours.to_cmyk(m_colours.alternate(ctx, space, value));
    return *std::max_element(cmyk.begin(), cmyk.end());
}

void PlateRoute::colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params params,
                        bool solid_colour, RoutedColour &out)
{
    Values planes;
    Planes painted = 0;
    bool knocks_out = false; // though no plane here gets ink
    bool elsewhere = false;
    bool deliberate = false;
    out.overprint = params.op != 0;
    const Route *route = route_of(ctx, space, value);
    if (route != nullptr) {
        if (route->to == RouteTo::Nothing) {
            out.paints = false;
            return;
        }
        painted = resolve_routed(ctx, *route, space, value, planes, elsewhere);
        deliberate = route->to == RouteTo::BareStock;
        knocks_out = deliberate || elsewhere || route->to == RouteTo::Process;
        out.overprint = out.overprint && !deliberate;
    } else {
        const int mode = params.op != 0 && solid_colour ? params.opm : 0;
        painted = resolve(ctx, space, value, mode, planes);
        const Mapping &mapping = mapping_of(ctx, base_space(space));
        elsewhere = mapping.elsewhere;
        deliberate = mapping.bare || mapping.dropped;
        knocks_out = elsewhere || mapping.bare || !m_colours.names_inks(ctx, space);
    }
    Planes inked = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if (planes[static_cast<std::size_t>(plane)] > 0.0f) {
            inked |= Planes(1) << plane;
        }
    }
    if (m_lost_plane >= 0 && (inked & m_printed) == 0 && !elsewhere && !deliberate &&
        is_lost(ctx, space, value)) {
        planes[static_cast<std::size_t>(m_lost_plane)] = 1.0f;
        inked |= Planes(1) << m_lost_plane;
        out.overprint = out.overprint || painted == 0; // it does not touch what prints
        painted |= Planes(1) << m_lost_plane;
    }
    if (painted == 0 && !out.overprint && knocks_out) {
        painted = 1; // everything else is knocked out, and nothing put into this plane
    }
    if (painted == 0) {
        out.paints = false; // None, or zero everywhere under OPM 1
        return;
    }
    if (!out.overprint && inked != 0) {
        painted = inked; // everything else is knocked out anyway; naming only what holds ink is cheaper
    }
    out.space = plane_space(ctx, painted);
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((painted >> plane & 1) != 0) {
            out.value[component++] = exact_byte(planes[static_cast<std::size_t>(plane)]);
        }
    }
}

bool PlateRoute::is_lost(fz_context *ctx, fz_colorspace *space, const float *value) const
{
    return m_setup.lost == Lost::InksAndWhite
               ? !m_colours.names_inks(ctx, base_space(space)) || strength_of(ctx, space, value) > 0.0f
               : strength_of(ctx, space, value) > 0.0f;
}

// Pictures and shadings ------------------------------------------------------------------------

/// What a picture or shading of \p space does now; valid until the next call.
const PlateRoute::Mapping &PlateRoute::picture_mapping(fz_context *ctx, fz_colorspace *space)
{
    const Route *route = picture_route();
    if (route == nullptr) {
        return mapping_of(ctx, base_space(space));
    }
    m_picture_mapping = {};
    Mapping &mapping = m_picture_mapping;
    switch (route->to) {
    case RouteTo::Plates:
        mapping.feeds.resize(1);
        feed_targets(*route, mapping.feeds.front(), mapping);
        break;
    case RouteTo::Process: {
        const bool names_inks = m_colours.names_inks(ctx, base_space(space));
        mapping.feeds.resize(static_cast<std::size_t>(names_inks ? base_space(space)->n : base_planes));
        for (std::size_t i = 0; i < mapping.feeds.size() && m_process; ++i) {
            if (names_inks) {
                feed_build(mapping.feeds[i]);
            } else {
                mapping.feeds[i].push_back({Feed::Kind::Own, static_cast<int>(i), 1.0f, nullptr});
            }
        }
        mapping.bare = !m_process;
        break;
    }
    case RouteTo::BareStock:
        mapping.bare = true;
        break;
    case RouteTo::Nothing:
        mapping.dropped = true;
        break;
    }
    count_planes(mapping);
    return mapping;
}

PlateRoute::Planes PlateRoute::target_planes(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    const Mapping &mapping = picture_mapping(ctx, space);
    const bool names_inks = m_colours.names_inks(ctx, base_space(space));
    Planes planes = mapping.planes;
    if (picture_route() == nullptr && !overprint && base_space(space)->type == FZ_COLORSPACE_GRAY) {
        planes = 0; // the other process inks are knocked out without being named
        for (const Feed &feed : mapping.feeds[3]) {
            planes |= Planes(1) << feed.plane;
        }
    }
    if (m_lost_plane >= 0 && !mapping.bare && !mapping.dropped && !mapping.elsewhere) {
        planes |= Planes(1) << m_lost_plane;
    }
    if (planes == 0 && !overprint &&
        (mapping.elsewhere || mapping.bare || (!names_inks && picture_route() == nullptr))) {
        planes = 1; // knocks everything out
    }
    return planes;
}

fz_colorspace *PlateRoute::target_space(fz_context *ctx, fz_colorspace *space, bool overprint)
{
    const Planes painted = target_planes(ctx, space, overprint);
    // All process inks and nothing else: MuPDF's own space is the fastest.
    return painted == 0 ? nullptr : painted == base_mask ? fz_device_cmyk(ctx) : plane_space(ctx, painted);
}

void PlateRoute::components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                            float *out)
{
    Values planes;
    bool elsewhere = false;
    if (const Route *route = picture_route(); route != nullptr) {
        (void)resolve_routed(ctx, *route, space, value, planes, elsewhere);
    } else {
        (void)resolve(ctx, space, value, 0, planes);
    }
    const Planes painted = target_planes(ctx, space, overprint);
    if (m_lost_plane >= 0 && (painted >> m_lost_plane & 1) != 0) {
        bool printed = false;
        for (int plane = 0; plane < m_planes; ++plane) {
            printed =
                printed || ((m_printed >> plane & 1) != 0 && planes[static_cast<std::size_t>(plane)] > 0.0f);
        }
        planes[static_cast<std::size_t>(m_lost_plane)] = !printed && is_lost(ctx, space, value) ? 1.0f : 0.0f;
    }
    int component = 0;
    for (int plane = 0; plane < m_planes; ++plane) {
        if ((painted >> plane & 1) != 0) {
            out[component++] = planes[static_cast<std::size_t>(plane)];
        }
    }
}

/// Fills the tables by which pixels() works: for each source channel, what it adds to a target channel.
void PlateRoute::make_tables(fz_context *ctx, fz_colorspace *space, const Mapping &mapping, bool black_only,
                             Planes painted)
{
    m_tables.clear();
    fz_colorspace *base = base_space(space);
    const auto add = [&](int from, int component, const Feed &feed) {
        Table table;
        table.from = from;
        table.to = std::popcount(painted & ((Planes(1) << feed.plane) - 1));
        table.printed = (m_printed >> feed.plane & 1) != 0;
        for (int i = 0; i < 256; ++i) {
            const float value = fed(ctx, base, component, static_cast<float>(i) / 255.0f, feed);
            table.tone[static_cast<std::size_t>(i)] =
                static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0f, 1.0f) * 255.0f));
        }
        m_tables.push_back(table);
    };
    if (mapping.all) {
        for (int plane = 0; plane < m_planes; ++plane) {
            if (plane != m_lost_plane) {
                add(0, 0, {Feed::Kind::Own, plane, 1.0f, nullptr});
            }
        }
        return;
    }
    for (std::size_t i = 0; i < mapping.feeds.size(); ++i) {
        if (!black_only || i == 3) {
            for (const Feed &feed : mapping.feeds[i]) {
                add(black_only ? 0 : static_cast<int>(i), static_cast<int>(i), feed);
            }
        }
    }
}

/// The picture taken apart into flat colours, each on its plate.
fz_pixmap *PlateRoute::split_pixels(fz_context *ctx, fz_pixmap *source, const Route &route, bool overprint)
{
    fz_colorspace *target = target_space(ctx, source->colorspace, overprint);
    const Planes painted = target_planes(ctx, source->colorspace, overprint);
    const int alpha = source->alpha;
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, alpha);
    fz_clear_pixmap(ctx, result);
    if (!split_into(ctx, *source, route.split, painted, *result)) {
        fz_drop_pixmap(ctx, result);
        fz_throw(ctx, FZ_ERROR_GENERIC, "a picture cannot be taken apart into its colours");
    }
    return result;
}

/// The part of split_pixels() that MuPDF does not throw over.
bool PlateRoute::split_into(fz_context *ctx, const fz_pixmap &source, const PaletteSplit &split,
                            Planes painted, fz_pixmap &result) const
{
    const auto apart = take_apart(ctx, source, split);
    if (apart == nullptr) {
        return false;
    }
    const int out = result.n - result.alpha;
    for (std::size_t i = 0; i < split.colours.size(); ++i) {
        const auto plane = m_plane_of.find(split.colours[i].ink);
        if (plane == m_plane_of.end() || split.colours[i].ink.empty()) {
            continue;
        }
        const int channel = std::popcount(painted & ((Planes(1) << plane->second) - 1));
        for (int y = 0; y < source.h; ++y) {
            unsigned char *to = result.samples + y * result.stride + channel;
            for (const std::uint8_t cover : apart->planes[i].row(y)) {
                const auto tone = static_cast<int>(std::lround(cover * split.colours[i].tint));
                *to = static_cast<unsigned char>(std::min(255, *to + tone));
                to += result.n;
            }
        }
    }
    for (int y = 0; y < source.h && result.alpha != 0; ++y) {
        for (int x = 0; x < source.w; ++x) {
            unsigned char *to = result.samples + y * result.stride + x * result.n;
            to[out] = source.samples[y * source.stride + x * source.n + source.n - 1];
            if (to[out] == 0) {
                std::fill(to, to + out, static_cast<unsigned char>(0)); // premultiplied
            }
        }
    }
    return true;
}

bool PlateRoute::outlines_picture() const
{
    const Route *route = picture_route();
    return route != nullptr && !route->split.colours.empty() && route->split.outlines;
}

/// Kept with the page, since it takes long and stays the same while other routes change. MuPDF does not throw
/// over it. Null when it cannot be done.
std::shared_ptr<const PlateRoute::SplitPicture>
PlateRoute::take_apart(fz_context *ctx, const fz_pixmap &source, const PaletteSplit &split) const
{
    std::vector<EncodedRgb> palette;
    std::string key = "split " + std::to_string(m_object) + " " + std::to_string(split.tolerance) + " " +
                      std::to_string(split.despeckle);
    for (const PaletteTarget &colour : split.colours) {
        palette.push_back(colour.rgb);
        const bool prints = split.outlines && m_plane_of.count(colour.ink) > 0;
        key += (prints ? " outlined " : " ") + std::to_string(colour.rgb[0]) + "," +
               std::to_string(colour.rgb[1]) + "," + std::to_string(colour.rgb[2]);
    }
    if (auto known = m_memory.find(key)) {
        return std::static_pointer_cast<const SplitPicture>(known);
    }
    auto planes = unmix(rgb_picture(ctx, m_colours, source), palette, {split.tolerance, split.despeckle});
    if (!planes) {
        return nullptr;
    }
    auto made = std::make_shared<SplitPicture>();
    made->planes = std::move(*planes);
    made->outlines.resize(palette.size());
    for (std::size_t i = 0; i < palette.size() && split.outlines; ++i) {
        if (m_plane_of.count(split.colours[i].ink) > 0) {
            auto outlines = trace_outlines(made->planes[i]);
            if (!outlines) {
                return nullptr;
            }
            made->outlines[i] = std::move(*outlines);
        }
    }
    m_memory.keep(key, made);
    return made;
}

void PlateRoute::fill_plane(fz_context *ctx, fz_device *target, const fz_path *path, fz_matrix ctm,
                            float alpha, const fz_color_params &params, int plane, float tone, bool overprint)
{
    const float value[] = {exact_byte(tone)};
    fz_color_params own = params;
    own.op = overprint ? 1 : 0;
    own.opm = 0;
    fz_fill_path(ctx, target, path, 1, ctm, plane_space(ctx, Planes(1) << plane), value, alpha, own);
}

void PlateRoute::fill_outlines(fz_context *ctx, fz_device *target, fz_pixmap *source, fz_matrix ctm,
                               float alpha, fz_color_params params)
{
    const PaletteSplit &split = picture_route()->split;
    m_split = take_apart(ctx, *source, split);
    if (m_split == nullptr) {
        fz_throw(ctx, FZ_ERROR_GENERIC, "a picture cannot be traced");
    }
    const fz_matrix to_page =
        fz_concat(fz_scale(1.0f / static_cast<float>(source->w), 1.0f / static_cast<float>(source->h)), ctm);
    fz_path *path = nullptr;
    fz_var(path);
    fz_var(params);
    fz_try(ctx)
    {
        if (params.op == 0) { // the whole picture knocks out what is below it
            path = fz_new_path(ctx);
            fz_rectto(ctx, path, 0, 0, static_cast<float>(source->w), static_cast<float>(source->h));
            fill_plane(ctx, target, path, to_page, alpha, params, 0, 0.0f, false);
            fz_drop_path(ctx, path);
            path = nullptr;
        }
        for (std::size_t i = 0; i < m_split->outlines.size(); ++i) {
            if (m_split->outlines[i].empty()) {
                continue;
            }
            path = fz_new_path(ctx);
            for (const Outline &outline : m_split->outlines[i]) {
                const auto at = [](double v) { return static_cast<float>(v); };
                fz_moveto(ctx, path, at(outline.x), at(outline.y));
                for (const OutlinePiece &piece : outline.pieces) {
                    fz_curveto(ctx, path, at(piece.x1), at(piece.y1), at(piece.x2), at(piece.y2), at(piece.x),
                               at(piece.y));
                }
                fz_closepath(ctx, path);
            }
            fill_plane(ctx, target, path, to_page, alpha, params, m_plane_of.at(split.colours[i].ink),
                       static_cast<float>(split.colours[i].tint), true);
            fz_drop_path(ctx, path);
            path = nullptr;
        }
    }
    fz_always(ctx)
    {
        fz_drop_path(ctx, path);
    }
    fz_catch(ctx)
    {
        fz_rethrow(ctx);
    }
}

fz_pixmap *PlateRoute::pixels(fz_context *ctx, fz_pixmap *source, bool overprint)
{
    if (const Route *split = picture_route(); split != nullptr && !split->split.colours.empty()) {
        return split_pixels(ctx, source, *split, overprint);
    }
    fz_colorspace *space = source->colorspace;
    fz_colorspace *target = target_space(ctx, space, overprint);
    const Planes painted = target_planes(ctx, space, overprint);
    const Route *route = picture_route();
    const bool by_darkness = route != nullptr && route->to == RouteTo::Plates;
    const PictureRows rows(ctx, m_colours, *source,
                           by_darkness ? PictureRows::As::Darkness : PictureRows::As::Inks);
    make_tables(ctx, space, picture_mapping(ctx, space), rows.is_black_only(), painted);
    const int alpha = source->alpha;
    const int out = target->n;
    const auto width = static_cast<std::size_t>(source->w);
    const auto channels = static_cast<std::size_t>(rows.channels());
    const int lost = m_lost_plane >= 0 && (painted >> m_lost_plane & 1) != 0
                         ? std::popcount(painted & ((Planes(1) << m_lost_plane) - 1))
                         : -1;
    const bool white_is_lost =
        m_setup.lost == Lost::InksAndWhite && !m_colours.names_inks(ctx, base_space(space));
    const bool as_they_are = lost < 0 && channels == static_cast<std::size_t>(out) &&
                             m_tables.size() == channels && are_identity(m_tables);
    fz_pixmap *result = fz_new_pixmap(ctx, target, source->w, source->h, nullptr, alpha);
    unsigned char *read = nullptr;
    unsigned char *scratch = nullptr;
    fz_var(read);
    fz_var(scratch);
    fz_try(ctx)
    {
        read = static_cast<unsigned char *>(fz_malloc(ctx, width * channels));
        scratch = static_cast<unsigned char *>(fz_malloc(ctx, rows.scratch_bytes()));
    }
    fz_catch(ctx)
    {
        fz_free(ctx, read);
        fz_drop_pixmap(ctx, result);
        fz_rethrow(ctx);
    }
    for (int y = 0; y < source->h; ++y) {
        rows.row(y, read, scratch);
        const unsigned char *from = read;
        const unsigned char *opacity = source->samples + y * source->stride + (source->n - 1);
        unsigned char *to = result->samples + y * result->stride;
        for (std::size_t x = 0; x < width; ++x, from += channels, to += result->n, opacity += source->n) {
            if (as_they_are) {
                std::copy(from, from + channels, to);
            } else {
                std::fill(to, to + out, static_cast<unsigned char>(0));
                bool inked = false;
                for (const Table &table : m_tables) {
                    const int tone = table.tone[from[table.from]];
                    to[table.to] = static_cast<unsigned char>(std::min(255, to[table.to] + tone));
                    inked = inked || (tone > 0 && table.printed);
                }
                if (lost >= 0 && !inked) {
                    const bool holds_ink =
                        std::any_of(from, from + channels, [](unsigned char v) { return v > 0; });
                    to[lost] = holds_ink || white_is_lost ? 255 : 0;
                }
            }
            if (alpha != 0) {
                to[out] = *opacity;
                if (*opacity == 0) {
                    std::fill(to, to + out, static_cast<unsigned char>(0)); // premultiplied
                }
            }
        }
    }
    fz_free(ctx, read);
    fz_free(ctx, scratch);
    return result;
}

} // namespace bichrom
