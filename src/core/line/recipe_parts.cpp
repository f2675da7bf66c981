#include "core/line/recipe_parts.h"

#include "core/raster/tone_rows.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <utility>

namespace bichrom {

namespace {

std::uint8_t byte(double value)
{
    return static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0, 255.0)));
}

/// How much of a pixel lies between two places.
double share(double low, double high, int pixel)
{
    return std::clamp(std::min(high, pixel + 1.0) - std::max(low, static_cast<double>(pixel)), 0.0, 1.0);
}

/// How much of each pixel of \p rect lies inside \p area, which is in pixels of the page.
Plane rectangle(const PixelRect &rect, const Rect &area)
{
    Plane plane(rect.width, rect.height);
    double above = 0;
    for (int y = 0; y < rect.height; ++y) {
        const double down = share(area.y, area.y + area.height, rect.y + y);
        const auto row = plane.row(y);
        if (y > 0 && down == above) { // nearly all rows are like the one before
            std::copy_n(plane.row(y - 1).begin(), rect.width, row.begin());
            continue;
        }
        above = down;
        for (int x = 0; x < rect.width && down > 0; ++x) {
            row[static_cast<std::size_t>(x)] =
                byte(down * share(area.x, area.x + area.width, rect.x + x) * 255.0);
        }
    }
    return plane;
}

} // namespace

Plane shaded(const PixelRect &rect, const Rect &pixels, const Fade &fade)
{
    Plane plane = rectangle(rect, pixels);
    if (fade.start == 1 && fade.end == 1) {
        return plane;
    }
    // The tone runs over the length that the rectangle has in that direction.
    const double along_x = std::cos(fade.degrees * std::numbers::pi / 180);
    const double along_y = std::sin(fade.degrees * std::numbers::pi / 180);
    const double length =
        std::max(1e-9, std::fabs(along_x) * pixels.width + std::fabs(along_y) * pixels.height);
    const double middle_x = pixels.x + pixels.width / 2;
    const double middle_y = pixels.y + pixels.height / 2;
    for (int y = 0; y < rect.height; ++y) {
        const auto row = plane.row(y);
        const double down = (rect.y + y + 0.5 - middle_y) * along_y;
        for (int x = 0; x < rect.width; ++x) {
            std::uint8_t &value = row[static_cast<std::size_t>(x)];
            if (value != 0) {
                const double at = ((rect.x + x + 0.5 - middle_x) * along_x + down) / length + 0.5;
                value = byte(value * (fade.start + (fade.end - fade.start) * std::clamp(at, 0.0, 1.0)));
            }
        }
    }
    return plane;
}

std::vector<Rect> rectangles_of(const RecipeSource &source, const OpPlace &place, double narrower)
{
    const double per_mm = place.per_mm();
    std::vector<Rect> made;
    const auto add = [&](Rect area) {
        area.x += narrower;
        area.y += narrower;
        area.width -= 2 * narrower;
        area.height -= 2 * narrower;
        if (area.width > 0 && area.height > 0) {
            made.push_back({area.x * per_mm, area.y * per_mm, area.width * per_mm, area.height * per_mm});
        }
    };
    if (source.from == RecipeFrom::Box) {
        add(place.boxes[static_cast<std::size_t>(source.box)]);
    } else if (source.from == RecipeFrom::Drawn) {
        for (const Rect &area : source.areas) {
            add({area.x + place.media_x, area.y + place.media_y, area.width, area.height});
        }
    }
    return made;
}

Rect whole_pixels(const Rect &area)
{
    const auto snap = [](double begin, double size) {
        const double first = std::ceil(begin - 0.5), end = std::ceil(begin + size - 0.5);
        return std::pair(end > first ? first : std::floor(begin), std::max(1.0, end - first));
    };
    const auto [x, width] = snap(area.x, area.width);
    const auto [y, height] = snap(area.y, area.height);
    return {x, y, width, height};
}

double narrower_by(const RecipeStep &step)
{
    return step.does == RecipeDo::KeepAway && step.source.from != RecipeFrom::Box ? -step.distance
                                                                                  : step.distance;
}

void add_even_row(RunPlane &to, int left, int y, const Rect &pixels)
{
    const double down = share(pixels.y, pixels.y + pixels.height, y);
    const double right = pixels.x + pixels.width;
    const int first = std::max(left, static_cast<int>(std::floor(std::max(pixels.x, double(left)))));
    const int end = static_cast<int>(std::ceil(std::min(right, double(left + to.width()))));
    for (int x = first; x < end && down > 0;) {
        const double across = share(pixels.x, right, x);
        // Pixels that lie inside from side to side are alike.
        const int next =
            across == 1
                ? std::max(x + 1, std::min(end, static_cast<int>(std::floor(std::min(right, double(end))))))
                : x + 1;
        if (const std::uint8_t tone = byte(down * across * 255.0); tone != 0) {
            to.add({x - left, next - left, tone, nullptr});
        }
        x = next;
    }
    to.end_row();
}

ToneTable tones_of(const RecipeStep &step)
{
    ToneTable table{};
    for (std::size_t tone = 0; tone < table.size(); ++tone) {
        const double share_of = static_cast<double>(tone) / 255.0;
        switch (step.does) {
        case RecipeDo::Levels:
            table[tone] = byte((share_of - step.low) / (step.high - step.low) * 255.0);
            break;
        case RecipeDo::Curve:
            table[tone] = byte(step.curve.at(share_of) * 255.0);
            break;
        case RecipeDo::Threshold:
            table[tone] = tone > 0 && share_of >= step.amount ? std::uint8_t(255) : std::uint8_t(0);
            break;
        case RecipeDo::Tint:
            table[tone] = byte(static_cast<double>(tone) * step.amount);
            break;
        default:
            table[tone] = static_cast<std::uint8_t>(tone);
            break;
        }
    }
    return table;
}

ToneTable tones_anywhere()
{
    ToneTable table;
    table.fill(255);
    table[0] = 0;
    return table;
}

std::shared_ptr<const PairTable> table_of(const RecipeStep &step)
{
    const auto by = [](const auto &both) {
        std::vector<std::uint8_t> values(std::size_t(256) * 256);
        for (std::size_t i = 0; i < values.size(); ++i) {
            values[i] = both(static_cast<std::uint8_t>(i >> 8), static_cast<std::uint8_t>(i & 255));
        }
        return std::make_shared<const PairTable>(std::move(values));
    };
    const bool whole = step.amount == 1; // then arithmetic is as quick
    switch (step.does) {
    case RecipeDo::Add:
        return whole ? table_by<take_larger>()
                     : by([&](std::uint8_t a, std::uint8_t b) { return std::max(a, byte(step.amount * b)); });
    case RecipeDo::Keep:
        return table_by<keep_share>();
    case RecipeDo::TakeAway:
        return whole ? table_by<leave_share>() : by([&](std::uint8_t a, std::uint8_t b) {
            return byte(a * (1.0 - step.amount * b / 255.0));
        });
    case RecipeDo::Invert:
        return by([](std::uint8_t a, std::uint8_t b) { return byte((255 - a) * b / 255.0); });
    case RecipeDo::Sharpen:
        return by([&](std::uint8_t a, std::uint8_t b) { return byte(a + step.amount * (a - b)); });
    case RecipeDo::KeepAway: {
        const bool edges = step.source.from == RecipeFrom::Box; // stays inside; else outside
        return by(
            [edges](std::uint8_t a, std::uint8_t b) { return byte(a * (edges ? b : 255 - b) / 255.0); });
    }
    case RecipeDo::RemoveThin:
        return table_by<take_lesser>();
    case RecipeDo::FillHoles:
        return table_by<take_larger>();
    case RecipeDo::Outline:
        return table_by<take_off>();
    default:
        return nullptr;
    }
}

} // namespace bichrom
