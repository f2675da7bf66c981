#include "app/worktops/ink/savings_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPainter>
#include <QPushButton>

#include <algorithm>

namespace bichrom {

namespace {

/// The ink before and the one after, side by side.
QIcon two_inks(const QColor &before, const QColor &after)
{
    QPixmap picture(40, 20);
    picture.fill(theme::quiet);
    QPainter painter(&picture);
    painter.fillRect(1, 1, 19, 18, before);
    painter.fillRect(20, 1, 19, 18, after);
    return picture;
}

} // namespace

SavingsPanel::SavingsPanel(Session &session, Router &router, QWidget *parent)
    : QWidget(parent), m_session(session), m_router(router), m_seen(this, [this] { refresh(); })
{
    setObjectName(QStringLiteral("savingsPanel"));
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 10);
    column->setSpacing(6);
    m_count = make_label({}, 12, QFont::DemiBold, false, this);
    m_count->setObjectName(QStringLiteral("plateCount"));
    column->addWidget(m_count);
    auto *limits = new QHBoxLayout();
    limits->setSpacing(4);
    m_alike = new NumberField(tr("ΔE"), 1, NumberField::plain(tr("ΔE"), 0, 30), this);
    m_alike->setObjectName(QStringLiteral("savingAlike"));
    m_alike->setAccessibleName(tr("Inks alike within"));
    m_alike->setValue(6);
    m_small = new NumberField(tr("cm²"), 1, NumberField::plain(tr("cm²"), 0, 1000), this);
    m_small->setObjectName(QStringLiteral("savingSmall"));
    m_small->setAccessibleName(tr("An ink is small under"));
    m_small->setValue(1);
    limits->addWidget(make_label(tr("alike within"), 11, QFont::Normal, true, this));
    limits->addWidget(m_alike);
    limits->addWidget(make_label(tr("small under"), 11, QFont::Normal, true, this));
    limits->addWidget(m_small);
    column->addLayout(limits);
    m_list = new QListWidget(this);
    m_list->setObjectName(QStringLiteral("savings"));
    m_list->setAccessibleName(tr("Proposals"));
    m_list->setIconSize({40, 20});
    m_list->setWordWrap(true);
    m_list->setStyleSheet(theme::listStyle());
    m_list->setFont(theme::font(11));
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    column->addWidget(m_list, 1);
    m_take = new QPushButton(tr("Accept this proposal"), this);
    m_take->setObjectName(QStringLiteral("takeSaving"));
    m_take->setProperty("main", true);
    column->addWidget(m_take);
    auto *down = new QHBoxLayout();
    down->setSpacing(4);
    m_takeAll = new QPushButton(tr("Accept until"), this);
    m_takeAll->setObjectName(QStringLiteral("takeSavings"));
    m_takeAll->setToolTip(
        tr("Accepts proposals, the least visible first, until no more plates than this are left"));
    m_target = new NumberField(tr("plates"), 0, NumberField::plain(tr("plates"), 1, 64), this);
    m_target->setObjectName(QStringLiteral("savingTarget"));
    m_target->setAccessibleName(tr("Plates wanted"));
    m_target->setValue(2);
    down->addWidget(m_takeAll, 1);
    down->addWidget(m_target);
    column->addLayout(down);
    column->addWidget(make_rule(this));
    buildMerge(column);

    connect(m_list, &QListWidget::currentRowChanged, this, &SavingsPanel::refreshButtons);
    connect(m_list, &QListWidget::itemActivated, this, &SavingsPanel::take);
    connect(m_take, &QPushButton::clicked, this, &SavingsPanel::take);
    connect(m_takeAll, &QPushButton::clicked, this, &SavingsPanel::takeDownTo);
    connect(m_alike, &NumberField::valueEntered, &m_seen, &WhenSeen::refresh);
    connect(m_small, &NumberField::valueEntered, &m_seen, &WhenSeen::refresh);
    connect(m_target, &NumberField::valueEntered, this, &SavingsPanel::refreshButtons);
    connect(&m_router, &Router::changed, &m_seen, &WhenSeen::refresh);
}

void SavingsPanel::buildMerge(QVBoxLayout *column)
{
    column->addWidget(make_label(tr("Rename or merge inks"), 11, QFont::DemiBold, true, this));
    auto *from = new QHBoxLayout();
    from->setSpacing(4);
    m_from = new QLineEdit(this);
    m_from->setObjectName(QStringLiteral("mergeFrom"));
    m_from->setPlaceholderText(tr("Ink, as named now"));
    m_match = new QComboBox(this);
    m_match->setObjectName(QStringLiteral("mergeMatch"));
    m_match->setAccessibleName(tr("How the name is compared"));
    m_match->addItems({tr("exactly"), tr("any case"), tr("expression"), tr("expression, any case")});
    m_match->setToolTip(tr("Expression: a regular expression for the whole name; the new name may use $1."));
    from->addWidget(m_from, 1);
    from->addWidget(m_match);
    column->addLayout(from);
    auto *to = new QHBoxLayout();
    to->setSpacing(4);
    m_to = new QLineEdit(this);
    m_to->setObjectName(QStringLiteral("mergeTo"));
    m_to->setPlaceholderText(tr("New name"));
    m_merge = new QPushButton(tr("Rename"), this);
    m_merge->setObjectName(QStringLiteral("mergeInks"));
    to->addWidget(m_to, 1);
    to->addWidget(m_merge);
    column->addLayout(to);
    m_preview = make_label({}, 11, QFont::Normal, true, this);
    m_preview->setObjectName(QStringLiteral("mergePreview"));
    m_preview->setWordWrap(true);
    m_preview->setMinimumHeight(30);
    m_preview->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    column->addWidget(m_preview);
    connect(&m_session, &Session::artworkChanged, this, [this] { // names of another job
        m_from->clear();
        m_to->clear();
    });
    connect(m_from, &QLineEdit::textChanged, this, &SavingsPanel::refreshMerge);
    connect(m_to, &QLineEdit::textChanged, this, &SavingsPanel::refreshMerge);
    connect(m_match, &QComboBox::currentIndexChanged, this, &SavingsPanel::refreshMerge);
    connect(m_merge, &QPushButton::clicked, this, &SavingsPanel::merge);
    connect(m_to, &QLineEdit::returnPressed, this, &SavingsPanel::merge);
}

void SavingsPanel::refresh()
{
    setEnabled(m_session.isOpen());
    const QSignalBlocker quiet(m_list);
    const int before = m_list->currentRow();
    m_list->clear();
    m_savings.clear();
    if (m_session.isOpen()) {
        const Job &job = m_session.job();
        m_savings = propose_savings(m_session.page()->scene, job, m_session.facts().colourAreas(),
                                    m_alike->value(), m_small->value());
        for (const Saving &saving : m_savings) {
            QStringList frees;
            for (const std::string &ink : saving.frees) {
                frees << theme::text_of(ink);
            }
            const QString gain =
                frees.isEmpty() ? tr("frees no plate by itself") : tr("frees %1").arg(frees.join(tr(", ")));
            const Route *route = saving.routes.empty() ? nullptr : &saving.routes.front();
            const Lab routed = route == nullptr ? Lab{} : route->appearance;
            const int to =
                route == nullptr || route->targets.empty() ? -1 : job.find_plate(route->targets.front().ink);
            const int from = saving.frees.empty() ? -1 : job.find_plate(saving.frees.front());
            const auto colour = [&](int plate, const Lab &otherwise) {
                return theme::ink_color(plate < 0 ? otherwise
                                                  : job.plates[static_cast<std::size_t>(plate)].shown());
            };
            const bool build = saving.kind == Saving::Kind::BuildIsSpot;
            auto *item = new QListWidgetItem(two_inks(colour(build ? -1 : from, routed), colour(to, routed)),
                                             tr("%1\nΔE %2 on %3 cm²; %4")
                                                 .arg(theme::text_of(saving.what))
                                                 .arg(saving.difference, 0, 'f', 1)
                                                 .arg(saving.square_cm, 0, 'f', 1)
                                                 .arg(gain),
                                             m_list);
            item->setToolTip(item->text());
            constexpr int text_width = 196; // beside the swatches and the scroll bar
            const QRect words =
                QFontMetrics(m_list->font())
                    .boundingRect(QRect(0, 0, text_width, 1000), Qt::TextWordWrap, item->text());
            item->setSizeHint({text_width, words.height() + 10});
        }
        m_count->setText(job.plates.size() == 1
                             ? tr("1 plate")
                             : tr("%1 plates").arg(job.plates.size()) +
                                   (m_savings.empty() ? tr(", nothing to propose") : QString()));
    } else {
        m_count->clear();
    }
    m_list->setCurrentRow(std::min(std::max(0, before), m_list->count() - 1));
    refreshButtons();
    refreshMerge();
}

void SavingsPanel::refreshButtons()
{
    m_take->setEnabled(m_list->currentRow() >= 0);
    m_takeAll->setEnabled(!m_savings.empty() && m_session.isOpen() &&
                          static_cast<double>(m_session.job().plates.size()) > m_target->value());
}

void SavingsPanel::take()
{
    const int row = m_list->currentRow();
    if (row >= 0 && row < static_cast<int>(m_savings.size())) {
        const Saving saving = m_savings[static_cast<std::size_t>(row)];
        m_session.change(with_saving(m_session.job(), saving), theme::text_of(saving.what));
    }
}

void SavingsPanel::takeDownTo()
{
    const Reduction reduction = reduce_to(
        m_session.page()->scene, m_session.job(), m_session.facts().colourAreas(),
        static_cast<std::size_t>(std::lround(m_target->value())), m_alike->value(), m_small->value());
    m_session.change(reduction.job, tr("Down to %1 plates").arg(reduction.job.plates.size()));
}

InkRename SavingsPanel::rename() const
{
    return {m_from->text().toStdString(), m_to->text().trimmed().toStdString(),
            static_cast<NameMatch>(m_match->currentIndex())};
}

void SavingsPanel::refreshMerge()
{
    m_merge->setEnabled(false);
    if (!m_session.isOpen() || m_from->text().isEmpty()) {
        m_preview->setText(
            tr("Two inks with one new name become one plate. The file itself stays as it is."));
        return;
    }
    InkRename asked = rename();
    const bool named = !asked.to.empty();
    if (!named) {
        asked.to.assign(1, '*'); // only to see what would match
    }
    const auto matches = match_names(known_inks(m_session.job(), m_session.page()->scene), asked);
    if (!matches) {
        m_preview->setText(theme::text_of(matches.error().message()));
        return;
    }
    QStringList words;
    for (const auto &[old_name, new_name] : *matches) {
        words << (named ? tr("%1 → %2").arg(theme::text_of(old_name), theme::text_of(new_name))
                        : theme::text_of(old_name));
    }
    m_preview->setText(words.isEmpty() ? tr("No ink has such a name.") : words.join(QStringLiteral("\n")));
    m_merge->setEnabled(named && !words.isEmpty());
}

void SavingsPanel::merge()
{
    if (!m_merge->isEnabled()) {
        return;
    }
    auto job = merge_inks(m_session.job(), m_session.page()->scene, rename());
    if (job) {
        m_session.change(*job, tr("Rename inks to %1").arg(m_to->text().trimmed()));
    }
}

} // namespace bichrom
