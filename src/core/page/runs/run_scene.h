/// \file
/// What a routed page paints at one resolution, as far as runs can say it.
/// Layer: core/page, private to it.
#pragma once

#include "core/artwork/mupdf/mupdf.h"
#include "core/artwork/mupdf/runtime.h"
#include "core/page/runs/sampler.h"
#include "core/page/runs/stencil.h"
#include "core/raster/shape_list.h"

#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <vector>

namespace bichrom {

/// What an object does to the planes wherever it lies.
struct RunPaint
{
    std::uint32_t replaces = 0;                      ///< a bit a plane; the others stay
    std::array<std::uint8_t, FZ_MAX_COLORS> tones{}; ///< of the planes replaced
    std::uint32_t sampled = 0;                       ///< planes that take the sampler's tones instead
    int sampler = -1;
    std::uint8_t alpha = 255; ///< at which strength, that of its group included
    int mask = -1;            ///< whose tones are a further strength
    bool multiplies = false;  ///< is blended by Multiply: leaves of the stock what both leave
};

/// What objects are cut by.
struct RunClip
{
    PixelRect box;    ///< nothing is seen outside; within those of the clips around it
    int shape = -1;   ///< −1: all of box is seen, as far as there is no stencil
    int stencil = -1; ///< what is seen through
    int around = -1;  ///< the next clip around it that has either
    [[nodiscard]] bool cuts() const { return shape >= 0 || stencil >= 0; }
};

/// A shape painted, in the order of painting.
struct RunObject
{
    int shape = 0;
    int paint = 0;
    int clip = -1;
    PixelRect box;   ///< all of it that is seen
    int group = -1;  ///< whose objects hide each other before they are laid on the page
    int masked = -1; ///< the same paint through a mask, where that is not solid
};

struct RunScene;

/// A soft mask: what is painted through it has its tones, 255 = all, as a further strength.
struct RunMask
{
    std::unique_ptr<const RunScene> scene; ///< of one plane
    PixelRect box;                         ///< outside nothing is painted
};

/// Immutable once it is made; any thread.
struct RunScene
{
    RunScene(int width, int height) : shapes(width, height), page{0, 0, width, height} {}

    ShapeList shapes;
    PixelRect page;
    std::vector<RunPaint> paints;
    std::vector<RunClip> clips;
    std::vector<RunObject> objects;
    std::vector<std::unique_ptr<const Sampler>> samplers;
    std::vector<std::unique_ptr<const Stencil>> stencils;
    std::vector<RunMask> masks;
    std::vector<std::shared_ptr<const void>> kept; ///< what samplers look at, where nobody else keeps it
    /// Where something lies that runs cannot say: there the page is painted pixel by pixel.
    std::vector<PixelRect> pixel_boxes;
    std::uint32_t all_planes = 0; ///< a bit each
    int groups = 0;               ///< that objects name
    bool pixels_only = false;     ///< too much for runs
};

/// A device that collects a routed page into \p scene.
/// \param to_pixels  from the page's points
/// \param planes     names of the planes, as the routed list has them
/// \param runtime    of \p ctx
[[nodiscard]] fz_device *new_run_device(fz_context *ctx, RunScene &scene, const fz_matrix &to_pixels,
                                        const std::vector<std::string> &planes,
                                        std::shared_ptr<MupdfRuntime> runtime);

} // namespace bichrom
