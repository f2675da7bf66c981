#include "core/report/change_slip_report.h"

#include "core/job/change_slip.h"
#include "core/report/page_pictures.h"
#include "core/report/report_style.h"

namespace bichrom {

Outcome<std::vector<std::byte>> change_slip_report(const OpenedJob &opened, const std::string &date,
                                                   const JobControl &control)
{
    constexpr int side = 560; // pixels of a picture's longer side
    OpenedJob untouched = opened;
    untouched.job.colours = {};
    untouched.job.routes.clear();
    untouched.job.plates.clear(); // every ink of the artwork
    if (opened.job.assumed_ppi != Job().assumed_ppi) {
        const std::span<const std::byte> bytes = opened.artwork->bytes();
        auto artwork = Artwork::open_bytes({bytes.begin(), bytes.end()}, opened.artwork->name(), {}, control);
        if (!artwork) {
            return artwork.error();
        }
        untouched.artwork = std::move(*artwork);
    }
    std::vector<ReportPicture> pictures;
    for (const OpenedJob *job : std::initializer_list<const OpenedJob *>{&untouched, &opened}) {
        auto picture = picture_of_print(*job, side, pictures.empty() ? "before.png" : "after.png", control);
        if (!picture) {
            return picture.error();
        }
        pictures.push_back(std::move(*picture));
    }
    const std::vector<ChangeEntry> changes = list_changes(opened.job);
    std::string html = report_head("Change slip", *opened.artwork, date);
    html += changes.empty() ? std::string("<p><b>Nothing is changed: the file prints as it came.</b></p>")
                            : std::string();
    for (const ChangeEntry &change : changes) {
        html += "<h2>" + html_of(change.what) + "</h2><p>" + html_of(change.why) + "</p><p>State: <b>" +
                html_of(to_string(change.state)) + "</b></p>";
    }
    for (const ReportPicture &picture : pictures) {
        html += "<h2>" + std::string(picture.name == "before.png" ? "Before" : "After") + ", page " +
                std::to_string(opened.job.page) + "</h2><p><img src=\"" + picture.name + "\" width=\"" +
                std::to_string(picture.width / 2) + "\" height=\"" + std::to_string(picture.height / 2) +
                "\"></p>";
    }
    return html_to_pdf(html + "</body></html>", report_css, pictures);
}

} // namespace bichrom
