#include "core/line/page_inks.h"

#include "core/artwork/scene.h"
#include "core/line/coverage.h"

namespace bichrom {

Outcome<std::vector<PageInks>> measure_page_inks(const Artwork &artwork, const ColourSettings &colours,
                                                 const JobControl &control)
{
    constexpr Dpi coarse{72}; // of a page among many; thin lines and small text keep their area
    const JobControl quiet = control.with_report([](std::int64_t, std::int64_t) {});
    std::vector<PageInks> pages;
    for (int number = 1; number <= artwork.page_count(); ++number) {
        control.progress(number - 1, artwork.page_count());
        const auto content = artwork.interpret(number, PageBox::Media, colours, quiet);
        if (!content) {
            return content.error();
        }
        const auto scene = shared_scene(**content, quiet);
        if (!scene) {
            return scene.error();
        }
        std::vector<std::string> inks;
        for (const FoundInk &ink : (*scene)->inks) {
            inks.push_back(ink.name);
        }
        PageInks page;
        page.page = number;
        if (!inks.empty()) {
            const auto line = PlateLine::make(*content, inks, quiet);
            if (!line) {
                return line.error();
            }
            const Rect trim = (*line)->box(PageBox::Trim);
            const auto shares = measure_coverage(**line, coarse, quiet, trim);
            if (!shares) {
                return shares.error();
            }
            for (std::size_t i = 0; i < inks.size(); ++i) {
                page.inks.push_back({inks[i], (*shares)[i] * trim.width * trim.height / 100.0});
            }
        }
        pages.push_back(std::move(page));
    }
    return pages;
}

} // namespace bichrom
