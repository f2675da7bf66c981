/// \file
/// Tiles of thresholds kept on disk, since they take a while to make.
/// Layer: core/screen, private to it.
#pragma once

#include "core/screen/threshold_tile.h"

#include <optional>
#include <string>

namespace bichrom {

/// The tile that was kept under \p key, if there is one and it is whole. \p lattice is what it must have.
[[nodiscard]] std::optional<std::vector<std::uint16_t>> kept_thresholds(const std::string &key,
                                                                        const RepeatingLattice &lattice);

/// Keeps \p thresholds under \p key in the user's cache folder ($XDG_CACHE_HOME, else ~/.cache); what has not
/// been used for longest goes when there are many. Nothing happens where that cannot be written.
void keep_thresholds(const std::string &key, const RepeatingLattice &lattice,
                     const std::vector<std::uint16_t> &thresholds);

} // namespace bichrom
