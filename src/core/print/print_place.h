/// \file
/// One place of a print while ink after ink is laid on it.
/// Layer: core/print, private to it. May use core/colour.
#pragma once

#include "core/colour/film_kernel.h"
#include "core/print/print_stack.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <span>

namespace bichrom {

/// One place while ink after ink is laid on it.
struct PrintPlace
{
    Bands dry{}, inked{}; ///< roots of reflectance
    double bare = 1;

    void dries()
    {
        for (std::size_t k = 0; k < band_count && bare < 1; ++k) {
            dry[k] = bare * dry[k] + (1.0 - bare) * inked[k];
        }
        bare = 1;
    }
    void lay(const std::array<Bands, 3> &film, int hits, bool wet, double cover)
    {
        for (int hit = 0; hit < hits; ++hit) {
            for (std::size_t k = 0; k < band_count; ++k) {
                const FilmInBand<double> band{film[0][k], film[1][k], film[2][k]};
                if (wet) {
                    inked[k] = laid_wet(dry[k], inked[k], bare, cover, band);
                } else {
                    dry[k] = laid_dry(dry[k], cover, band);
                }
            }
            bare *= wet ? 1.0 - cover : 1.0;
        }
    }
    [[nodiscard]] Lab colour(double floor) const
    {
        Bands bands{};
        for (std::size_t k = 0; k < band_count; ++k) {
            const double root = bare * dry[k] + (1.0 - bare) * inked[k];
            bands[k] = root * root + floor;
        }
        return bands_to_lab(bands);
    }
};

/// The same place, and how it changes with each ink that was laid.
struct SlopedPlace : PrintPlace
{
    struct Slope
    {
        std::size_t plane;
        Bands dry, inked;
        double bare;
    };
    std::array<Slope, PrintStack::most_slopes> slopes;
    std::size_t known = 0;

    /// The slope of the ink on \p plane, none yet where it is the first; null beyond the planes that are told
    /// of.
    Slope *slope_of(std::size_t plane)
    {
        for (std::size_t i = 0; i < known; ++i) {
            if (slopes[i].plane == plane) {
                return &slopes[i];
            }
        }
        if (plane >= slopes.size()) {
            return nullptr;
        }
        slopes[known] = {plane, {}, {}, 0};
        return &slopes[known++];
    }
    void dries()
    {
        for (std::size_t i = 0; i < known && bare < 1; ++i) {
            Slope &slope = slopes[i];
            for (std::size_t k = 0; k < band_count; ++k) {
                slope.dry[k] =
                    slope.bare * (dry[k] - inked[k]) + bare * slope.dry[k] + (1.0 - bare) * slope.inked[k];
            }
            slope.bare = 0;
        }
        PrintPlace::dries();
    }
    void lay_dry(const std::array<Bands, 3> &film, double cover, Slope *own)
    {
        Bands grows, kept; // with the ink's own coverage, and of what was there
        for (std::size_t k = 0; k < band_count; ++k) {
            const double root = root_over(dry[k], film[0][k], film[1][k]);
            grows[k] = root - dry[k];
            kept[k] = 1.0 + cover * (slope_over(dry[k], film[0][k], film[1][k], root) - 1.0);
            dry[k] += cover * grows[k];
        }
        for (std::size_t i = 0; i < known; ++i) {
            for (std::size_t k = 0; k < band_count; ++k) {
                slopes[i].dry[k] *= kept[k];
            }
        }
        for (std::size_t k = 0; k < band_count && own != nullptr; ++k) {
            own->dry[k] += grows[k];
        }
    }
    void lay_wet(const std::array<Bands, 3> &film, double cover, Slope *own)
    {
        // laid_wet() by the chain rule: next = ((1 − bare)·on wet + cover·bare·on dry) / share.
        const double share = 1.0 - bare + cover * bare;
        const bool first = share < 1e-9; // nothing yet: the least of it would lie on what is dry
        for (std::size_t k = 0; k < band_count; ++k) {
            const double over_dry = root_over(dry[k], film[0][k], film[1][k]);
            if (first) {
                inked[k] = over_dry;
                continue;
            }
            const double over_wet = root_over(inked[k], film[0][k], film[2][k]);
            const double on_wet = (1.0 - cover) * inked[k] + cover * over_wet;
            const double keeps_wet =
                1.0 - cover + cover * slope_over(inked[k], film[0][k], film[2][k], over_wet);
            const double keeps_dry = slope_over(dry[k], film[0][k], film[1][k], over_dry);
            const double next = ((1.0 - bare) * on_wet + cover * bare * over_dry) / share;
            for (std::size_t i = 0; i < known; ++i) {
                Slope &slope = slopes[i];
                slope.inked[k] =
                    (slope.bare * (cover * over_dry - on_wet - next * (cover - 1.0)) +
                     (1.0 - bare) * keeps_wet * slope.inked[k] + cover * bare * keeps_dry * slope.dry[k]) /
                    share;
            }
            if (own != nullptr) {
                own->inked[k] += ((1.0 - bare) * (over_wet - inked[k]) + bare * (over_dry - next)) / share;
            }
            inked[k] = next;
        }
        for (std::size_t i = 0; i < known; ++i) {
            slopes[i].bare *= 1.0 - cover;
        }
        if (own != nullptr) {
            own->bare -= bare;
        }
        bare *= 1.0 - cover;
    }
    /// Process inks. \param by  the roots' slope by ink \param planes  of those inks; −1 = none
    /// \param none  all tones are nought
    void pass(const Bands &roots, const std::array<Bands, 4> &by, const std::array<int, 4> &planes, bool none,
              double floor)
    {
        std::array<Slope *, 4> own{};
        for (std::size_t c = 0; c < 4; ++c) {
            own[c] = planes[c] >= 0 ? slope_of(static_cast<std::size_t>(planes[c])) : nullptr;
        }
        for (std::size_t k = 0; k < band_count; ++k) {
            const double passed = none ? 1.0 : root_passed(roots[k], floor);
            const double grows = roots[k] / ((1.0 - floor) * std::max(passed, 1e-9));
            for (std::size_t i = 0; i < known; ++i) {
                slopes[i].dry[k] *= passed;
                slopes[i].inked[k] *= passed;
            }
            for (std::size_t c = 0; c < 4; ++c) {
                if (own[c] != nullptr) {
                    own[c]->dry[k] += dry[k] * grows * by[c][k];
                    own[c]->inked[k] += inked[k] * grows * by[c][k];
                }
            }
            dry[k] *= passed;
            inked[k] *= passed;
        }
    }
    /// \param by_plane  gets what each ink adds
    Lab colour_with(double floor, std::span<Lab> by_plane) const
    {
        Bands roots{}, light{};
        for (std::size_t k = 0; k < band_count; ++k) {
            roots[k] = bare * dry[k] + (1.0 - bare) * inked[k];
            light[k] = roots[k] * roots[k] + floor;
        }
        std::array<Lab, band_count> by_band;
        const Lab lab = bands_to_lab(light, by_band);
        for (std::size_t i = 0; i < known; ++i) {
            const Slope &slope = slopes[i];
            if (slope.plane >= by_plane.size()) {
                continue;
            }
            Lab &sum = by_plane[slope.plane];
            for (std::size_t k = 0; k < band_count; ++k) {
                const double grows =
                    2.0 * roots[k] *
                    (slope.bare * (dry[k] - inked[k]) + bare * slope.dry[k] + (1.0 - bare) * slope.inked[k]);
                sum.l += grows * by_band[k].l;
                sum.a += grows * by_band[k].a;
                sum.b += grows * by_band[k].b;
            }
        }
        return lab;
    }
};

} // namespace bichrom
