#include "core/page/runs/run_painter.h"

#include "core/base/cpu_clones.h"
#include "core/base/pixel_rect.h"
#include "core/page/runs/tuples.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cstring>
#include <deque>
#include <map>

namespace bichrom {

namespace {

/// What an object paints of a row.
struct Painted
{
    int begin, end;
    int paint;
    int group = -1; ///< of the scene's objects
    friend bool operator==(const Painted &, const Painted &) = default;
};

/// Rows of spans that a clip lets through.
class ClipRows
{
public:
    /// So many rows, that nothing is let through in.
    explicit ClipRows(int rows) : m_rows(static_cast<std::size_t>(rows)) {}
    /// Begins row \p row, of which nothing has been added: what is added next is let through.
    void begin(int row) { m_rows[static_cast<std::size_t>(row)] = {m_spans.size(), m_spans.size()}; }
    void add(int row, const InkSpan &span)
    {
        m_spans.push_back(span);
        ++m_rows[static_cast<std::size_t>(row)].second;
    }
    [[nodiscard]] std::span<const InkSpan> row(int row) const
    {
        const auto [first, last] = m_rows[static_cast<std::size_t>(row)];
        return std::span(m_spans).subspan(first, last - first);
    }

private:
    std::vector<std::pair<std::size_t, std::size_t>> m_rows; ///< first and last of its spans
    std::vector<InkSpan> m_spans;
};

/// A stretch of a row that is alike, until the next one begins.
struct Stretch
{
    int begin;
    int tuple;
};

/// Lays \p count tones \p over at strength \p alpha over \p tones.
BICHROM_CPU_CLONES void blend(const std::uint8_t *__restrict over, std::uint8_t alpha, std::size_t count,
                              std::uint8_t *__restrict tones)
{
    for (std::size_t i = 0; i < count; ++i) {
        tones[i] = blended(over[i], tones[i], alpha);
    }
}

/// Makes of \p over what it makes of \p count tones \p under.
BICHROM_CPU_CLONES void multiply(const std::uint8_t *__restrict under, std::size_t count,
                                 std::uint8_t *__restrict over)
{
    for (std::size_t i = 0; i < count; ++i) {
        over[i] = multiplied(over[i], under[i]);
    }
}

/// The same as blend() where each pixel has a strength of its own besides.
BICHROM_CPU_CLONES void blend_masked(const std::uint8_t *__restrict over,
                                     const std::uint8_t *__restrict strengths, std::uint8_t alpha,
                                     std::size_t count, std::uint8_t *__restrict tones)
{
    for (std::size_t i = 0; i < count; ++i) {
        tones[i] = blended(over[i], tones[i], blended(strengths[i], 0, alpha));
    }
}

/// Paints some rows.
class Rows
{
public:
    Rows(const RunScene &scene, const PixelRect &rect, std::span<const int> planes,
         std::span<const PixelPart> parts, const JobControl &control)
        : m_scene(scene), m_rect(rect), m_planes(planes), m_parts(parts), m_control(control), m_tuples(scene),
          m_spans(static_cast<std::size_t>(rect.height)), m_masks(scene.masks.size()),
          m_arena(std::make_shared<std::deque<Block>>())
    {
        m_hides.reserve(scene.paints.size());
        for (const RunPaint &paint : scene.paints) {
            m_hides.push_back(paint.alpha == 255 && paint.mask < 0 && !paint.multiplies &&
                              paint.replaces == scene.all_planes);
        }
        m_made.reserve(planes.size());
        for (std::size_t i = 0; i < planes.size(); ++i) {
            m_made.emplace_back(rect.width, rect.height);
        }
    }

    std::vector<RunPlane> paint()
    {
        collect();
        if (m_scene.groups > 0) {
            for (auto &spans : m_spans) {
                show_topmost_of_groups(spans);
            }
        }
        for (int row = 0; row < m_rect.height && !m_control.cancelled(); ++row) {
            if (row > 0 && is_like_above(row)) {
                for (RunPlane &plane : m_made) {
                    plane.repeat_row();
                }
                continue;
            }
            lay(m_spans[static_cast<std::size_t>(row)]);
            emit(row);
        }
        for (RunPlane &plane : m_made) {
            plane.keep(m_arena);
            for (const PixelPart &part : m_parts) {
                for (const auto &one : part.planes) {
                    plane.keep(one);
                }
            }
        }
        return std::move(m_made);
    }

private:
    using Block = std::vector<std::uint8_t>;

    /// The spans of all objects, by row, in the order of painting, cut by their clips.
    void collect()
    {
        const int top = m_rect.y, bottom = m_rect.y + m_rect.height;
        const int left = m_rect.x, right = m_rect.x + m_rect.width;
        for (std::size_t i = 0; i < m_scene.objects.size(); ++i) {
            const RunObject &object = m_scene.objects[i];
            const PixelRect &box = object.box;
            constexpr std::size_t some = 4096;
            if (i % some == 0 && m_control.cancelled()) {
                return;
            }
            if (box.y >= bottom || box.y + box.height <= top || box.x >= right || box.x + box.width <= left) {
                continue;
            }
            const int first = std::max(top, box.y);
            const int last = std::min(bottom, box.y + box.height);
            const int from = std::max(left, box.x);
            const int to = std::min(right, box.x + box.width);
            const int clip = shaped_clip(object.clip);
            const auto *allowed = clip >= 0 ? &clip_rows(clip) : nullptr;
            m_filler.fill(m_scene.shapes, m_scene.shapes.shape(object.shape), first, last, m_scene.page.width,
                          [&](int row, std::span<const InkSpan> spans) {
                              const auto add = [&](int begin, int end) {
                                  add_painted(object, row, std::max(begin, from), std::min(end, to));
                              };
                              if (allowed == nullptr) {
                                  for (const InkSpan &span : spans) {
                                      add(span.begin, span.end);
                                  }
                                  return;
                              }
                              cut(spans, allowed->row(row - top), add);
                          });
        }
    }

    /// Adds what \p object paints in columns [\p begin, \p end) of \p row: through its mask, where it has
    /// one.
    void add_painted(const RunObject &object, int row, int begin, int end)
    {
        if (begin >= end) {
            return;
        }
        auto &out = m_spans[static_cast<std::size_t>(row - m_rect.y)];
        if (object.masked < 0) {
            out.push_back({begin, end, object.paint, object.group});
            return;
        }
        const int mask = m_scene.paints[static_cast<std::size_t>(object.masked)].mask;
        const MaskRows &rows = mask_rows(mask);
        for (const ToneRun &run : rows.row(row)) {
            const int from = std::max(begin, run.begin + rows.part.x);
            const int to = std::min(end, run.end + rows.part.x);
            if (from < to) {
                const bool solid = run.tones == nullptr && run.tone == 255;
                out.push_back({from, to, solid ? object.paint : object.masked, object.group});
            }
        }
    }

    /// Rows of a mask that lie in m_rect.
    struct MaskRows
    {
        PixelRect part; ///< of the page
        RunPlane tones; ///< as wide and high as part

        /// Of row \p y of the page; from column part.x on.
        [[nodiscard]] std::span<const ToneRun> row(int y) const
        {
            return y < part.y || y >= part.y + part.height ? std::span<const ToneRun>()
                                                           : tones.row(y - part.y);
        }
    };

    const MaskRows &mask_rows(int number)
    {
        auto &slot = m_masks[static_cast<std::size_t>(number)];
        if (slot != nullptr) {
            return *slot;
        }
        const RunMask &mask = m_scene.masks[static_cast<std::size_t>(number)];
        const PixelRect part = intersection(m_rect, mask.box);
        constexpr std::array<int, 1> only_plane = {0};
        const auto painted = std::make_shared<const RunPlane>(
            std::move(paint_rows(*mask.scene, part, only_plane, {}, m_control).front()));
        // Where many pixels are alike it is told so: most of a mask hides all or nothing.
        slot = std::make_unique<MaskRows>(MaskRows{part, RunPlane(part.width, part.height)});
        for (int y = 0; y < part.height; ++y) {
            if (y > 0 && same_runs(painted->row(y), painted->row(y - 1))) {
                slot->tones.repeat_row();
                continue;
            }
            for (const ToneRun &run : painted->row(y)) {
                if (run.tones != nullptr) {
                    slot->tones.add_tones(run.begin, run.tones, run.end - run.begin);
                } else {
                    slot->tones.add(run);
                }
            }
            slot->tones.end_row();
        }
        slot->tones.keep(painted);
        return *slot;
    }

    [[nodiscard]] static bool same_runs(std::span<const ToneRun> a, std::span<const ToneRun> b)
    {
        return std::equal(a.begin(), a.end(), b.begin(), b.end(),
                          [](const ToneRun &one, const ToneRun &other) {
                              return one.begin == other.begin && one.end == other.end &&
                                     one.tone == other.tone && one.tones == other.tones;
                          });
    }

    /// Leaves of each group's spans what no later one of the same group hides.
    void show_topmost_of_groups(std::vector<Painted> &spans)
    {
        const auto grouped = [](const Painted &one) { return one.group >= 0; };
        if (std::none_of(spans.begin(), spans.end(), grouped)) {
            return;
        }
        m_shown.clear();
        for (std::size_t i = 0; i < spans.size();) {
            if (!grouped(spans[i])) {
                m_shown.push_back(spans[i++]);
                continue;
            }
            std::size_t end = i;
            int left = spans[i].begin, right = spans[i].end;
            for (; end < spans.size() && spans[end].group == spans[i].group; ++end) {
                left = std::min(left, spans[end].begin);
                right = std::max(right, spans[end].end);
            }
            if (end == i + 1) { // as many are
                m_shown.push_back(spans[i++]);
                continue;
            }
            m_taken.resize(static_cast<std::size_t>(m_rect.width) / 64 + 1);
            each_word(left - m_rect.x, right - m_rect.x,
                      [&](int word, std::uint64_t) { m_taken[static_cast<std::size_t>(word)] = 0; });
            for (std::size_t k = end; k-- > i;) {
                const Painted &span = spans[k];
                each_free(span.begin - m_rect.x, span.end - m_rect.x, [&](int from, int to) {
                    m_shown.push_back({from + m_rect.x, to + m_rect.x, span.paint, span.group});
                });
                each_word(span.begin - m_rect.x, span.end - m_rect.x, [&](int word, std::uint64_t bits) {
                    m_taken[static_cast<std::size_t>(word)] |= bits;
                });
            }
            i = end;
        }
        spans.swap(m_shown);
    }

    /// Calls \p take with what lies in both.
    template <typename Take>
    static void cut(std::span<const InkSpan> a, std::span<const InkSpan> b, Take take)
    {
        for (std::size_t i = 0, j = 0; i < a.size() && j < b.size();) {
            const int begin = std::max(a[i].begin, b[j].begin);
            const int end = std::min(a[i].end, b[j].end);
            if (begin < end) {
                take(begin, end);
            }
            (a[i].end < b[j].end ? i : j) += 1;
        }
    }

    /// \p clip, or the first around it that has a shape or stencil; −1 when boxes say all.
    [[nodiscard]] int shaped_clip(int clip) const
    {
        if (clip < 0) {
            return -1;
        }
        const RunClip &one = m_scene.clips[static_cast<std::size_t>(clip)];
        return one.cuts() ? clip : one.around;
    }

    const ClipRows &clip_rows(int number)
    {
        if (const auto made = m_clips.find(number); made != m_clips.end()) {
            return made->second;
        }
        const RunClip &clip = m_scene.clips[static_cast<std::size_t>(number)];
        const int around = shaped_clip(clip.around);
        const ClipRows *outer =
            around >= 0 ? &clip_rows(around) : nullptr; // a map's values stay where they are
        ClipRows &made = m_clips.emplace(number, ClipRows(m_rect.height)).first->second;
        const int first = std::max(m_rect.y, clip.box.y);
        const int last = std::min(m_rect.y + m_rect.height, clip.box.y + clip.box.height);
        const auto add = [&](int row, std::span<const InkSpan> spans) {
            const int at = row - m_rect.y;
            made.begin(at);
            if (outer == nullptr) {
                for (const InkSpan &span : spans) {
                    made.add(at, span);
                }
            } else {
                cut(spans, outer->row(at), [&](int begin, int end) { made.add(at, {begin, end}); });
            }
        };
        if (clip.stencil >= 0) {
            const Stencil &stencil = *m_scene.stencils[static_cast<std::size_t>(clip.stencil)];
            std::vector<InkSpan> open;
            for (int row = first; row < last; ++row) {
                open.clear();
                stencil.spans(row, clip.box.x, clip.box.x + clip.box.width, open);
                add(row, open);
            }
            return made;
        }
        m_clip_filler.fill(m_scene.shapes, m_scene.shapes.shape(clip.shape), first, last, m_scene.page.width,
                           add);
        return made;
    }

    [[nodiscard]] bool is_like_above(int row)
    {
        const auto &here = m_spans[static_cast<std::size_t>(row)];
        if (here != m_spans[static_cast<std::size_t>(row - 1)]) {
            return false;
        }
        for (const PixelPart &part : m_parts) {
            if (row + m_rect.y >= part.rect.y - 1 && row + m_rect.y <= part.rect.y + part.rect.height) {
                return false;
            }
        }
        return std::all_of(here.begin(), here.end(), [&](const Painted &span) {
            const RunPaint &paint = m_scene.paints[static_cast<std::size_t>(span.paint)];
            return (paint.sampler < 0 || m_scene.samplers[static_cast<std::size_t>(paint.sampler)]->same_row(
                                             row + m_rect.y, row + m_rect.y - 1)) &&
                   (paint.mask < 0 || same_runs(mask_rows(paint.mask).row(row + m_rect.y),
                                                mask_rows(paint.mask).row(row + m_rect.y - 1)));
        });
    }

    /// Lays the spans of a row over each other.
    void lay(const std::vector<Painted> &spans)
    {
        m_stretches.clear();
        m_stretches.push_back({m_rect.x, 0});
        if (spans.empty()) {
            return;
        }
        constexpr std::size_t many = 12; // spans; so few are sorted sooner
        spans.size() < many ? sweep(spans) : claim(spans);
    }

    /// The topmost span first: each that hides what is under it takes the columns that nobody has. Others are
    /// laid over what others took, where they are seen.
    void claim(const std::vector<Painted> &spans)
    {
        m_begins.assign(static_cast<std::size_t>(m_rect.width) / 64 + 1, 0);
        m_taken.assign(m_begins.size(), 0);
        m_tuple_at.resize(static_cast<std::size_t>(m_rect.width));
        m_over.clear();
        int paint = -1, tuple = 0;
        for (auto span = spans.rbegin(); span != spans.rend(); ++span) {
            const int begin = span->begin - m_rect.x, end = span->end - m_rect.x;
            if (!hides(span->paint)) {
                each_free(begin, end, [&](int from, int to) { m_over.push_back({from, to, span->paint}); });
                continue;
            }
            if (span->paint != paint) {
                paint = span->paint;
                tuple = m_tuples.painted(0, paint);
            }
            take(begin, end, tuple);
        }
        take(0, m_rect.width, 0);
        for (auto over = m_over.rbegin(); over != m_over.rend(); ++over) {
            lay_over(*over);
        }
        int last = 0;
        each_begin(0, m_rect.width, [&](int x, int at) {
            if (at == last) {
                return;
            }
            last = at;
            if (x == 0) {
                m_stretches.back().tuple = at;
            } else {
                m_stretches.push_back({m_rect.x + x, at});
            }
        });
    }

    /// Gives \p use the words that columns [\p begin, \p end) lie in, and their bits there. \pre begin < end
    template <typename Use> static void each_word(int begin, int end, const Use &use)
    {
        constexpr std::uint64_t all = ~std::uint64_t(0);
        const auto from = static_cast<unsigned>(begin), last = static_cast<unsigned>(end) - 1;
        const std::uint64_t head = all << (from % 64), tail = all >> (63 - last % 64);
        int word = static_cast<int>(from / 64);
        const int stop = static_cast<int>(last / 64);
        if (word == stop) { // as of most
            use(word, head & tail);
            return;
        }
        use(word, head);
        while (++word < stop) {
            use(word, all);
        }
        use(word, tail);
    }

    void take(int begin, int end, int tuple)
    {
        std::uint64_t before = 0; // 1 where the column before was taken here too
        each_word(begin, end, [&](int word, std::uint64_t wanted) {
            const auto at = static_cast<std::size_t>(word);
            const std::uint64_t free = wanted & ~m_taken[at];
            const std::uint64_t begins = free & ~(free << 1 | before);
            for (std::uint64_t left = begins; left != 0; left &= left - 1) {
                m_tuple_at[static_cast<std::size_t>(word * 64 + std::countr_zero(left))] = tuple;
            }
            m_begins[at] |= begins;
            m_taken[at] |= wanted;
            before = free >> 63;
        });
    }

    /// Gives \p use the stretches of columns [\p begin, \p end) that nobody has taken.
    template <typename Use> void each_free(int begin, int end, const Use &use) const
    {
        int from = -1; // of a stretch that goes on
        each_word(begin, end, [&](int word, std::uint64_t wanted) {
            const std::uint64_t free = wanted & ~m_taken[static_cast<std::size_t>(word)];
            for (int bit = 0; bit < 64;) {
                const std::uint64_t rest = (from < 0 ? free : ~free) >> bit;
                if (rest == 0) {
                    break;
                }
                bit += std::countr_zero(rest);
                if (from < 0) {
                    from = word * 64 + bit;
                } else {
                    use(from, word * 64 + bit);
                    from = -1;
                }
            }
        });
        if (from >= 0) {
            use(from, end);
        }
    }

    /// Gives \p use the columns of [\p begin, \p end) where a stretch begins, and its tuple.
    template <typename Use> void each_begin(int begin, int end, const Use &use)
    {
        each_word(begin, end, [&](int word, std::uint64_t wanted) {
            for (std::uint64_t left = m_begins[static_cast<std::size_t>(word)] & wanted; left != 0;
                 left &= left - 1) {
                const int x = word * 64 + std::countr_zero(left);
                use(x, m_tuple_at[static_cast<std::size_t>(x)]);
            }
        });
    }

    /// Lets a stretch begin at \p x.
    void split(int x)
    {
        std::size_t word = static_cast<std::size_t>(x) / 64;
        const std::uint64_t bit = std::uint64_t(1) << (x % 64);
        if (x >= m_rect.width || (m_begins[word] & bit) != 0) {
            return;
        }
        std::uint64_t before = m_begins[word] & (bit - 1);
        while (before == 0) {
            before = m_begins[--word]; // one begins at column 0
        }
        m_begins[static_cast<std::size_t>(x) / 64] |= bit;
        m_tuple_at[static_cast<std::size_t>(x)] =
            m_tuple_at[word * 64 + 63 - static_cast<std::size_t>(std::countl_zero(before))];
    }

    void lay_over(const Painted &over)
    {
        split(over.begin);
        split(over.end);
        int under = -1, tuple = 0;
        each_begin(over.begin, over.end, [&](int x, int at) {
            if (at != under) {
                under = at;
                tuple = m_tuples.painted(under, over.paint);
            }
            m_tuple_at[static_cast<std::size_t>(x)] = tuple;
        });
    }

    void sweep(const std::vector<Painted> &spans)
    {
        m_ends.clear();
        for (std::size_t i = 0; i < spans.size(); ++i) {
            m_ends.push_back({spans[i].begin, static_cast<int>(i), true});
            m_ends.push_back({spans[i].end, static_cast<int>(i), false});
        }
        std::sort(m_ends.begin(), m_ends.end(), [](const End &a, const End &b) { return a.at < b.at; });
        m_active.clear();
        for (std::size_t i = 0; i < m_ends.size();) {
            const int at = m_ends[i].at;
            for (; i < m_ends.size() && m_ends[i].at == at; ++i) {
                const int span = m_ends[i].span;
                const auto place = std::lower_bound(m_active.begin(), m_active.end(), span);
                if (m_ends[i].begins) {
                    m_active.insert(place, span);
                } else {
                    m_active.erase(place);
                }
            }
            // From the topmost that hides all under it.
            std::size_t from = m_active.size();
            while (from > 0 && !hides(spans[static_cast<std::size_t>(m_active[from - 1])].paint)) {
                --from;
            }
            int tuple = 0;
            for (std::size_t k = from > 0 ? from - 1 : 0; k < m_active.size(); ++k) {
                tuple = m_tuples.painted(tuple, spans[static_cast<std::size_t>(m_active[k])].paint);
            }
            if (m_stretches.back().tuple == tuple) {
                continue;
            }
            if (m_stretches.back().begin == at) {
                m_stretches.back().tuple = tuple;
            } else {
                m_stretches.push_back({at, tuple});
            }
        }
    }

    [[nodiscard]] bool hides(int paint) const { return m_hides[static_cast<std::size_t>(paint)] != 0; }

    /// Puts the stretches of the row into the planes, and what is painted by pixels.
    void emit(int row)
    {
        const int y = m_rect.y + row;
        int from = m_rect.x; // written so far
        std::size_t k = 0;   // the stretch it lies in
        const auto write_until = [&](int to) {
            while (from < to) {
                while (k + 1 < m_stretches.size() && m_stretches[k + 1].begin <= from) {
                    ++k;
                }
                const int end = k + 1 < m_stretches.size() ? std::min(to, m_stretches[k + 1].begin) : to;
                m_indexed.clear(); // each plane asks for the same
                m_strong.clear();
                const int tuple = m_stretches[k].tuple;
                for (const auto [plane, tone] : inks_of(tuple)) {
                    if (tone != 0) {
                        m_made[plane].add({from - m_rect.x, end - m_rect.x, tone, nullptr});
                    } else {
                        add_sampled(m_made[plane], m_planes[plane], tuple, y, from, end);
                    }
                }
                from = end;
            }
        };
        for (const PixelPart &part : m_parts) {
            if (y < part.rect.y || y >= part.rect.y + part.rect.height) {
                continue;
            }
            write_until(part.rect.x);
            const int move = part.rect.x - m_rect.x;
            for (std::size_t i = 0; i < m_made.size(); ++i) {
                for (const ToneRun &run : part.planes[i]->row(y - part.rect.y)) {
                    m_made[i].add({run.begin + move, run.end + move, run.tone, run.tones});
                }
            }
            from = part.rect.x + part.rect.width;
        }
        write_until(m_rect.x + m_rect.width);
        for (RunPlane &plane : m_made) {
            plane.end_row();
        }
    }

    /// One of m_planes, and the tone it has; 0 where tones are sampled.
    struct Ink
    {
        std::uint8_t plane, tone;
    };

    /// The planes that may have ink where all planes are tuple \p number; lent until the next is asked for.
    std::span<const Ink> inks_of(int number)
    {
        while (m_first_ink.size() <= static_cast<std::size_t>(number) + 1) {
            const Tuple &tuple = m_tuples[static_cast<int>(m_first_ink.size()) - 1];
            for (std::size_t i = 0; i < m_planes.size(); ++i) {
                const std::size_t at = plane_in_tuple(m_planes[i]);
                if (tuple.inks(at)) {
                    m_inks.push_back({static_cast<std::uint8_t>(i), tuple.tones[at]});
                }
            }
            m_first_ink.push_back(m_inks.size());
        }
        const std::size_t first = m_first_ink[static_cast<std::size_t>(number)];
        return std::span(m_inks).subspan(first, m_first_ink[static_cast<std::size_t>(number) + 1] - first);
    }

    void add_sampled(RunPlane &out, int plane, int number, int y, int begin, int end)
    {
        std::uint8_t *tones = room(static_cast<std::size_t>(end - begin));
        sample(m_tuples[number].sources[plane_in_tuple(plane)] - 1, plane, y, begin, end, tones);
        const bool bare =
            tones[0] == 0 && std::memcmp(tones, tones + 1, static_cast<std::size_t>(end - begin - 1)) == 0;
        if (!bare) {
            out.add({begin - m_rect.x, end - m_rect.x, 0, tones});
        }
    }

    static std::size_t plane_in_tuple(int plane)
    {
        return plane < 0 ? area_plane : static_cast<std::size_t>(plane);
    }

    void sample(int number, int plane, int y, int begin, int end, std::uint8_t *tones)
    {
        const Source source = m_tuples.source(number);
        const auto count = static_cast<std::size_t>(end - begin);
        if (source.hides()) {
            sample_opaque(source.sampler, plane, y, begin, end, tones);
            return;
        }
        if (source.under >= 0) {
            sample(source.under, plane, y, begin, end, tones);
        } else {
            std::memset(tones, source.below, count);
        }
        m_over_tones.resize(count);
        if (source.sampler >= 0) {
            sample_opaque(source.sampler, plane, y, begin, end, m_over_tones.data());
        } else {
            std::memset(m_over_tones.data(), source.over, count);
        }
        if (source.multiplies) {
            multiply(tones, count, m_over_tones.data());
        }
        if (source.mask < 0) {
            blend(m_over_tones.data(), source.alpha, count, tones);
            return;
        }
        blend_masked(m_over_tones.data(), strengths_of(source.mask, y, begin, end), source.alpha, count,
                     tones);
    }

    /// The tones of mask \p number, lent until the next stretch.
    const std::uint8_t *strengths_of(int number, int y, int begin, int end)
    {
        // Each plane asks for the same.
        const auto count = static_cast<std::size_t>(end - begin);
        const auto known = std::find(m_strong.begin(), m_strong.end(), number);
        const std::size_t start = static_cast<std::size_t>(known - m_strong.begin()) * count;
        if (known == m_strong.end()) {
            m_strong.push_back(number);
            m_strengths.resize(std::max(m_strengths.size(), start + count));
            const MaskRows &rows = mask_rows(number);
            rows.tones.write_part(y - rows.part.y, begin - rows.part.x, end - rows.part.x,
                                  m_strengths.data() + start);
        }
        return m_strengths.data() + start;
    }

    void sample_opaque(int number, int plane, int y, int begin, int end, std::uint8_t *tones)
    {
        const Sampler &sampler = *m_scene.samplers[static_cast<std::size_t>(number)];
        auto found = std::find_if(m_indexed.begin(), m_indexed.end(), [&](const Indexed &one) {
            return one.sampler == number && one.begin == begin && one.end == end;
        });
        if (found == m_indexed.end()) {
            const std::size_t start =
                m_indexed.empty() ? 0
                                  : m_indexed.back().start + static_cast<std::size_t>(m_indexed.back().end -
                                                                                      m_indexed.back().begin);
            m_indexed.push_back({number, begin, end, start});
            m_indices.resize(std::max(m_indices.size(), start + static_cast<std::size_t>(end - begin)));
            sampler.indices(y, begin, end, m_indices.data() + start);
            found = m_indexed.end() - 1;
        }
        sampler.tones(plane, y, m_indices.data() + found->start, end - begin, tones);
    }

    /// Memory for \p count tones that stays where it is.
    std::uint8_t *room(std::size_t count)
    {
        constexpr std::size_t block = std::size_t(1) << 18;
        if (m_arena->empty() || m_used + count > m_arena->back().size()) {
            m_arena->emplace_back(std::max(block, count));
            m_used = 0;
        }
        std::uint8_t *place = m_arena->back().data() + m_used;
        m_used += count;
        return place;
    }

    struct End
    {
        int at, span;
        bool begins;
    };
    /// A stretch whose indices are known.
    struct Indexed
    {
        int sampler, begin, end;
        std::size_t start; ///< in m_indices
    };

    const RunScene &m_scene;
    PixelRect m_rect;
    std::span<const int> m_planes;
    std::span<const PixelPart> m_parts;
    const JobControl &m_control;
    Tuples m_tuples;
    std::vector<Ink> m_inks;                   ///< of tuples, one after the other
    std::vector<std::size_t> m_first_ink{0};   ///< by tuple, and one more
    std::vector<std::uint8_t> m_hides;         ///< by paint: whether it hides all that is under it
    std::vector<std::vector<Painted>> m_spans; ///< by row
    std::map<int, ClipRows> m_clips;
    std::vector<std::unique_ptr<MaskRows>> m_masks; ///< of the scene, as far as they were needed
    RowFiller m_filler, m_clip_filler;
    std::vector<Stretch> m_stretches;
    std::vector<std::uint64_t> m_begins, m_taken; ///< a bit for each column of a row
    std::vector<int> m_tuple_at;                  ///< where m_begins has a bit
    std::vector<Painted> m_over;                  ///< columns of the row, the topmost first
    std::vector<std::uint8_t> m_over_tones;       ///< until they are laid over others
    std::vector<int> m_strong;                    ///< masks whose tones of a stretch stand in m_strengths
    std::vector<std::uint8_t> m_strengths;        ///< one after the other
    std::vector<Painted> m_shown;                 ///< spans of a row, of groups only what is seen
    std::vector<End> m_ends;
    std::vector<int> m_active;
    std::vector<Indexed> m_indexed;
    std::vector<std::uint32_t> m_indices;
    std::shared_ptr<std::deque<Block>> m_arena;
    std::size_t m_used = 0;
    std::vector<RunPlane> m_made;
};

} // namespace

std::vector<RunPlane> paint_rows(const RunScene &scene, const PixelRect &rect, std::span<const int> planes,
                                 std::span<const PixelPart> parts, const JobControl &control)
{
    return Rows(scene, rect, planes, parts, control).paint();
}

std::vector<InkSpan> pixel_columns(const RunScene &scene, int top, int bottom)
{
    std::vector<InkSpan> found;
    for (const PixelRect &box : scene.pixel_boxes) {
        if (box.y < bottom && box.y + box.height > top) {
            found.push_back({box.x, box.x + box.width});
        }
    }
    std::sort(found.begin(), found.end(),
              [](const InkSpan &a, const InkSpan &b) { return a.begin < b.begin; });
    constexpr int apart = 64; // nearer ones are painted together
    std::vector<InkSpan> joined;
    for (const InkSpan &span : found) {
        if (!joined.empty() && span.begin <= joined.back().end + apart) {
            joined.back().end = std::max(joined.back().end, span.end);
        } else {
            joined.push_back(span);
        }
    }
    return joined;
}

} // namespace bichrom
