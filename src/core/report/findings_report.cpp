#include "core/report/findings_report.h"

#include "core/preflight/finding_groups.h"
#include "core/report/page_pictures.h"
#include "core/report/report_style.h"

#include <algorithm>
#include <map>

namespace bichrom {

namespace {

constexpr std::size_t most_pictures = 60;
constexpr std::size_t most_places = 12; // told one by one

std::string area_text(const Rect &area)
{
    return area.width <= 0 && area.height <= 0
               ? std::string("the whole page")
               : format_number(area.width, 1) + " × " + format_number(area.height, 1) + " mm at " +
                     format_number(area.x, 1) + ", " + format_number(area.y, 1) + " mm";
}

std::string places_text(const std::vector<Finding> &findings, const FindingGroup &group, int pages)
{
    std::string text = "<ul>";
    std::size_t told = 0;
    for (const int index : group.findings) {
        const Finding &finding = findings[static_cast<std::size_t>(index)];
        for (const FindingPlace &place : finding.places) {
            if (told == most_places) {
                return text + "<li>and " +
                       std::to_string(static_cast<std::size_t>(group.places) - most_places) +
                       " more</li></ul>";
            }
            ++told;
            text += "<li>" + (pages > 1 ? "page " + std::to_string(finding.page) + ", " : std::string()) +
                    area_text(place.area) +
                    (place.measured.empty() ? "" : ": <b>" + html_of(place.measured) + "</b>") + "</li>";
        }
    }
    return text + "</ul>";
}

} // namespace

Outcome<std::vector<std::byte>> findings_report(const OpenedJob &opened, const ShopRules &rules,
                                                const std::vector<Finding> &findings, const std::string &date,
                                                const JobControl &control)
{
    const Artwork &artwork = *opened.artwork;
    const int pages = artwork.page_count();
    const std::vector<FindingGroup> groups = group_findings(findings, opened.job.accepted);
    std::map<int, std::shared_ptr<const PageContent>> contents;
    std::vector<ReportPicture> pictures;

    std::string html = report_head("Findings", artwork, date);
    html += "<p>Checked by the shop rules “" + html_of(rules.name) + "”.</p>";
    if (findings.empty()) {
        html += "<p><b>Nothing was found.</b></p>";
    }
    std::int64_t done = 0;
    for (const FindingGroup &group : groups) {
        if (control.cancelled()) {
            return Error{ErrorCode::Cancelled, "Stopped on request.", artwork.name(), {}};
        }
        const Finding &first = findings[static_cast<std::size_t>(group.findings.front())];
        html += "<h2>" + html_of(to_string(first.severity)) + ": " + html_of(first.title) + "</h2>";
        if (pictures.size() < most_pictures) {
            auto &content = contents[first.page];
            if (content == nullptr) {
                auto read = artwork.interpret(first.page, PageBox::Media, opened.job.colours, control);
                if (!read) {
                    return read.error();
                }
                content = std::move(*read);
            }
            const std::string name = std::to_string(pictures.size() + 1) + ".png";
            auto picture = picture_of_place(content, first.places.front().area, name, control);
            if (!picture) {
                return picture.error();
            }
            html += "<p><img src=\"" + name + "\" width=\"" + std::to_string(picture->width / 2) +
                    "\" height=\"" + std::to_string(picture->height / 2) + "\"></p>";
            pictures.push_back(std::move(*picture));
        }
        html += "<p>" + html_of(count_text(group, pages)) +
                (first.limit.empty() ? "" : ", limit " + html_of(first.limit)) + ". " + html_of(first.why) +
                " " + html_of(first.remedy) + "</p>";
        for (const AcceptedFinding &one : opened.job.accepted) {
            if (covers(one, first)) {
                html += "<p><b>Accepted: " + html_of(one.reason) + "</b></p>";
            }
        }
        html += places_text(findings, group, pages);
        control.progress(++done, static_cast<std::int64_t>(groups.size()));
    }
    html += report_assumptions(artwork);
    return html_to_pdf(html + "</body></html>", report_css, pictures);
}

} // namespace bichrom
