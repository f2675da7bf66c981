#include "core/page/plate_route.h"

#include "core/artwork/text_encoding.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstdint>

namespace bichrom {

namespace {

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

} // namespace

std::string plane_name(int plane)
{
    return plane < base_planes ? process_names[static_cast<std::size_t>(plane)]
                               : "plane " + std::to_string(plane);
}

PlateRoute::PlateRoute(const PlateSetup &setup, const std::vector<std::string> &spots, bool process,
                       const PictureTables &tables, const std::vector<ObjectOverprint> &wishes,
                       const PageColours &colours, PageMemory &memory, std::shared_ptr<MupdfRuntime> runtime,
                       JobControl control)
    : m_setup(setup), m_process(process),
      m_planes((process ? base_planes : 0) + static_cast<int>(spots.size())), m_pictureTables(tables),
      m_colours(colours), m_memory(memory), m_runtime(std::move(runtime)), m_control(std::move(control)),
      m_wishes(wishes)
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
        if (!holds_for(route.pages, m_setup.page)) {
            continue;
        }
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
    const int number = ink_route(m_setup.routes, ink, m_setup.page, m_artwork);
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
    m_dots = {0, 0};
    const auto by_object = m_object_routes.find({place.artwork, place.own_index});
    m_picture_route = by_object == m_object_routes.end() ? -1 : by_object->second;
    if (!m_layer_routes.empty()) {
        const auto by_layer = m_layer_routes.find({place.artwork, layer});
        if (by_layer != m_layer_routes.end() && (m_picture_route < 0 || by_layer->second < m_picture_route)) {
            m_picture_route = by_layer->second;
        }
    }
}

fz_color_params PlateRoute::overprinted(fz_color_params params) const
{
    if (m_setup.overprint == Overprint::Ignored) {
        params.op = 0;
        return params;
    }
    if (m_object >= 0 && static_cast<std::size_t>(m_object) < m_wishes.size()) {
        const ObjectOverprint &wish = m_wishes[static_cast<std::size_t>(m_object)];
        if (wish.by != OverprintBy::File) {
            params.op = wish.overprints ? 1 : 0;
            params.opm = wish.overprints ? 1 : params.opm;
        }
    }
    return params;
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
    if (const PictureTable *table = table_of(&route)) {
        return resolve_table(ctx, *table, space, value, planes, elsewhere);
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
            out.value[component++] = std::clamp(planes[static_cast<std::size_t>(plane)], 0.0f, 1.0f);
        }
    }
}

bool PlateRoute::is_lost(fz_context *ctx, fz_colorspace *space, const float *value) const
{
    return m_setup.lost == Lost::InksAndWhite
               ? !m_colours.names_inks(ctx, base_space(space)) || strength_of(ctx, space, value) > 0.0f
               : strength_of(ctx, space, value) > 0.0f;
}

} // namespace bichrom
