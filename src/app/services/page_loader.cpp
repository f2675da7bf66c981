#include "app/services/page_loader.h"

#include "app/services/picture.h"
#include "core/artwork/intake/glance.h"
#include "core/job/print_model.h"
#include "core/proof/print_look.h"

#include <QFileInfo>

#include <algorithm>
#include <map>
#include <mutex>
#include <thread>

namespace bichrom {

namespace {

/// Makes the plate lines of \p page for the job's plates and routes.
/// \param before  the page as it was made for another state of the job, or null
Done separate(LoadedPage &page, const std::shared_ptr<const PageContent> &content, const Job &job,
              const LoadedPage *before, const JobControl &control)
{
    const auto plate_line = PlateLine::make(content, setup_of(job), control,
                                            before == nullptr ? nullptr : before->plate_line.get());
    if (!plate_line) {
        return plate_line.error();
    }
    PrintLook::prepare(*page.condition);
    page.routes = job.routes;
    page.computed = computed_key(job);
    page.plate_line = *plate_line;
    page.knocked_out = *plate_line;
    if (page.scene.uses_overprint || !job.overprint.empty()) {
        const auto knocked_out = PlateLine::make(content, setup_of(job, Overprint::Ignored), control,
                                                 before == nullptr ? nullptr : before->knocked_out.get());
        if (!knocked_out) {
            return knocked_out.error();
        }
        page.knocked_out = *knocked_out;
    }
    return {};
}

/// Whether painting the page as the customer sees it takes no longer than its plates: thousands of large
/// objects do, and plates are painted as runs.
bool is_soon_painted(const Scene &scene)
{
    constexpr double most_painted = 1.5e9; // square points of the boxes of all objects
    double area = 0;
    for (const SceneObject &object : scene.objects) {
        area += object.bounds.width * object.bounds.height;
    }
    return area < most_painted;
}

/// The page as the customer sees it, for the moments until its plates are there; null when it cannot be
/// painted.
QImage first_picture(const OriginalView &view, const PageContent &page, const JobControl &control)
{
    constexpr double longest = 900; // pixels
    constexpr double patience = 2;  // seconds: the plates shall not wait for it
    const Dpi dpi(longest * points_per_inch / std::max({page.width().value, page.height().value, 1.0}));
    const auto pixels = [&](Points length) {
        return std::max(1, static_cast<int>(length.value * dpi.value / points_per_inch));
    };
    const PixelRect all = {0, 0, pixels(page.width()), pixels(page.height())};
    const auto words = view.render(all, dpi, Edges::Quick, control, patience);
    return words ? picture_of(*words, all.width, all.height) : QImage();
}

/// Paints the page of a PDF as soon as can be, beside the reading of it. It ends with this object.
class FirstLook
{
public:
    FirstLook(const Opening &what, const std::function<void(QImage)> &look)
    {
        if (look) {
            m_thread = std::thread([this, what, look] {
                const auto glance = glance_at_pdf(what.path.toStdString(), std::max(1, what.page),
                                                  what.password.toStdString(), JobControl(m_stop));
                const std::lock_guard guard(m_guard);
                if (glance && !m_better) {
                    look(picture_of(glance->pixels, glance->width, glance->height));
                }
            });
        }
    }
    ~FirstLook()
    {
        m_stop.cancel();
        if (m_thread.joinable()) {
            m_thread.join();
        }
    }
    FirstLook(const FirstLook &) = delete;
    FirstLook &operator=(const FirstLook &) = delete;

    /// Hands on a picture that is better than the first look, which comes no more.
    void better(const std::function<void(QImage)> &look, QImage picture)
    {
        const std::lock_guard guard(m_guard);
        if (!picture.isNull()) {
            m_better = true;
            look(std::move(picture));
        }
    }

private:
    CancelSwitch m_stop;
    std::mutex m_guard;
    bool m_better = false; ///< behind m_guard
    std::thread m_thread;
};

Outcome<std::shared_ptr<const LoadedPage>> load_page(OpenedJob &opened, const Adapt &adapt,
                                                     const std::function<void(QImage)> &look,
                                                     const JobControl &control)
{
    auto page = std::make_shared<LoadedPage>();
    Job &job = opened.job;
    const auto info = opened.artwork->page_info(job.page);
    if (!info) {
        return info.error();
    }
    page->artwork = opened.artwork;
    page->info = *info;
    page->box = job.film.box;
    page->colours = job.colours;
    const auto condition = condition_of(job.colours);
    if (!condition) {
        return condition.error();
    }
    page->condition = *condition;
    const auto content = opened.artwork->interpret(job.page, job.film.box, job.colours, control);
    if (!content) {
        return content.error();
    }
    const auto original = OriginalView::make(*content, control);
    if (!original) {
        return original.error();
    }
    page->original = *original;
    auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    page->scene = std::move(*scene);
    if (look && is_soon_painted(page->scene)) {
        look(first_picture(**original, **content, control));
    }
    if (adapt) {
        job = adapt(std::move(job), page->scene);
    }
    if (const Done separated = separate(*page, *content, job, nullptr, control); !separated) {
        return separated.error();
    }
    (void)opened.artwork->sha256(); // large files take long, once; the window's thread may ask for it
    return std::shared_ptr<const LoadedPage>(page);
}

} // namespace

Outcome<OpenedPage> open_page(const Opening &what, const std::function<void(QImage)> &look,
                              const JobControl &control)
{
    FirstLook first(what, look);
    ReadingOptions options;
    options.password = what.password.toStdString();
    options.patience = what.patience;
    auto opened = open_job_or_artwork(what.path.toStdString(), what.page, options, control);
    if (!opened) {
        return opened.error();
    }
    if (!is_job_file(what.path.toStdString())) {
        opened->job.rules = what.rules;
    }
    const auto better = [&](QImage picture) { first.better(look, std::move(picture)); };
    auto page = load_page(*opened, {}, look ? std::function<void(QImage)>(better) : nullptr, control);
    if (!page) {
        return page.error();
    }
    opened->read.reset();
    return OpenedPage{std::move(*opened), std::move(*page)};
}

Outcome<OpenedPage> read_page(OpenedJob opened, double read_ppi, const Adapt &adapt,
                              const std::function<void(QImage)> &look, const JobControl &control)
{
    if (opened.job.assumed_ppi != read_ppi) {
        ReadingOptions options;
        options.assumed_ppi = opened.job.assumed_ppi;
        const std::span<const std::byte> bytes = opened.artwork->bytes();
        auto artwork =
            Artwork::open_bytes({bytes.begin(), bytes.end()}, opened.artwork->name(), options, control);
        if (!artwork) {
            return artwork.error();
        }
        opened.artwork = std::move(*artwork);
    }
    if (!(opened.artwork->placements() == opened.job.placements)) {
        auto assembled = assemble(opened.artwork, opened.job.placements);
        if (!assembled) {
            return assembled.error();
        }
        opened.artwork = std::move(*assembled);
    }
    auto page = load_page(opened, adapt, look, control);
    if (!page) {
        return page.error();
    }
    opened.read.reset();
    return OpenedPage{std::move(opened), std::move(*page)};
}

Outcome<LoadedPage> separate_anew(const LoadedPage &page, const Job &job, const JobControl &control)
{
    LoadedPage next = page;
    if (const Done separated = separate(next, page.plate_line->share_page(), job, &page, control);
        !separated) {
        return separated.error();
    }
    return next;
}

Outcome<CarriedOver> carry_over_to(const QString &path, int artwork, const OpenedJob &opened,
                                   const JobControl &control)
{
    ReadingOptions options;
    options.assumed_ppi = opened.job.assumed_ppi;
    const auto file = Artwork::open(path.toStdString(), options, control);
    if (!file) {
        return file.error();
    }
    Job job = opened.job;
    for (PlacedArtwork &placed : job.placements.artworks) {
        if (placed.id == artwork) {
            placed.original = *file;
            placed.name = QFileInfo(path).fileName().toStdString();
            placed.page = std::min(placed.page, (*file)->page_count());
        }
    }
    const auto revised = assemble(artwork == 0 ? *file : opened.artwork, job.placements);
    if (!revised) {
        return revised.error();
    }
    const auto before = all_scenes(*opened.artwork, opened.job.colours, control);
    const auto after = all_scenes(**revised, opened.job.colours, control);
    if (!before || !after) {
        return before ? after.error() : before.error();
    }
    return CarriedOver{*revised, carry_over(std::move(job), *before, *after)};
}

} // namespace bichrom
