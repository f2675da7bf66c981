/// \file
/// A picture file as a page.
/// Layer: core/artwork/intake.
#pragma once

#include "core/artwork/damage.h"
#include "core/base/outcome.h"

#include <cstddef>
#include <cstdint>
#include <span>
#include <string>
#include <vector>

namespace bichrom {

/// Pixels as the file holds them: rows top down, each padded to a whole byte, samples
/// interleaved, 16-bit samples with the high byte first.
struct Picture
{
    enum class Space
    {
        Gray,
        Rgb,
        Cmyk,
        CieLab, ///< L* 0 to 255, a* and b* offset by 128
        Palette,
        Inks ///< one sample for each of \c inks, 0 = bare
    };
    /// Inks beside the picture's own colours: printed over it, one sample each, 0 = bare.
    std::vector<std::string> extra_inks;
    std::vector<std::uint8_t> extra_samples; ///< of extra_inks, interleaved, \c bits each
    int width = 0, height = 0;
    int bits = 8; ///< of a sample: 1, 2, 4, 8 or 16
    Space space = Space::Gray;
    std::vector<std::string> inks;     ///< of Inks
    std::vector<std::uint8_t> palette; ///< of Palette: RGB triples
    std::vector<std::byte> icc;        ///< empty when there is none
    std::vector<std::uint8_t> samples; ///< or a whole JPEG file when is_jpeg
    bool is_jpeg = false;
    bool is_deflated = false; ///< samples, extra_samples and alpha are zlib streams: they would be too large
    bool inverted = false;    ///< 0 means full ink, or white where the space says black
    std::vector<std::uint8_t> alpha; ///< 0 = no ink; empty when everything is opaque
    int alpha_bits = 8;
    double ppi_across = 0, ppi_down = 0; ///< 0 = the file does not say
    int orientation = 1;                 ///< 1 to 8 as in EXIF: how to turn it upright

    [[nodiscard]] int channels() const;
};

/// What reading a picture file gives.
struct PictureFile
{
    std::vector<Picture> pages;
    std::vector<std::string> assumptions; ///< how doubtful things were read
    std::vector<Damage> damage;           ///< what could not be read whole
};

/// CannotRead, TooLarge, WrongFormat.
[[nodiscard]] Outcome<PictureFile> read_png(std::span<const std::byte> bytes);
[[nodiscard]] Outcome<PictureFile> read_jpeg(std::span<const std::byte> bytes);
[[nodiscard]] Outcome<PictureFile> read_tiff_pictures(std::span<const std::byte> bytes);

/// Writes each picture on a page of its own size. A picture that does not say its resolution is
/// taken at \p assumed_ppi, which is added to \p assumptions. TooLarge above 200 inches.
[[nodiscard]] Outcome<std::vector<std::byte>> wrap_pictures(const PictureFile &file, double assumed_ppi,
                                                            std::vector<std::string> &assumptions);

} // namespace bichrom
