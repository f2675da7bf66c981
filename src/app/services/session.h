/// \file
/// The open job: loading, changing with undo, saving.
/// Layer: app/services.
#pragma once

#include "app/services/facts.h"
#include "app/services/page_loader.h"
#include "app/tasks/task_scope.h"

#include <QImage>
#include <QObject>
#include <QRectF>
#include <QUndoStack>

#include <memory>
#include <vector>

namespace bichrom {

class Session : public QObject
{
    Q_OBJECT

public:
    explicit Session(QObject *parent = nullptr);
    ~Session() override;

    [[nodiscard]] bool isOpen() const { return m_page != nullptr; }
    [[nodiscard]] bool isLoading() const { return m_loading; }
    [[nodiscard]] const Job &job() const { return m_opened.job; }
    [[nodiscard]] const OpenedJob &opened() const { return m_opened; }
    [[nodiscard]] const Artwork &artwork() const { return *m_opened.artwork; }
    [[nodiscard]] const std::shared_ptr<const LoadedPage> &page() const { return m_page; }
    [[nodiscard]] const QString &path() const { return m_path; } ///< of the job or artwork
    [[nodiscard]] QUndoStack &undoStack() { return m_undo; }
    [[nodiscard]] bool isModified() const { return !m_undo.isClean(); }

    /// What is measured about it.
    [[nodiscard]] Facts &facts() { return m_facts; }
    [[nodiscard]] const Facts &facts() const { return m_facts; }

    /// Whether the plates on the table are those of the job; else platesChanged() follows, or openFailed().
    [[nodiscard]] bool platesFollow() const;

    /// Rules that artwork opened from now on is checked by, as JSON; empty = the first shipped set.
    void setUsualRules(const std::string &rules) { m_usualRules = rules; }

    /// From mm of the media box's page space to mm of the shown box's, and back.
    [[nodiscard]] QRectF shownArea(const Rect &media) const;
    [[nodiscard]] Rect mediaArea(const QRectF &shown) const;
    /// An object of the page's scene as routes remember it.
    [[nodiscard]] ObjectMark markOf(int object) const;
    /// The trim box, mm from the shown page's top left.
    [[nodiscard]] Rect trimArea() const;

    /// Opens in the background; opened() or openFailed() follows. What is open stays
    /// until then. \p page 0 = the job's own, or the first.
    /// \param origin  where the work belongs when \p path is a job kept after a crash: it is then unsaved
    /// \param patience  how many times the usual work reading may take (ReadingOptions)
    void open(const QString &path, int page = 0, const QString &password = {}, const QString &origin = {},
              int patience = 1);
    void cancelOpening();

    /// Replaces the job, undoable. A change with the same \p merge_key as the last one
    /// becomes part of it.
    void change(const Job &job, const QString &text, const QString &merge_key = {});

    /// Replaces the job by one that reads the artwork in another way: another page, colours, box or
    /// picture size. Loads in the background first; plates keep their settings, those of inks that are
    /// no longer found go, new ones are added. openFailed() when it cannot be read so.
    void changeReading(const Job &job, const QString &text, const QString &merge_key = {});
    /// Turns to another page of the same job: no step to be undone, and nothing to be saved. Inks that only
    /// this page has get plates. openFailed() when it cannot be read.
    void showPage(int number);
    /// The page on the table, or the one that is being turned to.
    [[nodiscard]] int wantedPage() const { return m_wantedPage > 0 ? m_wantedPage : job().page; }

    /// Puts a revised customer file in the place of this one, undoable. Routes that still match are kept;
    /// artworkReplaced() tells of the others. openFailed() when the file cannot be read.
    /// \param artwork  0 = the first file, else the id of a placed one
    void replaceArtwork(const QString &path, int artwork = 0);

    /// Places page 1 of another file in the middle of the shown page, over everything, undoable.
    /// openFailed() when it cannot be read or placed.
    /// \param prints  else it is only looked at, as a template, and recipes may look at it
    void placeArtwork(const QString &path, bool prints = true);
    /// Other places, sizes, order of what is placed, undoable. openFailed() as above.
    void changePlacements(const Placements &placements, const QString &text, const QString &merge_key = {});

    /// Saves as a .bichrom job, on another thread; saved() or saveFailed() follows. What is changed meanwhile
    /// stays unsaved.
    void save(const QString &path);
    [[nodiscard]] bool isSaving() const { return m_saving; }

Q_SIGNALS:
    void loadingChanged();
    void previewed(
        const QImage &picture); ///< of what is opened first, or a page turned to, until its plates are there
    void artworkChanged();      ///< another job is open; pageChanged() and jobChanged() follow
    void pageChanged();   ///< another artwork, page or box is on the table, or it is read in another way
    void jobChanged();    ///< plates, screens or film settings changed
    void platesChanged(); ///< the same page goes to other plates, or by other routes
    void separationProgress(qint64 done, qint64 total); ///< of pictures whose inks are solved together
    void pathChanged();
    void saved(const QString &path);
    void saveFailed(const bichrom::Error &error, const QString &path);
    /// What was decided and matches nothing in the new file.
    void artworkReplaced(const std::vector<bichrom::Route> &dropped,
                         const std::vector<bichrom::OverprintRule> &dropped_rules);
    void openFailed(const bichrom::Error &error, const QString &path, int page);

private:
    friend class JobChange;
    friend class ArtworkChange;
    void take(OpenedPage loaded, const QString &path, bool unsaved);
    void setJob(const Job &job);
    void setArtwork(const std::shared_ptr<const Artwork> &artwork, const Job &job);
    void followRoutes(); ///< makes the plates anew when the job's inks or routes are not those shown
    /// Why the page is read.
    enum class Reading
    {
        OfJob,  ///< the job is already what it shall be
        Turned, ///< another page is wanted
        Changed ///< another way of reading is wanted, a step to be undone
    };
    void reload(Reading why, const Job &next, const QString &text = {}, const QString &merge_key = {});
    void takePage(Reading why, OpenedPage read, const QString &text, const QString &merge_key);
    void reloadFailed(Reading why, const Error &error, int wanted);
    [[nodiscard]] std::function<void(QImage)> lookFor(quint64 request);
    void beginLoading();
    [[nodiscard]] bool endLoading(quint64 request); ///< false: the result of a loading that is not wanted
    void failBesideJob(Error fault, const QString &path);
    void reloadAsRead(); ///< loads the page as the job reads it, when an interrupted loading left another one
    [[nodiscard]] bool showsWhatIsRead(const Job &job) const;

    OpenedJob m_opened;
    std::shared_ptr<const LoadedPage> m_page;
    QString m_path;
    QUndoStack m_undo;
    Facts m_facts;
    bool m_loading = false;
    bool m_saving = false;
    int m_wantedPage = 0;  ///< that is being turned to; 0 = none
    quint64 m_request = 0; ///< of the newest loading; results of older ones come too late and are dropped
    quint64 m_routingRequest = 0;
    std::string m_usualRules;
    CancelSwitch m_opening;
    CancelSwitch m_routing;
    TaskScope m_tasks;
    TaskScope m_saver; // last: destroyed first, and waits for what is being written
};

} // namespace bichrom
