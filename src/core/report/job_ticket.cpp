#include "core/report/job_ticket.h"

#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/base/rounded.h"
#include "core/line/coverage.h"
#include "core/output/damage_gate.h"
#include "core/report/sheet_flow.h"
#include "core/screen/mesh_fabric.h"

#include <nlohmann/json.hpp>

#include <cmath>

namespace bichrom {

namespace {

constexpr double mm2_in_m2 = 1e6, mm2_in_cm2 = 100, cm2_in_m2 = 1e4;

std::string printing_words(const TicketPlate &plate)
{
    std::string words = std::to_string(plate.printing.hits) + (plate.printing.hits == 1 ? " hit" : " hits");
    words += plate.printing.wet ? ", wet on wet" : "";
    return words + (plate.printing.flash ? ", flash after it" : "");
}

std::string amount(double value, const std::string &currency)
{
    return value > 0 ? format_number(value, 2) + (currency.empty() ? "" : " " + currency) : "";
}

std::string grams(double value)
{
    return value <= 0     ? "–"
           : value < 0.01 ? "< 0.01 g"
           : value < 10   ? format_number(value, 2) + " g"
                          : format_number(value, 0) + " g";
}

/// How long the press takes: a plate is set up once, each of its hits is a print.
double press_minutes(const JobTicket &ticket)
{
    const PrintRun &run = ticket.run;
    double minutes = run.minutes_per_plate * static_cast<double>(ticket.plates.size());
    if (run.pieces_per_hour > 0) {
        minutes += 60.0 * ticket.sheets / run.pieces_per_hour;
    }
    return minutes;
}

} // namespace

double ink_density(InkUse kind)
{
    switch (kind) {
    case InkUse::White:
        return 1.4;
    case InkUse::Metallic:
    case InkUse::Foil:
        return 1.3;
    default:
        return 1.1;
    }
}

Outcome<JobTicket> job_ticket(const OpenedJob &opened, const JobControl &control)
{
    const Job &job = opened.job;
    const std::string place = opened.artwork->name() + ", page " + std::to_string(job.page);
    const auto page = opened.artwork->interpret(job.page, job.film.box, job.colours, control);
    if (!page) {
        return page.error();
    }
    const auto info = opened.artwork->page_info(job.page);
    if (!info) {
        return info.error();
    }
    const auto line = PlateLine::make(*page, setup_of(job), control);
    if (!line) {
        return line.error();
    }
    const auto coverage = measure_coverage(**line, Dpi(300), control);
    if (!coverage) {
        return coverage.error();
    }
    if (const auto passed = pass_damage(**page, job); !passed) {
        return passed.error();
    }
    JobTicket ticket;
    ticket.job = job.name;
    ticket.file = std::filesystem::path(opened.artwork->name()).filename().string();
    ticket.sha256 = opened.artwork->sha256();
    ticket.page = job.page;
    ticket.width_mm = to_millimetres((*page)->width()).value;
    ticket.height_mm = to_millimetres((*page)->height()).value;
    ticket.stock = job.stock_here().name;
    ticket.run = job.run;
    ticket.dpi = job.film.resolution.value;
    ticket.pieces_a_sheet = job.film.columns * job.film.rows;
    ticket.sheets = (job.run.pieces + ticket.pieces_a_sheet - 1) / ticket.pieces_a_sheet;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        const Plate &plate = job.plates[i];
        const double share = (*coverage)[i];
        if (share <= 0) {
            ticket.blank.push_back(plate.ink);
            continue;
        }
        TicketPlate one;
        one.order = static_cast<int>(i) + 1;
        one.ink = plate.ink;
        one.kind = plate.kind;
        one.tin = plate.tin;
        one.printing = plate.printing;
        one.screen = describe(plate.screen);
        one.coverage = share;
        one.area_cm2 = share * ticket.width_mm * ticket.height_mm / mm2_in_cm2;
        one.by_mesh = plate.printing.deposit <= 0;
        one.deposit = one.by_mesh ? usual_fabric(plate.printing.mesh).volume : plate.printing.deposit;
        if (plate.kind != InkUse::Technical) { // a cut line is no ink
            one.grams_a_piece =
                one.area_cm2 / cm2_in_m2 * one.deposit * plate.printing.hits * ink_density(plate.kind);
        }
        one.grams = one.grams_a_piece * job.run.pieces;
        ticket.ink_grams += one.grams;
        ticket.plates.push_back(std::move(one));
    }
    if (ticket.plates.empty()) {
        return Error{ErrorCode::NothingToPrint, "The page paints nothing, so there is no ticket.", place,
                     "Choose another page, or check that the right layers are on."};
    }
    FilmPart part = whole_part(**line);
    if (job.film.around_art) {
        const auto kept = painted_part(**line, job.film, control);
        if (!kept) {
            return kept.error();
        }
        part = cut_to(part, *kept);
    }
    const auto sheet = lay_out_film(job, film_art(part, job.film), LabelText{});
    if (!sheet) {
        return sheet.error();
    }
    ticket.film_width_mm = sheet->to_length(sheet->width).value;
    ticket.film_height_mm = sheet->to_length(sheet->height).value;
    ticket.film_m2 =
        ticket.film_width_mm * ticket.film_height_mm / mm2_in_m2 * static_cast<double>(ticket.plates.size());
    ticket.minutes = press_minutes(ticket);
    ticket.film_cost = ticket.film_m2 * job.run.film_price;
    ticket.ink_cost = ticket.ink_grams / 1000 * job.run.ink_price;
    ticket.press_cost = ticket.minutes / 60 * job.run.hour_price;
    return ticket;
}

std::string ticket_to_json(const JobTicket &ticket, const std::string &date)
{
    using json = nlohmann::ordered_json;
    json plates = json::array();
    for (const TicketPlate &plate : ticket.plates) {
        plates.push_back({{"order", plate.order},
                          {"ink", plate.ink},
                          {"kind", to_string(plate.kind)},
                          {"tin", plate.tin},
                          {"hits", plate.printing.hits},
                          {"wet", plate.printing.wet},
                          {"flash", plate.printing.flash},
                          {"mesh_per_cm", plate.printing.mesh},
                          {"squeegee", plate.printing.squeegee},
                          {"screen", plate.screen},
                          {"coverage", rounded(plate.coverage, 6)},
                          {"area_cm2", rounded(plate.area_cm2, 3)},
                          {"deposit_cm3_m2", rounded(plate.deposit, 3)},
                          {"deposit_from", plate.deposit <= 0 ? "unknown"
                                           : plate.by_mesh    ? "mesh"
                                                              : "job"},
                          {"ink_g_a_piece", rounded(plate.grams_a_piece, 4)},
                          {"ink_g", rounded(plate.grams, 2)}});
    }
    const json root = {{"job", ticket.job},
                       {"file", ticket.file},
                       {"sha256", ticket.sha256},
                       {"page", ticket.page},
                       {"date", date},
                       {"width_mm", rounded(ticket.width_mm, 3)},
                       {"height_mm", rounded(ticket.height_mm, 3)},
                       {"stock", ticket.stock},
                       {"plates", plates},
                       {"blank", ticket.blank},
                       {"pieces", ticket.run.pieces},
                       {"pieces_a_sheet", ticket.pieces_a_sheet},
                       {"sheets", ticket.sheets},
                       {"film",
                        {{"dpi", ticket.dpi},
                         {"width_mm", rounded(ticket.film_width_mm, 3)},
                         {"height_mm", rounded(ticket.film_height_mm, 3)},
                         {"films", ticket.plates.size()},
                         {"area_m2", rounded(ticket.film_m2, 6)}}},
                       {"ink_g", rounded(ticket.ink_grams, 2)},
                       {"minutes", rounded(ticket.minutes, 1)},
                       {"cost",
                        {{"currency", ticket.run.currency},
                         {"film", rounded(ticket.film_cost, 2)},
                         {"ink", rounded(ticket.ink_cost, 2)},
                         {"press", rounded(ticket.press_cost, 2)},
                         {"sum", rounded(ticket.cost(), 2)}}},
                       {"note", ticket.run.note}};
    return root.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

Outcome<std::vector<std::byte>> ticket_to_pdf(const JobTicket &ticket, const std::string &date)
{
    auto pages = PdfPages::make();
    if (!pages) {
        return pages.error();
    }
    SheetFlow flow(*pages, ticket.job + " · job ticket · " + date);
    flow.title("Job ticket: " + ticket.job);
    std::vector<std::pair<std::string, std::string>> facts = {
        {"artwork", ticket.file + ", page " + std::to_string(ticket.page)},
        {"size in print",
         format_number(ticket.width_mm, 1) + " × " + format_number(ticket.height_mm, 1) + " mm"},
        {"stock", ticket.stock},
        {"plates", std::to_string(ticket.plates.size())}};
    if (ticket.run.pieces > 0) {
        facts.emplace_back("pieces", std::to_string(ticket.run.pieces) + ", " +
                                         std::to_string(ticket.pieces_a_sheet) + " to a print, " +
                                         std::to_string(ticket.sheets) + " prints");
    }
    facts.emplace_back(
        "films", std::to_string(ticket.plates.size()) + " of " + format_number(ticket.film_width_mm, 1) +
                     " × " + format_number(ticket.film_height_mm, 1) + " mm at " +
                     format_number(ticket.dpi, 0) + " dpi, " + format_number(ticket.film_m2, 3) + " m²");
    if (!ticket.run.note.empty()) {
        facts.emplace_back("note", ticket.run.note);
    }
    flow.facts(facts);

    flow.heading("Plates in printing order");
    std::vector<std::vector<std::string>> rows;
    for (const TicketPlate &plate : ticket.plates) {
        rows.push_back({std::to_string(plate.order),
                        plate.ink + (plate.tin.empty() ? "" : ", from the tin of " + plate.tin),
                        plate.printing.mesh > 0 ? format_number(plate.printing.mesh, 0) + "/cm" : "not said",
                        plate.screen, printing_words(plate), plate.printing.squeegee});
    }
    flow.table({{"", 0.25, true},
                {"ink", 1.6},
                {"mesh", 0.7},
                {"screen", 1.3},
                {"printing", 1.3},
                {"squeegee, notes", 1.4}},
               rows);

    flow.heading("Ink");
    rows.clear();
    bool unknown = false;
    for (const TicketPlate &plate : ticket.plates) {
        unknown = unknown || (plate.deposit <= 0 && plate.kind != InkUse::Technical);
        rows.push_back({plate.ink, format_number(plate.coverage * 100, 1) + " %",
                        format_number(plate.area_cm2, 1) + " cm²",
                        plate.deposit > 0
                            ? format_number(plate.deposit, 1) + " cm³/m²" + (plate.by_mesh ? " (mesh)" : "")
                            : "–",
                        grams(plate.grams_a_piece), grams(plate.grams)});
    }
    flow.table({{"ink", 1.6},
                {"coverage", 0.7, true},
                {"a piece", 0.9, true},
                {"wet ink of a hit", 1.2, true},
                {"a piece", 0.8, true},
                {"all pieces", 0.8, true}},
               rows);
    flow.paragraph(std::string("Wet ink by the mesh is what its openings hold with the thread usual for the "
                               "count; what reaches the stock is less. Ink weighs 1.1 g/cm³, white 1.4, "
                               "metallic 1.3.") +
                       (unknown ? " Where mesh and deposit are not said, the use of ink is not known." : ""),
                   {8, false, 0xFF565653});
    if (!ticket.blank.empty()) {
        std::string blank;
        for (const std::string &ink : ticket.blank) {
            blank += (blank.empty() ? "" : ", ") + ink;
        }
        flow.paragraph("Nothing of this page prints on: " + blank + ".");
    }

    if (ticket.minutes > 0 || ticket.cost() > 0) {
        flow.heading("Time and cost");
        facts.clear();
        if (ticket.minutes > 0) {
            facts.emplace_back("press", format_number(ticket.minutes, 0) + " min");
        }
        for (const auto &[what, value] :
             {std::pair("film", ticket.film_cost), std::pair("ink", ticket.ink_cost),
              std::pair("press time", ticket.press_cost), std::pair("together", ticket.cost())}) {
            if (const std::string text = amount(value, ticket.run.currency); !text.empty()) {
                facts.emplace_back(what, text);
            }
        }
        flow.facts(facts);
    }
    return pages->finish();
}

Done may_be_ticket(const std::filesystem::path &path)
{
    const std::string ending = file_ending(path);
    return ending == ".pdf" || ending == ".json"
               ? Done()
               : Done(Error{ErrorCode::OutOfRange,
                            "'" + path.filename().string() + "' is no kind of ticket.",
                            {},
                            "End its name in .pdf or .json."});
}

Done write_ticket(const std::filesystem::path &path, const JobTicket &ticket, const std::string &date)
{
    if (Done good = may_be_ticket(path); !good) {
        return good;
    }
    if (file_ending(path) == ".json") {
        return write_file(path, ticket_to_json(ticket, date));
    }
    const auto pdf = ticket_to_pdf(ticket, date);
    return pdf ? write_file(path, *pdf) : Done(pdf.error());
}

} // namespace bichrom
