/// \file
/// A film file row by row, for who cannot hold all of it.
/// Layer: core/screen. May use core/base. libtiff stays inside.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"

#include <cstdint>
#include <filesystem>
#include <memory>

namespace bichrom {

/// Rows of a 1-bit TIFF in strips, from the top.
class FilmRows
{
public:
    /// Errors as read_film(); WrongFormat for a file in tiles.
    [[nodiscard]] static Outcome<FilmRows> open(const std::filesystem::path &path);
    ~FilmRows();
    FilmRows(FilmRows &&) noexcept;
    FilmRows &operator=(FilmRows &&) = delete;

    [[nodiscard]] int width() const;
    [[nodiscard]] int height() const;
    [[nodiscard]] Dpi resolution() const;
    /// The next row into \p to, (width + 7) / 8 bytes, 1 = ink, bits beyond the width bare. CannotRead, also
    /// after the last.
    [[nodiscard]] Done next(std::uint8_t *to);

private:
    struct Impl;
    explicit FilmRows(std::unique_ptr<Impl> impl);
    std::unique_ptr<Impl> m_impl;
};

} // namespace bichrom
