/// \file
/// One thing the shop rules caught, tied to its places in the artwork.
/// Layer: core/preflight. May use core/job, core/base.
#pragma once

#include "core/base/units.h"
#include "core/job/agreement.h"

#include <string>
#include <vector>

namespace bichrom {

/// How bad a finding is; a check may also be off.
enum class Severity
{
    Off,
    Note,
    Warning,
    Error
};
[[nodiscard]] const char *to_string(Severity severity); ///< "off", "note", "warning", "error"
[[nodiscard]] Outcome<Severity> parse_severity(std::string_view name);

/// Where a finding stands.
struct FindingPlace
{
    int object = -1;      ///< index in the page's scene; −1 when no single object is meant
    Rect area;            ///< mm from the media box's top left after rotation, y down; empty = the whole page
    std::string measured; ///< what was measured here, with its unit; may be empty
};

/// What one check caught on one page about one subject (an ink, a colour space, a side …).
struct Finding
{
    std::string check; ///< the check's name in rule files, e.g. "thin_line"
    Severity severity = Severity::Warning;
    int page = 1;
    std::string subject; ///< what it is about, or empty; together with check and page it is unique
    std::string title;   ///< one line for a list
    std::string limit;   ///< what the rules ask for, with its unit; may be empty
    std::string why;     ///< why it matters, one sentence
    std::string remedy;  ///< what can be done, one sentence
    std::vector<FindingPlace> places; ///< worst first, the first most_places; never empty
    int places_in_all = 0;            ///< also those that are not listed
    bool muted =
        false; ///< nothing to look at place by place: listed, but walking from place to place skips it
    std::string solved; ///< by what the job has solved it, one line; empty = open

    static constexpr std::size_t most_places = 200;
    [[nodiscard]] bool is_solved() const { return !solved.empty(); }
};

[[nodiscard]] inline bool covers(const AcceptedFinding &accepted, const Finding &finding)
{
    return accepted.check == finding.check && accepted.page == finding.page &&
           accepted.subject == finding.subject;
}

} // namespace bichrom
