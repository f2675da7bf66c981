/// \file
/// Which file, pages and plates a command writes.
/// Layer: cli.
#pragma once

#include "cli/fit_options.h"
#include "cli/size_options.h"
#include "core/base/page_list.h"
#include "core/output/output_set.h"

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

/// What the commands that write outputs have in common.
class OutputChoice
{
public:
    /// FILE, --page, --pages, --plates, --password, --accept-damage, its size, and how it is trapped and
    /// overprints.
    void declare(CLI::App &command);
    /// --all-plates and --move-earlier, of commands that write sets of files.
    void declare_sets(CLI::App &command);

    /// A job and what of it is to be written.
    struct Chosen
    {
        OpenedJob opened; ///< with the plates of all pages chosen
        PageList pages;
        std::vector<std::string> inks; ///< empty = all
    };
    /// Opens the file. As open_job_or_artwork() and parse_pages().
    [[nodiscard]] Outcome<Chosen> open() const;
    [[nodiscard]] OutputRequest request(const Chosen &chosen, const std::string &folder) const;
    /// Why damage is accepted; empty when it is not.
    [[nodiscard]] std::string accepted() const { return m_accept_damage ? "--accept-damage" : ""; }

private:
    FitOptions m_fit;
    SizeOptions m_size;
    std::string m_file, m_password, m_pages;
    std::vector<std::string> m_plates;
    int m_page = 0;
    bool m_accept_damage = false, m_all_plates = false, m_move_earlier = false;
};

} // namespace bichrom
