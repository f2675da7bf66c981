#include "app/worktops/screen/curves_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/kept_sets_row.h"
#include "app/widgets/theme.h"
#include "app/worktops/screen/press_plot.h"
#include "core/base/atomic_file.h"
#include "core/job/curve_file.h"
#include "core/job/kept_sets.h"

#include <QCheckBox>
#include <QComboBox>
#include <QFileInfo>
#include <QGridLayout>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QSignalBlocker>

namespace bichrom {

namespace {

QString points_text(const ToneCurve &curve)
{
    QStringList lines;
    for (const CurvePoint &point : curve.points()) {
        lines << QStringLiteral("%1 %2").arg(theme::text_of(format_number(point.in * 100, 2)),
                                             theme::text_of(format_number(point.out * 100, 2)));
    }
    return lines.join(QLatin1Char('\n'));
}

} // namespace

CurvesPanel::CurvesPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to make up for what the press does to its tones."), parent),
      m_prompts(prompts)
{
    setObjectName(QStringLiteral("curvesPanel"));
    m_plate = new QComboBox(m_body);
    m_plate->setObjectName(QStringLiteral("curvePlate"));
    m_plate->setAccessibleName(tr("Plate whose curve is shown"));
    m_column->addWidget(m_plate);
    auto *kept = new KeptSetsRow(
        QStringLiteral("curves"), QStringLiteral("curves"),
        [this](const std::string &name) { return press_curve_text(name, shown()); }, m_body);
    m_column->addWidget(kept);
    connect(kept, &KeptSetsRow::chosen, this, &CurvesPanel::useKept);
    connect(kept, &KeptSetsRow::failed, this, [this](const QString &words) { m_words->setText(words); });
    m_plot = new PressPlot(m_body);
    m_column->addWidget(m_plot);
    m_which = new QComboBox(m_body);
    m_which->setObjectName(QStringLiteral("curveWhich"));
    m_which->setAccessibleName(tr("Which curve the points are of"));
    m_which->addItems(
        {tr("Measured on press: film % and print %"), tr("Wanted in print: plate % and print %")});
    m_which->setToolTip(
        tr("A pair a line. Without points for what is wanted, the print shall be as the plate is."));
    m_column->addWidget(m_which);
    m_points = new QPlainTextEdit(m_body);
    m_points->setObjectName(QStringLiteral("curvePoints"));
    m_points->setAccessibleName(tr("Points measured on press"));
    m_points->setPlaceholderText(QStringLiteral("25 38.5\n50 68\n75 88"));
    m_points->setFont(theme::font(12));
    m_points->setTabChangesFocus(true);
    m_points->setMinimumHeight(84);
    m_column->addWidget(m_points, 1);
    auto *row = new QHBoxLayout();
    m_use = make_small_button("useCurve", tr("Use these"), tr("Films make up for them"), m_body);
    m_file =
        make_small_button("openCurve", tr("From file …"),
                          tr("Pairs of percent, or a CGATS table of one ink with Lab or densities"), m_body);
    m_clear = make_small_button("clearCurve", tr("No curve"), tr("Film as the plate is"), m_body);
    row->addWidget(m_use);
    row->addWidget(m_file);
    row->addStretch();
    row->addWidget(m_clear);
    m_column->addLayout(row);
    m_words = make_label({}, 11, QFont::Normal, true, m_body);
    m_words->setObjectName(QStringLiteral("curveWords"));
    m_words->setWordWrap(true);
    m_column->addWidget(m_words);
    m_column->addWidget(make_rule(m_body));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(6);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(0, 1);
    const auto field = [&](const char *object, const QString &name, double low, double high) {
        return make_number_field(object, name, QStringLiteral("%"), 1,
                                 NumberField::plain(QStringLiteral("%"), low, high), 80, {}, m_body);
    };
    m_least = field("leastTone", tr("Lightest tone that holds"), 0, 50);
    m_most = field("mostTone", tr("Darkest tone that stays open"), 50, 100);
    grid->addWidget(make_label(tr("Film holds from, to"), 12, QFont::Normal, true, m_body), 0, 0);
    grid->addWidget(m_least, 0, 1);
    grid->addWidget(m_most, 0, 2);
    m_hold = new QCheckBox(tr("Bring tones beyond to these"), m_body);
    m_hold->setObjectName(QStringLiteral("holdTones"));
    m_hold->setToolTip(tr("Else lighter ones become bare and darker ones solid"));
    grid->addWidget(m_hold, 1, 0, 1, 3);
    m_column->addLayout(grid);

    connect(m_plate, &QComboBox::activated, this, [this] {
        m_said.clear();
        fill();
    });
    connect(m_which, &QComboBox::activated, this, [this] {
        m_said.clear();
        fill();
    });
    connect(m_use, &QPushButton::clicked, this, [this] { takeText(m_points->toPlainText(), {}); });
    connect(m_file, &QPushButton::clicked, this, [this] {
        const QString path = m_prompts.askOpenFile(FileUse::PressCurve, {});
        if (path.isEmpty()) {
            return;
        }
        const auto bytes = read_file(path.toStdString(), 1 << 20);
        if (!bytes) {
            m_said = theme::text_of(bytes.error().message());
            fill();
            return;
        }
        takeText(QString::fromUtf8(reinterpret_cast<const char *>(bytes->data()),
                                   static_cast<qsizetype>(bytes->size())),
                 QFileInfo(path).fileName());
    });
    connect(m_clear, &QPushButton::clicked, this, [this] {
        m_said.clear();
        change(tr("No press curve"), [](PressCurve &press) { press = {}; });
    });
    connect(m_least, &NumberField::valueEntered, this, [this](double percent) {
        change(tr("Tones hold from %1 %").arg(percent),
               [&](PressCurve &press) { press.least = percent / 100; });
    });
    connect(m_most, &NumberField::valueEntered, this, [this](double percent) {
        change(tr("Tones stay open to %1 %").arg(percent),
               [&](PressCurve &press) { press.most = percent / 100; });
    });
    connect(m_hold, &QCheckBox::clicked, this, [this](bool on) {
        change(on ? tr("Tones beyond are held") : tr("Tones beyond drop"),
               [&](PressCurve &press) { press.hold = on; });
    });
    refresh();
}

void CurvesPanel::takeText(const QString &text, const QString &place)
{
    const auto read = read_measured_curve(text.toStdString(), place.toStdString());
    if (!read) {
        m_said = theme::text_of(read.error().message());
        m_words->setText(m_said);
        return;
    }
    m_said = theme::text_of(read->how) +
             (read->smoothed ? tr("; some fell and were evened out") : QString()) + QLatin1Char('.');
    if (isWish()) {
        change(tr("What is wanted of %1").arg(m_plate->currentText()),
               [&](PressCurve &press) { press.wish = read->printed; });
    } else {
        change(tr("Press curve of %1").arg(m_plate->currentText()),
               [&](PressCurve &press) { press.printed = read->printed; });
    }
    fill();
}

void CurvesPanel::useKept(const QString &name, const QString &path)
{
    const auto text = read_set_file(path.toStdString());
    const auto press = text ? read_press_curve(*text, path.toStdString()) : Outcome<PressCurve>(text.error());
    if (!press) {
        m_said = theme::text_of(press.error().message());
        fill();
        return;
    }
    m_said.clear();
    change(tr("Curve %1 for %2").arg(name, m_plate->currentText()), [&](PressCurve &one) { one = *press; });
    fill();
}

bool CurvesPanel::isWish() const
{
    return m_which->currentIndex() == 1;
}

void CurvesPanel::change(const QString &text, const std::function<void(PressCurve &)> &edit)
{
    Job job = m_session.job();
    const int chosen = m_plate->currentIndex() - 1;
    for (std::size_t i = 0; i < job.plates.size(); ++i) {
        if (chosen < 0 || chosen == static_cast<int>(i)) {
            edit(job.plates[i].press);
        }
    }
    m_session.change(job, text);
}

PressCurve CurvesPanel::shown() const
{
    const auto &plates = m_session.job().plates;
    const int chosen = std::max(0, m_plate->currentIndex() - 1);
    return static_cast<std::size_t>(chosen) < plates.size() ? plates[static_cast<std::size_t>(chosen)].press
                                                            : PressCurve();
}

void CurvesPanel::fill()
{
    const auto &plates = m_session.job().plates;
    const QSignalBlocker quiet(m_plate);
    const int chosen = m_plate->currentIndex();
    m_plate->clear();
    m_plate->addItem(tr("all plates"));
    for (const Plate &plate : plates) {
        m_plate->addItem(theme::text_of(plate.ink));
    }
    m_plate->setCurrentIndex(chosen >= 0 && chosen < m_plate->count() ? chosen : 0);
    const PressCurve press = shown();
    m_plot->show(press);
    // What was typed and not used yet stays, until another curve is shown.
    const QString points = points_text(isWish() ? press.wish : press.printed);
    const QString whose = m_plate->currentText() + (isWish() ? tr(", wanted") : QString());
    if (m_filled != points || m_filledPlate != whose) {
        m_points->setPlainText(points);
        m_filled = points;
        m_filledPlate = whose;
    }
    m_points->setPlaceholderText(isWish() ? QStringLiteral("50 50\n80 85")
                                          : QStringLiteral("25 38.5\n50 68\n75 88"));
    m_file->setEnabled(!isWish());
    m_least->setValue(press.least * 100);
    m_most->setValue(press.most * 100);
    m_hold->setChecked(press.hold);
    m_hold->setEnabled(press.least > 0 || press.most < 1);
    m_clear->setEnabled(!press.is_identity());
    const bool differ = m_plate->currentIndex() == 0 &&
                        std::any_of(plates.begin(), plates.end(),
                                    [&](const Plate &plate) { return !(plate.press == press); });
    QString words = m_said;
    if (differ) {
        words = tr("Plates have different curves; the first one's is shown. What is entered holds for all.");
    } else if (words.isEmpty() && !(press.printed.is_identity() && press.wish.is_identity())) {
        words = tr("50 % in the file is %1 % on film, so that it prints as %2 %.")
                    .arg(film_tone(press, 0.5) * 100, 0, 'f', 1)
                    .arg(printed_tone(press, 0.5) * 100, 0, 'f', 1);
    }
    m_words->setText(words);
}

} // namespace bichrom
