#include "app/services/session.h"

#include "core/plates/coverage.h"

#include <QFileInfo>
#include <QUndoCommand>

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
};

namespace {

Outcome<std::shared_ptr<const LoadedPage>> load_page(const OpenedJob &opened, const JobControl &control)
{
    auto page = std::make_shared<LoadedPage>();
    const auto info = opened.artwork->page_info(opened.job.page);
    if (!info) {
        return info.error();
    }
    page->info = *info;
    page->box = opened.job.film.box;
    const auto content =
        opened.artwork->interpret(opened.job.page, opened.job.film.box, opened.job.colours, control);
    if (!content) {
        return content.error();
    }
    auto scene = record_scene(**content, control);
    if (!scene) {
        return scene.error();
    }
    page->scene = std::move(*scene);
    const auto renderer = PlateRenderer::make(*content, opened.job.inks(), control);
    if (!renderer) {
        return renderer.error();
    }
    page->renderer = *renderer;
    const auto original = OriginalView::make(*content, control);
    if (!original) {
        return original.error();
    }
    page->original = *original;
    return std::shared_ptr<const LoadedPage>(page);
}

} // namespace

Session::Session(QObject *parent) : QObject(parent), m_undo(this) {}

Session::~Session()
{
    m_opening.cancel();
    m_measuring.cancel();
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

void Session::open(const QString &path, int page, const QString &password)
{
    m_opening.cancel();
    m_loading = true;
    Q_EMIT loadingChanged();
    m_opening = m_tasks.start(
        [path, page, password](const JobControl &control) -> Outcome<Loaded> {
            ReadingOptions options;
            options.password = password.toStdString();
            auto opened = open_job_or_artwork(path.toStdString(), page, options, control);
            if (!opened) {
                return opened.error();
            }
            auto loaded = load_page(*opened, control);
            if (!loaded) {
                return loaded.error();
            }
            return Loaded{std::move(*opened), std::move(*loaded), path};
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
                mendBox();
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
        mendBox();
    }
}

void Session::mendBox()
{
    if (isOpen() && m_page->box != job().film.box) {
        loadBox();
    }
}

void Session::take(Loaded loaded)
{
    m_opened = std::move(loaded.opened);
    m_page = std::move(loaded.page);
    m_path = loaded.path;
    m_coverage.clear();
    m_undo.clear();
    Q_EMIT pathChanged();
    Q_EMIT pageChanged();
    Q_EMIT jobChanged();
    measureCoverage();
}

void Session::measureCoverage()
{
    m_measuring.cancel();
    m_measuring = m_tasks.start(
        [renderer = m_page->renderer](const JobControl &control) {
            return measure_coverage(*renderer, Dpi(150), control);
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
    const bool other_box = job.film.box != m_opened.job.film.box;
    m_opened.job = job;
    Q_EMIT jobChanged();
    if (other_box) {
        loadBox();
    }
}

void Session::loadBox()
{
    m_opening.cancel();
    m_opening =
        m_tasks.start([opened = m_opened](const JobControl &control) { return load_page(opened, control); },
                      [this, request = ++m_request](Outcome<std::shared_ptr<const LoadedPage>> page) {
                          if (request != m_request) {
                              return; // the box was changed again meanwhile
                          }
                          if (page) {
                              m_page = std::move(*page);
                              m_coverage.clear();
                              Q_EMIT pageChanged();
                              measureCoverage();
                          } else if (page.error().code != ErrorCode::Cancelled) {
                              Q_EMIT openFailed(page.error(), m_path, m_opened.job.page);
                          }
                      });
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
