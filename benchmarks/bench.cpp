/// \file
/// How fast the heart of the program is, on this machine, now. Not a test.
/// Usage: bichrom-bench [receive] [ink] [build] [kernels] [line] [photo] [large] [nogs]   (all by default;
/// nogs leaves out the comparison with Ghostscript, which takes minutes)
#include "other_separations.h"
#include "pages.h"

#include "core/base/atomic_file.h"
#include "core/fit/slip_test.h"
#include "core/job/routing.h"
#include "core/line/colour_areas.h"
#include "core/line/plate_line.h"
#include "core/output/compose.h"
#include "core/output/g4.h"
#include "core/output/output_set.h"
#include "core/preflight/preflight.h"
#include "core/proof/core_sample.h"
#include "core/proof/print_look.h"
#include "core/raster/choke.h"
#include "core/raster/trace.h"
#include "core/raster/unmix.h"
#include "core/release/release.h"
#include "core/screen/halftone.h"
#include "core/separate/choose_inks.h"
#include "core/separate/separate_job.h"

#include <oneapi/tbb/parallel_for.h>
#include <oneapi/tbb/task_arena.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <functional>
#include <set>
#include <sys/resource.h>
#include <sys/wait.h>
#include <tiffio.h>
#include <unistd.h>

using namespace bichrom;

namespace {

double seconds_of(const std::function<void()> &work)
{
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

template <typename T> T take(Outcome<T> outcome)
{
    if (!outcome) {
        std::fprintf(stderr, "%s\n", outcome.error().message().c_str());
        std::exit(1);
    }
    return std::move(*outcome);
}

void take_done(const Done &done)
{
    if (!done) {
        std::fprintf(stderr, "%s\n", done.error().message().c_str());
        std::exit(1);
    }
}

/// Work on rows [first, last) of a task, timed on one thread and on all.
void measure(const char *name, double megapixels, int parts, const std::function<void(int)> &part)
{
    part(0); // warm
    const double one = seconds_of([&] {
        for (int i = 0; i < parts; ++i) {
            part(i);
        }
    });
    const double all = seconds_of([&] { oneapi::tbb::parallel_for(0, parts, part); });
    std::printf("  %-46s %8.0f Mpx/s on one core %8.0f Mpx/s on all\n", name, megapixels / one,
                megapixels / all);
}

Bitmap halftone_rows(const Halftone &screen, const Plane &tones)
{
    Bitmap film(tones.width, tones.height);
    for (int y = 0; y < tones.height; ++y) {
        screen.screen_row(tones.row(y).data(), tones.width, 0, y, film.row(y));
    }
    return film;
}

void kernels()
{
    std::printf("Kernels\n");
    const int width = 19200, rows = 256, parts = 24;
    Plane tones(width, rows);
    for (int y = 0; y < rows; ++y) {
        for (int x = 0; x < width; ++x) {
            tones.row(y)[static_cast<std::size_t>(x)] = static_cast<std::uint8_t>(20 + (x / 100 + y) % 200);
        }
    }
    const double megapixels = width * 1e-6 * rows * parts;
    const Halftone screen = take(Halftone::make({Lpi(55), Degrees(22.5), DotShape::Round}, Dpi(1200)));
    measure("halftone, 55 lpi 22.5°, every pixel a tint", megapixels, parts,
            [&](int) { (void)halftone_rows(screen, tones); });
    const Bitmap film = halftone_rows(screen, tones);
    measure("Group 4 of that halftone", megapixels, parts, [&](int) { (void)encode_g4_strip(film); });
    const Bitmap blank(width, rows);
    measure("Group 4 of blank film", megapixels, parts, [&](int) { (void)encode_g4_strip(blank); });

    const auto artwork = take(Artwork::open_bytes(bench::line_art(406.4, 508), "line art"));
    const auto page = take(artwork->interpret(1, PageBox::Media));
    const auto plate_line = take(PlateLine::make(page, propose_job(take(record_scene(*page)), {}).inks()));
    const PixelRect extent = plate_line->extent(Dpi(1200));
    measure("render line art, 6 spots, hard edges", extent.width * 1e-6 * 64 * parts, parts, [&](int i) {
        (void)plate_line->render({0, i * 960 / 64 * 64, extent.width, 64}, Dpi(1200), Edges::Crisp);
    });
}

/// What a run took; of its own children too.
struct Cost
{
    double seconds = 0, cpu = 0, megabytes = 0;
};

/// Runs \p program, whose threads and memory are its own then.
Cost run(const std::string &program, std::vector<std::string> arguments, bool quiet)
{
    std::fflush(stdout);
    rusage before{}, after{};
    getrusage(RUSAGE_CHILDREN, &before);
    const auto start = std::chrono::steady_clock::now();
    const pid_t child = fork();
    if (child == 0) {
        if (quiet && (std::freopen("/dev/null", "w", stdout) == nullptr ||
                      std::freopen("/dev/null", "w", stderr) == nullptr)) {
            _exit(1);
        }
        std::vector<char *> words = {const_cast<char *>(program.c_str())};
        for (std::string &argument : arguments) {
            words.push_back(argument.data());
        }
        words.push_back(nullptr);
        execvp(program == "bichrom-bench" ? "/proc/self/exe" : program.c_str(), words.data());
        _exit(1);
    }
    int status = 0;
    rusage usage{};
    wait4(child, &status, 0, &usage);
    getrusage(RUSAGE_CHILDREN, &after);
    if (status != 0) {
        std::fprintf(stderr, "a measured run failed\n");
    }
    const auto cpu = [](const rusage &one) {
        return static_cast<double>(one.ru_utime.tv_sec + one.ru_stime.tv_sec) +
               1e-6 * static_cast<double>(one.ru_utime.tv_usec + one.ru_stime.tv_usec);
    };
    return {std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count(),
            cpu(after) - cpu(before), static_cast<double>(usage.ru_maxrss) / 1024.0};
}

/// This program again, for one film set.
Cost in_child(std::vector<std::string> arguments)
{
    return run("bichrom-bench", std::move(arguments), false);
}

/// Ordinary pages, where a program's own bookkeeping is what is paid for: the whole film command against a
/// general interpreter's 1-bit separation device, one after the other.
void simple_pages(bool with_gs)
{
    const auto folder =
        std::filesystem::temp_directory_path() / ("bichrom-bench-" + std::to_string(getpid()));
    std::printf("Films of simple pages, the whole command\n");
    const auto made = std::filesystem::path(folder.string() + ".pdf");
    const auto soft = bench::soft_edges(105, 148);
    std::ofstream(made, std::ios::binary)
        .write(reinterpret_cast<const char *>(soft.data()), static_cast<std::streamsize>(soft.size()));
    const std::pair<const char *, std::string> pages[] = {
        {"night-tote", BICHROM_SOURCE_DIR "/demo/night-tote.pdf"},
        {"trail-card-messy", BICHROM_SOURCE_DIR "/demo/trail-card-messy.pdf"},
        {"handbill", BICHROM_SOURCE_DIR "/demo/handbill.pdf"},
        {"soft edges", made.string()}};
    for (const auto &[name, page] : pages) {
        for (const char *dpi : {"1200", "2400"}) {
            std::vector<Cost> ours, general;
            for (int round = 0; round < 3; ++round) {
                std::filesystem::create_directories(folder);
                ours.push_back(run(
                    BICHROM_CLI,
                    {"film", page, "--accept-damage", "--dpi", dpi, "--lpi", "55", "--out", folder.string()},
                    true));
                constexpr double soon = 10; // seconds; what takes longer runs once
                if (with_gs && (general.empty() || general.back().cpu < soon)) {
                    general.push_back(
                        run("gs",
                            {"-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep1", "-dLastPage=1",
                             std::string("-r") + dpi, "-sOutputFile=" + (folder / "gs.tif").string(), page},
                            true));
                }
                std::filesystem::remove_all(folder);
            }
            const auto middle = [](std::vector<Cost> costs) {
                std::sort(costs.begin(), costs.end(),
                          [](const Cost &a, const Cost &b) { return a.cpu < b.cpu; });
                return costs[costs.size() / 2];
            };
            const Cost one = middle(ours);
            std::printf("  %-18s %s dpi: %.2f s of CPU, %.2f s, %.0f MB peak", name, dpi, one.cpu,
                        one.seconds, one.megabytes);
            if (with_gs) {
                std::printf("; Ghostscript's tiffsep1 %.2f s of CPU: %.2f of that", middle(general).cpu,
                            one.cpu / middle(general).cpu);
            }
            std::printf("\n");
        }
    }
    std::filesystem::remove(made);
}

/// What the child does: writes the films of \p pdf and says how many there are.
int write_one_set(const std::filesystem::path &pdf, double dpi, double lpi)
{
    OpenedJob opened = take(open_job_or_artwork(pdf));
    opened.job.film.resolution = Dpi(dpi);
    for (Plate &plate : opened.job.plates) {
        plate.screen.ruling = Lpi(lpi);
    }
    OutputRequest request;
    request.folder = pdf.parent_path() / "films";
    const Manifest manifest = take(write_films(opened, request));
    const WrittenPlate &plate = manifest.plates.front();
    std::printf("%zu films of %d × %d", manifest.plates.size(), plate.width, plate.height);
    return 0;
}

struct Set
{
    const char *name;
    std::vector<std::byte> pdf;
    double dpi, lpi;
    double first; ///< seconds to reach at first
};

void film_set(const Set &set, bool with_gs)
{
    const auto folder =
        std::filesystem::temp_directory_path() / ("bichrom-bench-" + std::to_string(getpid()));
    std::filesystem::create_directories(folder);
    const auto path = folder / "page.pdf";
    std::ofstream(path, std::ios::binary)
        .write(reinterpret_cast<const char *>(set.pdf.data()), static_cast<std::streamsize>(set.pdf.size()));
    std::printf("  %-46s ", set.name);
    const Cost films = in_child({"set", path.string(), std::to_string(set.dpi), std::to_string(set.lpi)});
    std::uintmax_t written = 0;
    for (const auto &entry : std::filesystem::directory_iterator(folder / "films")) {
        written += entry.file_size();
    }
    std::printf(", %.1f s (%.0f s asked), %.1f s of CPU, %.0f MB peak, %.1f MB of films\n", films.seconds,
                set.first, films.cpu, films.megabytes, static_cast<double>(written) / 1e6);
    if (with_gs) {
        const Cost general = run("gs",
                                 {"-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep1",
                                  "-r" + std::to_string(static_cast<int>(set.dpi)),
                                  "-sOutputFile=" + (folder / "gs.tif").string(), path.string()},
                                 true);
        std::printf("  %-46s %.1f s of CPU; Bichrom takes %.2f of that\n",
                    "  Ghostscript's tiffsep1 on the same page", general.cpu, films.cpu / general.cpu);
    }
    std::filesystem::remove_all(folder);
}

} // namespace

/// What the artist waits for in the stage Receive.
void receive(const char *name, const std::string &path)
{
    std::shared_ptr<const Artwork> artwork;
    const double open = seconds_of([&] { artwork = take(Artwork::open(path)); });
    std::vector<Finding> findings;
    const double check =
        seconds_of([&] { findings = take(check_artwork(*artwork, shipped_rules().front())); });
    const auto content = take(artwork->interpret(1, PageBox::Media));
    const Scene scene = take(record_scene(*content));
    const auto plate_line = take(PlateLine::make(content, propose_job(scene, {}).inks()));
    const Points x(content->width().value / 2), y(content->height().value / 2);
    constexpr int asked = 20;
    const double point = seconds_of([&] {
        for (int i = 0; i < asked; ++i) {
            (void)take(objects_at(*content, x, y));
        }
    });
    const double sample = seconds_of([&] {
        for (int i = 0; i < asked; ++i) {
            (void)take(take_sample(*plate_line, sample_square(*plate_line, 50, 50, 51)));
        }
    });
    std::printf("  %-24s open %.2f s, all checks %.2f s (%d pages, %zu objects on the first, %zu findings), "
                "objects at a point %.1f ms, sample of 51 × 51 pixels %.1f ms\n",
                name, open, check, artwork->page_count(), scene.objects.size(), findings.size(),
                point / asked * 1000, sample / asked * 1000);
}

/// What the artist waits for after sending a colour to a plate: new plates, and the light table's tiles.
void ink(const char *name, const std::string &path)
{
    const auto artwork = take(Artwork::open(path));
    const auto content = take(artwork->interpret(1, PageBox::Media));
    const Scene scene = take(record_scene(*content));
    Job job = propose_job(scene, {});
    Route route = route_from(scene, 1, {0}, 0);
    route.targets = {{job.plates.back().ink, false, 1, {}}};
    job = with_route(job, route);
    constexpr double fitted_height = 600; // pixels of the page in a window of 1280 × 800
    const Dpi dpi(fitted_height / content->height().value * points_per_inch);
    constexpr int runs = 10;
    double plates = 0;
    double tiles = 0;
    for (int i = 0; i < runs; ++i) {
        std::shared_ptr<const PlateLine> plate_line;
        plates += seconds_of([&] { plate_line = take(PlateLine::make(content, setup_of(job))); });
        const PixelRect page = plate_line->extent(dpi);
        tiles += seconds_of([&] {
            constexpr int side = 256;
            const int columns = (page.width + side - 1) / side;
            const int rows = (page.height + side - 1) / side;
            oneapi::tbb::parallel_for(0, columns * rows, [&](int tile) {
                const int x = tile % columns * side;
                const int y = tile / columns * side;
                (void)take(plate_line->render(
                    {x, y, std::min(side, page.width - x), std::min(side, page.height - y)}, dpi));
            });
        });
    }
    const double areas = seconds_of([&] { (void)take(measure_colours(content, scene)); });
    std::printf(
        "  %-26s a route changes: plates %.0f ms, the window's tiles %.0f ms; areas of %zu colours %.0f ms\n",
        name, plates / runs * 1000, tiles / runs * 1000, scene.colours.size(), areas * 1000);
}

/// A picture of 16 megapixels: discs of four colours with soft edges.
void flat_picture()
{
    constexpr int side = 4000;
    const std::vector<EncodedRgb> palette = {{250, 246, 235}, {40, 120, 60}, {180, 70, 30}, {30, 40, 110}};
    RgbPicture picture{side, side, std::vector<EncodedRgb>(std::size_t(side) * side)};
    for (int y = 0; y < side; ++y) {
        for (int x = 0; x < side; ++x) {
            const double away = std::hypot(x % 160 - 80.0, y % 160 - 80.0) - 60.0;
            const double share = std::clamp(0.5 - away, 0.0, 1.0);
            const EncodedRgb &ink = palette[static_cast<std::size_t>(1 + (x / 160 + y / 160) % 3)];
            for (std::size_t k = 0; k < 3; ++k) {
                picture.pixels[static_cast<std::size_t>(y) * side + static_cast<std::size_t>(x)][k] =
                    static_cast<std::uint8_t>(std::lround(share * ink[k] + (1 - share) * palette[0][k]));
            }
        }
    }
    std::vector<Plane> planes;
    const double found = seconds_of([&] { (void)find_palette(picture); });
    const double apart = seconds_of([&] { planes = take(unmix(picture, palette)); });
    const double traced = seconds_of([&] { (void)take(trace_outlines(planes[1])); });
    std::printf("  flat artwork of 16 Mpx, 4 colours: palette %.2f s, taken apart %.2f s (%.0f Mpx/s), one "
                "colour traced "
                "%.2f s\n",
                found, apart, 16.0 / apart, traced);
}

/// The tote with a base, choked and thinned under black.
OpenedJob tote_with_base()
{
    OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/night-tote.pdf"));
    Plate base = propose_plate(opened.job.plates, "Base White", InkUse::White, {96, 0, 0});
    for (const RecipePreset &preset : recipe_presets({opened.job.inks(), {}, {}})) {
        if (preset.name == "Base for a coloured garment") {
            base.recipe = preset.recipe;
        }
    }
    opened.job.plates.insert(opened.job.plates.begin(), base);
    opened.job.stock.colour = {16, 0, -1};
    return opened;
}

/// What the artist waits for in the stage Build: a changed recipe until the window shows it, the look Print,
/// films and the PDF of plates.
void build()
{
    const int width = 15120, rows = 640;
    Plane discs(width, rows);
    for (int y = 0; y < rows; ++y) {
        for (int x = 0; x < width; ++x) {
            const int dx = x % 400 - 200;
            const int dy = y % 400 - 200;
            discs.row(y)[static_cast<std::size_t>(x)] = dx * dx + dy * dy < 150 * 150 ? 255 : 0;
        }
    }
    measure("choke by 9.4 pixels, discs of 300 pixels", width * 1e-6 * rows * 8, 8,
            [&](int) { (void)choke(discs, 9.4); });
    measure("choke by 9.4 pixels, nothing there", width * 1e-6 * rows * 8, 8,
            [&, blank = Plane(width, rows)](int) { (void)choke(blank, 9.4); });

    const OpenedJob opened = tote_with_base();
    const auto page = take(opened.artwork->interpret(1, PageBox::Media));
    std::shared_ptr<const PlateLine> plate_line;
    const double made = seconds_of([&] { plate_line = take(PlateLine::make(page, setup_of(opened.job))); });
    // The page fills about 700 × 650 pixels of a window of 1280 × 800: 41 dpi, tiles of 256 pixels.
    const Dpi view(41 * 1.27);
    const PixelRect extent = plate_line->extent(view);
    std::vector<PixelRect> places;
    for (int y = 0; y < extent.height; y += 256) {
        for (int x = 0; x < extent.width; x += 256) {
            places.push_back({x, y, std::min(256, extent.width - x), std::min(256, extent.height - y)});
        }
    }
    std::vector<PlateTile> tiles(places.size());
    const double drawn = seconds_of([&] {
        oneapi::tbb::parallel_for(std::size_t(0), places.size(), [&](std::size_t i) {
            tiles[i] = take(plate_line->render(places[i], view));
        });
    });
    PrintLook::prepare(*ProcessProfile::fogra39());
    const PrintLook look(opened.job, plate_line->inks(), *ProcessProfile::fogra39());
    std::vector<std::uint32_t> pixels;
    double composed = 0;
    for (int round = 0; round < 5; ++round) {
        composed += seconds_of([&] {
                        for (const PlateTile &tile : tiles) {
                            pixels.resize(static_cast<std::size_t>(tile.rect.width) *
                                          static_cast<std::size_t>(tile.rect.height));
                            look.compose(tile, pixels);
                        }
                    }) /
                    5;
    }
    std::printf("  tote with base, a view of %d × %d pixels: routed again %.0f ms, plates %.0f ms, look "
                "Print %.0f ms "
                "on one core\n",
                extent.width, extent.height, made * 1000, drawn * 1000, composed * 1000);
    const auto path = std::filesystem::temp_directory_path() / ("bichrom-bench-" + std::to_string(getpid()));
    const double pdf = seconds_of([&] { (void)take(compose_pdf(opened, path.string() + ".pdf")); });
    std::printf("  its plates as a PDF: %.1f s, %.2f MB\n", pdf,
                static_cast<double>(std::filesystem::file_size(path.string() + ".pdf")) / 1e6);
    std::filesystem::remove(path.string() + ".pdf");
    std::filesystem::create_directories(path);
    OpenedJob without = opened;
    without.job.plates.erase(without.job.plates.begin());
    OpenedJob wide = opened;
    for (RecipeStep &step : wide.job.plates.front().recipe) {
        if (step.does == RecipeDo::Choke) {
            step.does = RecipeDo::Spread;
            step.distance = 5;
        }
    }
    double plain = 0;
    const std::pair<const char *, const OpenedJob *> sets[] = {
        {"its films without the base", &without},
        {"its films with the base, choke 0.2 mm", &opened},
        {"its films with the base, spread 5 mm", &wide}};
    for (const auto &[name, job] : sets) {
        const auto file = path / "job.bichrom";
        take_done(save_job(file, job->job, *job->artwork));
        std::printf("  %-46s ", name);
        const Cost films = in_child({"set", file.string(), "1200", "55"});
        plain = plain > 0 ? plain : films.cpu;
        std::printf(", %.1f s, %.2f s of CPU (%.1f times), %.0f MB peak\n", films.seconds, films.cpu,
                    films.cpu / plain, films.megabytes);
    }
    std::filesystem::remove_all(path);
}

/// What traps add to films, and how long the artist waits for the pairs and for the slip test.
void fit()
{
    const auto path = std::filesystem::temp_directory_path() / ("bichrom-bench-" + std::to_string(getpid()));
    std::vector<std::pair<const char *, OpenedJob>> jobs;
    for (const char *name :
         {"night-tote.bichrom", "trail-card.bichrom", "handbill.bichrom", "trail-token.bichrom"}) {
        jobs.emplace_back(name, take(open_job_or_artwork(std::string(BICHROM_SOURCE_DIR "/demo/") + name)));
    }
    for (const auto &[name, page] : {std::pair("dense line art", bench::line_art(329, 483)),
                                     std::pair("photo", bench::photo(329, 483, 200))}) {
        OpenedJob made;
        made.artwork = take(Artwork::open_bytes(page, name));
        made.job = propose_job(take(record_scene(*take(made.artwork->interpret(1, PageBox::Media)))), name);
        jobs.emplace_back(name, std::move(made));
    }
    for (auto &[name, opened] : jobs) {
        opened.job.traps.hold_back = 0;
        double plain = 0;
        for (const double width : {0.0, 0.1, 0.3}) {
            opened.job.traps.on = width > 0;
            opened.job.traps.width = width;
            std::filesystem::remove_all(path); // films of one job do not go into the folder of another
            std::filesystem::create_directories(path);
            const auto file = path / "job.bichrom";
            take_done(save_job(file, opened.job, *opened.artwork));
            std::printf("  %-20s films at 2400 dpi, traps of %.1f mm ", name, width);
            const Cost films = in_child({"set", file.string(), "2400", "85"});
            plain = plain > 0 ? plain : films.cpu;
            std::printf(", %.1f s, %.2f s of CPU (%.2f times), %.0f MB peak\n", films.seconds, films.cpu,
                        films.cpu / plain, films.megabytes);
        }
        opened.job.traps.width = 0.1;
        const auto page =
            take(opened.artwork->interpret(opened.job.page, PageBox::Media, opened.job.colours));
        const auto line = take(PlateLine::make(page, setup_of(opened.job)));
        const double pairs = seconds_of([&] { (void)take(line->page_traps(Dpi(600))); });
        SlipPlates plates;
        const double made = seconds_of(
            [&] { plates = take(slip_plates(*line, opened.job, slip_resolution(opened.job.traps, 0.3))); });
        const double within = seconds_of([&] { (void)take(slip_within(plates, 0.3)); });
        const double moved = seconds_of([&] {
            (void)take(slip(plates, {{plates.inks.back(), 0.3, 0.1, 0.05}}));
        });
        std::printf(
            "  %-20s pairs %.2f s; slip test: plates %.2f s, within 0.3 mm %.2f s, one plate moved %.2f s\n",
            name, pairs, made, within, moved);
    }
    std::filesystem::remove_all(path);
}

/// What leaves the desk in its other forms, and all of it together.
void release()
{
    const auto path = std::filesystem::temp_directory_path() / ("bichrom-bench-" + std::to_string(getpid()));
    OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/night-tote.bichrom"));
    const auto timed = [&](const char *name, const auto &work) {
        std::filesystem::remove_all(path);
        std::filesystem::create_directories(path);
        std::printf("  %-46s %.2f s\n", name, seconds_of(work));
    };
    OutputRequest set;
    set.folder = path / "set";
    opened.job.film.resolution = Dpi(2400);
    for (const FilmFormat format : {FilmFormat::Tiff, FilmFormat::Pdf, FilmFormat::PostScript}) {
        opened.job.film.format = format;
        const std::string name = std::string("tote, films at 2400 dpi as ") + to_string(format);
        timed(name.c_str(), [&] { (void)take(write_films(opened, set)); });
    }
    opened.job.film.format = FilmFormat::Tiff;
    OutputRequest shared = set;
    shared.together.width = 914;
    timed("the same on one roll", [&] { (void)take(write_films(opened, shared)); });
    for (const PdfForm form : {PdfForm::X4, PdfForm::Flat, PdfForm::Separated}) {
        ComposeRequest request;
        request.form = form;
        const std::string name = std::string("its plates as PDF, ") + to_string(form);
        timed(name.c_str(), [&] { (void)take(compose_pdf(opened, path / "plates.pdf", request)); });
    }
    timed("its plates at 600 dpi, one TIFF", [&] {
        (void)take(write_plates(opened, Dpi(600), PageBox::Media, set, {}, PlateFiles::OneForAll));
    });
    opened.job.film.resolution = Dpi(1200);
    ReleaseRequest request;
    request.folder = path;
    request.date = "2026-11-28";
    request.pass_reason = "a measurement";
    timed("released: films at 1200 dpi, PDF, proof, ticket",
          [&] { (void)take(release_job(opened, request)); });
}

/// How long an artist waits for what is asked of one ink of a separation, once the others are solved.
void controls(const OpenedJob &opened, const Scene &scene)
{
    const auto route = std::find_if(opened.job.routes.begin(), opened.job.routes.end(),
                                    [](const Route &one) { return one.separated; });
    const auto page = take(opened.artwork->interpret(1, PageBox::Media));
    (void)take(PlateLine::make(page, setup_of(opened.job))); // the lattice stays with the page
    const auto asked = [&](const char *name, const std::function<void(Route &)> &ask) {
        Job job = opened.job;
        const auto number = static_cast<std::size_t>(route - opened.job.routes.begin());
        const double spent = seconds_of([&] {
            Route changed = *route;
            ask(changed);
            job = with_controls(std::move(job), scene, number, changed.targets);
            job.routes[number].dots = changed.dots;
            (void)take(take(PlateLine::make(page, setup_of(job)))->whole_page(Dpi(100), Edges::Seen));
        });
        std::printf("    %s: seen after %.2f s\n", name, spent);
    };
    asked("one ink at 80 %", [](Route &one) { one.targets.back().control.strength = 0.8; });
    asked("one ink held to 60° of hue", [](Route &one) { one.targets.back().control.hues = {60, 60}; });
    asked("two inks kept apart", [](Route &one) {
        one.targets.back().control.never_with = {one.targets[one.targets.size() - 2].ink};
    });
    asked("square dots of 0.17 mm", [](Route &one) { one.dots = {0.17, true}; });
}

/// How long an artist waits for inks, and how near they come.
void separate()
{
    OpenedJob opened = take(open_job_or_artwork(BICHROM_SOURCE_DIR "/demo/moth-plate.png"));
    opened.job.stock.colour = {16, 0, -1};
    const BookInk white{"White", InkUse::White, {96, 0, 0}, usual_traits(InkUse::White), false};
    std::vector<WishedColour> wish;
    const double counted = seconds_of([&] { wish = take(wished_colours(opened)); });
    std::printf("  painted moth on black, colours counted %.2f s\n", counted);
    const Scene scene = take(record_scene(*take(opened.artwork->interpret(1, PageBox::Media))));
    const Job untouched = opened.job;
    for (const std::size_t most : {4, 6, 8}) {
        std::vector<InkSet> sets;
        const double chosen = seconds_of([&] {
            sets = take(choose_inks(wish, shipped_inks(), {untouched.stock, {white}, {}, most}));
        });
        opened.job = take(separated_job(untouched, scene, sets.back().inks));
        SeparationReport report;
        const double printed = seconds_of([&] { report = take(measure_separation(opened)); });
        std::printf("  %zu inks: chosen in %.1f s, solved, printed and measured in %.1f s: ΔE median %.1f, "
                    "95 %% %.1f\n",
                    most, chosen, printed, report.median, report.p95);
        controls(opened, scene);
        opened.job = untouched;
        const bench::Nearness palette = bench::by_palette(opened, most);
        const bench::Nearness hand = bench::by_hand(opened, sets.back().inks);
        std::printf(
            "    beside it a palette of %zu own colours, unmixed: %.1f, %.1f; those inks by hand: %.1f, "
            "%.1f\n",
            most, palette.median, palette.p95, hand.median, hand.p95);
    }
}

int main(int argc, char **argv)
{
    if (argc == 5 && std::string(argv[1]) == "set") {
        return write_one_set(argv[2], std::atof(argv[3]), std::atof(argv[4]));
    }
    std::set<std::string> wanted(argv + 1, argv + argc);
    const bool with_gs = wanted.erase("nogs") == 0 && std::system("command -v gs >/dev/null 2>&1") == 0;
    if (wanted.empty()) {
        wanted = {"receive", "ink",   "build", "fit",     "kernels", "simple",
                  "line",    "photo", "large", "release", "separate"};
    }
    std::printf("%d threads\n", oneapi::tbb::this_task_arena::max_concurrency());
    // First, while this program is small: a child's peak begins with its parent's size.
    if (wanted.count("simple") > 0) {
        simple_pages(with_gs);
    }
    if (wanted.count("receive") > 0) {
        std::printf("Receive\n");
        receive("demo tote bag", BICHROM_SOURCE_DIR "/demo/night-tote.pdf");
        receive("demo handbill", BICHROM_SOURCE_DIR "/demo/handbill.pdf");
        const std::filesystem::path page = std::filesystem::temp_directory_path() / "bichrom-bench-page.pdf";
        take_done(write_file(page, std::span<const std::byte>(bench::photo(406.4, 508, 200))));
        receive("16 × 20 in, full photo", page.string());
        std::filesystem::remove(page);
    }
    if (wanted.count("ink") > 0) {
        std::printf("Ink\n");
        ink("demo tote bag", BICHROM_SOURCE_DIR "/demo/night-tote.pdf");
        ink("demo trail card, 11 inks", BICHROM_SOURCE_DIR "/demo/trail-card-messy.pdf");
        const std::filesystem::path photo =
            std::filesystem::temp_directory_path() / "bichrom-bench-photo.pdf";
        take_done(write_file(photo, std::span<const std::byte>(bench::photo(406.4, 508, 200))));
        ink("16 × 20 in, full photo", photo.string());
        std::filesystem::remove(photo);
        flat_picture();
    }
    if (wanted.count("fit") > 0) {
        std::printf("Fit\n");
        fit();
    }
    if (wanted.count("build") > 0) {
        std::printf("Build\n");
        build();
    }
    if (wanted.count("kernels") > 0) {
        kernels();
    }
    std::printf("Whole film sets, from PDF to Group 4 files\n");
    if (wanted.count("line") > 0) {
        film_set({"16 × 20 in, 1200 dpi, 55 lpi, line art", bench::line_art(406.4, 508), 1200, 55, 6},
                 with_gs);
    }
    if (wanted.count("photo") > 0) {
        film_set({"16 × 20 in, 1200 dpi, 55 lpi, full photo", bench::photo(406.4, 508, 200), 1200, 55, 15},
                 with_gs);
    }
    if (wanted.count("large") > 0) {
        film_set({"329 × 483 mm, 2400 dpi, 150 lpi, line art", bench::line_art(329, 483), 2400, 150, 20},
                 with_gs);
        film_set({"329 × 483 mm, 2400 dpi, 150 lpi, full photo", bench::photo(329, 483, 300), 2400, 150, 45},
                 with_gs);
    }
    if (wanted.count("release") > 0) {
        std::printf("Release\n");
        release();
    }
    if (wanted.count("separate") > 0) {
        std::printf("Separate\n");
        separate();
    }
    return 0;
}
