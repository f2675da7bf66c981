#include "core/artwork/mupdf/text_runs.h"

#include "core/artwork/mupdf/type3.h"
#include "core/artwork/text_encoding.h"

#include <cmath>

namespace bichrom {

namespace {

constexpr int most_characters = 60;

/// Whether the glyphs came with the file, rather than from the interpreter's own fonts.
bool is_embedded(fz_context *ctx, fz_font *font)
{
    if (font->t3procs != nullptr) {
        return true;
    }
    if (fz_font_flags(font)->ft_substitute != 0 || font->buffer == nullptr) {
        return false;
    }
    unsigned char *data = nullptr;
    fz_buffer_storage(ctx, font->buffer, &data);
    static constexpr const char *own[] = {
        "Courier",     "Courier-Bold",   "Courier-Oblique",   "Courier-BoldOblique",
        "Helvetica",   "Helvetica-Bold", "Helvetica-Oblique", "Helvetica-BoldOblique",
        "Times-Roman", "Times-Bold",     "Times-Italic",      "Times-BoldItalic",
        "Symbol",      "ZapfDingbats"};
    for (const char *name : own) { // ISO 32000-1, 9.6.2.2: the standard 14 fonts
        int size = 0;
        if (data == fz_lookup_base14_font(ctx, name, &size)) {
            return false;
        }
    }
    return true;
}

void append_characters(const fz_text_span *span, std::string &out, int &count)
{
    for (int i = 0; i < span->len && count < most_characters; ++i) {
        const int code = span->items[i].ucs;
        if (code < 0) {
            continue; // the rest of a ligature
        }
        char bytes[FZ_UTFMAX] = {};
        const int length = fz_runetochar(bytes, code < 32 || code == 0xFFFD ? ' ' : code);
        out.append(bytes, static_cast<std::size_t>(length));
        ++count;
    }
}

Rect to_rect(fz_rect r)
{
    return {static_cast<double>(r.x0), static_cast<double>(r.y0),
            static_cast<double>(r.x1) - static_cast<double>(r.x0),
            static_cast<double>(r.y1) - static_cast<double>(r.y0)};
}

Rect joined(const Rect &a, const Rect &b)
{
    const double left = std::min(a.x, b.x);
    const double top = std::min(a.y, b.y);
    return {left, top, std::max(a.x + a.width, b.x + b.width) - left,
            std::max(a.y + a.height, b.y + b.height) - top};
}

fz_rect span_bounds(fz_context *ctx, fz_text_span *span, const fz_stroke_state *stroke, fz_matrix ctm)
{
    fz_text one{};
    one.refs = 1;
    fz_text_span alone = *span;
    alone.next = nullptr;
    one.head = one.tail = &alone;
    fz_rect bounds = fz_bound_text(ctx, &one, stroke, ctm);
    if (!fz_is_empty_rect(bounds)) {
        return bounds;
    }
    const float size = fz_matrix_expansion(fz_concat(span->trm, ctm));
    for (int i = 0; i < span->len; ++i) {
        const fz_point at = fz_transform_point_xy(span->items[i].x, span->items[i].y, ctm);
        bounds = fz_union_rect(bounds, fz_rect{at.x, at.y - size * 0.5f, at.x + size * 0.25f, at.y});
    }
    return bounds;
}

} // namespace

std::string first_characters(const fz_text *text)
{
    std::string out;
    int count = 0;
    for (const fz_text_span *span = text->head; span != nullptr; span = span->next) {
        append_characters(span, out, count);
    }
    const bool blank = out.find_first_not_of(' ') == std::string::npos; // a font that does not tell
    return blank ? std::string() : valid_utf8(out);
}

fz_rect text_bounds(fz_context *ctx, const fz_text *text, const fz_stroke_state *stroke, fz_matrix ctm)
{
    const fz_rect bounds = fz_bound_text(ctx, text, stroke, ctm);
    if (!fz_is_empty_rect(bounds)) {
        return bounds;
    }
    fz_rect all = fz_empty_rect;
    for (fz_text_span *span = text->head; span != nullptr; span = span->next) {
        all = fz_union_rect(all, span_bounds(ctx, span, stroke, ctm));
    }
    return all;
}

std::vector<TextRun> text_runs(fz_context *ctx, const fz_text *text, fz_matrix ctm)
{
    std::vector<TextRun> runs;
    const fz_font *before = nullptr;
    int count = 0;
    for (fz_text_span *span = text->head; span != nullptr; span = span->next) {
        if (span->len == 0) {
            continue;
        }
        const auto size = static_cast<double>(fz_matrix_expansion(fz_concat(span->trm, ctm)));
        const Rect bounds = to_rect(span_bounds(ctx, span, nullptr, ctm));
        if (before != span->font || std::fabs(runs.back().size - size) > 0.01) {
            count = 0;
            runs.push_back(
                {valid_utf8(fz_font_name(ctx, span->font)), is_embedded(ctx, span->font), size, bounds, {}});
        } else {
            runs.back().bounds = joined(runs.back().bounds, bounds);
        }
        before = span->font;
        append_characters(span, runs.back().text, count);
    }
    for (TextRun &run : runs) {
        run.text = valid_utf8(run.text);
    }
    return runs;
}

} // namespace bichrom
