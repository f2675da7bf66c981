/// \file
/// SHA-256 of bytes and files (FIPS 180-4).
/// Layer: core/artwork. May use core/base.
#pragma once

#include "core/base/outcome.h"

#include <cstddef>
#include <filesystem>
#include <span>
#include <string>

namespace bichrom {

/// 64 hexadecimal digits.
[[nodiscard]] std::string fingerprint_of(std::span<const std::byte> bytes);

/// Of a file of any size. FileMissing, CannotRead.
[[nodiscard]] Outcome<std::string> fingerprint_of_file(const std::filesystem::path &path);

} // namespace bichrom
