/// \file
/// A MuPDF device that stands between the page and another device and changes colours.
/// Layer: core/page, private to the core. May use core/artwork.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/mupdf/painting_order.h"
#include "core/artwork/mupdf/picture_faults.h"

#include <span>
#include <utility>
#include <vector>

namespace bichrom {

/// A colour on its way to the next device.
struct RoutedColour
{
    fz_colorspace *space = nullptr; ///< borrowed from the route
    float value[FZ_MAX_COLORS] = {};
    bool paints = true; ///< false: the object leaves no trace
    bool overprint = false;
};

/// Decides what a colour or an image becomes. One route serves one run of a page,
/// on one thread. Functions may throw MuPDF's way and must not hold destructors then.
class ColourRoute
{
public:
    virtual ~ColourRoute() = default;

    /// Called before anything of an object is asked for. Objects are numbered as in the page's scene.
    virtual void begin_object(const ObjectPlace & /*place*/, const std::string & /*layer*/) {}

    /// Two objects with the same treatment turn the same picture into the same pixels.
    [[nodiscard]] virtual int treatment() const { return 0; }

    /// How the current object overprints that is painted with \p params.
    [[nodiscard]] virtual fz_color_params overprinted(fz_color_params params) const { return params; }

    /// \param solid_colour  a colour of the graphics state (OPM applies), not of a shading
    virtual void colour(fz_context *ctx, fz_colorspace *space, const float *value, fz_color_params params,
                        bool solid_colour, RoutedColour &out) = 0;

    /// The space in which a shading or image of \p space is painted; null when it leaves
    /// no trace. Borrowed.
    virtual fz_colorspace *target_space(fz_context *ctx, fz_colorspace *space, bool overprint) = 0;

    /// A shading's colour as components of target_space(); \p out holds FZ_MAX_COLORS.
    virtual void components(fz_context *ctx, fz_colorspace *space, const float *value, bool overprint,
                            float *out) = 0;

    /// Called before a picture is asked for. \p ctm takes the unit square, y down, to the page in points.
    virtual void begin_picture(fz_matrix /*ctm*/) {}
    /// Into how many dots pixels() turns it, across and down, whatever it has itself; 0 = as many as it has.
    [[nodiscard]] virtual std::pair<int, int> picture_dots() const { return {0, 0}; }

    /// Whether the current object's picture is painted as outlines, by fill_outlines() instead of pixels().
    [[nodiscard]] virtual bool outlines_picture() const { return false; }

    /// Paints decoded pixels as outlines onto \p target. \p ctm takes the unit square, y down, to the page.
    virtual void fill_outlines(fz_context * /*ctx*/, fz_device * /*target*/, fz_pixmap * /*source*/,
                               fz_matrix /*ctm*/, float /*alpha*/, fz_color_params /*params*/)
    {
    }

    /// The pixels that an earlier run of the page made of \p image and that would come out the same now. New
    /// reference, or null.
    virtual fz_pixmap *known_pixels(fz_context * /*ctx*/, fz_image * /*image*/, bool /*overprint*/)
    {
        return nullptr;
    }
    /// Offers what pixels() made of \p image to later runs.
    virtual void keep_pixels(fz_context * /*ctx*/, fz_image * /*image*/, bool /*overprint*/,
                             fz_pixmap * /*pixels*/)
    {
    }

    /// Converts decoded pixels, Indexed already looked up, to target_space(). New reference.
    virtual fz_pixmap *pixels(fz_context *ctx, fz_pixmap *source, bool overprint) = 0;
};

/// What a routed page is for.
enum class RoutedFor
{
    Painting, ///< text is outlines, which follow the rule of edges
    Writing   ///< text stays text, and pictures remember the file they came from where nothing changed them
};

/// Makes a device that forwards to \p target with colours changed by \p route; all
/// must outlive it. An object that cannot be converted, and what is wrong with a picture, is told to the
/// thread's NoteScope under the object's number, and the rest goes on. Group colour spaces are dropped, so
/// groups blend in the target's own space. Pattern tiles are marked uncacheable, since tiles of different
/// targets would be mixed up in MuPDF's store. Contents of soft masks pass unchanged.
/// \param group_bounds  of the page that will be run through it; groups are cut to them
[[nodiscard]] fz_device *new_routing_device(fz_context *ctx, fz_device *target, ColourRoute *route,
                                            PictureFaults *pictures, std::span<const fz_rect> group_bounds,
                                            RoutedFor use = RoutedFor::Painting);

} // namespace bichrom
