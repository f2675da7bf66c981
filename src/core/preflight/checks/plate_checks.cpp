// Checks of a job's plates: what the artwork does not contain, and how it meets what it does.
#include "core/preflight/checks/checks.h"

#include "core/colour/colour_difference.h"
#include "core/job/print_model.h"
#include "core/preflight/ink_names.h"
#include "core/preflight/lost_artwork.h"
#include "core/raster/choke.h"
#include "core/raster/patches.h"

#include <algorithm>
#include <cmath>

namespace bichrom::checks {

namespace {

constexpr int inked_from = 128;         ///< tone; half covered
constexpr std::size_t most_places = 50; ///< that are listed of one plate

const Plane &plane_of(const CheckContext &c, const Plate &plate)
{
    return c.survey.tile.plates[static_cast<std::size_t>(c.survey.find(plate.ink))];
}

bool is_finish(const Plate &plate)
{
    return plate.kind == InkUse::Varnish || plate.kind == InkUse::Metallic || plate.kind == InkUse::Foil;
}

double pixels_of(const CheckContext &c, double mm)
{
    return mm / c.survey.millimetres_per_pixel();
}

double square_mm(const CheckContext &c, double pixels)
{
    return pixels * c.survey.millimetres_per_pixel() * c.survey.millimetres_per_pixel();
}

Rect area_of(const CheckContext &c, const Patch &patch)
{
    return c.survey.area_of(
        {patch.left, patch.top, patch.right - patch.left + 1, patch.bottom - patch.top + 1});
}

/// The largest patches of \p plane as places about \p subject, those of at least \p least_mm2.
void report_patches(CheckContext &c, const std::string &subject, const Plane &plane, double least_mm2,
                    const std::string &limit, const std::string &title)
{
    std::vector<Patch> patches = find_patches(plane, inked_from);
    std::sort(patches.begin(), patches.end(),
              [](const Patch &a, const Patch &b) { return a.cover > b.cover; });
    patches.resize(std::min(patches.size(), most_places));
    for (const Patch &patch : patches) {
        const double mm2 = square_mm(c, patch.cover);
        if (mm2 >= least_mm2) {
            c.report(subject, FindingPlace{-1, area_of(c, patch), with_unit(mm2, "mm²")}, mm2, limit, title);
        }
    }
}

/// Whether \p plate's ink needs white under it on the job's stock.
bool needs_white(const Job &job, const Plate &plate, const PrintGround &ground)
{
    if (plate.kind != InkUse::Spot && plate.kind != InkUse::Process) {
        return false;
    }
    constexpr double covers = 0.9;
    if (job.stock_here().clear) {
        return plate.traits.opacity < covers;
    }
    constexpr double seen = 10; // ΔE; a black on black cotton needs none
    return ciede2000(solid_on(plate, ground.stock, ground, *ProcessProfile::fogra39()), plate.solid) > seen;
}

} // namespace

void plate_not_in_list(CheckContext &c)
{
    if (c.rules.inks.empty()) {
        return;
    }
    for (const Plate &plate : c.job->plates) {
        const bool of_artwork = holds_ink(c.scene, plate.ink);
        if (of_artwork || plate.kind == InkUse::Process || !plate.tin.empty()) {
            continue; // found in the artwork already, or printed from a tin that is asked about
        }
        const NearestName nearest = nearest_name(plate.ink, c.rules.inks);
        if (nearest.likeness == NameLikeness::Different) {
            c.report(plate.ink, FindingPlace{}, 0, {}, "Plate not in the shop's list: " + plate.ink);
        } else if (nearest.likeness != NameLikeness::Same) {
            c.report(plate.ink, FindingPlace{-1, {}, describe(nearest.likeness)}, 0, nearest.name,
                     "Plate name nearly right: " + plate.ink + " for " + nearest.name);
        }
    }
}

void plate_empty(CheckContext &c)
{
    for (const Plate &plate : c.job->plates) {
        const Plane &plane = plane_of(c, plate);
        if (std::all_of(plane.pixels.begin(), plane.pixels.end(), [](std::uint8_t v) { return v == 0; })) {
            c.report(plate.ink, FindingPlace{}, 0, {}, "Plate that prints nothing: " + plate.ink);
        }
    }
}

void white_missing(CheckContext &c)
{
    const Job &job = *c.job;
    if (!shows_paper_white(job.stock_here())) {
        return;
    }
    const PrintGround ground = print_ground(job.plates, job.stock_here());
    const double rim = pixels_of(c, c.limit("rim_mm"));
    const PixelRect &all = c.survey.tile.rect;
    // What is printed so far, or anywhere on clear film, and a rim: flat white, and white in tones.
    Plane white(all.width, all.height), tones(all.width, all.height);
    const auto join = [](Plane &plane, const Plane &other) {
        for (std::size_t i = 0; i < plane.pixels.size(); ++i) {
            plane.pixels[i] = std::max(plane.pixels[i], other.pixels[i]);
        }
    };
    const auto add_white = [&](const Plate &plate) {
        if (plate.kind == InkUse::White) {
            join(white, spread(plane_of(c, plate), rim));
            join(tones, spread_tones(plane_of(c, plate), rim));
        }
    };
    if (job.stock_here().clear) { // seen through the film, white is printed last
        std::for_each(job.plates.begin(), job.plates.end(), add_white);
    }
    for (const Plate &plate : job.plates) {
        if (!job.stock_here().clear) {
            add_white(plate);
        }
        if (!needs_white(job, plate, ground)) {
            continue;
        }
        Plane missing = plane_of(c, plate);
        for (std::size_t i = 0; i < missing.pixels.size(); ++i) {
            // A tenth counts; a base that keeps tones has about as much white as there is ink. Less than that
            // are the crumbs of letters thinner than the choke.
            const int ink = missing.pixels[i];
            const bool bare = white.pixels[i] < 25 && tones.pixels[i] < ink * 3 / 4;
            missing.pixels[i] = ink > 25 && bare ? 255 : 0;
        }
        report_patches(c, plate.ink, missing, c.limit("area_mm2"), {},
                       "No white under " + plate.ink + " on " + job.stock_here().name);
    }
}

void finish_knocks_out(CheckContext &c)
{
    for (const Plate &plate : c.job->plates) {
        if (!plate.recipe_on(c.job->page).empty() ||
            (plate.kind != InkUse::White && plate.kind != InkUse::Varnish &&
             plate.kind != InkUse::Technical)) {
            continue; // computed plates knock nothing out; metal and foil may be meant to
        }
        for (const SceneObject *one : c.art()) {
            const SceneObject &object = *one;
            const auto inks = inks_of(object.colour);
            const bool prints = std::any_of(inks.begin(), inks.end(),
                                            [&](const auto &part) { return part.first == plate.ink; });
            if (!prints || object.overprint) {
                continue;
            }
            const bool over_something =
                std::any_of(c.scene.objects.begin(), c.scene.objects.begin() + object.index,
                            [&](const SceneObject &under) {
                                const auto below = inks_of(under.colour);
                                const bool other =
                                    is_image(under) ||
                                    std::any_of(below.begin(), below.end(),
                                                [&](const auto &part) { return part.first != plate.ink; });
                                return other && overlaps(c.area(under), c.area(object));
                            });
            if (over_something) {
                c.report(plate.ink, object, {}, 0, {}, plate.ink + " knocks out what is under it");
            }
        }
    }
}

void finish_thin(CheckContext &c)
{
    const double line = pixels_of(c, c.limit("line_mm"));
    for (const Plate &plate : c.job->plates) {
        if (!is_finish(plate)) {
            continue;
        }
        Plane thin = plane_of(c, plate);
        const Plane holds = spread(choke(thin, line / 2), line / 2);
        for (std::size_t i = 0; i < thin.pixels.size(); ++i) {
            thin.pixels[i] = thin.pixels[i] >= inked_from && holds.pixels[i] < inked_from ? 255 : 0;
        }
        std::size_t listed = 0;
        for (const Patch &patch : find_patches(thin, inked_from)) {
            const int longest = std::max(patch.right - patch.left, patch.bottom - patch.top) + 1;
            if (longest < line || listed == most_places) { // the tip of a corner is no line
                continue;
            }
            ++listed;
            c.report(plate.ink,
                     FindingPlace{-1, area_of(c, patch),
                                  with_unit(longest * c.survey.millimetres_per_pixel(), "mm") + " long"},
                     longest, with_unit(c.limit("line_mm"), "mm"), plate.ink + " has lines too thin to hold");
        }
    }
}

void finish_large(CheckContext &c)
{
    const double most = c.limit("area_cm2");
    for (const Plate &plate : c.job->plates) {
        if (!is_finish(plate)) {
            continue;
        }
        for (const Patch &patch : find_patches(plane_of(c, plate), inked_from)) {
            const double cm2 = square_mm(c, patch.cover) / 100;
            if (cm2 > most) {
                c.report(plate.ink, FindingPlace{-1, area_of(c, patch), with_unit(cm2, "cm²", 1)}, cm2,
                         with_unit(most, "cm²", 1), plate.ink + " covers a large closed area");
            }
        }
    }
}

void finish_near_edge(CheckContext &c)
{
    const double least = c.limit("distance_mm");
    const Rect trim = c.box(PageBox::Trim);
    struct Line
    {
        std::string name;
        bool upright;
        double at;    ///< mm of the page
        int from, to; ///< sides that count: −1 before it, 1 behind it
    };
    std::vector<Line> lines = {{"the left edge", true, trim.x, 1, 1},
                               {"the right edge", true, trim.x + trim.width, -1, -1},
                               {"the top edge", false, trim.y, 1, 1},
                               {"the bottom edge", false, trim.y + trim.height, -1, -1}};
    for (const Fold &fold : c.rules.folds) {
        lines.push_back({"a fold", fold.upright, (fold.upright ? trim.x : trim.y) + fold.at.value, -1, 1});
    }
    for (const Plate &plate : c.job->plates) {
        if (!is_finish(plate)) {
            continue;
        }
        const Plane &plane = plane_of(c, plate);
        for (const Line &line : lines) {
            const double low = line.from < 0 ? line.at - least : line.at;
            const double high = line.to > 0 ? line.at + least : line.at;
            const Rect strip = line.upright ? Rect{low, trim.y, high - low, trim.height}
                                            : Rect{trim.x, low, trim.width, high - low};
            const PixelRect part = c.survey.pixels(strip);
            double nearest = least;
            int left = plane.width, top = plane.height, right = -1, bottom = -1;
            for (int y = part.y; y < part.y + part.height; ++y) {
                for (int x = part.x; x < part.x + part.width; ++x) {
                    const double mm =
                        ((line.upright ? x : y) + 0.5) * c.survey.millimetres_per_pixel() - line.at;
                    if (plane.at(x, y) >= inked_from && std::fabs(mm) < least) {
                        nearest = std::min(nearest, std::fabs(mm));
                        left = std::min(left, x);
                        right = std::max(right, x);
                        top = std::min(top, y);
                        bottom = std::max(bottom, y);
                    }
                }
            }
            if (right >= 0) {
                c.report(plate.ink,
                         FindingPlace{-1, c.survey.area_of({left, top, right - left + 1, bottom - top + 1}),
                                      with_unit(nearest, "mm") + " from " + line.name},
                         least - nearest, with_unit(least, "mm"), plate.ink + " is near the trim or a fold");
            }
        }
    }
}

void under_foil(CheckContext &c)
{
    for (const Plate &foil : c.job->plates) {
        if (foil.kind != InkUse::Foil) {
            continue;
        }
        const Plane inner = choke(plane_of(c, foil), pixels_of(c, c.limit("rim_mm")));
        for (const Plate &plate : c.job->plates) {
            if (&plate == &foil) {
                break; // what is printed after the foil lies over it
            }
            if (plate.kind == InkUse::Foil || plate.kind == InkUse::Technical) {
                continue;
            }
            Plane under = plane_of(c, plate);
            for (std::size_t i = 0; i < under.pixels.size(); ++i) {
                under.pixels[i] = under.pixels[i] > 25 && inner.pixels[i] >= inked_from ? 255 : 0;
            }
            report_patches(c, plate.ink + " / " + foil.ink, under, c.limit("area_mm2"),
                           with_unit(c.limit("rim_mm"), "mm"), plate.ink + " lies under " + foil.ink);
        }
    }
}

void picture_in_line_plate(CheckContext &c)
{
    const std::vector<std::string> inks = c.job->inks();
    for (const Plate &plate : c.job->plates) {
        if (plate.kind != InkUse::Foil && plate.kind != InkUse::Technical) {
            continue;
        }
        for (const SceneObject *one : c.art()) {
            const SceneObject &object = *one;
            if (object.kind != ObjectKind::Image) {
                continue;
            }
            const FoundColour &colour = c.scene.colours[static_cast<std::size_t>(object.colour_number)];
            const auto &names = object.colour.colorants;
            const Reach reach =
                reach_of({c.job->page, object.own_index, object.layer, &colour}, c.job->routes, inks);
            bool prints = reach.route < 0 && names_inks(object.colour) &&
                          std::find(names.begin(), names.end(), plate.ink) != names.end();
            if (reach.route >= 0) {
                const auto &targets = c.job->routes[static_cast<std::size_t>(reach.route)].targets;
                prints = std::any_of(targets.begin(), targets.end(),
                                     [&](const RouteTarget &target) { return target.ink == plate.ink; });
            }
            for (const RecipeStep &step : plate.recipe_on(c.job->page)) {
                const RecipeSource &source = step.source;
                prints =
                    prints ||
                    (step.does == RecipeDo::Add && source.from == RecipeFrom::Objects &&
                     source.artwork == object.artwork &&
                     std::any_of(source.objects.begin(), source.objects.end(), [&](const ObjectMark &mark) {
                         return mark.page == c.job->page && mark.index == object.own_index;
                     }));
            }
            if (prints) {
                c.report(plate.ink, object, {}, 0, {}, "A picture goes to " + plate.ink);
            }
        }
    }
}

void unscreened_tint(CheckContext &c)
{
    const auto tone = [&](const char *limit) { return c.limit(limit) / 100 * 255; };
    const double least = tone("least_percent"), most = tone("most_percent");
    for (const Plate &plate : c.job->plates) {
        if (plate.screen.kind != ScreenKind::None) {
            continue;
        }
        // Not the edges of solid shapes, which are grey as well: what is a tint on all sides.
        const Plane &plane = plane_of(c, plate);
        Plane tints(plane.width, plane.height);
        const auto is_tint = [&](int x, int y) {
            const int value = plane.at(x, y);
            return value >= least && value <= most;
        };
        for (int y = 1; y + 1 < plane.height; ++y) {
            for (int x = 1; x + 1 < plane.width; ++x) {
                if (is_tint(x, y) && is_tint(x - 1, y) && is_tint(x + 1, y) && is_tint(x, y - 1) &&
                    is_tint(x, y + 1)) {
                    tints.row(y)[static_cast<std::size_t>(x)] = 255;
                }
            }
        }
        report_patches(c, plate.ink, tints, c.limit("area_mm2"), {},
                       "Tints on " + plate.ink + ", which has no halftone");
    }
}

} // namespace bichrom::checks
