#include "cli/commands.h"
#include "cli/console.h"
#include "cli/output_choice.h"
#include "cli/report.h"
#include "core/output/compose.h"

#include <CLI/CLI.hpp>

namespace bichrom {

namespace {

const char *words_for(Composed how)
{
    switch (how) {
    case Composed::Artwork:
        return "the artwork's own shapes";
    case Composed::Shapes:
        return "computed, as outlines";
    case Composed::Line:
        return "computed, as a line";
    case Composed::Picture:
        return "computed, as a picture";
    case Composed::Pixels:
        return "in pixels";
    case Composed::Nothing:
        break;
    }
    return "prints nothing";
}

class ComposeCommand final : public Command
{
public:
    CLI::App *declare(CLI::App &app) override
    {
        CLI::App *sub = app.add_subcommand("compose", "Write a PDF in which every ink is a named plate");
        m_choice.declare(*sub);
        sub->add_option("--out", m_out, "The PDF to write")->required();
        sub->add_option("--format", m_format,
                        "pdfx4: shapes stay shapes; flat: PDF 1.3 for old RIPs, in pixels; separated: a grey "
                        "page for each plate")
            ->capture_default_str();
        sub->add_option("--dpi", m_dpi, "Resolution of flat and separated in pixels per inch")
            ->capture_default_str();
        sub->add_option("--date", m_date, "Date that the file says, YYYY-MM-DD (today)");
        return sub;
    }

    int run() override
    {
        const auto form = parse_pdf_form(m_format);
        if (!form) {
            return report_error(form.error());
        }
        if (const Done good = check_resolution(Dpi(m_dpi)); !good) {
            return report_error(good.error());
        }
        const auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        ComposeRequest request{chosen->pages, chosen->inks, m_choice.accepted()};
        request.form = *form;
        request.resolution = Dpi(m_dpi);
        request.date = m_date.empty() ? today() : m_date;
        const auto made = compose_pdf(chosen->opened, m_out, request, progress_on_terminal("compose"));
        if (!made) {
            return report_error(made.error());
        }
        told.report_more(made->damage);
        for (const std::string &one : made->against) {
            report_warning("no PDF/X-4: " + one);
        }
        for (const ComposedPage &page : made->pages) {
            if (made->pages.size() > 1) {
                say("page %d\n", page.number);
            }
            for (const ComposedPlate &plate : page.plates) {
                say("%s: %s\n", plate.ink.c_str(), words_for(plate.how));
            }
        }
        return exit_done;
    }

private:
    OutputChoice m_choice;
    std::string m_out, m_date, m_format = "pdfx4";
    double m_dpi = 600;
};

} // namespace

std::unique_ptr<Command> make_compose_command()
{
    return std::make_unique<ComposeCommand>();
}

} // namespace bichrom
