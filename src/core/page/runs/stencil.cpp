#include "core/page/runs/stencil.h"

#include <algorithm>
#include <cstring>

namespace bichrom {

namespace {

constexpr std::size_t most_spans = std::size_t(8) << 20; // 64 MB; what is finer is painted pixel by pixel

} // namespace

std::unique_ptr<const Stencil> Stencil::make(const fz_pixmap &pixels, const fz_matrix &place)
{
    const auto back = turned_around(place);
    if (!back || pixels.n != 1) {
        return nullptr;
    }
    auto made = std::unique_ptr<Stencil>(new Stencil());
    made->m_back = back->in_pixels(pixels.w, pixels.h);
    made->m_width = pixels.w;
    made->m_height = pixels.h;
    made->m_first.push_back(0);
    for (int y = 0; y < pixels.h; ++y) {
        const unsigned char *row = pixels.samples + y * pixels.stride;
        const unsigned char *const end = row + pixels.w;
        for (const unsigned char *at = row; at < end;) {
            const unsigned char *const begin = std::find(at, end, 255);
            at = std::find(begin, end, 0);
            if (begin < at) {
                made->m_open.push_back({static_cast<int>(begin - row), static_cast<int>(at - row)});
            }
        }
        if (made->m_open.size() > most_spans) {
            return nullptr;
        }
        made->m_first.push_back(made->m_open.size());
    }
    return made;
}

void Stencil::spans(int row, int begin, int end, std::vector<InkSpan> &out) const
{
    if (m_back.b != 0 || m_back.c != 0) {
        add_turned(row, begin, end, out);
        return;
    }
    // Along the axes: a row of the film lies in one of the stencil's.
    const double y = std::floor(m_back.y(0, row + 0.5));
    const auto open = open_in(static_cast<int>(std::clamp(y, 0.0, m_height - 1.0)));
    const auto pixel = [&](int x) {
        return static_cast<int>(std::clamp(std::floor(m_back.x(x + 0.5, 0)), 0.0, m_width - 1.0));
    };
    // The first column from \p from on whose pixel is not before \p wanted, in the order of the film.
    const bool mirrored = m_back.a < 0;
    const auto reached = [&](int x, int wanted) { return mirrored ? pixel(x) < wanted : pixel(x) >= wanted; };
    const auto column_of = [&](int wanted) {
        const double guess = (wanted - m_back.e) / m_back.a - 0.5;
        int x = static_cast<int>(
            std::clamp(std::ceil(guess), static_cast<double>(begin), static_cast<double>(end)));
        while (x > begin && reached(x - 1, wanted)) {
            --x;
        }
        while (x < end && !reached(x, wanted)) {
            ++x;
        }
        return x;
    };
    const auto add = [&](const InkSpan &span) {
        const int from = column_of(mirrored ? span.end : span.begin);
        const int to = column_of(mirrored ? span.begin : span.end);
        if (from < to) {
            out.push_back({from, to});
        }
    };
    mirrored ? std::for_each(open.rbegin(), open.rend(), add) : std::for_each(open.begin(), open.end(), add);
}

void Stencil::add_turned(int row, int begin, int end, std::vector<InkSpan> &out) const
{
    const double py = row + 0.5;
    int from = -1; // of a span that goes on
    for (int x = begin; x < end; ++x) {
        const double u = std::floor(m_back.x(x + 0.5, py)), v = std::floor(m_back.y(x + 0.5, py));
        const int column = static_cast<int>(std::clamp(u, 0.0, m_width - 1.0));
        const auto open = open_in(static_cast<int>(std::clamp(v, 0.0, m_height - 1.0)));
        const auto after = std::upper_bound(open.begin(), open.end(), column,
                                            [](int at, const InkSpan &span) { return at < span.end; });
        const bool inks = after != open.end() && after->begin <= column;
        if (inks && from < 0) {
            from = x;
        } else if (!inks && from >= 0) {
            out.push_back({from, x});
            from = -1;
        }
    }
    if (from >= 0) {
        out.push_back({from, end});
    }
}

} // namespace bichrom
