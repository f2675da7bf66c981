#include "core/page/runs/sampler.h"

#include "core/base/cpu_clones.h"
#include "core/page/pixel_chance.h"
#include "core/page/runs/backwards.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace bichrom {

namespace {

/// Where columns [\p begin, \p end) of the page lie in a row of \p width pixels of \p n samples that begins
/// at \p line: column x at slope · (x + ½) + start of them, as far as there are any.
BICHROM_CPU_CLONES void write_columns(double slope, double start, int width, int n, std::uint32_t line,
                                      int begin, int end, std::uint32_t *__restrict out)
{
    const double last = width - 1.0;
    for (int x = begin; x < end; ++x) {
        const double at = slope * (x + 0.5) + start;
        const double within = at < 0 ? 0 : at > last ? last : at;
        // Signed: processors turn several at once.
        out[x - begin] = line + static_cast<std::uint32_t>(static_cast<int>(within) * n);
    }
}

class Picture final : public Sampler
{
public:
    Picture(const fz_pixmap *pixels, const Backwards &back, const ComponentOf &components)
        : m_pixels(pixels), m_back(back.in_pixels(pixels->w, pixels->h)), m_components(components)
    {
    }

    void indices(int row, int begin, int end, std::uint32_t *out) const override
    {
        const auto stride = static_cast<std::uint32_t>(m_pixels->stride);
        const double py = row + 0.5;
        if (m_back.b != 0 || m_back.c != 0) {
            const auto n = static_cast<std::uint32_t>(m_pixels->n);
            for (int x = begin; x < end; ++x) {
                *out++ = within(m_back.y(x + 0.5, py), m_pixels->h) * stride +
                         within(m_back.x(x + 0.5, py), m_pixels->w) * n;
            }
            return;
        }
        // Along the axes: all of it lies in one row of the picture.
        write_columns(m_back.a, m_back.e, m_pixels->w, m_pixels->n,
                      within(m_back.y(0, py), m_pixels->h) * stride, begin, end, out);
    }
    void tones(int plane, int /*row*/, const std::uint32_t *indices, int count,
               std::uint8_t *out) const override
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
    static std::uint32_t within(double at, int count)
    {
        return static_cast<std::uint32_t>(std::clamp(std::floor(at), 0.0, count - 1.0));
    }

    const fz_pixmap *m_pixels;
    Backwards m_back; ///< to the picture's own pixels
    ComponentOf m_components;
};

/// Tones between those of \p blend, which are of 65280, at places in 256ths of them. \pre after the last
/// there is one more
BICHROM_CPU_CLONES void write_blended(const std::uint32_t *__restrict blend,
                                      const std::uint32_t *__restrict indices, std::uint32_t first, int count,
                                      std::uint8_t *__restrict out)
{
    for (int i = 0; i < count; ++i) {
        const std::uint32_t at = (indices[i] >> 8) - first, part = indices[i] & 255;
        out[i] = static_cast<std::uint8_t>((blend[at] * (256 - part) + blend[at + 1] * part + 32768) >> 16);
    }
}

/// A picture along the page's edges, seldom turned by a quarter: the pixels that a row of the page looks at
/// lie in two lines of it.
class Blended final : public Sampler
{
public:
    /// One way across the picture, as the page goes.
    struct Way
    {
        double slope, start; ///< pixels of the picture by page pixel; of the page's corner
        int count, step;     ///< of its pixels; samples from one to the next

        /// Which pixel's middle lies before the middle of page pixel \p at, and 256ths of the way to the
        /// next.
        [[nodiscard]] std::uint32_t place(int at) const
        {
            const double middle = slope * (at + 0.5) + start - 0.5;
            return static_cast<std::uint32_t>(std::clamp(middle, 0.0, count - 1.0) * 256);
        }
    };
    Blended(const fz_pixmap *pixels, const Way &along, const Way &across, const ComponentOf &components)
        : m_pixels(pixels), m_along(along), m_across(across), m_components(components)
    {
    }
    void indices(int /*row*/, int begin, int end, std::uint32_t *out) const override
    {
        for (int x = begin; x < end; ++x) {
            *out++ = m_along.place(x);
        }
    }
    void tones(int plane, int row, const std::uint32_t *indices, int count, std::uint8_t *out) const override
    {
        const std::uint32_t line = m_across.place(row), part = line & 255;
        const auto lines = static_cast<std::ptrdiff_t>(line >> 8);
        const std::ptrdiff_t further =
            (line >> 8) + 1 < static_cast<std::uint32_t>(m_across.count) ? m_across.step : 0;
        const std::uint32_t first = std::min(indices[0], indices[count - 1]) >> 8;
        const std::uint32_t last = std::max(indices[0], indices[count - 1]) >> 8;
        thread_local std::vector<std::uint32_t> blend; // of the two lines
        blend.resize(last - first + 2);
        const unsigned char *from = m_pixels->samples + m_components[static_cast<std::size_t>(plane)] +
                                    lines * m_across.step + static_cast<std::ptrdiff_t>(first) * m_along.step;
        for (std::uint32_t at = first; at <= last; ++at, from += m_along.step) {
            blend[at - first] = from[0] * (256 - part) + from[further] * part;
        }
        const bool more = last + 1 < static_cast<std::uint32_t>(m_along.count);
        blend.back() = more ? from[0] * (256 - part) + from[further] * part : blend[last - first];
        write_blended(blend.data(), indices, first, count, out);
    }
    [[nodiscard]] bool same_row(int a, int b) const override
    {
        return m_across.place(a) == m_across.place(b);
    }

private:
    const fz_pixmap *m_pixels;
    Way m_along, m_across;
    ComponentOf m_components;
};

/// Places along a gradient that go evenly: at x from \p first on by \p slope from \p a on; in colours, or
/// \p whole less that.
struct Evenly
{
    double first, slope, a;
    double whole = 0, sign = 1;
    [[nodiscard]] double at(int x) const { return whole + sign * (first + slope * (x + 0.5 - a)); }
    /// −1 before the first colour, 1 behind the last.
    [[nodiscard]] int side(int x) const { return at(x) < 0 ? -1 : at(x) > 255 ? 1 : 0; }
};

/// For columns [\p begin, \p end) of \p row: which colour from 0 to 255, what part of the way to the next,
/// and the pixel's chance, in bytes from the third down. \pre none lies before the first colour or behind the
/// last
BICHROM_CPU_CLONES void write_inner(const Evenly &evenly, int row, int begin, int end,
                                    std::uint32_t *__restrict out)
{
    const double first = evenly.first, slope = evenly.slope, a = evenly.a;
    const double whole = evenly.whole, sign = evenly.sign;
    for (int x = begin; x < end; ++x) {
        // Signed: processors turn several at once.
        const int fine = static_cast<int>((whole + sign * (first + slope * (x + 0.5 - a))) * 256);
        out[x - begin] = static_cast<std::uint32_t>(fine) << 8 | pixel_chance(x, row);
    }
}

/// The same where they are all of one \p colour.
BICHROM_CPU_CLONES void write_outer(std::uint32_t colour, int row, int begin, int end,
                                    std::uint32_t *__restrict out)
{
    for (int x = begin; x < end; ++x) {
        out[x - begin] = colour << 16 | pixel_chance(x, row);
    }
}

void write_indices(const Evenly &evenly, int row, int begin, int end, std::uint32_t *out)
{
    for (int x = begin; x < end;) {
        const int side = evenly.side(x);
        int next = end; // the first on another side: they come one after the other
        if (evenly.side(end - 1) != side) {
            int low = x;
            while (next - low > 1) {
                const int middle = low + (next - low) / 2;
                (evenly.side(middle) == side ? low : next) = middle;
            }
        }
        if (side == 0) {
            write_inner(evenly, row, x, next, out + (x - begin));
        } else {
            write_outer(side < 0 ? 0 : 255, row, x, next, out + (x - begin));
        }
        x = next;
    }
}

/// The tones of a table of 256 colours and the last again, 65280 = solid, rounded by each pixel's chance,
/// of \p plane.
BICHROM_CPU_CLONES void write_tones(const std::uint32_t *__restrict table,
                                    const std::uint32_t *__restrict indices, int count, int plane,
                                    std::uint8_t *__restrict out)
{
    for (int i = 0; i < count; ++i) {
        const std::uint32_t at = indices[i] >> 16, part = indices[i] >> 8 & 255;
        const std::uint32_t tone = (table[at] * (256 - part) + table[at + 1] * part) >> 8;
        out[i] = static_cast<std::uint8_t>((tone + chance_of_component(indices[i], plane)) >> 8);
    }
}

/// The tones of a gradient's 256 colours and the last again, by plane; 65280 = solid.
class GradientTables
{
public:
    using Table = std::array<std::uint32_t, 257>;

    /// \param value_of  by colour, 0 to 1
    template <typename ValueOf> void add(std::size_t plane, const ValueOf &value_of)
    {
        m_table_of[plane] = m_tables.size();
        Table &table = m_tables.emplace_back();
        for (std::size_t i = 0; i < 256; ++i) {
            table[i] = static_cast<std::uint32_t>(std::lround(std::clamp(value_of(i), 0.0f, 1.0f) * 65280));
        }
        table[256] = table[255];
    }
    [[nodiscard]] const Table &of(int plane) const
    {
        return m_tables[m_table_of[static_cast<std::size_t>(plane)]];
    }

private:
    std::array<std::size_t, FZ_MAX_COLORS> m_table_of{};
    std::vector<Table> m_tables;
};

/// The 256 colours of a gradient; a kind of gradient says where each is. Between them tones go on in steps of
/// 1/65280, and are rounded up or down by chance, so that a slow gradient has no bands: its mean is exact
/// anywhere, for it goes by the pixel's place on the page.
class Gradient : public Sampler
{
public:
    Gradient(GradientTables tables, const Backwards &back) : m_back(back), m_tables(std::move(tables)) {}
    void tones(int plane, int /*row*/, const std::uint32_t *indices, int count,
               std::uint8_t *out) const override
    {
        write_tones(m_tables.of(plane).data(), indices, count, plane, out);
    }
    [[nodiscard]] std::optional<std::uint8_t> only_tone(int plane) const override
    {
        const auto &table = m_tables.of(plane);
        if (!std::equal(table.begin() + 1, table.end(), table.begin())) {
            return std::nullopt;
        }
        return static_cast<std::uint8_t>((table[0] + 128) >> 8);
    }
    [[nodiscard]] bool same_row(int a, int b) const override { return a == b; }

protected:
    Backwards m_back; // NOLINT: to the gradient's space

private:
    GradientTables m_tables;
};

class Linear final : public Gradient
{
public:
    Linear(const fz_shade *shade, const Backwards &back, GradientTables tables)
        : Gradient(std::move(tables), back)
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
        write_indices({from * 255, m_across * 255, 0}, row, begin, end, out);
    }

private:
    double m_across = 0, m_down = 0, m_start = 0; ///< of the place from 0 to 1 along the gradient
};

/// A gradient between two circles of which one lies within the other. Where a row meets each of 256 circles
/// between them is worked out instead of a place for each pixel: from one to the next it goes evenly.
class Radial final : public Gradient
{
public:
    Radial(const fz_shade *shade, const Backwards &back, GradientTables tables)
        : Gradient(std::move(tables), back)
    {
        const auto &c = shade->u.l_or_r.coords;
        const auto between = [&](std::size_t i, double t) {
            return static_cast<double>(c[0][i]) +
                   t * (static_cast<double>(c[1][i]) - static_cast<double>(c[0][i]));
        };
        m_grows = c[1][2] > c[0][2];
        for (int k = 0; k <= steps; ++k) {
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
        std::array<double, steps + 1> left{}, right{}; // where the row enters and leaves each circle
        int inside = 0;                                // circles entered
        for (const Circle &circle : m_circles) {
            const double dx = x - circle.x, dy = y - circle.y;
            const double half = m_back.a * dx + m_back.b * dy;
            const double under = half * half - square * (dx * dx + dy * dy - circle.r * circle.r);
            if (!(circle.r > 0) || !(under > 0)) {
                break; // nor does the row meet those within
            }
            const double root = std::sqrt(under);
            left[static_cast<std::size_t>(inside)] = (-half - root) / square;
            right[static_cast<std::size_t>(inside++)] = (-half + root) / square;
        }
        Stretch stretch{row, begin, end, begin, out};
        if (inside == 0) {
            fill(stretch, end, 0, 0, end, 0);
            return;
        }
        const auto at = [](int circle) { return static_cast<std::size_t>(circle); };
        fill(stretch, left[0], begin, 0, left[0], 0);
        for (int k = 0; k + 1 < inside; ++k) {
            fill(stretch, left[at(k + 1)], left[at(k)], k, left[at(k + 1)], k + 1);
        }
        // Within the innermost that is met it goes on towards the next, as far as the middle of the row gets.
        const int last = inside - 1;
        const double from = left[at(last)], to = right[at(last)], middle = (from + to) / 2;
        const double deepest = depth(m_back.x(middle, row + 0.5), m_back.y(middle, row + 0.5), last);
        fill(stretch, middle, from, last, middle, deepest);
        fill(stretch, to, middle, deepest, to, last);
        for (int k = last; k > 0; --k) {
            fill(stretch, right[at(k - 1)], right[at(k)], k, right[at(k - 1)], k - 1);
        }
        fill(stretch, end, right[0], 0, end, 0);
    }

private:
    static constexpr int steps = 255; ///< between 256 colours
    struct Circle
    {
        double x, y, r;
    };
    /// What of a row is filled, and up to where it is.
    struct Stretch
    {
        int row, begin, end, at;
        std::uint32_t *out;
    };

    /// Fills up to the last pixel whose centre lies before \p to; between places \p a and \p b it goes evenly
    /// from circle \p first to \p last.
    void fill(Stretch &stretch, double to, double a, double first, double b, double last) const
    {
        const int until = static_cast<int>(std::clamp(std::ceil(to - 0.5), static_cast<double>(stretch.at),
                                                      static_cast<double>(stretch.end)));
        if (stretch.at >= until) {
            return;
        }
        Evenly evenly{first, b > a ? (last - first) / (b - a) : 0, a};
        if (m_grows) {
            evenly.whole = steps;
            evenly.sign = -1;
        }
        write_indices(evenly, stretch.row, stretch.at, until, stretch.out + (stretch.at - stretch.begin));
        stretch.at = until;
    }

    /// How far a point of the gradient's space lies within circle \p outer, in circles.
    [[nodiscard]] double depth(double x, double y, int outer) const
    {
        double low = outer, high = std::min(outer + 1, steps); // it lies within the one, not within the other
        const auto within = [&](double k) {
            const auto i = std::min(static_cast<std::size_t>(k), m_circles.size() - 2);
            const double part = k - static_cast<double>(i);
            const Circle &a = m_circles[i], &b = m_circles[i + 1];
            const double dx = x - (a.x + part * (b.x - a.x)), dy = y - (a.y + part * (b.y - a.y));
            const double r = a.r + part * (b.r - a.r);
            return dx * dx + dy * dy < r * r;
        };
        for (int halving = 0; halving < 24; ++halving) {
            const double middle = (low + high) / 2;
            (within(middle) ? low : high) = middle;
        }
        return low;
    }

    std::vector<Circle> m_circles; ///< from the outermost inwards
    bool m_grows = true;
};

/// Null for other kinds, and for circles of which neither lies within the other.
std::unique_ptr<const Sampler> gradient_of(const fz_shade *shade, const fz_matrix &to_pixels,
                                           GradientTables tables)
{
    const auto back = turned_around(to_pixels);
    if (!back || (shade->type != FZ_LINEAR && shade->type != FZ_RADIAL)) {
        return nullptr;
    }
    for (const auto &end : shade->u.l_or_r.coords) {
        if (!std::all_of(end, end + 3, [](float v) { return std::isfinite(v); })) {
            return nullptr;
        }
    }
    if (shade->type == FZ_LINEAR) {
        return std::make_unique<Linear>(shade, *back, std::move(tables));
    }
    return circles_nest(shade) ? std::make_unique<Radial>(shade, *back, std::move(tables)) : nullptr;
}

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

std::unique_ptr<const Sampler> blend_picture(const fz_pixmap *pixels, const fz_matrix &to_pixels,
                                             const ComponentOf &components)
{
    const auto turned = turned_around(to_pixels);
    if (!turned) {
        return nullptr;
    }
    const Backwards back = turned->in_pixels(pixels->w, pixels->h);
    const int stride = static_cast<int>(pixels->stride);
    const auto made = [&](const Blended::Way &along, const Blended::Way &across) {
        const bool enlarged = std::fabs(along.slope) <= 1 && std::fabs(across.slope) <= 1;
        return enlarged ? std::make_unique<Blended>(pixels, along, across, components) : nullptr;
    };
    if (back.b == 0 && back.c == 0) {
        return made({back.a, back.e, pixels->w, pixels->n}, {back.d, back.f, pixels->h, stride});
    }
    if (back.a == 0 && back.d == 0) {
        return made({back.b, back.f, pixels->h, stride}, {back.c, back.e, pixels->w, pixels->n});
    }
    return nullptr;
}

std::unique_ptr<const Sampler> sample_shade(const fz_shade *shade, const fz_matrix &to_pixels,
                                            const ComponentOf &components)
{
    if (shade->use_function == 0) {
        return nullptr;
    }
    GradientTables tables;
    for (std::size_t plane = 0; plane < components.size(); ++plane) {
        if (const auto component = components[plane]; component >= 0) {
            tables.add(plane, [&](std::size_t i) {
                return shade->function[i][static_cast<std::size_t>(component)];
            });
        }
    }
    return gradient_of(shade, to_pixels, std::move(tables));
}

std::unique_ptr<const Sampler> sample_luminosity(fz_context *ctx, const fz_shade *shade,
                                                 const fz_matrix &to_pixels, const fz_color_params &params)
{
    if (shade->use_function == 0) {
        return nullptr;
    }
    std::array<float, 256> grey{};
    for (std::size_t i = 0; i < grey.size(); ++i) {
        float value[FZ_MAX_COLORS] = {};
        fz_convert_color(ctx, shade->colorspace, shade->function[i], fz_device_gray(ctx), value, nullptr,
                         params);
        grey[i] = value[0];
    }
    GradientTables tables;
    tables.add(0, [&](std::size_t i) { return grey[i]; });
    return gradient_of(shade, to_pixels, std::move(tables));
}

} // namespace bichrom
