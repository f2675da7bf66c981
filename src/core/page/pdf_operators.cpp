#include "core/page/pdf_operators.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>

namespace bichrom {

void put_number(std::string &out, double value, int decimals)
{
    out += format_number(std::isfinite(value) ? std::clamp(value, -1e9, 1e9) : 0.0, decimals);
    out += ' ';
}

void put_matrix(std::string &out, fz_matrix m, const char *name)
{
    for (const float value : {m.a, m.b, m.c, m.d}) {
        put_number(out, static_cast<double>(value), 7);
    }
    put_number(out, static_cast<double>(m.e));
    put_number(out, static_cast<double>(m.f));
    out += name;
    out += '\n';
}

namespace {

/// Where a path goes, transformed.
struct PathText
{
    std::string *out;
    fz_matrix ctm;
    int decimals;
    void point(float x, float y) const
    {
        const fz_point p = fz_transform_point_xy(x, y, ctm);
        put_number(*out, static_cast<double>(p.x), decimals);
        put_number(*out, static_cast<double>(p.y), decimals);
    }
};

void move_to(fz_context *, void *to, float x, float y)
{
    static_cast<PathText *>(to)->point(x, y);
    *static_cast<PathText *>(to)->out += "m\n";
}
void line_to(fz_context *, void *to, float x, float y)
{
    static_cast<PathText *>(to)->point(x, y);
    *static_cast<PathText *>(to)->out += "l\n";
}
void curve_to(fz_context *, void *to, float x1, float y1, float x2, float y2, float x3, float y3)
{
    static_cast<PathText *>(to)->point(x1, y1);
    static_cast<PathText *>(to)->point(x2, y2);
    static_cast<PathText *>(to)->point(x3, y3);
    *static_cast<PathText *>(to)->out += "c\n";
}
void close(fz_context *, void *to)
{
    *static_cast<PathText *>(to)->out += "h\n";
}
constexpr fz_path_walker path_text = {move_to, line_to, curve_to, close, nullptr, nullptr, nullptr, nullptr};

} // namespace

void put_path(fz_context *ctx, std::string &out, const fz_path *path, fz_matrix ctm, int decimals)
{
    PathText text{&out, ctm, decimals};
    fz_walk_path(ctx, path, &path_text, &text);
}

void put_corners(std::string &out, fz_rect box, fz_matrix ctm)
{
    const PathText corners{&out, ctm, 4};
    corners.point(box.x0, box.y0);
    out += "m ";
    corners.point(box.x1, box.y0);
    out += "l ";
    corners.point(box.x1, box.y1);
    out += "l ";
    corners.point(box.x0, box.y1);
    out += "l h ";
}

void put_stroke(std::string &out, const fz_stroke_state *stroke)
{
    put_number(out, static_cast<double>(stroke->linewidth), 6);
    out += "w ";
    static constexpr const char *joins[] = {"0 j ", "1 j ", "2 j ", "0 j "};
    static constexpr const char *caps[] = {"0 J ", "1 J ", "2 J ", "0 J "};
    out += caps[std::clamp<int>(stroke->start_cap, 0, 3)];
    out += joins[std::clamp<int>(stroke->linejoin, 0, 3)];
    put_number(out, std::max(1.0, static_cast<double>(stroke->miterlimit)));
    out += "M [";
    for (int i = 0; i < stroke->dash_len; ++i) {
        put_number(out, static_cast<double>(stroke->dash_list[i]), 6);
    }
    out += "] ";
    put_number(out, static_cast<double>(stroke->dash_phase), 6);
    out += "d\n";
}

} // namespace bichrom
