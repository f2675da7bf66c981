#include "core/base/file_name.h"

#include <algorithm>
#include <set>

namespace bichrom {

namespace {

std::string lower(std::string text)
{
    std::transform(text.begin(), text.end(), text.begin(),
                   [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c + 32) : c; });
    return text;
}

} // namespace

std::string safe_file_name(std::string_view name)
{
    static constexpr std::string_view reserved = "<>:\"/\\|?*%";
    std::string safe;
    for (const char c : name) {
        const bool control = static_cast<unsigned char>(c) < 0x20 || c == 0x7f;
        safe += control || reserved.find(c) != std::string_view::npos ? '_' : c;
    }
    constexpr std::size_t longest = 80;
    if (safe.size() > longest) {
        std::size_t cut = longest;
        while (cut > 0 && (static_cast<unsigned char>(safe[cut]) & 0xC0) == 0x80) {
            --cut; // do not cut inside a UTF-8 character
        }
        safe.resize(cut);
    }
    while (!safe.empty() && (safe.back() == '.' || safe.back() == ' ')) {
        safe.back() = '_';
        if (safe.find_first_not_of('_') == std::string::npos) {
            break;
        }
    }
    if (!safe.empty() && (safe.front() == '.' || safe.front() == ' ' || safe.front() == '-')) {
        safe.front() = '_';
    }
    static const std::set<std::string> devices = {"con", "prn", "aux", "nul", "com1", "lpt1"};
    if (safe.empty() || devices.count(lower(safe)) > 0) {
        safe += '_';
    }
    return safe;
}

std::vector<std::string> distinct_file_names(const std::vector<std::string> &names)
{
    std::vector<std::string> result;
    std::set<std::string> taken;
    for (const std::string &name : names) {
        const std::string stem = safe_file_name(name);
        std::string candidate = stem;
        for (int n = 2; !taken.insert(lower(candidate)).second; ++n) {
            candidate = stem + "-" + std::to_string(n);
        }
        result.push_back(candidate);
    }
    return result;
}

std::filesystem::path free_path(const std::filesystem::path &folder, const std::string &name,
                                const std::string &ending)
{
    std::filesystem::path path = folder / (name + ending);
    std::error_code fault;
    for (int n = 2; std::filesystem::exists(std::filesystem::symlink_status(path, fault)); ++n) {
        path = folder / (name + "-" + std::to_string(n) + ending);
    }
    return path;
}

std::string file_ending(const std::filesystem::path &path)
{
    std::string ending = path.extension().string();
    for (char &letter : ending) {
        letter = letter >= 'A' && letter <= 'Z' ? static_cast<char>(letter - 'A' + 'a') : letter;
    }
    return ending;
}

} // namespace bichrom
