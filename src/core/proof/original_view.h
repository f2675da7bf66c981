/// \file
/// The customer's page as it came, for the screen.
/// Layer: core/proof. May use core/page (the routing device), core/artwork, core/colour.
#pragma once

#include "core/artwork/artwork.h"
#include "core/base/job_control.h"
#include "core/base/units.h"
#include "core/line/plate_line.h"

#include <cstdint>
#include <memory>
#include <vector>

namespace bichrom {

/// Paints a page in sRGB without plates, routes or overprint: process colours through the
/// printing condition's profile, spots by the alternate colours the file gives them.
/// Immutable; may be used from any thread.
class OriginalView
{
public:
    /// CannotRead, TooLarge, Cancelled.
    [[nodiscard]] static Outcome<std::shared_ptr<const OriginalView>>
    make(std::shared_ptr<const PageContent> page, const JobControl &control = {});
    ~OriginalView();
    OriginalView(const OriginalView &) = delete;
    OriginalView &operator=(const OriginalView &) = delete;

    /// Smooth, or with \p edges Quick coarser for a first look.
    /// \param most_seconds  of work
    /// \return rect.width × rect.height words 0xFFRRGGBB over white; Cancelled; TooLarge when it takes longer
    [[nodiscard]] Outcome<std::vector<std::uint32_t>> render(PixelRect rect, Dpi resolution,
                                                             Edges edges = Edges::Smooth,
                                                             const JobControl &control = {},
                                                             double most_seconds = 60) const;

private:
    struct Impl;
    explicit OriginalView(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
