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

/// --width, --height, --scale, --of, --bleed, --own-marks.
class SizeOptions
{
public:
    void declare(CLI::App &command);
    /// \p opened at the size and with the bleed that was given: its artwork too. OutOfRange; errors as
    /// Artwork::interpret(). \param pages  whose own marks are meant
    [[nodiscard]] Outcome<OpenedJob> apply(OpenedJob opened, const PageList &pages) const;

private:
    [[nodiscard]] Outcome<OpenedJob> sized(OpenedJob opened) const;
    [[nodiscard]] Outcome<OpenedJob> bled(OpenedJob opened) const;
    [[nodiscard]] Outcome<OpenedJob> marked(OpenedJob opened, const PageList &pages) const;

    std::string m_width, m_height, m_scale, m_of, m_bleed, m_own_marks;
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

    std::string m_distort, m_copies, m_gap, m_sheet, m_place, m_around;
    std::string m_marks, m_mark_set, m_mark_size, m_mark_line, m_mark_distance, m_steps, m_label, m_number;
};

} // namespace bichrom
