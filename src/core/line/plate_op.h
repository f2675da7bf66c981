/// \file
/// What happens to plates between the page painter and the sinks.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/base/outcome.h"
#include "core/base/units.h"
#include "core/job/recipe.h"
#include "core/line/row_flow.h"
#include "core/raster/polygons.h"

#include <array>
#include <functional>
#include <optional>
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

/// What operations work on: planes of a flow, where RowFlow::none stands for what is not known.
struct OpRows : OpPlace
{
    RowFlow *flow = nullptr;   ///< never null
    RowFlow::Number area = 0;  ///< the artwork area without what routes leave to the bare stock
    RowFlow::Number whole = 0; ///< with it
    /// The plane of an ink, as the artwork and its routes make it and the operations before this one left it.
    std::function<RowFlow::Number(const std::string &ink)> plate;
    /// Where objects, a layer or small text are seen, or a placed file paints.
    std::function<RowFlow::Number(const RecipeSource &source)> mask;
};

/// Shapes, points from the page's top left, y down; none where something is tones, or known as pixels only.
using ExactShapes = Outcome<std::optional<Polygons>>;

/// What operations work on where they have an exact form.
struct OpShapes
{
    OpPlace place;                     ///< its resolution is that of points
    std::function<ExactShapes()> area; ///< of the artwork; asked once it is needed
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
    /// Adds what it computes to the flow, right reach() inside its frame. \return the planes of writes()
    [[nodiscard]] virtual std::vector<RowFlow::Number> flow(const OpRows &rows) const = 0;
    /// The plane of the one ink that it writes, wherever that is; none where it has no such form.
    [[nodiscard]] virtual ExactShapes shapes(const OpShapes & /*of*/) const
    {
        return std::optional<Polygons>();
    }
};

} // namespace bichrom
