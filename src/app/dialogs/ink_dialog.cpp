#include "app/dialogs/ink_dialog.h"

#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/ink_words.h"
#include "app/widgets/theme.h"
#include "core/colour/colour_difference.h"
#include "core/colour/colour_text.h"
#include "core/job/print_model.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QPainter>
#include <QPushButton>

namespace bichrom {

namespace {

/// Its solid and a half tone over white, black and the stock.
QPixmap preview(const Plate &plate, const Stock &stock, const ProcessProfile &condition, qreal ratio)
{
    constexpr int width = 84, height = 64;
    QPixmap picture(QSize(width * 3 + 8, height) * ratio);
    picture.setDevicePixelRatio(ratio);
    picture.fill(Qt::transparent);
    QPainter painter(&picture);
    const Stock grounds[] = {{"white", {100, 0, 0}, false}, {"black", {10, 0, 0}, false}, stock};
    for (int i = 0; i < 3; ++i) {
        Job alone;
        alone.stock = grounds[i];
        alone.plates = {plate};
        const PrintStack print = stack_of(alone, {plate.ink}, condition);
        const double solid = 1, half = 0.5;
        const QRect all(i * (width + 4), 0, width, height);
        painter.fillRect(all, theme::ink_color(grounds[i].colour));
        painter.fillRect(all.adjusted(10, 10, -width / 2, -10), theme::ink_color(print.colour({&solid, 1})));
        painter.fillRect(all.adjusted(width / 2, 10, -10, -10), theme::ink_color(print.colour({&half, 1})));
    }
    return picture;
}

} // namespace

InkDialog::InkDialog(Plate plate, Stock stock, std::shared_ptr<const ProcessProfile> condition,
                     Prompts &prompts, QWidget *parent)
    : QDialog(parent), m_plate(std::move(plate)), m_stock(std::move(stock)),
      m_condition(std::move(condition)), m_prompts(prompts)
{
    setObjectName(QStringLiteral("inkDialog"));
    setWindowTitle(tr("Ink %1").arg(theme::text_of(m_plate.ink)));
    build();
    refresh();
}

void InkDialog::build()
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(16, 14, 16, 14);
    column->setSpacing(8);
    column->addWidget(make_heading(theme::text_of(m_plate.ink), this));
    m_preview = new QLabel(this);
    m_preview->setAccessibleName(tr("Solid and half tone over white, black and the stock"));
    column->addWidget(m_preview);
    column->addWidget(make_label(
        tr("solid and 50 % over white, over black, over %1: estimated").arg(theme::text_of(m_stock.name)), 11,
        QFont::Normal, true, this));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(8);
    grid->setVerticalSpacing(6);
    int row = 0;
    const auto label = [&](const QString &text) {
        grid->addWidget(make_label(text, 12, QFont::Normal, true, this), row, 0);
    };
    const auto number = [&](const char *name, const QString &unit, int decimals, double low, double high,
                            const QString &says) {
        auto *field = new NumberField(unit, decimals, NumberField::plain(unit, low, high), this);
        field->setObjectName(QLatin1String(name));
        field->setAccessibleName(says);
        return field;
    };
    label(tr("Kind"));
    m_kind = new QComboBox(this);
    m_kind->setObjectName(QStringLiteral("inkKind"));
    m_kind->setAccessibleName(tr("Kind of ink"));
    for (const InkUse use : all_ink_uses) {
        m_kind->addItem(ink_use_words(use));
    }
    grid->addWidget(m_kind, row++, 1, 1, 3);
    label(tr("Colour L* a* b*"));
    m_l = number("inkL", {}, 1, 0, 120, tr("Lightness of the solid over white, D50, 2°"));
    m_a = number("inkA", {}, 1, -200, 200, tr("a* of the solid"));
    m_b = number("inkB", {}, 1, -200, 200, tr("b* of the solid"));
    grid->addWidget(m_l, row, 1);
    grid->addWidget(m_a, row, 2);
    grid->addWidget(m_b, row++, 3);
    label(tr("Or typed"));
    m_typed = new QLineEdit(this);
    m_typed->setObjectName(QStringLiteral("inkTyped"));
    m_typed->setAccessibleName(tr("Colour typed as R G B, C M Y K, L* a* b* or hex"));
    m_typed->setPlaceholderText(tr("#1e90ff, rgb 255 0 0, cmyk 0 100 100 0"));
    m_typed->setToolTip(tr("R G B from 0 to 255, C M Y K in percent, lab, or hex; then Return"));
    grid->addWidget(m_typed, row++, 1, 1, 3);
    label(tr("Opacity"));
    m_opacity = number("inkOpacity", QStringLiteral("%"), 0, 0, 100, tr("Opacity"));
    m_opacity->setToolTip(tr("0 % lets everything through, 50 % is half opaque, 100 % covers."));
    grid->addWidget(m_opacity, row++, 1);
    label(tr("Neutral density"));
    m_density = number("inkDensity", {}, 2, -1, 10, tr("Neutral density"));
    m_density->setToolTip(tr("Decides which of two inks spreads under the other. As a rule it follows the "
                             "ink's colour."));
    m_usualDensity = new QPushButton(tr("from its colour"), this);
    m_usualDensity->setObjectName(QStringLiteral("usualDensity"));
    m_usualDensity->setAutoDefault(false);
    grid->addWidget(m_density, row, 1);
    grid->addWidget(m_usualDensity, row++, 2, 1, 2);
    label(tr("On the screen"));
    m_shown = new QPushButton(this);
    m_shown->setObjectName(QStringLiteral("inkShownAs"));
    m_shown->setAutoDefault(false);
    m_shown->setToolTip(tr("A colour that stands for this ink in Plates and in lists; the print is computed "
                           "from the ink's own."));
    m_notShown = new QPushButton(tr("as it is"), this);
    m_notShown->setObjectName(QStringLiteral("inkShownAsItIs"));
    m_notShown->setAutoDefault(false);
    grid->addWidget(m_shown, row, 1);
    grid->addWidget(m_notShown, row++, 2, 1, 2);
    column->addLayout(grid);
    column->addWidget(
        make_label(tr("Tone in print, by the tone of the plate"), 12, QFont::Normal, true, this));
    m_gain = new CurveEdit(this);
    m_gain->setObjectName(QStringLiteral("inkGain"));
    m_gain->setAccessibleName(tr("Tone in print by the tone of the plate"));
    m_gain->setMinimumHeight(130);
    column->addWidget(m_gain, 1);
    m_note = make_label({}, 11, QFont::Normal, true, this);
    m_note->setObjectName(QStringLiteral("inkNote"));
    m_note->setWordWrap(true);
    column->addWidget(m_note);
    auto *foot = new QHBoxLayout();
    foot->addStretch();
    auto *cancel = new QPushButton(tr("Cancel"), this);
    cancel->setAutoDefault(false);
    auto *use = new QPushButton(tr("Use for the plate"), this);
    use->setObjectName(QStringLiteral("useInk"));
    use->setProperty("main", true);
    use->setAutoDefault(false);
    foot->addWidget(cancel);
    foot->addWidget(use);
    column->addLayout(foot);

    connect(m_kind, &QComboBox::activated, this, [this](int index) {
        const InkUse before = m_plate.kind;
        m_plate.kind = all_ink_uses[static_cast<std::size_t>(index)];
        if (m_plate.traits.opacity == usual_traits(before).opacity) { // nobody has said otherwise
            m_plate.traits.opacity = usual_traits(m_plate.kind).opacity;
        }
        refresh();
    });
    for (NumberField *field : {m_l, m_a, m_b}) {
        connect(field, &NumberField::valueEntered, this, &InkDialog::takeColour);
    }
    connect(m_typed, &QLineEdit::returnPressed, this, &InkDialog::takeTyped);
    connect(m_opacity, &NumberField::valueEntered, this, [this](double percent) {
        m_plate.traits.opacity = percent / 100;
        refresh();
    });
    connect(m_density, &NumberField::valueEntered, this, [this](double density) {
        m_plate.traits.density = density;
        refresh();
    });
    connect(m_usualDensity, &QPushButton::clicked, this, [this] {
        m_plate.traits.density.reset();
        refresh();
    });
    connect(m_shown, &QPushButton::clicked, this, &InkDialog::chooseShown);
    connect(m_notShown, &QPushButton::clicked, this, [this] {
        m_plate.traits.shown_as.reset();
        refresh();
    });
    connect(m_gain, &CurveEdit::curveChanged, this, [this] {
        m_plate.traits.gain = m_gain->curve();
        refresh();
    });
    connect(cancel, &QPushButton::clicked, this, &QDialog::reject);
    connect(use, &QPushButton::clicked, this, &QDialog::accept);
}

void InkDialog::takeTyped()
{
    const auto colour = parse_colour(m_typed->text().toStdString(), *ProcessProfile::fogra39());
    if (!colour) {
        m_note->setText(theme::text_of(colour.error().message()));
        return;
    }
    m_plate.solid = *colour;
    m_plate.traits.reflectance.reset(); // was measured of another colour
    m_plate.uncoloured = false;
    refresh();
}

void InkDialog::takeColour()
{
    m_plate.uncoloured = false;
    m_plate.solid = {m_l->value(), m_a->value(), m_b->value()};
    m_plate.traits.reflectance.reset(); // was measured of another colour
    refresh();
}

void InkDialog::chooseShown()
{
    const auto chosen = m_prompts.askColour(tr("Screen colour of %1").arg(theme::text_of(m_plate.ink)),
                                            theme::ink_color(m_plate.shown()));
    if (chosen && chosen->isValid()) {
        m_plate.traits.shown_as = ProcessProfile::fogra39()->rgb_to_lab(
            {static_cast<std::uint8_t>(chosen->red()), static_cast<std::uint8_t>(chosen->green()),
             static_cast<std::uint8_t>(chosen->blue())});
        refresh();
    }
}

void InkDialog::refresh()
{
    m_kind->setCurrentIndex(static_cast<int>(m_plate.kind));
    m_l->setValue(m_plate.solid.l);
    m_a->setValue(m_plate.solid.a);
    m_b->setValue(m_plate.solid.b);
    m_opacity->setValue(m_plate.traits.opacity * 100);
    m_density->setValue(neutral_density(m_plate.solid, m_plate.traits));
    m_usualDensity->setEnabled(m_plate.traits.density.has_value());
    m_notShown->setEnabled(m_plate.traits.shown_as.has_value());
    m_shown->setText(m_plate.traits.shown_as ? tr("stand-in …") : tr("own colour …"));
    m_gain->setCurve(m_plate.traits.gain);
    m_gain->setInk(theme::ink_color(m_plate.shown()));
    m_preview->setPixmap(preview(m_plate, m_stock, *m_condition, devicePixelRatioF()));
    const bool real = reconstruct(m_plate.solid).exact;
    m_note->setText(!real ? tr("No ink that only reflects can have this colour: estimates use the nearest.")
                    : m_plate.traits.reflectance ? tr("Its spectrum was measured.")
                                                 : QString());
}

} // namespace bichrom
