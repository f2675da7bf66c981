#include "app/worktops/fit/slip_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/fit/slip_chart.h"

#include <QCheckBox>
#include <QGridLayout>
#include <QPushButton>
#include <QScrollArea>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

QString area_words(double square_mm)
{
    return SlipPanel::tr("%1 mm²").arg(square_mm, 0, 'f', square_mm < 10 ? 2 : 0);
}

bool is_still(const Slip &slip)
{
    return slip.x == 0 && slip.y == 0 && slip.degrees == 0 && slip.stretch == 0;
}

} // namespace

SlipPanel::SlipPanel(Session &session, ViewState &view, Choice &choice, Spotlight &spotlight, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to see what slipping plates uncover."), parent),
      m_choice(choice), m_spotlight(spotlight)
{
    setObjectName(QStringLiteral("slipPanel"));
    QVBoxLayout *column = m_column;
    auto *top = new QHBoxLayout();
    m_within = new NumberField(tr("mm"), 2, NumberField::length(0.01, 5), m_body);
    m_within->setObjectName(QStringLiteral("slipWithin"));
    m_within->setAccessibleName(tr("How far a plate may move"));
    m_within->setToolTip(tr("Any one plate moves so far against the others, in any direction"));
    m_within->setFixedWidth(92);
    m_within->setValue(m_tolerance);
    top->addWidget(make_label(tr("The press slips by up to"), 12, QFont::Normal, true, m_body));
    top->addStretch();
    top->addWidget(m_within);
    column->addLayout(top);
    m_sum = make_label({}, 12, QFont::DemiBold, false, m_body);
    m_sum->setObjectName(QStringLiteral("slipSum"));
    m_sum->setWordWrap(true);
    column->addWidget(m_sum);
    auto *row = new QHBoxLayout();
    m_map = new QCheckBox(tr("Show where"), m_body);
    m_map->setObjectName(QStringLiteral("slipMap"));
    m_map->setChecked(true);
    m_map->setToolTip(tr("Amber on the light table: what may show there"));
    m_close = make_small_button("closeGaps", tr("Close it"),
                                tr("Plates that meet overlap by as much as is needed"), m_body);
    row->addWidget(m_map);
    row->addStretch();
    row->addWidget(m_close);
    column->addLayout(row);
    auto *scroll = new QScrollArea(m_body);
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *inside = new QWidget(scroll);
    auto *list = new QVBoxLayout(inside);
    list->setContentsMargins(0, 0, 4, 0);
    m_chart = new SlipChart(inside);
    m_chart->setObjectName(QStringLiteral("slipChart"));
    list->addWidget(m_chart);
    list->addStretch();
    scroll->setWidget(inside);
    column->addWidget(scroll, 1);
    column->addWidget(make_rule(m_body));
    m_plate = make_label({}, 12, QFont::DemiBold, false, m_body);
    m_plate->setObjectName(QStringLiteral("slipPlate"));
    column->addWidget(m_plate);
    m_fields = new QWidget(m_body);
    auto *grid = new QGridLayout(m_fields);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    grid->setColumnStretch(2, 1);
    const auto place = [&](NumberField *field, const char *object, const QString &words, int at_row,
                           int at_column) {
        field->setObjectName(QLatin1String(object));
        field->setAccessibleName(words);
        field->setFixedWidth(78);
        grid->addWidget(make_label(words, 11, QFont::Normal, true, m_fields), at_row, at_column);
        grid->addWidget(field, at_row, at_column + 1);
        connect(field, &NumberField::valueEntered, this, &SlipPanel::takeFields);
        return field;
    };
    m_right = place(new NumberField(tr("mm"), 2, NumberField::length(-20, 20), m_fields), "slipRight",
                    tr("right"), 0, 0);
    m_down = place(new NumberField(tr("mm"), 2, NumberField::length(-20, 20), m_fields), "slipDown",
                   tr("down"), 0, 2);
    m_turn = place(
        new NumberField(QStringLiteral("°"), 2, NumberField::plain(QStringLiteral("°"), -10, 10), m_fields),
        "slipTurn", tr("turned"), 1, 0);
    m_stretch = place(
        new NumberField(QStringLiteral("%"), 2, NumberField::plain(QStringLiteral("%"), -5, 5), m_fields),
        "slipStretch", tr("grown"), 1, 2);
    column->addWidget(m_fields);
    m_back =
        make_small_button("slipBack", tr("All back in register"), tr("No plate is moved by hand"), m_body);
    column->addWidget(m_back, 0, Qt::AlignLeft);

    connect(m_within, &NumberField::valueEntered, this, [this](double mm) {
        m_tolerance = mm;
        measure();
    });
    connect(m_map, &QCheckBox::clicked, this, &SlipPanel::draw);
    connect(m_chart, &SlipChart::chosen, this, &SlipPanel::showRow);
    connect(m_close, &QPushButton::clicked, this, &SlipPanel::closeGaps);
    connect(m_back, &QPushButton::clicked, this, [this] {
        m_slips.clear();
        m_view.setSlips({});
        showPlate();
        measure();
    });
    connect(&m_choice, &Choice::plateChanged, this, &SlipPanel::showPlate);
    connect(&m_session, &Session::jobChanged, this, [this] {
        std::erase_if(m_slips, [this](const Slip &slip) { return m_session.job().find_plate(slip.ink) < 0; });
    });
    connect(&m_session, &Session::artworkChanged, this, [this] {
        m_slips.clear();
        m_tolerance = 0.3;
        m_within->setValue(m_tolerance);
    });
    refresh();
}

void SlipPanel::stop()
{
    m_running.cancel();
}

void SlipPanel::forget()
{
    m_fact.forget();
    m_plates = {};
}

Slip &SlipPanel::slipOf(const QString &ink)
{
    const std::string name = ink.toStdString();
    const auto known =
        std::find_if(m_slips.begin(), m_slips.end(), [&](const Slip &slip) { return slip.ink == name; });
    if (known != m_slips.end()) {
        return *known;
    }
    Slip fresh;
    fresh.ink = name;
    m_slips.push_back(fresh);
    return m_slips.back();
}

void SlipPanel::takeFields()
{
    if (m_choice.plate().isEmpty()) {
        return;
    }
    Slip &slip = slipOf(m_choice.plate());
    slip.x = m_right->value();
    slip.y = m_down->value();
    slip.degrees = m_turn->value();
    slip.stretch = m_stretch->value();
    std::erase_if(m_slips, is_still);
    m_view.setSlips(m_slips);
    measure();
    refresh();
}

void SlipPanel::slid(QPointF mm, bool released)
{
    if (m_choice.plate().isEmpty()) {
        return;
    }
    Slip &slip = slipOf(m_choice.plate());
    if (!m_dragged) {
        m_dragged = slip;
    }
    const auto moved = [](double from, double by) {
        return std::clamp(std::round((from + by) * 100) / 100, -20.0, 20.0);
    };
    slip.x = moved(m_dragged->x, mm.x());
    slip.y = moved(m_dragged->y, mm.y());
    if (released) {
        m_dragged.reset();
        std::erase_if(m_slips, is_still);
        measure();
    }
    m_view.setSlips(m_slips);
    showPlate();
}

/// The chosen plate is the one that is moved by hand.
void SlipPanel::showPlate()
{
    const QString &ink = m_choice.plate();
    const bool seen = m_session.isOpen() && m_session.job().find_plate(ink.toStdString()) >= 0;
    m_plate->setText(
        seen ? m_plate->fontMetrics().elidedText(tr("%1 by hand, or drag it").arg(ink), Qt::ElideMiddle, 276)
             : tr("Choose a plate to move it by hand"));
    m_fields->setVisible(seen);
    m_back->setVisible(!m_slips.empty());
    if (isShown()) {
        m_view.setSliding(seen ? ink : QString());
    }
    if (seen) {
        const std::string name = ink.toStdString();
        const auto known =
            std::find_if(m_slips.begin(), m_slips.end(), [&](const Slip &slip) { return slip.ink == name; });
        const Slip slip = known == m_slips.end() ? Slip() : *known;
        m_right->setValue(slip.x);
        m_down->setValue(slip.y);
        m_turn->setValue(slip.degrees);
        m_stretch->setValue(slip.stretch);
    }
}

void SlipPanel::measure()
{
    m_view.setSlips(m_slips);
    showPlate();
    m_running.cancel();
    const quint64 ticket = m_fact.begin();
    std::vector<Slip> slips = m_slips;
    std::erase_if(slips, is_still);
    const Dpi dpi = slip_resolution(m_session.job().traps, m_tolerance);
    const auto page = m_session.page();
    if (m_plates.of != page->plate_line || m_plates.resolution != dpi.value) {
        m_plates = {page->plate_line, dpi.value, nullptr, nullptr};
    }
    struct Made
    {
        Plates plates;
        Found found;
    };
    m_running = m_tasks.start(
        [page, job = m_session.job(), slips, dpi, tolerance = m_tolerance,
         plates = m_plates](const JobControl &control) mutable -> Outcome<Made> {
            const auto make = [&](const PlateLine &line, std::shared_ptr<const SlipPlates> &to) -> Done {
                auto made = slip_plates(line, job, dpi, control);
                if (!made) {
                    return made.error();
                }
                to = std::make_shared<const SlipPlates>(std::move(*made));
                return {};
            };
            if (plates.now == nullptr) {
                if (const Done done = make(*page->plate_line, plates.now); !done) {
                    return done.error();
                }
            }
            if (plates.plain == nullptr && job.traps.on) {
                Job plain = job;
                plain.traps.on = false;
                const auto line = PlateLine::make(page->plate_line->share_page(), setup_of(plain), control);
                if (!line) {
                    return line.error();
                }
                if (const Done done = make(**line, plates.plain); !done) {
                    return done.error();
                }
            }
            const auto tried = [&](const SlipPlates &of) {
                return slips.empty() ? slip_within(of, tolerance, control) : slip(of, slips, control);
            };
            auto now = tried(*plates.now);
            if (!now) {
                return now.error();
            }
            Made made;
            made.found.resolution = dpi;
            if (plates.plain != nullptr) {
                auto plain = tried(*plates.plain);
                if (!plain) {
                    return plain.error();
                }
                made.found.plain = std::move(*plain);
            } else {
                made.found.plain = *now;
            }
            made.found.map = std::make_shared<const BitPlane>(now->map);
            made.found.now = std::move(*now);
            made.plates = std::move(plates);
            return made;
        },
        [this, ticket](Outcome<Made> made) {
            Outcome<Found> found =
                made ? Outcome<Found>(std::move(made->found)) : Outcome<Found>(made.error());
            const bool kept = static_cast<bool>(made);
            if (m_fact.take(ticket, std::move(found))) {
                if (kept) {
                    m_plates = std::move(made->plates);
                }
                refresh();
                draw();
                Q_EMIT tested();
            }
        });
    refresh();
}

void SlipPanel::fill()
{
    const Found *found = m_fact.value();
    const bool trapped = m_session.job().traps.on;
    m_close->setVisible(false);
    m_map->setVisible(m_slips.empty());
    switch (m_fact.state()) {
    case Tested::State::Unknown:
        m_sum->setText(tr("Nobody has tested yet what slips uncover."));
        break;
    case Tested::State::Running:
        m_sum->setText(tr("Testing …"));
        break;
    case Tested::State::Failed:
        m_sum->setText(tr("The test gave nothing: %1").arg(m_fact.fault()));
        m_chart->setRows({}, false);
        return;
    case Tested::State::Known: {
        const SlipResult &now = found->now;
        QString words = now.bare == 0 && now.base == 0 ? tr("No stock shows.")
                        : now.base == 0                ? tr("Bare stock: %1").arg(area_words(now.bare))
                        : now.bare == 0 ? tr("White base beside colours: %1").arg(area_words(now.base))
                                        : tr("Bare stock: %1, white base beside colours: %2")
                                              .arg(area_words(now.bare), area_words(now.base));
        if (now.darker > 0 && !m_slips.empty()) {
            words += tr("\nPlates newly lie on each other: %1").arg(area_words(now.darker));
        }
        m_sum->setText(words);
        m_close->setVisible(m_slips.empty() && now.bare > 0);
        break;
    }
    }
    if (found == nullptr) {
        m_chart->setRows({}, false);
        return;
    }
    std::vector<SlipChart::Row> rows;
    const auto row_of = [](const SlipPair &pair) {
        SlipChart::Row row;
        row.pair = tr("%1 off %2").arg(theme::text_of(pair.moved), theme::text_of(pair.other));
        row.note = pair.base ? tr("white shows; %1 mm narrower hides it").arg(pair.closes, 0, 'f', 2)
                             : tr("stock shows, closed by %1 mm").arg(pair.closes, 0, 'f', 2);
        row.x = pair.worst_x;
        row.y = pair.worst_y;
        return row;
    };
    const auto same = [](const SlipPair &a, const SlipPair &b) {
        return a.moved == b.moved && a.other == b.other && a.base == b.base;
    };
    constexpr double least = 0.05; // mm²: less is rounding
    for (const SlipPair &pair : found->plain.pairs) {
        SlipChart::Row row = row_of(pair);
        row.plain = pair.bare;
        for (const SlipPair &one : found->now.pairs) {
            if (same(one, pair)) {
                row = row_of(one);
                row.plain = pair.bare;
                row.now = one.bare;
            }
        }
        if (row.plain >= least || row.now >= least) {
            rows.push_back(std::move(row));
        }
    }
    std::stable_sort(rows.begin(), rows.end(), [](const auto &a, const auto &b) { return a.now > b.now; });
    m_chart->setRows(std::move(rows), trapped);
}

void SlipPanel::draw()
{
    if (!isShown()) {
        return;
    }
    const Found *found = m_fact.value();
    // What plates moved by hand uncover is seen as it is.
    if (!m_map->isChecked() || !m_slips.empty() || found == nullptr ||
        m_fact.state() == Tested::State::Failed) {
        m_view.setOverlay(nullptr);
        return;
    }
    auto overlay = std::make_shared<Overlay>();
    overlay->resolution = found->resolution;
    overlay->layers = {{found->map, OverlayPattern::Lamp}};
    m_view.setOverlay(std::move(overlay));
}

/// Brings the worst place of a pair into view.
void SlipPanel::showRow(int row)
{
    const SlipChart::Row &chosen = m_chart->rows()[static_cast<std::size_t>(row)];
    constexpr double half = 2; // mm
    m_spotlight.light({QRectF(chosen.x - half, chosen.y - half, 2 * half, 2 * half)}, 0, chosen.pair, -1,
                      true);
}

void SlipPanel::closeGaps()
{
    const Found *found = m_fact.value();
    if (found == nullptr) {
        return;
    }
    Job job = m_session.job();
    job.traps.on = true;
    for (const SlipPair &pair : found->now.pairs) {
        if (!pair.base && pair.bare > 0) {
            job.traps.width = std::clamp(std::max(job.traps.width, pair.closes), 0.0, 1.0);
        }
    }
    m_session.change(job, tr("Overlap of plates %1 mm").arg(job.traps.width, 0, 'f', 2));
    Q_EMIT trapsShown();
}

} // namespace bichrom
