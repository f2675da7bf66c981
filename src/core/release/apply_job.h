/// \file
/// One job's decisions on many other files.
/// Layer: core/release. May use core/job, core/output, core/preflight.
#pragma once

#include "core/base/job_control.h"
#include "core/job/job_file.h"
#include "core/output/output_set.h"
#include "core/report/html_pdf.h"

#include <filesystem>
#include <map>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// What is made of each file.
enum class ApplyDo
{
    Film,
    Plates,  ///< 8 bits at 300 dpi
    Compose, ///< PDF/X-4
    Job      ///< to be looked at
};
[[nodiscard]] const char *to_string(ApplyDo what); ///< "film", "plates", "compose", "job"
[[nodiscard]] Outcome<ApplyDo> parse_apply_do(std::string_view name);

/// What of a file the job did not foresee. Empty where all is as in the job's own artwork.
struct ApplyExceptions
{
    std::vector<std::string> lost;     ///< colours that print on no plate, "page 2: Separation Rust 100 %"
    std::vector<std::string> new_inks; ///< that got plates of their own
    std::vector<std::string> idle;     ///< inks of the job that this file has nothing of
    int routes_without = 0;            ///< routes that found nothing here
    std::string size; ///< when its first page is of another size: "120 × 80 mm, not 111 × 154 mm"
    [[nodiscard]] bool empty() const
    {
        return lost.empty() && new_inks.empty() && idle.empty() && routes_without == 0 && size.empty();
    }
    [[nodiscard]] std::vector<std::string> words() const; ///< a line each
};

/// A job that is laid on other files. Reading it once serves all of them.
class JobPattern
{
public:
    /// As all_scenes().
    [[nodiscard]] static Outcome<JobPattern> make(OpenedJob opened, const JobControl &control = {});

    /// The file with the job's routes, recipes, plates, stock, screens and film settings, in its size. What
    /// was agreed about the job's own artwork, held core samples and placed artworks stay behind. \return as
    /// Artwork::open(), all_scenes()
    [[nodiscard]] Outcome<OpenedJob> on(const std::filesystem::path &file, ApplyExceptions &exceptions,
                                        const JobControl &control = {}) const;

private:
    JobPattern() = default;
    OpenedJob m_opened;
    std::map<int, Scene> m_scenes;
    double m_width = 0, m_height = 0; ///< mm of its first page
};

/// What became of one file.
struct Applied
{
    std::filesystem::path file;
    Outcome<std::vector<std::string>> written = std::vector<std::string>(); ///< paths of what was written
    ApplyExceptions exceptions;
    ReportPicture thumbnail; ///< the first page as it prints; empty when it was not asked for or cannot be
};

/// Where and how it is written.
struct ApplyRequest
{
    std::filesystem::path folder;
    std::string name; ///< of what is written, safe
    std::string date; ///< on labels and in documents
    std::string accept_damage{};
    int thumbnail = 0; ///< pixels of the longer side; 0 = none
};

/// \p what of all pages of \p file, into a folder of its own (films, plates) or a file that replaces none:
/// "moth-2.pdf" beside "moth.pdf". As JobPattern::on(), write_pages(), compose_pdf(), save_job()
[[nodiscard]] Applied apply_job(const JobPattern &pattern, const std::filesystem::path &file, ApplyDo what,
                                const ApplyRequest &request, const JobControl &control = {});

/// Whether files can come in at \p watched and go out at \p written: OutOfRange for one folder.
[[nodiscard]] Done may_be_watched(const std::filesystem::path &watched, const std::filesystem::path &written);

/// Names for the outputs of \p files: of their own, safe and distinct. A longer list begins with the same.
[[nodiscard]] std::vector<std::string> apply_names(const std::vector<std::filesystem::path> &files);

} // namespace bichrom
