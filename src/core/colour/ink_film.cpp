#include "core/colour/ink_film.h"

#include "core/colour/film_kernel.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double least_reflectance = 1e-4;

double film_over(double body, double through, double under)
{
    return body + through * under / std::max(1e-9, 1.0 - body * under);
}

} // namespace

Bands InkFilm::over(const Bands &under) const
{
    Bands out{};
    for (std::size_t k = 0; k < band_count; ++k) {
        out[k] = film_over(body[k], through[k], under[k]);
    }
    return out;
}

Bands without_floor(const Lab &lab, double floor, const std::optional<Spectrum> &measured)
{
    Bands bands = measured ? bands_of(*measured, lab) : reconstruct(lab).bands;
    for (double &r : bands) {
        r = std::max(r - floor, least_reflectance);
    }
    return bands;
}

InkFilm transparent_film(const Bands &solid, const Bands &paper)
{
    InkFilm film;
    for (std::size_t k = 0; k < band_count; ++k) {
        film.through[k] = solid[k] / std::max(paper[k], least_reflectance);
    }
    return film;
}

InkFilm scattering_film(const Bands &solid, const Bands &paper, double scattering)
{
    if (scattering <= 0.0) {
        return transparent_film(solid, paper);
    }
    InkFilm film;
    for (std::size_t k = 0; k < band_count; ++k) {
        // The absorption at which the film over the paper has the solid's reflectance; it falls with it.
        const auto make = [&](double absorption) {
            const double a = 1.0 + absorption / scattering;
            const double b = std::sqrt(std::max(0.0, a * a - 1.0));
            const double bs = b * scattering;
            double body = 0;
            double root = 0;
            if (bs < 1e-6) { // no absorption: S / (1 + S)
                body = scattering / (1.0 + scattering);
                root = 1.0 / (1.0 + scattering);
            } else if (bs > 300) {
                body = 1.0 / (a + b);
            } else {
                const double below = a * std::sinh(bs) + b * std::cosh(bs);
                body = std::sinh(bs) / below;
                root = b / below;
            }
            film.body[k] = body;
            film.through[k] = root * root;
            return film_over(body, root * root, paper[k]);
        };
        double low = 0;
        double high = 1;
        while (make(high) > solid[k] && high < 1e6) {
            high *= 2;
        }
        for (int i = 0; i < 60; ++i) {
            const double middle = (low + high) / 2;
            (make(middle) > solid[k] ? low : high) = middle;
        }
        (void)make((low + high) / 2);
    }
    return film;
}

InkFilm measured_film(const Bands &over_white, const Bands &over_black, const Bands &white,
                      const Bands &black)
{
    InkFilm film;
    for (std::size_t k = 0; k < band_count; ++k) {
        const double rw = over_white[k];
        const double rb = std::min(over_black[k], rw);
        const double w = std::max(white[k], least_reflectance);
        const double b = std::min(black[k], w - least_reflectance);
        // r = R0 + T2·g / (1 − R0·g): T2 is (r − R0)(1 − R0·g)/g for both; R0 by bisection, as their
        // difference falls from R0 = 0 to R0 = rb.
        const auto gap = [&](double body) {
            return (rw - body) * (1.0 - body * w) / w - (rb - body) * (1.0 - body * b) / std::max(b, 1e-9);
        };
        double low = 0;
        double high = rb;
        if (gap(low) < 0) { // it lets more through over white than over black allows: take it as transparent
            for (int i = 0; i < 60; ++i) {
                const double middle = (low + high) / 2;
                (gap(middle) < 0 ? low : high) = middle;
            }
        } else {
            high = 0;
        }
        const double body = (low + high) / 2;
        film.body[k] = body;
        film.through[k] = std::max(0.0, (rw - body) * (1.0 - body * w) / w);
    }
    return film;
}

double ToneGain::coverage(double tone) const
{
    const double t = std::clamp(tone, 0.0, 1.0);
    const double g = std::clamp(m_at_half, -0.45, 0.45);
    if (std::fabs(g) <= 0.25) {
        return t + 4.0 * g * t * (1.0 - t);
    }
    const double k = (0.5 + g) / (0.5 - g);
    return k * t / (1.0 + (k - 1.0) * t);
}

double ToneGain::tone(double coverage) const
{
    const double c = std::clamp(coverage, 0.0, 1.0);
    const double g = std::clamp(m_at_half, -0.45, 0.45);
    if (std::fabs(g) < 1e-9) {
        return c;
    }
    if (std::fabs(g) <= 0.25) { // 4g·t² − (1 + 4g)·t + c = 0, the root that grows with c
        const double p = 1.0 + 4.0 * g;
        return std::clamp(2.0 * c / (p + std::sqrt(std::max(0.0, p * p - 16.0 * g * c))), 0.0, 1.0);
    }
    const double k = (0.5 + g) / (0.5 - g);
    return c / (k - (k - 1.0) * c);
}

double gain_from_murray_davies(double gain, double through)
{
    const double s = std::clamp(through, 0.0, 0.999);
    const double a = (1.0 - std::sqrt(std::max(0.0, 1.0 - (0.5 + gain) * (1.0 - s)))) / (1.0 - std::sqrt(s));
    return a - 0.5;
}

} // namespace bichrom
