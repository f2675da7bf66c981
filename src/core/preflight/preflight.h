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

/// Checks what \p job prints on its page by the same rules as the artwork: inks as its routes send them,
/// plates as they come out. Checks of the file itself are left out. \return as check_page()
[[nodiscard]] Outcome<std::vector<Finding>>
check_printed(const Artwork &artwork, const std::shared_ptr<const PageContent> &page, const Scene &scene,
              const Job &job, const ShopRules &rules, const JobControl &control = {});

/// The findings of a job: \p printed ones, those of the customer's file that only concern the file or other
/// pages, and as solved, with by what, those of the job's page that are no more so in what prints.
/// \param original  of check_artwork(); \param printed  of check_printed()
[[nodiscard]] std::vector<Finding> follow_job(std::vector<Finding> original, std::vector<Finding> printed,
                                              const Scene &scene, const Job &job);

/// \p findings with those of check_plates(), which stand for what check_page() said of the artwork's own
/// finishes.
[[nodiscard]] std::vector<Finding> with_plate_findings(std::vector<Finding> findings,
                                                       const std::vector<Finding> &of_plates);

/// Open before solved, most severe first, then by the order of the checks, then by page.
void sort_findings(std::vector<Finding> &findings);

/// Findings as JSON, for \c check --json and reports: an array in the order given.
[[nodiscard]] std::string findings_to_json(const std::string &file, const std::string &rules,
                                           const std::vector<Finding> &findings,
                                           const std::vector<AcceptedFinding> &accepted = {});

} // namespace bichrom
