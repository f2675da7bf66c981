#include "app/worktops/receive/page_ink_grid.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>

namespace bichrom {

namespace {

constexpr int row_height = 20, most_rows = 9;

} // namespace

PageInkGrid::PageInkGrid(Session &session, QWidget *parent) : QWidget(parent), m_session(session)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    m_state = make_label({}, 11, QFont::Normal, true, this);
    m_state->setObjectName(QStringLiteral("pageInksState"));
    m_state->setWordWrap(true);
    column->addWidget(m_state);
    m_table = new QTableWidget(this);
    m_table->setObjectName(QStringLiteral("pageInks"));
    m_table->setAccessibleName(tr("Inks by pages, in cm²"));
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setCornerButtonEnabled(false);
    m_table->setFont(theme::font(11));
    m_table->setStyleSheet(
        QStringLiteral("QTableWidget { background: %1; border: 1px solid %2; gridline-color: %2; }"
                       "QTableWidget::item:selected { background: %3; color: %4; }"
                       "QHeaderView, QTableCornerButton::section { background: %1; }"
                       "QHeaderView::section { background: %1; border: none; padding: 1px 4px; }")
            .arg(theme::card.name(), theme::line.name(), theme::amberField.name(), theme::text.name()));
    m_table->verticalHeader()->setDefaultSectionSize(row_height);
    m_table->verticalHeader()->setMaximumWidth(110);
    m_table->horizontalHeader()->setDefaultSectionSize(44);
    m_table->horizontalHeader()->setHighlightSections(false);
    column->addWidget(m_table);
    const auto choose = [this](int row, int at) {
        if (row >= 0 && at >= 0) {
            Q_EMIT cellChosen(at + 1, m_table->verticalHeaderItem(row)->toolTip());
        }
    };
    connect(m_table, &QTableWidget::cellClicked, this, choose);
    connect(m_table, &QTableWidget::cellActivated, this, choose);
    connect(&m_session, &Session::artworkChanged, this, &PageInkGrid::follow);
    connect(&m_session, &Session::pageChanged, this, &PageInkGrid::follow);
    follow();
}

void PageInkGrid::showEvent(QShowEvent *)
{
    follow();
}

/// Measures what is open, once somebody looks.
void PageInkGrid::follow()
{
    const bool many = m_session.isOpen() && m_session.artwork().page_count() > 1;
    setVisible(many);
    if (!many) {
        m_measuring.cancel();
        m_pages.forget();
        m_artwork.reset();
        return;
    }
    const auto artwork = m_session.opened().artwork;
    const ColourSettings &colours = m_session.job().colours;
    if (!isVisible() || (artwork == m_artwork && colours == m_colours)) {
        refresh();
        return;
    }
    m_measuring.cancel();
    m_pages.forget();
    m_artwork = artwork;
    m_colours = colours;
    m_done = 0;
    const quint64 ticket = m_pages.begin();
    m_measuring = m_tasks.start(
        [artwork, colours](const JobControl &control) {
            return measure_page_inks(*artwork, colours, control);
        },
        [this, ticket](Outcome<std::vector<PageInks>> &&pages) {
            if (m_pages.take(ticket, std::move(pages))) {
                refresh();
            }
        },
        [this, ticket](qint64 done, qint64) {
            m_done = static_cast<int>(done);
            m_state->setText(words());
        });
    refresh();
}

QString PageInkGrid::words() const
{
    using State = Fact<std::vector<PageInks>>::State;
    switch (m_pages.state()) {
    case State::Unknown:
        return tr("The pages have not been measured.");
    case State::Running:
        return tr("Measuring: %1 of %2 pages …").arg(m_done).arg(m_session.artwork().page_count());
    case State::Failed:
        return tr("The pages could not be measured: %1").arg(m_pages.fault());
    case State::Known:
        break;
    }
    return tr("cm² by page; a click shows that page and ink alone");
}

void PageInkGrid::refresh()
{
    m_state->setText(words());
    m_table->clear();
    const std::vector<PageInks> *pages = m_pages.value();
    m_table->setVisible(pages != nullptr);
    if (pages == nullptr) {
        return;
    }
    QStringList inks;
    for (const PageInks &page : *pages) {
        for (const PageInks::Ink &ink : page.inks) {
            if (const QString name = theme::text_of(ink.name); !inks.contains(name)) {
                inks << name;
            }
        }
    }
    m_table->setRowCount(static_cast<int>(inks.size()));
    m_table->setColumnCount(static_cast<int>(pages->size()));
    for (int row = 0; row < inks.size(); ++row) {
        auto *item = new QTableWidgetItem(m_table->fontMetrics().elidedText(inks[row], Qt::ElideMiddle, 96));
        item->setToolTip(inks[row]);
        m_table->setVerticalHeaderItem(row, item);
    }
    for (int at = 0; at < static_cast<int>(pages->size()); ++at) {
        m_table->setHorizontalHeaderItem(at, new QTableWidgetItem(QString::number(at + 1)));
        for (const PageInks::Ink &ink : (*pages)[static_cast<std::size_t>(at)].inks) {
            const double cm2 = ink.square_cm;
            auto *item = new QTableWidgetItem(cm2 <= 0     ? QStringLiteral("0")
                                              : cm2 < 0.05 ? QStringLiteral("< 0.1")
                                              : cm2 < 100  ? QString::number(cm2, 'f', 1)
                                                           : QString::number(cm2, 'f', 0));
            item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
            m_table->setItem(static_cast<int>(inks.indexOf(theme::text_of(ink.name))), at, item);
        }
    }
    const int now = m_session.job().page - 1;
    if (QTableWidgetItem *header = m_table->horizontalHeaderItem(now)) {
        header->setFont(theme::font(11, QFont::DemiBold));
    }
    m_table->setFixedHeight(std::min(m_table->rowCount(), most_rows) * row_height +
                            m_table->horizontalHeader()->sizeHint().height() + 16);
}

} // namespace bichrom
