/// \file
/// A plate computed by its recipe from the planes of others.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/line/plate_op.h"

namespace bichrom {

/// Follows a recipe, a step at a time.
class RecipeOp final : public PlateOp
{
public:
    /// \param ink  of the plate that the recipe makes
    RecipeOp(std::string ink, Recipe recipe) : m_ink(std::move(ink)), m_recipe(std::move(recipe)) {}

    [[nodiscard]] std::vector<std::string> reads() const override { return plates_read(m_recipe); }
    [[nodiscard]] std::vector<std::string> writes() const override { return {m_ink}; }
    [[nodiscard]] double reach() const override { return reach_of(m_recipe); }
    void run(OpBand &band) const override;

private:
    std::string m_ink;
    Recipe m_recipe;
};

} // namespace bichrom
