/// \file
/// What can be done with a colour of the artwork, at the pointer.
/// Layer: app/worktops.
#pragma once

#include "app/services/ink_library.h"
#include "app/services/router.h"
#include "app/services/session.h"

class QMenu;
class QWidget;

namespace bichrom {

/// The five inks of the book nearest to the colour, each a plate and the route to it, the nearest chosen, so
/// that Enter takes it; the job's plates and the other ends; with an object, the same for it alone. Nothing
/// is shown yet; it goes when it is closed. \param colour  number in the scene \param object  index in the
/// scene, or −1 \return null for a colour that is none of the scene's own
[[nodiscard]] QMenu *make_colour_menu(Session &session, Router &router, const InkLibrary &library, int colour,
                                      int object, QWidget *parent);

} // namespace bichrom
