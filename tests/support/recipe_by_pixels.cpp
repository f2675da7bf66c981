#include "recipe_by_pixels.h"

#include "choke_by_pixels.h"

#include "core/raster/choke.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace bichrom::test {

namespace {

std::uint8_t byte(double value)
{
    return static_cast<std::uint8_t>(std::lround(std::clamp(value, 0.0, 255.0)));
}

/// Each pixel of \p plane by itself and the one of \p other.
template <class Both> void each_pair(Plane &plane, const Plane &other, const Both &both)
{
    for (std::size_t i = 0; i < plane.pixels.size(); ++i) {
        plane.pixels[i] = both(plane.pixels[i], other.pixels[i]);
    }
}

std::uint8_t larger(std::uint8_t a, std::uint8_t b)
{
    return std::max(a, b);
}

Plane moved(const Plane &plane, double pixels, bool tonal, bool crisp)
{
    if (pixels == 0) {
        return plane;
    }
    if (tonal) {
        return pixels > 0 ? choke_tones(plane, pixels) : spread_tones(plane, -pixels);
    }
    Plane made = pixels > 0 ? choke_by_pixels(plane, pixels) : spread_by_pixels(plane, -pixels);
    return crisp ? halved(std::move(made)) : made;
}

double share(double low, double high, int pixel)
{
    return std::clamp(std::min(high, pixel + 1.0) - std::max(low, double(pixel)), 0.0, 1.0);
}

/// How much of each pixel \p area covers, which is in pixels of the page, by how its tone runs.
void add_area(Plane &plane, const PixelRect &rect, const Rect &area, const Fade &fade)
{
    const double dx = std::cos(fade.degrees * std::numbers::pi / 180);
    const double dy = std::sin(fade.degrees * std::numbers::pi / 180);
    const double length = std::max(1e-9, std::fabs(dx) * area.width + std::fabs(dy) * area.height);
    for (int y = 0; y < rect.height; ++y) {
        for (int x = 0; x < rect.width; ++x) {
            double tone = byte(share(area.y, area.y + area.height, rect.y + y) *
                               share(area.x, area.x + area.width, rect.x + x) * 255.0);
            if (fade.start != 1 || fade.end != 1) {
                const double along = (rect.x + x + 0.5 - area.x - area.width / 2) * dx +
                                     (rect.y + y + 0.5 - area.y - area.height / 2) * dy;
                tone *= fade.start + (fade.end - fade.start) * std::clamp(along / length + 0.5, 0.0, 1.0);
            }
            std::uint8_t &pixel = plane.row(y)[static_cast<std::size_t>(x)];
            pixel = std::max(pixel, byte(tone));
        }
    }
}

/// The pixels whose centres lie in \p area, half open; where none does, the one that it begins in.
Rect by_centres(const Rect &area)
{
    const auto whole = [](double begin, double end, double &first) {
        double next = std::floor(begin);
        while (next + 0.5 < begin) {
            ++next;
        }
        first = next;
        while (next + 0.5 < end) {
            ++next;
        }
        if (next == first) {
            first = std::floor(begin);
            next = first + 1;
        }
        return next - first;
    };
    Rect made;
    made.width = whole(area.x, area.x + area.width, made.x);
    made.height = whole(area.y, area.y + area.height, made.y);
    return made;
}

Plane source_of(const RecipeStep &step, const PixelsAround &around)
{
    const RecipeSource &source = step.source;
    const double per_mm = around.resolution.value / millimetres_per_inch;
    const bool away = step.does == RecipeDo::KeepAway && source.from != RecipeFrom::Box;
    const double narrower = away ? -step.distance : step.distance; // mm
    Plane plane(around.rect.width, around.rect.height);
    const auto add_plates = [&](const auto &both) {
        for (const std::string &ink : source.inks) {
            if (const Plane *plate = around.plate(ink)) {
                each_pair(plane, *plate, both);
            }
        }
    };
    const Rect &media = around.boxes[static_cast<std::size_t>(PageBox::Media)];
    const auto add_moved_in = [&](const Rect &mm) {
        const Rect area = {(mm.x + narrower) * per_mm, (mm.y + narrower) * per_mm,
                           (mm.width - 2 * narrower) * per_mm, (mm.height - 2 * narrower) * per_mm};
        if (area.width > 0 && area.height > 0) {
            add_area(plane, around.rect, around.crisp ? by_centres(area) : area, source.fade);
        }
    };
    switch (source.from) {
    case RecipeFrom::Area:
        if (source.inks.empty()) {
            plane = around.area;
        } else {
            add_plates(larger);
            each_pair(plane, around.area, [](std::uint8_t a, std::uint8_t b) { return a == 0 ? a : b; });
        }
        if (source.anywhere) {
            each_pair(plane, plane,
                      [](std::uint8_t a, std::uint8_t) { return a > 0 ? std::uint8_t(255) : a; });
        }
        break;
    case RecipeFrom::Sum:
        add_plates([](std::uint8_t a, std::uint8_t b) { return byte(a + b); });
        break;
    case RecipeFrom::Box:
        add_moved_in(around.boxes[static_cast<std::size_t>(source.box)]);
        return plane;
    case RecipeFrom::Drawn:
        for (const Rect &area : source.areas) {
            add_moved_in({area.x + media.x, area.y + media.y, area.width, area.height});
        }
        return plane;
    default:
        add_plates(larger);
        break;
    }
    return moved(plane, narrower * per_mm, step.tonal, around.crisp);
}

} // namespace

Plane recipe_by_pixels(const Recipe &recipe, const PixelsAround &around)
{
    Plane plane(around.rect.width, around.rect.height);
    const auto edge = [&](const Plane &of, double pixels) { return moved(of, pixels, false, around.crisp); };
    for (const RecipeStep &step : recipe) {
        const double radius = step.distance * around.resolution.value / millimetres_per_inch;
        const auto each = [&](const auto &change) {
            for (std::uint8_t &pixel : plane.pixels) {
                pixel = byte(change(pixel / 255.0) * 255.0);
            }
        };
        switch (step.does) {
        case RecipeDo::Add:
            each_pair(plane, source_of(step, around),
                      [&](std::uint8_t a, std::uint8_t b) { return std::max(a, byte(step.amount * b)); });
            break;
        case RecipeDo::Keep:
            each_pair(plane, source_of(step, around),
                      [](std::uint8_t a, std::uint8_t b) { return byte(a * b / 255.0); });
            break;
        case RecipeDo::TakeAway:
            each_pair(plane, source_of(step, around), [&](std::uint8_t a, std::uint8_t b) {
                return byte(a * (1.0 - step.amount * b / 255.0));
            });
            break;
        case RecipeDo::KeepAway:
            each_pair(plane, source_of(step, around), [&](std::uint8_t a, std::uint8_t b) {
                return byte(a * (step.source.from == RecipeFrom::Box ? b : 255 - b) / 255.0);
            });
            break;
        case RecipeDo::Invert:
            each_pair(plane, around.area,
                      [](std::uint8_t a, std::uint8_t b) { return byte((255 - a) * b / 255.0); });
            break;
        case RecipeDo::Levels:
            each([&](double v) { return (v - step.low) / (step.high - step.low); });
            break;
        case RecipeDo::Curve:
            each([&](double v) { return step.curve.at(v); });
            break;
        case RecipeDo::Threshold:
            each([&](double v) { return v > 0 && v >= step.amount ? 1.0 : 0.0; });
            break;
        case RecipeDo::Tint:
            for (std::uint8_t &pixel : plane.pixels) {
                pixel = byte(pixel * step.amount);
            }
            break;
        case RecipeDo::Choke:
            plane = moved(plane, radius, step.tonal, around.crisp);
            break;
        case RecipeDo::Spread:
            plane = moved(plane, -radius, step.tonal, around.crisp);
            break;
        case RecipeDo::Smooth:
            plane = smooth(plane, radius);
            break;
        case RecipeDo::Sharpen:
            each_pair(plane, smooth(plane, radius),
                      [&](std::uint8_t a, std::uint8_t b) { return byte(a + step.amount * (a - b)); });
            break;
        case RecipeDo::RemoveThin:
            each_pair(plane, edge(edge(plane, radius / 2), -radius / 2),
                      [](std::uint8_t a, std::uint8_t b) { return std::min(a, b); });
            break;
        case RecipeDo::FillHoles:
            each_pair(plane, edge(edge(plane, -radius / 2), radius / 2), larger);
            break;
        case RecipeDo::Outline: {
            const Plane inner = edge(plane, radius / 2);
            plane = edge(plane, -radius / 2);
            each_pair(plane, inner, [](std::uint8_t a, std::uint8_t b) {
                return static_cast<std::uint8_t>(a - std::min(a, b));
            });
            break;
        }
        }
    }
    return plane;
}

} // namespace bichrom::test
