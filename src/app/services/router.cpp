#include "app/services/router.h"

#include "app/widgets/theme.h"
#include "core/job/edits/make_plates.h"
#include "core/job/edits/plates.h"
#include "core/job/picture_split.h"

#include <algorithm>
#include <map>

namespace bichrom {

Router::Router(Session &session, Choice &choice, InkLibrary &library, QObject *parent)
    : QObject(parent), m_session(session), m_choice(choice), m_library(library)
{
    connect(&m_session, &Session::artworkChanged, this, [this] { // another job: nothing set for the last one
        m_tolerance = 0;
        m_measure = ColourMeasure::DeltaE;
        m_ownTint = false;
        m_tint = 1;
    });
    connect(&m_session, &Session::pageChanged, this, &Router::follow);
    connect(&m_session.facts(), &Facts::coloursMeasured, this, &Router::regroup);
    connect(&m_session, &Session::jobChanged, this, &Router::follow); // may come first, with the page
}

void Router::follow()
{
    if (m_session.isOpen() && m_grouped == m_session.page()->plate_line->share_page()) {
        Q_EMIT changed();
        return;
    }
    m_groups.reset();
    m_grouped = m_session.isOpen() ? m_session.page()->plate_line->share_page() : nullptr;
    m_choice.chooseColour(-1); // numbers are of the page
    Q_EMIT changed();
}

void Router::regroup()
{
    m_groups.reset();
    Q_EMIT changed();
}

const std::vector<ColourGroup> &Router::groups() const
{
    if (!m_groups) {
        m_groups = m_session.isOpen() ? group_colours(m_session.page()->scene.colours,
                                                      m_session.facts().colourAreas(), m_tolerance, m_measure)
                                      : std::vector<ColourGroup>{};
    }
    return *m_groups;
}

int Router::groupOf(int colour) const
{
    for (std::size_t i = 0; i < groups().size(); ++i) {
        const auto &members = groups()[i].members;
        if (std::find(members.begin(), members.end(), colour) != members.end()) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

void Router::setTolerance(double tolerance)
{
    m_tolerance = tolerance;
    regroup();
}

void Router::setMeasure(ColourMeasure measure)
{
    m_measure = measure;
    regroup();
}

void Router::setAmount(bool own_tint, double tint)
{
    m_ownTint = own_tint;
    m_tint = tint;
    Q_EMIT changed();
}

Reach Router::reach(int colour) const
{
    const Scene &scene = m_session.page()->scene;
    const FoundColour &found = scene.colours[static_cast<std::size_t>(colour)];
    RoutedObject asked{m_session.job().page, -1, {}, &found};
    if (found.colour.values.empty()) { // pictures are routed as objects
        const auto picture =
            std::find_if(scene.objects.begin(), scene.objects.end(),
                         [colour](const SceneObject &object) { return object.colour_number == colour; });
        if (picture != scene.objects.end()) {
            asked.index = picture->own_index;
            asked.layer = picture->layer;
        }
    }
    return reach_of(asked, m_session.job().routes, m_session.job().inks());
}

int Router::colourOfFlat(int flat) const
{
    return static_cast<int>(m_session.page()->scene.colours.size()) + flat;
}

int Router::flatOf(int colour) const
{
    const int flat =
        m_session.isOpen() ? colour - static_cast<int>(m_session.page()->scene.colours.size()) : -1;
    return flat >= 0 && flat < static_cast<int>(m_session.facts().flatColours().size()) ? flat : -1;
}

const Route *Router::flatRoute(int object) const
{
    const SceneObject &picture = m_session.page()->scene.objects[static_cast<std::size_t>(object)];
    const Job &job = m_session.job();
    const auto found = std::find_if(job.routes.begin(), job.routes.end(), [&](const Route &route) {
        return route.by == RouteBy::Objects && route.artwork == picture.artwork &&
               route.objects.size() == 1 && route.objects[0].page == job.page &&
               route.objects[0].index == picture.own_index && !route.split.colours.empty();
    });
    return found == job.routes.end() ? nullptr : &*found;
}

std::optional<std::string> Router::flatInk(int flat) const
{
    const FlatColour &colour = m_session.facts().flatColours()[static_cast<std::size_t>(flat)];
    const Route *route = flatRoute(colour.object);
    if (route == nullptr) {
        return std::nullopt;
    }
    const PaletteTarget *nearest = nullptr;
    for (const PaletteTarget &target : route->split.colours) {
        if (nearest == nullptr ||
            rgb_distance(target.rgb, colour.rgb) < rgb_distance(nearest->rgb, colour.rgb)) {
            nearest = &target;
        }
    }
    return nearest->ink;
}

/// Its picture is taken apart, if it is not yet; then the others go where they look alike.
void Router::sendFlat(int flat, const std::string &ink, const QString &step)
{
    const FlatColour &colour = m_session.facts().flatColours()[static_cast<std::size_t>(flat)];
    const SceneObject &picture = m_session.page()->scene.objects[static_cast<std::size_t>(colour.object)];
    Route route;
    if (const Route *own = flatRoute(colour.object)) {
        route = *own;
    } else {
        std::vector<std::array<std::uint8_t, 3>> palette;
        for (const FlatColour &other : m_session.facts().flatColours()) {
            if (other.object == colour.object) {
                palette.push_back(other.rgb);
            }
        }
        route.by = RouteBy::Objects;
        route.artwork = picture.artwork;
        route.objects = {m_session.markOf(colour.object)};
        route.split = propose_split(palette, m_session.job());
    }
    PaletteSplit split = route.split;
    const auto at = std::min_element(
        split.colours.begin(), split.colours.end(), [&](const PaletteTarget &a, const PaletteTarget &b) {
            return rgb_distance(a.rgb, colour.rgb) < rgb_distance(b.rgb, colour.rgb);
        });
    at->ink = ink;
    at->tint = m_tint;
    m_session.change(with_route(m_session.job(), with_split(std::move(route), std::move(split))), step);
}

QString Router::nameOf(int colour) const
{
    if (const int flat = flatOf(colour); flat >= 0) {
        const EncodedRgb &rgb = m_session.facts().flatColours()[static_cast<std::size_t>(flat)].rgb;
        return tr("picture, sRGB %1 %2 %3").arg(rgb[0]).arg(rgb[1]).arg(rgb[2]);
    }
    const FoundColour &found = m_session.page()->scene.colours[static_cast<std::size_t>(colour)];
    const QString name = theme::text_of(describe(found.colour));
    return found.artwork == 0 ? name : QStringLiteral("%1 · %2").arg(found.artwork).arg(name);
}

std::vector<int> Router::chosenColours() const
{
    std::vector<int> colours{m_choice.colour()};
    for (const int other : m_choice.otherColours()) {
        colours.push_back(other);
    }
    std::erase_if(colours, [this](int colour) { return groupOf(colour) < 0 && flatOf(colour) < 0; });
    return colours;
}

QString Router::wordsOfColours(const std::vector<int> &colours) const
{
    return colours.size() == 1 ? nameOf(colours.front())
                               : tr("%1 colours").arg(static_cast<int>(colours.size()));
}

void Router::changeColours(Job job, const std::vector<int> &colours, const QString &step,
                           const std::function<Job(Job, int)> &one, const std::function<void(int)> &flat)
{
    bool changed = false;
    for (const int colour : colours) {
        if (const int group = groupOf(colour); group >= 0) {
            job = one(std::move(job), group);
            changed = true;
        }
    }
    if (changed) {
        m_session.change(job, step);
    }
    for (const int colour : colours) { // each takes its picture apart, a step of its own
        if (const int number = flatOf(colour); number >= 0) {
            flat(number);
        }
    }
}

/// What takes all that a group holds, without an end.
Route Router::routeOfGroup(int group) const
{
    Route route = route_from(m_session.page()->scene, m_session.job().page,
                             groups()[static_cast<std::size_t>(group)].members, m_tolerance, m_measure);
    for (ObjectMark &mark : route.objects) {
        mark = m_session.markOf(object_of(m_session.page()->scene, route.artwork, mark.index));
    }
    return route;
}

void Router::takeColours(const std::vector<int> &colours, RouteTo to, const QString &ink, const QString &step)
{
    const auto with_plate = to == RouteTo::Plates ? withPlate(ink) : Outcome<Job>(m_session.job());
    if (!with_plate) {
        return;
    }
    changeColours(
        *with_plate, colours, step,
        [&](Job job, int group) {
            Route route = routeOfGroup(group);
            route.to = to;
            if (to == RouteTo::Plates) {
                route.targets = {{ink.toStdString(), m_ownTint || route.by == RouteBy::Objects, m_tint, {}}};
            }
            return with_route(std::move(job), std::move(route));
        },
        [&](int flat) {
            if (to != RouteTo::Process) { // what prints nothing there knocks out with its picture
                sendFlat(flat, to == RouteTo::Plates ? ink.toStdString() : std::string(), step);
            }
        });
}

/// The job, with a plate for an ink that may be one of the book's.
Outcome<Job> Router::withPlate(const QString &ink) const
{
    const std::string name = ink.toStdString();
    return m_session.job().find_plate(name) >= 0
               ? Outcome<Job>(m_session.job())
               : add_named_plate(m_session.job(), name, m_library.book(), m_session.page()->scene);
}

void Router::send(int colour, const QString &ink)
{
    if (colour >= 0 && !ink.isEmpty()) {
        takeColours({colour}, RouteTo::Plates, ink, tr("%1 to %2").arg(nameOf(colour), ink));
    }
}

namespace {

QString ended(const QString &what, RouteTo to)
{
    return to == RouteTo::Process     ? Router::tr("%1 in process inks").arg(what)
           : to == RouteTo::BareStock ? Router::tr("%1 bare stock").arg(what)
                                      : Router::tr("%1 not printed").arg(what);
}

} // namespace

void Router::end(int colour, RouteTo to)
{
    if (colour >= 0) {
        takeColours({colour}, to, {}, ended(nameOf(colour), to));
    }
}

std::string Router::whitePlate(Job &job) const
{
    const auto white = std::find_if(job.plates.begin(), job.plates.end(),
                                    [](const Plate &plate) { return plate.kind == InkUse::White; });
    if (white != job.plates.end()) {
        return white->ink;
    }
    const std::string name = tr("White").toStdString();
    if (job.find_plate(name) < 0) {
        job = *add_named_plate(std::move(job), name, m_library.book(), m_session.page()->scene);
    }
    job = *declare_kind(std::move(job), name, InkUse::White); // whatever the word is in the artist's language
    return name;
}

void Router::sendWhite(const std::vector<int> &colours)
{
    changeColours(
        m_session.job(), colours, tr("%1 in white ink").arg(wordsOfColours(colours)),
        [this](Job job, int group) {
            const std::string white = whitePlate(job);
            Route route = routeOfGroup(group);
            route.targets = {{white, false, 1.0, {}}};
            return with_route(std::move(job), std::move(route));
        },
        [](int) {});
}

/// Without the routes that take anything of a group.
Job Router::releasedGroup(Job job, int group) const
{
    for (const int member : groups()[static_cast<std::size_t>(group)].members) {
        if (const int route = reach(member).route; route >= 0) {
            const Route &taken = m_session.job().routes[static_cast<std::size_t>(route)];
            std::erase_if(job.routes, [&](const Route &one) { return one == taken; });
        }
        const FoundColour &found = m_session.page()->scene.colours[static_cast<std::size_t>(member)];
        for (const InkAmount &one : found.inks) {
            std::erase_if(job.routes, [&](const Route &route) {
                return route.by == RouteBy::Ink && route.artwork == found.artwork && route.name == one.ink;
            });
        }
    }
    return job;
}

void Router::release(const std::vector<int> &colours)
{
    changeColours(
        m_session.job(), colours, tr("%1 as it is").arg(wordsOfColours(colours)),
        [this](Job job, int group) { return releasedGroup(std::move(job), group); },
        [this](int flat) {
            Job job = m_session.job();
            const Route *own =
                flatRoute(m_session.facts().flatColours()[static_cast<std::size_t>(flat)].object);
            std::erase_if(job.routes, [own](const Route &route) { return own != nullptr && route == *own; });
            m_session.change(job, tr("Picture as it is"));
        });
}

std::map<int, Route> Router::byArtwork(const std::vector<int> &objects) const
{
    std::map<int, Route> routes;
    for (const int object : objects) {
        const SceneObject &chosen = m_session.page()->scene.objects[static_cast<std::size_t>(object)];
        Route &route = routes[chosen.artwork];
        route.by = RouteBy::Objects;
        route.artwork = chosen.artwork;
        route.objects.push_back(m_session.markOf(object));
    }
    return routes;
}

Job Router::withObjects(Job job, const std::vector<int> &objects,
                        const std::function<void(Route &)> &finish) const
{
    for (auto &[artwork, route] : byArtwork(objects)) {
        finish(route);
        job = with_route(std::move(job), std::move(route));
    }
    return job;
}

void Router::routeObjects(const std::vector<int> &objects, RouteTo to, const QString &ink)
{
    if (to == RouteTo::Plates) {
        sendObjects(objects, ink, m_ownTint, m_tint);
        return;
    }
    if (!m_session.isOpen() || objects.empty()) {
        return;
    }
    m_session.change(withObjects(m_session.job(), objects, [to](Route &route) { route.to = to; }),
                     ended(wordsOf(objects), to));
}

void Router::sendObjects(const std::vector<int> &objects, const QString &ink, bool own_tint, double tint)
{
    if (!m_session.isOpen() || objects.empty() || ink.isEmpty()) {
        return;
    }
    const auto &all = m_session.page()->scene.objects;
    const bool toned = std::any_of(objects.begin(), objects.end(), [&](int object) {
        return all[static_cast<std::size_t>(object)].colour.values.empty(); // a picture has no one tone
    });
    const auto with_plate = withPlate(ink);
    if (!with_plate) {
        return;
    }
    const Job job = withObjects(*with_plate, objects, [&](Route &route) {
        route.to = RouteTo::Plates;
        route.targets = {{ink.toStdString(), own_tint || toned, tint, {}}};
    });
    m_session.change(job, tr("%1 to %2").arg(wordsOf(objects), ink));
}

void Router::overprintObjects(const std::vector<int> &objects, OverprintWish wish)
{
    if (!m_session.isOpen() || objects.empty()) {
        return;
    }
    Job job = m_session.job();
    for (auto &[artwork, route] : byArtwork(objects)) {
        job.overprint = with_rule(std::move(job.overprint), {std::move(route), wish});
    }
    const QString what = wordsOf(objects);
    m_session.change(job, wish == OverprintWish::Overprint  ? tr("%1 overprint").arg(what)
                          : wish == OverprintWish::KnockOut ? tr("%1 knock out").arg(what)
                                                            : tr("%1 as in the file").arg(what));
}

QString Router::wordsOf(const std::vector<int> &objects)
{
    return objects.size() == 1 ? tr("One object") : tr("%1 objects").arg(static_cast<int>(objects.size()));
}

void Router::sendChosen()
{
    const std::vector<int> colours = chosenColours();
    if (!m_choice.objects().empty()) {
        routeObjects(m_choice.objects(), RouteTo::Plates, m_choice.plate());
    } else if (!colours.empty() && !m_choice.plate().isEmpty()) {
        takeColours(colours, RouteTo::Plates, m_choice.plate(),
                    tr("%1 to %2").arg(wordsOfColours(colours), m_choice.plate()));
    }
}

void Router::endChosen(RouteTo to)
{
    const std::vector<int> colours = chosenColours();
    if (!m_choice.objects().empty()) {
        routeObjects(m_choice.objects(), to);
    } else if (!colours.empty()) {
        takeColours(colours, to, {}, ended(wordsOfColours(colours), to));
    }
}

void Router::whitenChosen()
{
    const std::vector<int> &objects = m_choice.objects();
    if (objects.empty()) {
        if (const std::vector<int> colours = chosenColours(); !colours.empty()) {
            sendWhite(colours);
        }
        return;
    }
    Job job = m_session.job();
    const std::string white = whitePlate(job);
    job = withObjects(std::move(job), objects, [&](Route &route) {
        route.targets = {{white, false, 1, {}}};
    });
    m_session.change(job, tr("%1 in white ink").arg(wordsOf(objects)));
}

void Router::releaseChosen()
{
    const std::vector<int> objects = m_choice.objects();
    if (objects.empty()) {
        if (const std::vector<int> colours = chosenColours(); !colours.empty()) {
            release(colours);
        }
        return;
    }
    Job job = m_session.job();
    for (const int object : objects) {
        const ObjectMark mark = m_session.markOf(object);
        const int artwork = m_session.page()->scene.objects[static_cast<std::size_t>(object)].artwork;
        for (Route &route : job.routes) {
            if (route.by == RouteBy::Objects && route.artwork == artwork) {
                std::erase_if(route.objects, [&](const ObjectMark &one) {
                    return one.page == mark.page && one.index == mark.index;
                });
            }
        }
    }
    std::erase_if(job.routes,
                  [](const Route &route) { return route.by == RouteBy::Objects && route.objects.empty(); });
    m_session.change(job, tr("Objects as they are"));
}

void Router::removeRoutes(std::vector<int> numbers)
{
    Job job = m_session.job();
    std::sort(numbers.begin(), numbers.end(), std::greater<>()); // from the end, so that numbers hold
    int removed = 0;
    for (const int number : numbers) {
        if (number >= 0 && number < static_cast<int>(job.routes.size())) {
            job.routes.erase(job.routes.begin() + number);
            ++removed;
        }
    }
    if (removed > 0) {
        m_session.change(job, removed == 1 ? tr("Remove a route") : tr("Remove %1 routes").arg(removed));
    }
}

void Router::setRoutePages(int number, const PageList &pages)
{
    Job job = m_session.job();
    if (number >= 0 && number < static_cast<int>(job.routes.size())) {
        job.routes[static_cast<std::size_t>(number)].pages = pages;
        m_session.change(job, tr("Route %1").arg(theme::text_of(describe_pages(pages))));
    }
}

void Router::moveRoute(int number, int by)
{
    Job job = m_session.job();
    const int to = number + by;
    if (number >= 0 && to >= 0 && std::max(number, to) < static_cast<int>(job.routes.size())) {
        std::swap(job.routes[static_cast<std::size_t>(number)], job.routes[static_cast<std::size_t>(to)]);
        m_session.change(job, tr("Another order of routes"));
    }
}

Done Router::addPlate(const QString &ink)
{
    const QString name = ink.trimmed();
    if (!m_session.isOpen()) {
        return Error{ErrorCode::FileMissing, tr("Nothing is open.").toStdString(), {}, {}};
    }
    const auto added =
        add_named_plate(m_session.job(), name.toStdString(), m_library.book(), m_session.page()->scene);
    if (!added) {
        return added.error();
    }
    m_session.change(*added, tr("Add the plate %1").arg(name));
    m_choice.choosePlate(name);
    return {};
}

void Router::platesFromColours()
{
    if (m_session.isOpen()) {
        m_session.change(plates_from_colours(m_session.job(), m_session.page()->scene, groups(), m_tolerance,
                                             m_measure, m_library.book(),
                                             m_session.artwork().page_count() == 1),
                         tr("A plate for each colour"));
    }
}

namespace {

bool is_of_layer(const Route &route, const std::string &layer)
{
    return route.by == RouteBy::Layer && route.artwork == 0 && route.name == layer;
}

} // namespace

const Route *Router::layerRoute(const QString &layer) const
{
    const std::vector<Route> &routes = m_session.job().routes;
    const auto known =
        std::find_if(routes.begin(), routes.end(),
                     [name = layer.toStdString()](const Route &one) { return is_of_layer(one, name); });
    return known == routes.end() ? nullptr : &*known;
}

void Router::routeLayer(const QString &layer, RouteTo to, const QString &ink)
{
    if (!m_session.isOpen() || (to == RouteTo::Plates && ink.isEmpty())) {
        return;
    }
    Job job = m_session.job();
    Route route;
    route.by = RouteBy::Layer;
    route.name = layer.toStdString();
    route.to = to;
    if (to == RouteTo::Plates) {
        route.targets = {{ink.toStdString(), true, 1, {}}};
    }
    std::erase_if(job.routes, [&](const Route &one) { return is_of_layer(one, route.name); });
    m_session.change(with_route(std::move(job), std::move(route)),
                     to == RouteTo::Plates    ? tr("Layer %1 to %2").arg(layer, ink)
                     : to == RouteTo::Nothing ? tr("Leave out the layer %1").arg(layer)
                                              : tr("Layer %1").arg(layer));
}

void Router::releaseLayer(const QString &layer)
{
    Job job = m_session.job();
    std::erase_if(job.routes,
                  [name = layer.toStdString()](const Route &one) { return is_of_layer(one, name); });
    m_session.change(job, tr("Layer %1 as in the file").arg(layer));
}

void Router::removePlate(const QString &ink)
{
    if (!m_session.isOpen()) {
        return;
    }
    const std::string name = ink.toStdString();
    m_session.change(remove_plate(m_session.job(), name, holds_ink(m_session.page()->scene, name)),
                     tr("Remove the plate %1").arg(ink));
}

} // namespace bichrom
