/// \file
/// What is meant by a click or a drag with keys held.
/// Layer: app/models.
#pragma once

#include <Qt>

namespace bichrom {

struct Gesture
{
    bool one = false;  ///< Shift: only the object there, not all of its colour
    bool away = false; ///< Alt, or Ctrl where a desktop keeps Alt for itself: taken away, not added
};

[[nodiscard]] inline Gesture gesture_of(Qt::KeyboardModifiers keys)
{
    return {keys.testFlag(Qt::ShiftModifier), (keys & (Qt::AltModifier | Qt::ControlModifier)) != 0};
}

} // namespace bichrom
