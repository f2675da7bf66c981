#include "app/worktops/screen/beats_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/screen/beat_chart.h"
#include "app/worktops/screen/beat_picture.h"

#include <QGridLayout>
#include <QHeaderView>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTreeWidget>

#include <cmath>

namespace bichrom {

namespace {

QString degrees(double angle)
{
    return QStringLiteral("%1°").arg(theme::text_of(format_number(angle, 1)));
}

} // namespace

BeatsPanel::BeatsPanel(Session &session, ViewState &view, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to see which of its screens beat."), parent)
{
    setObjectName(QStringLiteral("beatsPanel"));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    const auto field = [&](const char *object, const QString &name, const QString &unit, int decimals,
                           const NumberField::Read &read) {
        return make_number_field(object, name, unit, decimals, read, 84, {}, m_body);
    };
    m_threads =
        field("meshThreads", tr("Threads of the mesh"), tr("/cm"), 1, NumberField::plain(tr("/cm"), 0, 300));
    m_threads->setToolTip(tr("Threads a centimetre; 0 = no mesh"));
    m_meshAngle = field("meshAngle", tr("Angle of the mesh"), QStringLiteral("°"), 1,
                        NumberField::plain(QStringLiteral("°"), -180, 180));
    grid->addWidget(make_label(tr("Mesh, its angle"), 12, QFont::Normal, true, m_body), 0, 0);
    grid->addWidget(m_threads, 0, 1);
    grid->addWidget(m_meshAngle, 0, 2);
    m_viewing = field("viewing", tr("Viewing distance"), tr("mm"), 0, NumberField::length(50, 100000));
    m_viewing->setValue(500);
    m_threads->setValue(0);
    m_meshAngle->setValue(0);
    grid->addWidget(make_label(tr("Looked at from"), 12, QFont::Normal, true, m_body), 1, 0);
    grid->addWidget(m_viewing, 1, 2);
    m_column->addLayout(grid);
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("beatWords"));
    m_words->setWordWrap(true);
    m_column->addWidget(m_words);
    m_pairs = new QTreeWidget(m_body);
    m_pairs->setObjectName(QStringLiteral("beatPairs"));
    m_pairs->setAccessibleName(tr("Screens that beat"));
    m_pairs->setStyleSheet(theme::listStyle());
    m_pairs->setFont(theme::font(11));
    m_pairs->setRootIsDecorated(false);
    m_pairs->setHeaderLabels({tr("Screens"), tr("bands"), tr("seen")});
    m_pairs->header()->setStretchLastSection(false);
    m_pairs->header()->setSectionResizeMode(0, QHeaderView::Stretch);
    m_pairs->header()->setSectionResizeMode(1, QHeaderView::ResizeToContents);
    m_pairs->header()->setSectionResizeMode(2, QHeaderView::ResizeToContents);
    m_column->addWidget(m_pairs, 1);
    m_picture = new BeatPicture(m_body);
    m_column->addWidget(m_picture);
    m_chart = new BeatChart(m_body);
    m_column->addWidget(m_chart);
    m_proposal = make_label({}, 12, QFont::Normal, false, m_body);
    m_proposal->setObjectName(QStringLiteral("beatProposal"));
    m_proposal->setWordWrap(true);
    m_column->addWidget(m_proposal);
    m_take = new QPushButton(tr("Take these angles"), m_body);
    m_take->setObjectName(QStringLiteral("takeAngles"));
    m_column->addWidget(m_take);
    for (NumberField *one : {m_threads, m_meshAngle, m_viewing}) {
        connect(one, &NumberField::valueEntered, this, [this] { measure(); });
    }
    connect(m_pairs, &QTreeWidget::currentItemChanged, this, &BeatsPanel::showPair);
    connect(m_pairs, &QTreeWidget::itemActivated, this, [this](QTreeWidgetItem *item) {
        if (item->data(2, Qt::UserRole).toBool()) {
            Q_EMIT placeChosen(item->data(1, Qt::UserRole).toPointF());
        }
    });
    connect(m_take, &QPushButton::clicked, this, &BeatsPanel::takeProposal);
    connect(&m_session, &Session::artworkChanged, this, [this] {
        const auto &plates = m_session.job().plates;
        m_threads->setValue(plates.empty() ? 0 : plates.front().printing.mesh);
    });
    refresh();
}

std::optional<Mesh> BeatsPanel::mesh() const
{
    return m_threads->value() > 0 ? std::optional(Mesh{m_threads->value(), m_meshAngle->value(), 0})
                                  : std::nullopt;
}

void BeatsPanel::measure()
{
    m_running.cancel();
    const quint64 ticket = m_survey.begin();
    struct Looked
    {
        std::shared_ptr<const std::vector<ArtPeriod>> periods;
        Outcome<MoireSurvey> survey;
    };
    const auto page = m_session.page();
    m_running = m_tasks.start(
        [page, job = m_session.job(), mesh = mesh(), viewing = m_viewing->value(),
         known = m_periodsOf == page->plate_line ? m_periods : nullptr](const JobControl &control) -> Looked {
            auto periods = known;
            if (periods == nullptr) {
                auto found = find_art_periods(*page->plate_line, control);
                if (!found) {
                    return {nullptr, found.error()};
                }
                periods = std::make_shared<const std::vector<ArtPeriod>>(std::move(*found));
            }
            return {periods, survey_moire(*page->plate_line, job, *page->condition, *periods, mesh, {},
                                          viewing, control)};
        },
        [this, ticket, line = page->plate_line](Looked looked) {
            if (looked.periods != nullptr) {
                m_periods = looked.periods;
                m_periodsOf = line;
            }
            if (m_survey.take(ticket, std::move(looked.survey))) {
                refresh();
            }
        });
    refresh();
}

void BeatsPanel::fill()
{
    using State = Fact<MoireSurvey>::State;
    const MoireSurvey *survey = m_survey.value();
    switch (m_survey.state()) {
    case State::Unknown:
        m_words->setText(tr("Nobody has looked yet which screens beat."));
        break;
    case State::Running:
        m_words->setText(tr("Looking which screens beat …"));
        break;
    case State::Failed:
        m_words->setText(tr("It is not known which screens beat: %1").arg(m_survey.fault()));
        break;
    case State::Known:
        m_words->setText(
            survey->pairs.empty()
                ? tr("No two screens with an angle print on each other: nothing beats.")
                : tr("The worst first, where they print on each other. Double-click goes there."));
        break;
    }
    const QSignalBlocker quiet(m_pairs);
    const int chosen = std::max(0, m_pairs->indexOfTopLevelItem(m_pairs->currentItem()));
    m_pairs->clear();
    bool better = false;
    QStringList angles;
    if (survey != nullptr && m_survey.state() != State::Failed) {
        for (const MoirePair &pair : survey->pairs) {
            const QString second = pair.b == "mesh"      ? tr("the mesh")
                                   : pair.b != "artwork" ? theme::text_of(pair.b)
                                   : pair.art_of == pair.a
                                       ? tr("its artwork, %1 lpi").arg(pair.task.other->ruling, 0, 'f', 1)
                                       : tr("art in %1, %2 lpi")
                                             .arg(theme::text_of(pair.art_of))
                                             .arg(pair.task.other->ruling, 0, 'f', 1);
            auto *item = new QTreeWidgetItem(m_pairs);
            item->setText(0, tr("%1\nand %2").arg(theme::text_of(pair.a), second));
            item->setToolTip(0, item->text(0));
            const bool beats = pair.meet && std::isfinite(pair.beat.period_mm);
            item->setText(
                1, beats ? tr("%1 mm").arg(pair.beat.period_mm, 0, 'f', pair.beat.period_mm < 100 ? 2 : 0)
                         : QStringLiteral("–"));
            item->setText(2, !pair.meet ? tr("do not meet")
                             : pair.beat.badness >= seen_badness
                                 ? tr("yes, %1").arg(pair.beat.badness, 0, 'f', 2)
                                 : tr("no, %1").arg(pair.beat.badness, 0, 'f', 2));
            item->setFont(2, theme::font(11, pair.meet && pair.beat.badness >= seen_badness ? QFont::DemiBold
                                                                                            : QFont::Normal));
            item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
            item->setData(1, Qt::UserRole, QPointF(pair.worst_x, pair.worst_y));
            item->setData(2, Qt::UserRole, pair.has_place());
        }
        m_pairs->setCurrentItem(m_pairs->topLevelItem(std::min(chosen, m_pairs->topLevelItemCount() - 1)));
        better = m_survey.state() == State::Known && survey->badness_proposed < 0.95 * survey->badness;
        for (const auto &[ink, angle] : survey->proposed) {
            angles << tr("%1 %2").arg(theme::text_of(ink), degrees(angle));
        }
    }
    m_proposal->setVisible(survey != nullptr && !survey->pairs.empty());
    m_proposal->setText(better ? tr("Better: %1").arg(angles.join(QStringLiteral(", ")))
                               : tr("No better angles were found."));
    m_take->setVisible(m_proposal->isVisibleTo(m_body));
    m_take->setEnabled(better);
    showPair();
}

void BeatsPanel::showPair()
{
    if (!isShown()) {
        return; // it is charted when it is looked at
    }
    const MoireSurvey *survey = m_survey.value();
    const int row = m_pairs->indexOfTopLevelItem(m_pairs->currentItem());
    if (row < 0 || survey == nullptr || row >= static_cast<int>(survey->pairs.size())) {
        m_chart->clear();
        m_picture->clear();
        return;
    }
    const MoirePair &pair = survey->pairs[static_cast<std::size_t>(row)];
    m_chart->take(pair, m_viewing->value());
    m_picture->take(pair, m_viewing->value());
}

void BeatsPanel::takeProposal()
{
    const MoireSurvey *survey = m_survey.value();
    if (survey == nullptr) {
        return;
    }
    Job job = m_session.job();
    for (const auto &[ink, angle] : survey->proposed) {
        const int plate = job.find_plate(ink);
        if (plate >= 0) {
            job.plates[static_cast<std::size_t>(plate)].screen.angle = Degrees(angle);
        }
    }
    m_session.change(job, tr("Angles that beat least"));
}

} // namespace bichrom
