#include "core/page/picture_rows.h"

#include "core/colour/srgb.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <vector>

namespace bichrom {

namespace {

constexpr double full = 65535.0;

/// sRGB (IEC 61966-2-1) to linear light, 16 bits.
const std::array<std::uint32_t, 256> &linear_table()
{
    static const std::array<std::uint32_t, 256> table = [] {
        std::array<std::uint32_t, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] = static_cast<std::uint32_t>(
                std::lround(srgb_to_linear(static_cast<double>(i) / 255.0) * full));
        }
        return made;
    }();
    return table;
}

/// Linear light back to sRGB.
const std::vector<std::uint8_t> &encoded_table()
{
    static const std::vector<std::uint8_t> table = [] {
        std::vector<std::uint8_t> made(65536);
        for (std::size_t i = 0; i < made.size(); ++i) {
            made[i] =
                static_cast<std::uint8_t>(std::lround(linear_to_srgb(static_cast<double>(i) / full) * 255.0));
        }
        return made;
    }();
    return table;
}

/// L* (8 bits for 0 to 100) to grey of the same luminance.
const std::array<std::uint8_t, 256> &lightness_table()
{
    static const std::array<std::uint8_t, 256> table = [] {
        std::array<std::uint8_t, 256> made{};
        for (std::size_t i = 0; i < made.size(); ++i) {
            const double f = (static_cast<double>(i) / 255.0 * 100.0 + 16.0) / 116.0; // CIE 15, L*
            const double y = f > 6.0 / 29.0 ? f * f * f : (f - 16.0 / 116.0) * 3.0 * 36.0 / 841.0;
            made[i] = encoded_table()[static_cast<std::size_t>(std::lround(std::clamp(y, 0.0, 1.0) * full))];
        }
        return made;
    }();
    return table;
}

} // namespace

PictureRows::PictureRows(fz_context *ctx, const PageColours &colours, const fz_pixmap &source, As as)
    : m_colours(colours), m_source(source), m_profile(colours.source_of(ctx, source.colorspace)),
      m_in(source.n - source.alpha), m_names_inks(colours.names_inks(ctx, source.colorspace)),
      m_is_lab(source.colorspace->type == FZ_COLORSPACE_LAB),
      m_is_bgr(source.colorspace->type == FZ_COLORSPACE_BGR), m_as(as)
{
    if (as == As::Inks) {
        m_black_only = !m_names_inks && m_profile == nullptr && m_in == 1;
        m_channels = m_names_inks ? m_in : m_black_only ? 1 : 4;
    } else if (as == As::Rgb) {
        m_channels = 3;
    }
}

void PictureRows::row(int y, std::uint8_t *out, std::uint8_t *scratch) const
{
    const auto width = static_cast<std::size_t>(m_source.w);
    const auto in = static_cast<std::size_t>(m_in);
    const auto step = static_cast<std::size_t>(m_source.n);
    const std::uint8_t *from = m_source.samples + y * m_source.stride;
    std::uint8_t *colours = scratch;
    for (std::size_t x = 0; x < width; ++x) {
        std::copy(from + x * step, from + x * step + in, colours + x * in);
    }
    if (m_is_bgr) {
        for (std::size_t x = 0; x < width; ++x) {
            std::swap(colours[x * 3], colours[x * 3 + 2]);
        }
    }
    if (m_as == As::Rgb) {
        rgb(colours, out, scratch + width * in);
    } else if (m_as == As::Darkness) {
        darkness(colours, out, scratch + width * in);
    } else if (m_names_inks) {
        std::copy(colours, colours + width * in, out);
    } else if (m_black_only) {
        std::transform(colours, colours + width, out,
                       [](std::uint8_t v) { return static_cast<std::uint8_t>(255 - v); });
    } else if (m_profile != nullptr) {
        m_profile->pixels_to_cmyk(colours, out, width);
    } else if (m_is_lab) {
        m_colours.condition().lab_pixels_to_cmyk(colours, out, width);
    } else if (m_in == 3) {
        m_colours.condition().rgb_pixels_to_cmyk(colours, out, width);
    } else {
        std::copy(colours, colours + width * in, out);
    }
}

void PictureRows::rgb(const std::uint8_t *colours, std::uint8_t *out, std::uint8_t *scratch) const
{
    const auto width = static_cast<std::size_t>(m_source.w);
    const auto in = static_cast<std::size_t>(m_in);
    if (m_names_inks || (m_profile == nullptr && in == 1)) {
        for (std::size_t x = 0; x < width; ++x) {
            const std::uint8_t v = m_names_inks
                                       ? static_cast<std::uint8_t>(
                                             255 - *std::max_element(colours + x * in, colours + x * in + in))
                                       : colours[x];
            std::fill(out + x * 3, out + x * 3 + 3, v);
        }
    } else if (m_profile != nullptr) {
        m_profile->pixels_to_rgb(colours, out, width);
    } else if (m_is_lab) {
        m_colours.condition().lab_pixels_to_cmyk(colours, scratch, width);
        m_colours.condition().cmyk_pixels_to_rgb(scratch, out, width);
    } else if (in == 3) {
        std::copy(colours, colours + width * 3, out);
    } else {
        m_colours.condition().cmyk_pixels_to_rgb(colours, out, width);
    }
}

RgbPicture rgb_picture(fz_context *ctx, const PageColours &colours, const fz_pixmap &source,
                       const JobControl &control)
{
    if (std::int64_t(source.w) * source.h > most_pixels_apart) {
        return {};
    }
    const PictureRows rows(ctx, colours, source, PictureRows::As::Rgb);
    const auto width = static_cast<std::size_t>(source.w);
    RgbPicture picture{source.w, source.h,
                       std::vector<EncodedRgb>(width * static_cast<std::size_t>(source.h))};
    std::vector<std::uint8_t> scratch(rows.scratch_bytes());
    std::vector<std::uint8_t> row(width * 3);
    for (int y = 0; y < source.h; ++y) {
        if (control.cancelled()) {
            return {};
        }
        rows.row(y, row.data(), scratch.data());
        for (std::size_t x = 0; x < width; ++x) {
            picture.pixels[static_cast<std::size_t>(y) * width + x] = {row[x * 3], row[x * 3 + 1],
                                                                       row[x * 3 + 2]};
        }
    }
    return picture;
}

void PictureRows::darkness(const std::uint8_t *colours, std::uint8_t *out, std::uint8_t *scratch) const
{
    const auto width = static_cast<std::size_t>(m_source.w);
    const auto in = static_cast<std::size_t>(m_in);
    const std::uint8_t *rgb = colours;
    if (m_names_inks) {
        for (std::size_t x = 0; x < width; ++x) {
            out[x] = *std::max_element(colours + x * in, colours + x * in + in);
        }
        return;
    }
    if (m_profile == nullptr && in == 4) {
        for (std::size_t x = 0; x < width; ++x) {
            const std::uint8_t *p = colours + x * 4;
            const int dark = (p[0] * 30 + p[1] * 59 + p[2] * 11 + 50) / 100 + p[3];
            out[x] = static_cast<std::uint8_t>(std::min(255, dark));
        }
        return;
    }
    if (m_profile == nullptr && in == 1) {
        std::transform(colours, colours + width, out,
                       [](std::uint8_t v) { return static_cast<std::uint8_t>(255 - v); });
        return;
    }
    if (m_is_lab) {
        for (std::size_t x = 0; x < width; ++x) {
            out[x] = static_cast<std::uint8_t>(255 - lightness_table()[colours[x * 3]]);
        }
        return;
    }
    if (m_profile != nullptr) {
        m_profile->pixels_to_rgb(colours, scratch, width);
        rgb = scratch;
    }
    const auto &linear = linear_table();
    const auto &encoded = encoded_table();
    for (std::size_t x = 0; x < width; ++x) {
        // Rec. 709 luminance weights, as sRGB has them; they add up to 65536.
        const std::uint32_t light = (13933u * linear[rgb[x * 3]] + 46871u * linear[rgb[x * 3 + 1]] +
                                     4732u * linear[rgb[x * 3 + 2]]) >>
                                    16;
        out[x] = static_cast<std::uint8_t>(255 - encoded[light]);
    }
}

} // namespace bichrom
