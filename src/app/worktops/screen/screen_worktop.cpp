#include "app/worktops/screen/screen_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/panel_switch.h"
#include "app/widgets/theme.h"
#include "app/worktops/screen/angle_dial.h"
#include "app/worktops/screen/beats_panel.h"
#include "app/worktops/screen/curves_panel.h"
#include "core/job/screen_angles.h"
#include "core/screen/screen_advice.h"
#include "core/screen/tile_file.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QScrollArea>
#include <QStackedWidget>

#include <algorithm>
#include <cmath>
#include <set>

namespace bichrom {

namespace {

QString dot_name(DotShape shape)
{
    switch (shape) {
    case DotShape::Ellipse:
        return ScreenWorktop::tr("ellipse");
    case DotShape::Square:
        return ScreenWorktop::tr("square");
    case DotShape::Diamond:
        return ScreenWorktop::tr("diamond");
    case DotShape::Line:
        return ScreenWorktop::tr("line");
    case DotShape::Round:
        break;
    }
    return ScreenWorktop::tr("round");
}

QString kind_name(ScreenKind kind)
{
    switch (kind) {
    case ScreenKind::Fm:
        return ScreenWorktop::tr("scattered (FM)");
    case ScreenKind::Hybrid:
        return ScreenWorktop::tr("hybrid");
    case ScreenKind::Diffusion:
        return ScreenWorktop::tr("diffused (photos)");
    case ScreenKind::Tile:
        return ScreenWorktop::tr("own tile …");
    case ScreenKind::None:
        return ScreenWorktop::tr("no halftone");
    case ScreenKind::Am:
        break;
    }
    return ScreenWorktop::tr("dots (AM)");
}

} // namespace

ScreenWorktop::ScreenWorktop(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : Worktop(parent), m_session(session), m_prompts(prompts), m_seen(this, [this] { refresh(); })
{
    setObjectName(QStringLiteral("screenWorktop"));
    auto *whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->setSpacing(0);
    auto *head = new QVBoxLayout();
    head->setContentsMargins(16, 12, 16, 4);
    head->setSpacing(4);
    head->addWidget(make_heading(tr("Screen"), this));
    m_switch = new PanelSwitch(this);
    QStackedWidget *panels = m_switch->panels();
    auto *screens = new QWidget(panels);
    m_curves = new CurvesPanel(session, view, prompts, panels);
    m_beats = new BeatsPanel(session, view, panels);
    m_switch->add(QStringLiteral("panelScreens"), tr("Screens"), screens);
    m_switch->add(QStringLiteral("panelCurves"), tr("Curves"), m_curves);
    m_switch->add(QStringLiteral("panelBeats"), tr("Beats"), m_beats);
    head->addWidget(m_switch);
    whole->addLayout(head);
    whole->addWidget(panels, 1);
    connect(panels, &QStackedWidget::currentChanged, this, &ScreenWorktop::showPanel);
    connect(m_beats, &BeatsPanel::placeChosen, this, &ScreenWorktop::placeChosen);
    auto *outer = new QVBoxLayout(screens);
    outer->setContentsMargins(16, 4, 8, 8);
    outer->setSpacing(6);
    m_empty = make_label(tr("Open artwork to set ruling, angle and dot shape of its plates."), 12,
                         QFont::Normal, true, this);
    m_empty->setWordWrap(true);
    outer->addWidget(m_empty);
    m_body = new QWidget(this);
    outer->addWidget(m_body, 1);
    auto *column = new QVBoxLayout(m_body);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);

    auto *top = new QGridLayout();
    top->setColumnStretch(0, 1);
    top->setContentsMargins(0, 0, 8, 0);
    m_resolution = new NumberField(tr("dpi"), 0, NumberField::plain(tr("dpi"), 72, 5080), m_body);
    m_resolution->setObjectName(QStringLiteral("resolution"));
    m_resolution->setAccessibleName(tr("Film resolution"));
    m_resolution->setFixedWidth(96);
    m_all = new NumberField(tr("lpi"), 1, NumberField::plain(tr("lpi"), 1, 600), m_body);
    m_all->setObjectName(QStringLiteral("allRulings"));
    m_all->setAccessibleName(tr("Ruling of all plates"));
    m_all->setFixedWidth(96);
    top->addWidget(make_label(tr("Film resolution"), 12, QFont::Normal, true, m_body), 0, 0);
    top->addWidget(m_resolution, 0, 1);
    top->addWidget(make_label(tr("Ruling of all plates"), 12, QFont::Normal, true, m_body), 1, 0);
    top->addWidget(m_all, 1, 1);
    column->addLayout(top);
    m_dial = new AngleDial(m_body);
    m_dial->setFixedHeight(132);
    m_dial->setAccessibleName(tr("Screen angles"));
    column->addWidget(m_dial);
    auto *scroll = new QScrollArea(m_body);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto *content = new QWidget(scroll);
    m_list = new QVBoxLayout(content);
    m_list->setContentsMargins(0, 0, 8, 0);
    m_list->setSpacing(4);
    m_remarks = make_label({}, 12, QFont::Normal, false, content);
    m_remarks->setObjectName(QStringLiteral("screenRemarks"));
    m_remarks->setWordWrap(true);
    m_remarks->setStyleSheet(
        QStringLiteral("background: %1; border: 1px solid %2; color: %3; padding: 8px; font-size: 12px;")
            .arg(theme::amberField.name(), theme::amber.name(), theme::amberText.name()));
    m_list->addWidget(m_remarks);
    m_meant = new QWidget(content);
    m_meant->setObjectName(QStringLiteral("meantAngles"));
    (new QVBoxLayout(m_meant))->setContentsMargins(0, 0, 0, 4);
    m_list->addWidget(m_meant);
    m_advice = make_label({}, 11, QFont::Normal, true, content);
    m_advice->setObjectName(QStringLiteral("screenAdvice"));
    m_advice->setWordWrap(true);
    m_advice->setTextFormat(Qt::RichText);
    m_list->addWidget(m_advice);
    m_list->addStretch();
    scroll->setWidget(content);
    column->addWidget(scroll, 1);

    connect(m_resolution, &NumberField::valueEntered, this, [this](double dpi) {
        Job job = m_session.job();
        job.film.resolution = Dpi(dpi);
        m_session.change(job, tr("Film resolution %1 dpi").arg(dpi));
    });
    connect(m_all, &NumberField::valueEntered, this, [this](double lpi) {
        Job job = m_session.job();
        for (Plate &plate : job.plates) {
            plate.screen.ruling = Lpi(lpi);
        }
        m_session.change(job, tr("Ruling of all plates %1 lpi").arg(lpi));
    });
    connect(m_dial, &AngleDial::turned, this, [this](int number, double degrees, int drag) {
        const auto &plates = m_session.job().plates;
        if (number >= 0 && static_cast<std::size_t>(number) < plates.size()) {
            const std::string ink = plates[static_cast<std::size_t>(number)].ink;
            changePlate(
                ink, tr("%1: %2°").arg(theme::text_of(ink)).arg(degrees),
                [degrees](Screen &screen) { screen.angle = Degrees(degrees); },
                QStringLiteral("dial %1").arg(drag));
        }
    });
    for (const auto changed : {&Session::pageChanged, &Session::jobChanged}) {
        connect(&m_session, changed, &m_seen, &WhenSeen::refresh);
        connect(&m_session, changed, this, &Worktop::stateChanged);
    }
}

ScreenWorktop::Row ScreenWorktop::makeRow(const Plate &plate)
{
    Row row;
    row.ink = plate.ink;
    row.swatch = theme::ink_color(plate.shown());
    const QString name = theme::text_of(plate.ink);
    row.widget = new QWidget(m_body);
    row.widget->setObjectName(QStringLiteral("screen ") + name);
    auto *grid = new QGridLayout(row.widget);
    grid->setContentsMargins(0, 4, 0, 4);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    auto *swatch = new QWidget(row.widget);
    swatch->setFixedSize(12, 12);
    swatch->setStyleSheet(
        QStringLiteral("background: %1; border: 1px solid %2;").arg(row.swatch.name(), theme::quiet.name()));
    auto *head = new QHBoxLayout();
    head->setSpacing(8);
    head->addWidget(swatch);
    constexpr int name_wide = 116; // beside the box at its right
    auto *title = make_label(
        QFontMetrics(theme::font(12, QFont::DemiBold)).elidedText(name, Qt::ElideMiddle, name_wide), 12,
        QFont::DemiBold, false, row.widget);
    title->setToolTip(name);
    head->addWidget(title);
    head->addStretch();
    row.kind = new QComboBox(row.widget);
    row.kind->setObjectName(QStringLiteral("screenKind"));
    row.kind->setAccessibleName(tr("How %1 is screened").arg(name));
    for (const ScreenKind kind : all_screen_kinds) {
        row.kind->addItem(kind_name(kind));
    }
    head->addWidget(row.kind);
    grid->addLayout(head, 0, 0, 1, 3);
    row.ruling = new NumberField(tr("lpi"), 2, NumberField::plain(tr("lpi"), 1, 600), row.widget);
    row.ruling->setObjectName(QStringLiteral("ruling"));
    row.ruling->setAccessibleName(tr("Ruling of %1").arg(name));
    row.angle = new NumberField(QStringLiteral("°"), 2, NumberField::plain(QStringLiteral("°"), -360, 360),
                                row.widget);
    row.angle->setObjectName(QStringLiteral("angle"));
    row.angle->setAccessibleName(tr("Angle of %1").arg(name));
    row.dot = new QComboBox(row.widget);
    row.dot->setObjectName(QStringLiteral("dot"));
    row.dot->setAccessibleName(tr("Dot shape of %1").arg(name));
    for (const DotShape shape : all_dot_shapes) {
        row.dot->addItem(dot_name(shape), static_cast<int>(shape));
    }
    for (QWidget *one : {static_cast<QWidget *>(row.ruling), static_cast<QWidget *>(row.angle),
                         static_cast<QWidget *>(row.dot)}) {
        one->setMinimumWidth(70);
        one->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    }
    for (int column = 0; column < 3; ++column) {
        grid->setColumnStretch(column, 1);
    }
    grid->addWidget(row.ruling, 1, 0);
    grid->addWidget(row.angle, 1, 1);
    grid->addWidget(row.dot, 1, 2);
    row.detail = make_label({}, 12, QFont::Normal, true, row.widget);
    row.detail->setWordWrap(true);
    row.least = new NumberField(tr("px"), 0, NumberField::plain(tr("px"), 1, 400), row.widget);
    row.least->setObjectName(QStringLiteral("leastDot"));
    row.least->setAccessibleName(tr("Smallest dot of %1").arg(name));
    row.chain = new NumberField({}, 2, NumberField::plain({}, 0, 0.6), row.widget);
    row.chain->setObjectName(QStringLiteral("ellipse"));
    row.chain->setAccessibleName(tr("How long the ellipse of %1 is").arg(name));
    row.chain->setToolTip(
        tr("0 is round; with 0.2 dots touch end to end at about 36 % and side by side at 64 %"));
    grid->addWidget(row.detail, 2, 0, 1, 2);
    for (NumberField *one : {row.least, row.chain}) {
        one->setMinimumWidth(70);
        one->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
        grid->addWidget(one, 2, 2);
    }
    const std::string ink = plate.ink;
    connect(row.kind, &QComboBox::activated, this, [this, ink, name](int index) {
        const auto kind = static_cast<ScreenKind>(index);
        if (kind == ScreenKind::Tile) {
            chooseTile(ink);
            return;
        }
        changePlate(ink, tr("%1: %2").arg(name, kind_name(kind)), [kind](Screen &screen) {
            screen.kind = kind;
            screen.least_dot = 0; // the usual of that kind
        });
    });
    connect(row.least, &NumberField::valueEntered, this, [this, ink, name](double pixels) {
        changePlate(ink, tr("%1: dots of %2 px at least").arg(name).arg(pixels),
                    [pixels](Screen &screen) { screen.least_dot = static_cast<int>(pixels); });
    });
    connect(row.chain, &NumberField::valueEntered, this, [this, ink, name](double chain) {
        changePlate(ink, tr("%1: ellipse %2").arg(name).arg(chain),
                    [chain](Screen &screen) { screen.chain = chain; });
    });
    connect(row.ruling, &NumberField::valueEntered, this, [this, ink, name](double lpi) {
        changePlate(ink, tr("%1: %2 lpi").arg(name).arg(lpi),
                    [lpi](Screen &screen) { screen.ruling = Lpi(lpi); });
    });
    connect(row.angle, &NumberField::valueEntered, this, [this, ink, name](double degrees) {
        changePlate(ink, tr("%1: %2°").arg(name).arg(degrees),
                    [degrees](Screen &screen) { screen.angle = Degrees(degrees); });
    });
    connect(row.dot, &QComboBox::activated, this, [this, ink, name](int index) {
        const auto shape = static_cast<DotShape>(index);
        changePlate(ink, tr("%1: %2 dot").arg(name, dot_name(shape)),
                    [shape](Screen &screen) { screen.dot = shape; });
    });
    return row;
}

/// Asks for the picture of the shop's own tile; without one the plate stays as it is.
void ScreenWorktop::chooseTile(const std::string &ink)
{
    const QString path =
        m_prompts.askOpenFile(FileUse::ScreenTile, QFileInfo(m_session.path()).absolutePath());
    if (!path.isEmpty()) {
        if (const auto tile = read_tile_file(path.toStdString())) {
            changePlate(ink, tr("%1: tile %2").arg(theme::text_of(ink), theme::text_of(tile->name())),
                        [&](Screen &screen) {
                            screen.kind = ScreenKind::Tile;
                            screen.tile = *tile;
                        });
        } else {
            m_prompts.showError(tr("The tile was not taken"), theme::text_of(tile.error().message()));
        }
    }
    refresh(); // what the list shows is what is
}

void ScreenWorktop::setActive(bool active)
{
    m_active = active;
    showPanel(m_switch->panels()->currentIndex());
}

/// Only what is looked at is measured.
void ScreenWorktop::showPanel(int number)
{
    m_curves->setShown(m_active && number == 1);
    m_beats->setShown(m_active && number == 2);
}

void ScreenWorktop::changePlate(const std::string &ink, const QString &text,
                                const std::function<void(Screen &)> &edit, const QString &merge_key)
{
    Job job = m_session.job();
    const int plate = job.find_plate(ink);
    if (plate >= 0) {
        edit(job.plates[static_cast<std::size_t>(plate)].screen);
        m_session.change(job, text, merge_key);
    }
}

bool ScreenWorktop::rowsFollow() const
{
    const auto &plates = m_session.job().plates;
    return std::equal(m_rows.begin(), m_rows.end(), plates.rbegin(), plates.rend(),
                      [](const Row &row, const Plate &plate) {
                          return row.ink == plate.ink && row.swatch == theme::ink_color(plate.shown());
                      });
}

void ScreenWorktop::makeRows()
{
    for (const Row &row : m_rows) {
        m_list->removeWidget(row.widget);
        row.widget->deleteLater();
    }
    m_rows.clear();
    const auto &plates = m_session.job().plates;
    for (auto plate = plates.rbegin(); plate != plates.rend(); ++plate) {
        Row row = makeRow(*plate);
        m_list->insertWidget(static_cast<int>(m_rows.size()) + 2, row.widget); // below the remarks
        row.widget->show();                                                    // at once, with the panel
        m_rows.push_back(std::move(row));
    }
}

void ScreenWorktop::refresh()
{
    const bool open = m_session.isOpen();
    m_empty->setVisible(!open);
    m_body->setVisible(open);
    if (!open) {
        return;
    }
    if (!rowsFollow()) {
        makeRows();
    }
    const Job &job = m_session.job();
    m_resolution->setValue(job.film.resolution.value);
    m_dial->setPlates(job.plates);
    m_all->setEnabled(!job.plates.empty());
    if (!job.plates.empty()) {
        m_all->setValue(job.plates.front().screen.ruling.value);
    }
    for (const Row &row : m_rows) {
        const int index = job.find_plate(row.ink);
        if (index < 0) {
            continue;
        }
        const Screen &screen = job.plates[static_cast<std::size_t>(index)].screen;
        row.ruling->setValue(screen.ruling.value);
        row.angle->setValue(screen.angle.value);
        row.dot->setCurrentIndex(static_cast<int>(screen.dot));
        row.kind->setCurrentIndex(static_cast<int>(screen.kind));
        for (QWidget *one : {static_cast<QWidget *>(row.ruling), static_cast<QWidget *>(row.angle),
                             static_cast<QWidget *>(row.dot)}) {
            one->setVisible(has_lattice(screen));
        }
        const bool own = screen.kind == ScreenKind::Tile;
        const bool scattered = screen.kind == ScreenKind::Fm || screen.kind == ScreenKind::Diffusion;
        const bool least = scattered || screen.kind == ScreenKind::Hybrid;
        const bool ellipse = !least && has_lattice(screen) && screen.dot == DotShape::Ellipse;
        row.least->setVisible(least);
        row.least->setValue(least_dot_of(screen));
        row.chain->setVisible(ellipse);
        row.chain->setValue(screen.chain);
        row.detail->setVisible(least || ellipse || own);
        const double micrometres = (scattered ? least_dot_of(screen) : std::sqrt(least_dot_of(screen))) *
                                   millimetres_per_inch * 1000 / job.film.resolution.value;
        row.detail->setText(own ? tr("%1, %2 × %2 px, %3 tones")
                                      .arg(theme::text_of(screen.tile.name()))
                                      .arg(screen.tile.side())
                                      .arg(screen.tile.tones())
                            : ellipse   ? tr("How long the ellipse is")
                            : scattered ? tr("Dot, pixels a side; %1 µm").arg(micrometres, 0, 'f', 0)
                                        : tr("Least dot, pixels; %1 µm wide").arg(micrometres, 0, 'f', 0));
    }
    const QString words = remarks();
    m_remarks->setText(words);
    m_remarks->setVisible(!words.isEmpty());
    showMeant();
    m_advice->setText(adviceWords());
}

/// A tick for each pair of plates that stands close, to say that it is meant. Ticks stay while their pairs
/// do, so that the keys stay with them.
void ScreenWorktop::showMeant()
{
    const Job &job = m_session.job();
    const std::vector<ClosePair> pairs = close_pairs(job);
    const auto inks_of = [&](const ClosePair &pair) {
        return std::pair(job.plates[pair.first].ink, job.plates[pair.second].ink);
    };
    const bool same =
        std::equal(pairs.begin(), pairs.end(), m_ticks.begin(), m_ticks.end(),
                   [&](const ClosePair &pair, const Tick &tick) { return inks_of(pair) == tick.inks; });
    if (!same) {
        for (const Tick &tick : m_ticks) {
            delete tick.box; // never the one that is being clicked: that leaves the pairs as they are
        }
        m_ticks.clear();
        for (const ClosePair &pair : pairs) {
            const auto inks = inks_of(pair);
            auto *box = new QCheckBox(m_meant);
            box->setObjectName(QStringLiteral("meant ") + theme::text_of(inks.first) + QLatin1Char(' ') +
                               theme::text_of(inks.second));
            box->setToolTip(tr("They are to stand so close; nothing more is said about it."));
            m_meant->layout()->addWidget(box);
            box->show();
            connect(box, &QCheckBox::clicked, this, [this, inks](bool on) {
                m_session.change(with_meant_angles(m_session.job(), inks.first, inks.second, on),
                                 on ? tr("Angles meant") : tr("Angles not meant"));
            });
            m_ticks.push_back({inks, box});
        }
    }
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        m_ticks[i].box->setText(tr("%1 and %2, %3° apart")
                                    .arg(theme::text_of(m_ticks[i].inks.first),
                                         theme::text_of(m_ticks[i].inks.second),
                                         theme::text_of(format_number(pairs[i].degrees, 1))));
        m_ticks[i].box->setChecked(pairs[i].meant);
    }
    m_meant->setVisible(!pairs.empty());
}

/// What of the screens' advice is alike for all plates is said once.
QString ScreenWorktop::adviceWords() const
{
    std::vector<std::pair<QString, QStringList>> sentences; // with the plates each is about
    std::set<QString> warned;
    for (const ScreenAdvice &one : screen_advice(m_session.job(), m_session.page()->scene)) {
        const QString text = theme::text_of(one.text);
        auto found = std::find_if(sentences.begin(), sentences.end(),
                                  [&](const auto &said) { return said.first == text; });
        if (found == sentences.end()) {
            found = sentences.insert(sentences.end(), {text, {}});
        }
        found->second << theme::text_of(one.ink);
        if (one.warns) {
            warned.insert(text);
        }
    }
    QStringList lines;
    for (const auto &[text, inks] : sentences) {
        const QString about =
            inks.size() == static_cast<qsizetype>(m_session.job().plates.size()) && inks.size() > 1
                ? tr("All plates")
                : inks.join(QStringLiteral(", "));
        const QString words = tr("%1: %2").arg(about, text).toHtmlEscaped();
        lines << (warned.count(text) != 0
                      ? QStringLiteral("<span style=\"font-weight:600\">%1</span>").arg(words)
                      : words);
    }
    return lines.join(QStringLiteral("<br>"));
}

StageState ScreenWorktop::state(bool looked_at) const
{
    return remarks().isEmpty() ? Worktop::state(looked_at) : StageState::FindingsOpen;
}

QString ScreenWorktop::remarks() const
{
    QStringList words;
    const Job &job = m_session.job();
    if (const Done good = check_job(job); !good) {
        words << theme::text_of(good.error().message());
    }
    const std::vector<ClosePair> close = close_pairs(job);
    if (std::any_of(close.begin(), close.end(), [](const ClosePair &pair) { return !pair.meant; })) {
        words << tr("Plates closer than 15° may show a moiré. Tick those that are meant to be:");
    }
    return words.join(QLatin1Char('\n'));
}

} // namespace bichrom
