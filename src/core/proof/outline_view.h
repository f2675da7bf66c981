/// \file
/// The outlines of everything a page paints, whatever its colour.
/// Layer: core/proof. May use core/artwork, core/page. MuPDF stays inside.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/units.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace bichrom {

/// Draws each object as a hairline: shapes, lines and letters by their contours, pictures and shadings
/// as crossed frames. White, empty and overprinted-away objects show like all others, so that strays are
/// found. Clips hold. Immutable; may be used from any thread.
class OutlineView
{
public:
    explicit OutlineView(std::shared_ptr<const PageContent> page) : m_page(std::move(page)) {}

    /// \return rect.width × rect.height bytes, 0 = paper, 255 = line; CannotRead, TooLarge
    [[nodiscard]] Outcome<std::vector<std::uint8_t>> render(PixelRect rect, Dpi resolution) const;

private:
    std::shared_ptr<const PageContent> m_page;
};

} // namespace bichrom
