/// \file
/// A shop's own tile of thresholds, read from a picture.
/// Layer: core/screen. May use core/artwork, core/job, core/base.
#pragma once

#include "core/job/own_tile.h"

#include <filesystem>

namespace bichrom {

/// The tile in a grey PNG or TIFF of up to OwnTile::largest pixels a side, 1 to 16 bits: what is darker takes
/// ink first, whatever the values are (OwnTile::ranked()). \return FileMissing, CannotRead, WrongFormat for
/// other files, for colours and for damaged ones; OutOfRange as
///         OwnTile::ranked()
[[nodiscard]] Outcome<OwnTile> read_tile_file(const std::filesystem::path &path);

} // namespace bichrom
