#include "cli/commands.h"
#include "cli/output_choice.h"
#include "cli/report.h"
#include "core/output/compose.h"

#include <CLI/CLI.hpp>

#include <cstdio>

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
        return sub;
    }

    int run() override
    {
        const auto chosen = m_choice.open();
        if (!chosen) {
            return report_error(chosen.error());
        }
        const OpenWarnings told(chosen->opened);
        const auto made =
            compose_pdf(chosen->opened, m_out, {chosen->pages, chosen->inks, m_choice.accepted()},
                        progress_on_terminal("compose"));
        if (!made) {
            return report_error(made.error());
        }
        told.report_more(made->damage);
        for (const ComposedPage &page : made->pages) {
            if (made->pages.size() > 1) {
                std::printf("page %d\n", page.number);
            }
            for (const ComposedPlate &plate : page.plates) {
                std::printf("%s: %s\n", plate.ink.c_str(), words_for(plate.how));
            }
        }
        return exit_done;
    }

private:
    OutputChoice m_choice;
    std::string m_out;
};

} // namespace

std::unique_ptr<Command> make_compose_command()
{
    return std::make_unique<ComposeCommand>();
}

} // namespace bichrom
