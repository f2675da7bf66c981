#include "core/preflight/preflight.h"

#include "core/job/job.h"
#include "core/preflight/check_table.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double finest_survey = 150.0;
constexpr double most_survey_pixels = 4e6;

/// As fine as is useful, coarser for large pages.
Dpi survey_resolution(const PageContent &page)
{
    const double square_inches = page.width().value * page.height().value / points_per_inch / points_per_inch;
    return Dpi(std::min(finest_survey, std::sqrt(most_survey_pixels / std::max(square_inches, 1e-6))));
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
        if (a.severity != b.severity) {
            return a.severity > b.severity;
        }
        const int ra = rank(a.check);
        const int rb = rank(b.check);
        return ra != rb ? ra < rb : a.page < b.page;
    });
}

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
    PlateSurvey survey;
    survey.inks = propose_job(*scene, {}, page).inks();
    survey.resolution = survey_resolution(**content);
    if (survey.inks.empty()) {
        survey.inks.push_back("Black"); // an empty page has plates too, all bare
    }
    const auto renderer = PlateRenderer::make(*content, survey.inks, control);
    if (!renderer) {
        return renderer.error();
    }
    auto tile = (*renderer)->render((*renderer)->extent(survey.resolution), survey.resolution);
    if (!tile) {
        return tile.error();
    }
    survey.tile = std::move(*tile);
    CheckContext context(artwork, *info, *scene, survey, rules);
    context.damage = (*content)->damage();
    for (const CheckInfo &check : all_checks()) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", (*content)->place(), {}};
        }
        if (!check.plates && rules.setting(check.name).severity != Severity::Off) {
            context.begin(check);
            check.run(context);
        }
    }
    std::vector<Finding> findings = context.take();
    sort_findings(findings);
    return findings;
}

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
            return check.plates && rules.setting(check.name).severity != Severity::Off;
        })) {
        return std::vector<Finding>();
    }
    const auto renderer = PlateRenderer::make(page, setup_of(job), control);
    if (!renderer) {
        return renderer.error();
    }
    constexpr double finest = 600; // dpi: a line of 0.2 mm is five pixels wide
    constexpr double most_pixels = 16e6;
    const double square_inches =
        page->width().value * page->height().value / points_per_inch / points_per_inch;
    PlateSurvey survey;
    survey.inks = job.inks();
    survey.resolution = Dpi(std::min(finest, std::sqrt(most_pixels / std::max(square_inches, 1e-6))));
    survey.tile.rect = (*renderer)->extent(survey.resolution);
    const PixelRect &all = survey.tile.rect;
    survey.tile.plates.assign(survey.inks.size(), Plane(all.width, all.height));
    constexpr int rows_at_once = 512; // and a look at whether anybody still wants it
    for (int y = 0; y < all.height; y += rows_at_once) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", page->place(), {}};
        }
        const PixelRect part = {0, y, all.width, std::min(rows_at_once, all.height - y)};
        const auto tile = (*renderer)->render(part, survey.resolution);
        if (!tile) {
            return tile.error();
        }
        for (std::size_t i = 0; i < survey.inks.size(); ++i) {
            const Plane &from = tile->plates[i];
            std::copy(from.pixels.begin(), from.pixels.end(), survey.tile.plates[i].row(y).begin());
        }
    }
    CheckContext context(artwork, *info, scene, survey, rules, &job);
    for (const CheckInfo &check : checks) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped.", page->place(), {}};
        }
        if (check.plates && rules.setting(check.name).severity != Severity::Off) {
            context.begin(check);
            check.run(context);
        }
    }
    std::vector<Finding> findings = context.take();
    sort_findings(findings);
    return findings;
}

Outcome<std::vector<Finding>> check_artwork(const Artwork &artwork, const ShopRules &rules,
                                            const ColourSettings &settings, const JobControl &control)
{
    std::vector<Finding> all;
    for (int page = 1; page <= artwork.page_count(); ++page) {
        auto findings = check_page(artwork, page, rules, settings, control);
        if (!findings) {
            return findings.error();
        }
        all.insert(all.end(), std::make_move_iterator(findings->begin()),
                   std::make_move_iterator(findings->end()));
        control.progress(page, artwork.page_count());
    }
    sort_findings(all);
    return all;
}

std::string findings_to_json(const std::string &file, const std::string &rules,
                             const std::vector<Finding> &findings,
                             const std::vector<AcceptedFinding> &accepted)
{
    using json = nlohmann::ordered_json;
    const auto rounded = [](double value) { return std::round(value * 1000.0) / 1000.0; };
    json root = {{"file", file}, {"rules", rules}, {"counts", json::object()}, {"findings", json::array()}};
    for (const Severity severity : {Severity::Error, Severity::Warning, Severity::Note}) {
        root["counts"][to_string(severity)] =
            std::count_if(findings.begin(), findings.end(),
                          [severity](const Finding &finding) { return finding.severity == severity; });
    }
    for (const Finding &finding : findings) {
        json entry = {{"check", finding.check}, {"severity", to_string(finding.severity)},
                      {"page", finding.page},   {"subject", finding.subject},
                      {"title", finding.title}, {"limit", finding.limit},
                      {"why", finding.why},     {"remedy", finding.remedy},
                      {"places", json::array()}};
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

} // namespace bichrom
