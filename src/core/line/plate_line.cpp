#include "core/line/plate_line.h"

#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/scene.h"
#include "core/base/pixel_rect.h"
#include "core/base/within_memory.h"
#include "core/line/apply_traps.h"
#include "core/line/kept_tiles.h"
#include "core/line/plate_plan.h"
#include "core/line/row_flow.h"
#include "core/line/strip_store.h"
#include "core/line/trap.h"
#include "core/line/tuple_rows.h"
#include "core/page/vector_page.h"

#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <iterator>
#include <mutex>
#include <optional>

namespace bichrom {

namespace {

/// Far away a choke of less than a pixel would break thin strokes up: looked at closer, then averaged.
constexpr double near_enough = 150; // dpi

/// Two rows of \p count pairs of tones as one of their means.
void average_pairs(const std::uint8_t *above, const std::uint8_t *below, std::span<std::uint8_t> row)
{
    for (std::size_t x = 0; x < row.size(); ++x) {
        row[x] = static_cast<std::uint8_t>(
            (above[2 * x] + above[2 * x + 1] + below[2 * x] + below[2 * x + 1] + 2) / 4);
    }
}

/// A pixel of a film is ink or not, whatever its edge comes from.
EdgePixels edge_pixels(Edges edges)
{
    return edges == Edges::Crisp ? EdgePixels::Whole : EdgePixels::Grey;
}

PixelRect framed(const PixelRect &rect, int rim)
{
    return {rect.x - rim, rect.y - rim, rect.width + 2 * rim, rect.height + 2 * rim};
}

} // namespace

struct PlateLine::Impl
{
    /// A page painted for its masks.
    struct MaskPage
    {
        std::shared_ptr<const KeptTiles> tiles;
        std::size_t masks = 0; ///< its first plates
    };

    std::shared_ptr<const PageContent> page;
    std::vector<std::string> inks;
    PlatePlan plan;
    std::vector<bool> looked_at; ///< by ink: recipes read it
    std::shared_ptr<const KeptTiles> tiles;
    std::vector<MaskPage> mask_pages;
    PlateSetup painted_by; ///< what page and masks are painted by, without what comes after
    TrapRules traps;
    bool trapped = false;
    int page_number = 1;

    [[nodiscard]] const PagePainter &painter() const { return tiles->painter(); }

    [[nodiscard]] bool looks_closer(Dpi resolution, Edges edges) const
    {
        return edges != Edges::Crisp && resolution.value < near_enough && plan.reach() > 0;
    }

    /// Rows that recipes look at.
    [[nodiscard]] int rim(Dpi resolution) const
    {
        constexpr int slack = 2; // for rounding and the pixel that holds an edge
        return plan.empty()
                   ? 0
                   : static_cast<int>(std::ceil(plan.reach() * resolution.value / millimetres_per_inch)) +
                         slack;
    }

    /// \p rect with every plate, recipes followed.
    [[nodiscard]] Outcome<PlateTile> computed(const PixelRect &rect, Dpi resolution, Edges edges,
                                              const JobControl &control) const
    {
        // A rim that stays when distances change a little, so that what was painted is of use again.
        constexpr int step = 8;
        const PixelRect wide = framed(rect, (rim(resolution) + step - 1) / step * step);
        const auto tile = tiles->paint(wide, resolution, edges, control);
        if (!tile) {
            return tile.error();
        }
        const auto cut = [&](const RunPlane &plane) {
            Plane part(rect.width, rect.height);
            for (int y = 0; y < rect.height; ++y) {
                plane.write_part(rect.y - wide.y + y, rect.x - wide.x, rect.x - wide.x + rect.width,
                                 part.row(y).data());
            }
            return part;
        };
        PlateTile made;
        made.rect = rect;
        made.area = cut(*(*tile)->area);
        RowFlow flow(wide, control, edge_pixels(edges));
        const auto painted_plane = [&](const std::shared_ptr<const RunPlane> &runs) {
            return flow.painted(wide, [runs, top = wide.y](int first, int last) {
                RunPlane rows(runs->width(), last - first);
                rows.add_rows(runs, first - top, last - top);
                return rows;
            });
        };
        PaintedNumbers numbers;
        numbers.area = painted_plane((*tile)->area);
        for (std::size_t i = 0; i < inks.size(); ++i) {
            const auto &plate = (*tile)->plates[i];
            made.plates.push_back(plan.computes(i) ? Plane() : cut(*plate));
            numbers.plates.push_back(looked_at[i] ? painted_plane(plate) : RowFlow::none);
        }
        for (const MaskPage &one : mask_pages) {
            const auto masks = one.tiles->paint(wide, resolution, edges, control);
            if (!masks) {
                return masks.error();
            }
            for (std::size_t i = 0; i < one.masks; ++i) {
                numbers.masks.push_back(painted_plane((*masks)->plates[i]));
            }
        }
        const auto plates = plan.flow(flow, numbers, resolution, page->impl().boxes);
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (plan.computes(i)) {
                RunPlane rows(rect.width, rect.height);
                if (const Done done = flow.add_rows(rows, plates[i], rect.x, rect.y, rect.y + rect.height);
                    !done) {
                    return done.error();
                }
                made.plates[i] = rows.plane();
            }
        }
        return made;
    }

    /// Strip \p number of the page, painted.
    [[nodiscard]] Outcome<StripStore::Strip> paint_strip(int number, const PlateRun &how,
                                                         const JobControl &control) const
    {
        const int rows = PagePainter::strip_rows(how.edges);
        const PixelRect all = painter().extent(how.resolution);
        const PixelRect rect = {0, number * rows, all.width, std::min(rows, all.height - number * rows)};
        auto strip = std::make_shared<PaintedStrip>();
        const auto keep = [](RunPlane &plane) { return std::make_shared<const RunPlane>(std::move(plane)); };
        auto made = painter().paint_runs(rect, how.resolution, how.edges, control);
        if (!made) {
            return made.error();
        }
        for (RunPlane &plate : made->plates) {
            strip->plates.push_back(keep(plate));
        }
        strip->area = keep(made->area);
        for (const MaskPage &one : mask_pages) {
            auto masks = one.tiles->painter().paint_runs(rect, how.resolution, how.edges, control);
            if (!masks) {
                return masks.error();
            }
            for (std::size_t i = 0; i < one.masks; ++i) {
                strip->masks.push_back(keep(masks->plates[i]));
            }
        }
        return StripStore::Strip(std::move(strip));
    }

    /// Rows of the page, each painted once and each computed once.
    struct Source
    {
        StripStore painted;
        RowFlow flow;
        std::vector<RowFlow::Number> computed; ///< by ink

        Source(StripStore::Make paint, const PixelRect &frame, const JobControl &control, Edges edges)
            : painted(std::move(paint)), flow(frame, control, edge_pixels(edges))
        {
        }
        /// Nobody will ask for rows before \p row.
        void drop_before(int row, Edges edges)
        {
            painted.drop_before(std::max(0, row - flow.depth()) / PagePainter::strip_rows(edges));
            flow.drop_before(row);
        }
    };

    /// \p how and \p control are lent as long as it lives.
    [[nodiscard]] std::unique_ptr<Source> source_of(const PlateRun &how, const JobControl &control) const
    {
        const PixelRect all = painter().extent(how.resolution);
        auto source = std::make_unique<Source>([&](int number) { return paint_strip(number, how, control); },
                                               framed(all, rim(how.resolution)), control, how.edges);
        if (plan.empty()) {
            return source;
        }
        RowFlow &flow = source->flow;
        const auto painted = [&, store = &source->painted](const auto &member) {
            return flow.painted(all, [this, &how, store, member, width = all.width](int first, int last) {
                return painted_rows({0, first, width, last - first}, how, *store, member);
            });
        };
        PaintedNumbers numbers;
        numbers.area = painted([](const PaintedStrip &strip) { return strip.area; });
        for (std::size_t i = 0; i < inks.size(); ++i) {
            numbers.plates.push_back(looked_at[i]
                                         ? painted([i](const PaintedStrip &strip) { return strip.plates[i]; })
                                         : RowFlow::none);
        }
        for (std::size_t i = 0; i < plan.masks().sources.size(); ++i) {
            numbers.masks.push_back(painted([i](const PaintedStrip &strip) { return strip.masks[i]; }));
        }
        source->computed = plan.flow(flow, numbers, how.resolution, page->impl().boxes);
        return source;
    }

    /// \p rect, whole rows of the page, of what \p member finds in a strip.
    template <class Member>
    [[nodiscard]] Outcome<RunPlane> painted_rows(const PixelRect &rect, const PlateRun &how,
                                                 StripStore &store, const Member &member) const
    {
        const int rows = PagePainter::strip_rows(how.edges);
        const int first = rect.y / rows, end = rect.y + rect.height;
        const auto strips = store.strips(first, (end - 1) / rows);
        if (!strips) {
            return strips.error();
        }
        RunPlane runs(rect.width, rect.height);
        for (std::size_t i = 0; i < strips->size(); ++i) {
            const int y = (first + static_cast<int>(i)) * rows;
            runs.add_rows(member(*(*strips)[i]), std::max(rect.y, y) - y, std::min(end, y + rows) - y);
        }
        return runs;
    }

    /// \p rect, whole rows of the page, recipes followed, from \p source.
    [[nodiscard]] Outcome<PlateRuns> rows_from(const PixelRect &rect, const PlateRun &how,
                                               Source &source) const
    {
        PlateRuns made;
        made.rect = rect;
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (!plan.computes(i)) {
                auto rows = painted_rows(rect, how, source.painted,
                                         [i](const PaintedStrip &strip) { return strip.plates[i]; });
                if (!rows) {
                    return rows.error();
                }
                made.plates.push_back(std::move(*rows));
                continue;
            }
            RunPlane rows(rect.width, rect.height);
            if (const Done done =
                    source.flow.add_rows(rows, source.computed[i], 0, rect.y, rect.y + rect.height);
                !done) {
                return done.error();
            }
            made.plates.push_back(std::move(rows));
        }
        auto area =
            painted_rows(rect, how, source.painted, [](const PaintedStrip &strip) { return strip.area; });
        if (!area) {
            return area.error();
        }
        made.area = std::move(*area);
        return made;
    }

    /// \p rect before traps.
    [[nodiscard]] Outcome<PlateTile> seen(const PixelRect &rect, Dpi resolution, Edges edges,
                                          const JobControl &control) const
    {
        if (plan.empty()) {
            return painter().paint(rect, resolution, edges, control);
        }
        if (!looks_closer(resolution, edges)) {
            return computed(rect, resolution, edges, control);
        }
        const auto fine = computed({rect.x * 2, rect.y * 2, rect.width * 2, rect.height * 2},
                                   Dpi(resolution.value * 2), edges, control);
        if (!fine) {
            return fine.error();
        }
        const auto halved = [&](const Plane &plane) {
            Plane half(rect.width, rect.height);
            for (int y = 0; y < rect.height; ++y) {
                average_pairs(plane.row(2 * y).data(), plane.row(2 * y + 1).data(), half.row(y));
            }
            return half;
        };
        return each_plane(*fine, rect, halved);
    }

    // ---- traps ----

    /// The plates of \p rect, which lies on the page, crisp and before traps.
    [[nodiscard]] Outcome<PlateRuns> crisp_part(const PixelRect &rect, Dpi resolution,
                                                const JobControl &control) const
    {
        if (plan.empty()) {
            return painter().paint_runs(rect, resolution, Edges::Crisp, control);
        }
        auto tile = computed(rect, resolution, Edges::Crisp, control);
        if (!tile) {
            return tile.error();
        }
        PlateRuns made;
        made.rect = rect;
        for (Plane &plane : tile->plates) {
            made.plates.emplace_back(std::move(plane));
        }
        made.area = RunPlane(std::move(tile->area));
        return made;
    }

    /// The traps of \p rect, a part of \p wide in rows; in columns it is as wide.
    [[nodiscard]] std::vector<TrapRows> traps_of(const TrapRules &rules, const PixelRect &rect,
                                                 const PlateRuns &wide, Dpi resolution,
                                                 TrapMeetings *meetings = nullptr,
                                                 std::optional<std::pair<int, int>> only = {},
                                                 int back = 0) const
    {
        std::vector<const RunPlane *> planes;
        for (std::size_t i = 0; i < wide.plates.size(); ++i) {
            const bool counts = static_cast<int>(i) < rules.plates() && rules.counts(static_cast<int>(i));
            planes.push_back(counts ? &wide.plates[i] : nullptr);
        }
        TrapPart part;
        part.above = rect.y - wide.rect.y;
        part.rows = rect.height;
        part.per_mm = resolution.value / millimetres_per_inch;
        part.x = wide.rect.x;
        part.y = wide.rect.y;
        const Rect &media = page->impl().boxes[static_cast<std::size_t>(PageBox::Media)];
        part.media_x = media.x;
        part.media_y = media.y;
        part.page = page_number;
        part.back = back;
        return find_traps(planes, rules, part, meetings, only);
    }

    /// \p rect with what traps look at around it, as far as the page goes.
    [[nodiscard]] PixelRect with_reach(const PixelRect &rect, Dpi resolution) const
    {
        return with_reach(rect, resolution, traps.settings());
    }
    [[nodiscard]] PixelRect with_reach(const PixelRect &rect, Dpi resolution,
                                       const TrapSettings &settings) const
    {
        const int reach = std::max(1, trap_reach(settings, resolution));
        const int aside = reach + TupleRows::block; // one that is cut at the side is seen otherwise
        return intersection({rect.x - aside, rect.y - reach, rect.width + 2 * aside, rect.height + 2 * reach},
                            painter().extent(resolution));
    }

    /// Rows of \p wide that are \p rect, which is as wide, trapped.
    [[nodiscard]] PlateRuns trapped_rows(PlateRuns wide, const PixelRect &rect, Dpi resolution) const
    {
        const std::vector<TrapRows> made = traps_of(traps, rect, wide, resolution);
        const int first = rect.y - wide.rect.y;
        PlateRuns runs;
        runs.rect = rect;
        const auto cut = [&](RunPlane &plane, const TrapRows *changes) {
            const auto kept = std::make_shared<const RunPlane>(std::move(plane));
            if (changes != nullptr && !changes->empty()) {
                return with_traps(kept, first, *changes);
            }
            RunPlane part(rect.width, rect.height);
            part.add_rows(kept, first, first + rect.height);
            return part;
        };
        for (std::size_t i = 0; i < wide.plates.size(); ++i) {
            runs.plates.push_back(cut(wide.plates[i], &made[i]));
        }
        runs.area = cut(wide.area, nullptr);
        return runs;
    }

    /// How much closer traps are looked at than \p resolution: antialiased plates have no edges to find.
    /// Where recipes are followed less close, for they cost much there.
    [[nodiscard]] int closer(Dpi resolution) const
    {
        const double wanted = plan.empty() ? 1200 : 600;
        return std::clamp(static_cast<int>(std::ceil(wanted / resolution.value)), 1, 16);
    }

    /// Adds traps to \p tile, which has grey edges: the mean of what they change closer by.
    [[nodiscard]] Done add_traps(PlateTile &tile, Dpi resolution, const JobControl &control) const
    {
        const int by = closer(resolution);
        const Dpi fine(resolution.value * by);
        const PixelRect &at = tile.rect;
        const PixelRect rect =
            intersection({at.x * by, at.y * by, at.width * by, at.height * by}, painter().extent(fine));
        if (rect.width <= 0 || rect.height <= 0) {
            return {};
        }
        // Some rows at a time: many fine rows of a wide picture need not stand side by side.
        const int step = std::max(by, 1024 / by * by);
        for (int top = rect.y; top < rect.y + rect.height; top += step) {
            const PixelRect rows = {rect.x, top, rect.width, std::min(step, rect.y + rect.height - top)};
            PixelRect wide = with_reach(rows, fine);
            auto made = crisp_part(wide, fine, control);
            if (!made) {
                return made.error();
            }
            const std::vector<TrapRows> changes = traps_of(traps, rows, *made, fine);
            for (std::size_t i = 0; i < changes.size(); ++i) {
                add_mean_change(changes[i], made->plates[i], wide, rows, by, tile.plates[i], at);
            }
        }
        return {};
    }

    /// A crisp part of the page, trapped; outside the page it is bare.
    [[nodiscard]] Outcome<PlateTile> crisp_tile(const PixelRect &rect, Dpi resolution,
                                                const JobControl &control) const
    {
        PlateTile tile;
        tile.rect = rect;
        tile.plates.assign(inks.size(), Plane(rect.width, rect.height));
        tile.area = Plane(rect.width, rect.height);
        const PixelRect inside = intersection(rect, painter().extent(resolution));
        if (inside.width <= 0 || inside.height <= 0) {
            return tile;
        }
        const PixelRect wide = with_reach(inside, resolution);
        auto made = crisp_part(wide, resolution, control);
        if (!made) {
            return made.error();
        }
        const PixelRect rows = {wide.x, inside.y, wide.width, inside.height};
        const PlateRuns runs = trapped_rows(std::move(*made), rows, resolution);
        std::vector<std::uint8_t> row(static_cast<std::size_t>(wide.width));
        const auto put = [&](const RunPlane &from, Plane &to) {
            for (int y = 0; y < inside.height; ++y) {
                if (!from.row(y).empty()) {
                    from.write_row(y, row.data());
                    std::copy_n(row.begin() + (inside.x - wide.x), inside.width,
                                to.row(inside.y - rect.y + y).begin() + (inside.x - rect.x));
                }
            }
        };
        for (std::size_t i = 0; i < inks.size(); ++i) {
            put(runs.plates[i], tile.plates[i]);
        }
        put(runs.area, tile.area);
        return tile;
    }

    /// \p rect as run() gives it to sinks.
    [[nodiscard]] Outcome<PlateRuns> rows(const PixelRect &rect, const PlateRun &how, Source &source,
                                          const JobControl &control) const
    {
        const bool from_store = !plan.empty() || (trapped && how.edges == Edges::Crisp);
        const auto untrapped = [&](const PixelRect &part) {
            return from_store ? rows_from(part, how, source)
                              : painter().paint_runs(part, how.resolution, how.edges, control);
        };
        if (!trapped || how.edges == Edges::Quick) { // where areas are looked for, traps are too small
            return untrapped(rect);
        }
        if (how.edges == Edges::Crisp) {
            auto wide = untrapped(with_reach(rect, how.resolution));
            return wide ? trapped_rows(std::move(*wide), rect, how.resolution) : wide;
        }
        auto made = untrapped(rect);
        if (!made) {
            return made;
        }
        PlateTile tile;
        tile.rect = rect;
        for (const RunPlane &plate : made->plates) {
            tile.plates.push_back(plate.plane());
        }
        if (const Done done = add_traps(tile, how.resolution, control); !done) {
            return done.error();
        }
        for (std::size_t i = 0; i < tile.plates.size(); ++i) {
            made->plates[i] = RunPlane(std::move(tile.plates[i]));
        }
        return made;
    }

    /// Rows of the page that are given of each copy.
    [[nodiscard]] int rows_of(const PlateRun &how) const
    {
        return how.page_rows > 0 ? how.page_rows : painter().extent(how.resolution).height;
    }

    /// The same where the page stands several times below itself: \p rect in rows from the first to the last.
    /// \param sources  one a copy
    [[nodiscard]] Outcome<PlateRuns> repeated_rows(const PixelRect &rect, const PlateRun &how,
                                                   const std::vector<std::unique_ptr<Source>> &sources,
                                                   const JobControl &control) const
    {
        if (how.copies == 1) {
            auto made =
                rows({0, how.first_row + rect.y, rect.width, rect.height}, how, *sources.front(), control);
            if (made) {
                made->rect = rect;
            }
            return made;
        }
        PlateRuns made;
        made.rect = rect;
        made.plates.assign(inks.size(), RunPlane(rect.width, rect.height));
        made.area = RunPlane(rect.width, rect.height);
        const int height = rows_of(how);
        for (int y = rect.y; y < rect.y + rect.height;) {
            const int copy = std::min(y / how.pitch, how.copies - 1);
            const int row = y - copy * how.pitch;
            if (row >= height) { // between two copies
                made.area.end_row();
                for (RunPlane &plate : made.plates) {
                    plate.end_row();
                }
                ++y;
                continue;
            }
            const int count = std::min(rect.y + rect.height - y, height - row);
            auto part = rows({0, how.first_row + row, rect.width, count}, how,
                             *sources[static_cast<std::size_t>(copy)], control);
            if (!part) {
                return part;
            }
            const auto add = [&](RunPlane &to, RunPlane &from) {
                to.add_rows(std::make_shared<const RunPlane>(std::move(from)), 0, count);
            };
            for (std::size_t i = 0; i < inks.size(); ++i) {
                add(made.plates[i], part->plates[i]);
            }
            add(made.area, part->area);
            y += count;
        }
        return made;
    }
};

PlateLine::PlateLine(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PlateLine::~PlateLine() = default;

Outcome<std::shared_ptr<const PlateLine>> PlateLine::make(std::shared_ptr<const PageContent> page,
                                                          PlateSetup setup, const JobControl &control,
                                                          const PlateLine *before)
{
    auto impl = std::make_unique<Impl>();
    impl->page = std::move(page);
    impl->inks = inks_of(setup);
    const auto recorded = shared_scene(*impl->page, control);
    if (!recorded) {
        return recorded.error();
    }
    const std::shared_ptr<const Scene> &scene = *recorded;
    impl->page_number = setup.page;
    impl->trapped = setup.traps.widest() > 0;
    impl->traps = TrapRules(setup.inks, setup.plates, setup.traps, setup.stock.behind);
    impl->plan = PlatePlan(setup, impl->inks, *scene);
    impl->looked_at = impl->plan.read();
    impl->painted_by = setup;
    impl->painted_by.traps = {};
    for (Plate &plate : impl->painted_by.plates) {
        plate.recipe.clear();
    }
    const Impl *known = before != nullptr && before->m_impl->page == impl->page &&
                                before->m_impl->painted_by == impl->painted_by
                            ? before->m_impl.get()
                            : nullptr;
    const MaskPlan &masks = impl->plan.masks();
    if (known != nullptr && known->plan.masks().sources == masks.sources &&
        known->plan.masks().bare == masks.bare) {
        impl->mask_pages = known->mask_pages;
    } else {
        for (const MaskPlan::Page &one : masks.pages) {
            auto made = PagePainter::make(impl->page, one.setup, *scene,
                                          std::vector<bool>(inks_of(one.setup).size(), true), control);
            if (!made) {
                return made.error();
            }
            impl->mask_pages.push_back({std::make_shared<const KeptTiles>(std::move(*made)), one.masks});
        }
    }
    if (known != nullptr && known->plan.needed() == impl->plan.needed()) {
        impl->tiles = known->tiles;
    } else {
        auto painter = PagePainter::make(impl->page, std::move(setup), *scene, impl->plan.needed(), control);
        if (!painter) {
            return painter.error();
        }
        impl->tiles = std::make_shared<const KeptTiles>(std::move(*painter));
    }
    return std::shared_ptr<const PlateLine>(new PlateLine(std::move(impl)));
}

Outcome<std::shared_ptr<const PlateLine>> PlateLine::make(std::shared_ptr<const PageContent> page,
                                                          std::vector<std::string> inks,
                                                          const JobControl &control, Overprint overprint)
{
    return make(std::move(page), PlateSetup{std::move(inks), {}, 1, overprint}, control);
}

const std::vector<std::string> &PlateLine::inks() const
{
    return m_impl->inks;
}
const PageContent &PlateLine::page() const
{
    return *m_impl->page;
}
const std::shared_ptr<const PageContent> &PlateLine::share_page() const
{
    return m_impl->page;
}
PixelRect PlateLine::extent(Dpi resolution) const
{
    return m_impl->painter().extent(resolution);
}
std::vector<SeparationNote> PlateLine::separations() const
{
    return m_impl->painter().separations();
}
Rect PlateLine::box(PageBox which) const
{
    return m_impl->page->impl().boxes[static_cast<std::size_t>(which)];
}
int PlateLine::rim(Dpi resolution) const
{
    return m_impl->rim(resolution) + (m_impl->trapped ? trap_reach(m_impl->traps.settings(), resolution) : 0);
}

int PlateLine::band_rows(int width, std::size_t bytes) const
{
    const auto channels = m_impl->plan.empty() ? static_cast<std::size_t>(m_impl->painter().channels())
                                               : m_impl->inks.size() + 1;
    const std::size_t row = std::max<std::size_t>(1, static_cast<std::size_t>(width) * channels);
    // Traps look far around a band, and what they look at are runs, not pixels.
    const std::size_t most = m_impl->trapped && m_impl->plan.empty() ? 1024 : 512;
    const int rows =
        static_cast<int>(std::min<std::size_t>(m_impl->trapped ? 16 * bytes / row : bytes / row, most));
    return std::max(64, rows / 64 * 64); // whole strips
}

Done PlateLine::run(const PlateRun &how, const PlateSink &sink, const JobControl &control) const
{
    const Impl &line = *m_impl;
    const PixelRect all = extent(how.resolution);
    // A source a copy: bands go down the sheet, and the page begins again with each.
    std::vector<std::unique_ptr<Impl::Source>> sources;
    for (int copy = 0; copy < how.copies; ++copy) {
        sources.push_back(line.source_of(how, control));
    }
    const int all_rows = (how.copies - 1) * how.pitch + line.rows_of(how);
    BandSteps steps;
    steps.compute = [&](const Band &band) -> Outcome<std::unique_ptr<BandResult>> {
        const int top = std::clamp(band.top - how.above, 0, all_rows);
        const int bottom = std::clamp(band.top + band.rows - how.above, 0, all_rows);
        const int first = bottom > top ? std::max(0, top - how.lead) : top;
        const PixelRect rect = {0, first, all.width, bottom - first};
        if (rect.height == 0) {
            PlateRuns beside;
            beside.rect = rect;
            beside.plates.assign(line.inks.size(), RunPlane(rect.width, 0));
            return sink.compute(band, beside);
        }
        auto made = line.repeated_rows(rect, how, sources, control);
        if (!made) {
            return made.error();
        }
        return sink.compute(band, *made);
    };
    steps.take = [&](const Band &band, BandResult &result) -> Done {
        if (const Done done = sink.take(band, result); !done) {
            return done;
        }
        const int traps = rim(how.resolution) - line.rim(how.resolution);
        int next = how.first_row + band.top + band.rows - how.above - traps - how.lead;
        for (const auto &source : sources) {
            source->drop_before(next, how.edges);
            next -= how.pitch;
        }
        return {};
    };
    return within_memory(page().place(),
                         [&] { return run_bands(how.height, how.band_rows, steps, control, how.threads); });
}

Outcome<PlateTile> PlateLine::render(PixelRect rect, Dpi resolution, Edges edges,
                                     const JobControl &control) const
{
    return within_memory(page().place(), [&]() -> Outcome<PlateTile> {
        if (m_impl->trapped && edges == Edges::Crisp) {
            return m_impl->crisp_tile(rect, resolution, control);
        }
        auto tile = m_impl->seen(rect, resolution, edges, control);
        if (tile && m_impl->trapped && edges != Edges::Quick) {
            if (const Done done = m_impl->add_traps(*tile, resolution, control); !done) {
                return done.error();
            }
        }
        return tile;
    });
}

Outcome<PlateTile> PlateLine::whole_page(Dpi resolution, Edges edges, const JobControl &control) const
{
    PlateTile page;
    page.rect = extent(resolution);
    const PixelRect all = page.rect;
    page.plates.assign(inks().size(), Plane(all.width, all.height));
    page.area = Plane(all.width, all.height);
    // Runs go by rows; pixels are painted in strips of a fixed height, and none of them twice. After each
    // there is a look at whether anybody still wants it.
    const auto averages = m_impl->painter().averages_runs(resolution, edges, control);
    if (!averages) {
        return averages.error();
    }
    const bool by_rows = *averages && (!m_impl->trapped || edges == Edges::Quick);
    const int rows_at_once = by_rows ? 32 : 256;
    const int strips = (all.height + rows_at_once - 1) / rows_at_once;
    // A page looked at from far away is one strip or two: cut across too, so that all processors work.
    constexpr int least_parts = 4;
    const int across = edges != Edges::Quick || by_rows
                           ? 1
                           : std::max(1, std::min(least_parts / std::max(1, strips), all.width / 32));
    if (across == 1 && !m_impl->looks_closer(resolution, edges)) {
        PlateSink sink;
        sink.compute = [&](const Band &band, const PlateRuns &plates) {
            for (int y = 0; y < band.rows; ++y) {
                const int row = band.top + y;
                for (std::size_t i = 0; i < page.plates.size(); ++i) {
                    plates.plates[i].write_row(y, page.plates[i].row(row).data());
                }
                plates.area.write_row(y, page.area.row(row).data());
            }
            return Outcome<std::unique_ptr<BandResult>>(std::make_unique<BandResult>());
        };
        sink.take = [](const Band &, BandResult &) { return Done(); };
        if (const Done done = run({resolution, edges, 0, all.height, rows_at_once, 0}, sink, control);
            !done) {
            return done.error();
        }
        return page;
    }
    std::mutex guard;
    Done result;
    oneapi::tbb::parallel_for(0, strips * across, [&](int number) {
        if (control.cancelled()) {
            return;
        }
        const int top = number / across * rows_at_once;
        const int left = number % across * all.width / across;
        const int right = (number % across + 1) * all.width / across;
        const PixelRect part = {left, top, right - left, std::min(rows_at_once, all.height - top)};
        const auto tile = render(part, resolution, edges, control);
        if (!tile) {
            const std::lock_guard lock(guard);
            result = tile.error();
            return;
        }
        const auto put = [&](const Plane &from, Plane &to) {
            for (int y = 0; y < part.height; ++y) {
                std::copy(from.row(y).begin(), from.row(y).end(), to.row(top + y).begin() + left);
            }
        };
        for (std::size_t i = 0; i < page.plates.size(); ++i) {
            put(tile->plates[i], page.plates[i]);
        }
        put(tile->area, page.area);
    });
    if (control.cancelled()) {
        return Error{ErrorCode::Cancelled, "Stopped.", this->page().place(), {}};
    }
    if (!result) {
        return result.error();
    }
    return page;
}

Outcome<PageTraps> PlateLine::page_traps(Dpi resolution, const JobControl &control, const TrapRules *given,
                                         std::optional<std::pair<int, int>> only, int back) const
{
    const Impl &line = *m_impl;
    const TrapRules &rules = given == nullptr ? line.traps : *given;
    PageTraps page;
    const PixelRect all = extent(resolution);
    page.resolution = resolution;
    page.width = all.width;
    page.height = all.height;
    page.plates.resize(line.inks.size());
    if (given == nullptr && !line.trapped) {
        for (TrapRows &rows : page.plates) {
            rows.first.assign(static_cast<std::size_t>(all.height) + 1, 0);
        }
        return page;
    }
    struct Part final : BandResult
    {
        std::vector<TrapRows> plates;
        TrapMeetings meetings;
    };
    PlateRun how;
    how.resolution = resolution;
    how.edges = Edges::Crisp;
    const auto source = line.source_of(how, control);
    BandSteps steps;
    steps.compute = [&](const Band &band) -> Outcome<std::unique_ptr<BandResult>> {
        const PixelRect rect = {0, band.top, all.width, band.rows};
        const auto wide = line.rows_from(line.with_reach(rect, resolution, rules.settings()), how, *source);
        if (!wide) {
            return wide.error();
        }
        auto part = std::make_unique<Part>();
        part->plates = line.traps_of(rules, rect, *wide, resolution, &part->meetings, only, back);
        return std::unique_ptr<BandResult>(std::move(part));
    };
    steps.take = [&](const Band &band, BandResult &result) -> Done {
        const Part &part = static_cast<const Part &>(result);
        for (std::size_t i = 0; i < page.plates.size(); ++i) {
            TrapRows &to = page.plates[i];
            const TrapRows &from = part.plates[i];
            const std::size_t before = to.runs.size();
            to.runs.insert(to.runs.end(), from.runs.begin(), from.runs.end());
            for (std::size_t row = 1; row < from.first.size(); ++row) {
                to.first.push_back(before + from.first[row]);
            }
        }
        for (const auto &[pair, meeting] : part.meetings) {
            TrapMeeting &to = page.meetings[pair];
            to.edge += meeting.edge;
            to.first += meeting.first;
            to.second += meeting.second;
        }
        const int reach = std::max(1, trap_reach(rules.settings(), resolution));
        source->drop_before(band.top + band.rows - reach, how.edges);
        return {};
    };
    const Done done =
        within_memory(this->page().place(), [&] { return run_bands(all.height, 512, steps, control); });
    if (!done) {
        return done.error();
    }
    return page;
}

Outcome<VectorPage> PlateLine::vector_page(const std::vector<int> &kept, const JobControl &control) const
{
    return m_impl->painter().vector_page(
        [&](std::size_t ink) {
            return m_impl->plan.computes(ink) &&
                   std::find(kept.begin(), kept.end(), static_cast<int>(ink)) == kept.end();
        },
        control);
}

Outcome<std::optional<Polygons>> PlateLine::exact_shapes(int number, const JobControl &control) const
{
    std::optional<Outcome<std::optional<Polygons>>> area; // once it is needed
    auto shapes = m_impl->plan.shapes(static_cast<std::size_t>(number), page().impl().boxes, [&] {
        if (!area) {
            area = m_impl->painter().area_shapes(control);
        }
        return *area;
    });
    if (shapes && *shapes) { // what lies beside the page is never printed
        const double right = page().width().value, bottom = page().height().value;
        *shapes = std::optional(intersected(**shapes, {{{0, 0}, {right, 0}, {right, bottom}, {0, bottom}}}));
    }
    return shapes;
}

} // namespace bichrom
