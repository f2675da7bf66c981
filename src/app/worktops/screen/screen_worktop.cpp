#include "app/worktops/screen/screen_worktop.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/screen/angle_dial.h"

#include <QComboBox>
#include <QGridLayout>
#include <QScrollArea>

#include <cmath>

namespace bichrom {

namespace {

QString dot_name(DotShape shape)
{
    switch (shape) {
    case DotShape::Ellipse:
        return ScreenWorktop::tr("ellipse");
    case DotShape::Line:
        return ScreenWorktop::tr("line");
    case DotShape::Round:
        break;
    }
    return ScreenWorktop::tr("round");
}

/// Angle between two screens: the smallest turn that brings one onto the other.
double between(const Screen &a, const Screen &b)
{
    const double turn = a.dot == DotShape::Round && b.dot == DotShape::Round ? 90.0 : 180.0;
    return std::fabs(std::remainder(a.angle.value - b.angle.value, turn));
}

} // namespace

ScreenWorktop::ScreenWorktop(Session &session, QWidget *parent) : Worktop(parent), m_session(session)
{
    setObjectName(QStringLiteral("screenWorktop"));
    auto *outer = new QVBoxLayout(this);
    outer->setContentsMargins(16, 12, 8, 8);
    outer->setSpacing(6);
    outer->addWidget(make_heading(tr("Screen"), this));
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
    connect(&m_session, &Session::pageChanged, this, &ScreenWorktop::rebuild);
    connect(&m_session, &Session::jobChanged, this, &ScreenWorktop::refresh);
    rebuild();
}

ScreenWorktop::Row ScreenWorktop::makeRow(const Plate &plate)
{
    Row row;
    row.ink = plate.ink;
    const QString name = theme::text_of(plate.ink);
    row.widget = new QWidget(m_body);
    row.widget->setObjectName(QStringLiteral("screen ") + name);
    auto *grid = new QGridLayout(row.widget);
    grid->setContentsMargins(0, 4, 0, 4);
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(3);
    auto *swatch = new QWidget(row.widget);
    swatch->setFixedSize(12, 12);
    swatch->setStyleSheet(QStringLiteral("background: %1; border: 1px solid %2;")
                              .arg(theme::ink_color(plate.shown()).name(), theme::quiet.name()));
    auto *head = new QHBoxLayout();
    head->setSpacing(8);
    head->addWidget(swatch);
    head->addWidget(make_label(name, 12, QFont::DemiBold, false, row.widget));
    head->addStretch();
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
    row.ruling->setMinimumWidth(70);
    row.angle->setMinimumWidth(60);
    grid->addWidget(row.ruling, 1, 0);
    grid->addWidget(row.angle, 1, 1);
    grid->addWidget(row.dot, 1, 2);
    const std::string ink = plate.ink;
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

void ScreenWorktop::changePlate(const std::string &ink, const QString &text,
                                const std::function<void(Screen &)> &edit)
{
    Job job = m_session.job();
    const int plate = job.find_plate(ink);
    if (plate >= 0) {
        edit(job.plates[static_cast<std::size_t>(plate)].screen);
        m_session.change(job, text);
    }
}

void ScreenWorktop::rebuild()
{
    for (const Row &row : m_rows) {
        m_list->removeWidget(row.widget);
        row.widget->deleteLater();
    }
    m_rows.clear();
    const bool open = m_session.isOpen();
    m_empty->setVisible(!open);
    m_body->setVisible(open);
    if (!open) {
        return;
    }
    const auto &plates = m_session.job().plates;
    for (std::size_t i = 0; i < plates.size(); ++i) {
        Row row = makeRow(plates[plates.size() - 1 - i]); // last printed on top, as in the lay-down
        m_list->insertWidget(static_cast<int>(i), row.widget);
        m_rows.push_back(std::move(row));
    }
    refresh();
}

void ScreenWorktop::refresh()
{
    if (!m_session.isOpen()) {
        return;
    }
    const Job &job = m_session.job();
    const bool same = m_rows.size() == job.plates.size() &&
                      std::all_of(m_rows.begin(), m_rows.end(),
                                  [&](const Row &row) { return job.find_plate(row.ink) >= 0; });
    if (!same) {
        rebuild();
        return;
    }
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
    }
    const QString words = remarks();
    m_remarks->setText(words);
    m_remarks->setVisible(!words.isEmpty());
    Q_EMIT stateChanged();
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
    // Plates closer than 15° may beat against each other (common practice, no source).
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        for (std::size_t k = i + 1; k < job.plates.size(); ++k) {
            const Plate &a = job.plates[i];
            const Plate &b = job.plates[k];
            const double apart = between(a.screen, b.screen);
            const bool yellow = a.ink == "Yellow" || b.ink == "Yellow";
            // White under everything may share black's angle (common practice, no source).
            const bool white_and_black = (a.kind == InkUse::White && process_channel(b.ink) == 3) ||
                                         (b.kind == InkUse::White && process_channel(a.ink) == 3);
            if (apart < 15.0 - 1e-9 && !yellow && !white_and_black) {
                words << tr("%1 and %2 stand %3° apart; below 15° they may show a moiré.")
                             .arg(theme::text_of(a.ink), theme::text_of(b.ink),
                                  theme::text_of(format_number(apart, 1)));
            }
        }
    }
    return words.join(QLatin1Char('\n'));
}

} // namespace bichrom
