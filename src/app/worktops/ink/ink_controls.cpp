#include "app/worktops/ink/ink_controls.h"

#include "app/widgets/controls.h"
#include "app/widgets/curve_edit.h"
#include "app/widgets/hue_bar.h"
#include "app/widgets/theme.h"

#include <QComboBox>
#include <QMenu>
#include <QToolButton>

#include <algorithm>
#include <cmath>

namespace bichrom {

namespace {

constexpr double usual_dot = 0.2; // mm

QString short_hues(const HueHold &hold)
{
    if (!hold.holds()) {
        return QStringLiteral("all");
    }
    const auto edge = [&](double side) {
        const long degrees = std::lround(hold.middle + side * hold.width / 2);
        return QString::number((degrees % 360 + 360) % 360);
    };
    return edge(-1) + QLatin1Char('-') + edge(1);
}

} // namespace

InkControls::InkControls(QWidget *parent) : QWidget(parent)
{
    auto *column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(4);
    m_name = make_label({}, 11, QFont::DemiBold, true, this);
    m_name->setObjectName(QStringLiteral("controlledInk"));
    column->addWidget(m_name);
    auto *row = new QHBoxLayout();
    row->setSpacing(6);
    row->addWidget(make_label(tr("strength"), 11, QFont::Normal, true, this));
    m_strength =
        make_number_field("inkStrength", tr("Strength of the ink"), QStringLiteral("%"), 0,
                          NumberField::plain(QStringLiteral("%"), 0, InkControl::most_strength * 100), 64,
                          tr("What is solved times this, at most solid; the ink limit still holds"), this);
    row->addWidget(m_strength);
    row->addStretch();
    m_never = new QToolButton(this);
    m_never->setObjectName(QStringLiteral("neverWith"));
    m_never->setPopupMode(QToolButton::InstantPopup);
    m_never->setAccessibleName(tr("Inks that it never shares a place with"));
    m_never->setToolTip(tr("Where both would print, the picture is solved without one of them"));
    m_never->setMenu(new QMenu(m_never));
    m_never->setStyleSheet(
        QStringLiteral("QToolButton::menu-indicator { image: none; }")); // its words end in one
    row->addWidget(m_never);
    column->addLayout(row);
    auto *hues = new QHBoxLayout();
    hues->setSpacing(6);
    hues->addWidget(make_label(tr("hues"), 11, QFont::Normal, true, this));
    m_bar = new HueBar(this);
    m_bar->setObjectName(QStringLiteral("hueBar"));
    m_bar->setAccessibleName(tr("Hues that the ink is held to"));
    hues->addWidget(m_bar, 1);
    m_hues = new QLineEdit(this);
    m_hues->setObjectName(QStringLiteral("inkHues"));
    m_hues->setAccessibleName(tr("Hues in degrees, such as 30-90, or all"));
    const QString tip = tr("Degrees of CIELAB: 0 purplish red, 90 yellow, 180 green, 270 blue; or all");
    m_hues->setToolTip(tip);
    m_hues->setFixedWidth(64);
    hues->addWidget(m_hues);
    column->addLayout(hues);
    m_curve = new CurveEdit(this);
    m_curve->setObjectName(QStringLiteral("inkCurve"));
    m_curve->setAccessibleName(tr("Curve from the tone that is solved to the tone that prints"));
    m_curve->setMinimumHeight(84);
    column->addWidget(m_curve, 1);

    connect(m_strength, &NumberField::valueEntered, this, &InkControls::take);
    connect(m_curve, &CurveEdit::curveChanged, this, &InkControls::take);
    connect(m_bar, &HueBar::holdChanged, this, [this](const HueHold &hold) {
        m_hues->setText(short_hues(hold));
        take();
    });
    connect(m_hues, &QLineEdit::editingFinished, this, [this, tip] {
        const auto hold = parse_hues(m_hues->text().trimmed().toStdString());
        m_hues->setToolTip(hold ? tip : theme::text_of(hold.error().message()));
        if (!hold) {
            m_hues->setText(short_hues(m_bar->hold()));
        } else if (!(short_hues(*hold) == short_hues(m_bar->hold()))) {
            m_bar->setHold(*hold);
            take();
        }
    });
}

void InkControls::fillNever(const Route &route)
{
    QMenu *menu = m_never->menu();
    menu->clear();
    const auto &never = m_target.control.never_with;
    for (const RouteTarget &other : route.targets) {
        if (other.ink == m_target.ink) {
            continue;
        }
        QAction *action = menu->addAction(theme::text_of(other.ink));
        action->setCheckable(true);
        action->setChecked(std::find(never.begin(), never.end(), other.ink) != never.end());
        connect(action, &QAction::triggered, this, [this, ink = other.ink](bool checked) {
            auto &inks = m_target.control.never_with;
            std::erase(inks, ink);
            if (checked) {
                inks.push_back(ink);
            }
            take();
        });
    }
    m_never->setEnabled(route.targets.size() > 1);
    m_never->setText(never.empty()       ? tr("never with … ▾")
                     : never.size() == 1 ? tr("never with %1 ▾").arg(theme::text_of(never.front()))
                                         : tr("never with %1 inks ▾").arg(never.size()));
}

void InkControls::show(const Route *route, const RouteTarget *target, const QColor &ink)
{
    m_filling = true;
    setEnabled(target != nullptr);
    m_target = target == nullptr ? RouteTarget() : *target;
    m_name->setText(target == nullptr ? tr("Choose an ink that the picture prints in.")
                                      : theme::text_of(target->ink));
    m_strength->setValue(m_target.control.strength * 100);
    m_bar->setHold(m_target.control.hues);
    m_hues->setText(short_hues(m_target.control.hues));
    m_curve->setCurve(m_target.curve);
    m_curve->setInk(ink);
    fillNever(route == nullptr ? Route() : *route);
    // A dot of one ink is solid.
    const bool dots = route != nullptr && route->dots.wanted();
    m_strength->setEnabled(!dots);
    m_never->setEnabled(m_never->isEnabled() && !dots);
    m_curve->setEnabled(!dots);
    m_filling = false;
}

void InkControls::take()
{
    if (m_filling || m_target.ink.empty()) {
        return;
    }
    m_target.control.strength = m_strength->value() / 100;
    m_target.control.hues = m_bar->hold();
    m_target.curve = m_curve->curve();
    Q_EMIT changed(m_target);
}

DotsChoice::DotsChoice(QWidget *parent) : QWidget(parent)
{
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    m_kind = new QComboBox(this);
    m_kind->setObjectName(QStringLiteral("pictureDots"));
    m_kind->setAccessibleName(tr("Tones or dots"));
    m_kind->addItems({tr("In tones, for a halftone"), tr("Square dots, diffused"), tr("Square dots, even")});
    m_kind->setToolTip(tr("Square dots are one ink each, solid: they need no halftone"));
    row->addWidget(m_kind, 1);
    m_size = make_number_field("dotSize", tr("Side of a dot"), tr("mm"), 3,
                               NumberField::length(IndexDots::least_mm, IndexDots::most_mm), 76,
                               tr("0.17 mm are 150 dots an inch"), this);
    row->addWidget(m_size);
    connect(m_kind, &QComboBox::activated, this, &DotsChoice::take);
    connect(m_size, &NumberField::valueEntered, this, &DotsChoice::take);
    show({});
}

void DotsChoice::show(const IndexDots &dots)
{
    m_kind->setCurrentIndex(!dots.wanted() ? 0 : dots.diffused ? 1 : 2);
    if (dots.wanted()) {
        m_size->setValue(dots.size_mm);
    } else if (m_size->value() <= 0) {
        m_size->setValue(usual_dot);
    }
    m_size->setEnabled(dots.wanted());
}

void DotsChoice::take()
{
    const int kind = m_kind->currentIndex();
    Q_EMIT chosen({kind == 0 ? 0 : m_size->value(), kind != 2});
}

} // namespace bichrom
