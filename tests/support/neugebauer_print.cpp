#include "support/neugebauer_print.h"

#include "core/colour/ink_film.h"

#include <cmath>

namespace bichrom {

NeugebauerPrint::NeugebauerPrint(const std::vector<Lab> &solids, double floor) : m_floor(floor)
{
    for (const Lab &solid : solids) {
        Bands roots = without_floor(solid, floor);
        for (double &r : roots) {
            r = std::sqrt(r);
        }
        m_roots.push_back(roots);
    }
    while ((std::size_t(1) << m_inks) < m_roots.size()) {
        ++m_inks;
    }
}

Lab NeugebauerPrint::lab(std::span<const double> coverage) const
{
    Bands mean{};
    for (std::size_t i = 0; i < m_roots.size(); ++i) {
        double share = 1;
        for (std::size_t ink = 0; ink < m_inks && ink < coverage.size(); ++ink) {
            share *= (i >> ink & 1) != 0 ? coverage[ink] : 1.0 - coverage[ink];
        }
        for (std::size_t k = 0; k < band_count; ++k) {
            mean[k] += share * m_roots[i][k];
        }
    }
    for (double &r : mean) {
        r = r * r + m_floor;
    }
    return bands_to_lab(mean);
}

} // namespace bichrom
