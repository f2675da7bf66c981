#include "app/laydown/lay_down.h"

#include "app/laydown/plate_row.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

#include <algorithm>

namespace bichrom {

LayDown::LayDown(Session &session, ViewState &view, Choice &choice, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_view(view), m_choice(choice), m_prompts(prompts)
{
    setObjectName(QStringLiteral("layDown"));
    setAccessibleName(tr("Lay-down"));
    setFixedWidth(244);
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(12, 12, 12, 8);
    column->setSpacing(4);
    auto *head = new QHBoxLayout();
    head->addWidget(make_heading(tr("Lay-down"), this));
    head->addStretch();
    m_count = make_label({}, 11, QFont::Normal, true, this);
    head->addWidget(m_count);
    column->addLayout(head);
    m_last = make_label(tr("printed last"), 11, QFont::Normal, true, this);
    column->addWidget(m_last);

    auto *scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = new QWidget(scroll);
    m_pile = new QVBoxLayout(content);
    m_pile->setContentsMargins(0, 0, 0, 0);
    m_pile->setSpacing(2);
    m_first = make_label(tr("printed first"), 11, QFont::Normal, true, content);
    m_stock = new QPushButton(content);
    m_stock->setObjectName(QStringLiteral("stock"));
    m_stock->setAccessibleName(tr("Stock"));
    m_stock->setToolTip(tr("What is printed on: choose its colour"));
    m_stock->setMenu(makeStockMenu());
    m_pile->addWidget(m_first);
    m_pile->addWidget(m_stock);
    m_pile->addStretch();
    scroll->setWidget(content);
    column->addWidget(scroll, 1);

    connect(&m_session, &Session::pageChanged, this, &LayDown::rebuild);
    connect(&m_session, &Session::jobChanged, this, &LayDown::refresh);
    connect(&m_session, &Session::coverageChanged, this, &LayDown::refresh);
    connect(&m_view, &ViewState::changed, this, &LayDown::refresh);
    connect(&m_choice, &Choice::plateChanged, this, &LayDown::refresh);
    rebuild();
}

QMenu *LayDown::makeStockMenu()
{
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("stockMenu"));
    const auto take = [this](const Stock &stock) {
        Job job = m_session.job();
        job.stock = stock;
        m_session.change(job, tr("Print on %1").arg(theme::text_of(stock.name)));
    };
    // Colours of the usual stocks: common practice, no source.
    const std::pair<const char *, Stock> stocks[] = {
        {"stockWhite", {tr("White stock").toStdString(), {100, 0, 0}, false}},
        {"stockBlack", {tr("Black garment").toStdString(), {16, 0, -1}, false}},
        {"stockNavy", {tr("Navy garment").toStdString(), {22, 2, -18}, false}},
        {"stockHeather", {tr("Heather cotton").toStdString(), {68, 0, 1}, false}},
        {"stockCoated", {tr("Coated white").toStdString(), {95, 1, -4}, false}},
        {"stockUncoated", {tr("Uncoated white").toStdString(), {92, 0, 4}, false}},
        {"stockSilver", {tr("Silver board").toStdString(), {74, 0, 1}, false}},
        {"stockKraft", {tr("Kraft board").toStdString(), {64, 9, 24}, false}},
        {"stockClear", {tr("Clear film").toStdString(), {96, 0, 0}, true}}};
    const auto add = [menu](const char *name, const QString &text) {
        QAction *action = menu->addAction(text);
        action->setObjectName(QString::fromLatin1(name));
        return action;
    };
    for (const auto &[name, stock] : stocks) {
        connect(add(name, theme::text_of(stock.name)), &QAction::triggered, this,
                [take, stock = stock] { take(stock); });
    }
    connect(
        add("stockPaper", tr("Paper of the printing condition")), &QAction::triggered, this, [this, take] {
            take({tr("Paper of the condition").toStdString(), m_session.page()->condition->paper(), false});
        });
    connect(add("stockOther", tr("Another colour …")), &QAction::triggered, this, [this, take] {
        const ProcessProfile &screen = *ProcessProfile::fogra39();
        const auto chosen = m_prompts.askColour(
            tr("Colour of the stock"), theme::color_of(screen.lab_to_rgb(m_session.job().stock.colour)));
        if (chosen) {
            const auto byte = [](int value) { return static_cast<std::uint8_t>(value); };
            take({tr("Stock %1").arg(chosen->name()).toStdString(),
                  screen.rgb_to_lab({byte(chosen->red()), byte(chosen->green()), byte(chosen->blue())}),
                  false});
        }
    });
    return menu;
}

void LayDown::showStock()
{
    const Stock &stock = m_session.job().stock;
    const QColor colour = theme::color_of(ProcessProfile::fogra39()->lab_to_rgb(stock.colour));
    m_stock->setText(QStringLiteral("   %1  ▾").arg(theme::text_of(stock.name)));
    m_stock->setStyleSheet(
        QStringLiteral("QPushButton { background: %1; color: %2; border: 1px %3 %4; border-radius: 0; "
                       "padding: 10px 12px; font-weight: 600; text-align: left; }"
                       "QPushButton:focus { border: 2px solid %4; }"
                       "QPushButton::menu-indicator { image: none; }")
            .arg(colour.name(), (stock.colour.l > 55 ? theme::text : theme::field).name(),
                 stock.clear ? QStringLiteral("dashed") : QStringLiteral("solid"), theme::quiet.name()));
}

void LayDown::rebuild()
{
    for (PlateRow *row : m_rows) {
        m_pile->removeWidget(row);
        row->deleteLater();
    }
    m_rows.clear();
    const bool open = m_session.isOpen();
    m_first->setVisible(open);
    m_last->setVisible(open);
    m_stock->setVisible(open);
    if (!open) {
        m_count->clear();
        return;
    }
    const auto &plates = m_session.job().plates;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        auto *row = new PlateRow(plates[plates.size() - 1 - i], this);
        connect(row, &PlateRow::showToggled, this,
                [this](const QString &ink, bool on) { m_view.setShown(ink, on); });
        connect(row, &PlateRow::aloneToggled, this,
                [this](const QString &ink) { m_view.setAlone(m_view.alone() == ink ? QString() : ink); });
        connect(row, &PlateRow::chosen, &m_choice, &Choice::choosePlate);
        connect(row, &PlateRow::moved, this, &LayDown::move);
        m_pile->insertWidget(static_cast<int>(i), row);
        m_rows.push_back(row);
    }
    m_count->setText(plates.size() == 1 ? tr("1 plate") : tr("%1 plates").arg(plates.size()));
    refresh();
}

void LayDown::refresh()
{
    if (!m_session.isOpen()) {
        return;
    }
    const auto &plates = m_session.job().plates;
    const bool same =
        m_rows.size() == plates.size() && std::equal(m_rows.begin(), m_rows.end(), plates.rbegin(),
                                                     [](const PlateRow *row, const Plate &plate) {
                                                         return row->ink().toStdString() == plate.ink;
                                                     });
    if (!same) {
        rebuild();
        return;
    }
    const Rect trim = m_session.trimArea();
    const double trim_cm2 = trim.width * trim.height / 100.0;
    showStock();
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const Plate &plate = plates[plates.size() - 1 - i];
        PlateRow *row = m_rows[i];
        row->setPlate(plate);
        const double share = m_session.coverage(plate.ink);
        row->setCoverage(share, share * trim_cm2);
        row->setShown(m_view.isShown(row->ink()), m_view.alone() == row->ink());
        row->setActive(m_choice.plate() == row->ink());
    }
}

void LayDown::move(const QString &ink, int steps)
{
    Job job = m_session.job();
    const int from = job.find_plate(ink.toStdString());
    const int to = from + steps;
    if (from < 0 || to < 0 || to >= static_cast<int>(job.plates.size())) {
        return;
    }
    std::swap(job.plates[static_cast<std::size_t>(from)], job.plates[static_cast<std::size_t>(to)]);
    m_session.change(job, steps > 0 ? tr("Print %1 later").arg(ink) : tr("Print %1 earlier").arg(ink));
    for (PlateRow *row : m_rows) {
        if (row->ink() == ink) {
            row->setFocus();
        }
    }
}

} // namespace bichrom
