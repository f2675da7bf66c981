/// \file
/// What a MuPDF colour space is called and which inks it names.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/colour/process_profile.h"

#include <array>
#include <string>
#include <vector>

namespace bichrom {

inline constexpr std::array<const char *, 4> process_names = {"Cyan", "Magenta", "Yellow", "Black"};

/// 0 to 3 for a process colourant's name, -1 for any other.
[[nodiscard]] int process_index(const std::string &name);

/// An Indexed space's base, any other space itself; borrowed.
[[nodiscard]] fz_colorspace *base_space(fz_colorspace *space);

/// "DeviceCMYK", "Separation" and so on, after ISO 32000's names.
[[nodiscard]] std::string space_name(fz_context *ctx, fz_colorspace *space);

/// One name a component, as UTF-8.
[[nodiscard]] std::vector<std::string> colorant_names(fz_context *ctx, fz_colorspace *space);

/// A colour of a Gray, RGB, CMYK or Lab space as components 0–1 in that space,
/// with Indexed looked up and Separation/DeviceN turned into their alternate.
struct AlternateColour
{
    enum class Model
    {
        Gray,
        Rgb,
        Process,
        CieLab
    } model = Model::Gray;
    std::array<float, 4> value{}; ///< Lab: L*, a*, b*
};

/// Resolves any colour to its alternate. Does not allocate.
[[nodiscard]] AlternateColour alternate_colour(fz_context *ctx, fz_colorspace *space, const float *value);

[[nodiscard]] Cmyk to_cmyk(const AlternateColour &colour, const ProcessProfile &profile);
[[nodiscard]] Lab to_lab(const AlternateColour &colour, const ProcessProfile &profile);
[[nodiscard]] Rgb8 to_rgb(const AlternateColour &colour, const ProcessProfile &profile);

} // namespace bichrom
