#include "core/job/job.h"

namespace bichrom {

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

Job propose_job(const Scene &scene, std::string name, int page)
{
    static constexpr double spot_angles[] = {22.5, 52.5, 82.5, 37.5, 67.5, 7.5};
    Job job;
    job.name = std::move(name);
    job.page = page;
    std::size_t spots = 0;
    for (const FoundInk &ink : scene.inks) {
        Plate plate{ink.name, ink.kind, ink.solid, {}};
        if (ink.kind == InkKind::Spot) {
            plate.screen.angle = Degrees(spot_angles[spots++ % std::size(spot_angles)]);
        } else {
            plate.screen.angle = Degrees(ink.name == "Cyan"      ? 15.0
                                         : ink.name == "Magenta" ? 75.0
                                         : ink.name == "Yellow"  ? 0.0
                                                                 : 45.0);
        }
        job.plates.push_back(std::move(plate));
    }
    return job;
}

Done check_job(const Job &job)
{
    if (const Done good = check_resolution(job.film.resolution); !good) {
        return good;
    }
    for (const Plate &plate : job.plates) {
        if (const Done good = check_screen(plate.screen, job.film.resolution); !good) {
            Error error = good.error();
            error.place = plate.ink;
            return error;
        }
    }
    return {};
}

} // namespace bichrom
