/// \file
/// The job ticket: what the printer needs to know, how much ink and film it takes, what that costs.
/// Layer: core/report. May use core/job, core/line, core/fit, core/screen, core/output (its
/// gate).
#pragma once

#include "core/fit/film_sheet.h"
#include "core/job/job_file.h"

#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// A plate as the printer meets it.
struct TicketPlate
{
    int order = 1;
    std::string ink;
    InkUse kind = InkUse::Spot;
    std::string tin; ///< of another plate, from which it is printed; empty = its own
    Printing printing;
    std::string screen;   ///< in words
    double coverage = 0;  ///< mean tone over the art, 0 to 1
    double area_cm2 = 0;  ///< of solid ink on a piece
    double deposit = 0;   ///< cm³ of wet ink on a square metre of solid at one hit; 0 = not known
    bool by_mesh = false; ///< the deposit is what the mesh holds
    double grams_a_piece = 0, grams = 0; ///< of all hits; 0 where the deposit or the pieces are not known
};

/// A page's ticket. Money is 0 where a price or what it is counted by is not said.
struct JobTicket
{
    std::string job, file, sha256;
    int page = 1;
    double width_mm = 0, height_mm = 0; ///< of the art as it is printed
    std::string stock;
    std::vector<TicketPlate> plates; ///< those that print, in printing order
    std::vector<std::string> blank;  ///< inks of those that do not
    PrintRun run;
    int pieces_a_sheet = 1;                                    ///< copies of the art on a film
    int sheets = 0;                                            ///< that many prints give the pieces
    double film_width_mm = 0, film_height_mm = 0, film_m2 = 0; ///< of one; of all films together
    double dpi = 0;
    double ink_grams = 0; ///< of all plates whose use is known
    double minutes = 0;   ///< to set up, and to print
    double film_cost = 0, ink_cost = 0, press_cost = 0;
    [[nodiscard]] double cost() const { return film_cost + ink_cost + press_cost; }
};

/// Density of wet ink, g/cm³: 1.1, of white 1.4, of metallic and foil 1.3 (common practice, no source).
[[nodiscard]] double ink_density(InkUse kind);

/// Works out the ticket of the job's page. \return as PlateLine::make(); NothingToPrint, Damaged
[[nodiscard]] Outcome<JobTicket> job_ticket(const OpenedJob &opened, const JobControl &control = {});

[[nodiscard]] std::string ticket_to_json(const JobTicket &ticket, const std::string &date);

/// On A4. \return a PDF; CannotWrite
[[nodiscard]] Outcome<std::vector<std::byte>> ticket_to_pdf(const JobTicket &ticket, const std::string &date);

/// Whether a ticket can be written under that name: OutOfRange for any ending but .pdf and .json.
[[nodiscard]] Done may_be_ticket(const std::filesystem::path &path);

/// Writes the file whose form the ending of \p path tells. As may_be_ticket(), write_file()
[[nodiscard]] Done write_ticket(const std::filesystem::path &path, const JobTicket &ticket,
                                const std::string &date);

} // namespace bichrom
