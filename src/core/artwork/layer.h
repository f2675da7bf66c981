/// \file
/// A layer of the artwork.
/// Layer: core/artwork.
#pragma once

#include <string>

namespace bichrom {

/// A layer (optional-content group) as the file names it.
struct Layer
{
    std::string name;
    bool prints = true; ///< on in the file's default configuration, as in print
    friend bool operator==(const Layer &, const Layer &) = default;
};

} // namespace bichrom
