#include "core/output/damage_gate.h"
#include "core/output/output_set.h"

namespace bichrom {

Outcome<std::vector<Manifest>> write_pages(const OpenedJob &opened, const PageList &pages,
                                           const OutputRequest &request, const std::string &accept,
                                           const PageWriter &write, const JobControl &control)
{
    std::vector<Manifest> written;
    const auto count = static_cast<std::int64_t>(pages.size());
    constexpr std::int64_t fine = 1000; // parts of a page that progress is told in
    Error nothing;
    for (std::int64_t i = 0; i < count; ++i) {
        const int number = pages[static_cast<std::size_t>(i)];
        auto turned =
            number == opened.job.page ? Outcome<OpenedJob>(opened) : turn_to(opened, number, control);
        if (!turned) {
            return turned.error();
        }
        if (!accept.empty()) {
            accept_damage(turned->job, accept);
        }
        OutputRequest own = request;
        if (count > 1) {
            own.folder /= "page-" + std::to_string(turned->job.page);
        }
        const JobControl part = control.with_report([&](std::int64_t done, std::int64_t total) {
            control.progress(i * fine + (total > 0 ? done * fine / total : 0), count * fine);
        });
        auto manifest = write(*turned, own, part);
        if (!manifest && manifest.error().code == ErrorCode::NothingToPrint) {
            nothing = manifest.error(); // a blank page among others
            std::error_code not_empty;
            std::filesystem::remove(own.folder, not_empty);
            continue;
        }
        if (!manifest) {
            return manifest.error();
        }
        written.push_back(std::move(*manifest));
    }
    if (written.empty()) {
        return nothing;
    }
    return written;
}

} // namespace bichrom
