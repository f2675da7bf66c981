#include "app/services/facts.h"

#include "core/line/colour_areas.h"
#include "core/line/coverage.h"

#include <algorithm>
#include <iterator>

namespace bichrom {

namespace {

/// Resolutions that areas are measured at: enough for what is read to a tenth of a percent.
constexpr Dpi coverage_resolution(150);
constexpr Dpi area_resolution(100);

Outcome<Facts::Coverage> measured(const PlateLine &line, const Rect &trim, const JobControl &control)
{
    const auto tones = measure_coverage(line, coverage_resolution, control, trim);
    if (!tones) {
        return tones.error();
    }
    Facts::Coverage coverage;
    for (std::size_t i = 0; i < tones->size(); ++i) {
        coverage[line.inks()[i]] = (*tones)[i];
    }
    return coverage;
}

double tone_of(const Fact<Facts::Coverage> &fact, const std::string &ink)
{
    const Facts::Coverage *all = fact.value();
    if (all == nullptr) {
        return -1.0;
    }
    const auto found = all->find(ink);
    return found == all->end() ? -1.0 : found->second;
}

} // namespace

Facts::Facts(QObject *parent) : QObject(parent), m_rules(shipped_rules().front())
{
    m_resting.setSingleShot(true);
    m_resting.setInterval(300); // milliseconds without another edit
    connect(&m_resting, &QTimer::timeout, this, &Facts::followNow);
    m_looking.setInBackground();
}

Facts::~Facts()
{
    m_tasks.cancelAll();
    m_looking.cancelAll();
}

void Facts::forgetAll(const OpenedJob &opened, const Page &page)
{
    m_opened = opened;
    m_page = page;
    m_followed.forget();
    forgetPage();
    takeRules();
    m_checked.reset();
    joinFindings();
}

void Facts::forgetPage()
{
    m_coverage.forget();
    m_source.forget();
    m_areas.forget();
    m_flat.forget();
}

void Facts::takePage(const OpenedJob &opened, const Page &page)
{
    m_opened = opened;
    m_page = page;
    measureCoverage();
    measureColours();
    findFlatColours();
    measureSource();
    follow();
    // All pages are checked at once, so that another page or box needs no new check.
    if (m_checkedArtwork != m_opened.artwork || !(m_checkedColours == m_opened.job.colours)) {
        check();
    }
}

void Facts::takePlates(const OpenedJob &opened, const Page &page)
{
    m_opened = opened;
    m_page = page;
    measureCoverage();
    follow();
}

void Facts::takeJob(const OpenedJob &opened, bool again)
{
    m_opened = opened;
    const bool other_rules = m_rulesText != opened.job.rules;
    takeRules();
    if (again || other_rules) {
        follow();
    }
    if (other_rules) {
        check();
    }
}

double Facts::sourceCoverage(const std::string &ink) const
{
    return tone_of(m_source, ink);
}

double Facts::coverage(const std::string &ink) const
{
    return tone_of(m_coverage, ink);
}

const std::vector<double> &Facts::colourAreas() const
{
    static const std::vector<double> none;
    return m_areas.value() != nullptr ? *m_areas.value() : none;
}

const std::vector<FlatColour> &Facts::flatColours() const
{
    static const std::vector<FlatColour> none;
    return m_flat.value() != nullptr ? *m_flat.value() : none;
}

void Facts::measureCoverage()
{
    m_coverageSwitch.cancel();
    m_coverage.begin();
    m_coverageSwitch =
        m_tasks.start([line = m_page->plate_line,
                       trim = trim()](const JobControl &control) { return measured(*line, trim, control); },
                      [this, page = m_page](Outcome<Coverage> coverage) {
                          if (page == m_page) {
                              m_coverage.take(std::move(coverage));
                              Q_EMIT coverageChanged();
                          }
                      });
}

void Facts::measureSource()
{
    m_sourceSwitch.cancel();
    m_source.forget();
    m_source.begin();
    std::vector<std::string> inks;
    for (const FoundInk &ink : m_page->scene.inks) {
        inks.push_back(ink.name);
    }
    m_sourceSwitch = m_tasks.start(
        [content = content(), inks, trim = trim()](const JobControl &control) -> Outcome<Coverage> {
            const auto line = PlateLine::make(content, inks, control);
            if (!line) {
                return line.error();
            }
            return measured(**line, trim, control);
        },
        [this, content = content()](Outcome<Coverage> coverage) {
            if (content == this->content()) {
                m_source.take(std::move(coverage));
                Q_EMIT coverageChanged();
            }
        });
}

void Facts::measureColours()
{
    m_areasSwitch.cancel();
    m_areas.forget();
    m_areas.begin();
    m_areasSwitch = m_tasks.start(
        [page = m_page](const JobControl &control) {
            return measure_colours(page->plate_line->share_page(), page->scene, area_resolution, control);
        },
        [this, content = content()](Outcome<std::vector<double>> areas) {
            if (content == this->content()) {
                m_areas.take(std::move(areas));
                Q_EMIT coloursMeasured();
            }
        });
}

void Facts::findFlatColours()
{
    m_flatSwitch.cancel();
    m_flat.forget();
    m_flat.begin();
    m_flatSwitch = m_tasks.start(
        [page = m_page](const JobControl &control) {
            return find_flat_colours(page->content(), page->scene, control);
        },
        [this, content = content()](Outcome<std::vector<FlatColour>> found) {
            if (content == this->content()) {
                m_flat.take(std::move(found));
                Q_EMIT coloursMeasured();
            }
        });
}

void Facts::follow()
{
    m_followSwitch.cancel();
    ++m_followRequest; // what is under way is of before
    m_followed.begin();
    m_resting.start();
}

void Facts::followNow()
{
    if (m_page == nullptr) {
        return;
    }
    m_followSwitch = m_looking.start(
        [page = m_page, artwork = m_opened.artwork, rules = m_rules,
         job = m_opened.job](const JobControl &control) mutable -> Outcome<Followed> {
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
        [this, request = m_followRequest](Outcome<Followed> found) {
            if (request == m_followRequest) {
                m_followed.take(std::move(found));
                joinFindings();
                Q_EMIT findingsChanged();
            }
        });
}

void Facts::joinFindings()
{
    m_findings.reset();
    if (m_checked) {
        const Followed *known = m_followed.value();
        m_findings = known != nullptr ? follow_job(*m_checked, known->found, *known->job) : *m_checked;
    }
}

std::vector<Finding> Facts::openOf(const std::vector<Finding> &findings) const
{
    const std::vector<AcceptedFinding> &accepted = m_opened.job.accepted;
    std::vector<Finding> open;
    std::copy_if(findings.begin(), findings.end(), std::back_inserter(open), [&](const Finding &finding) {
        return std::none_of(accepted.begin(), accepted.end(),
                            [&](const AcceptedFinding &one) { return covers(one, finding); });
    });
    return open;
}

std::vector<Finding> Facts::openLosses() const
{
    const Followed *known = m_followed.value();
    return known == nullptr ? std::vector<Finding>() : openOf(known->found.lost);
}

std::vector<Finding> Facts::plateFindings() const
{
    const Followed *known = m_followed.value();
    return known == nullptr ? std::vector<Finding>() : openOf(known->found.plates);
}

int Facts::openFindings(Severity severity) const
{
    if (!m_findings) {
        return 0;
    }
    const std::vector<Finding> open = openOf(*m_findings);
    return static_cast<int>(std::count_if(open.begin(), open.end(), [&](const Finding &finding) {
        return finding.severity == severity && !finding.is_solved() && !finding.muted;
    }));
}

void Facts::takeRules()
{
    const Job &job = m_opened.job;
    if (m_rulesText == job.rules && !m_rulesText.empty()) {
        return;
    }
    m_rulesText = job.rules;
    m_rules = shipped_rules().front();
    m_rulesFault.clear();
    if (!m_rulesText.empty()) {
        auto rules = rules_from_json(m_rulesText, job.name);
        if (rules) {
            m_rules = std::move(*rules);
        } else {
            m_rulesFault = tr("The job's own shop rules cannot be read; “%1” stands in. %2")
                               .arg(QString::fromStdString(m_rules.name),
                                    QString::fromStdString(rules.error().message()));
        }
    }
}

void Facts::cancelChecking()
{
    m_checkingSwitch.cancel();
}

void Facts::check()
{
    m_checkingSwitch.cancel();
    if (m_page == nullptr) {
        return;
    }
    m_checked.reset();
    joinFindings();
    m_checkFault = m_rulesFault;
    m_checking = true;
    m_checkedArtwork = m_opened.artwork;
    m_checkedColours = m_opened.job.colours;
    Q_EMIT findingsChanged();
    m_checkingSwitch = m_tasks.start(
        [artwork = m_opened.artwork, rules = m_rules, colours = m_opened.job.colours](
            const JobControl &control) { return check_artwork(*artwork, rules, colours, control); },
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

} // namespace bichrom
