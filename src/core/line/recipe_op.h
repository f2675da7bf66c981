/// \file
/// A plate computed by its recipe from the planes of others.
/// Layer: core/line. May use core/job, core/raster.
#pragma once

#include "core/line/plate_op.h"

namespace bichrom {

/// What two bytes make together, by the one × 256 + the other.
struct PairTable
{
    std::vector<std::uint8_t> values;
    bool bare_leaves = true;  ///< the one as it is, where the other is 0
    bool solid_leaves = true; ///< where the other is 255
    bool bare_stays = true;   ///< 0 stays 0 whatever the other is
};

/// Follows a recipe, a step at a time.
class RecipeOp final : public PlateOp
{
public:
    /// \param ink  of the plate that the recipe makes
    RecipeOp(std::string ink, Recipe recipe);

    [[nodiscard]] std::vector<std::string> reads() const override { return plates_read(m_recipe); }
    [[nodiscard]] std::vector<std::string> writes() const override { return {m_ink}; }
    [[nodiscard]] double reach() const override { return reach_of(m_recipe); }
    [[nodiscard]] std::optional<std::string> even_by(const OpBand &band) const override;
    void run(OpBand &band) const override;

private:
    std::string m_ink;
    Recipe m_recipe;
    std::vector<PairTable> m_tables; ///< by step
};

} // namespace bichrom
