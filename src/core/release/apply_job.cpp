#include "core/release/apply_job.h"

#include "core/artwork/page_boxes.h"
#include "core/base/atomic_file.h"
#include "core/base/file_name.h"
#include "core/job/replace_artwork.h"
#include "core/job/routing.h"
#include "core/output/compose.h"
#include "core/report/page_pictures.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numeric>

namespace bichrom {

namespace {

namespace fs = std::filesystem;

constexpr std::array<ApplyDo, 4> all_deeds = {ApplyDo::Film, ApplyDo::Plates, ApplyDo::Compose, ApplyDo::Job};

std::string listed(const std::vector<std::string> &names)
{
    std::string text;
    for (const std::string &name : names) {
        text += (text.empty() ? "" : ", ") + name;
    }
    return text;
}

Outcome<std::pair<double, double>> first_size(const Artwork &artwork)
{
    const auto info = artwork.page_info(1);
    if (!info) {
        return info.error();
    }
    const Rect box = box_within(*info, PageBox::Media, PageBox::Media);
    return std::pair(box.width, box.height);
}

std::vector<std::string> lost_colours(const Job &job, const std::map<int, Scene> &scenes)
{
    std::vector<std::string> lost;
    for (const auto &[page, scene] : scenes) {
        Job turned = job;
        turned.page = page;
        each_reach(scene, turned, [&, number = page, &from = scene](int colour, const Reach &reach) {
            if (reach.lost()) {
                std::string words =
                    scenes.size() > 1 ? "page " + std::to_string(number) + ": " : std::string();
                words += describe(from.colours[static_cast<std::size_t>(colour)].colour);
                if (std::find(lost.begin(), lost.end(), words) == lost.end()) {
                    lost.push_back(std::move(words));
                }
            }
        });
    }
    return lost;
}

} // namespace

const char *to_string(ApplyDo what)
{
    static constexpr const char *names[] = {"film", "plates", "compose", "job"};
    return names[static_cast<std::size_t>(what)];
}

Outcome<ApplyDo> parse_apply_do(std::string_view name)
{
    for (const ApplyDo what : all_deeds) {
        if (name == to_string(what)) {
            return what;
        }
    }
    return Error{ErrorCode::OutOfRange,
                 "'" + std::string(name) + "' cannot be made of files.",
                 {},
                 "Use one of: film, plates, compose, job."};
}

std::vector<std::string> ApplyExceptions::words() const
{
    std::vector<std::string> words;
    if (!lost.empty()) {
        words.push_back("prints on no plate: " + listed(lost));
    }
    if (!new_inks.empty()) {
        words.push_back("new inks, on plates of their own: " + listed(new_inks));
    }
    if (!idle.empty()) {
        words.push_back("nothing of it is in: " + listed(idle));
    }
    if (routes_without > 0) {
        words.push_back(std::to_string(routes_without) +
                        (routes_without == 1 ? " route finds nothing" : " routes find nothing"));
    }
    if (!size.empty()) {
        words.push_back("size " + size);
    }
    return words;
}

Outcome<JobPattern> JobPattern::make(OpenedJob opened, const JobControl &control)
{
    JobPattern pattern;
    auto scenes = all_scenes(*opened.artwork, opened.job.colours, control);
    if (!scenes) {
        return scenes.error();
    }
    const auto size = first_size(*opened.artwork);
    if (!size) {
        return size.error();
    }
    pattern.m_scenes = std::move(*scenes);
    std::tie(pattern.m_width, pattern.m_height) = *size;
    pattern.m_opened = std::move(opened);
    return pattern;
}

Outcome<OpenedJob> JobPattern::on(const fs::path &file, ApplyExceptions &exceptions,
                                  const JobControl &control) const
{
    ReadingOptions options;
    options.assumed_ppi = m_opened.job.assumed_ppi;
    auto artwork = Artwork::open(file, options, control);
    if (!artwork) {
        return artwork.error();
    }
    Job job = m_opened.job;
    job.placements.artworks.clear();
    job.placements.below = 0;
    job.accepted.clear();
    job.questions.clear();
    job.change_states.clear();
    job.pins.clear();
    job.name = file.stem().string();
    if (!(job.placements == Placements())) { // its scale, and bleed that is made
        artwork = assemble(*artwork, job.placements);
        if (!artwork) {
            return artwork.error();
        }
    }
    const auto scenes = all_scenes(**artwork, job.colours, control);
    if (!scenes) {
        return scenes.error();
    }
    const std::vector<std::string> before = job.inks();
    Replacement made = carry_over(std::move(job), m_scenes, *scenes);
    made.job.page = 1;
    exceptions.routes_without = static_cast<int>(made.dropped.size());
    const std::vector<std::string> now = made.job.inks();
    for (const std::string &ink : now) {
        if (std::find(before.begin(), before.end(), ink) == before.end()) {
            exceptions.new_inks.push_back(ink);
        }
    }
    for (const std::string &ink : before) {
        if (std::find(now.begin(), now.end(), ink) == now.end()) {
            exceptions.idle.push_back(ink);
        }
    }
    exceptions.lost = lost_colours(made.job, *scenes);
    const auto size = first_size(**artwork);
    if (!size) {
        return size.error();
    }
    constexpr double same = 0.1; // mm
    if (std::fabs(size->first - m_width) > same || std::fabs(size->second - m_height) > same) {
        exceptions.size = format_number(size->first, 1) + " × " + format_number(size->second, 1) +
                          " mm, not " + format_number(m_width, 1) + " × " + format_number(m_height, 1) +
                          " mm";
    }
    return OpenedJob{std::move(made.job), *artwork, (*artwork)->warnings()};
}

Applied apply_job(const JobPattern &pattern, const fs::path &file, ApplyDo what, const ApplyRequest &how,
                  const JobControl &control)
{
    Applied applied;
    applied.file = file;
    const auto opened = pattern.on(file, applied.exceptions, control);
    if (!opened) {
        applied.written = opened.error();
        return applied;
    }
    if (how.thumbnail > 0) {
        if (auto picture = picture_of_print(*opened, how.thumbnail, {}, control); picture) {
            applied.thumbnail = std::move(*picture);
        }
    }
    PageList pages(static_cast<std::size_t>(opened->artwork->page_count()));
    std::iota(pages.begin(), pages.end(), 1);
    std::vector<std::string> written;
    if (what == ApplyDo::Job || what == ApplyDo::Compose) {
        const fs::path target = free_path(how.folder, how.name, what == ApplyDo::Job ? ".bichrom" : ".pdf");
        Done done = prepare_folder(how.folder);
        if (done && what == ApplyDo::Job) {
            done = save_job(target, opened->job, *opened->artwork);
        } else if (done) {
            ComposeRequest request;
            request.pages = pages;
            request.accept_damage = how.accept_damage;
            request.date = how.date;
            const auto made = compose_pdf(*opened, target, request, control);
            done = made ? Done() : Done(made.error());
        }
        if (!done) {
            applied.written = done.error();
            return applied;
        }
        written.push_back(target.string());
    } else {
        OutputRequest request;
        request.folder = how.folder / how.name;
        request.label.date = how.date;
        const auto sets =
            write_pages(*opened, pages, request, how.accept_damage,
                        what == ApplyDo::Film ? PageWriter(write_films) : plate_writer(), control);
        if (!sets) {
            applied.written = sets.error();
            return applied;
        }
        for (const Manifest &set : *sets) {
            for (const WrittenPlate &plate : set.plates) {
                const fs::path own =
                    pages.size() > 1 ? request.folder / ("page-" + std::to_string(set.page)) : request.folder;
                if (const std::string path = (own / plate.file).string();
                    written.empty() || written.back() != path) {
                    written.push_back(path);
                }
            }
        }
    }
    applied.written = std::move(written);
    return applied;
}

Done may_be_watched(const fs::path &watched, const fs::path &written)
{
    const auto place = [](const fs::path &folder) { // one that is not there yet has one as well
        std::error_code fault;
        return (fs::weakly_canonical(folder, fault) / "").lexically_normal();
    };
    const bool same = place(watched) == place(written);
    return same ? Done(Error{ErrorCode::OutOfRange, "What is written would be taken for what comes in.",
                             watched.string(), "Write into another folder than the watched one."})
                : Done();
}

std::vector<std::string> apply_names(const std::vector<fs::path> &files)
{
    std::vector<std::string> names;
    for (const fs::path &file : files) {
        names.push_back(file.stem().string());
    }
    return distinct_file_names(names);
}

} // namespace bichrom
