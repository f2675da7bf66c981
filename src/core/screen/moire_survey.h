/// \file
/// Which screens of a job beat against each other, where, and angles that do so least.
/// Layer: core/screen. May use core/line, core/job.
#pragma once

#include "core/base/job_control.h"
#include "core/base/outcome.h"
#include "core/job/job.h"
#include "core/line/plate_line.h"
#include "core/screen/art_period.h"
#include "core/screen/beat_patch.h"
#include "core/screen/moire.h"

#include <map>
#include <optional>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Two screens of a job, or one and the mesh, or one and artwork that repeats on its plate or on another.
struct MoirePair
{
    std::string a, b;                ///< inks; b is "mesh" for the mesh, "artwork" for the artwork
    Beat beat;                       ///< strength as the inks show it on the stock
    double worst_x = 0, worst_y = 0; ///< mm from the page's top left, where they meet most
    bool meet = true;                ///< they print on each other somewhere; else nothing beats
    BeatTask task{};                 ///< to show how it looks there
    /// Where it is seen: the nearest angle of b, or of a beside mesh and artwork, at which it is not.
    std::optional<double> unseen_angle{};
    std::string art_of{}; ///< the ink that artwork is on: a itself, or another that it prints with

    /// What stays where it is, and what is turned.
    [[nodiscard]] Lattice fixed() const;
    [[nodiscard]] Lattice turned() const;

    [[nodiscard]] bool has_place() const { return meet && b != "mesh"; }
};

struct MoireSurvey
{
    std::vector<MoirePair> pairs;             ///< the worst first
    std::map<std::string, double> proposed;   ///< angles by ink, of plates that have one
    double badness = 0, badness_proposed = 0; ///< sums over all that beats
};

/// \param line     the page's plates
/// \param condition  of the prediction
/// \param periods  what repeats in the artwork (find_art_periods()), looked at with every screen that prints
/// there \param held     inks whose angles stay \return errors as PlateLine::render()
[[nodiscard]] Outcome<MoireSurvey> survey_moire(const PlateLine &line, const Job &job,
                                                const ProcessProfile &condition,
                                                std::span<const ArtPeriod> periods,
                                                const std::optional<Mesh> &mesh = {},
                                                const std::vector<std::string> &held = {},
                                                double viewing_mm = 500, const JobControl &control = {});

} // namespace bichrom
