#include "cli/output_choice.h"

#include "cli/report.h"

#include <CLI/CLI.hpp>

#include <algorithm>

namespace bichrom {

void OutputChoice::declare(CLI::App &command)
{
    command
        .add_option("FILE", m_file,
                    "Artwork, or a .bichrom job (whose settings then hold where no option is given)")
        ->required();
    CLI::Option *page = command.add_option("--page", m_page, "Page number, from 1");
    command
        .add_option("--pages", m_pages,
                    "Pages, such as 1-3,5 or all; each of several is written into a folder of its own")
        ->excludes(page);
    command
        .add_option("--plates", m_plates,
                    "Inks, with commas between them, whose plates are written; may be given many times")
        ->allow_extra_args(false);
    command.add_option("--password", m_password, "For an encrypted file");
    m_size.declare(command);
    m_fit.declare(command);
    command.add_flag("--accept-damage", m_accept_damage,
                     "Write even what could not be read whole; without it such a page ends with exit code 3");
}

void OutputChoice::declare_sets(CLI::App &command)
{
    command.add_flag("--all-plates", m_all_plates, "Write also plates that print nothing");
    command.add_flag("--move-earlier", m_move_earlier,
                     "Move what an earlier set left in the folder away, into a folder \"earlier\" in it");
}

Outcome<OutputChoice::Chosen> OutputChoice::open() const
{
    auto opened = open_job_or_artwork(m_file, m_page, {.password = m_password}, stoppable());
    if (!opened) {
        return opened.error();
    }
    PageList pages{opened->job.page};
    if (!m_pages.empty()) {
        auto listed = parse_pages(m_pages, opened->artwork->page_count());
        if (!listed) {
            Error error = listed.error();
            error.place = m_file;
            return error;
        }
        pages = std::move(*listed);
        opened = turn_through(std::move(*opened), pages, stoppable());
        if (!opened) {
            return opened.error();
        }
        opened->job.page = pages.front();
    }
    auto fitted = m_fit.apply(std::move(opened->job));
    if (!fitted) {
        return fitted.error();
    }
    opened->job = std::move(*fitted);
    opened = m_size.apply(std::move(*opened), pages);
    if (!opened) {
        return opened.error();
    }
    Chosen chosen{std::move(*opened), std::move(pages), {}};
    for (const std::string &given : m_plates) {
        if (chosen.opened.job.find_plate(given) >= 0) {
            chosen.inks.push_back(given); // a name may hold a comma
            continue;
        }
        for (const std::string &name : CLI::detail::split(given, ',')) {
            chosen.inks.push_back(CLI::detail::trim_copy(name));
        }
    }
    return chosen;
}

OutputRequest OutputChoice::request(const Chosen &chosen, const std::string &folder) const
{
    OutputRequest request;
    request.folder = folder;
    request.inks = chosen.inks;
    request.blank_too = m_all_plates || !chosen.inks.empty(); // what is asked for by name is written
    request.earlier = m_move_earlier ? EarlierFiles::MoveAway : EarlierFiles::Keep;
    return request;
}

} // namespace bichrom
