#include "cli/commands.h"
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
        sub->add_option("JOB", m_file, "A .bichrom job, or artwork")->required();
        sub->add_option("--out", m_out, "The PDF to write")->required();
        sub->add_option("--page", m_page, "Page number, from 1");
        sub->add_option("--password", m_password, "For an encrypted file");
        declare_accept_damage(*sub, m_accept_damage);
        return sub;
    }

    int run() override
    {
        auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
        if (!opened) {
            return report_error(opened.error());
        }
        const OpenWarnings told(*opened, m_accept_damage);
        const auto made = compose_pdf(*opened, m_out, progress_on_terminal("compose"));
        if (!made) {
            return report_error(made.error());
        }
        told.report_more(made->damage);
        for (const ComposedPlate &plate : made->plates) {
            std::printf("%s: %s\n", plate.ink.c_str(), words_for(plate.how));
        }
        return exit_done;
    }

private:
    std::string m_file, m_out, m_password;
    int m_page = 0;
    bool m_accept_damage = false;
};

} // namespace

std::unique_ptr<Command> make_compose_command()
{
    return std::make_unique<ComposeCommand>();
}

} // namespace bichrom
