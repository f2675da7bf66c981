#include "core/output/damage_gate.h"
#include "core/output/output_set.h"
#include "core/output/page_progress.h"

namespace bichrom {

Outcome<std::vector<Manifest>> write_pages(const OpenedJob &opened, const PageList &pages,
                                           const OutputRequest &request, const std::string &accept,
                                           const PageWriter &write, const JobControl &control)
{
    auto whole = turn_through(opened, pages, control);
    if (!whole) {
        return whole.error();
    }
    std::vector<Manifest> written;
    Error nothing;
    for (std::size_t i = 0; i < pages.size(); ++i) {
        whole->job.page = pages[i];
        if (!accept.empty()) {
            accept_damage(whole->job, accept);
        }
        OutputRequest own = request;
        if (pages.size() > 1) {
            own.folder /= "page-" + std::to_string(pages[i]);
        }
        auto manifest = write(*whole, own, page_share(control, i, pages.size()));
        if (manifest) {
            written.push_back(std::move(*manifest));
        } else if (manifest.error().code == ErrorCode::NothingToPrint) {
            nothing = manifest.error(); // a blank page among others
            if (pages.size() > 1) {     // made for it, and empty
                std::error_code kept;
                std::filesystem::remove(own.folder, kept);
            }
        } else {
            return manifest.error();
        }
    }
    if (written.empty()) {
        return nothing;
    }
    return written;
}

} // namespace bichrom
