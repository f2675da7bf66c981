#include "core/preflight/lost_artwork.h"

#include "core/artwork/found_colours.h"
#include "core/raster/patches.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace bichrom {

namespace {

constexpr double finest = 150.0;
constexpr double most_pixels = 4e6;
constexpr int counts_from = 64; ///< tone of a pixel that is lost; a quarter, so that hairlines count

/// What is lost of one object.
struct Loss
{
    Rect area; ///< mm
    double square_cm = 0;
};

void join(Rect &a, const Rect &b)
{
    if (a.width <= 0.0) {
        a = b;
        return;
    }
    const double right = std::max(a.x + a.width, b.x + b.width);
    const double bottom = std::max(a.y + a.height, b.y + b.height);
    a.x = std::min(a.x, b.x);
    a.y = std::min(a.y, b.y);
    a.width = right - a.x;
    a.height = bottom - a.y;
}

} // namespace

bool shows_paper_white(const Stock &stock)
{
    // From memory: white coated and uncoated papers lie above L* 90 with little chroma.
    return stock.clear || stock.colour.l < 90.0 || std::hypot(stock.colour.a, stock.colour.b) > 8.0;
}

Outcome<std::vector<Finding>> find_lost(const std::shared_ptr<const PageContent> &page, const Scene &scene,
                                        const Job &job, const JobControl &control)
{
    PlateSetup setup = setup_of(job);
    setup.traps.on = false; // what spreads was not lost
    setup.lost = shows_paper_white(job.stock_here()) ? Lost::InksAndWhite : Lost::Inks;
    const auto plate_line = PlateLine::make(page, setup, control);
    if (!plate_line) {
        return plate_line.error();
    }
    const double square_inches =
        page->width().value * page->height().value / points_per_inch / points_per_inch;
    const Dpi dpi(std::min(finest, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    const auto tile = (*plate_line)->whole_page(dpi, Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    // What the scene says of each object: only those that do not print, wholly or in part, can be meant.
    std::vector<bool> may_be_lost(scene.objects.size());
    const std::vector<std::string> inks = job.inks();
    for (std::size_t i = 0; i < scene.objects.size(); ++i) {
        const SceneObject &object = scene.objects[i];
        const FoundColour &colour = scene.colours[static_cast<std::size_t>(object.colour_number)];
        const Reach reach = reach_of({job.page, object.own_index, object.layer, &colour}, job.routes, inks);
        const bool white = reach.paper_white && reach.plates.empty() && !reach.deliberate &&
                           setup.lost == Lost::InksAndWhite;
        may_be_lost[i] = reach.lost() || white || (colour.colour.values.empty() && !reach.deliberate);
    }
    const double mm = millimetres_per_inch / dpi.value;
    std::map<int, Loss> losses; // by object
    for (const Patch &patch : find_patches(tile->plates.back(), counts_from)) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", page->place(), {}};
        }
        const double x = (patch.seed_x + 0.5) / dpi.value * points_per_inch;
        const double y = (patch.seed_y + 0.5) / dpi.value * points_per_inch;
        const double slack = points_per_inch / dpi.value;
        int object = -1;
        for (std::size_t i = scene.objects.size(); i-- > 0 && object < 0;) {
            const Rect &b = scene.objects[i].bounds;
            if (may_be_lost[i] && x > b.x - slack && x < b.x + b.width + slack && y > b.y - slack &&
                y < b.y + b.height + slack) {
                object = static_cast<int>(i);
            }
        }
        Loss &loss = losses[object];
        join(loss.area, {patch.left * mm, patch.top * mm, (patch.right - patch.left + 1) * mm,
                         (patch.bottom - patch.top + 1) * mm});
        loss.square_cm += patch.cover * mm * mm / 100.0;
    }
    std::map<int, Finding> by_colour;
    std::map<int, double> totals;
    for (const auto &[object, loss] : losses) {
        const int number = object < 0 ? -1 : scene.objects[static_cast<std::size_t>(object)].colour_number;
        Finding &finding = by_colour[number];
        totals[number] += loss.square_cm;
        finding.places.push_back({object, loss.area, format_number(loss.square_cm, 3) + " cm²"});
    }
    std::vector<Finding> findings;
    for (auto &[number, finding] : by_colour) {
        const FoundColour *colour = number < 0 ? nullptr : &scene.colours[static_cast<std::size_t>(number)];
        const bool white = colour != nullptr && colour->inks.empty();
        finding.check = lost_check;
        finding.severity = Severity::Warning;
        finding.page = job.page;
        finding.subject = colour == nullptr ? "part of the page" : describe(colour->colour);
        finding.title = white ? "White artwork prints nothing on this stock: " + finding.subject
                              : "Reaches no plate: " + finding.subject;
        finding.limit = "every colour on a plate, or meant not to print";
        finding.why = white ? "The stock is not white: what is white in the artwork will show the stock."
                            : "It is in the artwork and would be missing from the print.";
        finding.remedy = white ? "In Ink, send it to a white plate, or say that the bare stock shows."
                               : "In Ink, send it to a plate, or say that it does not print.";
        std::stable_sort(finding.places.begin(), finding.places.end(),
                         [](const FindingPlace &a, const FindingPlace &b) {
                             return a.area.width * a.area.height > b.area.width * b.area.height;
                         });
        findings.push_back(std::move(finding));
    }
    return findings;
}

} // namespace bichrom
