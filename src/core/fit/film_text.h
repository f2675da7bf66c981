/// \file
/// Words on films.
/// Layer: core/fit, private. MuPDF stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/raster/shape_list.h"

#include <memory>
#include <string>

namespace bichrom {

/// Draws text in the program's own typeface. For one thread.
class FilmText
{
public:
    [[nodiscard]] static Outcome<FilmText> make();
    ~FilmText();
    FilmText(FilmText &&) noexcept;
    FilmText &operator=(FilmText &&) = delete;

    /// Width in pixels of \p text at \p size pixels to the em.
    [[nodiscard]] double width(const std::string &text, double size) const;
    /// Puts the outlines of \p text, one line, into the open shape of \p shapes, from \p x on the baseline \p
    /// y.
    [[nodiscard]] Done add(const std::string &text, double size, double x, double y, ShapeList &shapes) const;

private:
    struct Impl;
    explicit FilmText(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
