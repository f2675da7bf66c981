#include "app/widgets/controls.h"

#include "app/widgets/theme.h"
#include "core/base/units.h"

#include <QFrame>
#include <QGridLayout>
#include <QPushButton>
#include <QScrollArea>
#include <QStyle>

namespace bichrom {

QLabel *make_label(const QString &text, int pixels, QFont::Weight weight, bool quiet, QWidget *parent)
{
    auto *label = new QLabel(text, parent);
    // The application's style sheet sets a size; a label's own size needs its own sheet.
    label->setStyleSheet(QStringLiteral("font-size: %1px; font-weight: %2; color: %3;")
                             .arg(pixels)
                             .arg(static_cast<int>(weight))
                             .arg((quiet ? theme::quiet : theme::text).name()));
    return label;
}

QLabel *make_heading(const QString &text, QWidget *parent)
{
    return make_label(text, 13, QFont::DemiBold, false, parent);
}

QPushButton *make_small_button(const char *name, const QString &text, const QString &tip, QWidget *parent)
{
    auto *button = new QPushButton(text, parent);
    button->setObjectName(QString::fromLatin1(name));
    button->setToolTip(tip);
    button->setStyleSheet(QStringLiteral("padding: 3px 3px; font-size: 11px;"));
    return button;
}

QWidget *make_rule(QWidget *parent)
{
    auto *rule = new QFrame(parent);
    rule->setFixedHeight(1);
    rule->setStyleSheet(QStringLiteral("background: %1;").arg(theme::line.name()));
    return rule;
}

QString notice_style(bool needs_artist)
{
    return needs_artist
               ? QStringLiteral(
                     "background: %1; border: 1px solid %2; color: %3; padding: 8px; font-size: 12px;")
                     .arg(theme::amberField.name(), theme::amber.name(), theme::amberText.name())
               : QStringLiteral("font-size: 12px; color: %1;").arg(theme::text.name());
}

QVBoxLayout *make_scrolling_column(QWidget *worktop)
{
    auto *outer = new QVBoxLayout(worktop);
    outer->setContentsMargins(0, 0, 0, 0);
    auto *scroll = new QScrollArea(worktop);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    outer->addWidget(scroll);
    auto *content = new QWidget(scroll);
    auto *column = new QVBoxLayout(content);
    column->setContentsMargins(16, 12, 16, 12);
    scroll->setWidget(content);
    return column;
}

FactList::FactList(QWidget *parent) : QWidget(parent), m_grid(new QGridLayout(this))
{
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(8);
    m_grid->setVerticalSpacing(4);
    m_grid->setColumnStretch(1, 1);
}

void FactList::clear()
{
    while (QLayoutItem *item = m_grid->takeAt(0)) {
        delete item->widget();
        delete item;
    }
}

void FactList::add(const QString &what, const QString &value, const QString &tool_tip)
{
    const int row = m_grid->rowCount();
    QLabel *left = make_label(what, 12, QFont::Normal, true, this);
    QLabel *right = make_label(value, 12, QFont::Normal, false, this);
    left->setAlignment(Qt::AlignTop | Qt::AlignLeft);
    right->setAlignment(Qt::AlignTop | Qt::AlignRight);
    right->setWordWrap(true);
    right->setTextInteractionFlags(Qt::TextSelectableByMouse);
    left->setToolTip(tool_tip);
    right->setToolTip(tool_tip);
    m_grid->addWidget(left, row, 0);
    m_grid->addWidget(right, row, 1);
}

NumberField::NumberField(QString unit, int decimals, Read read, QWidget *parent)
    : QLineEdit(parent), m_unit(std::move(unit)), m_decimals(decimals), m_read(std::move(read))
{
    setAlignment(Qt::AlignRight);
    connect(this, &QLineEdit::editingFinished, this, &NumberField::finish);
    connect(this, &QLineEdit::textEdited, this, [this](const QString &words) {
        const Reading reading = m_read(words);
        mark(reading.good ? QString() : reading.complaint);
    });
}

QString NumberField::shown(double number) const
{
    const QString digits = theme::text_of(format_number(number, m_decimals));
    return m_unit.isEmpty() || m_unit == QStringLiteral("°") ? digits + m_unit
                                                             : digits + QLatin1Char(' ') + m_unit;
}

void NumberField::setValue(double number)
{
    m_value = number;
    setText(shown(number));
    mark({});
}

void NumberField::mark(const QString &complaint)
{
    if (property("wrong").toBool() == complaint.isEmpty()) {
        if (!complaint.isEmpty()) {
            m_tip = toolTip();
        }
        setToolTip(complaint.isEmpty() ? m_tip : complaint);
        setProperty("wrong", !complaint.isEmpty());
        style()->unpolish(this);
        style()->polish(this);
    } else if (!complaint.isEmpty()) {
        setToolTip(complaint);
    }
}

void NumberField::finish()
{
    if (text() == shown(m_value)) {
        return; // left as it was: what is shown may be rounded
    }
    const Reading reading = m_read(text());
    if (!reading.good) {
        mark(reading.complaint);
        return;
    }
    const bool other = std::abs(reading.value - m_value) > 1e-9;
    setValue(reading.value);
    if (other) {
        Q_EMIT valueEntered(reading.value);
    }
}

void NumberField::focusOutEvent(QFocusEvent *event)
{
    QLineEdit::focusOutEvent(event);
    if (!m_read(text()).good) {
        setValue(m_value);
    }
}

NumberField::Read NumberField::length(double low, double high)
{
    return [low, high](const QString &words) -> Reading {
        const auto parsed = parse_length(words.trimmed().toStdString());
        if (parsed && parsed->value >= low && parsed->value <= high) {
            return {true, parsed->value, {}};
        }
        return {false, 0,
                QObject::tr("Enter a length from %1 to %2 mm, for example 12.5 mm, 2 in or 36 pt.")
                    .arg(theme::text_of(format_number(low, 2)), theme::text_of(format_number(high, 2)))};
    };
}

NumberField::Read NumberField::plain(const QString &unit, double low, double high)
{
    return [unit, low, high](const QString &words) -> Reading {
        QString number = words.trimmed();
        if (number.endsWith(unit, Qt::CaseInsensitive)) {
            number.chop(unit.size());
        }
        const auto parsed = parse_number(number.toStdString());
        if (parsed && *parsed >= low && *parsed <= high) {
            return {true, *parsed, {}};
        }
        return {
            false, 0,
            QObject::tr("Enter a number from %1 to %2 %3.")
                .arg(theme::text_of(format_number(low, 2)), theme::text_of(format_number(high, 2)), unit)};
    };
}

NumberField *make_number_field(const char *object, const QString &name, const QString &unit, int decimals,
                               const NumberField::Read &read, int width, const QString &tip, QWidget *parent)
{
    auto *made = new NumberField(unit, decimals, read, parent);
    made->setObjectName(QLatin1String(object));
    made->setAccessibleName(name);
    made->setToolTip(tip);
    made->setFixedWidth(width);
    return made;
}

} // namespace bichrom
