/// \file
/// A print told by measured solids of its inks and of all their overprints.
#pragma once

#include "core/colour/bands.h"

#include <span>
#include <vector>

namespace bichrom {

/// Neugebauer's primaries weighted by Demichel's shares, under Yule–Nielsen with n = 2. Where all overprints
/// were measured it is nearer than films computed from single inks , and needs no order.
class NeugebauerPrint
{
public:
    /// \param solids  with the surface's reflection; number i holds the inks whose bits are set in i: 0 the
    ///                paper, 1 the first ink, 3 the first two … A power of two of them, 2 to 256
    /// \param floor    what the surface itself reflects: Y, 0 to 1, less than the darkest solid's
    explicit NeugebauerPrint(const std::vector<Lab> &solids, double floor = 0);

    [[nodiscard]] std::size_t inks() const { return m_inks; }
    /// \param coverage  one an ink, 0 to 1
    [[nodiscard]] Lab lab(std::span<const double> coverage) const;

private:
    std::vector<Bands> m_roots; ///< square roots of reflectance
    std::size_t m_inks = 0;
    double m_floor;
};

} // namespace bichrom
