#include "app/worktops/build/step_edit.h"

#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QRegularExpression>
#include <QSignalBlocker>

#include <algorithm>
#include <cmath>

namespace bichrom {

StepEdit::StepEdit(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("stepEdit"));
    auto *grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(4);
    grid->setColumnStretch(1, 1);
    int row = 0;
    const auto add = [&](const QString &label, QWidget *field, const char *name) {
        field->setObjectName(QLatin1String(name));
        field->setAccessibleName(label);
        QLabel *words = make_label(label, 11, QFont::Normal, true, this);
        grid->addWidget(words, row, 0);
        grid->addWidget(field, row++, 1);
        m_rows.emplace_back(words, field);
    };
    m_from = new QComboBox(this);
    m_from->addItems({tr("the artwork area"), tr("a plate"), tr("the largest of plates"),
                      tr("the sum of plates"), tr("chosen objects"), tr("a layer"), tr("a page box"),
                      tr("drawn areas"), tr("small text"), tr("a placed file"), tr("gradients and fades")});
    add(tr("source"), m_from, "stepFrom");
    m_inks = new QListWidget(this);
    m_inks->setStyleSheet(theme::listStyle());
    m_inks->setFont(theme::font(11));
    add(tr("plates"), m_inks, "stepInks");
    m_box = new QComboBox(this);
    for (const PageBox box : all_page_boxes) {
        m_box->addItem(QString::fromLatin1(to_string(box)));
    }
    add(tr("box"), m_box, "stepBox");
    m_file = new QComboBox(this);
    m_file->setToolTip(tr("Placed in Ink, Files; it may be set there not to print by itself"));
    add(tr("file"), m_file, "stepFile");
    m_windows = new QCheckBox(tr("with windows to the stock"), this);
    m_windows->setToolTip(tr("Also what routes leave to the bare stock"));
    add({}, m_windows, "stepWindows");
    m_anywhere = new QCheckBox(tr("solid, however pale the art"), this);
    m_anywhere->setToolTip(tr("Wherever anything paints, fades to their very end"));
    add({}, m_anywhere, "stepAnywhere");
    m_areas = new QPlainTextEdit(this);
    m_areas->setFont(theme::font(11));
    m_areas->setFixedHeight(54);
    m_areas->setTabChangesFocus(true);
    m_areas->setToolTip(tr("A line for each area: from the left, from the top, width, height in mm. "
                           "A draws one on the light table."));
    add(tr("areas, mm"), m_areas, "stepAreas");
    const auto number = [&](const QString &unit, int decimals, double low, double high) {
        return new NumberField(unit, decimals, NumberField::plain(unit, low, high), this);
    };
    m_amount = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("amount"), m_amount, "stepAmount");
    m_size = number(QStringLiteral("pt"), 1, 0, 1000);
    add(tr("under"), m_size, "stepSize");
    m_fadeStart = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("tone from"), m_fadeStart, "stepFadeStart");
    m_fadeEnd = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("tone to"), m_fadeEnd, "stepFadeEnd");
    m_fadeAngle = number(QStringLiteral("°"), 1, -360, 360);
    m_fadeAngle->setToolTip(tr("0° runs to the right, 90° down"));
    add(tr("towards"), m_fadeAngle, "stepFadeAngle");
    m_distance = new NumberField(tr("mm"), 3, NumberField::length(-10, 10), this);
    add(tr("distance"), m_distance, "stepDistance");
    m_low = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("bare below"), m_low, "stepLow");
    m_high = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("solid from"), m_high, "stepHigh");
    m_tonal = new QCheckBox(tr("keep tones, as of photos"), this);
    add({}, m_tonal, "stepTonal");
    m_curve = new CurveEdit(this);
    m_curve->setMinimumHeight(90);
    add(tr("curve"), m_curve, "stepCurve");
    grid->setRowStretch(row, 1); // what is left over stays below
    for (QComboBox *chooser : {m_from, m_box, m_file}) {
        connect(chooser, &QComboBox::activated, this, &StepEdit::take);
    }
    for (NumberField *field :
         {m_amount, m_distance, m_low, m_high, m_size, m_fadeStart, m_fadeEnd, m_fadeAngle}) {
        connect(field, &NumberField::valueEntered, this, &StepEdit::take);
    }
    connect(m_inks, &QListWidget::itemChanged, this, &StepEdit::take);
    connect(m_tonal, &QCheckBox::clicked, this, &StepEdit::take);
    connect(m_windows, &QCheckBox::clicked, this, &StepEdit::take);
    connect(m_anywhere, &QCheckBox::clicked, this, &StepEdit::take);
    connect(m_areas, &QPlainTextEdit::textChanged, this, &StepEdit::takeAreas);
    connect(m_curve, &CurveEdit::curveChanged, this, &StepEdit::take);
    show(nullptr, {});
}

bool StepEdit::needs(const QWidget *field) const
{
    const RecipeDo does = m_step.does;
    const RecipeFrom from = m_step.source.from;
    const bool source = has_source(does);
    const auto one_of = [&](std::initializer_list<RecipeFrom> kinds) {
        return source && std::find(kinds.begin(), kinds.end(), from) != kinds.end();
    };
    const bool fades = one_of({RecipeFrom::Box, RecipeFrom::Drawn}) && does != RecipeDo::KeepAway;
    if (field == m_from) {
        return source;
    }
    if (field == m_inks) {
        return one_of(
            {RecipeFrom::Plate, RecipeFrom::Largest, RecipeFrom::Sum, RecipeFrom::Area, RecipeFrom::Tonal});
    }
    if (field == m_box) {
        return one_of({RecipeFrom::Box});
    }
    if (field == m_file) {
        return one_of({RecipeFrom::File});
    }
    if (field == m_windows || field == m_anywhere) {
        return one_of({RecipeFrom::Area});
    }
    if (field == m_areas) {
        return one_of({RecipeFrom::Drawn});
    }
    if (field == m_size) {
        return one_of({RecipeFrom::SmallText});
    }
    if (field == m_fadeStart || field == m_fadeEnd) {
        return fades;
    }
    if (field == m_fadeAngle) {
        return fades && m_step.source.fade.start != m_step.source.fade.end;
    }
    if (field == m_amount) {
        return does == RecipeDo::Add || does == RecipeDo::TakeAway || does == RecipeDo::Tint ||
               does == RecipeDo::Threshold || does == RecipeDo::Sharpen;
    }
    if (field == m_distance) {
        return has_distance(does) || source;
    }
    if (field == m_low || field == m_high) {
        return does == RecipeDo::Levels;
    }
    if (field == m_tonal) {
        return does == RecipeDo::Choke || does == RecipeDo::Spread ||
               (source && does != RecipeDo::KeepAway && m_step.distance != 0);
    }
    return does == RecipeDo::Curve;
}

void StepEdit::show(const RecipeStep *step, const Job &job)
{
    m_filling = true;
    if (step != nullptr) {
        m_step = *step;
    }
    for (const auto &[label, field] : m_rows) {
        const bool shown = step != nullptr && needs(field);
        label->setVisible(shown);
        field->setVisible(shown);
        if (field == m_distance) {
            const bool own = has_distance(m_step.does);
            label->setText(own ? tr("distance") : tr("narrower by"));
            field->setToolTip(own ? QString()
                                  : tr("The source is choked by this before; less than 0 spreads it"));
            field->setAccessibleName(label->text());
        }
        if (field == m_inks) {
            label->setText(m_step.source.from == RecipeFrom::Area    ? tr("only of")
                           : m_step.source.from == RecipeFrom::Tonal ? tr("tones of")
                                                                     : tr("plates"));
        }
    }
    const RecipeFrom from = m_step.source.from;
    m_from->setCurrentIndex(static_cast<int>(from));
    // Of an area there is more to set below; all of it is to be seen at 1280 × 800.
    m_inks->setFixedHeight(from == RecipeFrom::Area ? 44 : 70);
    m_box->setCurrentIndex(static_cast<int>(m_step.source.box));
    m_amount->setValue(m_step.amount * 100);
    m_distance->setValue(m_step.distance);
    m_low->setValue(m_step.low * 100);
    m_high->setValue(m_step.high * 100);
    m_tonal->setChecked(m_step.tonal);
    m_curve->setCurve(m_step.curve);
    m_windows->setChecked(m_step.source.windows);
    m_anywhere->setChecked(m_step.source.anywhere);
    m_size->setValue(m_step.source.size);
    m_fadeStart->setValue(m_step.source.fade.start * 100);
    m_fadeEnd->setValue(m_step.source.fade.end * 100);
    m_fadeAngle->setValue(m_step.source.fade.degrees);
    m_file->clear();
    for (const PlacedArtwork &placed : job.placements.artworks) {
        m_file->addItem(theme::text_of(placed.name), placed.id);
    }
    if (m_file->count() == 0) {
        m_file->addItem(tr("none is placed yet"), m_step.source.artwork);
    }
    m_file->setCurrentIndex(m_file->findData(m_step.source.artwork));
    if (!m_areas->hasFocus()) { // what is being typed stays as it is
        QStringList lines;
        for (const Rect &area : m_step.source.areas) {
            QStringList numbers;
            for (const double value : {area.x, area.y, area.width, area.height}) {
                numbers << theme::text_of(format_number(value, 3));
            }
            lines << numbers.join(QStringLiteral("  "));
        }
        m_areas->setPlainText(lines.join(QLatin1Char('\n')));
    }
    const QSignalBlocker quiet(m_inks);
    m_inks->clear();
    for (const Plate &plate : job.plates) {
        auto *item = new QListWidgetItem(theme::text_of(plate.ink), m_inks);
        const auto &inks = m_step.source.inks;
        item->setCheckState(std::find(inks.begin(), inks.end(), plate.ink) != inks.end() ? Qt::Checked
                                                                                         : Qt::Unchecked);
    }
    m_filling = false;
}

void StepEdit::take()
{
    if (m_filling) {
        return;
    }
    RecipeStep step = m_step;
    step.source.from = all_recipe_sources[static_cast<std::size_t>(m_from->currentIndex())];
    step.source.box = all_page_boxes[static_cast<std::size_t>(m_box->currentIndex())];
    std::vector<std::string> inks;
    for (int row = 0; row < m_inks->count(); ++row) {
        if (m_inks->item(row)->checkState() == Qt::Checked) {
            inks.push_back(m_inks->item(row)->text().toStdString());
        }
    }
    if (step.source.from == RecipeFrom::Plate) { // one: the newly ticked, else the first there is
        std::erase_if(inks, [&](const std::string &ink) {
            return inks.size() > 1 && !m_step.source.inks.empty() && ink == m_step.source.inks.front();
        });
        if (inks.empty() && m_inks->count() > 0) {
            inks.push_back(m_inks->item(0)->text().toStdString());
        }
        inks.resize(std::min<std::size_t>(inks.size(), 1));
    }
    step.source.inks = std::move(inks);
    step.amount = m_amount->value() / 100;
    step.distance = m_distance->value();
    step.low = m_low->value() / 100;
    step.high = m_high->value() / 100;
    step.tonal = m_tonal->isChecked();
    step.source.windows = m_windows->isChecked();
    step.source.anywhere = m_anywhere->isChecked();
    step.source.size = m_size->value();
    step.source.fade = {m_fadeStart->value() / 100, m_fadeEnd->value() / 100, m_fadeAngle->value()};
    if (step.source.from == RecipeFrom::File) {
        step.source.artwork = m_file->currentData().toInt();
    }
    step.curve = m_curve->curve();
    if (check_recipe({step})) {
        Q_EMIT changed(step);
    } else {
        m_low->setValue(m_step.low * 100); // levels must rise
        m_high->setValue(m_step.high * 100);
        m_distance->setValue(m_step.distance); // and only sources can be spread
    }
}

/// Takes the areas typed once every line is whole.
void StepEdit::takeAreas()
{
    if (m_filling) {
        return;
    }
    RecipeStep step = m_step;
    step.source.areas.clear();
    static const QRegularExpression gaps(QStringLiteral("[\\s;]+"));
    for (const QString &line : m_areas->toPlainText().split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
        const QStringList words = line.split(gaps, Qt::SkipEmptyParts);
        std::vector<double> numbers;
        for (const QString &word : words) {
            bool good = false;
            const double value = word.toDouble(&good);
            if (good && std::isfinite(value)) {
                numbers.push_back(value);
            }
        }
        if (numbers.size() != 4 || words.size() != 4 || numbers[2] < 0 || numbers[3] < 0) {
            return;
        }
        step.source.areas.push_back({numbers[0], numbers[1], numbers[2], numbers[3]});
    }
    if (step.source.areas != m_step.source.areas) {
        Q_EMIT changed(step);
    }
}

} // namespace bichrom
