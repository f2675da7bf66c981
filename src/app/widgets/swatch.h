/// \file
/// A colour as a small picture beside words.
/// Layer: app/widgets.
#pragma once

#include <QIcon>

namespace bichrom {

inline constexpr QSize swatch_size(24, 16);

/// With a border, so that white is seen; a chosen row does not tint it.
[[nodiscard]] QIcon make_swatch(const QColor &colour);

} // namespace bichrom
