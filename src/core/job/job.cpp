#include "core/job/job.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

std::string Job::artwork_name(int artwork) const
{
    const PlacedArtwork *placed = placements.find(artwork);
    return placed == nullptr ? std::string() : placed->name;
}

std::vector<std::string> Job::inks() const
{
    std::vector<std::string> names;
    for (const Plate &plate : plates) {
        names.push_back(plate.ink);
    }
    return names;
}

int Job::find_plate(const std::string &ink) const
{
    for (std::size_t i = 0; i < plates.size(); ++i) {
        if (plates[i].ink == ink) {
            return static_cast<int>(i);
        }
    }
    return -1;
}

int Job::tins() const
{
    return static_cast<int>(
        std::count_if(plates.begin(), plates.end(), [](const Plate &plate) { return plate.tin.empty(); }));
}

void Job::share_tins()
{
    for (Plate &plate : plates) {
        if (plate.tin.empty()) {
            continue;
        }
        const int at = find_plate(plate.tin);
        if (at < 0 || !plates[static_cast<std::size_t>(at)].tin.empty() || plate.tin == plate.ink) {
            plate.tin.clear(); // gone, or itself from another's
            continue;
        }
        const Plate &source = plates[static_cast<std::size_t>(at)];
        plate.solid = source.solid;
        plate.kind = source.kind;
        plate.traits = source.traits;
    }
}

namespace {

/// Smallest turn between two round-dot screens, which repeat every 90°.
double apart(double a, double b)
{
    return std::fabs(std::remainder(a - b, 90.0));
}

/// The first listed angle that keeps 15° from all in \p used, or the one that keeps most.
double free_angle(const std::vector<double> &used)
{
    static constexpr double wished[] = {22.5, 52.5, 82.5, 37.5, 67.5, 7.5, 45.0, 75.0, 15.0, 0.0};
    double best = wished[0];
    double best_gap = -1.0;
    for (const double angle : wished) {
        double gap = 90.0;
        for (const double other : used) {
            gap = std::min(gap, apart(angle, other));
        }
        if (gap >= 15.0) {
            return angle;
        }
        if (gap > best_gap) {
            best = angle;
            best_gap = gap;
        }
    }
    return best;
}

} // namespace

const Recipe &Plate::recipe_on(int page) const
{
    static const Recipe none;
    return holds_for(recipe_pages, page) ? recipe : none;
}

const Stock &Job::stock_here() const
{
    const auto own = page_stocks.find(page);
    return own == page_stocks.end() ? stock : own->second;
}

Plate propose_plate(const std::vector<Plate> &plates, std::string ink, InkUse kind, const Lab &solid)
{
    static constexpr double process_angles[] = {15.0, 75.0, 0.0, 45.0};
    Plate plate{std::move(ink), kind, solid, {}, usual_traits(kind), {}, {}, {}, {}, false};
    if (const int channel = process_channel(plate.ink); channel >= 0) {
        plate.screen.angle = Degrees(process_angles[channel]);
        return plate;
    }
    std::vector<double> used;
    for (const Plate &other : plates) {
        if (other.ink != "Yellow") { // too light to beat visibly
            used.push_back(other.screen.angle.value);
        }
    }
    plate.screen.angle = Degrees(free_angle(used));
    return plate;
}

Job propose_job(const Scene &scene, std::string name, int page)
{
    Job job;
    job.name = std::move(name);
    job.page = page;
    for (const FoundInk &ink : scene.inks) {
        job.plates.push_back(propose_plate(
            job.plates, ink.name, ink.kind == InkKind::Process ? InkUse::Process : InkUse::Spot, ink.solid));
    }
    return job;
}

Error unknown_ink(const Job &job, const std::string &name)
{
    std::string known;
    for (const std::string &ink : job.inks()) {
        known += (known.empty() ? "" : ", ") + ink;
    }
    return {ErrorCode::UnknownInk, "There is no ink '" + name + "'.", job.name,
            "Its inks are: " + known + "."};
}

Done check_job(const Job &job)
{
    if (const Done good = check_traps(job.traps); !good) {
        return good;
    }
    if (const Done good = check_overprint(job.overprint); !good) {
        return good;
    }
    if (const Done good = check_film(job.film); !good) {
        return good;
    }
    if (const Done good = check_areas(job.areas); !good) {
        return good;
    }
    for (const Plate &plate : job.plates) {
        for (const Done &good :
             {check_screen(plate.screen, job.film.resolution), check_press_curve(plate.press)}) {
            if (!good) {
                Error error = good.error();
                error.place = plate.ink;
                return error;
            }
        }
    }
    return {};
}

} // namespace bichrom
