/// \file
/// Words for what inks are.
/// Layer: app/widgets.
#pragma once

#include "core/colour/ink_use.h"

#include <QString>

namespace bichrom {

/// "spot", "opaque white" …
[[nodiscard]] QString ink_use_words(InkUse use);

} // namespace bichrom
