#include "core/preflight/preflight.h"

#include "core/job/job.h"
#include "core/page/picture_samples.h"
#include "core/preflight/check_table.h"
#include "core/preflight/lost_artwork.h"
#include "core/preflight/printed_scene.h"
#include "core/raster/picture_detail.h"

#include <nlohmann/json.hpp>
#include <oneapi/tbb/parallel_for.h>

#include <algorithm>
#include <cmath>
#include <mutex>
#include <set>

namespace bichrom {

namespace {

constexpr double finest_survey = 150.0;
constexpr double most_survey_pixels = 4e6;

/// As fine as is useful, coarser for large pages, and for those of so many large objects that painting them
/// would take long: a hundred thousand lines across the sheet, say. The painter's work goes by the boxes of
/// objects.
Dpi survey_resolution(const PageContent &page, const Scene &scene)
{
    constexpr double coarsest = 18.0;
    constexpr double most_painted = 6e8; // pixels of all boxes together; about a second's work
    double area = 0;
    for (const SceneObject &object : scene.objects) {
        area += object.bounds.width * object.bounds.height;
    }
    const double by_work =
        std::max(coarsest, std::sqrt(most_painted / std::max(1.0, area)) * points_per_inch);
    const double square_inches = page.width().value * page.height().value / points_per_inch / points_per_inch;
    return Dpi(
        std::min({finest_survey, by_work, std::sqrt(most_survey_pixels / std::max(square_inches, 1e-6))}));
}

int rank(const std::string &check)
{
    const auto checks = all_checks();
    const auto found =
        std::find_if(checks.begin(), checks.end(), [&](const CheckInfo &info) { return check == info.name; });
    return static_cast<int>(found - checks.begin());
}

} // namespace

void sort_findings(std::vector<Finding> &findings)
{
    std::stable_sort(findings.begin(), findings.end(), [](const Finding &a, const Finding &b) {
        if (a.is_solved() != b.is_solved()) {
            return b.is_solved();
        }
        if (a.severity != b.severity) {
            return a.severity > b.severity;
        }
        const int ra = rank(a.check);
        const int rb = rank(b.check);
        return ra != rb ? ra < rb : a.page < b.page;
    });
}

namespace {

/// Paints the plates of a page into \p survey.
Done take_survey(const PlateLine &plate_line, PlateSurvey &survey, const JobControl &control)
{
    auto tile = plate_line.whole_page(survey.resolution, Edges::Quick, control);
    if (!tile) {
        return tile.error();
    }
    survey.tile = std::move(*tile);
    return {};
}

/// Runs every check that \p wanted says and the rules do not turn off.
template <typename Wanted>
Done run_checks(CheckContext &context, const ShopRules &rules, const std::string &place,
                const JobControl &control, Wanted wanted)
{
    for (const CheckInfo &check : all_checks()) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", place, {}};
        }
        if (wanted(check) && rules.setting(check.name).severity != Severity::Off) {
            context.begin(check);
            check.run(context);
        }
    }
    return {};
}

bool is_on(const ShopRules &rules, const char *check)
{
    return rules.setting(check).severity != Severity::Off;
}

/// A word for the condition that the job's colours are read in.
std::string condition_word(const ColourSettings &settings)
{
    return settings.condition == nullptr ? "FOGRA39" : std::string();
}

Outcome<std::map<int, double>> find_upscaled(const PageContent &page, const ShopRules &rules,
                                             const JobControl &control)
{
    std::map<int, double> found;
    if (is_on(rules, "image_upscaled")) {
        const Done done = each_picture_sample(
            page,
            [&](int object, const Plane &sample) {
                if (const double times = blown_up(sample); times > 1.4) {
                    found[object] = times;
                }
            },
            control);
        if (!done && done.error().code == ErrorCode::Cancelled) {
            return done.error();
        }
    }
    return found;
}

/// A job that prints the artwork as it came, its plates' kinds told by their names.
Job job_of_artwork(const Scene &scene, int page)
{
    Job job = propose_job(scene, {}, page);
    for (Plate &plate : job.plates) {
        plate.kind = plate.kind == InkUse::Spot ? use_named(plate.ink) : plate.kind;
    }
    return job;
}

/// Plate checks that also make sense of the artwork's own white, varnish, foil and cut lines.
bool fits_artwork(const CheckInfo &check)
{
    static const std::set<std::string> names = {"finish_knocks_out", "finish_thin", "finish_large",
                                                "finish_near_edge",  "under_foil",  "picture_in_line_plate"};
    return names.count(check.name) > 0;
}

PlateSurvey fine_survey(const PageContent &page, std::vector<std::string> inks)
{
    constexpr double finest = 600; // dpi: a line of 0.2 mm is five pixels wide
    constexpr double most_pixels = 16e6;
    const double square_inches = page.width().value * page.height().value / points_per_inch / points_per_inch;
    PlateSurvey survey;
    survey.inks = std::move(inks);
    survey.resolution = Dpi(std::min(finest, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    return survey;
}

} // namespace

Outcome<std::vector<Finding>> check_page(const Artwork &artwork, int page, const ShopRules &rules,
                                         const ColourSettings &settings, const JobControl &control)
{
    const auto info = artwork.page_info(page);
    if (!info) {
        return info.error();
    }
    const auto content = artwork.interpret(page, PageBox::Media, settings, control);
    if (!content) {
        return content.error();
    }
    const auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    const Job own = job_of_artwork(*scene, page);
    PlateSurvey survey;
    survey.inks = own.inks();
    survey.resolution = survey_resolution(**content, *scene);
    if (survey.inks.empty()) {
        survey.inks.push_back("Black"); // an empty page has plates too, all bare
    }
    const auto plate_line = PlateLine::make(*content, survey.inks, control);
    if (!plate_line) {
        return plate_line.error();
    }
    const std::string place = (*content)->place();
    if (const Done done = take_survey(**plate_line, survey, control); !done) {
        return done.error();
    }
    auto upscaled = find_upscaled(**content, rules, control);
    if (!upscaled) {
        return upscaled.error();
    }
    CheckContext context(artwork, *info, *scene, survey, rules);
    context.damage = (*content)->damage();
    context.upscaled = std::move(*upscaled);
    context.condition = condition_word(settings);
    if (const Done done =
            run_checks(context, rules, place, control, [](const CheckInfo &check) { return !check.plates; });
        !done) {
        return done.error();
    }
    std::vector<Finding> findings = context.take();
    const bool finished = std::any_of(own.plates.begin(), own.plates.end(), [](const Plate &plate) {
        return plate.kind != InkUse::Spot && plate.kind != InkUse::Process;
    });
    if (finished) {
        PlateSurvey fine = fine_survey(**content, own.inks());
        if (const Done done = take_survey(**plate_line, fine, control); !done) {
            return done.error();
        }
        CheckContext plates(artwork, *info, *scene, fine, rules, &own);
        if (const Done done = run_checks(plates, rules, place, control, fits_artwork); !done) {
            return done.error();
        }
        for (Finding &finding : plates.take()) {
            findings.push_back(std::move(finding));
        }
    }
    sort_findings(findings);
    return findings;
}

namespace {

Outcome<std::vector<Finding>> plates_of(const Artwork &artwork, const PageInfo &info,
                                        const PlateLine &plate_line, const Scene &scene, const Job &job,
                                        const ShopRules &rules, const JobControl &control)
{
    const PageContent &page = plate_line.page();
    PlateSurvey survey = fine_survey(page, job.inks());
    if (const Done done = take_survey(plate_line, survey, control); !done) {
        return done.error();
    }
    CheckContext context(artwork, info, scene, survey, rules, &job);
    if (const Done done = run_checks(context, rules, page.place(), control,
                                     [](const CheckInfo &check) { return check.plates; });
        !done) {
        return done.error();
    }
    return context.take();
}

Outcome<std::vector<Finding>> printed_of(const Artwork &artwork, const PageInfo &info,
                                         const PlateLine &plate_line, const PrintedScene &printed,
                                         const Job &job, const ShopRules &rules, const JobControl &control)
{
    const PageContent &page = plate_line.page();
    PlateSurvey survey;
    survey.inks = job.inks();
    survey.resolution = survey_resolution(page, printed.scene);
    if (const Done done = take_survey(plate_line, survey, control); !done) {
        return done.error();
    }
    auto upscaled = find_upscaled(page, rules, control);
    if (!upscaled) {
        return upscaled.error();
    }
    CheckContext context(artwork, info, printed.scene, survey, rules, &job);
    context.leaves_no_trace = printed.leaves_no_trace;
    context.upscaled = std::move(*upscaled);
    context.choose_art();
    if (const Done done = run_checks(context, rules, page.place(), control,
                                     [](const CheckInfo &check) { return !check.plates && !check.original; });
        !done) {
        return done.error();
    }
    return context.take();
}

} // namespace

Outcome<std::vector<Finding>> check_plates(const Artwork &artwork,
                                           const std::shared_ptr<const PageContent> &page, const Scene &scene,
                                           const Job &job, const ShopRules &rules, const JobControl &control)
{
    const auto info = artwork.page_info(job.page);
    if (!info) {
        return info.error();
    }
    const auto checks = all_checks();
    if (job.plates.empty() || std::none_of(checks.begin(), checks.end(), [&](const CheckInfo &check) {
            return check.plates && is_on(rules, check.name);
        })) {
        return std::vector<Finding>();
    }
    const auto plate_line = PlateLine::make(page, setup_of(job), control);
    if (!plate_line) {
        return plate_line.error();
    }
    auto findings = plates_of(artwork, *info, **plate_line, scene, job, rules, control);
    if (findings) {
        sort_findings(*findings);
    }
    return findings;
}

Outcome<JobFindings> find_in_job(const Artwork &artwork, const std::shared_ptr<const PageContent> &page,
                                 const Scene &scene, const Job &job, const ShopRules &rules,
                                 const JobControl &control)
{
    JobFindings found;
    if (job.plates.empty()) {
        return found;
    }
    const auto info = artwork.page_info(job.page);
    if (!info) {
        return info.error();
    }
    auto lost = find_lost(page, scene, job, control);
    if (!lost) {
        return lost.error();
    }
    found.lost = std::move(*lost);
    const auto plate_line = PlateLine::make(page, setup_of(job), control);
    if (!plate_line) {
        return plate_line.error();
    }
    auto plates = plates_of(artwork, *info, **plate_line, scene, job, rules, control);
    if (!plates) {
        return plates.error();
    }
    found.plates = std::move(*plates);
    if (changes_artwork(scene, job)) {
        PrintedScene print = printed_scene(scene, job);
        auto printed = printed_of(artwork, *info, **plate_line, print, job, rules, control);
        if (!printed) {
            return printed.error();
        }
        found.printed = std::move(*printed);
        found.routes = std::move(print.routes);
        found.overprint_changed = std::move(print.overprint_changed);
    }
    return found;
}

std::vector<Finding> follow_job(std::vector<Finding> original, const JobFindings &found, const Job &job)
{
    std::vector<Finding> all;
    for (Finding &finding : original) {
        const CheckInfo *check = find_check(finding.check);
        if (check != nullptr && check->plates) {
            continue; // the job's plates have been looked at
        }
        const bool of_original = check == nullptr || check->original || finding.page != job.page;
        if (of_original || !found.printed) {
            all.push_back(std::move(finding));
            continue;
        }
        const bool still_so =
            std::any_of(found.printed->begin(), found.printed->end(), [&](const Finding &one) {
                return one.check == finding.check && one.subject == finding.subject;
            });
        if (still_so) {
            continue; // listed as the job prints it
        }
        finding.solved = "by the job's plates";
        for (const FindingPlace &place : finding.places) {
            if (place.object >= 0 && place.object < static_cast<int>(found.overprint_changed.size()) &&
                found.overprint_changed[static_cast<std::size_t>(place.object)]) {
                finding.solved = "by what the stage Fit says about overprint";
                break;
            }
            const int route = place.object >= 0 && place.object < static_cast<int>(found.routes.size())
                                  ? found.routes[static_cast<std::size_t>(place.object)]
                                  : -1;
            if (route >= 0) {
                const Route &by = job.routes[static_cast<std::size_t>(route)];
                finding.solved = describe_source(by) + " " + describe_end(by);
                break;
            }
        }
        all.push_back(std::move(finding));
    }
    if (found.printed) {
        all.insert(all.end(), found.printed->begin(), found.printed->end());
    }
    for (const Finding &finding : found.plates) {
        const bool told = std::any_of(all.begin(), all.end(), [&](const Finding &one) {
            return finding.check == "plate_not_in_list" && one.check == "ink_not_in_list" &&
                   one.subject == finding.subject && !one.is_solved();
        });
        if (!told) {
            all.push_back(finding);
        }
    }
    all.insert(all.end(), found.lost.begin(), found.lost.end());
    sort_findings(all);
    return all;
}

Outcome<std::vector<Finding>> check_artwork(const Artwork &artwork, const ShopRules &rules,
                                            const ColourSettings &settings, const JobControl &control)
{
    const int pages = artwork.page_count();
    std::vector<std::vector<Finding>> by_page(static_cast<std::size_t>(pages));
    std::mutex guard;
    Done result;
    int done_pages = 0;
    oneapi::tbb::parallel_for(1, pages + 1, [&](int page) {
        {
            const std::lock_guard lock(guard);
            if (!result) {
                return;
            }
        }
        auto findings = check_page(artwork, page, rules, settings, control);
        const std::lock_guard lock(guard);
        if (!findings && findings.error().code == ErrorCode::CannotRead) { // one page, not the file
            const CheckInfo *check = find_check(damaged_check);
            Finding finding;
            finding.check = check->name;
            finding.severity = rules.setting(check->name).severity;
            finding.page = page;
            finding.subject = to_string(DamageKind::Structure);
            finding.title = "The page cannot be read";
            finding.why = check->why;
            finding.remedy = check->remedy;
            finding.places = {{-1, {}, findings.error().reason}};
            finding.places_in_all = 1;
            findings = std::vector<Finding>{std::move(finding)};
        }
        if (!findings) {
            result = result ? findings.error() : result;
            return;
        }
        by_page[static_cast<std::size_t>(page - 1)] = std::move(*findings);
        control.progress(++done_pages, pages);
    });
    if (!result) {
        return result.error();
    }
    std::vector<Finding> all;
    for (std::vector<Finding> &findings : by_page) {
        all.insert(all.end(), std::make_move_iterator(findings.begin()),
                   std::make_move_iterator(findings.end()));
    }
    sort_findings(all);
    return all;
}

std::string findings_to_json(const std::string &file, const std::string &rules,
                             const std::vector<Finding> &findings,
                             const std::vector<AcceptedFinding> &accepted)
{
    using json = nlohmann::ordered_json;
    // Tenths of a thousandth would be noise; dividing keeps the shortest decimal.
    const auto rounded = [](double value) { return std::round(value * 1000.0) / 1000.0; };
    json root = {{"file", file}, {"rules", rules}, {"counts", json::object()}, {"findings", json::array()}};
    for (const Severity severity : {Severity::Error, Severity::Warning, Severity::Note}) {
        root["counts"][to_string(severity)] =
            std::count_if(findings.begin(), findings.end(), [severity](const Finding &finding) {
                return finding.severity == severity && !finding.is_solved();
            });
    }
    for (const Finding &finding : findings) {
        json entry = {
            {"check", finding.check},
            {"severity", to_string(finding.severity)},
            {"page", finding.page},
            {"subject", finding.subject},
            {"title", finding.title},
            {"limit", finding.limit},
            {"why", finding.why},
            {"remedy", finding.remedy},
            {"places_in_all", std::max<int>(finding.places_in_all, static_cast<int>(finding.places.size()))},
            {"places", json::array()}};
        if (finding.is_solved()) {
            entry["solved"] = finding.solved;
        }
        if (finding.muted) {
            entry["muted"] = true;
        }
        for (const FindingPlace &place : finding.places) {
            entry["places"].push_back({{"object", place.object},
                                       {"area_mm",
                                        {rounded(place.area.x), rounded(place.area.y),
                                         rounded(place.area.width), rounded(place.area.height)}},
                                       {"measured", place.measured}});
        }
        for (const AcceptedFinding &one : accepted) {
            if (covers(one, finding)) {
                entry["accepted"] = one.reason;
            }
        }
        root["findings"].push_back(std::move(entry));
    }
    return root.dump(2, ' ', false, json::error_handler_t::replace);
}

Outcome<ShopRules> rules_of(const Job &job)
{
    return job.rules.empty() ? Outcome<ShopRules>(shipped_rules().front())
                             : rules_from_json(job.rules, job.name);
}

Outcome<std::vector<Finding>> findings_of(const Artwork &artwork, const Job &job, const ShopRules &rules,
                                          const JobControl &control)
{
    auto original = check_artwork(artwork, rules, job.colours, control);
    if (!original || job.plates.empty()) {
        return original;
    }
    const auto page = artwork.interpret(job.page, PageBox::Media, job.colours, control);
    if (!page) {
        return page.error();
    }
    const auto scene = record_scene(**page, control);
    if (!scene) {
        return scene.error();
    }
    const auto found = find_in_job(artwork, *page, *scene, job, rules, control);
    if (!found) {
        return found.error();
    }
    return follow_job(std::move(*original), *found, job);
}

bool is_open(const Finding &finding, const std::vector<AcceptedFinding> &accepted)
{
    return !finding.is_solved() &&
           std::none_of(accepted.begin(), accepted.end(),
                        [&](const AcceptedFinding &one) { return covers(one, finding); });
}

} // namespace bichrom
