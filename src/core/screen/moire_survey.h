/// \file
/// Which screens of a job beat against each other, where, and angles that do so least.
/// Layer: core/screen. May use core/line, core/job.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/screen/moire.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// Two screens of a job, or one and the mesh.
struct MoirePair
{
    std::string a, b;                ///< inks; b is "mesh" for the mesh
    Beat beat;                       ///< strength as the inks show it on the stock
    double worst_x = 0, worst_y = 0; ///< mm from the page's top left, where they meet most
    bool meet = true;                ///< they print on each other somewhere; else nothing beats
};

struct MoireSurvey
{
    std::vector<MoirePair> pairs;             ///< the worst first
    std::map<std::string, double> proposed;   ///< angles by ink, of plates that have one
    double badness = 0, badness_proposed = 0; ///< sums over all that beats
};

/// \param line   the page's plates; \param held  inks whose angles stay
/// \param condition  of the prediction. Errors as PlateLine::render()
[[nodiscard]] Outcome<MoireSurvey> survey_moire(const PlateLine &line, const Job &job,
                                                const ProcessProfile &condition,
                                                const std::optional<Mesh> &mesh = {},
                                                const std::vector<std::string> &held = {},
                                                double viewing_mm = 500, const JobControl &control = {});

} // namespace bichrom
