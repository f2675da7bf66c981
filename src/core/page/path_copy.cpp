#include "core/page/path_copy.h"

namespace bichrom {

namespace {

// fz_walk_path only calls these; the first argument it passes on is the path to append to.
void append_move(fz_context *ctx, void *to, float x, float y)
{
    fz_moveto(ctx, static_cast<fz_path *>(to), x, y);
}
void append_line(fz_context *ctx, void *to, float x, float y)
{
    fz_lineto(ctx, static_cast<fz_path *>(to), x, y);
}
void append_curve(fz_context *ctx, void *to, float x1, float y1, float x2, float y2, float x3, float y3)
{
    fz_curveto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2, x3, y3);
}
void append_close(fz_context *ctx, void *to)
{
    fz_closepath(ctx, static_cast<fz_path *>(to));
}

constexpr fz_path_walker appender = {append_move, append_line, append_curve, append_close,
                                     nullptr,     nullptr,     nullptr,      nullptr};

void append_quad(fz_context *ctx, void *to, float x1, float y1, float x2, float y2)
{
    fz_quadto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2);
}
void append_first_curve(fz_context *ctx, void *to, float x2, float y2, float x3, float y3)
{
    fz_curvetov(ctx, static_cast<fz_path *>(to), x2, y2, x3, y3);
}
void append_last_curve(fz_context *ctx, void *to, float x1, float y1, float x3, float y3)
{
    fz_curvetoy(ctx, static_cast<fz_path *>(to), x1, y1, x3, y3);
}
void append_rect(fz_context *ctx, void *to, float x1, float y1, float x2, float y2)
{
    fz_rectto(ctx, static_cast<fz_path *>(to), x1, y1, x2, y2);
}

/// Keeps every kind of segment: rectangles are painted otherwise than four lines.
constexpr fz_path_walker copier = {append_move, append_line,        append_curve,      append_close,
                                   append_quad, append_first_curve, append_last_curve, append_rect};

/// Where closed contours go, and whether one is open.
struct Closing
{
    fz_path *to;
    bool open;
    static Closing &of(void *closing) { return *static_cast<Closing *>(closing); }
};

constexpr fz_path_walker closer = {
    [](fz_context *ctx, void *c, float x, float y) {
        Closing &closing = Closing::of(c);
        if (closing.open) {
            fz_closepath(ctx, closing.to);
        }
        closing.open = false;
        fz_moveto(ctx, closing.to, x, y);
    },
    [](fz_context *ctx, void *c, float x, float y) {
        Closing::of(c).open = true;
        fz_lineto(ctx, Closing::of(c).to, x, y);
    },
    [](fz_context *ctx, void *c, float x1, float y1, float x2, float y2, float x3, float y3) {
        Closing::of(c).open = true;
        fz_curveto(ctx, Closing::of(c).to, x1, y1, x2, y2, x3, y3);
    },
    [](fz_context *ctx, void *c) {
        Closing::of(c).open = false;
        fz_closepath(ctx, Closing::of(c).to);
    },
    nullptr,
    nullptr,
    nullptr,
    nullptr};

} // namespace

void append_closed(fz_context *ctx, const fz_path *path, fz_path *to)
{
    Closing closing = {to, false};
    fz_walk_path(ctx, path, &closer, &closing);
    if (closing.open) {
        fz_closepath(ctx, to);
    }
}

void append_path(fz_context *ctx, const fz_path *path, fz_path *to)
{
    fz_walk_path(ctx, path, &appender, to);
}

fz_path *unpacked(fz_context *ctx, const fz_path *path)
{
    fz_path *copy = fz_new_path(ctx);
    fz_try(ctx)
    {
        fz_walk_path(ctx, path, &copier, copy);
    }
    fz_catch(ctx)
    {
        fz_drop_path(ctx, copy);
        fz_rethrow(ctx);
    }
    return copy;
}

} // namespace bichrom
