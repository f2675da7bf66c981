#include "core/job/screen_angles.h"

#include "core/colour/process_profile.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace bichrom {

namespace {

std::pair<std::string, std::string> pair_of(const std::string &a, const std::string &b)
{
    return a < b ? std::pair(a, b) : std::pair(b, a);
}

} // namespace

double degrees_between(const Screen &a, const Screen &b)
{
    const double turn = repeats_after(a) == 90 && repeats_after(b) == 90 ? 90.0 : 180.0;
    return std::fabs(std::remainder(a.angle.value - b.angle.value, turn));
}

std::vector<ClosePair> close_pairs(const Job &job)
{
    constexpr double enough = 15;
    std::vector<ClosePair> pairs;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        for (std::size_t k = i + 1; k < job.plates.size(); ++k) {
            const Plate &a = job.plates[i];
            const Plate &b = job.plates[k];
            const double degrees = degrees_between(a.screen, b.screen);
            const bool hidden = process_channel(a.ink) == 2 || process_channel(b.ink) == 2;
            const bool white_and_black = (a.kind == InkUse::White && process_channel(b.ink) == 3) ||
                                         (b.kind == InkUse::White && process_channel(a.ink) == 3);
            if (has_lattice(a.screen) && has_lattice(b.screen) && degrees < enough - 1e-9 && !hidden &&
                !white_and_black) {
                const auto &meant = job.meant_angles;
                pairs.push_back(
                    {i, k, degrees,
                     std::find(meant.begin(), meant.end(), pair_of(a.ink, b.ink)) != meant.end()});
            }
        }
    }
    return pairs;
}

Job with_meant_angles(Job job, const std::string &first, const std::string &second, bool meant)
{
    const auto pair = pair_of(first, second);
    std::erase(job.meant_angles, pair);
    if (meant && first != second) {
        job.meant_angles.push_back(pair);
    }
    return job;
}

} // namespace bichrom
