/// \file
/// The border at which running out of memory becomes an error like any other.
/// Layer: core/base.
#pragma once

#include "core/base/outcome.h"

#include <new>
#include <string>

namespace bichrom {

/// What \p work returns, an outcome; TooLarge at \p place when there is no memory for it.
template <typename Work>
[[nodiscard]] auto within_memory(const std::string &place, Work work) -> decltype(work())
{
    try {
        return work();
    } catch (const std::bad_alloc &) {
        return Error{ErrorCode::TooLarge, "There is not enough memory for this.", place,
                     "Close other programs, use a lower resolution, or show a smaller part."};
    }
}

} // namespace bichrom
