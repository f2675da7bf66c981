#include "app/worktops/build/step_edit.h"

#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/theme.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QListWidget>
#include <QSignalBlocker>

#include <algorithm>

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
                      tr("drawn areas")});
    add(tr("source"), m_from, "stepFrom");
    m_inks = new QListWidget(this);
    m_inks->setStyleSheet(theme::listStyle());
    m_inks->setFont(theme::font(11));
    m_inks->setFixedHeight(70);
    add(tr("plates"), m_inks, "stepInks");
    m_box = new QComboBox(this);
    for (const PageBox box : all_page_boxes) {
        m_box->addItem(QString::fromLatin1(to_string(box)));
    }
    add(tr("box"), m_box, "stepBox");
    const auto number = [&](const QString &unit, int decimals, double low, double high) {
        return new NumberField(unit, decimals, NumberField::plain(unit, low, high), this);
    };
    m_amount = number(QStringLiteral("%"), 1, 0, 100);
    add(tr("amount"), m_amount, "stepAmount");
    m_distance = new NumberField(tr("mm"), 3, NumberField::length(0, 10), this);
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
    for (QComboBox *chooser : {m_from, m_box}) {
        connect(chooser, &QComboBox::activated, this, &StepEdit::take);
    }
    for (NumberField *field : {m_amount, m_distance, m_low, m_high}) {
        connect(field, &NumberField::valueEntered, this, &StepEdit::take);
    }
    connect(m_inks, &QListWidget::itemChanged, this, &StepEdit::take);
    connect(m_tonal, &QCheckBox::clicked, this, &StepEdit::take);
    connect(m_curve, &CurveEdit::curveChanged, this, &StepEdit::take);
    show(nullptr, {});
}

void StepEdit::show(const RecipeStep *step, const std::vector<Plate> &plates)
{
    m_filling = true;
    if (step != nullptr) {
        m_step = *step;
    }
    const RecipeDo does = m_step.does;
    const RecipeFrom from = m_step.source.from;
    const bool source = step != nullptr && has_source(does);
    const bool by_plates =
        source && (from == RecipeFrom::Plate || from == RecipeFrom::Largest || from == RecipeFrom::Sum);
    const auto needs = [&](const QWidget *field) {
        if (step == nullptr) {
            return false;
        }
        if (field == m_from) {
            return source;
        }
        if (field == m_inks) {
            return by_plates;
        }
        if (field == m_box) {
            return (source && from == RecipeFrom::Box) || does == RecipeDo::KeepAway;
        }
        if (field == m_amount) {
            return does == RecipeDo::Add || does == RecipeDo::TakeAway || does == RecipeDo::Tint ||
                   does == RecipeDo::Threshold;
        }
        if (field == m_distance) {
            return has_distance(does);
        }
        if (field == m_low || field == m_high) {
            return does == RecipeDo::Levels;
        }
        if (field == m_tonal) {
            return does == RecipeDo::Choke || does == RecipeDo::Spread;
        }
        return does == RecipeDo::Curve;
    };
    for (const auto &[label, field] : m_rows) {
        label->setVisible(needs(field));
        field->setVisible(needs(field));
    }
    m_from->setCurrentIndex(static_cast<int>(from));
    m_box->setCurrentIndex(static_cast<int>(m_step.source.box));
    m_amount->setValue(m_step.amount * 100);
    m_distance->setValue(m_step.distance);
    m_low->setValue(m_step.low * 100);
    m_high->setValue(m_step.high * 100);
    m_tonal->setChecked(m_step.tonal);
    m_curve->setCurve(m_step.curve);
    const QSignalBlocker quiet(m_inks);
    m_inks->clear();
    for (const Plate &plate : plates) {
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
    step.curve = m_curve->curve();
    if (check_recipe({step})) {
        Q_EMIT changed(step);
    } else {
        m_low->setValue(m_step.low * 100); // levels must rise
        m_high->setValue(m_step.high * 100);
    }
}

} // namespace bichrom
