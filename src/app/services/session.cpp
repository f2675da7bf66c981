#include "app/services/session.h"

#include "core/artwork/page_boxes.h"
#include "core/job/edits/plates.h"
#include "core/job/print_model.h"
#include "core/job/replace_artwork.h"
#include "core/job/routing.h"
#include "core/line/colour_areas.h"
#include "core/line/coverage.h"
#include "core/preflight/lost_artwork.h"
#include "core/preflight/preflight.h"
#include "core/proof/print_look.h"

#include <QFileInfo>
#include <QUndoCommand>

#include <algorithm>
#include <iterator>
#include <map>

namespace bichrom {

/// One undoable change of the job.
class JobChange final : public QUndoCommand
{
public:
    JobChange(Session &session, Job before, Job after, const QString &text, QString key)
        : QUndoCommand(text), m_session(session), m_before(std::move(before)), m_after(std::move(after)),
          m_key(std::move(key))
    {
    }
    void undo() override { m_session.setJob(m_before); }
    void redo() override { m_session.setJob(m_after); }
    int id() const override { return m_key.isEmpty() ? -1 : 1; }
    bool mergeWith(const QUndoCommand *other) override
    {
        const auto *next = static_cast<const JobChange *>(other);
        if (next->m_key != m_key) {
            return false;
        }
        m_after = next->m_after;
        return true;
    }

private:
    Session &m_session;
    Job m_before, m_after;
    QString m_key;
};

/// One undoable exchange of the customer's file.
class ArtworkChange final : public QUndoCommand
{
public:
    using File = std::shared_ptr<const Artwork>;
    ArtworkChange(Session &session, std::pair<File, Job> before, std::pair<File, Job> after,
                  const QString &text)
        : QUndoCommand(text), m_session(session), m_before(std::move(before)), m_after(std::move(after))
    {
    }
    void undo() override { m_session.setArtwork(m_before.first, m_before.second); }
    void redo() override { m_session.setArtwork(m_after.first, m_after.second); }

private:
    Session &m_session;
    std::pair<File, Job> m_before, m_after;
};

struct Session::Loaded
{
    OpenedJob opened;
    std::shared_ptr<const LoadedPage> page;
    QString path;
    bool unsaved = false;
};

namespace {

/// Makes the plate lines of \p page for the job's plates and routes.
Done separate(LoadedPage &page, const std::shared_ptr<const PageContent> &content, const Job &job,
              const JobControl &control)
{
    const auto plate_line = PlateLine::make(content, setup_of(job), control);
    if (!plate_line) {
        return plate_line.error();
    }
    PrintLook::prepare(*page.condition);
    page.routes = job.routes;
    page.computed = computed_key(job);
    page.plate_line = *plate_line;
    page.knocked_out = *plate_line;
    if (page.scene.uses_overprint) {
        const auto knocked_out = PlateLine::make(content, setup_of(job, Overprint::Ignored), control);
        if (!knocked_out) {
            return knocked_out.error();
        }
        page.knocked_out = *knocked_out;
    }
    return {};
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
    return !words ? QImage()
                  : QImage(reinterpret_cast<const uchar *>(words->data()), all.width, all.height,
                           all.width * 4, QImage::Format_RGB32)
                        .copy();
}

/// \param before  the scene shown until now, to bring the job's plates up to what the page paints; null =
/// leave them
/// \param look  is given a first picture as soon as there is one
Outcome<std::shared_ptr<const LoadedPage>> load_page(OpenedJob &opened, const Scene *before,
                                                     const JobControl &control,
                                                     const std::function<void(QImage)> &look = {})
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
    if (look) {
        look(first_picture(**original, **content, control));
    }
    auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    page->scene = std::move(*scene);
    if (before != nullptr) {
        job.plates = plates_for(*before, page->scene, job);
    }
    if (const Done separated = separate(*page, *content, job, control); !separated) {
        return separated.error();
    }
    return std::shared_ptr<const LoadedPage>(page);
}

} // namespace

Session::Session(QObject *parent) : QObject(parent), m_undo(this), m_rules(shipped_rules().front())
{
    m_resting.setSingleShot(true);
    m_resting.setInterval(300); // milliseconds without another edit
    connect(&m_resting, &QTimer::timeout, this, &Session::findLossesNow);
    m_looking.setInBackground();
}

Session::~Session()
{
    m_opening.cancel();
    m_measuring.cancel();
    m_measuringColours.cancel();
    m_lookingForFlat.cancel();
    m_measuringSource.cancel();
    m_routing.cancel();
    m_losing.cancel();
    m_checkSwitch.cancel();
}

double Session::sourceCoverage(const std::string &ink) const
{
    const auto found = m_sourceCoverage.find(ink);
    return found == m_sourceCoverage.end() ? -1.0 : found->second;
}

double Session::coverage(const std::string &ink) const
{
    const Coverage *all = m_coverage.value();
    if (all == nullptr) {
        return -1.0;
    }
    const auto found = all->find(ink);
    return found == all->end() ? -1.0 : found->second;
}

void Session::open(const QString &path, int page, const QString &password, const QString &origin,
                   int patience)
{
    beginLoading();
    const quint64 request = ++m_request;
    std::function<void(QImage)> look;
    if (!isOpen()) { // what is open stays in sight and in hand until the other is ready
        look = [this, request](QImage picture) { // on the worker's thread
            QMetaObject::invokeMethod(
                this,
                [this, request, picture = std::move(picture)] {
                    if (request == m_request && m_loading && !picture.isNull()) {
                        Q_EMIT previewed(picture);
                    }
                },
                Qt::QueuedConnection);
        };
    }
    m_opening = m_tasks.start(
        [path, page, password, origin, patience, look,
         usual = m_usualRules](const JobControl &control) -> Outcome<Loaded> {
            ReadingOptions options;
            options.password = password.toStdString();
            options.patience = patience;
            auto opened = open_job_or_artwork(path.toStdString(), page, options, control);
            if (!opened) {
                return opened.error();
            }
            if (!is_job_file(path.toStdString())) {
                opened->job.rules = usual;
            }
            auto loaded = load_page(*opened, nullptr, control, look);
            if (!loaded) {
                return loaded.error();
            }
            return Loaded{std::move(*opened), std::move(*loaded), origin.isEmpty() ? path : origin,
                          !origin.isEmpty()};
        },
        [this, path, page, request](Outcome<Loaded> loaded) {
            if (request != m_request || (!loaded && loaded.error().code == ErrorCode::Cancelled)) {
                return; // another file, or the artist's wish; the flag is already set
            }
            m_loading = false;
            Q_EMIT loadingChanged();
            if (loaded) {
                take(std::move(*loaded));
            } else {
                reloadAsRead();
                Q_EMIT openFailed(loaded.error(), path, page);
            }
        });
}

/// What was being opened before is not wanted any more.
void Session::beginLoading()
{
    m_opening.cancel();
    m_loading = true;
    Q_EMIT loadingChanged();
}

void Session::cancelOpening()
{
    m_opening.cancel();
    ++m_request;
    if (m_loading) {
        m_loading = false;
        Q_EMIT loadingChanged();
        reloadAsRead();
    }
}

bool Session::showsWhatIsRead(const Job &job) const
{
    return m_page->artwork == m_opened.artwork && m_opened.artwork->placements() == job.placements &&
           m_page->info.number == job.page && m_page->box == job.film.box && m_page->colours == job.colours &&
           m_opened.job.assumed_ppi == job.assumed_ppi;
}

void Session::reloadAsRead()
{
    if (isOpen() && !showsWhatIsRead(job())) {
        reload(job(), {}, {});
    }
}

void Session::take(Loaded loaded)
{
    m_opened = std::move(loaded.opened);
    m_page = std::move(loaded.page);
    m_path = loaded.path;
    m_coverage.forget();
    m_undo.clear();
    if (loaded.unsaved) {
        m_undo.resetClean();
    }
    takeRules();
    m_checked.reset();
    m_followed.forget();
    joinFindings();
    m_areas.clear();
    ++m_routingRequest;
    Q_EMIT pathChanged();
    Q_EMIT artworkChanged();
    Q_EMIT pageChanged();
    Q_EMIT jobChanged();
    measureCoverage();
    measureColours();
    findFlatColours();
    measureSource();
    findLosses();
    check();
}

void Session::measureCoverage()
{
    m_measuring.cancel();
    m_coverage.begin();
    m_measuring = m_tasks.start(
        [plate_line = m_page->plate_line, trim = trimArea()](const JobControl &control) -> Outcome<Coverage> {
            const auto measured = measure_coverage(*plate_line, Dpi(150), control, trim);
            if (!measured) {
                return measured.error();
            }
            Coverage coverage;
            for (std::size_t i = 0; i < measured->size(); ++i) {
                coverage[plate_line->inks()[i]] = (*measured)[i];
            }
            return coverage;
        },
        [this, page = m_page](Outcome<Coverage> coverage) {
            if (page == m_page) {
                m_coverage.take(std::move(coverage));
                Q_EMIT coverageChanged();
            }
        });
}

void Session::measureSource()
{
    m_measuringSource.cancel();
    m_sourceCoverage.clear();
    std::vector<std::string> inks;
    for (const FoundInk &ink : m_page->scene.inks) {
        inks.push_back(ink.name);
    }
    m_measuringSource = m_tasks.start(
        [content = m_page->plate_line->share_page(), inks, trim = trimArea()](const JobControl &control) {
            const auto plate_line = PlateLine::make(content, inks, control);
            return plate_line ? measure_coverage(**plate_line, Dpi(150), control, trim)
                              : Outcome<std::vector<double>>(plate_line.error());
        },
        [this, inks,
         content = m_page->plate_line->share_page()](const Outcome<std::vector<double>> &coverage) {
            if (coverage && content == m_page->plate_line->share_page()) {
                for (std::size_t i = 0; i < coverage->size(); ++i) {
                    m_sourceCoverage[inks[i]] = (*coverage)[i];
                }
                Q_EMIT coverageChanged();
            }
        });
}

void Session::measureColours()
{
    m_measuringColours.cancel();
    m_areas.clear();
    m_measuringColours = m_tasks.start(
        [page = m_page](const JobControl &control) {
            return measure_colours(page->plate_line->share_page(), page->scene, Dpi(100), control);
        },
        [this, content = m_page->plate_line->share_page()](Outcome<std::vector<double>> areas) {
            if (areas && content == m_page->plate_line->share_page()) {
                m_areas = std::move(*areas);
                Q_EMIT coloursMeasured();
            }
        });
}

void Session::findFlatColours()
{
    m_lookingForFlat.cancel();
    m_flat.clear();
    m_lookingForFlat = m_tasks.start(
        [page = m_page](const JobControl &control) {
            return find_flat_colours(page->content(), page->scene, control);
        },
        [this, content = m_page->plate_line->share_page()](Outcome<std::vector<FlatColour>> found) {
            if (found && content == m_page->plate_line->share_page() && !found->empty()) {
                m_flat = std::move(*found);
                Q_EMIT coloursMeasured();
            }
        });
}

void Session::followRoutes()
{
    std::vector<std::string> shown = m_page->plate_line->inks();
    std::vector<std::string> wanted = job().inks();
    std::sort(shown.begin(), shown.end());
    std::sort(wanted.begin(), wanted.end());
    if (m_page->routes == job().routes && shown == wanted && m_page->computed == computed_key(job())) {
        m_routing.cancel();
        ++m_routingRequest; // what was under way is no longer wanted
        return;
    }
    m_routing.cancel();
    m_routing = m_tasks.start(
        [page = m_page, job = job()](const JobControl &control) -> Outcome<LoadedPage> {
            LoadedPage next = *page;
            if (const Done separated = separate(next, page->plate_line->share_page(), job, control);
                !separated) {
                return separated.error();
            }
            return next;
        },
        [this, request = ++m_routingRequest](Outcome<LoadedPage> next) {
            if (request != m_routingRequest) {
                return; // routed in another way, or another page, meanwhile
            }
            if (!next) {
                if (next.error().code != ErrorCode::Cancelled) {
                    Q_EMIT openFailed(next.error(), m_path, job().page);
                }
                return;
            }
            m_page = std::make_shared<const LoadedPage>(std::move(*next));
            Q_EMIT platesChanged();
            measureCoverage();
            findLosses();
        },
        [this](qint64 done, qint64 total) { Q_EMIT separationProgress(done, total); });
}

void Session::findLosses()
{
    m_losing.cancel();
    ++m_losingRequest; // what is under way is of before
    m_followed.begin();
    m_resting.start();
}

void Session::findLossesNow()
{
    if (!isOpen()) {
        return;
    }
    m_losing = m_looking.start(
        [page = m_page, artwork = m_opened.artwork, rules = m_rules,
         job = job()](const JobControl &control) mutable -> Outcome<Followed> {
            std::shared_ptr<const PageContent> content = page->plate_line->share_page();
            Scene scene = page->scene;
            if (page->box != PageBox::Media) {
                auto whole = artwork->interpret(job.page, PageBox::Media, job.colours, control);
                if (!whole) {
                    return whole.error();
                }
                auto recorded = record_scene(**whole, control);
                if (!recorded) {
                    return recorded.error();
                }
                content = *whole;
                scene = std::move(*recorded);
            }
            auto found = find_in_job(*artwork, content, scene, job, rules, control);
            if (!found) {
                return found.error();
            }
            return Followed{std::move(*found), std::make_shared<const Job>(std::move(job))};
        },
        [this, request = m_losingRequest](Outcome<Followed> found) {
            if (request != m_losingRequest) {
                return;
            }
            m_followed.take(std::move(found));
            joinFindings();
            Q_EMIT findingsChanged();
        });
}

void Session::joinFindings()
{
    m_findings.reset();
    if (m_checked) {
        const Followed *known = m_followed.value();
        m_findings = known != nullptr ? follow_job(*m_checked, known->found, *known->job) : *m_checked;
    }
}

std::vector<Finding> Session::openOf(const std::vector<Finding> &findings) const
{
    std::vector<Finding> open;
    std::copy_if(findings.begin(), findings.end(), std::back_inserter(open), [&](const Finding &finding) {
        return std::none_of(job().accepted.begin(), job().accepted.end(),
                            [&](const AcceptedFinding &one) { return covers(one, finding); });
    });
    return open;
}

std::vector<Finding> Session::openLosses() const
{
    const Followed *known = m_followed.value();
    return known == nullptr ? std::vector<Finding>() : openOf(known->found.lost);
}

std::vector<Finding> Session::plateFindings() const
{
    const Followed *known = m_followed.value();
    return known == nullptr ? std::vector<Finding>() : openOf(known->found.plates);
}

void Session::change(const Job &job, const QString &text, const QString &merge_key)
{
    if (isOpen() && !(job == m_opened.job)) {
        m_undo.push(new JobChange(*this, m_opened.job, keep_tins(m_opened.job, job), text, merge_key));
    }
}

void Session::setJob(const Job &job)
{
    const bool read_alike = showsWhatIsRead(job);
    const Job before = std::exchange(m_opened.job, job);
    takeRules();
    // Another stock may show what is white in the artwork; another order or ink may need white under it.
    const auto looks = [](std::vector<Plate> plates) {
        for (Plate &plate : plates) {
            plate.screen = {};
            plate.printing = {};
        }
        return plates;
    };
    if (read_alike && (!(before.stock == job.stock) || before.rules != job.rules ||
                       looks(before.plates) != looks(job.plates))) {
        findLosses();
    }
    Q_EMIT jobChanged(); // what has to be found again is under way for whoever looks now
    if (!read_alike) {
        // An undone or repeated reading: the job is as it shall be, the page follows.
        m_opened.job.assumed_ppi = before.assumed_ppi; // of the artwork that is open now
        reload(job, {}, {});
        return;
    }
    followRoutes();
    if (before.rules != job.rules) {
        check();
    }
}

void Session::takeRules()
{
    if (m_rulesText == job().rules && !m_rulesText.empty()) {
        return;
    }
    m_rulesText = job().rules;
    m_rules = shipped_rules().front();
    m_rulesFault.clear();
    if (!m_rulesText.empty()) {
        auto rules = rules_from_json(m_rulesText, job().name);
        if (rules) {
            m_rules = std::move(*rules);
        } else {
            m_rulesFault = tr("The job's own shop rules cannot be read; “%1” stands in. %2")
                               .arg(QString::fromStdString(m_rules.name),
                                    QString::fromStdString(rules.error().message()));
        }
    }
}

ObjectMark Session::markOf(int object) const
{
    const SceneObject &chosen = m_page->scene.objects[static_cast<std::size_t>(object)];
    const auto mm = [](double points) { return to_millimetres(Points(points)).value; };
    const Rect &b = chosen.bounds;
    return {job().page, chosen.own_index, chosen.kind,
            mediaArea({mm(b.x), mm(b.y), mm(b.width), mm(b.height)})};
}

Rect Session::trimArea() const
{
    return box_within(m_page->info, PageBox::Trim, m_page->box);
}

void Session::changeReading(const Job &job, const QString &text, const QString &merge_key)
{
    if (isOpen() && !(job == m_opened.job)) {
        reload(job, text, merge_key);
    }
}

namespace {

/// The scenes of all pages, for the media box.
Outcome<std::map<int, Scene>> all_scenes(const Artwork &artwork, const ColourSettings &colours,
                                         const JobControl &control)
{
    std::map<int, Scene> scenes;
    for (int number = 1; number <= artwork.page_count(); ++number) {
        const auto page = artwork.interpret(number, PageBox::Media, colours, control);
        if (!page) {
            return page.error();
        }
        auto scene = record_scene(**page, control);
        if (!scene) {
            return scene.error();
        }
        scenes[number] = std::move(*scene);
    }
    return scenes;
}

/// A job carried over to another file.
struct CarriedOver
{
    std::shared_ptr<const Artwork> artwork;
    Replacement replacement;
};

} // namespace

void Session::replaceArtwork(const QString &path, int artwork)
{
    if (!isOpen()) {
        return;
    }
    beginLoading();
    m_opening = m_tasks.start(
        [path, artwork, opened = m_opened](const JobControl &control) -> Outcome<CarriedOver> {
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
        },
        [this, path, request = ++m_request](Outcome<CarriedOver> carried) {
            if (request != m_request) {
                return;
            }
            m_loading = false;
            Q_EMIT loadingChanged();
            if (!carried) {
                failBesideJob(carried.error(), path);
                return;
            }
            m_undo.push(new ArtworkChange(*this, {m_opened.artwork, m_opened.job},
                                          {carried->artwork, carried->replacement.job},
                                          tr("Replace the artwork")));
            Q_EMIT artworkReplaced(carried->replacement.dropped);
        });
}

/// Tells that \p path did not become part of the job. A password is not asked for: opening by it would put
/// the file in the place of the job.
void Session::failBesideJob(Error fault, const QString &path)
{
    if (fault.code == ErrorCode::PasswordNeeded) {
        fault.code = ErrorCode::CannotRead;
        fault.remedy = "Ask the customer for a copy without a password.";
    }
    if (fault.code != ErrorCode::Cancelled) {
        Q_EMIT openFailed(fault, path, 0);
    }
}

void Session::placeArtwork(const QString &path)
{
    if (!isOpen()) {
        return;
    }
    beginLoading();
    m_opening = m_tasks.start(
        [path, ppi = job().assumed_ppi](const JobControl &control) {
            ReadingOptions options;
            options.assumed_ppi = ppi;
            return Artwork::open(path.toStdString(), options, control);
        },
        [this, path, request = ++m_request](const Outcome<std::shared_ptr<const Artwork>> &file) {
            if (request != m_request) {
                return;
            }
            m_loading = false;
            Q_EMIT loadingChanged();
            Placements placements = job().placements;
            PlacedArtwork placed;
            for (const PlacedArtwork &other : placements.artworks) {
                placed.id = std::max(placed.id, other.id + 1);
            }
            placed.name = QFileInfo(path).fileName().toStdString();
            placed.on_page = job().page;
            Error fault = file ? Error{} : file.error();
            if (file) {
                placed.original = *file;
                if (const auto size = placed_size(placed)) {
                    const Rect shown = box_within(m_page->info, m_page->box, PageBox::Media);
                    placed.x = shown.x + (shown.width - size->first) / 2;
                    placed.y = shown.y + (shown.height - size->second) / 2;
                    placements.artworks.push_back(placed);
                    changePlacements(placements, tr("Place %1").arg(QFileInfo(path).fileName()));
                    return;
                } else {
                    fault = size.error();
                }
            }
            failBesideJob(fault, path);
        });
}

void Session::changePlacements(const Placements &placements, const QString &text, const QString &merge_key)
{
    Job next = job();
    next.placements = placements;
    changeReading(next, text, merge_key);
}

void Session::setArtwork(const std::shared_ptr<const Artwork> &artwork, const Job &job)
{
    m_opened.artwork = artwork;
    setJob(job); // which loads the page, as it is of another file
}

void Session::showPage(int number)
{
    if (isOpen() && number != job().page) {
        Job next = job();
        next.page = number;
        changeReading(next, tr("Show page %1").arg(number), QStringLiteral("page"));
    }
}

/// \param text  of the step to be undone; empty when the job is already what it shall be
void Session::reload(const Job &next, const QString &text, const QString &merge_key)
{
    beginLoading();
    OpenedJob opened = m_opened;
    opened.job = next;
    m_opening = m_tasks.start(
        [opened, shown = text.isEmpty() ? nullptr : m_page,
         ppi = m_opened.job.assumed_ppi](const JobControl &control) mutable -> Outcome<Loaded> {
            if (opened.job.assumed_ppi != ppi) {
                ReadingOptions options;
                options.assumed_ppi = opened.job.assumed_ppi;
                const std::span<const std::byte> bytes = opened.artwork->bytes();
                auto artwork = Artwork::open_bytes({bytes.begin(), bytes.end()}, opened.artwork->name(),
                                                   options, control);
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
            auto page = load_page(opened, shown == nullptr ? nullptr : &shown->scene, control);
            if (!page) {
                return page.error();
            }
            return Loaded{std::move(opened), std::move(*page), {}, false};
        },
        [this, text, merge_key, request = ++m_request](Outcome<Loaded> loaded) {
            if (request != m_request) {
                return; // read in yet another way meanwhile
            }
            m_loading = false;
            Q_EMIT loadingChanged();
            if (!loaded) {
                if (loaded.error().code == ErrorCode::Cancelled) {
                    return;
                }
                const int wanted = m_opened.job.page;
                if (text.isEmpty()) { // the job goes back to what is shown, so that the two agree
                    m_opened.artwork = m_page->artwork;
                    m_opened.job.placements = m_page->artwork->placements();
                    m_opened.job.page = m_page->info.number;
                    m_opened.job.film.box = m_page->box;
                    m_opened.job.colours = m_page->colours;
                    Q_EMIT jobChanged();
                }
                Q_EMIT openFailed(loaded.error(), m_path, wanted);
                return;
            }
            // Plates nobody has touched follow the page; others keep what was set.
            const bool untouched =
                m_opened.job.routes.empty() &&
                m_opened.job.plates ==
                    propose_job(m_page->scene, m_opened.job.name, m_opened.job.page).plates;
            const auto shown = std::exchange(m_page, std::move(loaded->page));
            if (shown->artwork != m_page->artwork && shown->info.number == m_page->info.number &&
                shown->box == m_page->box && shown->colours == m_page->colours) {
                auto compared = std::make_shared<LoadedPage>(*m_page);
                compared->previous = shown->original;
                compared->previous_plates = shown->plate_line;
                compared->revised_plates = compared->plate_line;
                m_page = std::move(compared);
            }
            ++m_routingRequest;
            m_opened.artwork = std::move(loaded->opened.artwork);
            m_coverage.forget();
            const Job before = m_opened.job;
            const Job &read = loaded->opened.job;
            m_opened.job.assumed_ppi = read.assumed_ppi; // of the artwork that is open now
            if (!text.isEmpty()) {
                Job after = before; // with what else was changed meanwhile
                after.page = read.page;
                after.colours = read.colours;
                after.assumed_ppi = read.assumed_ppi;
                after.film.box = read.film.box;
                after.placements = read.placements;
                std::erase_if(after.routes, [&](const Route &route) { // of artworks taken away
                    return route.artwork != 0 && !after.placements.find(route.artwork);
                });
                after.plates = untouched ? propose_job(m_page->scene, before.name, read.page).plates
                                         : plates_for(shown->scene, m_page->scene, before);
                m_undo.push(new JobChange(*this, before, after, text, merge_key));
            }
            Q_EMIT pageChanged();
            Q_EMIT jobChanged();
            measureCoverage();
            measureColours();
            findFlatColours();
            measureSource();
            followRoutes(); // what was routed while the page was loading
            findLosses();
            checkWhenStale();
        });
}

/// All pages are checked at once, so that another page or box needs no new check.
void Session::checkWhenStale()
{
    if (m_checkedArtwork != m_opened.artwork || !(m_checkedColours == job().colours)) {
        check();
    }
}

void Session::cancelChecking()
{
    m_checkSwitch.cancel();
}

void Session::check()
{
    m_checkSwitch.cancel();
    if (!isOpen()) {
        return;
    }
    m_checked.reset();
    joinFindings();
    m_checkFault = m_rulesFault;
    m_checking = true;
    m_checkedArtwork = m_opened.artwork;
    m_checkedColours = job().colours;
    Q_EMIT findingsChanged();
    m_checkSwitch = m_tasks.start(
        [artwork = m_opened.artwork, rules = m_rules, colours = job().colours](const JobControl &control) {
            return check_artwork(*artwork, rules, colours, control);
        },
        [this, request = ++m_checkRequest](Outcome<std::vector<Finding>> findings) {
            if (request != m_checkRequest) {
                return;
            }
            m_checking = false;
            if (findings) {
                m_checked = std::move(*findings);
                joinFindings();
            } else if (findings.error().code != ErrorCode::Cancelled) {
                m_checkFault = QString::fromStdString(findings.error().message());
            }
            Q_EMIT findingsChanged();
        },
        [this](qint64 done, qint64 total) { Q_EMIT checkProgress(done, total); });
}

int Session::openFindings(Severity severity) const
{
    if (!m_findings) {
        return 0;
    }
    return static_cast<int>(
        std::count_if(m_findings->begin(), m_findings->end(), [&](const Finding &finding) {
            return finding.severity == severity && !finding.is_solved() && !finding.muted &&
                   std::none_of(job().accepted.begin(), job().accepted.end(),
                                [&](const AcceptedFinding &one) { return covers(one, finding); });
        }));
}

QRectF Session::shownArea(const Rect &media) const
{
    const Rect box = box_within(m_page->info, m_page->box, PageBox::Media);
    return {media.x - box.x, media.y - box.y, media.width, media.height};
}

Rect Session::mediaArea(const QRectF &shown) const
{
    const Rect box = box_within(m_page->info, m_page->box, PageBox::Media);
    return {shown.x() + box.x, shown.y() + box.y, shown.width(), shown.height()};
}

Done Session::save(const QString &path)
{
    Done done = save_job(path.toStdString(), m_opened.job, artwork());
    if (done) {
        m_path = path;
        m_undo.setClean();
        Q_EMIT pathChanged();
    }
    return done;
}

} // namespace bichrom
