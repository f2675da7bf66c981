#include "app/bench/stage_strip.h"

#include "app/widgets/theme.h"

#include <QHBoxLayout>
#include <QPainter>
#include <QPainterPath>

namespace bichrom {

namespace {

void draw_sign(QPainter &painter, QPointF centre, StageState state)
{
    painter.setRenderHint(QPainter::Antialiasing);
    const QRectF ring(centre.x() - 5.5, centre.y() - 5.5, 11, 11);
    switch (state) {
    case StageState::NotLookedAt:
        painter.setPen(QPen(theme::quiet, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(ring);
        break;
    case StageState::InWork:
        painter.setPen(QPen(theme::text, 1.4));
        painter.setBrush(Qt::NoBrush);
        painter.drawEllipse(ring);
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::text);
        painter.drawPie(ring, -90 * 16, 180 * 16);
        break;
    case StageState::FindingsOpen: {
        QPainterPath path;
        path.moveTo(centre.x(), centre.y() - 7);
        path.lineTo(centre.x() + 8, centre.y() + 6);
        path.lineTo(centre.x() - 8, centre.y() + 6);
        path.closeSubpath();
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::amber);
        painter.drawPath(path);
        break;
    }
    case StageState::Finished:
        painter.setPen(Qt::NoPen);
        painter.setBrush(theme::text);
        painter.drawEllipse(ring.adjusted(-0.7, -0.7, 0.7, 0.7));
        painter.setPen(QPen(theme::field, 1.6, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.drawPolyline(
            QPolygonF({centre + QPointF(-2.8, 0.2), centre + QPointF(-0.8, 2.4), centre + QPointF(3, -2.4)}));
        break;
    }
}

QString words_for(StageState state)
{
    switch (state) {
    case StageState::NotLookedAt:
        return StageStrip::tr("not looked at");
    case StageState::InWork:
        return StageStrip::tr("in work");
    case StageState::FindingsOpen:
        return StageStrip::tr("findings open");
    case StageState::Finished:
        break;
    }
    return StageStrip::tr("done");
}

} // namespace

StageButton::StageButton(const QString &name, QWidget *parent) : QAbstractButton(parent)
{
    setText(name);
    setCheckable(true);
    setAutoExclusive(true);
    setFocusPolicy(Qt::TabFocus);
    setState(StageState::NotLookedAt);
}

void StageButton::setState(StageState state)
{
    m_state = state;
    setAccessibleName(QStringLiteral("%1, %2").arg(text(), words_for(state)));
    setToolTip(words_for(state));
    update();
}

QSize StageButton::sizeHint() const
{
    return {112, 52};
}

void StageButton::paintEvent(QPaintEvent *)
{
    QPainter painter(this);
    if (isChecked()) {
        painter.fillRect(rect(), theme::panel);
        painter.fillRect(0, 0, width(), 3, theme::amber);
    } else if (underMouse()) {
        painter.fillRect(rect(), theme::strip.lighter(104));
    }
    draw_sign(painter, {20, height() / 2.0}, m_state);
    painter.setPen(theme::text);
    painter.setFont(theme::font(13, isChecked() ? QFont::DemiBold : QFont::Medium));
    painter.drawText(rect().adjusted(34, 0, -4, 0), Qt::AlignVCenter | Qt::AlignLeft, text());
    if (hasFocus()) {
        painter.setPen(QPen(theme::text, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(4, 8, -5, -9));
    }
}

QString StageStrip::nameOf(Stage stage)
{
    switch (stage) {
    case Stage::Receive:
        return tr("Receive");
    case Stage::Ink:
        return tr("Ink");
    case Stage::Build:
        return tr("Build");
    case Stage::Fit:
        return tr("Fit");
    case Stage::Screen:
        return tr("Screen");
    case Stage::Release:
        break;
    }
    return tr("Release");
}

StageStrip::StageStrip(QWidget *parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("stageStrip"));
    setAccessibleName(tr("Stages"));
    auto *row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    for (int i = 0; i < stage_count; ++i) {
        const auto stage = static_cast<Stage>(i);
        auto *button = new StageButton(nameOf(stage), this);
        button->setObjectName(QStringLiteral("stage%1").arg(i));
        connect(button, &QAbstractButton::clicked, this, [this, stage] { Q_EMIT chosen(stage); });
        row->addWidget(button);
        m_buttons[static_cast<std::size_t>(i)] = button;
    }
    m_buttons[0]->setChecked(true);
}

void StageStrip::setCurrent(Stage stage)
{
    m_current = stage;
    m_buttons[static_cast<std::size_t>(stage)]->setChecked(true);
}

void StageStrip::setState(Stage stage, StageState state)
{
    m_buttons[static_cast<std::size_t>(stage)]->setState(state);
}

} // namespace bichrom
