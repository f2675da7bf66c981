#include "core/job/edits/own_marks.h"

#include "core/artwork/page_boxes.h"

#include <algorithm>
#include <array>
#include <set>
#include <utility>

namespace bichrom {

namespace {

constexpr std::array<OwnMarks, 3> all_own_marks = {OwnMarks::AsInFile, OwnMarks::LeftOut,
                                                   OwnMarks::OnEveryPlate};

/// The same objects, wherever the page lies now.
bool are_same(const std::vector<ObjectMark> &a, const std::vector<ObjectMark> &b)
{
    return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                      [](const ObjectMark &one, const ObjectMark &other) {
                          return one.page == other.page && one.index == other.index;
                      });
}

bool is_of(const Route &route, const std::vector<ObjectMark> &marks)
{
    return route.by == RouteBy::Objects && route.artwork == 0 && are_same(route.objects, marks);
}

/// The step that adds them to a computed plate.
bool is_of(const RecipeStep &step, const std::vector<ObjectMark> &marks)
{
    return step.does == RecipeDo::Add && step.source.from == RecipeFrom::Objects &&
           step.source.artwork == 0 && are_same(step.source.objects, marks);
}

} // namespace

const char *to_string(OwnMarks own)
{
    static constexpr const char *names[] = {"keep", "leave-out", "all-plates"};
    return names[static_cast<std::size_t>(own)];
}

Outcome<OwnMarks> parse_own_marks(std::string_view name)
{
    for (const OwnMarks own : all_own_marks) {
        if (name == to_string(own)) {
            return own;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "Marks of the file cannot be treated as '" + std::string(name) + "'.",
                 {},
                 "Use keep, leave-out or all-plates."};
}

std::vector<ObjectMark> find_own_marks(const Scene &scene, const PageInfo &page, PageBox shown)
{
    std::vector<ObjectMark> marks;
    const auto is_written = [&](PageBox box) { return page.written[static_cast<std::size_t>(box)]; };
    if (!is_written(PageBox::Trim)) {
        return marks;
    }
    const PageBox edge = is_written(PageBox::Bleed) ? PageBox::Bleed : PageBox::Trim;
    const Rect within = box_within(page, edge, PageBox::Media);
    const Rect from = box_within(page, shown, PageBox::Media);
    for (const SceneObject &object : scene.objects) {
        const auto mm = [](double points) { return to_millimetres(Points(points)).value; };
        const Rect at = {mm(object.bounds.x) + from.x, mm(object.bounds.y) + from.y, mm(object.bounds.width),
                         mm(object.bounds.height)};
        const bool beside = at.x >= within.x + within.width || at.x + at.width <= within.x ||
                            at.y >= within.y + within.height || at.y + at.height <= within.y;
        if (object.artwork == 0 && !object.clipped_away && !object.in_pattern && beside) {
            marks.push_back({page.number, object.own_index, object.kind, at});
        }
    }
    return marks;
}

std::optional<OwnMarks> own_marks_of(const Job &job, const std::vector<ObjectMark> &marks)
{
    std::set<std::pair<int, int>> own; // by page and number
    for (const ObjectMark &mark : marks) {
        own.emplace(mark.page, mark.index);
    }
    for (const Route &route : job.routes) {
        if (is_of(route, marks)) {
            return route.to == RouteTo::Nothing  ? std::optional(OwnMarks::LeftOut)
                   : route.to == RouteTo::Plates ? std::optional(OwnMarks::OnEveryPlate)
                                                 : std::nullopt;
        }
        const auto is_own = [&](const ObjectMark &one) { return own.count({one.page, one.index}) > 0; };
        if (route.by == RouteBy::Objects && route.artwork == 0 &&
            std::any_of(route.objects.begin(), route.objects.end(), is_own)) {
            return std::nullopt;
        }
    }
    return OwnMarks::AsInFile;
}

Job with_own_marks(Job job, const std::vector<ObjectMark> &marks, OwnMarks own)
{
    if (marks.empty()) {
        return job;
    }
    std::erase_if(job.routes, [&](const Route &route) { return is_of(route, marks); });
    for (Plate &plate : job.plates) {
        std::erase_if(plate.recipe, [&](const RecipeStep &step) { return is_of(step, marks); });
    }
    if (own == OwnMarks::AsInFile) {
        return job;
    }
    Route route;
    route.by = RouteBy::Objects;
    route.objects = marks;
    route.to = own == OwnMarks::LeftOut ? RouteTo::Nothing : RouteTo::Plates;
    if (own == OwnMarks::OnEveryPlate) {
        for (Plate &plate : job.plates) {
            route.targets.push_back({plate.ink, true, 1, {}});
            if (!plate.recipe.empty()) {
                RecipeStep step;
                step.source.from = RecipeFrom::Objects;
                step.source.objects = marks;
                plate.recipe.push_back(std::move(step));
            }
        }
    }
    (void)add_route(job.routes, std::move(route));
    return job;
}

} // namespace bichrom
