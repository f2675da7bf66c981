/// \file
/// A layer of the artwork.
/// Layer: core/artwork.
#pragma once

#include <string>

namespace bichrom {

/// Begins the name of the layer in which an artwork placed on another is interpreted; the artwork's number
/// follows. Intake lets no file's own layer keep a name like it.
inline constexpr const char *placed_layer_prefix = "bichrom-placed:";

/// A layer (optional-content group) as the file names it.
struct Layer
{
    std::string name;
    bool prints = true;  ///< on in the file's default configuration, as in print
    int unprinted = 0;   ///< of one that does not print: what would be painted, over all pages
    bool counted = true; ///< the whole file was looked through for that
    friend bool operator==(const Layer &, const Layer &) = default;
};

} // namespace bichrom
