/// \file
/// File names made from names that people gave to inks.
/// Layer: core/base.
#pragma once

#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace bichrom {

/// Replaces everything that is unsafe in a file name on any system by '_':
/// control characters, separators, reserved signs, a leading dot, trailing dots
/// and blanks, the device names of one old system. UTF-8 letters stay. At most
/// 80 bytes, cut between characters. Never empty.
[[nodiscard]] std::string safe_file_name(std::string_view name);

/// safe_file_name() of each, made distinct (ignoring case) by "-2", "-3" and so on.
[[nodiscard]] std::vector<std::string> distinct_file_names(const std::vector<std::string> &names);

/// \p name with \p ending in \p folder, or "name-2", "name-3" … where that stands there already, whatever it
/// is.
[[nodiscard]] std::filesystem::path free_path(const std::filesystem::path &folder, const std::string &name,
                                              const std::string &ending = {});

/// The ending of a file's name in small letters, ".tif"; empty when it has none.
[[nodiscard]] std::string file_ending(const std::filesystem::path &path);

} // namespace bichrom
