#include "core/page/runs/sampler.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <optional>

namespace bichrom {

namespace {

/// From page pixels to another space.
struct Backwards
{
    double a, b, c, d, e, f;
    [[nodiscard]] double x(double px, double py) const { return a * px + c * py + e; }
    [[nodiscard]] double y(double px, double py) const { return b * px + d * py + f; }
};

std::optional<Backwards> turned_around(const fz_matrix &m)
{
    const double a = static_cast<double>(m.a), b = static_cast<double>(m.b), c = static_cast<double>(m.c),
                 d = static_cast<double>(m.d), e = static_cast<double>(m.e), f = static_cast<double>(m.f);
    const double det = a * d - b * c;
    const bool finite = std::isfinite(det) && std::isfinite(e) && std::isfinite(f);
    if (!finite || !(std::fabs(det) > 1e-12)) {
        return std::nullopt;
    }
    return Backwards{d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det};
}

class Picture final : public Sampler
{
public:
    Picture(const fz_pixmap *pixels, const Backwards &back, const ComponentOf &components)
        : m_pixels(pixels), m_back(back), m_components(components)
    {
        m_back.a *= pixels->w;
        m_back.c *= pixels->w;
        m_back.e *= pixels->w;
        m_back.b *= pixels->h;
        m_back.d *= pixels->h;
        m_back.f *= pixels->h;
    }

    void indices(int row, int begin, int end, std::uint32_t *out) const override
    {
        const auto stride = static_cast<std::uint32_t>(m_pixels->stride);
        const auto n = static_cast<std::uint32_t>(m_pixels->n);
        const auto within = [](double at, int count) {
            return static_cast<std::uint32_t>(std::clamp(std::floor(at), 0.0, count - 1.0));
        };
        const double py = row + 0.5;
        if (m_back.b == 0 && m_back.c == 0) { // along the axes
            const std::uint32_t line = within(m_back.y(0, py), m_pixels->h) * stride;
            for (int x = begin; x < end; ++x) {
                *out++ = line + within(m_back.x(x + 0.5, py), m_pixels->w) * n;
            }
            return;
        }
        for (int x = begin; x < end; ++x) {
            *out++ = within(m_back.y(x + 0.5, py), m_pixels->h) * stride +
                     within(m_back.x(x + 0.5, py), m_pixels->w) * n;
        }
    }
    void tones(int plane, const std::uint32_t *indices, int count, std::uint8_t *out) const override
    {
        const unsigned char *samples = m_pixels->samples + m_components[static_cast<std::size_t>(plane)];
        for (int i = 0; i < count; ++i) {
            out[i] = samples[indices[i]];
        }
    }
    [[nodiscard]] bool same_row(int a, int b) const override
    {
        return m_back.b == 0 && m_back.c == 0 &&
               std::floor(m_back.y(0, a + 0.5)) == std::floor(m_back.y(0, b + 0.5));
    }

private:
    const fz_pixmap *m_pixels;
    Backwards m_back; ///< to the picture's own pixels
    ComponentOf m_components;
};

/// The 256 colours of a gradient; a kind of gradient says which.
class Gradient : public Sampler
{
public:
    Gradient(const fz_shade *shade, const Backwards &back, const ComponentOf &components) : m_back(back)
    {
        for (std::size_t plane = 0; plane < components.size(); ++plane) {
            if (components[plane] < 0) {
                continue;
            }
            m_table_of[plane] = static_cast<int>(m_tables.size());
            auto &table = m_tables.emplace_back();
            for (std::size_t i = 0; i < table.size(); ++i) {
                const float value = shade->function[i][static_cast<std::size_t>(components[plane])];
                table[i] = static_cast<std::uint8_t>(std::clamp(value * 255, 0.0f, 255.0f));
            }
        }
    }
    void tones(int plane, const std::uint32_t *indices, int count, std::uint8_t *out) const override
    {
        const auto &table = m_tables[static_cast<std::size_t>(m_table_of[static_cast<std::size_t>(plane)])];
        for (int i = 0; i < count; ++i) {
            out[i] = table[indices[i]];
        }
    }

protected:
    static std::uint32_t index(double t) { return static_cast<std::uint32_t>(std::clamp(t, 0.0, 1.0) * 255); }
    Backwards m_back; // NOLINT: to the gradient's space

private:
    std::array<int, FZ_MAX_COLORS> m_table_of{};
    std::vector<std::array<std::uint8_t, 256>> m_tables;
};

class Linear final : public Gradient
{
public:
    Linear(const fz_shade *shade, const Backwards &back, const ComponentOf &components)
        : Gradient(shade, back, components)
    {
        const auto &c = shade->u.l_or_r.coords;
        const double x0 = static_cast<double>(c[0][0]), y0 = static_cast<double>(c[0][1]);
        const double dx = static_cast<double>(c[1][0]) - x0, dy = static_cast<double>(c[1][1]) - y0;
        const double square = dx * dx + dy * dy;
        const double inverse = square > 0 ? 1 / square : 0;
        m_across = (back.a * dx + back.b * dy) * inverse;
        m_down = (back.c * dx + back.d * dy) * inverse;
        m_start = ((back.e - x0) * dx + (back.f - y0) * dy) * inverse;
    }
    void indices(int row, int begin, int end, std::uint32_t *out) const override
    {
        const double from = m_start + (row + 0.5) * m_down;
        for (int x = begin; x < end; ++x) {
            *out++ = index(from + (x + 0.5) * m_across);
        }
    }
    [[nodiscard]] bool same_row(int a, int b) const override { return a == b || m_down == 0; }

private:
    double m_across = 0, m_down = 0, m_start = 0; ///< of the place from 0 to 1 along the gradient
};

/// A gradient between two circles of which one lies within the other. Where its colours change along a row is
/// worked out, two places for each of 255 circles, instead of a colour for each pixel.
class Radial final : public Gradient
{
public:
    Radial(const fz_shade *shade, const Backwards &back, const ComponentOf &components)
        : Gradient(shade, back, components)
    {
        const auto &c = shade->u.l_or_r.coords;
        const auto between = [&](std::size_t i, double t) {
            return static_cast<double>(c[0][i]) +
                   t * (static_cast<double>(c[1][i]) - static_cast<double>(c[0][i]));
        };
        m_grows = c[1][2] > c[0][2];
        for (int k = 1; k <= steps; ++k) {
            const double t = static_cast<double>(k) / steps;
            m_circles.push_back({between(0, t), between(1, t), between(2, t)});
        }
        if (m_grows) { // the outermost first
            std::reverse(m_circles.begin(), m_circles.end());
        }
    }
    void indices(int row, int begin, int end, std::uint32_t *out) const override
    {
        const double x = m_back.x(0, row + 0.5), y = m_back.y(0, row + 0.5);
        const double square = m_back.a * m_back.a + m_back.b * m_back.b; // of a pixel's step to the right
        const auto centre = [&](double at) {
            return static_cast<int>(
                std::clamp(std::ceil(at - 0.5), static_cast<double>(begin), static_cast<double>(end)));
        };
        std::array<int, steps> right{};
        int inside = 0; // circles entered
        int at = begin;
        // Each circle entered is a step towards the middle.
        const auto index_of = [&](int entered) {
            return static_cast<std::uint32_t>(m_grows ? steps - entered : entered);
        };
        const auto fill_to = [&](int to, int entered) {
            if (to > at) {
                std::fill(out + (at - begin), out + (to - begin), index_of(entered));
                at = to;
            }
        };
        for (const Circle &circle : m_circles) {
            const double dx = x - circle.x, dy = y - circle.y;
            const double half = m_back.a * dx + m_back.b * dy;
            const double under = half * half - square * (dx * dx + dy * dy - circle.r * circle.r);
            if (!(circle.r > 0) || !(under > 0)) {
                break; // nor does the row meet those within
            }
            const double root = std::sqrt(under);
            fill_to(centre((-half - root) / square), inside);
            right[static_cast<std::size_t>(inside++)] = centre((-half + root) / square);
        }
        for (; inside > 0; --inside) {
            fill_to(right[static_cast<std::size_t>(inside - 1)], inside);
        }
        fill_to(end, 0);
    }
    [[nodiscard]] bool same_row(int a, int b) const override { return a == b; }

private:
    static constexpr int steps = 255; ///< between 256 colours
    struct Circle
    {
        double x, y, r;
    };
    std::vector<Circle> m_circles; ///< where a colour begins, from the outermost inwards
    bool m_grows = true;
};

} // namespace

bool circles_nest(const fz_shade *shade)
{
    const auto &c = shade->u.l_or_r.coords;
    const double distance =
        std::hypot(static_cast<double>(c[1][0] - c[0][0]), static_cast<double>(c[1][1] - c[0][1]));
    return distance < std::fabs(static_cast<double>(c[1][2] - c[0][2]));
}

std::unique_ptr<const Sampler> sample_picture(const fz_pixmap *pixels, const fz_matrix &to_pixels,
                                              const ComponentOf &components)
{
    const auto back = turned_around(to_pixels);
    if (!back) {
        return nullptr;
    }
    return std::make_unique<Picture>(pixels, *back, components);
}

std::unique_ptr<const Sampler> sample_shade(const fz_shade *shade, const fz_matrix &to_pixels,
                                            const ComponentOf &components)
{
    const auto back = turned_around(to_pixels);
    if (!back || shade->use_function == 0 || (shade->type != FZ_LINEAR && shade->type != FZ_RADIAL)) {
        return nullptr;
    }
    for (const auto &end : shade->u.l_or_r.coords) {
        if (!std::all_of(end, end + 3, [](float v) { return std::isfinite(v); })) {
            return nullptr;
        }
    }
    if (shade->type == FZ_LINEAR) {
        return std::make_unique<Linear>(shade, *back, components);
    }
    if (shade->type == FZ_RADIAL && circles_nest(shade)) {
        return std::make_unique<Radial>(shade, *back, components);
    }
    return nullptr;
}

} // namespace bichrom
