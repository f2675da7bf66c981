/// \file
/// Colours, type and sizes of the interface, in one place.
/// Layer: app/widgets.
#pragma once

#include "core/base/units.h"
#include "core/colour/process_profile.h"

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;

namespace bichrom::theme {

// The interface is neutral; only inks carry colour. Amber marks what is active or
// needs the artist. Contrast against panel: text 13:1, quiet text 5.6:1.
inline const QColor strip(0xd6, 0xd6, 0xd1);
inline const QColor panel(0xe4, 0xe4, 0xe1);
inline const QColor card(0xee, 0xee, 0xeb);
inline const QColor field(0xfb, 0xfb, 0xf9);
inline const QColor line(0xc2, 0xc2, 0xbd);
inline const QColor surround(0x8c, 0x8c, 0x8a); // L* 58
inline const QColor text(0x1c, 0x1c, 0x1b);
inline const QColor quiet(0x56, 0x56, 0x53);
inline const QColor unusable(0x5b, 0x5b, 0x58); // what cannot be changed now, yet may be read
inline const QColor amber(0xe5, 0x9a, 0x1c);
inline const QColor amberText(0x7a, 0x48, 0x00);
inline const QColor amberField(0xf6, 0xe8, 0xd0);

/// Loads the shipped typeface and sets palette and style sheet.
void apply(QApplication &app);

/// The interface's type; sizes in pixels: 11 small, 12 body, 13 heading, 15 title.
[[nodiscard]] QFont font(int pixels, QFont::Weight weight = QFont::Normal);

[[nodiscard]] QString text_of(const std::string &utf8);
[[nodiscard]] QColor color_of(Rgb8 rgb);
/// The screen colour of an ink's solid.
[[nodiscard]] QColor ink_color(const Lab &lab);
/// Style of the buttons in a switch: flat, the chosen one framed in amber.
[[nodiscard]] QString switchStyle();
/// Style of a list whose chosen row is marked in amber.
[[nodiscard]] QString listStyle();
/// "14.2 %"
[[nodiscard]] QString percent(double share, int decimals = 1);
/// How much of the trim a plate covers: "…" while it is not known (negative), "< 0.1 %" for what would read
/// as nothing.
[[nodiscard]] QString coverage(double share);

} // namespace bichrom::theme
