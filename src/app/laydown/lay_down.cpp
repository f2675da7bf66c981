#include "app/laydown/lay_down.h"

#include "app/laydown/plate_row.h"
#include "app/widgets/controls.h"
#include "app/widgets/ink_words.h"
#include "app/widgets/theme.h"
#include "core/job/edits/make_plates.h"
#include "core/job/edits/plates.h"
#include "core/job/print_model.h"
#include "core/job/routing.h"
#include "core/job/stocks.h"

#include <QAction>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QToolButton>
#include <QVBoxLayout>

#include <algorithm>

namespace bichrom {

namespace {

/// The sign that a flash dries what is under it.
class FlashMark final : public QWidget
{
public:
    explicit FlashMark(QWidget *parent) : QWidget(parent)
    {
        setFixedHeight(16);
        setAccessibleName(LayDown::tr("flash"));
    }

protected:
    void paintEvent(QPaintEvent *) override
    {
        QPainter painter(this);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme::text, 1.4));
        QPolygonF zigzag;
        for (int i = 0; i < 6; ++i) {
            zigzag << QPointF(6.5 + i * 4.6, i % 2 == 0 ? 11 : 5);
        }
        painter.drawPolyline(zigzag);
        painter.setPen(theme::quiet);
        painter.setFont(theme::font(11));
        painter.drawText(QRect(36, 0, width() - 36, height()), Qt::AlignVCenter, LayDown::tr("flash"));
    }
};

} // namespace

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
    auto *show = new QToolButton(this);
    show->setObjectName(QStringLiteral("showPlates"));
    show->setText(tr("Show ▾"));
    show->setAccessibleName(tr("Which plates are shown"));
    show->setPopupMode(QToolButton::InstantPopup);
    show->setStyleSheet(QStringLiteral("QToolButton { border: none; font-size: 11px; padding: 1px 2px; }"
                                       "QToolButton::menu-indicator { image: none; }"));
    show->setMenu(makeShowMenu());
    head->addWidget(show);
    column->addLayout(head);
    m_last = make_label(tr("printed last"), 11, QFont::Normal, true, this);
    column->addWidget(m_last);

    auto *scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = m_content = new QWidget(scroll);
    m_pile = new QVBoxLayout(content);
    m_pile->setContentsMargins(0, 0, 0, 0);
    m_pile->setSpacing(0); // the layers touch
    m_mark = new QWidget(content);
    m_mark->setAttribute(Qt::WA_StyledBackground);
    m_mark->setStyleSheet(QStringLiteral("background: %1;").arg(theme::amber.name()));
    m_mark->hide();
    m_first = make_label(tr("printed first"), 11, QFont::Normal, true, content);
    m_stock = new QPushButton(content);
    m_stock->setObjectName(QStringLiteral("stock"));
    m_stock->setAccessibleName(tr("Stock"));
    m_stock->setToolTip(tr("What is printed on: choose its colour"));
    m_stock->setMenu(makeStockMenu());
    scroll->setWidget(content);
    // As high as its plates, so that the stock lies right under them and never scrolls out of sight.
    m_scroll = scroll;
    column->addWidget(scroll, 1);
    column->addWidget(m_first);
    column->addWidget(m_stock);
    m_white = make_small_button("whiteWanted", {}, {}, this);
    m_white->hide();
    column->addWidget(m_white);
    column->addStretch();

    connect(m_white, &QPushButton::clicked, this, &LayDown::makeWhite);
    connect(&m_session, &Session::pageChanged, this, &LayDown::refresh);
    connect(&m_session, &Session::jobChanged, this, &LayDown::refresh);
    connect(&m_session.facts(), &Facts::coverageChanged, this, &LayDown::refresh);
    connect(&m_view, &ViewState::changed, this, &LayDown::refresh);
    connect(&m_choice, &Choice::plateChanged, this, &LayDown::refresh);
    refresh();
}

QMenu *LayDown::makeStockMenu()
{
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("stockMenu"));
    const auto take = [this](const Stock &stock) {
        Job job = m_session.job();
        if (m_stockHere->isChecked() && m_session.artwork().page_count() > 1) {
            job.page_stocks[job.page] = stock;
            m_session.change(job, tr("Print page %1 on %2").arg(job.page).arg(theme::text_of(stock.name)));
            return;
        }
        job.stock = stock;
        job.page_stocks.erase(job.page);
        m_session.change(job, tr("Print on %1").arg(theme::text_of(stock.name)));
    };
    const auto add = [menu](const char *name, const QString &text) {
        QAction *action = menu->addAction(text);
        action->setObjectName(QString::fromLatin1(name));
        return action;
    };
    for (const auto &[id, stock] : shipped_stocks()) {
        connect(add(("stock" + id).c_str(), theme::text_of(stock.name)), &QAction::triggered, this,
                [take, stock = stock] { take(stock); });
    }
    connect(add("stockPaper", tr("Paper of the printing condition")), &QAction::triggered, this,
            [this, take] {
                Stock paper;
                paper.name = tr("Paper of the condition").toStdString();
                paper.colour = m_session.page()->condition->paper();
                take(paper);
            });
    connect(add("stockOther", tr("Another colour …")), &QAction::triggered, this, [this, take] {
        const ProcessProfile &screen = *ProcessProfile::fogra39();
        const auto chosen =
            m_prompts.askColour(tr("Colour of the stock"),
                                theme::color_of(screen.lab_to_rgb(m_session.job().stock_here().colour)));
        if (chosen) {
            const auto byte = [](int value) { return static_cast<std::uint8_t>(value); };
            Stock other = m_session.job().stock_here(); // film stays film, over another colour
            other.reflectance.reset();
            other.colour =
                screen.rgb_to_lab({byte(chosen->red()), byte(chosen->green()), byte(chosen->blue())});
            other.name =
                (other.clear ? tr("Clear film over %1") : tr("Stock %1")).arg(chosen->name()).toStdString();
            take(other);
        }
    });
    menu->addSeparator();
    m_stockHere = add("stockHere", tr("For this page only"));
    m_stockHere->setCheckable(true);
    connect(menu, &QMenu::aboutToShow, this, [this] {
        m_stockHere->setVisible(m_session.isOpen() && m_session.artwork().page_count() > 1);
        m_stockHere->setChecked(m_session.isOpen() &&
                                m_session.job().page_stocks.count(m_session.job().page) > 0);
    });
    connect(m_stockHere, &QAction::triggered, this, [this](bool on) {
        Job job = m_session.job();
        if (on) {
            job.page_stocks[job.page] = job.stock;
        } else {
            job.page_stocks.erase(job.page);
        }
        m_session.change(job, on ? tr("Page %1 on a stock of its own").arg(job.page)
                                 : tr("Page %1 on the job's stock").arg(job.page));
    });
    return menu;
}

QMenu *LayDown::makeShowMenu()
{
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("showMenu"));
    const auto add = [&](const char *name, const QString &text, const QKeySequence &keys, auto act) {
        QAction *action = menu->addAction(text);
        action->setObjectName(QString::fromLatin1(name));
        action->setShortcut(keys);
        connect(action, &QAction::triggered, this, act);
        addAction(action); // so that its keys work while the menu is closed
    };
    const auto of_kind = [this](std::initializer_list<InkUse> kinds) {
        return [this, kinds = std::vector<InkUse>(kinds)] {
            showOnly([&](const Plate &plate) {
                return std::find(kinds.begin(), kinds.end(), plate.kind) != kinds.end();
            });
        };
    };
    add("showAll", tr("All plates"), QKeySequence(tr("Ctrl+1")),
        [this] { showOnly([](const Plate &) { return true; }); });
    add("showSpots", tr("Spots only"), QKeySequence(tr("Ctrl+2")), of_kind({InkUse::Spot, InkUse::Metallic}));
    add("showProcess", tr("Process only"), QKeySequence(tr("Ctrl+3")), of_kind({InkUse::Process}));
    add("showFinishing", tr("White and finishing only"), QKeySequence(tr("Ctrl+4")),
        of_kind({InkUse::White, InkUse::Varnish, InkUse::Foil, InkUse::Technical}));
    menu->addSeparator();
    add("nextAlone", tr("Next plate alone"), QKeySequence(tr(".")), [this] { stepAlone(1); });
    add("previousAlone", tr("Plate before alone"), QKeySequence(tr(",")), [this] { stepAlone(-1); });
    return menu;
}

void LayDown::showOnly(const std::function<bool(const Plate &)> &wanted)
{
    if (!m_session.isOpen()) {
        return;
    }
    m_view.setAlone({});
    for (const Plate &plate : m_session.job().plates) {
        m_view.setShown(theme::text_of(plate.ink), wanted(plate));
    }
}

void LayDown::stepAlone(int by)
{
    const auto count = static_cast<int>(m_rows.size());
    if (count == 0) {
        return;
    }
    int at = by > 0 ? -1 : count;
    for (int i = 0; i < count; ++i) {
        at = m_rows[static_cast<std::size_t>(i)]->ink() == m_view.alone() ? i : at;
    }
    const QString ink = m_rows[static_cast<std::size_t>((at + by + count) % count)]->ink();
    m_choice.choosePlate(ink);
    m_view.setAlone(ink);
}

void LayDown::rename(const QString &ink, const QString &name)
{
    // What the artwork holds of the ink goes with it.
    const std::string from = ink.toStdString();
    auto renamed = merge_inks(m_session.job(), m_session.page()->scene,
                              {from, name.toStdString(), NameMatch::Exact, {}});
    if (!renamed) {
        m_prompts.showError(tr("The plate was not renamed"), theme::text_of(renamed.error().message()));
        return;
    }
    const int plate = m_session.job().find_plate(from);
    const bool computed =
        plate >= 0 && !m_session.job().plates[static_cast<std::size_t>(plate)].recipe.empty();
    if (!computed && m_session.artwork().page_count() > 1 &&
        ink_route(renamed->routes, from, renamed->page) < 0) {
        Route route; // for pages that are not on the table
        route.by = RouteBy::Ink;
        route.name = from;
        route.targets = {{name.toStdString(), true, 1.0, {}}};
        *renamed = with_route(std::move(*renamed), std::move(route));
    }
    const bool joined = renamed->plates.size() < m_session.job().plates.size();
    m_session.change(*renamed,
                     joined ? tr("Join %1 with %2").arg(ink, name) : tr("Rename %1 to %2").arg(ink, name));
    m_choice.choosePlate(name);
}

void LayDown::remove(const QString &ink)
{
    Job job = m_session.job();
    const QStringList inks = meant(ink);
    for (const QString &one : inks) {
        const std::string name = one.toStdString();
        job = remove_plate(std::move(job), name, holds_ink(m_session.page()->scene, name));
    }
    m_session.change(job, inks.size() == 1 ? tr("Remove the plate %1").arg(ink)
                                           : tr("Remove %1 plates").arg(inks.size()));
}

void LayDown::declare(const QString &ink, InkUse kind)
{
    Job job = m_session.job();
    const QStringList inks = meant(ink);
    for (const QString &one : inks) {
        if (auto declared = declare_kind(job, one.toStdString(), kind)) {
            job = std::move(*declared);
        }
    }
    m_session.change(job, tr("%1 is %2").arg(inks.join(tr(", ")), ink_use_words(kind)));
}

void LayDown::choose(const QString &ink, Qt::KeyboardModifiers keys)
{
    const auto row_of = [&](const QString &one) {
        const auto at = std::find_if(m_rows.begin(), m_rows.end(),
                                     [&](const PlateRow *row) { return row->ink() == one; });
        return at == m_rows.end() ? -1 : static_cast<int>(at - m_rows.begin());
    };
    const int from = row_of(m_choice.plate());
    if (from < 0 || (keys & (Qt::ControlModifier | Qt::ShiftModifier)) == 0) {
        m_choice.choosePlate(ink);
        return;
    }
    QStringList others = m_choice.otherPlates();
    if ((keys & Qt::ShiftModifier) != 0) {
        const int to = row_of(ink);
        others.clear();
        for (int row = std::min(from, to); row <= std::max(from, to); ++row) {
            others << m_rows[static_cast<std::size_t>(row)]->ink();
        }
    } else if (ink == m_choice.plate()) {
        return; // the one that is worked on stays
    } else if (!others.removeOne(ink)) {
        others << ink;
    }
    m_choice.chooseOtherPlates(others);
}

QStringList LayDown::meant(const QString &ink) const
{
    QStringList inks(ink);
    if (m_choice.isChosen(ink)) {
        for (const Plate &plate : m_session.job().plates) { // chosen ones may be gone
            const QString other = theme::text_of(plate.ink);
            if (other != ink && m_choice.isChosen(other)) {
                inks << other;
            }
        }
    }
    return inks;
}

void LayDown::openMenu(const QString &ink, const QPoint &global)
{
    const int number = m_session.job().find_plate(ink.toStdString());
    if (number < 0) {
        return;
    }
    const Plate &plate = m_session.job().plates[static_cast<std::size_t>(number)];
    auto *menu = new QMenu(this);
    menu->setObjectName(QStringLiteral("plateMenu"));
    menu->setAttribute(Qt::WA_DeleteOnClose);
    const auto add = [](QMenu *to, const QString &name, const QString &text) {
        QAction *action = to->addAction(text);
        action->setObjectName(name);
        return action;
    };
    connect(add(menu, QStringLiteral("plateRename"), tr("Rename\tF2")), &QAction::triggered, this,
            [this, ink] {
                for (PlateRow *row : m_rows) {
                    if (row->ink() == ink) {
                        row->beginRenaming();
                    }
                }
            });
    connect(add(menu, QStringLiteral("plateAlone"), tr("Alone\tEnter")), &QAction::triggered, this,
            [this, ink] { m_view.setAlone(m_view.alone() == ink ? QString() : ink); });
    QMenu *kinds = menu->addMenu(tr("It is"));
    for (const InkUse kind : all_ink_uses) {
        QAction *action =
            add(kinds, QStringLiteral("kind ") + QString::fromLatin1(to_string(kind)), ink_use_words(kind));
        action->setCheckable(true);
        action->setChecked(kind == plate.kind);
        connect(action, &QAction::triggered, this, [this, ink, kind] { declare(ink, kind); });
    }
    if (!plate.recipe.empty() && m_session.artwork().page_count() > 1) {
        QMenu *pages = menu->addMenu(tr("Its recipe holds"));
        const auto hold = [&](const QString &name, const QString &text, const PageList &list) {
            QAction *action = add(pages, name, text);
            action->setCheckable(true);
            action->setChecked(plate.recipe_pages == list);
            connect(action, &QAction::triggered, this, [this, number, list, text] {
                Job job = m_session.job();
                job.plates[static_cast<std::size_t>(number)].recipe_pages = list;
                m_session.change(job, tr("Recipe %1").arg(text));
            });
        };
        hold(QStringLiteral("recipeAll"), tr("on all pages"), {});
        hold(QStringLiteral("recipeHere"), tr("on this page only"), {m_session.job().page});
    }
    menu->addSeparator();
    connect(add(menu, QStringLiteral("plateRemove"), tr("Remove\tDelete")), &QAction::triggered, this,
            [this, ink] { remove(ink); });
    menu->popup(global);
}

void LayDown::makeWhite()
{
    const auto made =
        make_preset_plate(m_session.job(), usual_white(m_session.job(), m_session.page()->scene));
    if (made) {
        const QString ink = theme::text_of(made->ink);
        m_session.change(made->job, tr("Make %1").arg(ink));
        m_choice.choosePlate(ink);
    }
}

void LayDown::showStock()
{
    const Stock &stock = m_session.job().stock_here();
    m_white->setVisible(lacks_white(m_session.job()));
    m_white->setText(stock.clear ? tr("+ white behind the colours") : tr("+ white under the colours"));
    m_white->setToolTip(stock.clear ? tr("A plate by the ready-made recipe “White behind colour”")
                                    : tr("A plate by the ready-made recipe “Base for a coloured garment”"));
    const QColor colour = theme::color_of(ProcessProfile::fogra39()->lab_to_rgb(stock.colour));
    const bool own = m_session.job().page_stocks.count(m_session.job().page) > 0;
    m_stock->setText(
        QStringLiteral("   %1%2  ▾").arg(theme::text_of(stock.name), own ? tr(", this page") : QString()));
    const bool behind = stock.clear && stock.behind;
    m_first->setText(behind ? tr("printed first, seen in front through the film") : tr("printed first"));
    m_stock->setStyleSheet(
        QStringLiteral("QPushButton { background: %1; color: %2; border: 1px %3 %4; border-radius: 0; "
                       "padding: 10px 12px; font-weight: 600; text-align: left; }"
                       "QPushButton:focus { border: 2px solid %4; }"
                       "QPushButton::menu-indicator { image: none; }")
            .arg(colour.name(), (stock.colour.l > 55 ? theme::text : theme::field).name(),
                 stock.clear ? QStringLiteral("dashed") : QStringLiteral("solid"), theme::quiet.name()));
}

void LayDown::makeRows()
{
    for (PlateRow *row : m_rows) {
        m_pile->removeWidget(row);
        row->deleteLater();
    }
    for (QWidget *flash : m_flashes) {
        m_pile->removeWidget(flash);
        flash->deleteLater();
    }
    m_rows.clear();
    m_flashes.clear();
    const auto &plates = m_session.job().plates;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        auto *row = new PlateRow(plates[plates.size() - 1 - i], this);
        connect(row, &PlateRow::showToggled, this, [this](const QString &ink, bool on) {
            for (const QString &one : meant(ink)) {
                m_view.setShown(one, on);
            }
        });
        connect(row, &PlateRow::aloneToggled, this,
                [this](const QString &ink) { m_view.setAlone(m_view.alone() == ink ? QString() : ink); });
        connect(row, &PlateRow::chosen, this, &LayDown::choose);
        connect(row, &PlateRow::renamed, this, &LayDown::rename, Qt::QueuedConnection); // replaces the row
        connect(row, &PlateRow::removeWanted, this, &LayDown::remove, Qt::QueuedConnection);
        connect(row, &PlateRow::menuWanted, this, &LayDown::openMenu);
        connect(row, &PlateRow::moved, this, &LayDown::move);
        connect(row, &PlateRow::hovered, this,
                [this](const QString &ink, bool on) { m_view.setHovered(on ? ink : QString()); });
        connect(row, &PlateRow::dragged, this, [this](const QString &, const QPoint &global) {
            if (!rect().contains(mapFromGlobal(global))) { // on its way into the artwork
                m_mark->hide();
                return;
            }
            const int gap = gapAt(global);
            const int y = gap < static_cast<int>(m_rows.size()) ? m_rows[static_cast<std::size_t>(gap)]->y()
                                                                : m_content->height() - 2;
            m_mark->setGeometry(0, std::max(0, y - 2), m_content->width(), 4);
            m_mark->raise();
            m_mark->show();
        });
        connect(row, &PlateRow::dropped, this, [this](const QString &ink, const QPoint &global) {
            m_mark->hide();
            if (!rect().contains(mapFromGlobal(global))) {
                Q_EMIT plateDropped(ink, global);
                return;
            }
            const auto at = std::find_if(m_rows.begin(), m_rows.end(),
                                         [&](const PlateRow *one) { return one->ink() == ink; });
            const int from = static_cast<int>(at - m_rows.begin());
            const int gap = gapAt(global);
            move(ink, gap > from ? from + 1 - gap : from - gap);
        });
        auto *flash = new FlashMark(m_content);
        m_pile->insertWidget(static_cast<int>(2 * i), flash);
        m_pile->insertWidget(static_cast<int>(2 * i) + 1, row);
        row->show(); // at once, or the pile has no height until the next change
        m_rows.push_back(row);
        m_flashes.push_back(flash);
    }
}

void LayDown::refresh()
{
    const bool open = m_session.isOpen();
    m_first->setVisible(open);
    m_last->setVisible(open);
    m_stock->setVisible(open);
    if (!open) {
        m_white->hide();
        m_count->clear();
        return;
    }
    const auto &plates = m_session.job().plates;
    const bool same =
        m_rows.size() == plates.size() && std::equal(m_rows.begin(), m_rows.end(), plates.rbegin(),
                                                     [](const PlateRow *row, const Plate &plate) {
                                                         return row->ink().toStdString() == plate.ink;
                                                     });
    if (!same) { // else the keys stay with them
        makeRows();
    }
    const Rect trim = m_session.trimArea();
    const double trim_cm2 = trim.width * trim.height / 100.0;
    const int inks = m_session.job().tins();
    m_count->setText((plates.size() == 1 ? tr("1 plate") : tr("%1 plates").arg(plates.size())) +
                     (inks < static_cast<int>(plates.size()) ? tr(", %1 inks").arg(inks) : QString()));
    showStock();
    showPrint();
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const Plate &plate = plates[plates.size() - 1 - i];
        PlateRow *row = m_rows[i];
        row->setPlate(plate);
        const double share = m_session.facts().coverage(plate.ink);
        row->setCoverage(share, share * trim_cm2);
        row->setFault(m_session.facts().coverages().fault());
        row->setShown(m_view.isShown(row->ink()), m_view.alone() == row->ink());
        row->setActive(m_choice.isChosen(row->ink()), m_choice.plate() == row->ink());
    }
}

int LayDown::gapAt(const QPoint &global) const
{
    const int y = m_content->mapFromGlobal(global).y();
    return static_cast<int>(std::count_if(
        m_rows.begin(), m_rows.end(), [y](const PlateRow *row) { return row->y() + row->height() / 2 < y; }));
}

/// What each ink looks like by itself, on white and on the stock, and what lies wet under it.
void LayDown::showPrint()
{
    const Job &job = m_session.job();
    const PrintGround ground = print_ground(job.plates, job.stock_here());
    const auto on = [&](const Bands &under, const Plate &plate) {
        return theme::ink_color(solid_on(plate, under, ground, *m_session.page()->condition));
    };
    for (std::size_t i = 0; i < m_rows.size(); ++i) {
        const std::size_t number = job.plates.size() - 1 - i;
        const Plate &plate = job.plates[number];
        const bool wet = prints_wet(job.plates, number);
        m_rows[i]->setPlate(plate);
        m_rows[i]->setPrint(on(ground.paper, plate), on(ground.stock, plate),
                            wet ? theme::text_of(job.plates[number - 1].ink) : QString());
        m_flashes[i]->setVisible(plate.printing.flash);
    }
    m_scroll->setMaximumHeight(std::max(1, m_pile->sizeHint().height()));
}

void LayDown::move(const QString &ink, int steps)
{
    const Job &job = m_session.job();
    const int from = job.find_plate(ink.toStdString());
    const int to = std::clamp(from + steps, 0, static_cast<int>(job.plates.size()) - 1);
    if (from < 0 || to == from) {
        return;
    }
    m_session.change(move_plate(job, static_cast<std::size_t>(from), static_cast<std::size_t>(to)),
                     steps > 0 ? tr("Print %1 later").arg(ink) : tr("Print %1 earlier").arg(ink));
    for (PlateRow *row : m_rows) {
        if (row->ink() == ink) {
            row->setFocus();
        }
    }
}

} // namespace bichrom
