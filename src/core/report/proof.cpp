#include "core/report/proof.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/job/print_model.h"
#include "core/line/plate_line.h"
#include "core/output/damage_gate.h"
#include "core/preflight/preflight.h"
#include "core/proof/original_view.h"
#include "core/proof/plates_look.h"
#include "core/proof/print_look.h"
#include "core/report/layer_json.h"
#include "core/report/pdf_pages.h"

#include <algorithm>
#include <numeric>

namespace bichrom {

namespace {

constexpr int plate_side = 640; ///< pixels of a plate's picture

ReportPicture empty_picture(const PixelRect &extent)
{
    ReportPicture picture{{}, extent.width, extent.height, {}};
    picture.pixels.resize(static_cast<std::size_t>(extent.width) * static_cast<std::size_t>(extent.height));
    return picture;
}

double mean_tone(const Plane &plane)
{
    const auto sum = std::accumulate(plane.pixels.begin(), plane.pixels.end(), std::uint64_t(0));
    return plane.pixels.empty()
               ? 0
               : static_cast<double>(sum) / (255.0 * static_cast<double>(plane.pixels.size()));
}

/// Those that somebody has to know of before signing.
std::vector<Finding> worth_telling(std::vector<Finding> findings)
{
    std::erase_if(findings, [](const Finding &finding) {
        return finding.is_solved() || finding.muted || finding.severity == Severity::Note;
    });
    sort_findings(findings);
    return findings;
}

} // namespace

Outcome<Proof> make_proof(const OpenedJob &opened, const ProofRequest &request, const JobControl &control)
{
    Job job = opened.job;
    if (!request.accept_damage.empty()) {
        accept_damage(job, request.accept_damage);
    }
    const std::string place = opened.artwork->name() + ", page " + std::to_string(job.page);
    const auto page = opened.artwork->interpret(job.page, PageBox::Media, job.colours, control);
    if (!page) {
        return page.error();
    }
    const auto line = PlateLine::make(*page, setup_of(job), control);
    if (!line) {
        return line.error();
    }
    const auto condition = condition_of(job.colours);
    if (!condition) {
        return condition.error();
    }
    const double longer = std::max((*page)->width().value, (*page)->height().value);
    const Dpi dpi(request.dpi > 0 ? request.dpi : request.side * points_per_inch / longer);
    const PixelRect extent = (*line)->extent(dpi);
    constexpr std::int64_t most_pixels = 200'000'000;
    if (std::int64_t(extent.width) * extent.height > most_pixels) {
        return Error{ErrorCode::TooLarge,
                     "The proof would be " + std::to_string(extent.width) + " × " +
                         std::to_string(extent.height) + " pixels.",
                     place, "Choose a lower resolution."};
    }
    const auto tile = (*line)->whole_page(dpi, Edges::Seen, control);
    if (!tile) {
        return tile.error();
    }
    if (const auto passed = pass_damage(**page, job); !passed) {
        return passed.error();
    }
    Proof proof;
    proof.job = job;
    proof.file = std::filesystem::path(opened.artwork->name()).filename().string();
    proof.sha256 = opened.artwork->sha256();
    proof.date = request.date;
    proof.width_mm = to_millimetres((*page)->width()).value;
    proof.height_mm = to_millimetres((*page)->height()).value;
    proof.print_dpi = dpi.value;
    proof.print = empty_picture(extent);
    PrintLook(job, (*line)->inks(), **condition, {.checker = 8, .hidden = {}})
        .compose(*tile, proof.print.pixels);

    const Dpi coarse(std::min(dpi.value, plate_side * points_per_inch / longer));
    const PixelRect small = (*line)->extent(coarse);
    const auto plates = (*line)->whole_page(coarse, Edges::Seen, control);
    if (!plates) {
        return plates.error();
    }
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const double coverage = mean_tone(tile->plates[i]);
        if (coverage <= 0) {
            continue;
        }
        ProofPlate plate{i, coverage, empty_picture(small)};
        compose_film(plates->plates[i], plate.grey.pixels);
        proof.plates.push_back(std::move(plate));
    }
    if (proof.plates.empty()) {
        return Error{ErrorCode::NothingToPrint, "The page paints nothing, so there is nothing to prove.",
                     place, "Choose another page, or check that the right layers are on."};
    }
    const auto view = OriginalView::make(*page, control);
    if (!view) {
        return view.error();
    }
    const Dpi shown(std::min(dpi.value, request.side * points_per_inch / longer));
    const PixelRect whole = (*line)->extent(shown);
    auto pixels = (*view)->render(whole, shown, Edges::Smooth, control);
    if (!pixels) {
        return pixels.error();
    }
    proof.original = {{}, whole.width, whole.height, std::move(*pixels)};
    std::vector<std::string> inks;
    for (const ProofPlate &plate : proof.plates) {
        inks.push_back(job.plates[plate.number].ink);
    }
    proof.layers = layer_json(job, inks, **condition);
    proof.changes = list_changes(job);
    if (request.findings) {
        const auto rules = rules_of(job);
        if (!rules) {
            return rules.error();
        }
        auto findings = findings_of(*opened.artwork, job, *rules, control);
        if (!findings) {
            return findings.error();
        }
        proof.findings = worth_telling(std::move(*findings));
    }
    return proof;
}

Outcome<std::vector<std::byte>> proof_to_png(const Proof &page)
{
    return png_bytes(page.print, page.print_dpi);
}

Outcome<ProofForm> proof_form_of(const std::filesystem::path &path)
{
    const std::string ending = file_ending(path);
    if (ending == ".pdf" || ending == ".html" || ending == ".png") {
        return ending == ".pdf" ? ProofForm::Pdf : ending == ".html" ? ProofForm::Html : ProofForm::Png;
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + path.filename().string() + "' is no kind of proof.",
                 {},
                 "End its name in .pdf, .html or .png."};
}

ProofRequest usual_proof(ProofForm form, std::string date)
{
    ProofRequest request;
    request.date = std::move(date);
    request.dpi = form == ProofForm::Png ? 150 : 0;
    request.findings = form != ProofForm::Png;
    return request;
}

Done write_proof(const std::filesystem::path &path, const std::vector<Proof> &pages, ProofSize size)
{
    const auto form = proof_form_of(path);
    if (!form) {
        return form.error();
    }
    if (*form == ProofForm::Html) {
        const auto html = proof_to_html(pages);
        return html ? write_file(path, *html) : Done(html.error());
    }
    const auto bytes = *form == ProofForm::Png ? proof_to_png(pages.front()) : proof_to_pdf(pages, size);
    return bytes ? write_file(path, *bytes) : Done(bytes.error());
}

} // namespace bichrom
