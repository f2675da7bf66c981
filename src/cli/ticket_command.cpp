#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/output/damage_gate.h"
#include "core/report/job_ticket.h"

#include <CLI/CLI.hpp>

#include <optional>

namespace bichrom {

namespace {

class TicketCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand(
            "ticket", "Write what the printer needs to know, with the ink and film it takes and the cost");
        m_choice.declare(*sub);
        sub->add_option("--out", m_out, "The ticket: .pdf or .json, of one page")->required();
        sub->add_option("--pieces", m_pieces, "How many are printed");
        sub->add_option("--per-hour", m_per_hour, "Prints an hour");
        sub->add_option("--setup", m_setup, "Minutes to set up a plate");
        sub->add_option("--film-price", m_film, "Price of a square metre of film");
        sub->add_option("--ink-price", m_ink, "Price of a kilogram of ink");
        sub->add_option("--hour-price", m_hour, "Price of an hour of the press");
        sub->add_option("--currency", m_currency, "As written behind amounts");
        sub->add_option("--note", m_note, "To the printer");
        sub->add_option("--mesh", m_meshes, "INK=THREADS per cm; may be given many times");
        sub->add_option("--deposit", m_deposits,
                        "INK=CM3: wet ink of one hit on a square metre, cm³; may be given many times");
        sub->add_option("--squeegee", m_squeegees, "INK=NOTE to the printer; may be given many times");
        sub->add_option("--date", m_date, "Date that it says (today)");
        return sub;
    }

    int run() override
    {
        if (const Done good = may_be_ticket(m_out); !good) {
            return report_error(good.error());
        }
        auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        if (chosen->pages.size() > 1) {
            return report_error(usage_error("A ticket is of one page.", "Choose one with --page."));
        }
        if (const Done done = apply(chosen->opened.job); !done) {
            return report_error(done.error());
        }
        if (!m_choice.accepted().empty()) {
            accept_damage(chosen->opened.job, m_choice.accepted());
        }
        const auto ticket = job_ticket(chosen->opened, progress_on_terminal("ticket"));
        if (!ticket) {
            return report_error(ticket.error());
        }
        const Done written = write_ticket(m_out, *ticket, m_date.empty() ? today() : m_date);
        return written ? exit_done : report_error(written.error());
    }

private:
    Done apply(Job &job) const
    {
        PrintRun &run = job.run;
        run.pieces = m_pieces.value_or(run.pieces);
        run.pieces_per_hour = m_per_hour.value_or(run.pieces_per_hour);
        run.minutes_per_plate = m_setup.value_or(run.minutes_per_plate);
        run.film_price = m_film.value_or(run.film_price);
        run.ink_price = m_ink.value_or(run.ink_price);
        run.hour_price = m_hour.value_or(run.hour_price);
        run.currency = m_currency.empty() ? run.currency : m_currency;
        run.note = m_note.empty() ? run.note : m_note;
        if (const Done good = check_run(run); !good) {
            return good;
        }
        if (const Done done = each(job, m_squeegees,
                                   [](Plate &plate, const std::string &text) {
                                       plate.printing.squeegee = text;
                                       return true;
                                   });
            !done) {
            return done;
        }
        const auto number = [](double &value, const std::string &text) {
            const auto read = parse_number(text);
            value = read ? *read : -1;
            return value >= 0 && value <= 1000;
        };
        if (const Done done = each(
                job, m_meshes,
                [&](Plate &plate, const std::string &text) { return number(plate.printing.mesh, text); });
            !done) {
            return done;
        }
        return each(job, m_deposits, [&](Plate &plate, const std::string &text) {
            return number(plate.printing.deposit, text);
        });
    }

    template <class Set> static Done each(Job &job, const std::vector<std::string> &texts, const Set &set)
    {
        for (const std::string &text : texts) {
            const auto parts = halves_at_last(text, '=');
            if (!parts) {
                return usage_error("'" + text + "' names no ink and value.", "Write, for example, Milk=48.");
            }
            const int plate = job.find_plate(parts->first);
            if (plate < 0) {
                return unknown_ink(job, parts->first);
            }
            if (!set(job.plates[static_cast<std::size_t>(plate)], parts->second)) {
                return usage_error("'" + parts->second + "' is no such number.", "Write one from 0 to 1000.");
            }
        }
        return {};
    }

    OutputChoice m_choice;
    std::string m_out, m_date, m_currency, m_note;
    std::optional<int> m_pieces;
    std::optional<double> m_per_hour, m_setup, m_film, m_ink, m_hour;
    std::vector<std::string> m_meshes, m_deposits, m_squeegees;
};

} // namespace

std::unique_ptr<Command> make_ticket_command()
{
    return std::make_unique<TicketCommand>();
}

} // namespace bichrom
