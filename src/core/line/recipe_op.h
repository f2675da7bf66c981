/// \file
/// A plate computed by its recipe from the planes of others.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/line/plate_op.h"
#include "core/raster/run_join.h"

#include <memory>

namespace bichrom {

/// Follows a recipe, a step at a time.
class RecipeOp final : public PlateOp
{
public:
    /// \param ink  of the plate that the recipe makes
    RecipeOp(std::string ink, Recipe recipe);

    [[nodiscard]] std::vector<std::string> reads() const override { return plates_read(m_recipe); }
    [[nodiscard]] std::vector<std::string> writes() const override { return {m_ink}; }
    [[nodiscard]] double reach() const override { return reach_of(m_recipe); }
    [[nodiscard]] std::vector<RowFlow::Number> flow(const OpRows &rows) const override;
    [[nodiscard]] ExactShapes shapes(const OpShapes &of) const override;

private:
    std::string m_ink;
    Recipe m_recipe;
    std::vector<std::shared_ptr<const PairTable>> m_tables; ///< by step; null where it joins nothing
};

} // namespace bichrom
