/// \file
/// Names of inks that mean the same or nearly the same.
/// Layer: core/preflight.
#pragma once

#include <string>
#include <vector>

namespace bichrom {

/// How two ink names differ.
enum class NameLikeness
{
    Same,      ///< to the letter
    Case,      ///< upper and lower case only
    Spacing,   ///< blanks, hyphens and underscores (and case)
    Finish,    ///< a short suffix that names a paper or finish: "C", "U", "coated" …
    OneLetter, ///< one letter more, less or other
    Different
};

[[nodiscard]] NameLikeness compare_names(const std::string &a, const std::string &b);

/// The name of \p list that is most like \p name, if any is like it at all.
struct NearestName
{
    std::string name;
    NameLikeness likeness = NameLikeness::Different;
};
[[nodiscard]] NearestName nearest_name(const std::string &name, const std::vector<std::string> &list);

/// "differs in upper and lower case" and so on.
[[nodiscard]] const char *describe(NameLikeness likeness);

} // namespace bichrom
