/// \file
/// Sends every colour of a page to the planes of the job's plates.
/// Layer: core/page, private to the core. May use core/artwork, core/colour, core/job.
#pragma once

#include "core/artwork/mupdf/colourants.h"
#include "core/artwork/mupdf/runtime.h"
#include "core/artwork/page_memory.h"
#include "core/base/job_control.h"
#include "core/job/route.h"
#include "core/page/picture_tables.h"
#include "core/page/plate_setup.h"
#include "core/page/routing_device.h"
#include "core/raster/trace.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// MuPDF paints into at least these, its own process colours; pages without process ink
/// use them for spots.
inline constexpr int base_planes = 4;
/// MuPDF counts the artwork area, its alpha, among the 32 channels it allows.
inline constexpr int most_planes = FZ_MAX_COLORS - 1;

inline constexpr std::uint32_t base_mask = 0xF; ///< the set of the base planes

/// MuPDF's name of a plane; the inks' own names never reach its colour code.
[[nodiscard]] std::string plane_name(int plane);

/// Follows the job's routes; what none takes goes to its inks' own planes. ISO 32000-1 overprint rules
/// (8.6.7, 11.7.4.3) decide which planes a colour leaves alone:
/// - Separation and DeviceN leave unnamed inks alone; None paints nothing, All paints every plane;
/// - DeviceCMYK leaves spots alone, with OPM 1 also process inks at zero;
/// - any other space paints all process inks and leaves spots alone;
/// - a colour that a route sends elsewhere paints the planes it is sent to.
class PlateRoute final : public ColourRoute
{
public:
    /// \param setup    routes, page and the way of overprinting; outlives this
    /// \param spots    ink names for the planes behind the process ones, or for all planes
    /// \param process  whether the first four planes are cyan, magenta, yellow and black; else
    ///                 process colours only knock out
    /// \param tables   of routes that need one; outlive this
    /// \param wishes   by object of the page's scene, how it prints; empty = as the file says. Outlives this
    /// \param memory   of the page: pictures converted or taken apart are kept there
    /// \param runtime  the page's
    /// \param control  asked to stop while pictures are converted: then they are not, and MuPDF throws
    PlateRoute(const PlateSetup &setup, const std::vector<std::string> &spots, bool process,
               const PictureTables &tables, const std::vector<ObjectOverprint> &wishes,
               const PageColours &colours, PageMemory &memory, std::shared_ptr<MupdfRuntime> runtime,
               JobControl control);
    ~PlateRoute() override = default;

    /// As the setup says; what is made to overprint leaves alone what its colour has nothing of (OPM 1).
    fz_color_params overprinted(fz_color_params params) const override;

    void begin_object(const ObjectPlace &place, const std::string &layer) override;
    int treatment() const override { return m_picture_route >= 0 ? m_picture_route : -1 - m_artwork; }

    void colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params params,
                bool solid_colour, RoutedColour &out) override;
    fz_colorspace *target_space(fz_context *ctx, fz_colorspace *space, bool overprint) override;
    void components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                    float *out) override;
    fz_pixmap *pixels(fz_context *ctx, fz_pixmap *source, bool overprint) override;
    fz_pixmap *known_pixels(fz_context *ctx, fz_image *image, bool overprint) override;
    void keep_pixels(fz_context *ctx, fz_image *image, bool overprint, fz_pixmap *pixels) override;

    void begin_picture(fz_matrix ctm) override;
    std::pair<int, int> picture_dots() const override { return m_dots; }

    bool outlines_picture() const override;
    void fill_outlines(fz_context *ctx, fz_device *target, fz_pixmap *source, fz_matrix ctm, float alpha,
                       fz_color_params params) override;

    /// Drops the colour spaces made; call before destruction with a context of the same runtime.
    void release(fz_context *ctx);

private:
    using Values = std::array<float, FZ_MAX_COLORS>;
    using Planes = std::uint32_t; ///< a set, a bit each

    /// What one component of a colour does to one plane.
    struct Feed
    {
        enum class Kind
        {
            Own,   ///< its tint through the curve, times tint
            Fixed, ///< tint wherever it is more than nothing
            Build  ///< its share of the process build of this component alone
        } kind = Kind::Own;
        int plane = 0;
        float tint = 1;
        const ToneCurve *curve = nullptr;
    };
    /// What the components of a space do.
    struct Mapping
    {
        std::vector<std::vector<Feed>> feeds; ///< by component
        bool all = false;                     ///< the first component paints every plane
        bool elsewhere = false;               ///< one prints on a plate of another pass: here it knocks out
        bool bare = false;                    ///< a route shows the bare stock
        bool dropped = false;                 ///< a route says that something does not print
        Planes planes = 0;                    ///< fed by anything
    };

    /// What a value of one channel of a picture becomes in one channel of the result.
    struct Table
    {
        int from = 0, to = 0;
        bool printed = true; ///< on a plate of the job
        std::array<std::uint8_t, 256> tone{};
    };

    [[nodiscard]] bool prints_elsewhere(const std::string &ink) const;
    [[nodiscard]] Planes every_plane() const;
    void feed_targets(const Route &route, std::vector<Feed> &feeds, Mapping &mapping) const;
    void feed_build(std::vector<Feed> &feeds) const;
    void feed_ink(const std::string &ink, std::vector<Feed> &feeds, Mapping &mapping) const;
    static void count_planes(Mapping &mapping);
    [[nodiscard]] const Mapping &mapping_of(fz_context *ctx, fz_colorspace *base);
    [[nodiscard]] const Mapping &picture_mapping(fz_context *ctx, fz_colorspace *space);
    [[nodiscard]] float fed(fz_context *ctx, fz_colorspace *base, int component, float tint,
                            const Feed &feed) const;

    /// The route that takes a flat colour of the current object; null when none does.
    [[nodiscard]] const Route *route_of(fz_context *ctx, fz_colorspace *space, const float *value);
    /// The same for a picture or shading.
    [[nodiscard]] const Route *picture_route() const;

    /// Fills \p planes by the inks of the colour and returns those painted.
    Planes resolve(fz_context *ctx, fz_colorspace *space, const float *value, int overprint_mode,
                   Values &planes);
    /// The same by \p route.
    Planes resolve_routed(fz_context *ctx, const Route &route, fz_colorspace *space, const float *value,
                          Values &planes, bool &elsewhere) const;
    [[nodiscard]] float strength_of(fz_context *ctx, fz_colorspace *space, const float *value) const;
    [[nodiscard]] bool is_lost(fz_context *ctx, fz_colorspace *space, const float *value) const;
    /// The planes that a shading or image of \p space is given in.
    Planes target_planes(fz_context *ctx, fz_colorspace *space, bool overprint);
    fz_colorspace *plane_space(fz_context *ctx, Planes planes);
    void make_tables(fz_context *ctx, fz_colorspace *space, const Mapping &mapping, bool black_only,
                     Planes painted);
    /// The table by which \p route turns colours into tones; null for routes without one.
    [[nodiscard]] const PictureTable *table_of(const Route *route) const;
    /// Tones by \p table of a colour. \return the planes painted
    Planes resolve_table(fz_context *ctx, const PictureTable &table, fz_colorspace *space, const float *value,
                         Values &planes, bool &elsewhere) const;
    /// Says all that pixels() of \p image depend on; empty for those that are not kept.
    [[nodiscard]] std::string picture_key(fz_context *ctx, fz_image *image, bool overprint);
    fz_pixmap *table_pixels(fz_context *ctx, fz_pixmap *source, const PictureTable &table, bool overprint);
    fz_pixmap *dot_pixels(fz_context *ctx, fz_pixmap *source, const PictureTable &table, bool overprint);
    [[nodiscard]] std::vector<std::uint8_t> dots_of(fz_context *ctx, const fz_pixmap &source,
                                                    const IndexedPicture &indexed) const;
    fz_pixmap *split_pixels(fz_context *ctx, fz_pixmap *source, const Route &route, bool overprint);
    bool split_into(fz_context *ctx, const fz_pixmap &source, const PaletteSplit &split, Planes painted,
                    fz_pixmap &result) const;
    /// A picture taken apart: a plane a colour, and the outlines of those that print when they are wanted.
    struct SplitPicture
    {
        std::vector<Plane> planes;
        std::vector<std::vector<Outline>> outlines;
    };
    [[nodiscard]] std::shared_ptr<const SplitPicture> take_apart(fz_context *ctx, const fz_pixmap &source,
                                                                 const PaletteSplit &split) const;
    void fill_plane(fz_context *ctx, fz_device *target, const fz_path *path, fz_matrix ctm, float alpha,
                    const fz_color_params &params, int plane, float tone, bool overprint);
    static bool are_identity(const std::vector<Table> &tables);

    const PlateSetup &m_setup;
    bool m_process;
    int m_planes;          ///< in use, without unused base planes
    int m_lost_plane = -1; ///< takes what reaches no plate; −1 when nobody asks
    Planes m_printed = 0;  ///< that are plates of the job
    std::map<std::string, int> m_plane_of;
    const PictureTables &m_pictureTables;
    const PageColours &m_colours;
    PageMemory &m_memory;
    std::shared_ptr<MupdfRuntime> m_runtime;
    JobControl m_control;
    std::map<Planes, fz_colorspace *> m_spaces;
    /// By artwork and space, which is kept; null for all that name no inks.
    std::map<std::pair<int, fz_colorspace *>, Mapping> m_mappings;
    std::map<std::string, int> m_decided;               ///< first route of a flat colour by space and values
    std::map<std::pair<int, int>, int> m_object_routes; ///< by artwork and object
    std::map<std::pair<int, std::string>, int> m_layer_routes; ///< by artwork and layer
    bool m_routes_by_colour = false;
    const std::vector<ObjectOverprint> &m_wishes;
    int m_object = -1;                ///< being painted
    int m_artwork = 0;                ///< that it is of
    int m_picture_route = -1;         ///< by object or layer, of the current object
    std::pair<int, int> m_dots{0, 0}; ///< across and down of the current picture; 0 = it stays in tones
    Mapping m_picture_mapping;
    std::vector<Table> m_tables;
    std::shared_ptr<const SplitPicture> m_split; ///< of the current object
};

} // namespace bichrom
