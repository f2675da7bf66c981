/// \file
/// A picture's pixels as what routes work on: tints of inks, a process build, or how dark they are.
/// Layer: core/page, private to the core. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/colourants.h"
#include "core/base/job_control.h"
#include "core/raster/unmix.h"

#include <cstdint>

namespace bichrom {

/// Reads a decoded picture row by row. Holds nothing that has to be released.
class PictureRows
{
public:
    enum class As
    {
        Inks,    ///< the tints of the inks its space names; else its process build
        Rgb,     ///< three channels as they look: sRGB; inks as grey of the strongest tint
        Darkness ///< one channel, 0 = white to 255 = black: 1 − grey. RGB and Lab by their luminance, encoded
                 ///< as sRGB so that greys keep their numbers; CMYK by ISO 32000-1, 10.3.2; inks by the
                 ///< strongest
    };

    PictureRows(fz_context *ctx, const PageColours &colours, const fz_pixmap &source, As as);

    /// Bytes a pixel that row() writes: 1 for greys and darkness, 4 for a process build, else one an ink.
    [[nodiscard]] int channels() const { return m_channels; }
    /// Whether the one channel is black ink only.
    [[nodiscard]] bool is_black_only() const { return m_black_only; }

    [[nodiscard]] std::size_t scratch_bytes() const
    {
        return static_cast<std::size_t>(m_source.w) * (static_cast<std::size_t>(m_in) + 4);
    }

    /// Writes row \p y, 0 = bare to 255 = solid, \p out holding width × channels() and
    /// \p scratch scratch_bytes().
    void row(int y, std::uint8_t *out, std::uint8_t *scratch) const;

private:
    void rgb(const std::uint8_t *colours, std::uint8_t *out, std::uint8_t *scratch) const;
    void darkness(const std::uint8_t *colours, std::uint8_t *out, std::uint8_t *scratch) const;

    const PageColours &m_colours;
    const fz_pixmap &m_source;
    const SourceProfile *m_profile;
    int m_in;
    bool m_names_inks;
    bool m_is_lab;
    bool m_is_bgr;
    As m_as;
    int m_channels = 1;
    bool m_black_only = false;
};

/// Pixels up to which a picture can be taken apart into flat colours, which holds all of it in memory.
constexpr std::int64_t most_pixels_apart = 250'000'000;

/// The whole picture as it looks; empty when it has more than most_pixels_apart, or nobody wants it any more.
[[nodiscard]] RgbPicture rgb_picture(fz_context *ctx, const PageColours &colours, const fz_pixmap &source,
                                     const JobControl &control = {});

} // namespace bichrom
