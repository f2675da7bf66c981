#include "app/services/session.h"

#include "core/fit/page_boxes.h"
#include "core/plates/coverage.h"

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

struct Session::Loaded
{
    OpenedJob opened;
    std::shared_ptr<const LoadedPage> page;
    QString path;
    bool unsaved = false;
};

namespace {

auto find_ink(std::vector<Plate> &plates, const std::string &ink)
{
    return std::find_if(plates.begin(), plates.end(), [&](const Plate &plate) { return plate.ink == ink; });
}

/// The job's plates for what is found: order and settings are kept; each new ink comes after the one it
/// follows when plates are proposed afresh.
std::vector<Plate> plates_for(const Scene &scene, const Job &job)
{
    std::vector<Plate> found = propose_job(scene, job.name, job.page).plates;
    std::vector<Plate> plates = job.plates;
    std::erase_if(plates, [&](const Plate &plate) { return find_ink(found, plate.ink) == found.end(); });
    for (std::size_t i = 0; i < found.size(); ++i) {
        if (find_ink(plates, found[i].ink) == plates.end()) {
            const auto before = i == 0 ? plates.end() : find_ink(plates, found[i - 1].ink);
            plates.insert(before == plates.end() ? plates.begin() : before + 1, found[i]);
        }
    }
    return plates;
}

/// \param look_for_inks  brings the job's plates up to what the page paints
Outcome<std::shared_ptr<const LoadedPage>> load_page(OpenedJob &opened, bool look_for_inks,
                                                     const JobControl &control)
{
    auto page = std::make_shared<LoadedPage>();
    Job &job = opened.job;
    const auto info = opened.artwork->page_info(job.page);
    if (!info) {
        return info.error();
    }
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
    auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    page->scene = std::move(*scene);
    if (look_for_inks) {
        job.plates = plates_for(page->scene, job);
    }
    const auto renderer = PlateRenderer::make(*content, job.inks(), control);
    if (!renderer) {
        return renderer.error();
    }
    page->renderer = *renderer;
    page->knocked_out = *renderer;
    if (page->scene.uses_overprint) {
        const auto knocked_out = PlateRenderer::make(*content, job.inks(), control, Overprint::Ignored);
        if (!knocked_out) {
            return knocked_out.error();
        }
        page->knocked_out = *knocked_out;
    }
    const auto original = OriginalView::make(*content, control);
    if (!original) {
        return original.error();
    }
    page->original = *original;
    return std::shared_ptr<const LoadedPage>(page);
}

} // namespace

Session::Session(QObject *parent) : QObject(parent), m_undo(this), m_rules(shipped_rules().front()) {}

Session::~Session()
{
    m_opening.cancel();
    m_measuring.cancel();
    m_checkSwitch.cancel();
}

double Session::coverage(const std::string &ink) const
{
    if (!m_page) {
        return -1.0;
    }
    const auto &inks = m_page->renderer->inks();
    for (std::size_t i = 0; i < inks.size() && i < m_coverage.size(); ++i) {
        if (inks[i] == ink) {
            return m_coverage[i];
        }
    }
    return -1.0;
}

void Session::open(const QString &path, int page, const QString &password, const QString &origin)
{
    m_opening.cancel();
    m_loading = true;
    Q_EMIT loadingChanged();
    m_opening = m_tasks.start(
        [path, page, password, origin, usual = m_usualRules](const JobControl &control) -> Outcome<Loaded> {
            ReadingOptions options;
            options.password = password.toStdString();
            auto opened = open_job_or_artwork(path.toStdString(), page, options, control);
            if (!opened) {
                return opened.error();
            }
            if (!is_job_file(path.toStdString())) {
                opened->job.rules = usual;
            }
            auto loaded = load_page(*opened, false, control);
            if (!loaded) {
                return loaded.error();
            }
            return Loaded{std::move(*opened), std::move(*loaded), origin.isEmpty() ? path : origin,
                          !origin.isEmpty()};
        },
        [this, path, page, request = ++m_request](Outcome<Loaded> loaded) {
            if (request != m_request || (!loaded && loaded.error().code == ErrorCode::Cancelled)) {
                return; // another file, or the artist's wish; the flag is already set
            }
            m_loading = false;
            Q_EMIT loadingChanged();
            if (loaded) {
                take(std::move(*loaded));
            } else {
                mend();
                Q_EMIT openFailed(loaded.error(), path, page);
            }
        });
}

void Session::cancelOpening()
{
    m_opening.cancel();
    ++m_request;
    if (m_loading) {
        m_loading = false;
        Q_EMIT loadingChanged();
        mend();
    }
}

bool Session::showsWhatIsRead(const Job &job) const
{
    return m_page->info.number == job.page && m_page->box == job.film.box && m_page->colours == job.colours &&
           m_opened.job.assumed_ppi == job.assumed_ppi;
}

void Session::mend()
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
    m_coverage.clear();
    m_undo.clear();
    if (loaded.unsaved) {
        m_undo.resetClean();
    }
    takeRules();
    m_findings.reset();
    Q_EMIT pathChanged();
    Q_EMIT artworkChanged();
    Q_EMIT pageChanged();
    Q_EMIT jobChanged();
    measureCoverage();
    check();
}

void Session::measureCoverage()
{
    m_measuring.cancel();
    m_measuring = m_tasks.start(
        [renderer = m_page->renderer, trim = trimArea()](const JobControl &control) {
            return measure_coverage(*renderer, Dpi(150), control, trim);
        },
        [this, page = m_page](Outcome<std::vector<double>> coverage) {
            if (coverage && page == m_page) {
                m_coverage = std::move(*coverage);
                Q_EMIT coverageChanged();
            }
        });
}

void Session::change(const Job &job, const QString &text, const QString &merge_key)
{
    if (isOpen() && !(job == m_opened.job)) {
        m_undo.push(new JobChange(*this, m_opened.job, job, text, merge_key));
    }
}

void Session::setJob(const Job &job)
{
    const bool read_alike = showsWhatIsRead(job);
    const Job before = std::exchange(m_opened.job, job);
    takeRules();
    Q_EMIT jobChanged();
    if (!read_alike) {
        // An undone or repeated reading: the job is as it shall be, the page follows.
        m_opened.job.assumed_ppi = before.assumed_ppi; // of the artwork that is open now
        reload(job, {}, {});
    } else if (before.rules != job.rules) {
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
    m_opening.cancel();
    m_loading = true;
    Q_EMIT loadingChanged();
    OpenedJob opened = m_opened;
    opened.job = next;
    m_opening = m_tasks.start(
        [opened, look = !text.isEmpty(),
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
            auto page = load_page(opened, look, control);
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
                    m_opened.job.page = m_page->info.number;
                    m_opened.job.film.box = m_page->box;
                    m_opened.job.colours = m_page->colours;
                    Q_EMIT jobChanged();
                }
                Q_EMIT openFailed(loaded.error(), m_path, wanted);
                return;
            }
            // Plates nobody has touched follow the page; others keep what was set.
            const bool untouched = m_opened.job.plates ==
                                   propose_job(m_page->scene, m_opened.job.name, m_opened.job.page).plates;
            m_page = std::move(loaded->page);
            m_opened.artwork = std::move(loaded->opened.artwork);
            m_coverage.clear();
            const Job before = m_opened.job;
            const Job &read = loaded->opened.job;
            m_opened.job.assumed_ppi = read.assumed_ppi; // of the artwork that is open now
            if (!text.isEmpty()) {
                Job after = before; // with what else was changed meanwhile
                after.page = read.page;
                after.colours = read.colours;
                after.assumed_ppi = read.assumed_ppi;
                after.film.box = read.film.box;
                after.plates = untouched ? propose_job(m_page->scene, before.name, read.page).plates
                                         : plates_for(m_page->scene, before);
                m_undo.push(new JobChange(*this, before, after, text, merge_key));
            }
            Q_EMIT pageChanged();
            Q_EMIT jobChanged();
            measureCoverage();
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
    m_findings.reset();
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
                m_findings = std::move(*findings);
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
            return finding.severity == severity &&
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
