#include "core/page/runs/outlines.h"

#include "core/artwork/mupdf/type3.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>
#include <vector>

namespace bichrom {

namespace {

constexpr double flatness = 0.05; // pixels that a chord may be off
constexpr double pi = std::numbers::pi;

PixelPoint operator+(PixelPoint a, PixelPoint b)
{
    return {a.x + b.x, a.y + b.y};
}
PixelPoint operator-(PixelPoint a, PixelPoint b)
{
    return {a.x - b.x, a.y - b.y};
}
PixelPoint operator*(PixelPoint a, double factor)
{
    return {a.x * factor, a.y * factor};
}
double length(PixelPoint a)
{
    return std::hypot(a.x, a.y);
}
PixelPoint across(PixelPoint direction)
{
    return {-direction.y, direction.x};
}

struct Transform
{
    double a, b, c, d, e, f;
    explicit Transform(const fz_matrix &m)
        : a(static_cast<double>(m.a)), b(static_cast<double>(m.b)), c(static_cast<double>(m.c)),
          d(static_cast<double>(m.d)), e(static_cast<double>(m.e)), f(static_cast<double>(m.f))
    {
    }
    [[nodiscard]] PixelPoint operator()(PixelPoint p) const
    {
        return {a * p.x + c * p.y + e, b * p.x + d * p.y + f};
    }
    /// Pixels of a unit, by area.
    [[nodiscard]] double scale() const { return std::sqrt(std::fabs(a * d - b * c)); }
};

// ---- fills ------------------------------------------------------------------------------------------

struct Filler
{
    Transform to_pixels;
    ShapeList *shapes;
    [[nodiscard]] PixelPoint point(float x, float y) const
    {
        return to_pixels({static_cast<double>(x), static_cast<double>(y)});
    }
    static Filler &of(void *filler) { return *static_cast<Filler *>(filler); }
};

constexpr fz_path_walker filling = {
    [](fz_context *, void *f, float x, float y) { Filler::of(f).shapes->move_to(Filler::of(f).point(x, y)); },
    [](fz_context *, void *f, float x, float y) { Filler::of(f).shapes->line_to(Filler::of(f).point(x, y)); },
    [](fz_context *, void *f, float x1, float y1, float x2, float y2, float x3, float y3) {
        const Filler &filler = Filler::of(f);
        filler.shapes->curve_to(filler.point(x1, y1), filler.point(x2, y2), filler.point(x3, y3));
    },
    [](fz_context *, void *f) { Filler::of(f).shapes->close(); },
    nullptr,
    nullptr,
    nullptr,
    nullptr};

// ---- strokes ----------------------------------------------------------------------------------------

/// A line to be drawn, in the path's space. Points differ from their neighbours.
struct Line
{
    std::vector<PixelPoint> points;
    std::vector<bool> smooth; ///< by point: whether a curve passes through it
    bool closed = false;
    bool dot = false;       ///< has no length, but was drawn
    PixelPoint direction{}; ///< of a dot, when it has one
};

/// Collects the lines of a path, curves as chords.
struct LineWalker
{
    double tolerance;  ///< that a chord may be off, in the path's space
    double half_width; ///< in the path's space
    double least;      ///< shorter segments have no direction
    bool close_all;    ///< whether every contour is closed, said or not
    std::vector<Line> lines;
    PixelPoint start{};
    bool open = false;

    static LineWalker &of(void *walker) { return *static_cast<LineWalker *>(walker); }
    void move_to(PixelPoint p)
    {
        end_line();
        start = p;
        open = false;
    }
    void end_line()
    {
        if (close_all) {
            close();
        }
    }
    Line &line()
    {
        if (!open) {
            lines.emplace_back();
            lines.back().points.push_back(start);
            lines.back().smooth.push_back(false);
            open = true;
        }
        return lines.back();
    }
    void line_to(PixelPoint p, bool smooth_before = false)
    {
        Line &l = line();
        if (length(p - l.points.back()) <= least) {
            l.dot = l.points.size() == 1;
            return;
        }
        l.dot = false;
        if (smooth_before && l.points.size() > 1) {
            l.smooth.back() = true;
        }
        l.points.push_back(p);
        l.smooth.push_back(false);
    }
    void curve_to(PixelPoint a, PixelPoint b, PixelPoint c)
    {
        const PixelPoint o = line().points.back();
        const double bend = std::max(length(o - a * 2 + b), length(a - b * 2 + c));
        // Turning, so that the outer side of a wide line is as round as its middle.
        double turn = 0;
        const std::array<PixelPoint, 3> legs = {a - o, b - a, c - b};
        PixelPoint last{};
        for (const PixelPoint &leg : legs) {
            if (length(leg) > 0) {
                if (length(last) > 0) {
                    turn += std::fabs(
                        std::atan2(last.x * leg.y - last.y * leg.x, last.x * leg.x + last.y * leg.y));
                }
                last = leg;
            }
        }
        const double parts = std::max({1.0, std::sqrt(6 * bend / (8 * tolerance)),
                                       turn / std::sqrt(8 * tolerance / std::max(half_width, tolerance))});
        const int n = parts > 1 ? static_cast<int>(std::min(std::ceil(parts), 1000.0)) : 1;
        for (int i = 1; i <= n; ++i) {
            line_to(i == n ? c : on_curve(o, a, b, c, static_cast<double>(i) / n), i > 1);
        }
    }
    void close()
    {
        if (!open) {
            return;
        }
        Line &l = lines.back();
        line_to(start);
        if (l.points.size() == 1) {
            l.dot = true;
        } else {
            l.closed = true;
            if (l.points.size() > 2 && length(l.points.back() - start) <= least) { // the start is there twice
                l.points.pop_back();
                l.smooth.pop_back();
            }
        }
        open = false;
    }
};

PixelPoint point(float x, float y)
{
    return {static_cast<double>(x), static_cast<double>(y)};
}

constexpr fz_path_walker line_walker = {
    [](fz_context *, void *w, float x, float y) { LineWalker::of(w).move_to(point(x, y)); },
    [](fz_context *, void *w, float x, float y) { LineWalker::of(w).line_to(point(x, y)); },
    [](fz_context *, void *w, float x1, float y1, float x2, float y2, float x3, float y3) {
        LineWalker::of(w).curve_to(point(x1, y1), point(x2, y2), point(x3, y3));
    },
    [](fz_context *, void *w) { LineWalker::of(w).close(); },
    nullptr,
    nullptr,
    nullptr,
    nullptr};

/// Puts the pieces of lines into a shape: a quadrangle for each segment, one for each join and end. All turn
/// the same way, so that by winding they add up wherever they overlap.
class Pen
{
public:
    Pen(const Transform &to_pixels, const fz_stroke_state &stroke, double half, ShapeList &shapes)
        : m_to_pixels(to_pixels), m_stroke(stroke), m_half(half), m_shapes(shapes)
    {
        const double radius = std::clamp(half * to_pixels.scale(), 1e-3, 1e7);
        m_step = radius > flatness ? 2 * std::acos(1 - flatness / radius) : pi / 2;
    }

    void draw(const Line &line, fz_linecap start_cap, fz_linecap end_cap)
    {
        const std::size_t count = line.points.size();
        if (count == 1) {
            if (line.dot) {
                dot(line, start_cap);
            }
            return;
        }
        const std::size_t segments = line.closed && count > 2 ? count : count - 1;
        PixelPoint first{}, before{};
        for (std::size_t i = 0; i < segments; ++i) {
            const PixelPoint a = line.points[i];
            const PixelPoint b = line.points[(i + 1) % count];
            const PixelPoint direction = (b - a) * (1 / length(b - a));
            const PixelPoint side = across(direction) * m_half;
            add({a + side, b + side, b - side, a - side});
            if (i == 0) {
                first = direction;
            } else {
                join(a, before, direction, line.smooth[i]);
            }
            before = direction;
        }
        if (line.closed) {
            if (count > 2) {
                join(line.points.front(), before, first, false);
            } else { // there and back
                join(line.points.back(), first, first * -1, false);
                join(line.points.front(), first * -1, first, false);
            }
            return;
        }
        cap(line.points.front(), first * -1, start_cap);
        cap(line.points.back(), before, end_cap);
    }

private:
    void add(std::initializer_list<PixelPoint> points)
    {
        m_piece.assign(points);
        flush();
    }
    void flush()
    {
        double area = 0;
        for (PixelPoint &p : m_piece) {
            p = m_to_pixels(p);
        }
        for (std::size_t i = 0; i < m_piece.size(); ++i) {
            const PixelPoint &a = m_piece[i];
            const PixelPoint &b = m_piece[(i + 1) % m_piece.size()];
            area += a.x * b.y - a.y * b.x;
        }
        if (area < 0) {
            std::reverse(m_piece.begin(), m_piece.end());
        }
        m_shapes.polygon(m_piece);
    }
    /// Points on the circle around \p centre, from \p side turned by up to \p angle.
    void arc(PixelPoint centre, PixelPoint side, double angle)
    {
        const int steps = std::max(1, static_cast<int>(std::ceil(std::fabs(angle) / m_step)));
        for (int i = 0; i <= steps; ++i) {
            const double turn = angle * i / steps;
            const double c = std::cos(turn), s = std::sin(turn);
            m_piece.push_back(centre + PixelPoint{side.x * c - side.y * s, side.x * s + side.y * c});
        }
    }
    void dot(const Line &line, fz_linecap end)
    {
        const PixelPoint centre = line.points.front();
        if (end == FZ_LINECAP_ROUND) {
            m_piece.clear();
            arc(centre, {m_half, 0}, 2 * pi);
            flush();
        } else if (end != FZ_LINECAP_BUTT && length(line.direction) > 0) {
            cap(centre, line.direction * -1, end);
            cap(centre, line.direction, end);
        }
    }
    void cap(PixelPoint at, PixelPoint direction, fz_linecap kind)
    {
        const PixelPoint side = across(direction) * m_half;
        const PixelPoint ahead = direction * m_half;
        switch (kind) {
        case FZ_LINECAP_BUTT:
            break;
        case FZ_LINECAP_SQUARE:
            add({at + side, at + side + ahead, at - side + ahead, at - side});
            break;
        case FZ_LINECAP_TRIANGLE:
            add({at + side, at + ahead, at - side});
            break;
        case FZ_LINECAP_ROUND:
            m_piece.clear();
            arc(at, side * -1, pi);
            flush();
            break;
        }
    }
    void join(PixelPoint at, PixelPoint before, PixelPoint after, bool smooth)
    {
        const double cross = before.x * after.y - before.y * after.x;
        const double dot = before.x * after.x + before.y * after.y;
        const double turn = std::atan2(cross, dot);
        constexpr double least = 0.02; // pixels of a gap that may stay
        if (std::fabs(turn) * m_half * m_to_pixels.scale() < least) {
            return;
        }
        // The gap opens on the outer side.
        const double outer = turn > 0 ? -m_half : m_half;
        const PixelPoint from = across(before) * outer;
        const PixelPoint to = across(after) * outer;
        constexpr double corner = 0.6; // radians; more is no curve but a cusp
        fz_linejoin kind = m_stroke.linejoin;
        double limit = std::max(1.0, static_cast<double>(m_stroke.miterlimit));
        if (smooth && std::fabs(turn) < corner) {
            kind = FZ_LINEJOIN_MITER;
            limit = 10;
        }
        const PixelPoint middle = (from + to) * 0.5;
        const double square = middle.x * middle.x + middle.y * middle.y;
        const double reach = m_half * m_half;
        const bool within = square > 0 && square * limit * limit >= reach;
        if (kind == FZ_LINEJOIN_ROUND) {
            m_piece.assign(1, at);
            arc(at, from, turn);
            flush();
        } else if (kind == FZ_LINEJOIN_MITER && within) {
            add({at, at + from, at + middle * (reach / square), at + to});
        } else if (kind == FZ_LINEJOIN_MITER_XPS && square > 0) { // cut off at the limit
            if (within) {
                add({at, at + from, at + middle * (reach / square), at + to});
            } else {
                const double far = limit * m_half; // from the middle of the line
                const double root = std::sqrt(square);
                const PixelPoint ahead = middle * (1 / root);
                const double tip = reach / root;
                const double k = std::clamp((tip - far) / (tip - root), 0.0, 1.0);
                const PixelPoint point = ahead * tip;
                add({at, at + from, at + point + (from - point) * k, at + point + (to - point) * k, at + to});
            }
        } else {
            add({at, at + from, at + to});
        }
    }

    const Transform &m_to_pixels;
    const fz_stroke_state &m_stroke;
    double m_half;
    ShapeList &m_shapes;
    double m_step;
    std::vector<PixelPoint> m_piece;
};

/// Where a segment comes near the page: shares of its length. What lies outside is not worth a dash.
struct Stretch
{
    double from = 0, to = 1;
};

Stretch near_page(PixelPoint a, PixelPoint b, const PixelRect &page, double margin)
{
    Stretch near;
    const auto cut = [&near](double start, double end, double low, double high) {
        const double d = end - start;
        if (d == 0) {
            if (start < low || start > high) {
                near.to = -1;
            }
            return;
        }
        near.from = std::max(near.from, std::min((low - start) / d, (high - start) / d));
        near.to = std::min(near.to, std::max((low - start) / d, (high - start) / d));
    };
    cut(a.x, b.x, page.x - margin, page.x + page.width + margin);
    cut(a.y, b.y, page.y - margin, page.y + page.height + margin);
    return near;
}

/// Cuts lines into dashes.
class Dasher
{
public:
    /// \param total   of the lengths; more than 0
    /// \param margin  pixels around the page that dashes reach into it from
    Dasher(const fz_stroke_state &stroke, double total, const Transform &to_pixels, const PixelRect &page,
           double margin)
        : m_stroke(stroke), m_total(total), m_to_pixels(to_pixels), m_page(page), m_margin(margin)
    {
    }

    [[nodiscard]] std::vector<Line> dashes(const Line &line)
    {
        m_dashes.clear();
        m_at = 0;
        m_on = true;
        m_open = false;
        m_rest = length_of(0);
        pass(static_cast<double>(m_stroke.dash_phase));
        const std::size_t points = line.points.size();
        const std::size_t segments = line.closed ? points : points - 1;
        for (std::size_t i = 0; i < segments; ++i) {
            const PixelPoint a = line.points[i];
            const PixelPoint b = line.points[(i + 1) % points];
            const Stretch near = near_page(m_to_pixels(a), m_to_pixels(b), m_page, m_margin);
            const double all = length(b - a);
            m_direction = (b - a) * (1 / all);
            if (!(near.from < near.to)) {
                pass(all);
                m_open = false;
                continue;
            }
            if (near.from > 0) {
                pass(all * near.from);
                m_open = false;
            }
            const bool to_end = near.to >= 1;
            draw(a + m_direction * (all * near.from), all * (near.to - near.from),
                 to_end ? b : a + m_direction * (all * near.to), to_end && line.smooth[(i + 1) % points]);
            if (!to_end) {
                pass(all * (1 - near.to));
                m_open = false;
            }
        }
        return std::move(m_dashes);
    }

private:
    [[nodiscard]] double length_of(std::size_t i) const
    {
        return std::max(0.0, static_cast<double>(m_stroke.dash_list[i]));
    }
    void step()
    {
        m_at = (m_at + 1) % static_cast<std::size_t>(m_stroke.dash_len);
        m_on = !m_on;
        m_rest = length_of(m_at);
        m_open = false;
    }
    /// Goes on without drawing.
    void pass(double distance)
    {
        distance = std::fmod(distance, 2 * m_total); // an odd number of lengths turns over
        if (distance < 0) {
            distance += 2 * m_total;
        }
        while (distance > 0 && distance >= m_rest) {
            distance -= m_rest;
            step();
        }
        m_rest -= distance;
    }
    void begin(PixelPoint p)
    {
        m_dashes.emplace_back();
        m_dashes.back().points.push_back(p);
        m_dashes.back().smooth.push_back(false);
        m_dashes.back().dot = true; // until it gets a length
        m_dashes.back().direction = m_direction;
        m_open = true;
    }
    void draw(PixelPoint from, double ahead, PixelPoint to, bool smooth)
    {
        const auto draw_to = [&](PixelPoint p, bool is_smooth) {
            if (m_on) {
                m_dashes.back().points.push_back(p);
                m_dashes.back().smooth.push_back(is_smooth);
                m_dashes.back().dot = false;
            }
        };
        if (m_on && !m_open) {
            begin(from);
        }
        while (m_rest < ahead) {
            from = from + m_direction * m_rest;
            ahead -= m_rest;
            if (m_rest > 0) {
                draw_to(from, false);
            }
            step();
            if (m_on) {
                begin(from);
            }
        }
        m_rest -= ahead;
        if (ahead > 0) {
            draw_to(to, smooth);
        }
    }

    const fz_stroke_state &m_stroke;
    double m_total;
    const Transform &m_to_pixels;
    PixelRect m_page;
    double m_margin;
    std::vector<Line> m_dashes;
    std::size_t m_at = 0;
    bool m_on = true;
    bool m_open = false; ///< the dash is being drawn
    double m_rest = 0;   ///< of the dash or gap
    PixelPoint m_direction{};
};

} // namespace

void add_quad(fz_rect area, const fz_matrix &to_pixels, ShapeList &shapes)
{
    const auto corner = [&](float x, float y) {
        const fz_point p = fz_transform_point_xy(x, y, to_pixels);
        return PixelPoint{static_cast<double>(p.x), static_cast<double>(p.y)};
    };
    const std::array<PixelPoint, 4> corners = {corner(area.x0, area.y0), corner(area.x1, area.y0),
                                               corner(area.x1, area.y1), corner(area.x0, area.y1)};
    shapes.polygon(corners);
}

void add_fill(fz_context *ctx, const fz_path *path, const fz_matrix &to_pixels, ShapeList &shapes)
{
    Filler filler{Transform(to_pixels), &shapes};
    fz_walk_path(ctx, path, &filling, &filler);
}

void add_stroke(fz_context *ctx, const fz_path *path, const fz_stroke_state &stroke,
                const fz_matrix &to_pixels, ShapeList &shapes, Contours contours)
{
    const Transform transform(to_pixels);
    const double scale = transform.scale();
    constexpr double most_scale = 1e9;
    if (!(scale > 1 / most_scale && scale < most_scale)) {
        return;
    }
    const double half = std::max(static_cast<double>(stroke.linewidth), 1 / scale) / 2;
    if (!(half > 0)) {
        return;
    }
    constexpr double least_segment = 0.01; // pixels
    LineWalker walker{
        flatness / scale, half, least_segment / scale, contours == Contours::Closed, {}, {}, false};
    fz_walk_path(ctx, path, &line_walker, &walker);
    walker.end_line();
    double total = 0;
    for (int i = 0; i < stroke.dash_len; ++i) {
        total += std::max(0.0, static_cast<double>(stroke.dash_list[i]));
    }
    constexpr double least_dashes = 1; // pixels; finer ones are a line
    const bool dashes = stroke.dash_len > 0 && total * scale >= least_dashes;
    Pen pen(transform, stroke, half, shapes);
    const double wide =
        std::hypot(std::hypot(transform.a, transform.b), std::hypot(transform.c, transform.d));
    Dasher dasher(stroke, total, transform, shapes.page(), 2 + half * wide);
    for (const Line &line : walker.lines) {
        if (!dashes || line.points.size() == 1) {
            pen.draw(line, stroke.start_cap, stroke.end_cap);
            continue;
        }
        const std::vector<Line> parts = dasher.dashes(line);
        for (std::size_t i = 0; i < parts.size(); ++i) {
            pen.draw(parts[i], i == 0 ? stroke.start_cap : stroke.dash_cap,
                     i + 1 == parts.size() ? stroke.end_cap : stroke.dash_cap);
        }
    }
}

bool add_text(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke, const fz_matrix &to_pixels,
              GlyphOutlines &glyphs, ShapeList &shapes)
{
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        if (!may_have_outlines(span->font)) {
            return false;
        }
        for (int i = 0; i < span->len; ++i) {
            if (span->items[i].gid < 0) {
                continue;
            }
            const fz_matrix place = glyph_matrix(span, span->items[i], fz_identity);
            fz_path *outline = glyphs.outline(ctx, span->font, span->items[i].gid, place);
            if (outline == nullptr) {
                return false;
            }
            if (stroke != nullptr) {
                add_stroke(ctx, outline, *stroke, to_pixels, shapes, Contours::Closed);
            } else {
                add_fill(ctx, outline, to_pixels, shapes);
            }
            fz_drop_path(ctx, outline);
        }
    }
    return true;
}

} // namespace bichrom
