/// \file
/// Options by which commands size the artwork, and lay out films.
/// Layer: cli.
#pragma once

#include "core/job/edits/resize.h"
#include "core/job/job_file.h"

#include <string>
#include <vector>

namespace CLI {
class App;
}

namespace bichrom {

/// --width, --height, --scale, --of.
class SizeOptions
{
public:
    void declare(CLI::App &command);
    /// \p opened at the size that was given: its artwork too. OutOfRange; errors as Artwork::interpret().
    [[nodiscard]] Outcome<OpenedJob> apply(OpenedJob opened) const;

private:
    std::string m_width, m_height, m_scale, m_of;
};

/// --distort, --copies, --gap, --sheet, --place, and those of marks.
class SheetOptions
{
public:
    void declare(CLI::App &command);
    /// \p film with what was given. OutOfRange.
    [[nodiscard]] Outcome<FilmOptions> apply(FilmOptions film) const;

private:
    [[nodiscard]] Outcome<MarkSet> marked(MarkSet marks) const;

    std::string m_distort, m_copies, m_gap, m_sheet, m_place;
    std::string m_marks, m_mark_set, m_mark_size, m_mark_line, m_mark_distance, m_steps, m_label, m_number;
};

} // namespace bichrom
