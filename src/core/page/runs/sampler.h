/// \file
/// Tones that differ from pixel to pixel: pictures and gradients.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"

#include <array>
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

namespace bichrom {

/// Where the components of a colour go: by plane, the component; −1 where it has none.
using ComponentOf = std::array<std::int8_t, FZ_MAX_COLORS>;

/// Gives tones for stretches of rows. Immutable; any thread.
class Sampler
{
public:
    virtual ~Sampler() = default;
    /// For each pixel of columns [\p begin, \p end) of \p row which of its values it takes.
    virtual void indices(int row, int begin, int end, std::uint32_t *out) const = 0;
    /// The tones of \p plane for \p count such indices of neighbours in \p row. \pre the sampler has that
    /// plane
    virtual void tones(int plane, int row, const std::uint32_t *indices, int count,
                       std::uint8_t *out) const = 0;
    /// The tone that \p plane has everywhere, where that is known. \pre as of tones()
    [[nodiscard]] virtual std::optional<std::uint8_t> only_tone(int /*plane*/) const { return std::nullopt; }
    /// Whether two rows have the same indices everywhere.
    [[nodiscard]] virtual bool same_row(int a, int b) const = 0;
};

/// A picture enlarged as its pixels are: each film pixel takes the one that its centre lies in.
/// \param pixels     outlive the sampler; without alpha
/// \param to_pixels  from the unit square, in which the picture lies, to the page's pixels
/// \return null when \p to_pixels cannot be turned around
[[nodiscard]] std::unique_ptr<const Sampler>
sample_picture(const fz_pixmap *pixels, const fz_matrix &to_pixels, const ComponentOf &components);

/// A picture enlarged whose pixels blend into each other: between the middles of four of them tones go on
/// evenly, beyond the outermost they stay. Rounded to the nearest.
/// \param pixels  outlive the sampler; without alpha \param to_pixels  as of sample_picture()
/// \return null where the picture does not lie along the page's edges, or is made smaller
[[nodiscard]] std::unique_ptr<const Sampler>
blend_picture(const fz_pixmap *pixels, const fz_matrix &to_pixels, const ComponentOf &components);

/// Whether one circle of a radial gradient lies within the other.
[[nodiscard]] bool circles_nest(const fz_shade *shade);

/// A gradient with a table of 256 colours, linear or radial between circles that nest. \param shade  outlives
/// the sampler \return null for other kinds
[[nodiscard]] std::unique_ptr<const Sampler> sample_shade(const fz_shade *shade, const fz_matrix &to_pixels,
                                                          const ComponentOf &components);

/// The same for its luminosity, as plane 0.
[[nodiscard]] std::unique_ptr<const Sampler> sample_luminosity(fz_context *ctx, const fz_shade *shade,
                                                               const fz_matrix &to_pixels,
                                                               const fz_color_params &params);

} // namespace bichrom
