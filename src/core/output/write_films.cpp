#include "core/output/output_set.h"

#include "core/base/file_name.h"
#include "core/base/hidden_folder.h"
#include "core/base/within_memory.h"
#include "core/output/damage_gate.h"
#include "core/output/film_pages.h"
#include "core/output/film_thumbnail.h"
#include "core/output/films_together.h"
#include "core/output/g4.h"
#include "core/output/prepared_page.h"
#include "core/output/publish_set.h"
#include "core/output/tiff_writer.h"
#include "core/raster/bitmap_ops.h"
#include "core/screen/halftone.h"

#include <oneapi/tbb/enumerable_thread_specific.h>
#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cstring>
#include <optional>

namespace bichrom {

namespace {

// Interleaved plates of a band: small enough to stay near the processor, large enough
// that running the page's display list for each band costs little.
constexpr std::size_t band_bytes = std::size_t(12) << 20;

/// A band of one film, encoded. For pages of a document the first row waits until the row above it is known.
struct EncodedFilm
{
    std::vector<std::uint8_t> strip;    ///< TIFF
    BitString rest;                     ///< pages: rows from the second on
    Bitmap first_row;                   ///< pages
    std::vector<std::uint8_t> last_row; ///< pages
    std::uint64_t tones = 0;            ///< sum of plate values
    ThumbnailCount thumbnail;
};

struct FilmBand final : BandResult
{
    std::vector<EncodedFilm> films;
};

/// Buffers of one thread, reused from band to band.
struct Scratch
{
    std::vector<std::uint8_t> tones;
    std::vector<ToneRun> runs;
    Bitmap film;               ///< some of its rows
    std::vector<char> in_bits; ///< by row of the band: it is in the bitmap; else its runs tell all of it
    std::vector<int> changes;
};

/// Computes bands of all films.
class FilmPress
{
public:
    /// \param plates  numbers of the plates that films are made of; \p screens are theirs
    /// \param extent  of the page that is the art
    FilmPress(const FilmSheet &sheet, const Job &job, const std::vector<std::size_t> &plates,
              std::vector<Halftone> screens, const PixelRect &extent)
        : m_sheet(sheet), m_options(job.film), m_extent(extent), m_plates(plates),
          m_screens(std::move(screens)), m_grid(sheet.width, sheet.height)
    {
    }

    Outcome<std::unique_ptr<BandResult>> operator()(const Band &band, const PlateRuns &plates)
    {
        Scratch &scratch = m_scratch.local();
        auto result = std::make_unique<FilmBand>();
        result->films.resize(m_screens.size());
        for (std::size_t i = 0; i < m_plates.size(); ++i) {
            print(i, plates.plates[m_plates[i]], plates.rect.y, band, scratch, result->films[i]);
        }
        return std::unique_ptr<BandResult>(std::move(result));
    }

private:
    /// The row of a band's film that row \p row of the art is.
    std::size_t film_row(int row, const Band &band) const
    {
        return static_cast<std::size_t>(m_sheet.art.y + row - band.top);
    }

    /// Where the art begins in a row of \p film, in the word that holds it.
    std::uint8_t *row_of_art(Bitmap &film, int row, const Band &band) const
    {
        return film.row(static_cast<int>(film_row(row, band))) + m_sheet.art.x / 64 * 8;
    }

    /// Rows of \p tones that lie in \p part: first to last, and the one behind.
    std::pair<int, int> rows_within(const RunPlane &tones, int top, const Band &part) const
    {
        const int first = part.top - m_sheet.art.y - top;
        return {std::max(0, first), std::min(tones.height(), first + part.rows)};
    }

    /// Which rows of the band have to be made pixel by pixel: where anything is a tint, or marks lie. The
    /// others are written straight from where their solid runs begin and end.
    void find_bits(const RunPlane &tones, bool by_rows, int top, const Band &band, std::size_t plate,
                   std::vector<char> &in_bits) const
    {
        const bool all =
            !by_rows || m_options.format != FilmFormat::Tiff || m_options.negative || m_options.mirror;
        in_bits.assign(static_cast<std::size_t>(band.rows), all ? 1 : 0);
        const auto add = [&](const MarkTile &tile) {
            const int end = std::min(tile.y + tile.bits.height - band.top, band.rows);
            for (int y = std::max(0, tile.y - band.top); y < end; ++y) {
                in_bits[static_cast<std::size_t>(y)] = 1;
            }
        };
        std::for_each(m_sheet.common.begin(), m_sheet.common.end(), add);
        std::for_each(m_sheet.plate[plate].begin(), m_sheet.plate[plate].end(), add);
        const auto [first, last] = rows_within(tones, top, band);
        for (int y = first; y < last && !all; ++y) {
            const auto runs = tones.row(y);
            if (!std::all_of(runs.begin(), runs.end(), is_solid)) {
                in_bits[film_row(top + y, band)] = 1;
            }
        }
    }

    /// Columns of the film where row \p y of it, all solid runs and bare, changes.
    void find_changes(const RunPlane &tones, int top, int y, const Band &band, Scratch &scratch) const
    {
        scratch.changes.clear();
        const int row = y + band.top - m_sheet.art.y - top;
        if (row < 0 || row >= tones.height()) {
            return;
        }
        const int lead = m_sheet.art.x % 64, left = m_sheet.art.x - lead;
        for (const ToneRun &run : across(tones.row(row), lead, scratch)) {
            const int begin = left + run.begin, end = std::min(left + run.end, m_sheet.width);
            if (!scratch.changes.empty() && scratch.changes.back() == begin) {
                scratch.changes.back() = end; // it goes on
            } else {
                scratch.changes.push_back(begin);
                scratch.changes.push_back(end);
            }
        }
        if (!scratch.changes.empty() && scratch.changes.back() >= m_sheet.width) {
            scratch.changes.pop_back(); // ink to the edge
        }
    }

    static bool is_solid(const ToneRun &run) { return run.tones == nullptr && run.tone == 255; }

    /// The runs of one copy \p lead pixels further right, and again for each copy beside it.
    std::span<const ToneRun> across(std::span<const ToneRun> runs, int lead, Scratch &scratch) const
    {
        const int left = m_extent.x, right = left + m_sheet.copy_width;
        const bool whole = left == 0 && (runs.empty() || runs.back().end <= right);
        if (lead == 0 && m_sheet.columns == 1 && whole) {
            return runs;
        }
        scratch.runs.clear();
        for (int copy = 0; copy < m_sheet.columns; ++copy) {
            const int by = lead + copy * m_sheet.column_pitch - left;
            for (const ToneRun &run : runs) {
                const int begin = std::max(run.begin, left), end = std::min(run.end, right);
                if (begin < end) {
                    scratch.runs.push_back(
                        {begin + by, end + by, run.tone,
                         run.tones == nullptr ? nullptr : run.tones + (begin - run.begin)});
                }
            }
        }
        return scratch.runs;
    }

    void clear(Bitmap &film, int rows, const std::vector<char> &in_bits) const
    {
        if (film.width != m_sheet.width || film.height != rows) {
            film = Bitmap(m_sheet.width, rows);
            return;
        }
        for (int y = 0; y < rows; ++y) {
            if (in_bits[static_cast<std::size_t>(y)] != 0) {
                std::fill_n(film.row(y), film.stride, std::uint8_t(0));
            }
        }
    }

    void lay_marks(Bitmap &film, const Band &band, std::size_t plate) const
    {
        for (const MarkTile &tile : m_sheet.common) {
            lay_tile(tile, band.top, film);
        }
        for (const MarkTile &tile : m_sheet.plate[plate]) {
            lay_tile(tile, band.top, film);
        }
        if (m_options.negative) {
            invert(film);
        }
        if (m_options.mirror) {
            mirror(film);
        }
    }

    /// Makes and encodes a band of film \p film, some rows at a time: what is made of them is encoded while
    /// it is in the processor's cache.
    /// \param top  of \p tones in the art
    void print(std::size_t film, const RunPlane &tones, int top, const Band &band, Scratch &scratch,
               EncodedFilm &out)
    {
        constexpr int rows_at_once = 64;
        const bool pages = m_options.format != FilmFormat::Tiff;
        const bool by_rows = m_screens[film].reach() == 0;
        Bitmap &bits = scratch.film;
        out.thumbnail = no_black(m_grid, band.top, band.rows);
        BitString strip;
        std::optional<G4Rows> rows;
        const int step = by_rows ? rows_at_once : band.rows;
        for (int done = 0; done < band.rows; done += step) {
            const Band part = {band.index, band.top + done, std::min(step, band.rows - done)};
            find_bits(tones, by_rows, top, part, m_plates[film], scratch.in_bits);
            clear(bits, part.rows, scratch.in_bits);
            by_rows ? screen_rows(film, tones, top, part, scratch)
                    : screen_around(film, tones, top, part, bits, scratch);
            lay_marks(bits, part, m_plates[film]);
            if (!rows) {
                rows.emplace(bits.width, pages ? bits.row(0) : nullptr, pages ? out.rest : strip);
                out.first_row = pages ? Bitmap(bits.width, 1) : Bitmap();
                std::copy_n(bits.row(0), pages ? bits.stride : 0, out.first_row.row(0));
            }
            encode(bits, tones, top, part, pages && done == 0, *rows, scratch, out.thumbnail);
            const auto [first, last_row] = rows_within(tones, top, part);
            for (int y = first; y < last_row; ++y) {
                out.tones += tones.sum(y, m_extent.x, m_extent.x + m_sheet.copy_width) *
                             static_cast<std::uint64_t>(m_sheet.columns);
            }
            if (pages) {
                const std::uint8_t *last = bits.row(part.rows - 1);
                out.last_row.assign(last, last + bits.stride);
            }
            rows->forget_row();
        }
        if (!pages) {
            end_g4(strip);
            out.strip = strip.take_bytes();
        }
    }

    void screen_rows(std::size_t film, const RunPlane &tones, int top, const Band &part,
                     Scratch &scratch) const
    {
        const PixelRect &art = m_sheet.art;
        const int lead = art.x % 64; // films are made of whole words
        const auto [first, end] = rows_within(tones, top, part);
        for (int y = first; y < end; ++y) {
            const auto runs = tones.row(y);
            const int row = top + y;
            if (!runs.empty() && scratch.in_bits[film_row(row, part)] != 0) {
                // Dots count from the page, not from what is cut out of it.
                m_screens[film].screen_runs(across(runs, lead, scratch), lead + art.width, m_extent.x - lead,
                                            m_extent.y + row, row_of_art(scratch.film, row, part),
                                            scratch.tones);
            }
        }
    }

    /// Dots that tones around them decide.
    void screen_around(std::size_t film, const RunPlane &tones, int top, const Band &part, Bitmap &bits,
                       Scratch &scratch) const
    {
        if (tones.bare()) {
            return;
        }
        const PixelRect &art = m_sheet.art;
        const int lead = art.x % 64;
        Plane around(art.width, tones.height());
        for (int y = 0; y < tones.height(); ++y) {
            for (const ToneRun &run : across(tones.row(y), 0, scratch)) {
                run.write(around.row(y).data());
            }
        }
        const auto [first, end] = rows_within(tones, top, part);
        const Bitmap dots = m_screens[film].dots(
            around, {m_extent.x, m_extent.y + top, art.width, tones.height()},
            {m_extent.x - lead, m_extent.y + top + first, lead + art.width, end - first});
        for (int y = first; y < end; ++y) {
            std::copy_n(dots.row(y - first), dots.stride, row_of_art(bits, top + y, part));
        }
    }

    /// \param skips  the first row, which is the reference
    void encode(const Bitmap &film, const RunPlane &tones, int top, const Band &part, bool skips,
                G4Rows &rows, Scratch &scratch, ThumbnailCount &thumbnail) const
    {
        for (int y = 0; y < film.height; ++y) {
            if (scratch.in_bits[static_cast<std::size_t>(y)] == 0) {
                find_changes(tones, top, y, part, scratch);
                add_black(m_grid, part.top + y, scratch.changes, thumbnail);
                rows.add(scratch.changes);
                continue;
            }
            add_black(m_grid, part.top + y, film.row(y), thumbnail);
            if (!skips || y > 0) {
                rows.add(film.row(y));
            }
        }
    }

    const FilmSheet &m_sheet;
    FilmOptions m_options;
    PixelRect m_extent;
    const std::vector<std::size_t> &m_plates;
    std::vector<Halftone> m_screens;
    ThumbnailGrid m_grid;
    oneapi::tbb::enumerable_thread_specific<Scratch> m_scratch;
};

/// Rows above a band that decide what stands in it.
int lead_of(const std::vector<Halftone> &screens)
{
    int lead = 0;
    for (const Halftone &screen : screens) {
        lead = std::max(lead, screen.reach());
    }
    return lead;
}

/// Of all films of a page in one document.
std::string document_name(const Job &job)
{
    return safe_file_name(job.name) + "-p" + std::to_string(job.page) + "-films." +
           to_string(job.film.format);
}

/// The patches of the step wedge in the plate's own dots.
void add_wedge_dots(FilmSheet &sheet, const std::vector<std::size_t> &plates,
                    const std::vector<Halftone> &screens)
{
    for (std::size_t i = 0; i < screens.size(); ++i) {
        for (const WedgePatch &patch : sheet.wedge) {
            MarkTile tile;
            tile.x = patch.rect.x / 64 * 64;
            tile.y = patch.rect.y;
            const int lead = patch.rect.x - tile.x;
            const bool under = patch.on_base && static_cast<int>(plates[i]) == sheet.base;
            const PixelRect place = {patch.rect.x - sheet.art.x, patch.rect.y - sheet.art.y, patch.rect.width,
                                     patch.rect.height};
            tile.bits =
                screens[i].dots(Plane(place.width, place.height, under ? std::uint8_t(255) : patch.tone),
                                place, {place.x - lead, place.y, lead + place.width, place.height});
            sheet.plate[plates[i]].push_back(std::move(tile));
        }
    }
}

/// Where encoded bands go.
class FilmFiles
{
public:
    Done create(Manifest &manifest, const PreparedPage &page, const FilmSheet &sheet, const Job &job,
                int band_rows, const std::filesystem::path &folder)
    {
        for (std::size_t i = 0; i < manifest.plates.size(); ++i) {
            WrittenPlate &plate = manifest.plates[i];
            plate.width = sheet.width;
            plate.height = sheet.height;
            plate.file = job.film.format == FilmFormat::Tiff ? page.stems[i] + ".tif" : document_name(job);
        }
        if (job.film.format != FilmFormat::Tiff) {
            FilmPagesHead head{job.film.format, sheet.width, sheet.height, sheet.resolution, job.name, {}};
            for (const WrittenPlate &plate : manifest.plates) {
                head.inks.push_back(plate.ink);
            }
            auto pages = FilmPages::create(folder / document_name(job), std::move(head));
            if (!pages) {
                return pages.error();
            }
            m_pages.emplace(std::move(*pages));
            m_last_rows.resize(manifest.plates.size());
            return {};
        }
        for (const WrittenPlate &plate : manifest.plates) {
            auto file =
                TiffWriter::create(folder / plate.file, TiffWriter::Kind::Film,
                                   {sheet.width, sheet.height, band_rows, sheet.resolution, plate.ink});
            if (!file) {
                return file.error();
            }
            m_tiffs.push_back(std::move(*file));
        }
        return {};
    }

    Done take(const Band &band, FilmBand &ready)
    {
        for (std::size_t i = 0; i < ready.films.size(); ++i) {
            EncodedFilm &film = ready.films[i];
            if (!m_pages) {
                if (const Done done = m_tiffs[i].write_strip(band.index, film.strip); !done) {
                    return done;
                }
                continue;
            }
            BitString rows;
            encode_g4_rows(film.first_row, 0, 1, m_last_rows[i].empty() ? nullptr : m_last_rows[i].data(),
                           rows);
            rows.append(film.rest);
            if (const Done done = m_pages->append(i, rows); !done) {
                return done;
            }
            m_last_rows[i] = std::move(film.last_row);
        }
        return {};
    }

    /// \param kept  of the films, those that are worth keeping
    Outcome<Manifest> publish(Manifest manifest, const std::vector<bool> &kept, const OutputRequest &request)
    {
        std::vector<AtomicFile *> parts;
        if (m_pages) {
            if (const Done done = m_pages->finish(kept); !done) {
                return done.error();
            }
            parts.push_back(&m_pages->file());
        }
        for (std::size_t i = 0; i < m_tiffs.size(); ++i) {
            if (!kept[i]) {
                continue;
            }
            if (const Done done = m_tiffs[i].finish(); !done) {
                return done.error();
            }
            parts.push_back(&m_tiffs[i].file());
        }
        return publish_set(std::move(parts), std::move(manifest), request);
    }

private:
    std::vector<TiffWriter> m_tiffs;
    std::optional<FilmPages> m_pages;
    std::vector<std::vector<std::uint8_t>> m_last_rows;
};

Outcome<Manifest> films(const OpenedJob &opened, const OutputRequest &request, const JobControl &control)
{
    const Job &job = opened.job;
    if (const Done good = check_job(job); !good) {
        return good.error();
    }
    const auto page = prepare_page(opened, job.film.resolution, job.film.box, true, request, control);
    if (!page) {
        return page.error();
    }
    LabelText label = request.label;
    label.page = opened.artwork->page_count() > 1;
    auto sheet = lay_out_film(job, page->art, label);
    if (!sheet) {
        Error error = sheet.error();
        error.place = opened.artwork->name();
        return error;
    }
    // Each takes a while to make when it is not known.
    std::vector<std::optional<Outcome<Halftone>>> tried(page->plates.size());
    oneapi::tbb::parallel_for(std::size_t(0), tried.size(), [&](std::size_t i) {
        const Plate &plate = job.plates[page->plates[i]];
        tried[i] = Halftone::make(plate.screen, job.film.resolution, plate.press);
    });
    std::vector<Halftone> screens;
    for (std::optional<Outcome<Halftone>> &screen : tried) {
        if (!*screen) {
            return (*screen).error();
        }
        screens.push_back(std::move(**screen));
    }
    add_wedge_dots(*sheet, page->plates, screens);
    if (const Done ready = prepare_folder(request.folder); !ready) {
        return ready.error();
    }
    // Computed plates need a rim painted around each band: it is the smaller a share the larger the band.
    // Planes are all that is kept of it, so that it may be larger.
    const int rim = page->plate_line->rim(job.film.resolution);
    const std::size_t bytes = rim > 0 ? band_bytes * 6 : band_bytes;
    // What leads to each band is looked at with it, and what lies around it.
    const int lead = lead_of(screens);
    constexpr int most_for_rim = 768;
    const int least_rows = std::max({64, 2 * lead, std::min(rim, most_for_rim)}) / 64 * 64;
    const int rows = request.band_rows > 0
                         ? request.band_rows
                         : std::max(least_rows, page->plate_line->band_rows(sheet->width, bytes));
    Manifest manifest = begin_manifest(opened, *page, job.film.resolution);
    manifest.screened = true;
    manifest.columns = sheet->columns;
    manifest.rows = sheet->rows;
    FilmFiles files;
    if (const Done made = files.create(manifest, *page, *sheet, job, rows, request.folder); !made) {
        return made.error();
    }
    FilmPress press(*sheet, job, page->plates, std::move(screens), page->extent);
    std::vector<std::uint64_t> tones(page->plates.size(), 0);
    std::vector<ThumbnailSum> thumbnails(page->plates.size(),
                                         ThumbnailSum(ThumbnailGrid(sheet->width, sheet->height)));
    PlateSink sink;
    sink.compute = [&](const Band &band, const PlateRuns &plates) { return press(band, plates); };
    sink.take = [&](const Band &band, BandResult &result) {
        auto &ready = static_cast<FilmBand &>(result);
        for (std::size_t i = 0; i < tones.size(); ++i) {
            tones[i] += ready.films[i].tones;
            thumbnails[i].add(ready.films[i].thumbnail);
        }
        return files.take(band, ready);
    };
    if (const Done done = page->plate_line->run({job.film.resolution, Edges::Crisp, sheet->art.y,
                                                 sheet->height, rows, request.threads, sheet->rows,
                                                 sheet->row_pitch, lead, page->extent.y, page->extent.height},
                                                sink, control);
        !done) {
        return done.error();
    }
    const double pixels =
        static_cast<double>(page->extent.width) * page->extent.height * sheet->columns * sheet->rows;
    for (std::size_t i = 0; i < tones.size(); ++i) {
        manifest.plates[i].coverage = static_cast<double>(tones[i]) / (255.0 * pixels);
        manifest.plates[i].thumbnail = thumbnails[i].plane();
    }
    auto passed = pass_damage(page->plate_line->page(), job); // painting may have met more
    if (!passed) {
        return passed.error();
    }
    manifest.damage = std::move(*passed);
    const auto kept = leave_out_blank(manifest, request);
    if (!kept) {
        return kept.error();
    }
    return files.publish(std::move(manifest), *kept, request);
}

/// All films, then several of them on each larger one.
Outcome<Manifest> together(const OpenedJob &opened, const OutputRequest &request, const JobControl &control)
{
    if (const Done ready = prepare_folder(request.folder); !ready) {
        return ready.error();
    }
    const HiddenFolder hidden(request.folder / ".films.part");
    OutputRequest each = request;
    each.folder = hidden.path();
    OpenedJob by_itself = opened;
    by_itself.job.film.format = FilmFormat::Tiff;
    auto separate = films(by_itself, each, control);
    if (!separate) {
        return separate.error();
    }
    const Job &job = opened.job;
    const std::string name = safe_file_name(job.name) + "-p" + std::to_string(job.page) + "-films";
    return put_together(std::move(*separate), hidden.path(), name, job.film.format, request, control);
}

} // namespace

Outcome<Manifest> write_films(const OpenedJob &opened, const OutputRequest &request,
                              const JobControl &control)
{
    return within_memory(opened.artwork->name(), [&]() -> Outcome<Manifest> {
        const auto written = as_written(opened);
        if (!written) {
            return written.error();
        }
        if (const Done good = may_publish(*written, true, request); !good) {
            return good.error();
        }
        return request.together.width > 0 ? together(*written, request, control)
                                          : films(*written, request, control);
    });
}

} // namespace bichrom
