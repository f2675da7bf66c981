/// \file
/// Runs the shop rules over artwork.
/// Layer: core/preflight.
#pragma once

#include "core/artwork/artwork.h"
#include "core/artwork/scene.h"
#include "core/base/job_control.h"
#include "core/job/job.h"
#include "core/preflight/finding.h"
#include "core/preflight/shop_rules.h"

#include <optional>
#include <vector>

namespace bichrom {

/// Checks one page as it prints, its colours read by \p settings.
/// Findings come most severe first, then in the order of the checks.
/// NoSuchPage, CannotRead, TooLarge, Cancelled.
[[nodiscard]] Outcome<std::vector<Finding>> check_page(const Artwork &artwork, int page,
                                                       const ShopRules &rules,
                                                       const ColourSettings &settings = {},
                                                       const JobControl &control = {});

/// Checks every page; progress counts pages.
[[nodiscard]] Outcome<std::vector<Finding>> check_artwork(const Artwork &artwork, const ShopRules &rules,
                                                          const ColourSettings &settings = {},
                                                          const JobControl &control = {});

/// Checks the plates of \p job on its page, computed ones among them.
/// \param page, scene  of the media box
/// \return as check_page()
[[nodiscard]] Outcome<std::vector<Finding>>
check_plates(const Artwork &artwork, const std::shared_ptr<const PageContent> &page, const Scene &scene,
             const Job &job, const ShopRules &rules, const JobControl &control = {});

/// What the rules find in what a job prints on its page.
struct JobFindings
{
    std::vector<Finding> lost;   ///< find_lost()
    std::vector<Finding> plates; ///< check_plates()
    /// The checks of the artwork, run on what the job prints; none while that is the artwork as it came.
    std::optional<std::vector<Finding>> printed;
    std::vector<int> routes; ///< by object of the page: the job's route that decides, or −1
    std::vector<bool>
        overprint_changed; ///< by object: it overprints or knocks out otherwise than in the file
};

/// \param page, scene  of the media box. \return as check_page()
[[nodiscard]] Outcome<JobFindings> find_in_job(const Artwork &artwork,
                                               const std::shared_ptr<const PageContent> &page,
                                               const Scene &scene, const Job &job, const ShopRules &rules,
                                               const JobControl &control = {});

/// The findings of a job: those of the customer's file that only concern the file or other pages, what is
/// found in what prints, and as solved, with by what, those of the job's page that are no more so in print.
/// \param original  of check_artwork(); \param found  of the same \p job
[[nodiscard]] std::vector<Finding> follow_job(std::vector<Finding> original, const JobFindings &found,
                                              const Job &job);

/// The rules that \p job is checked by: its own, else the first shipped ones. As rules_from_json().
[[nodiscard]] Outcome<ShopRules> rules_of(const Job &job);

/// All of it: what \p rules find in the whole artwork, and, where the job has plates, in what it prints on
/// its page. As check_page()
[[nodiscard]] Outcome<std::vector<Finding>>
findings_of(const Artwork &artwork, const Job &job, const ShopRules &rules, const JobControl &control = {});

/// Whether nobody has solved or accepted \p finding.
[[nodiscard]] bool is_open(const Finding &finding, const std::vector<AcceptedFinding> &accepted);

/// Open before solved, most severe first, then by the order of the checks, then by page.
void sort_findings(std::vector<Finding> &findings);

/// Findings as JSON, for \c check --json and reports: an array in the order given.
[[nodiscard]] std::string findings_to_json(const std::string &file, const std::string &rules,
                                           const std::vector<Finding> &findings,
                                           const std::vector<AcceptedFinding> &accepted = {});

} // namespace bichrom
