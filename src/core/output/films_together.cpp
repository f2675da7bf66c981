#include "core/output/films_together.h"

#include "core/output/film_pages.h"
#include "core/output/g4.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"
#include "core/output/turned_film.h"
#include "core/raster/plane.h"
#include "core/screen/film_rows.h"

#include <algorithm>
#include <cmath>
#include <optional>

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
class SheetRows
{
public:
    SheetRows(const TogetherPlan &plan, int sheet, const Manifest &films, const std::filesystem::path &from)
        : m_plan(plan), m_sheet(sheet), m_films(films), m_from(from)
    {
    }

    /// Calls \p take(index, strip) for strips from the top.
    template <typename Take> Done each_strip(const JobControl &control, Take take)
    {
        for (int top = 0, index = 0; top < m_plan.height; top += strip_rows, ++index) {
            if (control.cancelled()) {
                return Error{ErrorCode::Cancelled, "Stopped on request.", m_films.source, {}};
            }
            Bitmap strip(m_plan.width, std::min(strip_rows, m_plan.height - top));
            for (int y = 0; y < strip.height; ++y) {
                if (const Done done = fill(top + y, strip.row(y)); !done) {
                    return done;
                }
            }
            if (const Done done = take(index, strip); !done) {
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

/// The inks of each sheet's films.
std::vector<std::string> inks_of_sheets(const TogetherPlan &plan, const Manifest &films)
{
    std::vector<std::string> inks(static_cast<std::size_t>(plan.sheets));
    for (std::size_t i = 0; i < plan.places.size(); ++i) {
        std::string &of = inks[static_cast<std::size_t>(plan.places[i].sheet)];
        of += (of.empty() ? "" : ", ") + films.plates[i].ink;
    }
    return inks;
}

/// Films turned by 90° clockwise, in files beside their own.
Done turn_all(Manifest &films, const std::filesystem::path &from, const JobControl &control)
{
    for (WrittenPlate &plate : films.plates) {
        const std::string turned = "turned " + plate.file;
        if (const Done done = turn_film(from / plate.file, from / turned, control); !done) {
            return done;
        }
        plate.file = turned;
    }
    return {};
}

} // namespace

Outcome<TogetherPlan> plan_together(int width, int height, std::size_t count, Dpi resolution,
                                    const FilmsTogether &on)
{
    if (on.turned) {
        std::swap(width, height);
    }
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
    const int down = most > 0 ? 1 + (most - height) / (height + gap) : std::max(1, static_cast<int>(count));
    for (std::size_t i = 0; i < count; ++i) {
        const int number = static_cast<int>(i), row = number / across;
        plan.places.push_back({row / down, number % across * step, row % down * (height + gap)});
        plan.sheets = row / down + 1;
        plan.height = most > 0 ? most : plan.places.back().y + height;
    }
    // No wider than the fullest row needs.
    const int fullest = std::min(across, static_cast<int>(count));
    plan.width = on.height > 0 ? plan.width : (fullest - 1) * step + width;
    return plan;
}

double film_used(const TogetherPlan &plan, Dpi resolution)
{
    const double cm = millimetres_per_inch / resolution.value / 10;
    return plan.width * cm * plan.height * cm * plan.sheets;
}

Outcome<Manifest> put_together(Manifest separate, const std::filesystem::path &from, const std::string &name,
                               FilmFormat format, const OutputRequest &request, const JobControl &control)
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
    Manifest made = separate;
    if (request.together.turned) {
        if (const Done done = turn_all(separate, from, control); !done) {
            return done.error();
        }
    }
    const bool one_each = format == FilmFormat::Tiff;
    const auto file_of = [&](int sheet) {
        return one_each ? name + "-" + std::to_string(sheet + 1) + ".tif" : name + "." + to_string(format);
    };
    for (std::size_t i = 0; i < made.plates.size(); ++i) {
        const TogetherPlace &place = plan->places[i];
        WrittenPlate &plate = made.plates[i];
        plate.file = file_of(place.sheet);
        plate.x_mm = place.x * millimetres_per_inch / resolution.value;
        plate.y_mm = place.y * millimetres_per_inch / resolution.value;
        plate.shares = true;
        plate.sheet = place.sheet + 1;
        plate.turned = request.together.turned;
    }
    const std::vector<std::string> inks = inks_of_sheets(*plan, separate);
    std::vector<TiffWriter> tiffs;
    std::optional<FilmPages> document;
    if (!one_each) {
        auto pages = FilmPages::create(request.folder / file_of(0),
                                       {format, plan->width, plan->height, resolution, name, inks});
        if (!pages) {
            return pages.error();
        }
        document.emplace(std::move(*pages));
    }
    for (int sheet = 0; sheet < plan->sheets; ++sheet) {
        const auto number = static_cast<std::size_t>(sheet);
        SheetRows rows(*plan, sheet, separate, from);
        std::vector<std::uint8_t> above; // the last row written
        if (one_each) {
            auto file = TiffWriter::create(request.folder / file_of(sheet), TiffWriter::Kind::Film,
                                           {plan->width, plan->height, strip_rows, resolution, inks[number]});
            if (!file) {
                return file.error();
            }
            tiffs.push_back(std::move(*file));
        }
        Done done = rows.each_strip(control, [&](int index, const Bitmap &strip) -> Done {
            if (one_each) {
                return tiffs.back().write_strip(index, encode_g4_strip(strip));
            }
            BitString bits;
            encode_g4_rows(strip, 0, strip.height, above.empty() ? nullptr : above.data(), bits);
            above.assign(strip.row(strip.height - 1), strip.row(strip.height - 1) + strip.stride);
            return document->append(number, bits);
        });
        if (done && one_each) {
            done = tiffs.back().finish();
        }
        if (!done) {
            return done.error();
        }
    }
    std::vector<AtomicFile *> parts;
    if (document) {
        if (const Done done = document->finish(std::vector<bool>(inks.size(), true)); !done) {
            return done.error();
        }
        parts.push_back(&document->file());
    }
    for (TiffWriter &file : tiffs) {
        parts.push_back(&file.file());
    }
    return publish_set(std::move(parts), std::move(made), request);
}

} // namespace bichrom
