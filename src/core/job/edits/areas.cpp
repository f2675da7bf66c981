#include "core/job/edits/areas.h"

#include "core/artwork/page_boxes.h"

#include <algorithm>

namespace bichrom {

std::vector<NamedArea> area_set_of(const Job &job, const PageInfo &page)
{
    const Rect trim = box_within(page, PageBox::Trim, PageBox::Media);
    std::vector<NamedArea> set;
    for (NamedArea one : job.areas) {
        if (is_on(one, page.number)) {
            one.area.x -= trim.x;
            one.area.y -= trim.y;
            one.page = 0;
            set.push_back(std::move(one));
        }
    }
    return set;
}

Job with_area_set(Job job, const PageInfo &page, const std::vector<NamedArea> &set)
{
    const Rect trim = box_within(page, PageBox::Trim, PageBox::Media);
    for (NamedArea one : set) {
        one.area.x += trim.x;
        one.area.y += trim.y;
        if (std::find(job.areas.begin(), job.areas.end(), one) == job.areas.end()) {
            job.areas.push_back(std::move(one));
        }
    }
    return job;
}

bool is_template(const Job &job, const PlacedArtwork &placed)
{
    const auto looks = [&](const RecipeStep &step) {
        const RecipeFrom from = step.source.from;
        return has_source(step.does) && step.source.artwork == placed.id &&
               (from == RecipeFrom::File || from == RecipeFrom::Objects || from == RecipeFrom::Layer);
    };
    return !placed.prints && std::none_of(job.plates.begin(), job.plates.end(), [&](const Plate &plate) {
        return std::any_of(plate.recipe.begin(), plate.recipe.end(), looks);
    });
}

} // namespace bichrom
