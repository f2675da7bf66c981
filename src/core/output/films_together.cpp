#include "core/output/films_together.h"

#include "core/output/g4.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"
#include "core/raster/plane.h"
#include "core/screen/film_rows.h"

#include <algorithm>
#include <cmath>
#include <cstring>

namespace bichrom {

namespace {

constexpr int strip_rows = 256;

int pixels_of(double mm, Dpi resolution)
{
    return static_cast<int>(std::lround(mm * resolution.value / millimetres_per_inch));
}

int up_to_64(int x)
{
    return (x + 63) / 64 * 64;
}

/// One sheet, from its films.
class SheetWriter
{
public:
    SheetWriter(const TogetherPlan &plan, int sheet, const Manifest &films, const std::filesystem::path &from)
        : m_plan(plan), m_sheet(sheet), m_films(films), m_from(from)
    {
    }

    Done write(TiffWriter &file, const JobControl &control)
    {
        const int height = m_plan.heights[static_cast<std::size_t>(m_sheet)];
        for (int top = 0, index = 0; top < height; top += strip_rows, ++index) {
            if (control.cancelled()) {
                return Error{ErrorCode::Cancelled, "Stopped on request.", m_films.source, {}};
            }
            Bitmap strip(m_plan.width, std::min(strip_rows, height - top));
            for (int y = 0; y < strip.height; ++y) {
                if (const Done done = fill(top + y, strip.row(y)); !done) {
                    return done;
                }
            }
            if (const Done done = file.write_strip(index, encode_g4_strip(strip)); !done) {
                return done;
            }
        }
        return {};
    }

private:
    struct Reading
    {
        FilmRows rows;
        int x = 0, left = 0; ///< pixels from the left; rows that are still to come
    };

    Done fill(int y, std::uint8_t *row)
    {
        for (std::size_t i = 0; i < m_plan.places.size(); ++i) {
            const TogetherPlace &place = m_plan.places[i];
            if (place.sheet == m_sheet && place.y == y) {
                auto film = FilmRows::open(m_from / m_films.plates[i].file);
                if (!film) {
                    return film.error();
                }
                const int height = film->height();
                m_reading.push_back({std::move(*film), place.x, height});
            }
        }
        for (Reading &one : m_reading) {
            if (one.left > 0) {
                if (const Done done = one.rows.next(row + one.x / 8); !done) {
                    return done;
                }
                --one.left;
            }
        }
        return {};
    }

    const TogetherPlan &m_plan;
    int m_sheet;
    const Manifest &m_films;
    const std::filesystem::path &m_from;
    std::vector<Reading> m_reading;
};

} // namespace

Outcome<TogetherPlan> plan_together(int width, int height, std::size_t count, Dpi resolution,
                                    const FilmsTogether &on)
{
    TogetherPlan plan;
    plan.width = pixels_of(on.width, resolution);
    const int most = on.height > 0 ? pixels_of(on.height, resolution) : 0;
    if (width > plan.width || (most > 0 && height > most)) {
        const auto mm = [&](int pixels) {
            return format_number(pixels * millimetres_per_inch / resolution.value, 1);
        };
        return Error{ErrorCode::OutOfRange,
                     "A film of " + mm(width) + " × " + mm(height) +
                         " mm does not fit the one they shall share.",
                     {},
                     "Choose a larger one, or write each film by itself."};
    }
    const int gap = pixels_of(on.gap, resolution), step = up_to_64(width + gap);
    const int across = 1 + (plan.width - width) / step;
    const int down = most > 0 ? 1 + (most - height) / (height + gap) : static_cast<int>(count);
    for (std::size_t i = 0; i < count; ++i) {
        const int number = static_cast<int>(i), row = number / across;
        const int sheet = row / down;
        plan.places.push_back({sheet, number % across * step, row % down * (height + gap)});
        plan.heights.resize(static_cast<std::size_t>(sheet) + 1, 0);
        plan.heights.back() = plan.places.back().y + height;
    }
    // No wider than the fullest row needs.
    const int fullest = std::min(across, static_cast<int>(count));
    plan.width = on.height > 0 ? plan.width : (fullest - 1) * step + width;
    if (most > 0) {
        std::fill(plan.heights.begin(), plan.heights.end(), most);
    }
    return plan;
}

Outcome<Manifest> put_together(Manifest separate, const std::filesystem::path &from, const std::string &name,
                               const OutputRequest &request, const JobControl &control)
{
    const WrittenPlate &first = separate.plates.front();
    const Dpi resolution = first.resolution;
    const auto plan =
        plan_together(first.width, first.height, separate.plates.size(), resolution, request.together);
    if (!plan) {
        Error error = plan.error();
        error.place = separate.source;
        return error;
    }
    std::vector<TiffWriter> files;
    Manifest made = separate;
    for (std::size_t sheet = 0; sheet < plan->heights.size(); ++sheet) {
        std::string inks;
        const std::string file = name + "-" + std::to_string(sheet + 1) + ".tif";
        for (std::size_t i = 0; i < made.plates.size(); ++i) {
            const TogetherPlace &place = plan->places[i];
            if (place.sheet == static_cast<int>(sheet)) {
                WrittenPlate &plate = made.plates[i];
                plate.file = file;
                plate.x_mm = place.x * millimetres_per_inch / resolution.value;
                plate.y_mm = place.y * millimetres_per_inch / resolution.value;
                plate.shares = true;
                inks += (inks.empty() ? "" : ", ") + plate.ink;
            }
        }
        auto writer = TiffWriter::create(request.folder / file, TiffWriter::Kind::Film,
                                         {plan->width, plan->heights[sheet], strip_rows, resolution, inks});
        if (!writer) {
            return writer.error();
        }
        if (const Done done =
                SheetWriter(*plan, static_cast<int>(sheet), separate, from).write(*writer, control);
            !done) {
            return done.error();
        }
        if (const Done done = writer->finish(); !done) {
            return done.error();
        }
        files.push_back(std::move(*writer));
    }
    std::vector<AtomicFile *> parts;
    for (TiffWriter &file : files) {
        parts.push_back(&file.file());
    }
    return publish_set(std::move(parts), std::move(made), request);
}

} // namespace bichrom
