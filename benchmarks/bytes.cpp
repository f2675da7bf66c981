// What every output is, byte for byte: a line for each file that the demo's jobs and forty random ones give.
// A change that only moves code prints the same lines before and after.
//
//     bichrom-bytes > before.txt
//     … the change …
//     bichrom-bytes --compare before.txt
#include "core/artwork/placed_artwork.h"
#include "core/job/edits/plates.h"
#include "core/job/recipe.h"
#include "core/job/routing.h"
#include "core/output/compose.h"
#include "core/output/output_set.h"
#include "core/proof/print_estimate.h"

#include <algorithm>
#include <cstdio>
#include <fstream>
#include <map>
#include <random>
#include <string>
#include <unistd.h>

using namespace bichrom;

namespace {

namespace fs = std::filesystem;

const fs::path demo = fs::path(BICHROM_SOURCE_DIR) / "demo";

/// FNV-1a, 64 bits: enough to see that something changed.
std::string digest(const fs::path &path)
{
    std::ifstream file(path, std::ios::binary);
    std::uint64_t hash = 14695981039346656037ull;
    for (char byte = 0; file.get(byte);) {
        hash = (hash ^ static_cast<unsigned char>(byte)) * 1099511628211ull;
    }
    char text[20];
    std::snprintf(text, sizeof text, "%016llx", static_cast<unsigned long long>(hash));
    return text;
}

class Lines
{
public:
    void add(const std::string &name, const std::string &value)
    {
        m_all[name] = value;
        std::fprintf(stderr, "\r%zu outputs", m_all.size());
    }
    void print() const
    {
        for (const auto &[name, value] : m_all) {
            std::printf("%s  %s\n", value.c_str(), name.c_str());
        }
    }
    /// \return how many differ from those of \p path
    int compare(const fs::path &path) const
    {
        std::map<std::string, std::string> before;
        std::ifstream file(path);
        for (std::string line; std::getline(file, line);) {
            if (const auto gap = line.find("  "); gap != std::string::npos) {
                before[line.substr(gap + 2)] = line.substr(0, gap);
            }
        }
        int differ = 0;
        for (const auto &[name, value] : m_all) {
            const auto old = before.find(name);
            if (old == before.end() || old->second != value) {
                std::printf("%s: %s, was %s\n", name.c_str(), value.c_str(),
                            old == before.end() ? "not there" : old->second.c_str());
                ++differ;
            }
        }
        for (const auto &[name, value] : before) {
            if (m_all.count(name) == 0) {
                std::printf("%s: gone\n", name.c_str());
                ++differ;
            }
        }
        std::printf("%zu outputs, %d differ\n", m_all.size(), differ);
        return differ;
    }

private:
    std::map<std::string, std::string> m_all;
};

void take_folder(Lines &lines, const std::string &name, const fs::path &folder)
{
    for (const fs::directory_entry &entry : fs::directory_iterator(folder)) {
        lines.add(name + "/" + entry.path().filename().string(), digest(entry.path()));
    }
    fs::remove_all(folder);
}

/// Films, plates, the PDF and the print's colours of one job; a failure is a line too.
void take_job(Lines &lines, const std::string &name, OpenedJob opened, const fs::path &scratch)
{
    for (int kind = 0; kind <= static_cast<int>(DamageKind::Painting); ++kind) {
        opened.job.accepted.push_back(
            {damaged_check, opened.job.page, to_string(static_cast<DamageKind>(kind)), "bytes"});
    }
    opened.job.film.resolution = Dpi(450);
    OutputRequest request;
    request.label.date = "2000-01-01";
    request.blank_too = true; // every plate counts here
    request.folder = scratch / "films";
    if (const auto films = write_films(opened, request); films) {
        take_folder(lines, name + "/films", request.folder);
    } else {
        lines.add(name + "/films", films.error().reason);
    }
    request.folder = scratch / "plates";
    if (const auto plates = write_plates(opened, Dpi(120), PageBox::Media, request); plates) {
        take_folder(lines, name + "/plates", request.folder);
    } else {
        lines.add(name + "/plates", plates.error().reason);
    }
    const fs::path pdf = scratch / "plates.pdf";
    if (const auto made = compose_pdf(opened, pdf); made) {
        lines.add(name + "/plates.pdf", digest(pdf));
        fs::remove(pdf);
    } else {
        lines.add(name + "/plates.pdf", made.error().reason);
    }
    // Every plate by itself and all of them together, solid and half.
    std::string colours;
    for (std::size_t i = 0; i <= opened.job.plates.size(); ++i) {
        for (const double tone : {0.5, 1.0}) {
            std::vector<double> tones(opened.job.plates.size(), i == opened.job.plates.size() ? tone : 0.0);
            if (i < tones.size()) {
                tones[i] = tone;
            }
            const Lab seen = estimate_print(opened.job, tones, *ProcessProfile::fogra39()).print();
            char text[64];
            std::snprintf(text, sizeof text, "%.3f,%.3f,%.3f;", seen.l, seen.a, seen.b);
            colours += text;
        }
    }
    std::ofstream(scratch / "colours") << colours;
    lines.add(name + "/colours", digest(scratch / "colours"));
}

/// Decisions from a seed; the generator's own numbers, since distributions differ between libraries.
class Random
{
public:
    explicit Random(unsigned seed) : m_random(seed) {}
    std::size_t below(std::size_t count) { return count == 0 ? 0 : m_random() % count; }
    bool chance(unsigned percent) { return m_random() % 100 < percent; }
    double between(double low, double high)
    {
        return low + (high - low) * static_cast<double>(m_random() % 1001) / 1000.0;
    }

private:
    std::mt19937 m_random;
};

Outcome<OpenedJob> random_job(unsigned seed)
{
    static const char *artworks[] = {"night-tote.pdf",  "handbill.pdf",   "trail-card.pdf",
                                     "trail-token.pdf", "moth-badge.png", "trail-card-messy.pdf"};
    Random random(seed);
    auto opened = open_job_or_artwork(demo / artworks[random.below(std::size(artworks))]);
    if (!opened) {
        return opened.error();
    }
    Job &job = opened->job;
    if (random.chance(30)) {
        const auto other = Artwork::open(demo / artworks[random.below(std::size(artworks))], {});
        if (!other) {
            return other.error();
        }
        PlacedArtwork placed;
        placed.name = "placed";
        placed.original = *other;
        placed.on_page = job.page;
        placed.x = random.between(0, 40);
        placed.y = random.between(0, 40);
        placed.scale = random.between(0.2, 0.8);
        placed.turn = static_cast<int>(random.below(4));
        placed.overprints = random.chance(40);
        job.placements.artworks = {placed};
        job.placements.below = random.below(2);
        auto assembled = assemble(opened->artwork, job.placements);
        if (!assembled) {
            return assembled.error();
        }
        opened->artwork = std::move(*assembled);
    }
    const auto content = opened->artwork->interpret(job.page, PageBox::Media);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content);
    if (!scene) {
        return scene.error();
    }
    const bool many = random.chance(20); // as many inks as there can be beside each other, and more
    const std::size_t routes = many ? 31 : random.below(6);
    for (std::size_t i = 0; i < routes && !scene->colours.empty(); ++i) {
        Route route = route_from(*scene, job.page, {static_cast<int>(random.below(scene->colours.size()))},
                                 random.between(1, 20));
        const std::size_t end = many ? 0 : random.below(6);
        if (end == 4) {
            route.to = RouteTo::Process;
        } else if (end == 5) {
            route.to = random.chance(50) ? RouteTo::BareStock : RouteTo::Nothing;
        } else {
            const std::string ink = many || random.chance(50) || job.plates.empty()
                                        ? "Ink " + std::to_string(i)
                                        : job.plates[random.below(job.plates.size())].ink;
            route.targets = {{ink, random.chance(50), random.between(0.2, 1), {}}};
        }
        job = with_route(std::move(job), std::move(route));
    }
    for (std::size_t i = 0; i < 31 && many; ++i) {
        const std::string ink = "Ink " + std::to_string(i);
        if (job.find_plate(ink) < 0) {
            job.plates.push_back(
                propose_plate(job.plates, ink, InkUse::Spot, {random.between(20, 90), 20, 0}));
        }
    }
    PresetTable table;
    for (const Plate &plate : job.plates) {
        table.inks.push_back(plate.ink);
    }
    const std::vector<RecipePreset> presets = recipe_presets(table);
    for (std::size_t i = 0, count = random.below(3); i < count; ++i) {
        const RecipePreset &preset = presets[random.below(presets.size())];
        Plate plate =
            propose_plate(job.plates, preset.ink + " " + std::to_string(i), preset.use, preset.solid);
        plate.recipe = preset.recipe;
        plate.printing.hits = 1 + static_cast<int>(random.below(3));
        plate.printing.wet = random.chance(30);
        if (auto added = add_plate(job, plate)) {
            job = move_plate(std::move(*added), job.plates.size(), random.below(job.plates.size()));
        }
    }
    job.stock.colour = {random.between(10, 98), random.between(-10, 10), random.between(-10, 20)};
    job.stock.clear = random.chance(20);
    job.stock.behind = random.chance(50);
    return opened;
}

} // namespace

int main(int argc, char **argv)
{
    const std::string mode = argc > 1 ? argv[1] : "";
    if (argc > 1 && (argc != 3 || mode != "--compare")) {
        std::fprintf(stderr, "usage: bichrom-bytes [--compare FILE]\n");
        return 2;
    }
    const fs::path scratch = fs::temp_directory_path() / ("bichrom-bytes-" + std::to_string(::getpid()));
    fs::create_directories(scratch);
    Lines lines;
    for (const char *name : {"night-tote.pdf", "night-tote.bichrom", "handbill.pdf", "handbill.bichrom",
                             "trail-card.pdf", "trail-card.bichrom", "trail-card-messy.pdf",
                             "trail-token.pdf", "trail-token.bichrom", "moth-badge.png"}) {
        if (auto opened = open_job_or_artwork(demo / name)) {
            take_job(lines, name, std::move(*opened), scratch);
        } else {
            lines.add(name, opened.error().reason);
        }
    }
    for (unsigned seed = 1; seed <= 40; ++seed) {
        const std::string name = "random " + std::to_string(seed);
        if (auto opened = random_job(seed)) {
            take_job(lines, name, std::move(*opened), scratch);
        } else {
            lines.add(name, opened.error().reason);
        }
    }
    fs::remove_all(scratch);
    std::fprintf(stderr, "\n");
    if (mode == "--compare") {
        return lines.compare(argv[2]) == 0 ? 0 : 1;
    }
    lines.print();
    return 0;
}
