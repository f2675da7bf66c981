#include "core/job/job_file.h"

#include "core/job/edits/reading.h"

#include "core/base/atomic_file.h"
#include "core/job/area_json.h"
#include "core/job/film_json.h"
#include "core/job/recipe_json.h"
#include "core/job/route_json.h"
#include "core/job/traits_json.h"
#include "core/job/trap_json.h"

#include <nlohmann/json.hpp>
#include <zip.h>

#include <algorithm>
#include <cerrno>
#include <cstring>
#include <functional>
#include <map>

namespace bichrom {

using nlohmann::json;

namespace {

constexpr int format_version = 13;
constexpr const char *json_entry = "job.json";
constexpr const char *condition_entry = "profiles/condition.icc";
constexpr const char *rgb_entry = "profiles/rgb.icc";
constexpr zip_uint64_t largest_entry = zip_uint64_t(2) << 30;

Error not_a_job(const std::string &place, const std::string &why)
{
    return {ErrorCode::WrongFormat, "This is not a readable job (" + why + ").", place,
            "Open the artwork itself, or an earlier copy of the job."};
}

struct ZipHandle
{
    zip_t *zip = nullptr;
    ~ZipHandle()
    {
        if (zip != nullptr) {
            zip_discard(zip);
        }
    }
};

Outcome<std::vector<std::byte>> read_entry(zip_t *zip, const char *name, const std::string &place)
{
    zip_stat_t stat;
    zip_stat_init(&stat);
    if (zip_stat(zip, name, 0, &stat) != 0 || (stat.valid & ZIP_STAT_SIZE) == 0) {
        return not_a_job(place, std::string("it has no ") + name);
    }
    if (stat.size > largest_entry) {
        return Error{ErrorCode::TooLarge, "The artwork inside is larger than 2 GB.", place, {}};
    }
    zip_file_t *file = zip_fopen(zip, name, 0);
    if (file == nullptr) {
        return not_a_job(place, std::string(name) + " cannot be opened");
    }
    std::vector<std::byte> bytes(static_cast<std::size_t>(stat.size));
    std::size_t done = 0;
    while (done < bytes.size()) {
        const zip_int64_t count = zip_fread(file, bytes.data() + done, bytes.size() - done);
        if (count <= 0) {
            break;
        }
        done += static_cast<std::size_t>(count);
    }
    std::byte beyond{};
    const bool whole =
        done == bytes.size() && zip_fread(file, &beyond, 1) == 0; // its sum is looked at at the end only
    zip_fclose(file);
    if (!whole) {
        return not_a_job(place, std::string(name) + " is damaged");
    }
    return bytes;
}

/// Where the original stands in the archive, with an ending that its kind usually has.
std::string artwork_entry(const Artwork &artwork, int id = 0)
{
    static const std::map<InputKind, const char *> endings = {
        {InputKind::Pdf, ".pdf"}, {InputKind::PostScript, ".ps"}, {InputKind::Eps, ".eps"},
        {InputKind::Svg, ".svg"}, {InputKind::Png, ".png"},       {InputKind::Jpeg, ".jpg"},
        {InputKind::Tiff, ".tif"}};
    const auto ending = endings.find(artwork.kind());
    return (id == 0 ? std::string("artwork/original") : "artwork/placed-" + std::to_string(id)) +
           (ending == endings.end() ? "" : ending->second);
}

/// The artworks placed in a job, opened. \p read gives the bytes of an entry.
Outcome<Placements>
read_placements(const json &placed,
                const std::function<Outcome<std::vector<std::byte>>(const std::string &)> &read,
                const ReadingOptions &options, const std::string &place, const JobControl &control)
{
    try {
        Placements placements;
        placements.scale = placed.value("scale", 1.0); // since version 8
        if (placed.contains("bleed")) {                // since version 12
            const json &bleed = placed.at("bleed");
            const auto by = parse_bleed_by(bleed.at("by").get<std::string>());
            if (!by) {
                return not_a_job(place, "how its bleed is made is unknown");
            }
            placements.bleed = {bleed.at("mm").get<double>(), *by};
        }
        placements.below = placed.at("below").get<std::size_t>();
        for (const json &entry : placed.at("artworks")) {
            PlacedArtwork one;
            one.id = entry.at("id").get<int>();
            one.name = entry.at("name").get<std::string>();
            one.page = entry.at("page").get<int>();
            one.on_page = entry.at("on_page").get<int>();
            one.x = entry.at("x_mm").get<double>();
            one.y = entry.at("y_mm").get<double>();
            one.scale = entry.at("scale").get<double>();
            one.turn = entry.at("turn").get<int>() / 90;
            one.overprints = entry.at("overprints").get<bool>();
            one.prints = entry.value("prints", true); // since version 5
            auto bytes = read(entry.at("entry").get<std::string>());
            if (!bytes) {
                return bytes.error();
            }
            auto original = Artwork::open_bytes(std::move(*bytes), one.name, options, control);
            if (!original) {
                Error error = original.error();
                error.place = place + " (" + one.name + ")";
                return error;
            }
            one.original = *original;
            const auto same_id = [&](const PlacedArtwork &other) { return other.id == one.id; };
            if (one.id < 1 || std::any_of(placements.artworks.begin(), placements.artworks.end(), same_id)) {
                return not_a_job(place, "two of its artworks have one number");
            }
            placements.artworks.push_back(std::move(one));
        }
        if (placements.below > placements.artworks.size()) {
            return not_a_job(place, "its artworks are in no order");
        }
        return placements;
    } catch (const json::exception &) {
        return not_a_job(place, "what is placed in it is damaged");
    }
}

} // namespace

bool is_job_file(const std::filesystem::path &path)
{
    return path.extension() == ".bichrom";
}

namespace {

json stock_to_json(const Stock &stock)
{
    return {{"name", stock.name},     {"lab", {stock.colour.l, stock.colour.a, stock.colour.b}},
            {"clear", stock.clear},   {"absorbs", stock.absorbs},
            {"behind", stock.behind}, {"reflectance", stock.reflectance ? json(*stock.reflectance) : json()}};
}

/// Throws as the JSON library does.
Stock stock_from_json(const json &entry)
{
    Stock stock;
    const auto lab = entry.at("lab").get<std::array<double, 3>>();
    stock.name = entry.at("name").get<std::string>();
    stock.colour = {lab[0], lab[1], lab[2]};
    stock.clear = entry.at("clear").get<bool>();
    stock.absorbs = entry.value("absorbs", false); // since version 5, as what follows
    stock.behind = entry.value("behind", false);
    if (const json measured = entry.value("reflectance", json()); !measured.is_null()) {
        stock.reflectance = measured.get<Spectrum>();
    }
    return stock;
}

} // namespace

std::string job_to_json(const Job &job, const Artwork &artwork)
{
    json accepted = json::array();
    for (const AcceptedFinding &one : job.accepted) {
        accepted.push_back(
            {{"check", one.check}, {"page", one.page}, {"subject", one.subject}, {"reason", one.reason}});
    }
    json questions = json::array();
    for (const Question &one : job.questions) {
        questions.push_back(
            {{"check", one.check}, {"page", one.page}, {"subject", one.subject}, {"words", one.words}});
    }
    json pins = json::array();
    for (const Pin &pin : job.pins) {
        pins.push_back({pin.x, pin.y, pin.width, pin.height, pin.page});
    }
    json states = json::object();
    for (const auto &[key, state] : job.change_states) {
        states[key] = to_string(state);
    }
    json plates = json::array();
    for (const Plate &plate : job.plates) {
        plates.push_back({{"ink", plate.ink},
                          {"kind", to_string(plate.kind)},
                          {"solid_lab", {plate.solid.l, plate.solid.a, plate.solid.b}},
                          {"traits", traits_to_json(plate.traits)},
                          {"recipe", recipe_to_json(plate.recipe)},
                          {"recipe_pages", plate.recipe_pages},
                          {"tin", plate.tin},
                          {"uncoloured", plate.uncoloured},
                          {"hits", plate.printing.hits},
                          {"wet", plate.printing.wet},
                          {"flash", plate.printing.flash},
                          {"mesh_per_cm", plate.printing.mesh},
                          {"deposit_cm3_m2", plate.printing.deposit},
                          {"squeegee", plate.printing.squeegee}});
        add_screen_json(plates.back(), plate.screen, plate.press);
    }
    json placed = json::array();
    for (const PlacedArtwork &one : job.placements.artworks) {
        placed.push_back({{"id", one.id},
                          {"name", one.name},
                          {"entry", artwork_entry(*one.original, one.id)},
                          {"sha256", one.original->sha256()},
                          {"page", one.page},
                          {"on_page", one.on_page},
                          {"x_mm", one.x},
                          {"y_mm", one.y},
                          {"scale", one.scale},
                          {"turn", one.turn * 90},
                          {"overprints", one.overprints},
                          {"prints", one.prints}});
    }
    json page_stocks = json::array();
    for (const auto &[page, stock] : job.page_stocks) {
        page_stocks.push_back({{"page", page}, {"stock", stock_to_json(stock)}});
    }
    const json root = {
        {"format", "bichrom job"},
        {"version", format_version},
        {"name", job.name},
        {"artwork",
         {{"entry", artwork_entry(artwork)},
          {"name", std::filesystem::path(artwork.name()).filename().string()},
          {"sha256", artwork.sha256()},
          {"page", job.page}}},
        {"placed",
         {{"scale", job.placements.scale},
          {"bleed", {{"mm", job.placements.bleed.width}, {"by", to_string(job.placements.bleed.by)}}},
          {"below", job.placements.below},
          {"artworks", placed}}},
        {"plates", plates},
        {"routes", routes_to_json(job.routes)},
        {"rules", job.rules},
        {"accepted", accepted},
        {"questions", questions},
        {"change_states", states},
        {"stock", stock_to_json(job.stock)},
        {"page_stocks", page_stocks},
        {"pins", pins},
        {"areas", areas_to_json(job.areas)},
        {"removed", job.removed},
        {"meant_angles", job.meant_angles},
        {"traps", traps_to_json(job.traps)},
        {"overprint", overprint_to_json(job.overprint)},
        {"run", run_to_json(job.run)},
        {"reading",
         {{"assumed_ppi", job.assumed_ppi},
          {"intent", to_string(job.colours.rendering.intent)},
          {"black_point", job.colours.rendering.black_point},
          {"convert_cmyk", job.colours.convert_cmyk},
          {"condition", job.colours.condition != nullptr ? json(condition_entry) : json()},
          {"untagged_rgb", job.colours.untagged_rgb != nullptr ? json(rgb_entry) : json()}}},
        {"film", film_to_json(job.film)}};
    return root.dump(2, ' ', false, json::error_handler_t::replace) + "\n";
}

Outcome<Job> job_from_json(const std::string &text, const std::string &place)
{
    const json root = json::parse(text, nullptr, false);
    if (!root.is_object() || root.value("format", json()) != "bichrom job") {
        return not_a_job(place, "job.json is damaged");
    }
    try {
        if (const int version = root.at("version").get<int>(); version > format_version) {
            return Error{ErrorCode::NewerVersion,
                         "The job was saved by a newer version of Bichrom (format " +
                             std::to_string(version) + ", this one reads " + std::to_string(format_version) +
                             ").",
                         place, "Update Bichrom, or ask for the films or the artwork instead."};
        }
        Job job;
        job.name = root.at("name").get<std::string>();
        job.page = root.at("artwork").at("page").get<int>();
        for (const json &entry : root.at("plates")) {
            Plate plate;
            plate.ink = entry.at("ink").get<std::string>();
            const auto kind = parse_ink_use(entry.at("kind").get<std::string>());
            if (!kind) {
                return not_a_job(place, kind.error().reason);
            }
            plate.kind = *kind;
            const auto lab = entry.at("solid_lab").get<std::vector<double>>();
            if (lab.size() != 3) {
                return not_a_job(place, "an ink has no colour");
            }
            plate.solid = {lab[0], lab[1], lab[2]};
            if (const Done read = read_screen_json(entry, plate.screen, plate.press); !read) {
                return not_a_job(place, read.error().reason);
            }
            auto traits = entry.contains("traits") ? traits_from_json(entry.at("traits")) // since version 4
                                                   : Outcome<InkTraits>(usual_traits(plate.kind));
            if (!traits) {
                return not_a_job(place, traits.error().reason);
            }
            plate.traits = std::move(*traits);
            if (entry.contains("hits")) { // since version 4
                plate.printing = {
                    entry.at("hits").get<int>(),           entry.at("wet").get<bool>(),
                    entry.at("flash").get<bool>(),         entry.at("mesh_per_cm").get<double>(),
                    entry.value("deposit_cm3_m2", 0.0),      // since version 9
                    entry.value("squeegee", std::string())}; // since version 9
            }
            if (entry.contains("recipe")) { // since version 4
                auto recipe = recipe_from_json(entry.at("recipe"));
                if (!recipe) {
                    return not_a_job(place, recipe.error().reason);
                }
                plate.recipe = std::move(*recipe);
            }
            plate.tin = entry.value("tin", std::string());                // since version 5
            plate.uncoloured = entry.value("uncoloured", false);          // since version 6
            plate.recipe_pages = entry.value("recipe_pages", PageList()); // since version 6
            std::sort(plate.recipe_pages.begin(), plate.recipe_pages.end());
            if (plate.printing.hits < 1 || plate.printing.hits > 3 ||
                !(plate.printing.mesh >= 0 && plate.printing.mesh <= 1000) ||
                !(plate.printing.deposit >= 0 && plate.printing.deposit <= 1000)) {
                return not_a_job(place, "a plate is printed in an impossible way");
            }
            if (job.find_plate(plate.ink) >= 0) {
                return not_a_job(place, "it has two plates of the ink " + plate.ink);
            }
            job.plates.push_back(std::move(plate));
        }
        if (root.contains("routes")) { // since version 3
            auto routes = routes_from_json(root.at("routes"));
            if (!routes) {
                return not_a_job(place, routes.error().reason);
            }
            job.routes = std::move(*routes);
        }
        if (root.contains("traps")) { // since version 7
            auto traps = traps_from_json(root.at("traps"));
            if (!traps) {
                return not_a_job(place, traps.error().reason);
            }
            job.traps = std::move(*traps);
            auto overprint = overprint_from_json(root.at("overprint"));
            if (!overprint) {
                return not_a_job(place, overprint.error().reason);
            }
            job.overprint = std::move(*overprint);
        }
        if (root.contains("run")) { // since version 9
            auto run = run_from_json(root.at("run"));
            if (!run) {
                return not_a_job(place, run.error().reason);
            }
            job.run = std::move(*run);
        }
        auto film = film_from_json(root.at("film"));
        if (!film) {
            return not_a_job(place, film.error().reason);
        }
        job.film = std::move(*film);
        if (root.contains("reading")) { // since version 2
            const json &reading = root.at("reading");
            job.assumed_ppi = reading.at("assumed_ppi").get<double>();
            const auto intent = parse_rendering_intent(reading.at("intent").get<std::string>());
            if (!intent || !(job.assumed_ppi >= 1 && job.assumed_ppi <= 10000)) {
                return not_a_job(place, "its way of reading colours is unknown");
            }
            job.colours.rendering = {*intent, reading.at("black_point").get<bool>()};
            job.colours.convert_cmyk = reading.at("convert_cmyk").get<bool>();
            job.rules = root.at("rules").get<std::string>();
            for (const json &one : root.at("accepted")) {
                job.accepted.push_back({one.at("check").get<std::string>(), one.at("page").get<int>(),
                                        one.at("subject").get<std::string>(),
                                        one.at("reason").get<std::string>()});
            }
            for (const json &one : root.at("questions")) {
                job.questions.push_back({one.at("check").get<std::string>(), one.at("page").get<int>(),
                                         one.at("subject").get<std::string>(),
                                         one.at("words").get<std::string>()});
            }
            job.stock = stock_from_json(root.at("stock"));
            for (const json &one : root.value("page_stocks", json::array())) { // since version 6
                job.page_stocks[one.at("page").get<int>()] = stock_from_json(one.at("stock"));
            }
            job.removed = root.value("removed", std::vector<std::string>());
            job.meant_angles = root.value("meant_angles", decltype(job.meant_angles)()); // since version 10
            for (const json &one : root.at("pins")) {
                const auto pin = one.get<std::vector<double>>();
                job.pins.push_back({pin.at(0), pin.at(1), pin.at(2), pin.at(3),
                                    pin.size() > 4 ? static_cast<int>(pin[4]) : job.page}); // since version 6
            }
            auto areas = areas_from_json(root.value("areas", json::array())); // since version 12
            if (!areas) {
                return not_a_job(place, areas.error().reason);
            }
            job.areas = std::move(*areas);
            for (const auto &[key, value] : root.at("change_states").items()) {
                const auto state = parse_change_state(value.get<std::string>());
                if (!state) {
                    return not_a_job(place, state.error().reason);
                }
                job.change_states[key] = *state;
            }
        }
        return job;
    } catch (const json::exception &) {
        return not_a_job(place, "job.json lacks something or holds a wrong value");
    }
}

Done save_job(const std::filesystem::path &path, const Job &job, const Artwork &artwork)
{
    AtomicFile part(path);
    int fault = 0;
    ZipHandle handle;
    handle.zip = zip_open(part.path().c_str(), ZIP_CREATE | ZIP_TRUNCATE, &fault);
    if (handle.zip == nullptr) {
        return write_error(path, errno);
    }
    const std::string text = job_to_json(job, artwork);
    const std::span<const std::byte> original = artwork.bytes();
    const auto add = [&](const char *name, const void *data, std::size_t size) {
        zip_source_t *source = zip_source_buffer(handle.zip, data, size, 0);
        if (source == nullptr) {
            return false;
        }
        const zip_int64_t index = zip_file_add(handle.zip, name, source, ZIP_FL_ENC_UTF_8);
        if (index < 0) {
            zip_source_free(source);
            return false;
        }
        // The same job gives the same bytes on another day.
        constexpr time_t any_day = 946684800 + 12 * 3600;
        const auto entry = static_cast<zip_uint64_t>(index);
        return zip_file_set_mtime(handle.zip, entry, any_day, 0) == 0 &&
               zip_set_file_compression(handle.zip, entry, ZIP_CM_DEFLATE, 6) == 0;
    };
    const auto add_placed = [&] {
        const auto &placed = job.placements.artworks;
        return std::all_of(placed.begin(), placed.end(), [&](const PlacedArtwork &one) {
            const std::span<const std::byte> bytes = one.original->bytes();
            return add(artwork_entry(*one.original, one.id).c_str(), bytes.data(), bytes.size());
        });
    };
    const auto add_profile = [&](const char *name, const ProfileBytes &profile) {
        return profile == nullptr || add(name, profile->data(), profile->size());
    };
    if (!add(json_entry, text.data(), text.size()) ||
        !add(artwork_entry(artwork).c_str(), original.data(), original.size()) || !add_placed() ||
        !add_profile(condition_entry, job.colours.condition) ||
        !add_profile(rgb_entry, job.colours.untagged_rgb)) {
        return Error{ErrorCode::Internal, "The job cannot be packed.", path.string(),
                     "Save under another name."};
    }
    errno = 0;
    if (zip_close(handle.zip) != 0) {
        const int system_fault = zip_error_code_system(zip_get_error(handle.zip));
        return write_error(path, system_fault != 0 ? system_fault : errno);
    }
    handle.zip = nullptr; // closed
    return part.commit();
}

Outcome<OpenedJob> open_job(const std::filesystem::path &path, const ReadingOptions &options,
                            const JobControl &control)
{
    const auto bytes = read_file(path);
    if (!bytes) {
        return bytes.error();
    }
    zip_error_t fault;
    zip_error_init(&fault);
    zip_source_t *source = zip_source_buffer_create(bytes->data(), bytes->size(), 0, &fault);
    ZipHandle handle;
    handle.zip = source != nullptr ? zip_open_from_source(source, ZIP_RDONLY, &fault) : nullptr;
    zip_error_fini(&fault);
    if (handle.zip == nullptr) {
        if (source != nullptr) {
            zip_source_free(source);
        }
        return not_a_job(path.string(), "it is not a ZIP archive");
    }
    const auto text = read_entry(handle.zip, json_entry, path.string());
    if (!text) {
        return text.error();
    }
    auto job =
        job_from_json(std::string(reinterpret_cast<const char *>(text->data()), text->size()), path.string());
    if (!job) {
        return job.error();
    }
    const json root =
        json::parse(reinterpret_cast<const char *>(text->data()),
                    reinterpret_cast<const char *>(text->data()) + text->size(), nullptr, false);
    const json &about = root["artwork"];
    const auto word = [](const json &object, const char *key, const std::string &otherwise) {
        return object.is_object() && object.contains(key) && object[key].is_string()
                   ? object[key].get<std::string>()
                   : otherwise;
    };
    auto original =
        read_entry(handle.zip, word(about, "entry", "artwork/original.pdf").c_str(), path.string());
    if (!original) {
        return original.error();
    }
    const json reading = root.value("reading", json::object());
    for (const auto &[key, target] : {std::pair("condition", &job->colours.condition),
                                      std::pair("untagged_rgb", &job->colours.untagged_rgb)}) {
        if (const std::string entry = word(reading, key, {}); !entry.empty()) {
            auto profile = read_entry(handle.zip, entry.c_str(), path.string());
            if (!profile) {
                return profile.error();
            }
            *target = std::make_shared<const std::vector<std::byte>>(std::move(*profile));
        }
    }
    const std::string inner = word(about, "name", "artwork");
    ReadingOptions more = options;
    more.assumed_ppi = job->assumed_ppi;
    more.untrusted = true;
    auto artwork = Artwork::open_bytes(std::move(*original), inner, more, control);
    if (!artwork) {
        Error error = artwork.error();
        error.place = path.string() + " (" + inner + ")";
        return error;
    }
    OpenedJob opened{std::move(*job), *artwork, (*artwork)->warnings()};
    if (word(about, "sha256", {}) != (*artwork)->sha256()) {
        opened.warnings.push_back("The artwork in the job is not the one the job was saved with.");
    }
    if (root.contains("placed")) { // since version 4
        const auto read = [&](const std::string &entry) {
            return read_entry(handle.zip, entry.c_str(), path.string());
        };
        auto placements = read_placements(root["placed"], read, more, path.string(), control);
        if (!placements) {
            return placements.error();
        }
        opened.job.placements = std::move(*placements);
        if (!(opened.job.placements == Placements())) {
            auto assembled = assemble(opened.artwork, opened.job.placements);
            if (!assembled) {
                return assembled.error();
            }
            opened.artwork = *assembled;
        }
    }
    return opened;
}

Outcome<OpenedJob> turn_to(OpenedJob opened, int page, const JobControl &control)
{
    const auto content = opened.artwork->interpret(page, PageBox::Media, opened.job.colours, control);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    opened.job.page = page;
    opened.job = with_inks_of(std::move(opened.job), *scene);
    opened.read = *content;
    for (const std::string &warning : (*content)->warnings()) {
        if (std::find(opened.warnings.begin(), opened.warnings.end(), warning) == opened.warnings.end()) {
            opened.warnings.push_back(warning);
        }
    }
    return opened;
}

Outcome<OpenedJob> turn_through(OpenedJob opened, const PageList &pages, const JobControl &control)
{
    const int first = opened.job.page;
    for (const int page : pages) {
        if (page == first) {
            continue;
        }
        auto turned = turn_to(std::move(opened), page, control);
        if (!turned) {
            return turned.error();
        }
        opened = std::move(*turned);
    }
    opened.job.page = first;
    return opened;
}

Outcome<OpenedJob> open_job_or_artwork(const std::filesystem::path &path, int page,
                                       const ReadingOptions &options, const JobControl &control)
{
    if (is_job_file(path)) {
        auto opened = open_job(path, options, control);
        if (!opened || page == 0 || page == opened->job.page) {
            return opened;
        }
        return turn_to(std::move(*opened), page, control);
    }
    const auto artwork = Artwork::open(path, options, control);
    if (!artwork) {
        return artwork.error();
    }
    const int number = page == 0 ? 1 : page;
    const auto content = (*artwork)->interpret(number, PageBox::Media, {}, control);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    OpenedJob opened{propose_job(*scene, path.stem().string(), number), *artwork, (*artwork)->warnings(),
                     *content};
    opened.job.assumed_ppi = options.assumed_ppi;
    const std::vector<std::string> more = (*content)->warnings();
    opened.warnings.insert(opened.warnings.end(), more.begin(), more.end());
    return opened;
}

} // namespace bichrom
