#include "app/services/session.h"

#include "core/artwork/page_boxes.h"
#include "core/job/edits/plates.h"
#include "core/job/edits/reading.h"
#include "core/job/print_model.h"

#include <QFileInfo>
#include <QUndoCommand>

#include <algorithm>

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

Session::Session(QObject *parent) : QObject(parent), m_undo(this), m_facts(m_opened, m_page) {}

Session::~Session()
{
    m_opening.cancel();
    m_routing.cancel();
}

void Session::open(const QString &path, int page, const QString &password, const QString &origin,
                   int patience)
{
    beginLoading();
    const quint64 request = ++m_request;
    // What is open stays in sight and in hand until the other is ready.
    const std::function<void(QImage)> look = isOpen() ? nullptr : lookFor(request);
    m_opening =
        m_tasks.start([what = Opening{path, page, password, patience, m_usualRules},
                       look](const JobControl &control) { return open_page(what, look, control); },
                      [this, path, page, origin, request](Outcome<OpenedPage> loaded) {
                          if (!endLoading(request)) {
                              return;
                          }
                          if (loaded) {
                              take(std::move(*loaded), origin.isEmpty() ? path : origin, !origin.isEmpty());
                          } else if (loaded.error().code != ErrorCode::Cancelled) {
                              reloadAsRead();
                              Q_EMIT openFailed(loaded.error(), path, page);
                          }
                      });
}

/// Takes pictures of what \p request reads, on the worker's thread.
std::function<void(QImage)> Session::lookFor(quint64 request)
{
    return [this, request](QImage picture) {
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

/// What was being opened before is not wanted any more.
void Session::beginLoading()
{
    m_opening.cancel();
    m_wantedPage = 0;
    m_loading = true;
    Q_EMIT loadingChanged();
}

bool Session::endLoading(quint64 request)
{
    if (request != m_request) {
        return false; // another file, page or reading is wanted meanwhile
    }
    m_loading = false;
    m_wantedPage = 0;
    Q_EMIT loadingChanged();
    return true;
}

void Session::cancelOpening()
{
    m_opening.cancel();
    ++m_request;
    m_wantedPage = 0;
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
        reload(Reading::OfJob, job());
    }
}

void Session::take(OpenedPage loaded, const QString &path, bool unsaved)
{
    m_opened = std::move(loaded.opened);
    m_page = std::move(loaded.page);
    m_path = path;
    m_undo.clear();
    if (unsaved) {
        m_undo.resetClean();
    }
    ++m_routingRequest;
    m_facts.forgetAll();
    Q_EMIT pathChanged();
    Q_EMIT artworkChanged();
    Q_EMIT pageChanged();
    Q_EMIT jobChanged();
    m_facts.takePage();
}

bool Session::platesFollow() const
{
    std::vector<std::string> shown = m_page->plate_line->inks();
    std::vector<std::string> wanted = job().inks();
    std::sort(shown.begin(), shown.end());
    std::sort(wanted.begin(), wanted.end());
    return m_page->routes == job().routes && shown == wanted && m_page->computed == computed_key(job());
}

void Session::followRoutes()
{
    if (platesFollow()) {
        m_routing.cancel();
        ++m_routingRequest; // what was under way is no longer wanted
        return;
    }
    m_routing.cancel();
    m_routing = m_tasks.start([page = m_page, job = job()](
                                  const JobControl &control) { return separate_anew(*page, job, control); },
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
                                  m_facts.takePlates();
                              },
                              [this](qint64 done, qint64 total) { Q_EMIT separationProgress(done, total); });
}

void Session::change(const Job &job, const QString &text, const QString &merge_key)
{
    if (isOpen() && !(job == m_opened.job)) {
        m_undo.push(new JobChange(*this, m_opened.job, keep_tins(m_opened.job, job), text, merge_key));
    }
}

void Session::setJob(const Job &job)
{
    Job next = job;
    // The page on the table is no part of what is undone.
    next.page = std::clamp(m_opened.job.page, 1, m_opened.artwork->page_count());
    const bool read_alike = showsWhatIsRead(next);
    if (read_alike && next.page != job.page) { // the step knew nothing of inks that were turned to since
        next = with_inks_of(std::move(next), m_page->scene);
    }
    const Job before = std::exchange(m_opened.job, std::move(next));
    // Another stock may show what is white in the artwork; another order or ink may need white under it.
    const auto looks = [](std::vector<Plate> plates) {
        for (Plate &plate : plates) {
            plate.screen = {};
            plate.printing = {};
        }
        return plates;
    };
    const Job &now = m_opened.job;
    m_facts.takeJob(read_alike && (!(before.stock_here() == now.stock_here()) || before.areas != now.areas ||
                                   looks(before.plates) != looks(now.plates)));
    Q_EMIT jobChanged(); // what has to be found again is under way for whoever looks now
    if (!read_alike) {
        // An undone or repeated reading: the job is as it shall be, the page follows.
        m_opened.job.assumed_ppi = before.assumed_ppi; // of the artwork that is open until then
        Job wanted = m_opened.job;
        wanted.assumed_ppi = job.assumed_ppi;
        reload(Reading::OfJob, wanted);
        return;
    }
    followRoutes();
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
        reload(Reading::Changed, job, text, merge_key);
    }
}

void Session::replaceArtwork(const QString &path, int artwork)
{
    if (!isOpen()) {
        return;
    }
    beginLoading();
    m_opening = m_tasks.start(
        [path, artwork, opened = m_opened](const JobControl &control) {
            return carry_over_to(path, artwork, opened, control);
        },
        [this, path, request = ++m_request](Outcome<CarriedOver> carried) {
            if (!endLoading(request)) {
                return;
            }
            if (!carried) {
                failBesideJob(carried.error(), path);
                return;
            }
            m_undo.push(new ArtworkChange(*this, {m_opened.artwork, m_opened.job},
                                          {carried->artwork, carried->replacement.job},
                                          tr("Replace the artwork")));
            Q_EMIT artworkReplaced(carried->replacement.dropped, carried->replacement.dropped_rules);
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

void Session::placeArtwork(const QString &path, bool prints)
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
        [this, path, prints, request = ++m_request](const Outcome<std::shared_ptr<const Artwork>> &file) {
            if (!endLoading(request)) {
                return;
            }
            Placements placements = job().placements;
            PlacedArtwork placed;
            placed.prints = prints;
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
    if (!isOpen() || number == wantedPage()) {
        return;
    }
    if (number == job().page) {
        cancelOpening(); // back to the one that is still on the table
        return;
    }
    Job next = job();
    next.page = number;
    reload(Reading::Turned, next);
    m_wantedPage = number;
}

void Session::reload(Reading why, const Job &next, const QString &text, const QString &merge_key)
{
    beginLoading();
    OpenedJob opened = m_opened;
    opened.job = next;
    Adapt adapt;
    if (why == Reading::Turned) {
        adapt = with_inks_of;
    } else if (why == Reading::Changed) {
        adapt = [shown = m_page](const Job &job, const Scene &scene) {
            return with_reading(job, job, shown->scene, scene, *shown->artwork);
        };
    }
    const quint64 request = ++m_request;
    const std::function<void(QImage)> look = why == Reading::Turned ? lookFor(request) : nullptr;
    m_opening =
        m_tasks.start([opened, adapt, look, ppi = m_opened.job.assumed_ppi](
                          const JobControl &control) { return read_page(opened, ppi, adapt, look, control); },
                      [this, why, wanted = next.page, text, merge_key, request](Outcome<OpenedPage> read) {
                          if (!endLoading(request)) {
                              return;
                          }
                          if (read) {
                              takePage(why, std::move(*read), text, merge_key);
                          } else if (read.error().code != ErrorCode::Cancelled) {
                              reloadFailed(why, read.error(), wanted);
                          }
                      });
}

void Session::reloadFailed(Reading why, const Error &error, int wanted)
{
    if (why == Reading::OfJob) { // the job goes back to what is shown, so that the two agree
        m_opened.artwork = m_page->artwork;
        m_opened.job.placements = m_page->artwork->placements();
        m_opened.job.page = m_page->info.number;
        m_opened.job.film.box = m_page->box;
        m_opened.job.colours = m_page->colours;
        Q_EMIT jobChanged();
    }
    Q_EMIT openFailed(error, m_path, wanted);
}

void Session::takePage(Reading why, OpenedPage read, const QString &text, const QString &merge_key)
{
    const auto shown = std::exchange(m_page, std::move(read.page));
    if (shown->artwork != m_page->artwork && shown->info.number == m_page->info.number &&
        shown->box == m_page->box && shown->colours == m_page->colours &&
        shown->artwork->placements().scale == m_page->artwork->placements().scale &&
        shown->artwork->placements().bleed == m_page->artwork->placements().bleed) {
        auto compared = std::make_shared<LoadedPage>(*m_page);
        compared->previous = shown->original;
        compared->previous_plates = shown->plate_line;
        compared->revised_plates = compared->plate_line;
        m_page = std::move(compared);
    }
    ++m_routingRequest;
    m_opened.artwork = std::move(read.opened.artwork);
    const Job before = m_opened.job;                        // with what else was changed meanwhile
    m_opened.job.assumed_ppi = read.opened.job.assumed_ppi; // of the artwork that is open now
    if (why == Reading::Changed) {
        const Job after = with_reading(before, read.opened.job, shown->scene, m_page->scene, *shown->artwork);
        m_undo.push(new JobChange(*this, before, after, text, merge_key));
    } else if (why == Reading::Turned) {
        m_opened.job.page = read.opened.job.page;
        m_opened.job = with_inks_of(std::move(m_opened.job), m_page->scene);
    }
    m_facts.forgetPage();
    Q_EMIT pageChanged();
    Q_EMIT jobChanged();
    m_facts.takePage();
    followRoutes(); // what was routed while the page was loading
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

void Session::save(const QString &path)
{
    if (!isOpen() || m_saving) {
        return;
    }
    m_saving = true;
    Q_EMIT loadingChanged();
    m_saver.start([path = path.toStdString(), opened = m_opened](
                      const JobControl &) { return save_job(path, opened.job, *opened.artwork); },
                  [this, path, opened = m_opened](const Done &done) {
                      m_saving = false;
                      Q_EMIT loadingChanged();
                      if (!done) {
                          Q_EMIT saveFailed(done.error(), path);
                          return;
                      }
                      if (opened.artwork == m_opened.artwork) { // else another file is open by now
                          m_path = path;
                          if (opened.job == m_opened.job) {
                              m_undo.setClean();
                          }
                          Q_EMIT pathChanged();
                      }
                      Q_EMIT saved(path);
                  });
}

} // namespace bichrom
