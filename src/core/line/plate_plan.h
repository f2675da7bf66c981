/// \file
/// What a job's plates ask for, compiled once: operations in their order, how far they look, who needs which
/// plane. Layer: core/line, private to it. May use core/job, core/page.
#pragma once

#include "core/base/job_control.h"
#include "core/line/plate_op.h"
#include "core/line/recipe_masks.h"
#include "core/page/plate_tile.h"

#include <array>
#include <functional>
#include <memory>

namespace bichrom {

/// What is painted of a page, as planes of a flow.
struct PaintedNumbers
{
    RowFlow::Number area = RowFlow::none;
    std::vector<RowFlow::Number> plates; ///< by ink; RowFlow::none where nobody reads them
    std::vector<RowFlow::Number> masks;  ///< as MaskPlan numbers them
};

/// A job's operations in the order in which they follow each other. Immutable; may be used from any thread.
class PlatePlan
{
public:
    PlatePlan() = default;
    /// \param inks  of the planes that will be given
    PlatePlan(const PlateSetup &setup, std::vector<std::string> inks, const Scene &scene);

    /// Whether nothing is computed.
    [[nodiscard]] bool empty() const { return m_ops.empty(); }
    /// Whether ink \p number is computed.
    [[nodiscard]] bool computes(std::size_t number) const { return m_written[number]; }
    /// By ink, whether anybody needs what the artwork puts on it: nothing computes it, or an operation reads
    /// it.
    [[nodiscard]] std::vector<bool> needed() const;
    /// By ink, whether an operation reads it.
    [[nodiscard]] const std::vector<bool> &read() const { return m_read; }
    /// mm that a place of the results depends on its surroundings, through all operations that follow each
    /// other.
    [[nodiscard]] double reach() const { return m_reach; }
    /// Pages to be painted so that their plates are what operations look at besides plates.
    [[nodiscard]] const MaskPlan &masks() const { return m_masks; }

    /// Adds what is computed to \p flow. It is right reach() inside the frame.
    /// \param boxes  by PageBox, mm from the page's top left
    /// \return by ink, its plane as computed; RowFlow::none for those that are not
    [[nodiscard]] std::vector<RowFlow::Number> flow(RowFlow &flow, const PaintedNumbers &painted,
                                                    Dpi resolution, const std::array<Rect, 5> &boxes) const;

    /// Ink \p number as computed, exactly; none where it is not computed or has no such form. Errors of \p
    /// area.
    [[nodiscard]] ExactShapes shapes(std::size_t number, const std::array<Rect, 5> &boxes,
                                     std::function<ExactShapes()> area) const;

private:
    void order(std::vector<std::unique_ptr<const PlateOp>> ops);
    /// The number of \p ink; past the end when it is unknown.
    [[nodiscard]] std::size_t number_of(const std::string &ink) const;

    std::vector<std::string> m_inks;
    std::vector<std::unique_ptr<const PlateOp>> m_ops; ///< in their order
    std::vector<bool> m_read, m_written;               ///< by ink
    double m_reach = 0;
    MaskPlan m_masks;
};

} // namespace bichrom
