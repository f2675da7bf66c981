/// \file
/// The proof that a customer agrees to: the print as it is predicted, its plates, inks, findings and changes.
/// Layer: core/report. May use core/job, core/preflight, core/proof, core/line.
#pragma once

#include "core/job/change_slip.h"
#include "core/job/job_file.h"
#include "core/preflight/finding.h"
#include "core/report/html_pdf.h"

#include <cstddef>
#include <filesystem>
#include <string>
#include <vector>

namespace bichrom {

/// A plate on a proof.
struct ProofPlate
{
    std::size_t number = 0; ///< of the job's plates
    double coverage = 0;    ///< mean tone over the page, 0 to 1
    ReportPicture grey;     ///< solid black, bare white
};

/// Everything that stands on a proof of one page.
struct Proof
{
    Job job; ///< turned to the page
    std::string file, sha256, date;
    double width_mm = 0, height_mm = 0;
    ReportPicture original; ///< as the customer made it
    ReportPicture print;    ///< as it will print
    double print_dpi = 0;
    std::vector<ProofPlate> plates; ///< those that print, in printing order
    std::vector<ChangeEntry> changes;
    std::vector<Finding> findings; ///< open and accepted ones, most severe first
    std::string layers;            ///< JSON: what a browser needs to lay the plates on each other
};

/// How it is made.
struct ProofRequest
{
    std::string date;
    int side = 1400;             ///< pixels of the longer side of the print
    double dpi = 0;              ///< of the print instead, when above 0
    bool findings = true;        ///< the shop rules are run
    std::string accept_damage{}; ///< why damage is accepted; empty = only what the job accepts
};

/// What kind of file a proof is.
enum class ProofForm
{
    Pdf,  ///< to sign, of all pages
    Html, ///< for any browser, of all pages
    Png   ///< the print of one page alone
};
/// By the ending of \p path; OutOfRange for any other than .pdf, .html, .png.
[[nodiscard]] Outcome<ProofForm> proof_form_of(const std::filesystem::path &path);
/// As is usual for \p form: a PNG has 150 dpi, and nothing is found out that does not stand on it.
[[nodiscard]] ProofRequest usual_proof(ProofForm form, std::string date);

/// Works everything out, for the job's page. As PlateLine::make(), check_page(); NothingToPrint,
/// Damaged.
[[nodiscard]] Outcome<Proof> make_proof(const OpenedJob &opened, const ProofRequest &request,
                                        const JobControl &control = {});

/// What the first sheet of a PDF is.
enum class ProofSize
{
    Fitted,  ///< A4 throughout
    TrueSize ///< the print by itself, at 100 %, on a sheet that it fits on; then A4
};

/// \return a PDF of the pages' proofs, with a box to sign; CannotWrite
[[nodiscard]] Outcome<std::vector<std::byte>> proof_to_pdf(const std::vector<Proof> &pages, ProofSize size);

/// A page in one file for any browser, without anything from outside: original and print beside each other,
/// plates switched on and off, the same tables.
[[nodiscard]] Outcome<std::string> proof_to_html(const std::vector<Proof> &pages);

/// The print as PNG, of the page's size. As png_bytes()
[[nodiscard]] Outcome<std::vector<std::byte>> proof_to_png(const Proof &page);

/// Writes the file whose form the ending of \p path tells. As proof_form_of(), write_file()
[[nodiscard]] Done write_proof(const std::filesystem::path &path, const std::vector<Proof> &pages,
                               ProofSize size = ProofSize::Fitted);

} // namespace bichrom
