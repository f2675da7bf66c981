#include "core/preflight/ink_names.h"

#include <algorithm>
#include <array>
#include <cstdlib>

namespace bichrom {

namespace {

std::string lower(const std::string &text)
{
    std::string out = text;
    for (char &c : out) {
        if (c >= 'A' && c <= 'Z') {
            c = static_cast<char>(c - 'A' + 'a');
        }
    }
    return out;
}

std::string without_spacing(const std::string &text)
{
    std::string out = lower(text);
    std::erase_if(out, [](char c) { return c == ' ' || c == '-' || c == '_' || c == '\t'; });
    return out;
}

/// \p text without a last word that names a paper or finish (common practice, no source).
std::string without_finish(const std::string &text)
{
    static constexpr std::array<const char *, 14> finishes = {
        "c", "u", "m", "cp", "up", "cv", "uv", "coated", "uncoated", "matte", "matt", "gloss", "ink", "spot"};
    const std::string small = lower(text);
    const std::size_t blank = small.find_last_of(" -_");
    if (blank == std::string::npos || blank == 0) {
        return without_spacing(text);
    }
    const std::string last = small.substr(blank + 1);
    const bool is_finish = std::find(finishes.begin(), finishes.end(), last) != finishes.end();
    return without_spacing(is_finish ? text.substr(0, blank) : text);
}

/// Whether one edit makes \p a into \p b.
bool one_edit_apart(const std::string &a, const std::string &b)
{
    const std::string &shorter = a.size() <= b.size() ? a : b;
    const std::string &longer = a.size() <= b.size() ? b : a;
    if (longer.size() - shorter.size() > 1) {
        return false;
    }
    std::size_t i = 0;
    while (i < shorter.size() && shorter[i] == longer[i]) {
        ++i;
    }
    return longer.size() == shorter.size() ? shorter.substr(std::min(i + 1, shorter.size())) ==
                                                 longer.substr(std::min(i + 1, longer.size()))
                                           : shorter.substr(i) == longer.substr(i + 1);
}

/// Numbered names ("Blue 1", "Blue 2") are one edit apart and mean different inks.
bool differ_in_digits_only(const std::string &a, const std::string &b)
{
    const auto letters = [](std::string text) {
        std::erase_if(text, [](char c) { return c >= '0' && c <= '9'; });
        return text;
    };
    return letters(a) == letters(b);
}

} // namespace

NameLikeness compare_names(const std::string &a, const std::string &b)
{
    if (a == b) {
        return NameLikeness::Same;
    }
    if (lower(a) == lower(b)) {
        return NameLikeness::Case;
    }
    const std::string plain_a = without_spacing(a);
    const std::string plain_b = without_spacing(b);
    if (plain_a == plain_b) {
        return NameLikeness::Spacing;
    }
    if (without_finish(a) == without_finish(b)) {
        return NameLikeness::Finish;
    }
    constexpr std::size_t long_enough = 4; // "Red" and "Rod" say little
    if (std::min(plain_a.size(), plain_b.size()) >= long_enough && one_edit_apart(plain_a, plain_b) &&
        !differ_in_digits_only(plain_a, plain_b)) {
        return NameLikeness::OneLetter;
    }
    return NameLikeness::Different;
}

NearestName nearest_name(const std::string &name, const std::vector<std::string> &list)
{
    NearestName nearest;
    for (const std::string &candidate : list) {
        const NameLikeness likeness = compare_names(name, candidate);
        if (likeness < nearest.likeness) {
            nearest = {candidate, likeness};
        }
    }
    return nearest;
}

const char *describe(NameLikeness likeness)
{
    static constexpr const char *words[] = {
        "is the same",           "differs in upper and lower case",
        "differs in spacing",    "differs in a suffix for paper or finish",
        "differs in one letter", "is another name"};
    return words[static_cast<std::size_t>(likeness)];
}

} // namespace bichrom
