/// \file
/// How the planes of a tile become a picture.
/// Layer: app/lighttable.
#pragma once

#include "core/page/plate_tile.h"
#include "core/proof/plates_look.h"
#include "core/proof/print_look.h"

#include <QImage>

#include <cstddef>
#include <variant>
#include <vector>

namespace bichrom {

/// One plate as film.
struct FilmLook
{
    std::size_t plate = 0; ///< by the plate line's inks
};
/// Plates in their ink colours, by the plate line's inks.
using InkLook = std::vector<PlateShow>;

/// Immutable; any thread.
class TileLook
{
public:
    explicit TileLook(std::variant<InkLook, FilmLook, PrintLook> what) : m_what(std::move(what)) {}

    [[nodiscard]] QImage compose(const PlateTile &planes) const;

private:
    std::variant<InkLook, FilmLook, PrintLook> m_what;
};

} // namespace bichrom
