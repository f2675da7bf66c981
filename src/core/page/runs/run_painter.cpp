#include "core/page/runs/run_painter.h"

#include <algorithm>
#include <bit>
#include <cstring>
#include <deque>
#include <map>
#include <unordered_map>

namespace bichrom {

namespace {

/// Where the tones of a plane come from: a sampler's, or one tone, laid at some strength over another
/// source's, or over one tone.
struct Source
{
    int sampler = -1; ///< of the scene; −1: tone is what is laid over
    int under = -1;   ///< another source; −1: tone is what lies under, if anything is seen of it
    std::uint8_t tone = 0, alpha = 255;
    friend auto operator<=>(const Source &, const Source &) = default;
};

/// What lies on all planes of a pixel: a tone, or a source for it.
struct Tuple
{
    std::array<std::uint8_t, FZ_MAX_COLORS> tones{};
    std::array<int, FZ_MAX_COLORS> sources{}; ///< number + 1; 0 = the tone
    std::uint8_t area = 0;
};

/// \p over at strength \p alpha over \p under, as the painter of pixels blends.
std::uint8_t blended(std::uint8_t over, std::uint8_t under, std::uint8_t alpha)
{
    const int strength = alpha + (alpha >> 7);
    return static_cast<std::uint8_t>(((over - under) * strength + (under << 8)) >> 8);
}

/// Tuples by number, and what each paint makes of each.
class Tuples
{
public:
    explicit Tuples(const RunScene &scene) : m_scene(scene) { (void)number_of(Tuple()); }

    [[nodiscard]] const Tuple &operator[](int number) const
    {
        return m_tuples[static_cast<std::size_t>(number)];
    }
    [[nodiscard]] const Source &source(int number) const
    {
        return m_sources[static_cast<std::size_t>(number)];
    }

    /// \p under, painted over with \p paint.
    int painted(int under, int paint)
    {
        const auto key = static_cast<std::uint64_t>(under) << 32 | static_cast<std::uint32_t>(paint);
        if (const auto found = m_painted.find(key); found != m_painted.end()) {
            return found->second;
        }
        const RunPaint &p = m_scene.paints[static_cast<std::size_t>(paint)];
        Tuple made = m_tuples[static_cast<std::size_t>(under)];
        for (std::size_t plane = 0; plane < made.tones.size(); ++plane) {
            const std::uint32_t bit = std::uint32_t(1) << plane;
            if ((p.replaces & bit) == 0) {
                continue;
            }
            if ((p.sampled & bit) != 0) {
                const bool seen = p.alpha != 255; // what lies under it
                made.sources[plane] = number_of(
                    Source{p.sampler, seen ? made.sources[plane] - 1 : -1,
                           seen && made.sources[plane] == 0 ? made.tones[plane] : std::uint8_t(0), p.alpha});
                made.tones[plane] = 0;
            } else if (p.alpha == 255) {
                made.tones[plane] = p.tones[plane];
                made.sources[plane] = 0;
            } else if (made.sources[plane] == 0) {
                made.tones[plane] = blended(p.tones[plane], made.tones[plane], p.alpha);
            } else {
                made.sources[plane] = number_of(Source{-1, made.sources[plane] - 1, p.tones[plane], p.alpha});
            }
        }
        made.area = p.alpha == 255 ? 255 : blended(255, made.area, p.alpha);
        const int number = number_of(made);
        m_painted.emplace(key, number);
        return number;
    }

private:
    int number_of(const Tuple &tuple)
    {
        std::string key(reinterpret_cast<const char *>(tuple.tones.data()), tuple.tones.size());
        key.append(reinterpret_cast<const char *>(tuple.sources.data()), sizeof tuple.sources);
        key.push_back(static_cast<char>(tuple.area));
        const auto [at, is_new] = m_numbers.try_emplace(std::move(key), static_cast<int>(m_tuples.size()));
        if (is_new) {
            m_tuples.push_back(tuple);
        }
        return at->second;
    }
    /// And 1.
    int number_of(const Source &source)
    {
        const auto [at, is_new] =
            m_source_numbers.try_emplace(source, static_cast<int>(m_sources.size()) + 1);
        if (is_new) {
            m_sources.push_back(source);
        }
        return at->second;
    }

    const RunScene &m_scene;
    std::vector<Tuple> m_tuples;
    std::vector<Source> m_sources;
    std::map<Source, int> m_source_numbers; ///< and 1
    std::unordered_map<std::string, int> m_numbers;
    std::unordered_map<std::uint64_t, int> m_painted;
};

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

/// Paints some rows.
class Rows
{
public:
    Rows(const RunScene &scene, const PixelRect &rect, std::span<const int> planes,
         std::span<const PixelPart> parts, const JobControl &control)
        : m_scene(scene), m_rect(rect), m_planes(planes), m_parts(parts), m_control(control), m_tuples(scene),
          m_spans(static_cast<std::size_t>(rect.height)), m_arena(std::make_shared<std::deque<Block>>())
    {
        m_hides.reserve(scene.paints.size());
        for (const RunPaint &paint : scene.paints) {
            m_hides.push_back(paint.alpha == 255 && paint.replaces == scene.all_planes);
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
                              auto &out = m_spans[static_cast<std::size_t>(row - top)];
                              const auto add = [&](int begin, int end) {
                                  begin = std::max(begin, from);
                                  end = std::min(end, to);
                                  if (begin < end) {
                                      out.push_back({begin, end, object.paint, object.group});
                                  }
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

    [[nodiscard]] bool is_like_above(int row) const
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
            const int sampler = m_scene.paints[static_cast<std::size_t>(span.paint)].sampler;
            return sampler < 0 || m_scene.samplers[static_cast<std::size_t>(sampler)]->same_row(
                                      row + m_rect.y, row + m_rect.y - 1);
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

    /// The bits of \p word that are of columns [\p begin, \p end).
    static std::uint64_t bits_within(int word, int begin, int end)
    {
        const int from = std::max(0, begin - word * 64), to = std::min(64, end - word * 64);
        return ~std::uint64_t(0) >> (64 - (to - from)) << from;
    }

    /// Gives \p use the words that columns [\p begin, \p end) lie in, and their bits there.
    template <typename Use> static void each_word(int begin, int end, const Use &use)
    {
        for (int word = begin / 64; word <= (end - 1) / 64; ++word) {
            use(word, bits_within(word, begin, end));
        }
    }

    void take(int begin, int end, int tuple)
    {
        std::uint64_t before = 0; // 1 where the column before was taken here too
        for (int word = begin / 64; word <= (end - 1) / 64; ++word) {
            const auto at = static_cast<std::size_t>(word);
            const std::uint64_t wanted = bits_within(word, begin, end);
            const std::uint64_t free = wanted & ~m_taken[at];
            const std::uint64_t begins = free & ~(free << 1 | before);
            for (std::uint64_t left = begins; left != 0; left &= left - 1) {
                m_tuple_at[static_cast<std::size_t>(word * 64 + std::countr_zero(left))] = tuple;
            }
            m_begins[at] |= begins;
            m_taken[at] |= wanted;
            before = free >> 63;
        }
    }

    /// Gives \p use the stretches of columns [\p begin, \p end) that nobody has taken.
    template <typename Use> void each_free(int begin, int end, const Use &use) const
    {
        int from = -1; // of a stretch that goes on
        for (int word = begin / 64; word <= (end - 1) / 64; ++word) {
            const std::uint64_t free =
                bits_within(word, begin, end) & ~m_taken[static_cast<std::size_t>(word)];
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
        }
        if (from >= 0) {
            use(from, end);
        }
    }

    /// Gives \p use the columns of [\p begin, \p end) where a stretch begins, and its tuple.
    template <typename Use> void each_begin(int begin, int end, const Use &use)
    {
        for (int word = begin / 64; word <= (end - 1) / 64; ++word) {
            std::uint64_t left = m_begins[static_cast<std::size_t>(word)] & bits_within(word, begin, end);
            for (; left != 0; left &= left - 1) {
                const int x = word * 64 + std::countr_zero(left);
                use(x, m_tuple_at[static_cast<std::size_t>(x)]);
            }
        }
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

    [[nodiscard]] bool hides(int paint) const { return m_hides[static_cast<std::size_t>(paint)]; }

    /// Puts the stretches of the row into the planes, and what is painted by pixels.
    void emit(int row)
    {
        const int y = m_rect.y + row;
        const int right = m_rect.x + m_rect.width;
        m_seen.clear();
        for (const PixelPart &part : m_parts) {
            if (y >= part.rect.y && y < part.rect.y + part.rect.height) {
                m_seen.push_back(&part);
            }
        }
        m_indexed.clear();
        if (m_seen.empty()) {
            for (std::size_t k = 0; k < m_stretches.size(); ++k) {
                const int end = k + 1 < m_stretches.size() ? m_stretches[k + 1].begin : right;
                std::uint64_t left = inked(m_stretches[k].tuple);
                for (; left != 0; left &= left - 1) {
                    const auto i = static_cast<std::size_t>(std::countr_zero(left));
                    add_stretch(m_made[i], m_planes[i], m_stretches[k].tuple, y, m_stretches[k].begin, end);
                }
            }
            for (RunPlane &plane : m_made) {
                plane.end_row();
            }
            return;
        }
        for (std::size_t i = 0; i < m_made.size(); ++i) {
            RunPlane &plane = m_made[i];
            std::size_t part = 0;
            int from = m_rect.x; // written so far
            const auto add_part = [&](const PixelPart &pixels) {
                const int move = pixels.rect.x - m_rect.x;
                for (const ToneRun &run : pixels.planes[i]->row(y - pixels.rect.y)) {
                    plane.add({run.begin + move, run.end + move, run.tone, run.tones});
                }
                from = pixels.rect.x + pixels.rect.width;
            };
            for (std::size_t k = 0; k < m_stretches.size(); ++k) {
                const int end = k + 1 < m_stretches.size() ? m_stretches[k + 1].begin : right;
                int begin = std::max(m_stretches[k].begin, from);
                while (part < m_seen.size() && m_seen[part]->rect.x < end) {
                    const PixelPart &pixels = *m_seen[part++];
                    add_stretch(plane, m_planes[i], m_stretches[k].tuple, y, begin, pixels.rect.x);
                    add_part(pixels);
                    begin = std::max(begin, from);
                }
                add_stretch(plane, m_planes[i], m_stretches[k].tuple, y, begin, end);
                from = std::max(from, end);
            }
            plane.end_row();
        }
    }

    /// A bit for each of m_planes that may have ink where all planes are tuple \p number.
    std::uint64_t inked(int number)
    {
        static_assert(FZ_MAX_COLORS < 64);
        while (m_inked.size() <= static_cast<std::size_t>(number)) {
            const Tuple &tuple = m_tuples[static_cast<int>(m_inked.size())];
            std::uint64_t bits = 0;
            for (std::size_t i = 0; i < m_planes.size(); ++i) {
                const auto at = static_cast<std::size_t>(m_planes[i]);
                const bool some =
                    m_planes[i] < 0 ? tuple.area != 0 : tuple.tones[at] != 0 || tuple.sources[at] != 0;
                bits |= std::uint64_t(some) << i;
            }
            m_inked.push_back(bits);
        }
        return m_inked[static_cast<std::size_t>(number)];
    }

    void add_stretch(RunPlane &out, int plane, int number, int y, int begin, int end)
    {
        if (begin >= end) {
            return;
        }
        const Tuple &tuple = m_tuples[number];
        const int move = -m_rect.x;
        if (plane < 0) {
            if (tuple.area != 0) {
                out.add({begin + move, end + move, tuple.area, nullptr});
            }
            return;
        }
        const auto at = static_cast<std::size_t>(plane);
        if (tuple.sources[at] == 0) {
            if (tuple.tones[at] != 0) {
                out.add({begin + move, end + move, tuple.tones[at], nullptr});
            }
            return;
        }
        std::uint8_t *tones = room(static_cast<std::size_t>(end - begin));
        sample(tuple.sources[at] - 1, plane, y, begin, end, tones);
        const bool bare =
            tones[0] == 0 && std::memcmp(tones, tones + 1, static_cast<std::size_t>(end - begin - 1)) == 0;
        if (!bare) {
            out.add({begin + move, end + move, 0, tones});
        }
    }

    void sample(int number, int plane, int y, int begin, int end, std::uint8_t *tones)
    {
        const Source &source = m_tuples.source(number);
        const int count = end - begin;
        if (source.sampler < 0) {
            sample(source.under, plane, y, begin, end, tones);
            for (int i = 0; i < count; ++i) {
                tones[i] = blended(source.tone, tones[i], source.alpha);
            }
            return;
        }
        if (source.alpha == 255) {
            sample_opaque(source.sampler, plane, y, begin, end, tones);
            return;
        }
        if (source.under >= 0) {
            sample(source.under, plane, y, begin, end, tones);
        } else {
            std::fill_n(tones, count, source.tone);
        }
        m_over_tones.resize(static_cast<std::size_t>(count));
        sample_opaque(source.sampler, plane, y, begin, end, m_over_tones.data());
        for (int i = 0; i < count; ++i) {
            tones[i] = blended(m_over_tones[static_cast<std::size_t>(i)], tones[i], source.alpha);
        }
    }

    void sample_opaque(int number, int plane, int y, int begin, int end, std::uint8_t *tones)
    {
        const Sampler &sampler = *m_scene.samplers[static_cast<std::size_t>(number)];
        // The same stretch is asked for by each plane.
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
    std::vector<std::uint64_t> m_inked;        ///< by tuple, see inked()
    std::vector<bool> m_hides;                 ///< by paint: whether it hides all that is under it
    std::vector<std::vector<Painted>> m_spans; ///< by row
    std::map<int, ClipRows> m_clips;
    RowFiller m_filler, m_clip_filler;
    std::vector<Stretch> m_stretches;
    std::vector<std::uint64_t> m_begins, m_taken; ///< a bit for each column of a row
    std::vector<int> m_tuple_at;                  ///< where m_begins has a bit
    std::vector<Painted> m_over;                  ///< columns of the row, the topmost first
    std::vector<std::uint8_t> m_over_tones;       ///< of a sampler, until they are laid over others
    std::vector<Painted> m_shown;                 ///< spans of a row, of groups only what is seen
    std::vector<End> m_ends;
    std::vector<int> m_active;
    std::vector<const PixelPart *> m_seen;
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
