/// \file
/// Jobs on disk: a ZIP with job.json and the original artwork (docs/job-format.md).
/// Layer: core/job. libzip stays inside.
#pragma once

#include "core/job/job.h"

#include <filesystem>
#include <memory>
#include <string>

namespace bichrom {

/// A job together with its artwork.
struct OpenedJob
{
    Job job;
    std::shared_ptr<const Artwork> artwork;
    std::vector<std::string> warnings;
    /// Its page as it was interpreted to propose the job or to turn to it, so that who interprets it next
    /// need not do it again; may be null.
    std::shared_ptr<const PageContent> read = nullptr;
};

/// Whether the file's name says that it is a job.
[[nodiscard]] bool is_job_file(const std::filesystem::path &path);

/// Writes atomically: a failed save leaves the old file as it was. CannotWrite, DiskFull.
[[nodiscard]] Done save_job(const std::filesystem::path &path, const Job &job, const Artwork &artwork);

/// FileMissing, CannotRead, WrongFormat, NewerVersion, PasswordNeeded, TooLarge.
[[nodiscard]] Outcome<OpenedJob> open_job(const std::filesystem::path &path,
                                          const ReadingOptions &options = {}, const JobControl &control = {});

/// job.json as text, and back; the text form is what docs/job-format.md describes.
[[nodiscard]] std::string job_to_json(const Job &job, const Artwork &artwork);
[[nodiscard]] Outcome<Job> job_from_json(const std::string &text, const std::string &place);

/// The job, worked on another of its pages: inks that only that page has get plates. As Artwork::interpret().
[[nodiscard]] Outcome<OpenedJob> turn_to(OpenedJob opened, int page, const JobControl &control = {});

/// The job with plates for the inks of all \p pages, so that its order of printing is the same on each; it
/// stays on its page. As turn_to().
[[nodiscard]] Outcome<OpenedJob> turn_through(OpenedJob opened, const PageList &pages,
                                              const JobControl &control = {});

/// Opens a job, or an artwork with a job proposed for it. \p page 0 = the job's own, or 1.
/// As open_job() and Artwork::open(), and NoSuchPage.
[[nodiscard]] Outcome<OpenedJob> open_job_or_artwork(const std::filesystem::path &path, int page = 0,
                                                     const ReadingOptions &options = {},
                                                     const JobControl &control = {});

} // namespace bichrom
