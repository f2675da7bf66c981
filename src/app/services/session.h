/// \file
/// The open job: loading, changing with undo, saving.
/// Layer: app/services.
#pragma once

#include "app/services/fact.h"
#include "app/services/loaded_page.h"
#include "app/tasks/task_scope.h"
#include "core/job/job_file.h"
#include "core/page/picture_pixels.h"
#include "core/preflight/preflight.h"

#include <QImage>
#include <QObject>
#include <QRectF>
#include <QTimer>
#include <QUndoStack>

#include <map>
#include <memory>
#include <optional>
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

    /// Mean tone of \p ink inside the trim, 0 to 1; negative while it is not known yet.
    [[nodiscard]] double coverage(const std::string &ink) const;

    /// The same of an ink of the artwork as it came, before any route.
    [[nodiscard]] double sourceCoverage(const std::string &ink) const;

    /// The shop rules in use; never empty.
    [[nodiscard]] const ShopRules &rules() const { return m_rules; }
    /// What the shop rules caught on all pages, and what of the page reaches no plate; none while the rules
    /// are being checked.
    [[nodiscard]] const std::optional<std::vector<Finding>> &findings() const { return m_findings; }
    [[nodiscard]] bool isChecking() const { return m_checking; }
    /// Why the last check gave nothing; empty when it went well or was stopped.
    [[nodiscard]] const QString &checkFault() const { return m_checkFault; }
    void cancelChecking();
    void check(); ///< again; findingsChanged() follows
    /// The findings of \p severity that nobody has accepted.
    [[nodiscard]] int openFindings(Severity severity) const;

    using Coverage = std::map<std::string, double>; ///< mean tone inside the trim by ink, 0 to 1
    [[nodiscard]] const Fact<Coverage> &coverages() const { return m_coverage; }
    /// What of the job is looked for after each edit: losses and faults of plates.
    struct Followed
    {
        JobFindings found;
        std::shared_ptr<const Job> job; ///< that it was found in; never null
    };
    [[nodiscard]] const Fact<Followed> &followed() const { return m_followed; }

    /// What of the page reaches no plate and nobody has accepted.
    [[nodiscard]] std::vector<Finding> openLosses() const;
    /// What the shop rules caught about the plates of this page, and nobody has accepted.
    [[nodiscard]] std::vector<Finding> plateFindings() const;
    /// Visible cm² of each colour of the page's scene; empty while it is not known.
    [[nodiscard]] const std::vector<double> &colourAreas() const { return m_areas; }

    /// Flat colours in the page's pictures; empty while they are not known.
    [[nodiscard]] const std::vector<FlatColour> &flatColours() const { return m_flat; }

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
    void showPage(int number);

    /// Puts a revised customer file in the place of this one, undoable. Routes that still match are kept;
    /// artworkReplaced() tells of the others. openFailed() when the file cannot be read.
    /// \param artwork  0 = the first file, else the id of a placed one
    void replaceArtwork(const QString &path, int artwork = 0);

    /// Places page 1 of another file in the middle of the shown page, over everything, undoable.
    /// openFailed() when it cannot be read or placed.
    void placeArtwork(const QString &path);
    /// Other places, sizes, order of what is placed, undoable. openFailed() as above.
    void changePlacements(const Placements &placements, const QString &text, const QString &merge_key = {});

    /// Saves as a .bichrom job.
    [[nodiscard]] Done save(const QString &path);

Q_SIGNALS:
    void loadingChanged();
    void previewed(const QImage &picture); ///< of what is opened first, until its plates are there
    void artworkChanged();                 ///< another job is open; pageChanged() and jobChanged() follow
    void pageChanged();   ///< another artwork, page or box is on the table, or it is read in another way
    void jobChanged();    ///< plates, screens or film settings changed
    void platesChanged(); ///< the same page goes to other plates, or by other routes
    void coverageChanged();
    void coloursMeasured();
    void findingsChanged();
    void checkProgress(qint64 done, qint64 total);
    void separationProgress(qint64 done, qint64 total); ///< of pictures whose inks are solved together
    void pathChanged();
    void artworkReplaced(const std::vector<bichrom::Route> &dropped);
    void openFailed(const bichrom::Error &error, const QString &path, int page);

private:
    friend class JobChange;
    friend class ArtworkChange;
    struct Loaded;
    void take(Loaded loaded);
    void setJob(const Job &job);
    void setArtwork(const std::shared_ptr<const Artwork> &artwork, const Job &job);
    void measureCoverage();
    void measureSource();
    void measureColours();
    void findFlatColours();
    void followRoutes(); ///< makes the plates anew when the job's inks or routes are not those shown
    void findLosses();   ///< once edits rest
    void findLossesNow();
    [[nodiscard]] std::vector<Finding> openOf(const std::vector<Finding> &findings) const;
    void joinFindings();
    void takeRules();
    void reload(const Job &next, const QString &text, const QString &merge_key);
    void checkWhenStale();
    void beginLoading();
    void failBesideJob(Error fault, const QString &path);
    void reloadAsRead(); ///< loads the page as the job reads it, when an interrupted loading left another one
    [[nodiscard]] bool showsWhatIsRead(const Job &job) const;

    OpenedJob m_opened;
    std::shared_ptr<const LoadedPage> m_page;
    Fact<Coverage> m_coverage;
    std::map<std::string, double> m_sourceCoverage;
    std::vector<double> m_areas;
    std::vector<FlatColour> m_flat;
    QString m_path;
    QUndoStack m_undo;
    bool m_loading = false;
    quint64 m_request = 0; ///< of the newest loading; results of older ones come too late and are dropped
    ShopRules m_rules;
    std::string m_rulesText; ///< that m_rules was read from
    std::string m_usualRules;
    std::optional<std::vector<Finding>> m_checked; ///< by the rules
    Fact<Followed> m_followed;
    std::optional<std::vector<Finding>> m_findings; ///< both
    QString m_rulesFault;
    QString m_checkFault;
    bool m_checking = false;
    quint64 m_checkRequest = 0;
    std::shared_ptr<const Artwork> m_checkedArtwork;
    ColourSettings m_checkedColours;
    CancelSwitch m_checkSwitch;
    CancelSwitch m_opening;
    CancelSwitch m_measuring;
    CancelSwitch m_measuringColours;
    CancelSwitch m_lookingForFlat;
    CancelSwitch m_measuringSource;
    CancelSwitch m_routing;
    CancelSwitch m_losing;
    quint64 m_routingRequest = 0;
    quint64 m_losingRequest = 0;
    QTimer m_resting;
    TaskScope m_tasks;   // last, so that they are destroyed first
    TaskScope m_looking; ///< for faults, beside what the window waits for
};

} // namespace bichrom
