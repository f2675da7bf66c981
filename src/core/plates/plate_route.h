/// \file
/// Sends every colour of a page to the planes of the job's plates.
/// Layer: core/plates, private to the core. May use core/artwork, core/colour.
#pragma once

#include "core/artwork/mupdf/colourants.h"
#include "core/plates/routing_device.h"

#include <array>
#include <map>
#include <string>
#include <vector>

namespace bichrom {

/// MuPDF paints into at least these, its own process colours; pages without process ink
/// use them for spots.
inline constexpr int base_planes = 4;
/// MuPDF counts the artwork area, its alpha, among the 32 channels it allows.
inline constexpr int most_planes = FZ_MAX_COLORS - 1;

/// MuPDF's name of a plane; the inks' own names never reach its colour code.
[[nodiscard]] std::string plane_name(int plane);

/// Identity routes: each ink goes to its own plane. ISO 32000-1 overprint rules (8.6.7,
/// 11.7.4.3) decide which planes a colour leaves alone:
/// - Separation and DeviceN leave unnamed inks alone; None paints nothing, All paints every plane;
/// - DeviceCMYK leaves spots alone, with OPM 1 also process inks at zero;
/// - any other space paints all process inks and leaves spots alone.
class PlateRoute final : public ColourRoute
{
public:
    /// \param spots    ink names for the planes behind the process ones, or for all planes
    /// \param process  whether the first four planes are cyan, magenta, yellow and black; else
    ///                 process colours only knock out
    PlateRoute(const std::vector<std::string> &spots, bool process, const PageColours &colours,
               bool honour_overprint = true);
    ~PlateRoute() override = default;

    bool honours_overprint() const override { return m_honour_overprint; }

    void colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params params,
                bool solid_colour, RoutedColour &out) override;
    fz_colorspace *target_space(fz_context *ctx, fz_colorspace *space, bool overprint) override;
    void components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                    float *out) override;
    fz_pixmap *pixels(fz_context *ctx, fz_pixmap *source, bool overprint) override;

    /// Drops the colour spaces made; call before destruction with a context of the same runtime.
    void release(fz_context *ctx);

private:
    using Values = std::array<float, FZ_MAX_COLORS>;

    /// Fills \p planes and returns the set of planes painted, a bit each.
    std::uint32_t resolve(fz_context *ctx, fz_colorspace *space, const float *value, int overprint_mode,
                          Values &planes);
    std::uint32_t painted_planes(fz_context *ctx, fz_colorspace *space);
    /// The planes that a shading or image of \p space is given in.
    std::uint32_t target_planes(fz_context *ctx, fz_colorspace *space, bool overprint);
    const std::vector<int> &colorant_planes(fz_context *ctx, fz_colorspace *space);
    fz_colorspace *plane_space(fz_context *ctx, std::uint32_t planes);

    bool m_process;
    bool m_honour_overprint;
    int m_planes; ///< in use, without unused base planes
    std::map<std::string, int> m_plane_of;
    const PageColours &m_colours;
    std::map<std::uint32_t, fz_colorspace *> m_spaces;
    std::map<fz_colorspace *, std::vector<int>> m_colorants; ///< keys kept
};

} // namespace bichrom
