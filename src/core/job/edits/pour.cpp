#include "core/job/edits/pour.h"

#include <algorithm>

namespace bichrom {

namespace {

Plate *plate_of(Job &job, const std::string &ink)
{
    const int at = job.find_plate(ink);
    return at < 0 ? nullptr : &job.plates[static_cast<std::size_t>(at)];
}

auto find_mark(std::vector<ObjectMark> &objects, const ObjectMark &mark)
{
    return std::find_if(objects.begin(), objects.end(), [&](const ObjectMark &one) {
        return one.page == mark.page && one.index == mark.index;
    });
}

bool takes(const RecipeStep &step, RecipeFrom from, int artwork)
{
    return has_source(step.does) && step.source.from == from &&
           (from != RecipeFrom::Objects || step.source.objects.empty() || step.source.artwork == artwork);
}

/// The step of \p recipe that takes what is poured: the one worked on, the first that does what is asked, or
/// a new one.
RecipeStep &step_for(Recipe &recipe, RecipeFrom from, int artwork, const Pouring &how)
{
    if (how.step >= 0 && how.step < static_cast<int>(recipe.size()) &&
        takes(recipe[static_cast<std::size_t>(how.step)], from, artwork)) {
        return recipe[static_cast<std::size_t>(how.step)];
    }
    const RecipeDo does = how.away ? RecipeDo::TakeAway : RecipeDo::Add;
    const auto known = std::find_if(recipe.begin(), recipe.end(), [&](const RecipeStep &step) {
        return step.does == does && takes(step, from, artwork);
    });
    if (known != recipe.end()) {
        return *known;
    }
    RecipeStep step;
    step.does = does;
    step.source.from = from;
    return *recipe.insert(how.away ? recipe.end() : recipe.begin(), std::move(step));
}

} // namespace

Job pour_object(Job job, const std::string &ink, int artwork, const ObjectMark &object, const Pouring &how)
{
    Plate *plate = plate_of(job, ink);
    if (plate == nullptr || plate->recipe.empty()) {
        return job;
    }
    Recipe &recipe = plate->recipe;
    const bool chosen = how.step >= 0 && how.step < static_cast<int>(recipe.size()) &&
                        takes(recipe[static_cast<std::size_t>(how.step)], RecipeFrom::Objects, artwork);
    if (how.away && !chosen) {
        bool was_added = false;
        for (RecipeStep &step : recipe) {
            if (step.does == RecipeDo::Add && takes(step, RecipeFrom::Objects, artwork)) {
                auto &objects = step.source.objects;
                if (const auto at = find_mark(objects, object); at != objects.end()) {
                    objects.erase(at);
                    was_added = true;
                }
            }
        }
        if (was_added) {
            return job;
        }
    }
    RecipeStep &step = step_for(recipe, RecipeFrom::Objects, artwork, how);
    auto &objects = step.source.objects;
    if (const auto at = find_mark(objects, object); at != objects.end()) {
        objects.erase(at);
    } else {
        step.source.artwork = artwork;
        objects.push_back(object);
    }
    return job;
}

Job pour_area(Job job, const std::string &ink, const Rect &area, const Pouring &how)
{
    Plate *plate = plate_of(job, ink);
    if (plate == nullptr) {
        return job;
    }
    if (plate->recipe.empty()) {
        RecipeStep own;
        own.source.from = RecipeFrom::Plate;
        own.source.inks = {ink};
        plate->recipe.push_back(std::move(own));
    }
    step_for(plate->recipe, RecipeFrom::Drawn, 0, how).source.areas.push_back(area);
    return job;
}

} // namespace bichrom
