#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"
#include "cli/words.h"
#include "core/report/proof.h"

#include <CLI/CLI.hpp>

namespace bichrom {

namespace {

class ProofCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub =
            app.add_subcommand("proof", "Write what a customer agrees to: the print as predicted, "
                                        "plates, inks, findings, changes");
        m_choice.declare(*sub);
        sub->add_option("--out", m_out, "The proof: .pdf, .html, or .png (the print alone, one page)")
            ->required();
        sub->add_flag("--true-size", m_true_size, "PDF: begin with the print alone at 100 %");
        sub->add_option("--dpi", m_dpi,
                        "Resolution of the print in pixels per inch (PNG: 150; others: 1400 "
                        "pixels on the longer side)");
        sub->add_option("--date", m_date, "Date that it says (today)");
        return sub;
    }

    int run() override
    {
        const auto form = proof_form_of(m_out);
        if (!form) {
            return report_error(form.error());
        }
        if (m_dpi != 0 && !(m_dpi >= 20 && m_dpi <= 1200)) {
            return report_error(usage_error("A proof of " + std::to_string(m_dpi) + " dpi cannot be.",
                                            "Write a number from 20 to 1200."));
        }
        auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        if (*form == ProofForm::Png && chosen->pages.size() > 1) {
            return report_error(usage_error("A PNG holds one page.", "Choose one with --page."));
        }
        ProofRequest request = usual_proof(*form, m_date.empty() ? today() : m_date);
        request.dpi = m_dpi > 0 ? m_dpi : request.dpi;
        request.accept_damage = m_choice.accepted();
        std::vector<Proof> pages;
        for (const int page : chosen->pages) {
            OpenedJob turned = chosen->opened;
            turned.job.page = page;
            auto proof = make_proof(turned, request, progress_on_terminal("proof"));
            if (!proof) {
                return report_error(proof.error());
            }
            pages.push_back(std::move(*proof));
        }
        const Done written = write_proof(m_out, pages, m_true_size ? ProofSize::TrueSize : ProofSize::Fitted);
        return written ? exit_done : report_error(written.error());
    }

private:
    OutputChoice m_choice;
    std::string m_out, m_date;
    double m_dpi = 0;
    bool m_true_size = false;
};

} // namespace

std::unique_ptr<Command> make_proof_command()
{
    return std::make_unique<ProofCommand>();
}

} // namespace bichrom
