/// \file
/// Everything that is measured about the open job, and what is known of it so far.
/// Layer: app/services.
#pragma once

#include "app/services/fact.h"
#include "app/services/loaded_page.h"
#include "app/tasks/task_scope.h"
#include "core/artwork/page_boxes.h"
#include "core/job/job_file.h"
#include "core/page/picture_pixels.h"
#include "core/preflight/preflight.h"

#include <QObject>
#include <QTimer>

#include <map>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace bichrom {

/// Measures on threads of its own. Every fact is of one snapshot of page and job: a new one stops what is
/// under way of the old one, and its results are dropped.
class Facts : public QObject
{
    Q_OBJECT

public:
    using Coverage = std::map<std::string, double>; ///< mean tone inside the trim by ink, 0 to 1
    /// What of the job is looked for after each edit: losses and faults of plates.
    struct Followed
    {
        JobFindings found;
        std::shared_ptr<const Job> job; ///< that it was found in; never null
    };
    using Page = std::shared_ptr<const LoadedPage>;

    /// \param opened, page  what the session has open; outlive this
    Facts(const OpenedJob &opened, const Page &page, QObject *parent = nullptr);
    ~Facts() override;

    // What the session tells, once it is so.
    /// Another artwork is open: nothing is known of it.
    void forgetAll();
    /// Another page is on the table, takePage() follows: what was measured of the one before is not shown.
    void forgetPage();
    /// Another page is on the table, or it is read in another way: everything but the shop rules' findings.
    void takePage();
    /// The same page goes to other plates, or by other routes.
    void takePlates();
    /// The job changed; what routes and recipes do with the page has not, or takePlates() follows.
    /// \param follow  losses and faults of plates may be others
    void takeJob(bool follow);

    // What is known.
    [[nodiscard]] const Fact<Coverage> &coverages() const { return m_coverage; }
    /// Mean tone of \p ink inside the trim, 0 to 1; negative while it is not known.
    [[nodiscard]] double coverage(const std::string &ink) const;
    /// The same of an ink of the artwork as it came, before any route.
    [[nodiscard]] double sourceCoverage(const std::string &ink) const;
    /// The part of the page that plates print, mm from its top left; measured where films are cut to it.
    [[nodiscard]] const Fact<Rect> &printed() const { return m_printed; }
    [[nodiscard]] const Fact<Followed> &followed() const { return m_followed; }
    /// What of the page reaches no plate and nobody has accepted.
    [[nodiscard]] std::vector<Finding> openLosses() const;
    /// What the shop rules caught about the plates of this page, and nobody has accepted.
    [[nodiscard]] std::vector<Finding> plateFindings() const;
    /// Visible cm² of each colour of the page's scene; empty while it is not known.
    [[nodiscard]] const std::vector<double> &colourAreas() const;
    /// Flat colours in the page's pictures; empty while they are not known.
    [[nodiscard]] const std::vector<FlatColour> &flatColours() const;

    // The shop rules.
    [[nodiscard]] const ShopRules &rules() const { return m_rules; } ///< in use; never empty
    /// What the shop rules caught on all pages, and what of the page reaches no plate; none while the rules
    /// are being checked.
    [[nodiscard]] const std::optional<std::vector<Finding>> &findings() const { return m_findings; }
    [[nodiscard]] bool isChecking() const { return m_checked.state() == Checked::State::Running; }
    /// Why the last check gave nothing; empty when it went well or was stopped.
    [[nodiscard]] const QString &checkFault() const
    {
        return m_checked.fault().isEmpty() ? m_rulesFault : m_checked.fault();
    }
    void cancelChecking();
    void check(); ///< again; findingsChanged() follows
    /// The findings of \p severity that nobody has accepted.
    [[nodiscard]] int openFindings(Severity severity) const;

Q_SIGNALS:
    void coverageChanged();
    void coloursMeasured();
    void printedChanged();
    void findingsChanged();
    void checkProgress(qint64 done, qint64 total);

private:
    using Checked = Fact<std::vector<Finding>>;
    /// Runs \p work in the background for \p fact, instead of what \p running does for it.
    template <typename T, typename Work>
    void measure(Fact<T> &fact, CancelSwitch &running, Work work, void (Facts::*changed)());
    void measureCoverage();
    void measureSource();
    void measureColours();
    void measurePrinted(); ///< where anybody needs it and it is not known
    void findFlatColours();
    void follow(); ///< once edits rest
    void followNow();
    void joinFindings();
    void takeRules();
    [[nodiscard]] std::vector<Finding> openOf(const std::vector<Finding> &findings) const;
    [[nodiscard]] Rect trim() const { return box_within(m_page->info, PageBox::Trim, m_page->box); }

    const OpenedJob &m_opened;
    const Page &m_page; ///< null until a job is open
    Fact<Coverage> m_coverage;
    Fact<Coverage> m_source;
    Fact<std::vector<double>> m_areas;
    Fact<Rect> m_printed;
    Fact<std::vector<FlatColour>> m_flat;
    Fact<Followed> m_followed;
    Checked m_checked; ///< by the rules
    ShopRules m_rules;
    std::string m_rulesText; ///< that m_rules was read from
    QString m_rulesFault;
    std::optional<std::vector<Finding>> m_findings; ///< m_checked, and what follows from the job
    std::shared_ptr<const Artwork> m_checkedArtwork;
    ColourSettings m_checkedColours;
    quint64 m_followTicket = 0; ///< of what begins once edits rest
    CancelSwitch m_checkingSwitch, m_coverageSwitch, m_sourceSwitch, m_areasSwitch, m_flatSwitch,
        m_printedSwitch, m_followSwitch;
    QTimer m_resting;
    TaskScope m_tasks;   // last, so that they are destroyed first
    TaskScope m_looking; ///< for faults, beside what the window waits for
};

} // namespace bichrom
