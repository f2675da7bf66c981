#include "app/dialogs/rules_dialog.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/preflight/check_table.h"

#include <QCheckBox>
#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QScrollArea>

#include <algorithm>

namespace bichrom {

namespace {

constexpr Severity severities[] = {Severity::Off, Severity::Note, Severity::Warning, Severity::Error};

QString severity_name(Severity severity)
{
    switch (severity) {
    case Severity::Off:
        return RulesDialog::tr("off");
    case Severity::Note:
        return RulesDialog::tr("note");
    case Severity::Warning:
        return RulesDialog::tr("warning");
    case Severity::Error:
        break;
    }
    return RulesDialog::tr("error");
}

QString folds_text(const std::vector<Fold> &folds)
{
    QStringList words;
    for (const Fold &fold : folds) {
        words << (fold.upright ? RulesDialog::tr("upright %1") : RulesDialog::tr("level %1"))
                     .arg(theme::text_of(format_length(fold.at, LengthUnit::Millimetre, 2)));
    }
    return words.join(QStringLiteral(", "));
}

QString zones_text(const std::vector<Rect> &zones)
{
    QStringList words;
    for (const Rect &zone : zones) {
        QStringList numbers;
        for (const double number : {zone.x, zone.y, zone.width, zone.height}) {
            numbers << theme::text_of(format_number(number, 2));
        }
        words << numbers.join(QLatin1Char(' '));
    }
    return words.join(QStringLiteral("; "));
}

} // namespace

RulesDialog::RulesDialog(RulesShelf &shelf, const ShopRules &of_job, Prompts &prompts, QWidget *parent)
    : QDialog(parent), m_shelf(shelf), m_ofJob(of_job), m_prompts(prompts)
{
    setObjectName(QStringLiteral("rulesDialog"));
    setWindowTitle(tr("Shop rules"));
    resize(900, 660);
    auto *outer = new QHBoxLayout(this);
    outer->setContentsMargins(12, 12, 12, 12);
    outer->setSpacing(12);
    auto *left = new QVBoxLayout();
    left->setSpacing(6);
    left->addWidget(make_heading(tr("Shop rules"), this));
    m_list = new QListWidget(this);
    m_list->setObjectName(QStringLiteral("rulesList"));
    m_list->setAccessibleName(tr("Sets of shop rules"));
    m_list->setFixedWidth(210);
    m_list->setWordWrap(true);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_list->setStyleSheet(QStringLiteral("QListWidget::item { padding: 4px; }"));
    left->addWidget(m_list, 1);
    const auto button = [&](const char *name, const QString &text, auto act) {
        auto *made = new QPushButton(text, this);
        made->setObjectName(QString::fromLatin1(name));
        made->setAutoDefault(false);
        left->addWidget(made);
        connect(made, &QPushButton::clicked, this, act);
        return made;
    };
    button("duplicateRules", tr("Duplicate"), [this] { duplicate(); });
    button("importRules", tr("Import …"), [this] { importRules(); });
    button("exportRules", tr("Export …"), [this] { exportRules(); });
    m_remove = button("removeRules", tr("Remove"), [this] { removeRules(); });
    outer->addLayout(left);
    auto *right = new QVBoxLayout();
    m_hint = make_label({}, 12, QFont::Normal, true, this);
    m_hint->setObjectName(QStringLiteral("rulesHint"));
    m_hint->setWordWrap(true);
    right->addWidget(m_hint);
    right->addWidget(buildEditor(), 1);
    auto *foot = new QHBoxLayout();
    foot->addStretch();
    auto *close = new QPushButton(tr("Close"), this);
    close->setObjectName(QStringLiteral("closeRules"));
    close->setAutoDefault(false);
    auto *use = new QPushButton(tr("Use for this job"), this);
    use->setObjectName(QStringLiteral("useRules"));
    use->setProperty("main", true);
    use->setAutoDefault(false);
    foot->addWidget(close);
    foot->addWidget(use);
    right->addLayout(foot);
    outer->addLayout(right, 1);
    connect(close, &QPushButton::clicked, this, &QDialog::reject);
    connect(use, &QPushButton::clicked, this, &QDialog::accept);
    const int known = m_shelf.find(m_ofJob);
    m_hasOfJob = known < 0;
    refreshList(m_hasOfJob ? static_cast<int>(m_shelf.entries().size()) : known);
    connect(m_list, &QListWidget::currentRowChanged, this, &RulesDialog::show);
}

bool RulesDialog::isOwn(int row) const
{
    return row >= 0 && row < static_cast<int>(m_shelf.entries().size()) &&
           !m_shelf.entries()[static_cast<std::size_t>(row)].path.isEmpty();
}

const ShopRules &RulesDialog::chosen() const
{
    const int row = m_list->currentRow();
    return row < 0 || isOfJob(row) ? m_ofJob : m_shelf.entries()[static_cast<std::size_t>(row)].rules;
}

NumberField *RulesDialog::addNumber(const char *name, const QString &unit, double low, double high,
                                    std::function<void(ShopRules &, double)> set)
{
    auto *field = new NumberField(unit, 2, NumberField::plain(unit, low, high), m_fields);
    field->setObjectName(QString::fromLatin1(name));
    field->setFixedWidth(84);
    connect(field, &NumberField::valueEntered, this, [this, set = std::move(set)](double value) {
        edit([&](ShopRules &rules) { set(rules, value); });
    });
    return field;
}

QWidget *RulesDialog::buildEditor()
{
    auto *scroll = new QScrollArea(this);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_fields = new QWidget(scroll);
    auto *column = new QVBoxLayout(m_fields);
    column->setContentsMargins(0, 0, 10, 0);
    column->setSpacing(8);
    auto *press = new QGridLayout();
    press->setHorizontalSpacing(10);
    press->setVerticalSpacing(6);
    const auto label = [&](int row, int at, const QString &text) {
        press->addWidget(make_label(text, 12, QFont::Normal, true, m_fields), row, at);
    };
    m_name = new QLineEdit(m_fields);
    m_name->setObjectName(QStringLiteral("rulesName"));
    label(0, 0, tr("Name"));
    press->addWidget(m_name, 0, 1, 1, 5);
    connect(m_name, &QLineEdit::editingFinished, this, [this] {
        const QString name = m_name->text().trimmed();
        if (!name.isEmpty()) {
            edit([&](ShopRules &rules) { rules.name = name.toStdString(); });
        }
    });
    m_units = addNumber("pressUnits", tr("units"), 1, 64,
                        [](ShopRules &rules, double value) { rules.press.units = static_cast<int>(value); });
    m_width = addNumber("sheetWidth", tr("mm"), 10, 20000,
                        [](ShopRules &rules, double value) { rules.press.sheet_width = Millimetres(value); });
    m_height = addNumber("sheetHeight", tr("mm"), 10, 20000, [](ShopRules &rules, double value) {
        rules.press.sheet_height = Millimetres(value);
    });
    m_resolution = addNumber("pressResolution", tr("dpi"), 72, 9600,
                             [](ShopRules &rules, double value) { rules.press.resolution = Dpi(value); });
    m_ruling = addNumber("pressRuling", tr("lpi"), 5, 500,
                         [](ShopRules &rules, double value) { rules.press.ruling = Lpi(value); });
    label(1, 0, tr("Press"));
    press->addWidget(m_units, 1, 1);
    label(1, 2, tr("Sheet"));
    press->addWidget(m_width, 1, 3);
    label(1, 4, tr("by"));
    press->addWidget(m_height, 1, 5);
    label(2, 0, tr("Resolution"));
    press->addWidget(m_resolution, 2, 1);
    label(2, 2, tr("Ruling"));
    press->addWidget(m_ruling, 2, 3);
    m_spotOnly = new QCheckBox(tr("Spot inks only: process inks are not printed"), m_fields);
    m_spotOnly->setObjectName(QStringLiteral("spotOnly"));
    press->addWidget(m_spotOnly, 3, 1, 1, 5);
    connect(m_spotOnly, &QCheckBox::clicked, this,
            [this](bool on) { edit([on](ShopRules &rules) { rules.spot_only = on; }); });
    label(4, 0, tr("Inks"));
    m_inks = new QPlainTextEdit(m_fields);
    m_inks->setObjectName(QStringLiteral("rulesInks"));
    m_inks->setAccessibleName(tr("Names of the inks the shop stocks"));
    m_inks->setPlaceholderText(tr("One name a line; empty = any ink"));
    m_inks->setTabChangesFocus(true);
    m_inks->setFixedHeight(88);
    press->addWidget(m_inks, 4, 1, 1, 5);
    connect(m_inks, &QPlainTextEdit::textChanged, this, [this] {
        edit([this](ShopRules &rules) {
            rules.inks.clear();
            for (const QString &line : m_inks->toPlainText().split(QLatin1Char('\n'), Qt::SkipEmptyParts)) {
                if (!line.trimmed().isEmpty()) {
                    rules.inks.push_back(line.trimmed().toStdString());
                }
            }
        });
    });
    label(5, 0, tr("Folds"));
    m_folds = new QLineEdit(m_fields);
    m_folds->setObjectName(QStringLiteral("rulesFolds"));
    m_folds->setPlaceholderText(tr("upright 105 mm, level 148.5 mm (from the trim's left or top edge)"));
    press->addWidget(m_folds, 5, 1, 1, 5);
    connect(m_folds, &QLineEdit::editingFinished, this, &RulesDialog::readFolds);
    label(6, 0, tr("Keep clear"));
    m_keepOut = new QLineEdit(m_fields);
    m_keepOut->setObjectName(QStringLiteral("rulesKeepOut"));
    m_keepOut->setPlaceholderText(tr("left top width height in mm from the trim; the next zone …"));
    press->addWidget(m_keepOut, 6, 1, 1, 5);
    connect(m_keepOut, &QLineEdit::editingFinished, this, &RulesDialog::readKeepOut);
    press->setColumnStretch(5, 1);
    column->addLayout(press);
    column->addWidget(make_rule(m_fields));
    column->addWidget(make_heading(tr("Checks"), m_fields));
    auto *grid = new QGridLayout();
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(6);
    grid->setColumnStretch(0, 1);
    buildChecks(grid, m_fields);
    column->addLayout(grid);
    column->addStretch();
    scroll->setWidget(m_fields);
    return scroll;
}

void RulesDialog::buildChecks(QGridLayout *grid, QWidget *parent)
{
    int line = 0;
    for (const CheckInfo &info : all_checks()) {
        CheckRow row{info.name, new QComboBox(parent), {}};
        QLabel *title = make_label(QString::fromUtf8(info.title), 12, QFont::Medium, false, parent);
        title->setToolTip(QString::fromUtf8(info.why));
        title->setWordWrap(true);
        row.severity->setObjectName(QStringLiteral("severity ") + QString::fromLatin1(info.name));
        row.severity->setAccessibleName(tr("Severity of: %1").arg(QString::fromUtf8(info.title)));
        for (const Severity severity : severities) {
            row.severity->addItem(severity_name(severity));
        }
        row.severity->setFixedWidth(100);
        connect(row.severity, &QComboBox::activated, this, [this, name = row.check](int at) {
            edit([&](ShopRules &rules) { rules.checks[name].severity = severities[at]; });
        });
        grid->addWidget(title, line, 0, 1, 2);
        grid->addWidget(row.severity, line, 2);
        ++line;
        for (const LimitInfo &limit : info.limits) {
            const QString unit = QString::fromUtf8(limit.unit);
            auto *field = new NumberField(unit, 3, NumberField::plain(unit, 0, 100000), parent);
            field->setObjectName(QStringLiteral("limit %1 %2")
                                     .arg(QString::fromLatin1(info.name), QString::fromLatin1(limit.name)));
            field->setAccessibleName(QString::fromUtf8(limit.label));
            field->setFixedWidth(100);
            connect(field, &NumberField::valueEntered, this,
                    [this, check = row.check, name = std::string(limit.name)](double value) {
                        edit([&](ShopRules &rules) { rules.checks[check].limits[name] = value; });
                    });
            QLabel *words = make_label(QString::fromUtf8(limit.label), 12, QFont::Normal, true, parent);
            words->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
            grid->addWidget(words, line, 0, 1, 2);
            grid->addWidget(field, line, 2);
            row.limits.emplace_back(limit.name, field);
            ++line;
        }
        m_checks.push_back(std::move(row));
    }
}

void RulesDialog::refreshList(int current)
{
    {
        const QSignalBlocker quiet(m_list);
        m_list->clear();
        for (const RulesShelf::Entry &entry : m_shelf.entries()) {
            const QString name = theme::text_of(entry.rules.name);
            m_list->addItem(entry.path.isEmpty() ? tr("%1 (shipped)").arg(name) : name);
        }
        if (m_hasOfJob) {
            m_list->addItem(tr("%1 (of this job)").arg(theme::text_of(m_ofJob.name)));
        }
        m_list->setCurrentRow(std::clamp(current, 0, m_list->count() - 1));
    }
    show(m_list->currentRow());
}

void RulesDialog::show(int row)
{
    if (row < 0) {
        return;
    }
    m_showing = true;
    const ShopRules &rules = chosen();
    const bool own = isOwn(row);
    m_fields->setEnabled(own);
    m_remove->setEnabled(own);
    m_hint->setText(own            ? tr("Changes are saved as you make them. Jobs keep the rules they "
                                                   "were given until you use these for them.")
                    : isOfJob(row) ? tr("This job holds its own copy. Duplicate it to edit it.")
                                   : tr("Shipped rules stay as they are. Duplicate them to edit your own."));
    m_name->setText(theme::text_of(rules.name));
    m_units->setValue(rules.press.units);
    m_width->setValue(rules.press.sheet_width.value);
    m_height->setValue(rules.press.sheet_height.value);
    m_resolution->setValue(rules.press.resolution.value);
    m_ruling->setValue(rules.press.ruling.value);
    m_spotOnly->setChecked(rules.spot_only);
    QStringList inks;
    for (const std::string &ink : rules.inks) {
        inks << theme::text_of(ink);
    }
    m_inks->setPlainText(inks.join(QLatin1Char('\n')));
    m_folds->setText(folds_text(rules.folds));
    m_keepOut->setText(zones_text(rules.keep_out));
    for (const CheckRow &check : m_checks) {
        check.severity->setCurrentIndex(static_cast<int>(rules.setting(check.check).severity));
        for (const auto &[name, field] : check.limits) {
            field->setValue(rules.limit(check.check, name));
        }
    }
    m_showing = false;
}

void RulesDialog::edit(const std::function<void(ShopRules &)> &change)
{
    const int row = m_list->currentRow();
    if (m_showing || !isOwn(row)) {
        return;
    }
    ShopRules rules = chosen();
    change(rules);
    if (rules == chosen()) {
        return;
    }
    if (const Done done = m_shelf.replace(row, rules); !done) {
        complain(theme::text_of(done.error().message()));
        show(row);
        return;
    }
    m_list->item(row)->setText(theme::text_of(rules.name));
}

void RulesDialog::readFolds()
{
    std::vector<Fold> folds;
    const QString text = m_folds->text();
    for (const QString &part : text.split(QLatin1Char(','), Qt::SkipEmptyParts)) {
        const QString words = part.trimmed();
        const bool upright = words.startsWith(tr("upright"), Qt::CaseInsensitive);
        const bool level = words.startsWith(tr("level"), Qt::CaseInsensitive);
        const auto at = parse_length(words.section(QLatin1Char(' '), 1).toStdString());
        if ((!upright && !level) || !at) {
            m_folds->setText(folds_text(chosen().folds));
            complain(tr("“%1” is no fold. Write upright or level, then a length, as in: upright 105 mm")
                         .arg(words));
            return;
        }
        folds.push_back({upright, *at});
    }
    edit([&](ShopRules &rules) { rules.folds = folds; });
    m_folds->setText(folds_text(chosen().folds));
}

void RulesDialog::readKeepOut()
{
    std::vector<Rect> zones;
    for (const QString &part : m_keepOut->text().split(QLatin1Char(';'), Qt::SkipEmptyParts)) {
        std::vector<double> numbers;
        for (const QString &word : part.split(QLatin1Char(' '), Qt::SkipEmptyParts)) {
            const auto number = parse_number(word.toStdString());
            numbers.push_back(number ? *number : -1);
        }
        if (numbers.size() != 4 || numbers[2] <= 0 || numbers[3] <= 0) {
            m_keepOut->setText(zones_text(chosen().keep_out));
            complain(tr("“%1” is no zone. Write four numbers in mm: left, top, width, height.")
                         .arg(part.trimmed()));
            return;
        }
        zones.push_back({numbers[0], numbers[1], numbers[2], numbers[3]});
    }
    edit([&](ShopRules &rules) { rules.keep_out = zones; });
    m_keepOut->setText(zones_text(chosen().keep_out));
}

void RulesDialog::complain(const QString &text)
{
    m_prompts.showError(tr("Shop rules"), text);
}

void RulesDialog::duplicate()
{
    ShopRules copy = chosen();
    copy.name = tr("%1, own").arg(theme::text_of(copy.name)).toStdString();
    const auto added = m_shelf.add(std::move(copy));
    if (!added) {
        complain(theme::text_of(added.error().message()));
        return;
    }
    refreshList(*added);
}

void RulesDialog::importRules()
{
    const QString path = m_prompts.askOpenFile(FileUse::Rules, {});
    if (path.isEmpty()) {
        return;
    }
    auto rules = read_rules(path.toStdString());
    if (!rules) {
        complain(theme::text_of(rules.error().message()));
        return;
    }
    const auto added = m_shelf.add(std::move(*rules));
    if (!added) {
        complain(theme::text_of(added.error().message()));
        return;
    }
    refreshList(*added);
}

void RulesDialog::exportRules()
{
    const QString path =
        m_prompts.askSaveFile(FileUse::Rules, theme::text_of(chosen().name) + QStringLiteral(".json"));
    if (path.isEmpty()) {
        return;
    }
    if (const Done done = write_rules(path.toStdString(), chosen()); !done) {
        complain(theme::text_of(done.error().message()));
    }
}

void RulesDialog::removeRules()
{
    const int row = m_list->currentRow();
    if (!isOwn(row)) {
        return;
    }
    if (const Done done = m_shelf.remove(row); !done) {
        complain(theme::text_of(done.error().message()));
    }
    refreshList(row);
}

} // namespace bichrom
