#include "core/line/plate_plan.h"

#include "core/line/recipe_op.h"

#include <algorithm>
#include <functional>

namespace bichrom {

namespace {

OpBand band_of(const PixelRect &rect, Dpi resolution, const std::array<Rect, 5> &boxes)
{
    OpBand band;
    band.rect = rect;
    band.resolution = resolution;
    band.boxes = boxes;
    const Rect &media = band.boxes[static_cast<std::size_t>(PageBox::Media)];
    band.media_x = media.x;
    band.media_y = media.y;
    return band;
}

} // namespace

PlatePlan::PlatePlan(const PlateSetup &setup, std::vector<std::string> inks, const Scene &scene)
    : m_inks(std::move(inks)), m_read(m_inks.size()), m_written(m_inks.size())
{
    std::vector<std::unique_ptr<const PlateOp>> ops;
    for (std::size_t i = 0; i < m_inks.size(); ++i) {
        const auto plate = std::find_if(setup.plates.begin(), setup.plates.end(), [&](const Plate &one) {
            return one.ink == m_inks[i] && !one.recipe.empty();
        });
        if (plate != setup.plates.end()) {
            ops.push_back(std::make_unique<RecipeOp>(m_inks[i], plate->recipe));
        }
    }
    order(std::move(ops));
    if (!empty()) {
        m_masks = plan_masks(setup, scene);
    }
}

std::size_t PlatePlan::number_of(const std::string &ink) const
{
    return static_cast<std::size_t>(std::find(m_inks.begin(), m_inks.end(), ink) - m_inks.begin());
}

void PlatePlan::order(std::vector<std::unique_ptr<const PlateOp>> ops)
{
    // By ink, the operation that writes it, and how far its plane depends on its surroundings, mm.
    std::vector<int> writer(m_inks.size(), -1);
    for (std::size_t op = 0; op < ops.size(); ++op) {
        for (const std::string &ink : ops[op]->writes()) {
            writer[number_of(ink)] = static_cast<int>(op);
            m_written[number_of(ink)] = true;
        }
    }
    std::vector<double> depth(ops.size(), -1);
    std::vector<bool> open(ops.size());
    const std::function<double(std::size_t)> visit = [&](std::size_t op) {
        if (open[op]) {
            return 0.0; // one that looks back is taken as the artwork and its routes make it
        }
        if (depth[op] < 0) {
            open[op] = true;
            double before = 0;
            for (const std::string &ink : ops[op]->reads()) {
                const std::size_t number = number_of(ink);
                if (number < m_inks.size()) {
                    m_read[number] = true;
                    before = writer[number] < 0
                                 ? before
                                 : std::max(before, visit(static_cast<std::size_t>(writer[number])));
                }
            }
            open[op] = false;
            depth[op] = before + ops[op]->reach();
            m_ops.push_back(std::move(ops[op]));
        }
        return depth[op];
    };
    for (std::size_t op = 0; op < depth.size(); ++op) {
        m_reach = std::max(m_reach, visit(op));
    }
}

std::vector<bool> PlatePlan::needed() const
{
    std::vector<bool> needed = m_read;
    for (std::size_t i = 0; i < needed.size(); ++i) {
        needed[i] = needed[i] || !computes(i);
    }
    return needed;
}

std::optional<std::string> PlatePlan::even_by(const PixelRect &rect, Dpi resolution,
                                              const std::array<Rect, 5> &boxes) const
{
    const OpBand band = band_of(rect, resolution, boxes);
    std::string all;
    for (const auto &op : m_ops) {
        const auto by = op->even_by(band);
        if (!by) {
            return std::nullopt;
        }
        all += *by + ' ';
    }
    return all;
}

Done PlatePlan::follow(PaintedTile &painted, Dpi resolution, const std::array<Rect, 5> &boxes,
                       const JobControl &control) const
{
    PlateTile &tile = painted.tile;
    const std::vector<Plane> &masks = painted.masks;
    Plane without_bare;
    if (m_masks.bare >= 0) {
        without_bare = tile.area;
        const Plane &bare = masks[static_cast<std::size_t>(m_masks.bare)];
        for (std::size_t i = 0; i < bare.pixels.size(); ++i) {
            without_bare.pixels[i] =
                static_cast<std::uint8_t>((without_bare.pixels[i] * (255 - bare.pixels[i]) + 127) / 255);
        }
    }
    OpBand band = band_of(tile.rect, resolution, boxes);
    band.whole = &tile.area;
    band.area = m_masks.bare >= 0 ? &without_bare : &tile.area;
    band.plate = [&](const std::string &ink) -> Plane * {
        const std::size_t number = number_of(ink);
        return number < tile.plates.size() ? &tile.plates[number] : nullptr;
    };
    band.mask = [&](const RecipeSource &source) -> const Plane * {
        const std::size_t at = find_mask(m_masks.sources, source);
        return at < masks.size() ? &masks[at] : nullptr;
    };
    for (const auto &op : m_ops) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", {}, {}};
        }
        op->run(band);
    }
    return {};
}

} // namespace bichrom
