/// \file
/// What happens to plates between the page painter and the sinks.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/base/units.h"
#include "core/job/recipe.h"
#include "core/line/row_flow.h"
#include "core/raster/plane.h"

#include <array>
#include <functional>
#include <string>
#include <vector>

namespace bichrom {

/// Where on a page operations work.
struct OpPlace
{
    Dpi resolution{300};
    std::array<Rect, 5> boxes{};     ///< by PageBox; mm from the page's top left, y down
    double media_x = 0, media_y = 0; ///< mm from the page's top left to the media box's
    [[nodiscard]] double per_mm() const { return resolution.value / millimetres_per_inch; }
};

/// What operations work on: planes of one rectangle of a page.
struct OpBand : OpPlace
{
    PixelRect rect;
    const Plane *area = nullptr; ///< the artwork area without what routes leave to the bare stock; never null
    const Plane *whole = nullptr; ///< with it; never null
    /// The plane of an ink, as the artwork and its routes make it and the operations before this one left it;
    /// null for inks unknown.
    std::function<Plane *(const std::string &ink)> plate;
    /// Where objects, a layer or small text are seen, or a placed file paints; null when it is not known.
    std::function<const Plane *(const RecipeSource &source)> mask;
};

/// The same as rows of all of a page, where RowFlow::none stands for what is not known.
struct OpRows : OpPlace
{
    RowFlow *flow = nullptr; ///< never null
    RowFlow::Number area = 0, whole = 0;
    std::function<RowFlow::Number(const std::string &ink)> plate;
    std::function<RowFlow::Number(const RecipeSource &source)> mask;
};

/// One operation. Operations follow those that write what they read; each says how far it looks, so that the
/// line paints as much around a band as they need together. Immutable; any thread.
class PlateOp
{
public:
    virtual ~PlateOp() = default;
    /// Inks whose planes it looks at.
    [[nodiscard]] virtual std::vector<std::string> reads() const = 0;
    /// Inks whose planes it changes. What the artwork puts on them counts only where somebody reads it.
    [[nodiscard]] virtual std::vector<std::string> writes() const = 0;
    /// mm that a place of the result depends on its surroundings.
    [[nodiscard]] virtual double reach() const = 0;
    /// Changes the planes of \p band. The result is right reach() inside its rectangle, the same bits
    /// whatever the rectangle beyond that.
    virtual void run(OpBand &band) const = 0;
    /// The same over all of a page: adds what it computes to the flow. \return the planes of writes()
    [[nodiscard]] virtual std::vector<RowFlow::Number> flow(const OpRows &rows) const = 0;
};

} // namespace bichrom
