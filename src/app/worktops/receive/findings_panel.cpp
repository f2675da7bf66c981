#include "app/worktops/receive/findings_panel.h"

#include "app/dialogs/rules_dialog.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/receive/finding_list.h"
#include "core/artwork/page_boxes.h"
#include "core/base/atomic_file.h"
#include "core/job/edits/plates.h"
#include "core/report/findings_report.h"

#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>
#include <QSignalBlocker>
#include <QToolButton>

#include <algorithm>

namespace bichrom {

FindingsPanel::FindingsPanel(Session &session, Router &router, const Choice &choice, Spotlight &spotlight,
                             RulesShelf &shelf, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_router(router), m_choice(choice), m_spotlight(spotlight),
      m_shelf(shelf), m_prompts(prompts), m_seen(this, [this] { showAll(); })
{
    setObjectName(QStringLiteral("findingsPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 10);
    column->setSpacing(6);
    auto *rules_row = new QHBoxLayout();
    m_rules = new QComboBox(this);
    m_rules->setObjectName(QStringLiteral("rulesChooser"));
    m_rules->setAccessibleName(tr("Shop rules"));
    m_rules->setToolTip(tr("The shop rules that the artwork is checked by"));
    m_edit = new QPushButton(tr("Edit …"), this);
    m_edit->setObjectName(QStringLiteral("editRules"));
    rules_row->addWidget(m_rules, 1);
    rules_row->addWidget(m_edit);
    column->addLayout(rules_row);
    auto *state_row = new QHBoxLayout();
    m_state = make_label({}, 12, QFont::Normal, true, this);
    m_state->setObjectName(QStringLiteral("findingsState"));
    m_state->setWordWrap(true);
    m_progress = new QProgressBar(this);
    m_progress->setTextVisible(false);
    m_progress->setFixedHeight(8);
    m_stop = new QPushButton(tr("Stop"), this);
    m_stop->setObjectName(QStringLiteral("stopChecking"));
    state_row->addWidget(m_state, 1);
    state_row->addWidget(m_progress, 1);
    state_row->addWidget(m_stop);
    column->addLayout(state_row);
    m_list = new FindingList(this);
    m_list->setObjectName(QStringLiteral("findingList"));
    m_list->setAccessibleName(tr("Findings"));
    column->addWidget(m_list, 1);
    buildDetail(column);

    connect(m_rules, &QComboBox::activated, this, &FindingsPanel::chooseRules);
    connect(m_edit, &QPushButton::clicked, this, [this] {
        RulesDialog dialog(m_shelf, m_session.facts().rules(), m_prompts, window());
        if (dialog.exec() == QDialog::Accepted && m_session.isOpen()) {
            Job job = m_session.job();
            job.rules = rules_to_json(dialog.chosen());
            m_session.change(job, tr("Shop rules %1").arg(theme::text_of(dialog.chosen().name)));
        }
        refreshRules();
    });
    connect(m_stop, &QPushButton::clicked, this, [this] {
        m_session.facts().isChecking() ? m_session.facts().cancelChecking() : m_session.facts().check();
    });
    connect(m_list, &FindingList::groupChosen, this, [this](int group) { showPlace(group, 0); });
    connect(&m_session.facts(), &Facts::findingsChanged, this, &FindingsPanel::refresh);
    connect(&m_session, &Session::jobChanged, this, &FindingsPanel::refresh);
    connect(&m_session, &Session::pageChanged, this, [this] {
        refreshDetail();
        light();
    });
    connect(&m_session, &Session::artworkChanged, this, [this] { m_group = m_place = -1; });
    connect(&m_choice, &Choice::plateChanged, this, &FindingsPanel::refreshDetail);
    connect(&m_session.facts(), &Facts::checkProgress, this, [this](qint64 done, qint64 total) {
        m_progress->setRange(0, static_cast<int>(total));
        m_progress->setValue(static_cast<int>(done));
    });
    connect(&m_shelf, &RulesShelf::changed, this, &FindingsPanel::refreshRules);
    refresh();
}

void FindingsPanel::buildDetail(QVBoxLayout *column)
{
    auto *steps = new QHBoxLayout();
    m_back = new QPushButton(tr("Back"), this);
    m_back->setObjectName(QStringLiteral("previousFinding"));
    m_back->setToolTip(tr("The place before (Shift+N)"));
    m_where = make_label({}, 11, QFont::Normal, true, this);
    m_where->setObjectName(QStringLiteral("findingPlace"));
    m_where->setAlignment(Qt::AlignCenter);
    m_next = new QPushButton(tr("Next"), this);
    m_next->setObjectName(QStringLiteral("nextFinding"));
    m_next->setToolTip(tr("The next place (N)"));
    m_next->setProperty("main", true);
    steps->addWidget(m_back);
    steps->addWidget(m_where, 1);
    steps->addWidget(m_next);
    column->addLayout(steps);
    connect(m_back, &QPushButton::clicked, this, [this] { step(-1); });
    connect(m_next, &QPushButton::clicked, this, [this] { step(1); });

    m_detail = new QWidget(this);
    m_detail->setObjectName(QStringLiteral("findingDetail"));
    auto *detail = new QVBoxLayout(m_detail);
    detail->setContentsMargins(0, 0, 0, 0);
    detail->setSpacing(4);
    const auto words = [&](const char *name, int pixels, QFont::Weight weight, bool quiet) {
        QLabel *label = make_label({}, pixels, weight, quiet, m_detail);
        label->setObjectName(QString::fromLatin1(name));
        label->setWordWrap(true);
        label->setTextInteractionFlags(Qt::TextSelectableByMouse);
        detail->addWidget(label);
        return label;
    };
    m_title = words("findingTitle", 13, QFont::DemiBold, false);
    m_measured = words("findingMeasured", 12, QFont::Medium, false);
    m_object = words("findingObject", 11, QFont::Normal, true);
    m_why = words("findingWhy", 12, QFont::Normal, false);
    m_deed = new QToolButton(m_detail);
    m_deed->setObjectName(QStringLiteral("doDeed"));
    m_deed->setToolButtonStyle(Qt::ToolButtonTextOnly);
    m_deed->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    m_deed->setFixedHeight(28);
    m_deed->setMenu(new QMenu(m_deed));
    detail->addWidget(m_deed);
    connect(m_deed, &QToolButton::clicked, this, &FindingsPanel::doDeed);
    auto *accept_row = new QHBoxLayout();
    m_reason = new QLineEdit(m_detail);
    m_reason->setObjectName(QStringLiteral("acceptReason"));
    m_reason->setPlaceholderText(tr("Reason to accept it as it is"));
    m_reason->setAccessibleName(tr("Reason to accept the finding"));
    m_accept = new QPushButton(tr("Accept"), m_detail);
    m_accept->setObjectName(QStringLiteral("acceptFinding"));
    m_takeBack = new QPushButton(tr("Take back"), m_detail);
    m_takeBack->setObjectName(QStringLiteral("takeBackFinding"));
    accept_row->addWidget(m_reason, 1);
    accept_row->addWidget(m_accept);
    accept_row->addWidget(m_takeBack);
    detail->addLayout(accept_row);
    column->addWidget(m_detail);
    auto *foot = new QHBoxLayout();
    m_ask = new QPushButton(tr("Ask the customer"), this);
    m_ask->setObjectName(QStringLiteral("askCustomer"));
    m_ask->setToolTip(tr("Puts the question on the change slip; nothing in the artwork changes."));
    m_report = new QPushButton(tr("Report"), this);
    m_report->setObjectName(QStringLiteral("saveReport"));
    auto *menu = new QMenu(m_report);
    QAction *pdf = menu->addAction(tr("Save as PDF …"));
    pdf->setObjectName(QStringLiteral("reportPdf"));
    QAction *json = menu->addAction(tr("Save as JSON …"));
    json->setObjectName(QStringLiteral("reportJson"));
    m_report->setMenu(menu);
    foot->addWidget(m_ask);
    foot->addStretch();
    foot->addWidget(m_report);
    column->addLayout(foot);
    connect(pdf, &QAction::triggered, this, [this] { saveReport(true); });
    connect(json, &QAction::triggered, this, [this] { saveReport(false); });
    connect(m_reason, &QLineEdit::textChanged, this,
            [this](const QString &text) { m_accept->setEnabled(!text.trimmed().isEmpty()); });
    connect(m_reason, &QLineEdit::returnPressed, m_accept, &QPushButton::click);
    connect(m_accept, &QPushButton::clicked, this, &FindingsPanel::accept);
    m_list->setContextMenuPolicy(Qt::CustomContextMenu);
    connect(m_list, &QWidget::customContextMenuRequested, this, &FindingsPanel::openMenu);
    connect(m_takeBack, &QPushButton::clicked, this, &FindingsPanel::takeBack);
    connect(m_ask, &QPushButton::clicked, this, &FindingsPanel::ask);
}

void FindingsPanel::refreshRules()
{
    const QSignalBlocker quiet(m_rules);
    m_rules->clear();
    for (const RulesShelf::Entry &entry : m_shelf.entries()) {
        m_rules->addItem(theme::text_of(entry.rules.name));
    }
    int current = m_shelf.find(m_session.facts().rules());
    if (current < 0) {
        m_rules->addItem(tr("%1 (of this job)").arg(theme::text_of(m_session.facts().rules().name)));
        current = m_rules->count() - 1;
    }
    m_rules->setCurrentIndex(current);
    m_rules->setEnabled(m_session.isOpen());
}

void FindingsPanel::chooseRules(int row)
{
    if (!m_session.isOpen() || row >= static_cast<int>(m_shelf.entries().size())) {
        return;
    }
    const ShopRules &rules = m_shelf.entries()[static_cast<std::size_t>(row)].rules;
    Job job = m_session.job();
    job.rules = rules_to_json(rules);
    m_session.setUsualRules(job.rules);
    QSettings().setValue(QStringLiteral("rules"), QString::fromStdString(job.rules));
    m_session.change(job, tr("Shop rules %1").arg(theme::text_of(rules.name)));
}

void FindingsPanel::refresh()
{
    const auto &findings = m_session.facts().findings();
    m_groups = m_session.isOpen() && findings ? group_findings(*findings, m_session.job().accepted)
                                              : std::vector<FindingGroup>();
    followGroup();
    m_seen.refresh();
}

/// What is found, and about it what is lit.
void FindingsPanel::showAll()
{
    refreshRules();
    const auto &findings = m_session.facts().findings();
    const bool open = m_session.isOpen();
    m_progress->setVisible(open && m_session.facts().isChecking());
    m_stop->setVisible(open && (m_session.facts().isChecking() || !findings));
    m_stop->setText(m_session.facts().isChecking() ? tr("Stop") : tr("Check"));
    if (m_session.facts().isChecking()) {
        m_progress->setRange(0, 0);
    }
    QString state;
    if (!open) {
        state = tr("Open artwork to check it by the shop rules.");
    } else if (m_session.facts().isChecking()) {
        state = tr("Checking …");
    } else if (!findings) {
        state =
            m_session.facts().checkFault().isEmpty() ? tr("Not checked.") : m_session.facts().checkFault();
    } else if (m_groups.empty()) {
        state = tr("Nothing was found.");
    } else {
        const auto open_groups = std::count_if(m_groups.begin(), m_groups.end(),
                                               [](const FindingGroup &group) { return group.is_open(); });
        const bool solved = std::any_of(m_groups.begin(), m_groups.end(),
                                        [](const FindingGroup &group) { return group.solved; });
        state = open_groups > 0 ? tr("%1 findings open").arg(open_groups)
                : solved        ? tr("All findings are solved or accepted.")
                                : tr("All findings are accepted.");
        if (open_groups == 1) {
            state = tr("1 finding open");
        }
        if (!m_session.facts().checkFault().isEmpty()) {
            state += QLatin1Char('\n') + m_session.facts().checkFault();
        }
    }
    m_state->setText(state);
    static const std::vector<Finding> none;
    m_list->setFindings(findings ? *findings : none, m_groups, open ? m_session.artwork().page_count() : 1);
    m_list->setCurrentGroup(m_group);
    refreshDetail();
}

std::vector<const Finding *> FindingsPanel::findingsOf(int group) const
{
    std::vector<const Finding *> found;
    if (group >= 0 && group < static_cast<int>(m_groups.size()) && m_session.facts().findings()) {
        for (const int index : m_groups[static_cast<std::size_t>(group)].findings) {
            found.push_back(&(*m_session.facts().findings())[static_cast<std::size_t>(index)]);
        }
    }
    return found;
}

std::vector<FindingsPanel::Place> FindingsPanel::placesOf(int group) const
{
    std::vector<Place> places;
    for (const Finding *finding : findingsOf(group)) {
        for (const FindingPlace &place : finding->places) {
            places.push_back({finding, &place});
        }
    }
    return places;
}

/// The finding that is lit stays so wherever the list has it now. One that is solved or gone leaves its place
/// to the next, which is not shown unasked.
void FindingsPanel::followGroup()
{
    const int last = static_cast<int>(m_groups.size()) - 1;
    if (m_place < 0) {
        m_group = std::min(m_group, last);
        return;
    }
    const auto same = std::find_if(m_groups.begin(), m_groups.end(), [&](const FindingGroup &group) {
        const Finding &first =
            (*m_session.facts().findings())[static_cast<std::size_t>(group.findings.front())];
        return !group.solved && first.check == m_check && first.subject == m_subject;
    });
    if (same != m_groups.end()) {
        m_group = static_cast<int>(same - m_groups.begin());
        m_place = std::min(m_place, static_cast<int>(placesOf(m_group).size()) - 1);
    } else {
        m_group = std::min(m_group, last);
        m_place = -1;
        m_spotlight.clear();
    }
}

void FindingsPanel::step(int by)
{
    m_seen.settle();
    const int count = static_cast<int>(m_groups.size());
    if (std::all_of(m_groups.begin(), m_groups.end(), [](const auto &group) { return !group.is_open(); })) {
        return;
    }
    int group = m_group;
    int place = m_place + by;
    if (group < 0) {
        group = by > 0 ? 0 : count - 1;
        place = by > 0 ? 0 : static_cast<int>(placesOf(group).size()) - 1;
    }
    while (!m_groups[static_cast<std::size_t>(group)].is_open() || place < 0 ||
           place >= static_cast<int>(placesOf(group).size())) {
        group = (group + (by > 0 ? 1 : count - 1)) % count;
        place = by > 0 ? 0 : static_cast<int>(placesOf(group).size()) - 1;
    }
    showPlace(group, place);
}

void FindingsPanel::showPlace(int group, int place)
{
    m_group = group;
    m_place = place;
    m_list->setCurrentGroup(group);
    const auto places = placesOf(group);
    m_check = places[static_cast<std::size_t>(place)].finding->check;
    m_subject = places[static_cast<std::size_t>(place)].finding->subject;
    refreshDetail();
    const int page = places[static_cast<std::size_t>(place)].finding->page;
    if (page != m_session.job().page) {
        m_session.showPage(page); // and lights the place when the page is there
    } else {
        light();
    }
}

void FindingsPanel::light()
{
    const auto places = placesOf(m_group);
    if (m_place < 0 || m_place >= static_cast<int>(places.size()) || !m_session.isOpen()) {
        return;
    }
    const Place &now = places[static_cast<std::size_t>(m_place)];
    const int page = m_session.page()->info.number;
    if (now.finding->page != page) {
        return;
    }
    std::vector<QRectF> areas;
    int current = 0;
    for (const Place &one : places) {
        if (one.finding->page != page) {
            continue;
        }
        if (one.place == now.place) {
            current = static_cast<int>(areas.size());
        }
        const bool whole = one.place->area.width <= 0 && one.place->area.height <= 0;
        const Rect media = box_within(m_session.page()->info, PageBox::Media, PageBox::Media);
        areas.push_back(m_session.shownArea(whole ? media : one.place->area));
    }
    const QString measured = theme::text_of(now.place->measured);
    const QString limit = theme::text_of(now.finding->limit);
    m_spotlight.light(std::move(areas), current,
                      measured.isEmpty() ? theme::text_of(now.finding->title)
                      : limit.isEmpty()  ? measured
                                         : tr("%1   limit %2").arg(measured, limit),
                      now.place->object, true);
}

void FindingsPanel::refreshDetail()
{
    const auto places = placesOf(m_group);
    const bool any = m_place >= 0 && m_place < static_cast<int>(places.size());
    const bool steppable = std::any_of(m_groups.begin(), m_groups.end(),
                                       [](const FindingGroup &group) { return group.is_open(); });
    m_next->setEnabled(steppable);
    m_back->setEnabled(steppable);
    m_report->setEnabled(m_session.facts().findings().has_value());
    m_detail->setVisible(any);
    m_ask->setVisible(any);
    m_where->setText(any         ? tr("%1 of %2").arg(m_place + 1).arg(places.size())
                     : steppable ? tr("N goes through them")
                                 : QString());
    refreshDeed(any ? places[static_cast<std::size_t>(m_place)].finding : nullptr);
    if (!any) {
        return;
    }
    const Place &now = places[static_cast<std::size_t>(m_place)];
    const Finding &finding = *now.finding;
    m_title->setText(theme::text_of(finding.title));
    QStringList facts;
    if (!now.place->measured.empty()) {
        facts << tr("measured %1").arg(theme::text_of(now.place->measured));
    }
    if (!finding.limit.empty()) {
        facts << tr("limit %1").arg(theme::text_of(finding.limit));
    }
    if (m_session.artwork().page_count() > 1) {
        facts << tr("page %1").arg(finding.page);
    }
    if (finding.is_solved()) {
        facts << tr("solved: %1").arg(theme::text_of(finding.solved));
    }
    m_measured->setText(facts.join(QStringLiteral(", ")));
    m_measured->setVisible(!facts.isEmpty());
    const auto &objects = m_session.page()->scene.objects;
    const bool known = finding.page == m_session.page()->info.number && now.place->object >= 0 &&
                       now.place->object < static_cast<int>(objects.size());
    const QString object =
        known ? theme::text_of(describe(objects[static_cast<std::size_t>(now.place->object)])) : QString();
    m_object->setText(object);
    m_object->setVisible(known && !theme::text_of(now.place->measured).contains(object)); // said already
    m_why->setText(theme::text_of(finding.why) + QLatin1Char(' ') + theme::text_of(finding.remedy));
    const auto &accepted = m_session.job().accepted;
    const auto one = std::find_if(accepted.begin(), accepted.end(),
                                  [&](const AcceptedFinding &entry) { return covers(entry, finding); });
    const bool is_accepted = one != accepted.end();
    m_reason->setReadOnly(is_accepted);
    m_reason->setText(is_accepted ? tr("Accepted: %1").arg(theme::text_of(one->reason)) : QString());
    m_reason->setVisible(!finding.is_solved());
    m_accept->setVisible(!is_accepted && !finding.is_solved());
    m_accept->setEnabled(false);
    m_takeBack->setVisible(is_accepted);
    const auto &questions = m_session.job().questions;
    const bool asked = std::any_of(questions.begin(), questions.end(), [&](const Question &question) {
        return question.check == finding.check && question.page == finding.page &&
               question.subject == finding.subject;
    });
    m_ask->setEnabled(!asked);
    m_ask->setText(asked ? tr("On the change slip") : tr("Ask the customer"));
}

void FindingsPanel::refreshDeed(const Finding *finding)
{
    m_deeds.clear();
    if (finding != nullptr && finding->page == m_session.page()->info.number) {
        m_deeds =
            deeds_for(*finding, m_session.job(), m_session.page()->scene, m_choice.plate().toStdString());
    }
    m_deed->setVisible(!m_deeds.empty());
    m_deed->menu()->clear();
    if (m_deeds.empty()) {
        return;
    }
    const QString words = theme::text_of(m_deeds.front().words);
    m_deed->setText(m_deed->fontMetrics().elidedText(words, Qt::ElideMiddle, 230));
    m_deed->setToolTip(tr("%1 (D)").arg(words));
    m_deed->setPopupMode(m_deeds.size() > 1 ? QToolButton::MenuButtonPopup : QToolButton::DelayedPopup);
    for (std::size_t i = 1; i < m_deeds.size(); ++i) {
        QAction *action = m_deed->menu()->addAction(theme::text_of(m_deeds[i].words));
        connect(action, &QAction::triggered, this, [this, deed = m_deeds[i]] { carryOut(deed); });
    }
}

/// What can be done about the finding under the pointer, which is chosen by it.
void FindingsPanel::openMenu(const QPoint &at)
{
    QListWidgetItem *item = m_list->itemAt(at);
    if (item == nullptr || (item->flags() & Qt::ItemIsSelectable) == 0) {
        return;
    }
    m_list->setCurrentItem(item);
    QMenu menu(this);
    menu.setObjectName(QStringLiteral("findingMenu"));
    const std::vector<Deed> deeds = m_deeds; // the list changes by what is done
    for (const Deed &deed : deeds) {
        QAction *action = menu.addAction(theme::text_of(deed.words));
        connect(action, &QAction::triggered, this, [this, deed] { carryOut(deed); });
    }
    menu.addSeparator();
    QAction *next = menu.addAction(tr("Next place (N)"));
    connect(next, &QAction::triggered, this, [this] { step(1); });
    QAction *ask = menu.addAction(m_ask->text());
    ask->setEnabled(m_ask->isEnabled());
    connect(ask, &QAction::triggered, m_ask, &QPushButton::click);
    QAction *accept =
        menu.addAction(m_takeBack->isVisible() ? m_takeBack->text() : tr("Accept, with a reason …"));
    connect(accept, &QAction::triggered, this, [this] {
        if (m_takeBack->isVisible()) {
            m_takeBack->click();
        } else {
            m_reason->setFocus();
        }
    });
    menu.exec(m_list->viewport()->mapToGlobal(at));
}

void FindingsPanel::doDeed()
{
    m_seen.settle();
    if (!m_deeds.empty()) {
        carryOut(Deed(m_deeds.front())); // the list changes by it
    }
}

void FindingsPanel::carryOut(const Deed &deed)
{
    if (deed.does == Deed::Does::Send) {
        m_router.sendObjects(deed.objects, theme::text_of(deed.into), deed.own_tint, 1);
        return;
    }
    if (deed.does == Deed::Does::Overprint || deed.does == Deed::Does::KnockOut) {
        m_router.overprintObjects(deed.objects, deed.does == Deed::Does::Overprint ? OverprintWish::Overprint
                                                                                   : OverprintWish::KnockOut);
        return;
    }
    const auto job = rename_plate(m_session.job(), deed.from, deed.into);
    if (job) {
        m_session.change(*job, theme::text_of(deed.words));
    } else {
        m_prompts.showError(tr("The plate keeps its name"), theme::text_of(job.error().message()));
    }
}

void FindingsPanel::accept()
{
    const QString reason = m_reason->text().trimmed();
    const auto findings = findingsOf(m_group);
    if (reason.isEmpty() || findings.empty()) {
        return;
    }
    Job job = m_session.job();
    for (const Finding *finding : findings) {
        job.accepted.push_back({finding->check, finding->page, finding->subject, reason.toStdString()});
    }
    m_session.change(job, tr("Accept: %1").arg(theme::text_of(findings.front()->title)));
}

void FindingsPanel::takeBack()
{
    Job job = m_session.job();
    const auto findings = findingsOf(m_group);
    for (const Finding *finding : findings) {
        std::erase_if(job.accepted, [&](const AcceptedFinding &one) { return covers(one, *finding); });
    }
    if (!findings.empty()) {
        m_session.change(job, tr("No longer accepted: %1").arg(theme::text_of(findings.front()->title)));
    }
}

void FindingsPanel::ask()
{
    const auto findings = findingsOf(m_group);
    if (findings.empty()) {
        return;
    }
    Job job = m_session.job();
    for (const Finding *finding : findings) {
        std::string words = finding->title + ".";
        if (!finding->places.front().measured.empty()) {
            words += " Measured: " + finding->places.front().measured;
            words += finding->limit.empty() ? "." : ", limit " + finding->limit + ".";
        }
        job.questions.push_back({finding->check, finding->page, finding->subject, words});
    }
    m_session.change(job, tr("Ask about: %1").arg(theme::text_of(findings.front()->title)));
}

void FindingsPanel::saveReport(bool as_pdf)
{
    if (!m_session.facts().findings()) {
        return;
    }
    const QFileInfo file(m_session.path());
    const QString path = m_prompts.askSaveFile(
        as_pdf ? FileUse::ReportPdf : FileUse::ReportJson,
        file.absolutePath() + QLatin1Char('/') + file.completeBaseName() +
            (as_pdf ? QStringLiteral("-findings.pdf") : QStringLiteral("-findings.json")));
    if (path.isEmpty()) {
        return;
    }
    m_report->setEnabled(false);
    m_state->setText(tr("Writing the report …"));
    m_tasks.start(
        [as_pdf, path = path.toStdString(), opened = m_session.opened(), rules = m_session.facts().rules(),
         findings = *m_session.facts().findings(),
         date = QDate::currentDate().toString(Qt::ISODate).toStdString()](const JobControl &control) -> Done {
            if (!as_pdf) {
                return write_file(path, findings_to_json(opened.artwork->name(), rules.name, findings,
                                                         opened.job.accepted) +
                                            "\n");
            }
            const auto bytes = findings_report(opened, rules, findings, date, control);
            return bytes ? write_file(path, *bytes) : Done(bytes.error());
        },
        [this, path](const Done &done) {
            refresh();
            if (done) {
                m_state->setText(tr("Report written: %1").arg(QFileInfo(path).fileName()));
            } else {
                m_prompts.showError(tr("The report was not written"), theme::text_of(done.error().message()));
            }
        });
}

} // namespace bichrom
