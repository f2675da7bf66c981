#include "app/services/facts.h"

#include "core/line/colour_areas.h"
#include "core/line/coverage.h"
#include "core/line/painted_area.h"

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

Facts::Facts(const OpenedJob &opened, const Page &page, QObject *parent)
    : QObject(parent), m_opened(opened), m_page(page), m_rules(shipped_rules().front())
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

void Facts::forgetAll()
{
    m_followed.forget();
    m_checked.forget();
    forgetPage();
    takeRules();
    joinFindings();
}

void Facts::forgetPage()
{
    m_coverage.forget();
    m_source.forget();
    m_areas.forget();
    m_flat.forget();
    m_printed.forget();
}

void Facts::takePage()
{
    measureCoverage();
    measureColours();
    findFlatColours();
    measureSource();
    m_printed.forget();
    measurePrinted();
    follow();
    // All pages are checked at once, so that another page or box needs no new check.
    if (m_checkedArtwork != m_opened.artwork || !(m_checkedColours == m_opened.job.colours)) {
        check();
    }
}

void Facts::takePlates()
{
    measureCoverage();
    m_printed.forget();
    measurePrinted();
    follow();
}

void Facts::takeJob(bool again)
{
    const bool other_rules = m_rulesText != m_opened.job.rules;
    takeRules();
    measurePrinted();
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

template <typename T, typename Work>
void Facts::measure(Fact<T> &fact, CancelSwitch &running, Work work, void (Facts::*changed)())
{
    running.cancel();
    const quint64 ticket = fact.begin();
    running = m_tasks.start(std::move(work), [this, &fact, ticket, changed](Outcome<T> &&outcome) {
        if (fact.take(ticket, std::move(outcome))) {
            Q_EMIT(this->*changed)();
        }
    });
}

void Facts::measureCoverage()
{
    measure(
        m_coverage, m_coverageSwitch,
        [line = m_page->plate_line, trim = trim()](const JobControl &control) {
            return measured(*line, trim, control);
        },
        &Facts::coverageChanged);
}

void Facts::measureSource()
{
    std::vector<std::string> inks;
    for (const FoundInk &ink : m_page->scene.inks) {
        inks.push_back(ink.name);
    }
    measure(
        m_source, m_sourceSwitch,
        [content = m_page->plate_line->share_page(), inks,
         trim = trim()](const JobControl &control) -> Outcome<Coverage> {
            const auto line = PlateLine::make(content, inks, control);
            if (!line) {
                return line.error();
            }
            return measured(**line, trim, control);
        },
        &Facts::coverageChanged);
}

void Facts::measureColours()
{
    measure(
        m_areas, m_areasSwitch,
        [page = m_page](const JobControl &control) {
            return measure_colours(page->plate_line->share_page(), page->scene, area_resolution, control);
        },
        &Facts::coloursMeasured);
}

void Facts::measurePrinted()
{
    if (!m_opened.job.film.around_art || m_page == nullptr ||
        m_printed.state() != Fact<Rect>::State::Unknown) {
        return;
    }
    measure(
        m_printed, m_printedSwitch,
        [line = m_page->plate_line](const JobControl &control) {
            return painted_area(*line, control, Painted::Plates);
        },
        &Facts::printedChanged);
}

void Facts::findFlatColours()
{
    measure(
        m_flat, m_flatSwitch,
        [page = m_page](const JobControl &control) {
            return find_flat_colours(page->content(), page->scene, control);
        },
        &Facts::coloursMeasured);
}

void Facts::follow()
{
    m_followSwitch.cancel();
    m_followTicket = m_followed.begin(); // what is under way is of before
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
        [this, ticket = m_followTicket](Outcome<Followed> &&found) {
            if (m_followed.take(ticket, std::move(found))) {
                joinFindings();
                Q_EMIT findingsChanged();
            }
        });
}

void Facts::joinFindings()
{
    m_findings.reset();
    if (m_checked.state() == Checked::State::Known) {
        const Followed *known = m_followed.value();
        const std::vector<Finding> &checked = *m_checked.value();
        m_findings = known != nullptr ? follow_job(checked, known->found, *known->job) : checked;
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
    m_checkedArtwork = m_opened.artwork;
    m_checkedColours = m_opened.job.colours;
    const quint64 ticket = m_checked.begin();
    joinFindings();
    Q_EMIT findingsChanged();
    m_checkingSwitch = m_tasks.start(
        [artwork = m_opened.artwork, rules = m_rules, colours = m_opened.job.colours](
            const JobControl &control) { return check_artwork(*artwork, rules, colours, control); },
        [this, ticket](Outcome<std::vector<Finding>> findings) {
            const bool stopped = !findings && findings.error().code == ErrorCode::Cancelled;
            if (!m_checked.take(ticket, std::move(findings))) {
                return;
            }
            if (stopped) { // by the artist
                m_checked.forget();
            }
            joinFindings();
            Q_EMIT findingsChanged();
        },
        [this](qint64 done, qint64 total) { Q_EMIT checkProgress(done, total); });
}

} // namespace bichrom
