#include "core/report/proof.h"

#include "core/report/page_pictures.h"
#include "core/report/proof_words.h"
#include "core/report/sheet_flow.h"

#include <algorithm>

namespace bichrom {

namespace {

/// Widths of a table's columns; those of \p figures are set to the right.
std::vector<FlowColumn> columns(const std::vector<std::string> &heads, const std::vector<double> &shares,
                                const std::vector<std::size_t> &figures = {})
{
    std::vector<FlowColumn> made;
    for (std::size_t i = 0; i < heads.size(); ++i) {
        made.push_back({heads[i], shares[i], std::find(figures.begin(), figures.end(), i) != figures.end()});
    }
    return made;
}

/// The print by itself at 100 %, with room around it, and a line that says so.
void true_size_sheet(PdfPages &pages, const Proof &proof, std::size_t print)
{
    constexpr double room = 28;
    const double scale = points_per_inch / millimetres_per_inch;
    const double wide = proof.width_mm * scale, high = proof.height_mm * scale;
    pages.begin_page(wide + 2 * room, high + 2 * room + 14);
    pages.picture(print, room, room, wide, high);
    pages.words(room, high + 2 * room,
                proof.job.name + " · page " + std::to_string(proof.job.page) +
                    " at 100 %: " + format_number(proof.width_mm, 1) + " × " +
                    format_number(proof.height_mm, 1) + " mm · print without scaling",
                {8, false, 0xFF565653});
}

/// Where the customer signs.
void approval_box(PdfPages &pages, SheetFlow &flow)
{
    constexpr double high = 106;
    flow.need(high + 40);
    flow.heading("Approval");
    const double y = flow.y(), x = SheetFlow::left, wide = flow.width();
    constexpr std::uint32_t ink = 0xFF1C1C1B;
    for (const double at : {y, y + high}) {
        pages.box(x, at, wide, 0.8, ink);
    }
    for (const double at : {x, x + wide - 0.8}) {
        pages.box(at, y, 0.8, high, ink);
    }
    double tick = y + 12;
    for (const char *words :
         {"agreed: print as shown", "agreed with the changes written here", "not agreed: show it again"}) {
        pages.box(x + 12, tick, 9, 9, ink);
        pages.box(x + 12.8, tick + 0.8, 7.4, 7.4, 0xFFFFFFFF);
        pages.words(x + 28, tick + 8, words, {9});
        tick += 18;
    }
    double field = x + 12;
    for (const auto &[words, width] :
         {std::pair("name", 150.0), std::pair("date", 90.0), std::pair("signature", 200.0)}) {
        pages.box(field, y + high - 20, width, 0.5, ink);
        pages.words(field, y + high - 10, words, {7.5, false, 0xFF565653});
        field += width + 16;
    }
    flow.space(high + 8);
}

void page_sheets(PdfPages &pages, SheetFlow &flow, const Proof &proof, std::size_t print)
{
    flow.title("Proof: " + proof.job.name);
    flow.facts(proof_facts(proof));
    flow.space(4);
    const double high = std::min(330.0, flow.room() - 40);
    flow.pictures({print, pages.keep(proof.original)}, {"as it will print", "the artwork as it came"},
                  (flow.width() - 14) / 2, high);
    flow.paragraph(proof_caution(proof), {8, false, 0xFF565653});
    flow.heading("Inks in printing order");
    flow.table(columns(ink_heads(), {0.25, 1.7, 0.8, 0.7, 0.9, 0.6, 1.4}, {0, 3}), ink_rows(proof));

    constexpr double wide = 155, tall = 165; // of a plate's picture
    flow.need(tall + 70);
    flow.heading("Plates");
    std::vector<std::size_t> greys;
    std::vector<std::string> captions;
    for (const ProofPlate &plate : proof.plates) {
        ReportPicture grey = plate.grey;
        draw_border(grey);
        greys.push_back(pages.keep(std::move(grey)));
        captions.push_back(std::to_string(plate.number + 1) + " " + proof.job.plates[plate.number].ink +
                           ", " + format_number(plate.coverage * 100, 1) + " %");
    }
    flow.pictures(greys, captions, wide, tall);

    flow.heading("Findings");
    if (proof.findings.empty()) {
        flow.paragraph("Nothing that the shop's rules find stands open.");
    } else {
        flow.table(columns(finding_heads(), {0.5, 2, 1.6}), finding_rows(proof));
    }
    flow.heading("Change slip");
    if (proof.changes.empty()) {
        flow.paragraph("Nothing is changed: the file prints as it came.");
    } else {
        flow.table(columns(change_heads(), {2, 1.6, 0.7}), change_rows(proof));
    }
}

} // namespace

Outcome<std::vector<std::byte>> proof_to_pdf(const std::vector<Proof> &proofs, ProofSize size)
{
    auto pages = PdfPages::make();
    if (!pages) {
        return pages.error();
    }
    std::vector<std::size_t> prints;
    for (const Proof &proof : proofs) {
        prints.push_back(pages->keep(proof.print));
        if (size == ProofSize::TrueSize) {
            true_size_sheet(*pages, proof, prints.back());
        }
    }
    SheetFlow flow(*pages, proofs.front().job.name + " · proof · " + proofs.front().date + " · SHA-256 " +
                               proofs.front().sha256.substr(0, 16));
    for (std::size_t i = 0; i < proofs.size(); ++i) {
        if (i > 0) {
            flow.new_sheet();
        }
        page_sheets(*pages, flow, proofs[i], prints[i]);
    }
    approval_box(*pages, flow);
    return pages->finish();
}

} // namespace bichrom
