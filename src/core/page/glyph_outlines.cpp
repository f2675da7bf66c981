#include "core/page/glyph_outlines.h"

namespace bichrom {

namespace {

using Step = GlyphOutlines::Step;

void keep(void *to, Step::Kind kind, fz_point a = {}, fz_point b = {}, fz_point c = {})
{
    static_cast<std::vector<Step> *>(to)->push_back({kind, {a, b, c}});
}

constexpr fz_path_walker keeper = {
    [](fz_context *, void *to, float x, float y) {
        keep(to, Step::Kind::Move, {x, y});
    },
    [](fz_context *, void *to, float x, float y) {
        keep(to, Step::Kind::Line, {x, y});
    },
    [](fz_context *, void *to, float x1, float y1, float x2, float y2, float x3, float y3) {
        keep(to, Step::Kind::Cubic, {x1, y1}, {x2, y2}, {x3, y3});
    },
    [](fz_context *, void *to) { keep(to, Step::Kind::Close); },
    [](fz_context *, void *to, float x1, float y1, float x2, float y2) {
        keep(to, Step::Kind::Quadratic, {x1, y1}, {x2, y2});
    },
    nullptr, // the others come as cubics and lines
    nullptr,
    nullptr};

void append(fz_context *ctx, const Step &step, const fz_matrix &place, fz_path *to)
{
    const auto at = [&](int i) { return fz_transform_point(step.to[i], place); };
    switch (step.kind) {
    case Step::Kind::Move:
        fz_moveto(ctx, to, at(0).x, at(0).y);
        break;
    case Step::Kind::Line:
        fz_lineto(ctx, to, at(0).x, at(0).y);
        break;
    case Step::Kind::Quadratic:
        fz_quadto(ctx, to, at(0).x, at(0).y, at(1).x, at(1).y);
        break;
    case Step::Kind::Cubic:
        fz_curveto(ctx, to, at(0).x, at(0).y, at(1).x, at(1).y, at(2).x, at(2).y);
        break;
    case Step::Kind::Close:
        fz_closepath(ctx, to);
        break;
    }
}

/// Leaves out contours that lie in one point. Font makers keep such for anchors, so that DejaVu's "u" has one
/// in the air, and what has no width would ink a pixel.
std::vector<Step> without_points(const std::vector<Step> &steps)
{
    constexpr std::size_t points_of[] = {1, 1, 2, 3, 0}; // by kind
    std::vector<Step> kept;
    for (std::size_t first = 0; first < steps.size();) {
        const fz_point start = steps[first].to[0];
        bool extends = false;
        std::size_t next = first;
        do {
            for (std::size_t i = 0; i < points_of[static_cast<std::size_t>(steps[next].kind)]; ++i) {
                extends = extends || steps[next].to[i].x != start.x || steps[next].to[i].y != start.y;
            }
            ++next;
        } while (next < steps.size() && steps[next].kind != Step::Kind::Move);
        if (extends) {
            kept.insert(kept.end(), steps.begin() + static_cast<std::ptrdiff_t>(first),
                        steps.begin() + static_cast<std::ptrdiff_t>(next));
        }
        first = next;
    }
    return kept;
}

} // namespace

const GlyphOutlines::Outline &GlyphOutlines::find(fz_context *ctx, fz_font *font, int glyph)
{
    const auto known = m_outlines.find({font, glyph});
    if (known != m_outlines.end()) {
        return known->second;
    }
    fz_path *made = fz_outline_glyph(ctx, font, glyph, fz_identity);
    Outline &outline = m_outlines[{font, glyph}];
    if (made != nullptr) {
        outline.emplace();
        fz_walk_path(ctx, made, &keeper, &*outline);
        *outline = without_points(*outline);
        fz_drop_path(ctx, made);
    }
    return outline;
}

bool GlyphOutlines::has(fz_context *ctx, fz_font *font, int glyph)
{
    return find(ctx, font, glyph).has_value();
}

fz_path *GlyphOutlines::outline(fz_context *ctx, fz_font *font, int glyph, const fz_matrix &place)
{
    const Outline &known = find(ctx, font, glyph);
    if (!known) {
        return nullptr;
    }
    fz_path *path = fz_new_path(ctx);
    fz_try(ctx)
    {
        for (const Step &step : *known) {
            append(ctx, step, place, path);
        }
    }
    fz_catch(ctx)
    {
        fz_drop_path(ctx, path);
        fz_rethrow(ctx);
    }
    return path;
}

} // namespace bichrom
