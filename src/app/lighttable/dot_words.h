/// \file
/// What a densitometer says of a patch of film, in words.
/// Layer: app/lighttable. May use core/screen.
#pragma once

#include "core/screen/densitometer.h"

#include <QString>

namespace bichrom {

/// "39.9 % ink, 55 lpi at 22.5°, dots of 240 µm", "bare film", "solid" …
[[nodiscard]] QString dot_words(const DotReading &reading);

} // namespace bichrom
