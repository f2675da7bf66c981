/// \file
/// What MuPDF's colours mean: the inks they name, and their values in the job's condition.
/// Layer: core/artwork/mupdf, private to the core.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/scene.h"
#include "core/colour/colour_settings.h"
#include "core/colour/source_profile.h"

#include <array>
#include <map>
#include <string>
#include <vector>

namespace bichrom {

/// MuPDF knows no profiles. Intake writes each ICCBased or CIE-based space as a DeviceN space whose
/// colourants carry this prefix, the profile's number and the channel: "bichrom-icc:2:0".
inline constexpr const char *profiled_prefix = "bichrom-icc:";

/// 0 to 3 for a process colourant's name, -1 for any other.
[[nodiscard]] int process_index(const std::string &name);

/// An Indexed space's base, any other space itself; borrowed.
[[nodiscard]] fz_colorspace *base_space(fz_colorspace *space);

/// The tints, 0 to 1, of the inks that \p space or its base names.
void ink_tints(fz_colorspace *space, const float *value, std::array<float, FZ_MAX_COLORS> &tints);

/// A colour resolved to a device or profiled value, with Indexed looked up and
/// Separation/DeviceN turned into their alternate.
struct AlternateColour
{
    enum class Model
    {
        Gray,
        Rgb,
        Process,
        CieLab,
        Profiled
    } model = Model::Gray;
    std::array<float, 4> value{};          ///< 0 to 1; Lab: L*, a*, b*
    const SourceProfile *source = nullptr; ///< of Profiled
};

/// Reads colours by the job's settings and the profiles embedded in the artwork.
/// Immutable; may be used from any thread.
class PageColours
{
public:
    /// \param embedded  the artwork's profiles, by number; damaged ones are read as device colours
    /// \param warnings  what could not be used
    /// \return WrongFormat when a profile of the settings is unusable
    [[nodiscard]] static Outcome<std::shared_ptr<const PageColours>>
    make(const ColourSettings &settings, const std::vector<std::vector<std::byte>> &embedded,
         std::vector<std::string> &warnings);

    [[nodiscard]] const ProcessProfile &condition() const { return *m_condition; }

    /// Whether \p space, or its base, names inks (Separation, DeviceN).
    [[nodiscard]] bool names_inks(fz_context *ctx, fz_colorspace *space) const;

    /// The profile by which \p space itself is read: its own, or the one assumed for RGB; null for
    /// others and for CMYK whose numbers are kept.
    [[nodiscard]] const SourceProfile *source_of(fz_context *ctx, fz_colorspace *space) const;

    /// How many channels of Gray, RGB, CMYK or Lab \p space has, read by its profile or not; 0 for
    /// spaces that name inks.
    [[nodiscard]] int device_channels(fz_context *ctx, fz_colorspace *space) const;

    /// "DeviceCMYK", "Separation", "ICCBased" and so on, after ISO 32000's names.
    [[nodiscard]] std::string space_name(fz_context *ctx, fz_colorspace *space) const;
    /// The embedded profile's own name; empty for spaces without one.
    [[nodiscard]] std::string profile_name(fz_context *ctx, fz_colorspace *space) const;

    /// One name a component, as UTF-8.
    [[nodiscard]] std::vector<std::string> colorant_names(fz_context *ctx, fz_colorspace *space) const;

    /// Resolves any colour to its alternate.
    [[nodiscard]] AlternateColour alternate(fz_context *ctx, fz_colorspace *space, const float *value) const;

    /// A colour as written, what it looks like and which inks it puts down; objects stays 0.
    /// \param value  null for pictures and shadings
    [[nodiscard]] FoundColour found(fz_context *ctx, fz_colorspace *space, const float *value) const;

    [[nodiscard]] Cmyk to_cmyk(const AlternateColour &colour) const;
    [[nodiscard]] Lab to_lab(const AlternateColour &colour) const;
    [[nodiscard]] Rgb8 to_rgb(const AlternateColour &colour) const;

private:
    PageColours() = default;
    /// The number of an embedded profile that stands behind \p space; −1 for none.
    [[nodiscard]] int profile_number(fz_context *ctx, fz_colorspace *space) const;

    std::shared_ptr<const ProcessProfile> m_condition;
    std::shared_ptr<const SourceProfile> m_assumed_rgb; ///< null = sRGB
    std::vector<std::shared_ptr<const SourceProfile>> m_embedded;
    bool m_convert_cmyk = false;
};

} // namespace bichrom
