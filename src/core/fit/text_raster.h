/// \file
/// Words on films.
/// Layer: core/fit, private. MuPDF stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/raster/plane.h"

#include <memory>
#include <string>

namespace bichrom {

/// Draws text in the program's own typeface. For one thread.
class TextRaster
{
public:
    [[nodiscard]] static Outcome<TextRaster> make();
    ~TextRaster();
    TextRaster(TextRaster &&) noexcept;
    TextRaster &operator=(TextRaster &&) = delete;

    /// Width in pixels of \p text at \p size pixels to the em.
    [[nodiscard]] double width(const std::string &text, double size) const;
    /// One line, antialiased, 0 to 255; 1.25 × size high, the baseline at 0.95 × size.
    [[nodiscard]] Outcome<Plane> draw(const std::string &text, double size) const;

private:
    struct Impl;
    explicit TextRaster(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
