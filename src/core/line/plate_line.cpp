#include "core/line/plate_line.h"

#include "core/artwork/mupdf/page_content_impl.h"
#include "core/artwork/scene.h"
#include "core/base/within_memory.h"
#include "core/line/plate_plan.h"
#include "core/line/strip_store.h"

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

} // namespace

struct PlateLine::Impl
{
    /// A page painted for its masks.
    struct MaskPage
    {
        std::unique_ptr<const PagePainter> painter;
        std::size_t masks = 0; ///< its first plates
    };

    std::shared_ptr<const PageContent> page;
    std::vector<std::string> inks;
    PlatePlan plan;
    std::vector<bool> looked_at; ///< by ink: recipes read it
    std::unique_ptr<const PagePainter> painter;
    std::vector<MaskPage> mask_pages;

    [[nodiscard]] bool looks_closer(Dpi resolution, Edges edges) const
    {
        return edges != Edges::Crisp && resolution.value < near_enough && plan.reach() > 0;
    }

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
        const int edge = rim(resolution);
        const PixelRect wide = {rect.x - edge, rect.y - edge, rect.width + 2 * edge, rect.height + 2 * edge};
        auto tile = painter->paint(wide, resolution, edges, control);
        if (!tile) {
            return tile.error();
        }
        PaintedTile painted{std::move(*tile), {}};
        for (const MaskPage &one : mask_pages) {
            auto made = one.painter->paint(wide, resolution, edges, control);
            if (!made) {
                return made.error();
            }
            std::move(made->plates.begin(), made->plates.begin() + static_cast<std::ptrdiff_t>(one.masks),
                      std::back_inserter(painted.masks));
        }
        if (const Done done = plan.follow(painted, resolution, page->impl().boxes, control); !done) {
            return done.error();
        }
        const auto cut = [&](const Plane &plane) {
            Plane part(rect.width, rect.height);
            for (int y = 0; y < rect.height; ++y) {
                const auto from = part_of_row(painted.tile, plane, rect, y);
                std::copy(from.begin(), from.end(), part.row(y).begin());
            }
            return part;
        };
        return each_plane(painted.tile, rect, cut);
    }

    /// Strip \p number of the page, painted.
    [[nodiscard]] Outcome<StripStore::Strip> paint_strip(int number, const PlateRun &how,
                                                         const JobControl &control) const
    {
        const int rows = PagePainter::strip_rows(how.edges);
        const PixelRect all = painter->extent(how.resolution);
        const PixelRect rect = {0, number * rows, all.width, std::min(rows, all.height - number * rows)};
        auto strip = std::make_shared<PaintedStrip>();
        const auto keep = [](RunPlane &plane) { return std::make_shared<const RunPlane>(std::move(plane)); };
        auto made = painter->paint_runs(rect, how.resolution, how.edges, control);
        if (!made) {
            return made.error();
        }
        for (RunPlane &plate : made->plates) {
            strip->plates.push_back(keep(plate));
        }
        strip->area = keep(made->area);
        for (const MaskPage &one : mask_pages) {
            auto masks = one.painter->paint_runs(rect, how.resolution, how.edges, control);
            if (!masks) {
                return masks.error();
            }
            for (std::size_t i = 0; i < one.masks; ++i) {
                strip->masks.push_back(keep(masks->plates[i]));
            }
        }
        return StripStore::Strip(std::move(strip));
    }

    /// \p rect, whole rows of the page, recipes followed on strips of \p store.
    [[nodiscard]] Outcome<PlateRuns> computed_rows(const PixelRect &rect, const PlateRun &how,
                                                   StripStore &store, const JobControl &control) const
    {
        const int edge = rim(how.resolution);
        const PixelRect all = painter->extent(how.resolution);
        const int rows = PagePainter::strip_rows(how.edges);
        const int first = std::max(0, rect.y - edge) / rows;
        const int last = (std::min(all.height, rect.y + rect.height + edge) - 1) / rows;
        const auto strips = store.strips(first, last);
        if (!strips) {
            return strips.error();
        }
        // Whole planes only of what recipes look at, with a bare rim beside the page.
        const PixelRect wide = {rect.x - edge, rect.y - edge, rect.width + 2 * edge, rect.height + 2 * edge};
        const auto each_strip = [&](int top, int bottom, const auto &take) {
            for (std::size_t i = 0; i < strips->size(); ++i) {
                const int y = (first + static_cast<int>(i)) * rows;
                const int from = std::max(top, y);
                const int to = std::min({bottom, y + rows, all.height});
                if (from < to) {
                    take(*(*strips)[i], from - y, to - y, from);
                }
            }
        };
        const auto whole = [&](const auto &member) {
            Plane plane(wide.width, wide.height);
            each_strip(wide.y, wide.y + wide.height,
                       [&](const PaintedStrip &strip, int from, int to, int page_row) {
                           const RunPlane &runs = *member(strip);
                           for (int y = from; y < to; ++y) {
                               if (!runs.row(y).empty()) {
                                   runs.write_row(y, plane.row(page_row - wide.y + y - from).data() + edge);
                               }
                           }
                       });
            return plane;
        };
        PaintedTile painted;
        painted.tile.rect = wide;
        painted.tile.area = whole([](const PaintedStrip &strip) { return strip.area; });
        for (std::size_t i = 0; i < inks.size(); ++i) {
            painted.tile.plates.push_back(
                looked_at[i] ? whole([i](const PaintedStrip &strip) { return strip.plates[i]; }) : Plane());
        }
        for (std::size_t i = 0; i < plan.masks().sources.size(); ++i) {
            painted.masks.push_back(whole([i](const PaintedStrip &strip) { return strip.masks[i]; }));
        }
        if (const Done done = plan.follow(painted, how.resolution, page->impl().boxes, control); !done) {
            return done.error();
        }
        const auto rows_of = [&](const auto &member) {
            RunPlane runs(rect.width, rect.height);
            each_strip(rect.y, rect.y + rect.height, [&](const PaintedStrip &strip, int from, int to, int) {
                runs.add_rows(member(strip), from, to);
            });
            return runs;
        };
        PlateRuns made;
        made.rect = rect;
        for (std::size_t i = 0; i < inks.size(); ++i) {
            if (!plan.computes(i)) {
                made.plates.push_back(rows_of([i](const PaintedStrip &strip) { return strip.plates[i]; }));
                continue;
            }
            Plane part(rect.width, rect.height);
            for (int y = 0; y < rect.height; ++y) {
                const auto from = part_of_row(painted.tile, painted.tile.plates[i], rect, y);
                std::copy(from.begin(), from.end(), part.row(y).begin());
            }
            made.plates.emplace_back(std::move(part));
        }
        made.area = rows_of([](const PaintedStrip &strip) { return strip.area; });
        return made;
    }
};

PlateLine::PlateLine(std::unique_ptr<Impl> impl) : m_impl(std::move(impl)) {}
PlateLine::~PlateLine() = default;

Outcome<std::shared_ptr<const PlateLine>> PlateLine::make(std::shared_ptr<const PageContent> page,
                                                          PlateSetup setup, const JobControl &control)
{
    auto impl = std::make_unique<Impl>();
    impl->page = std::move(page);
    impl->inks = inks_of(setup);
    const auto recorded = shared_scene(*impl->page, control);
    if (!recorded) {
        return recorded.error();
    }
    const std::shared_ptr<const Scene> &scene = *recorded;
    impl->plan = PlatePlan(setup, impl->inks, *scene);
    impl->looked_at = impl->plan.read();
    for (const MaskPlan::Page &one : impl->plan.masks().pages) {
        auto made = PagePainter::make(impl->page, one.setup, *scene,
                                      std::vector<bool>(inks_of(one.setup).size(), true), control);
        if (!made) {
            return made.error();
        }
        impl->mask_pages.push_back({std::move(*made), one.masks});
    }
    auto painter = PagePainter::make(impl->page, std::move(setup), *scene, impl->plan.needed(), control);
    if (!painter) {
        return painter.error();
    }
    impl->painter = std::move(*painter);
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
    return m_impl->painter->extent(resolution);
}
Rect PlateLine::box(PageBox which) const
{
    return m_impl->page->impl().boxes[static_cast<std::size_t>(which)];
}
int PlateLine::rim(Dpi resolution) const
{
    return m_impl->rim(resolution);
}

int PlateLine::band_rows(int width, std::size_t bytes) const
{
    const auto channels = m_impl->plan.empty() ? static_cast<std::size_t>(m_impl->painter->channels())
                                               : m_impl->inks.size() + 1;
    const std::size_t row = std::max<std::size_t>(1, static_cast<std::size_t>(width) * channels);
    const int rows = static_cast<int>(std::min<std::size_t>(bytes / row, 512));
    return std::max(64, rows / 64 * 64); // whole strips
}

Done PlateLine::run(const PlateRun &how, const PlateSink &sink, const JobControl &control) const
{
    const Impl &line = *m_impl;
    const PixelRect all = extent(how.resolution);
    StripStore store([&](int number) { return line.paint_strip(number, how, control); });
    const auto rows_of = [&](const Band &band) -> PixelRect {
        const int top = std::clamp(band.top - how.above, 0, all.height);
        const int bottom = std::clamp(band.top + band.rows - how.above, 0, all.height);
        return {0, top, all.width, bottom - top};
    };
    BandSteps steps;
    steps.compute = [&](const Band &band) -> Outcome<std::unique_ptr<BandResult>> {
        const PixelRect rect = rows_of(band);
        if (rect.height == 0) {
            PlateRuns beside;
            beside.rect = rect;
            beside.plates.assign(line.inks.size(), RunPlane(rect.width, 0));
            return sink.compute(band, beside);
        }
        auto made = line.plan.empty() ? line.painter->paint_runs(rect, how.resolution, how.edges, control)
                                      : line.computed_rows(rect, how, store, control);
        if (!made) {
            return made.error();
        }
        return sink.compute(band, *made);
    };
    steps.take = [&](const Band &band, BandResult &result) -> Done {
        if (const Done done = sink.take(band, result); !done) {
            return done;
        }
        const int next = band.top + band.rows - how.above - line.rim(how.resolution);
        store.drop_before(std::max(0, next) / PagePainter::strip_rows(how.edges));
        return {};
    };
    return within_memory(page().place(),
                         [&] { return run_bands(how.height, how.band_rows, steps, control, how.threads); });
}

Outcome<PlateTile> PlateLine::render(PixelRect rect, Dpi resolution, Edges edges,
                                     const JobControl &control) const
{
    return within_memory(page().place(), [&]() -> Outcome<PlateTile> {
        if (m_impl->plan.empty()) {
            return m_impl->painter->paint(rect, resolution, edges, control);
        }
        if (!m_impl->looks_closer(resolution, edges)) {
            return m_impl->computed(rect, resolution, edges, control);
        }
        const auto fine = m_impl->computed({rect.x * 2, rect.y * 2, rect.width * 2, rect.height * 2},
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
    const auto averages = m_impl->painter->averages_runs(resolution, edges, control);
    if (!averages) {
        return averages.error();
    }
    const bool by_rows = *averages;
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

Outcome<VectorPage> PlateLine::vector_page(const std::vector<int> &kept, const JobControl &control) const
{
    return m_impl->painter->vector_page(
        [&](std::size_t ink) {
            return m_impl->plan.computes(ink) &&
                   std::find(kept.begin(), kept.end(), static_cast<int>(ink)) == kept.end();
        },
        control);
}

Outcome<std::optional<Polygons>> PlateLine::area_shapes(const JobControl &control) const
{
    return m_impl->painter->area_shapes(control);
}

} // namespace bichrom
