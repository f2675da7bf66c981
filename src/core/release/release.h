/// \file
/// A release: everything that leaves the desk for a job, in a numbered folder with checksums.
/// Layer: core/release. May use core/job, core/output, core/report, core/preflight.
#pragma once

#include "core/base/job_control.h"
#include "core/base/page_list.h"
#include "core/job/job_file.h"
#include "core/output/output_set.h"
#include "core/release/gate.h"

#include <filesystem>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace bichrom {

/// What a release holds besides the job, the proof and the ticket.
struct ReleaseParts
{
    bool films = true;     ///< as the job's settings describe them
    bool plate_pdf = true; ///< the plates as PDF/X-4
    bool plates = false;   ///< 8-bit plates at 300 dpi
    friend bool operator==(const ReleaseParts &, const ReleaseParts &) = default;
};

/// How a job is released.
struct ReleaseRequest
{
    std::filesystem::path folder; ///< of all releases; the job gets a folder in it
    PageList pages{};             ///< empty = the one worked on
    std::string date;             ///< as it stands on labels and documents, YYYY-MM-DD
    std::string
        pass_reason{}; ///< why the job is released though something stands in the way; empty = it is not
    std::string accept_damage{}; ///< as of write_pages()
    std::vector<DeviceNeeds> devices{};
    ReleaseParts parts{};
};

/// What became of it.
struct Release
{
    int number = 0;               ///< from 1; 0 = nothing was written, since stops were not passed
    std::filesystem::path folder; ///< "DIR/job/release-001"
    std::vector<GateStop> stops;  ///< what stood in the way
    std::vector<std::pair<std::string, std::string>> files; ///< name in the folder and SHA-256, sorted
    std::vector<Manifest> films;
    std::vector<std::string> differing; ///< of release_again(): files that are not as they were
};

/// Where the releases of a job lie.
[[nodiscard]] std::filesystem::path releases_of(const std::filesystem::path &folder, const std::string &job);

/// Where nothing stands in the way, neither check_gate() nor stale_outputs(), or a reason to pass is given:
/// writes films, plates, proof, ticket, the job itself, release.json and SHA256SUMS into a new folder, which
/// appears when all of it is there. What an earlier release wrote is never touched.
/// \return as check_gate(), write_pages(), compose_pdf(), make_proof(), job_ticket(); then no folder is left
[[nodiscard]] Outcome<Release> release_job(const OpenedJob &opened, const ReleaseRequest &request,
                                           const JobControl &control = {});

/// The release of a job that was written last.
struct LastRelease
{
    int number = 0; ///< 0 = there is none
    std::string date;
    bool same = false; ///< the job is as it was then; which page is worked on does not count
};
/// \p opened  whose releases lie in \p folder
[[nodiscard]] LastRelease last_release(const std::filesystem::path &folder, const OpenedJob &opened);

/// What stands in the way of releasing a job again: films and files of \p last that are of an earlier state
/// of it may still be printed from. None when there are none.
[[nodiscard]] std::optional<GateStop> stale_outputs(const LastRelease &last);

/// Writes release \p number of \p job once more, from the job that is kept in it, as it was then, into a
/// folder beside it ("release-001-again"), and says which files differ.
/// \return FileMissing when there is no such release; else as release_job()
[[nodiscard]] Outcome<Release> release_again(const std::filesystem::path &folder, const std::string &job,
                                             int number, const JobControl &control = {});

} // namespace bichrom
