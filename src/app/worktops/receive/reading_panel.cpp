#include "app/worktops/receive/reading_panel.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/base/atomic_file.h"
#include "core/colour/source_profile.h"
#include "core/job/change_slip.h"
#include "core/report/change_slip_report.h"

#include <QCheckBox>
#include <QComboBox>
#include <QDate>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QPushButton>
#include <QSignalBlocker>

namespace bichrom {

namespace {

QString intent_name(RenderingIntent intent)
{
    switch (intent) {
    case RenderingIntent::Perceptual:
        return ReadingPanel::tr("perceptual");
    case RenderingIntent::RelativeColorimetric:
        return ReadingPanel::tr("relative colorimetric");
    case RenderingIntent::Saturation:
        return ReadingPanel::tr("saturation");
    case RenderingIntent::AbsoluteColorimetric:
        break;
    }
    return ReadingPanel::tr("absolute colorimetric");
}

QString profile_name(const ProfileBytes &profile, bool condition)
{
    if (condition) {
        const auto opened = ProcessProfile::open(*profile);
        return opened ? theme::text_of((*opened)->name()) : ReadingPanel::tr("a profile");
    }
    const auto opened = SourceProfile::open(*profile, 3);
    return opened ? theme::text_of((*opened)->name()) : ReadingPanel::tr("a profile");
}

QString state_name(ChangeState state)
{
    switch (state) {
    case ChangeState::AskCustomer:
        return ReadingPanel::tr("ask customer");
    case ChangeState::Agreed:
        return ReadingPanel::tr("agreed");
    case ChangeState::NotNeeded:
        break;
    }
    return ReadingPanel::tr("not needed");
}

} // namespace

ReadingPanel::ReadingPanel(Session &session, Prompts &prompts, QWidget *parent)
    : QWidget(parent), m_session(session), m_prompts(prompts)
{
    setObjectName(QStringLiteral("readingPanel"));
    QVBoxLayout *column = make_scrolling_column(this);
    column->setContentsMargins(16, 8, 16, 10);
    column->setSpacing(4);
    QWidget *content = column->parentWidget();
    column->addWidget(make_heading(tr("Colours are read as"), content));
    m_rgb = addChooser(column, tr("RGB without a profile"), "untaggedRgb");
    m_cmyk = addChooser(column, tr("CMYK with a profile"), "taggedCmyk");
    m_cmyk->addItems({tr("its numbers are kept"), tr("converted to the condition")});
    m_condition = addChooser(column, tr("Printing condition of the process inks"), "condition");
    m_intentOfFile = make_label({}, 11, QFont::Normal, true, content);
    m_intentOfFile->setObjectName(QStringLiteral("outputIntent"));
    m_intentOfFile->setWordWrap(true);
    column->addWidget(m_intentOfFile);
    m_intent = addChooser(column, tr("Other colours are brought in"), "intent");
    for (const RenderingIntent intent : all_rendering_intents) {
        m_intent->addItem(intent_name(intent));
    }
    m_blackPoint = new QCheckBox(tr("Black point compensation"), content);
    m_blackPoint->setObjectName(QStringLiteral("blackPoint"));
    column->addWidget(m_blackPoint);
    m_ppiRow = new QWidget(content);
    auto *ppi = new QHBoxLayout(m_ppiRow);
    ppi->setContentsMargins(0, 0, 0, 0);
    ppi->addWidget(make_label(tr("A picture that gives no size"), 12, QFont::Normal, true, m_ppiRow), 1);
    m_ppi = new NumberField(tr("ppi"), 1, NumberField::plain(tr("ppi"), 1, 10000), m_ppiRow);
    m_ppi->setObjectName(QStringLiteral("assumedPpi"));
    m_ppi->setFixedWidth(84);
    ppi->addWidget(m_ppi);
    column->addWidget(m_ppiRow);
    column->addSpacing(4);
    column->addWidget(make_rule(content));
    column->addWidget(make_heading(tr("Assumed"), content));
    m_notes = make_label({}, 12, QFont::Normal, false, content);
    m_notes->setObjectName(QStringLiteral("assumptions"));
    m_notes->setWordWrap(true);
    m_notes->setTextInteractionFlags(Qt::TextSelectableByMouse);
    column->addWidget(m_notes);
    column->addSpacing(4);
    column->addWidget(make_rule(content));
    auto *head = new QHBoxLayout();
    head->addWidget(make_heading(tr("Change slip"), content));
    head->addStretch();
    m_saveSlip = new QPushButton(tr("Save as PDF …"), content);
    m_saveSlip->setObjectName(QStringLiteral("saveSlip"));
    head->addWidget(m_saveSlip);
    column->addLayout(head);
    m_slipState = make_label({}, 12, QFont::Normal, true, content);
    m_slipState->setObjectName(QStringLiteral("slipState"));
    m_slipState->setWordWrap(true);
    column->addWidget(m_slipState);
    m_slip = new QVBoxLayout();
    m_slip->setSpacing(8);
    column->addLayout(m_slip);
    column->addStretch();

    connect(m_rgb, &QComboBox::activated, this, [this](int row) { chooseProfile(m_rgb, row, false); });
    connect(m_condition, &QComboBox::activated, this,
            [this](int row) { chooseProfile(m_condition, row, true); });
    connect(m_cmyk, &QComboBox::activated, this, [this](int row) {
        read(row == 0 ? tr("Keep CMYK numbers") : tr("Convert CMYK"),
             [row](Job &job) { job.colours.convert_cmyk = row == 1; });
    });
    connect(m_intent, &QComboBox::activated, this, [this](int row) {
        read(tr("Intent %1").arg(m_intent->itemText(row)), [row](Job &job) {
            job.colours.rendering.intent = all_rendering_intents[static_cast<std::size_t>(row)];
        });
    });
    connect(m_blackPoint, &QCheckBox::clicked, this, [this](bool on) {
        read(tr("Black point compensation"), [on](Job &job) { job.colours.rendering.black_point = on; });
    });
    connect(m_ppi, &NumberField::valueEntered, this, [this](double value) {
        read(tr("Picture at %1 ppi").arg(value), [value](Job &job) { job.assumed_ppi = value; });
    });
    connect(m_saveSlip, &QPushButton::clicked, this, &ReadingPanel::saveSlip);
    connect(&m_session, &Session::pageChanged, this, &ReadingPanel::refresh);
    connect(&m_session, &Session::jobChanged, this, &ReadingPanel::refresh);
    connect(&m_session, &Session::loadingChanged, this, &ReadingPanel::refresh);
    refresh();
}

QComboBox *ReadingPanel::addChooser(QVBoxLayout *column, const QString &label, const char *name)
{
    QWidget *content = column->parentWidget();
    column->addWidget(make_label(label, 12, QFont::Normal, true, content));
    auto *chooser = new QComboBox(content);
    chooser->setObjectName(QString::fromLatin1(name));
    chooser->setAccessibleName(label);
    chooser->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    chooser->setMinimumContentsLength(10);
    column->addWidget(chooser);
    return chooser;
}

void ReadingPanel::read(const QString &text, const std::function<void(Job &)> &change)
{
    Job job = m_session.job();
    change(job);
    m_session.changeReading(job, text);
}

void ReadingPanel::chooseProfile(QComboBox *chooser, int row, bool condition)
{
    const auto set = [condition](Job &job, const ProfileBytes &profile) {
        (condition ? job.colours.condition : job.colours.untagged_rgb) = profile;
    };
    if (row == 0) {
        read(condition ? tr("Condition FOGRA39") : tr("RGB is sRGB"), [&](Job &job) { set(job, nullptr); });
        return;
    }
    if (row < chooser->count() - 1) {
        return; // the profile in use
    }
    const QString path = m_prompts.askOpenFile(FileUse::Profile, QFileInfo(m_session.path()).absolutePath());
    if (path.isEmpty()) {
        refresh();
        return;
    }
    constexpr std::uintmax_t largest = std::uintmax_t(64) << 20;
    auto bytes = read_file(path.toStdString(), largest);
    QString fault;
    if (!bytes) {
        fault = theme::text_of(bytes.error().message());
    } else if (condition) {
        const auto opened = ProcessProfile::open(*bytes);
        fault = opened ? QString() : theme::text_of(opened.error().message());
    } else {
        const auto opened = SourceProfile::open(*bytes, 3);
        fault = opened ? QString() : theme::text_of(opened.error().message());
    }
    if (!fault.isEmpty()) {
        m_prompts.showError(tr("The profile cannot be used"), fault);
        refresh();
        return;
    }
    const auto profile = std::make_shared<const std::vector<std::byte>>(std::move(*bytes));
    read(condition ? tr("Condition %1").arg(profile_name(profile, true))
                   : tr("RGB is %1").arg(profile_name(profile, false)),
         [&](Job &job) { set(job, profile); });
}

void ReadingPanel::refresh()
{
    const bool open = m_session.isOpen();
    for (QWidget *widget :
         std::initializer_list<QWidget *>{m_rgb, m_cmyk, m_condition, m_intent, m_blackPoint, m_saveSlip}) {
        widget->setEnabled(open && !m_session.isLoading());
    }
    const ColourSettings colours = open ? m_session.job().colours : ColourSettings();
    const auto refill = [](QComboBox *chooser, const QString &shipped, const ProfileBytes &profile,
                           bool condition) {
        chooser->clear();
        chooser->addItem(shipped);
        if (profile != nullptr) {
            chooser->addItem(profile_name(profile, condition));
        }
        chooser->addItem(tr("from a file …"));
        chooser->setCurrentIndex(profile != nullptr ? 1 : 0);
    };
    refill(m_rgb, tr("sRGB"), colours.untagged_rgb, false);
    refill(m_condition, tr("FOGRA39, coated paper"), colours.condition, true);
    m_cmyk->setCurrentIndex(colours.convert_cmyk ? 1 : 0);
    m_intent->setCurrentIndex(static_cast<int>(colours.rendering.intent));
    m_blackPoint->setChecked(colours.rendering.black_point &&
                             colours.rendering.intent != RenderingIntent::AbsoluteColorimetric);
    if (colours.rendering.intent == RenderingIntent::AbsoluteColorimetric) {
        m_blackPoint->setEnabled(false); // ICC.1: the absolute intent never has it
    }
    const std::string intent = open ? m_session.artwork().output_intent() : std::string();
    m_intentOfFile->setVisible(!intent.empty());
    m_intentOfFile->setText(tr("The file names its own condition: %1.").arg(theme::text_of(intent)));
    const InputKind kind = open ? m_session.artwork().kind() : InputKind::Unknown;
    m_ppiRow->setVisible(kind == InputKind::Png || kind == InputKind::Jpeg || kind == InputKind::Tiff);
    m_ppi->setValue(open ? m_session.job().assumed_ppi : 300);
    QStringList notes;
    if (open) {
        const auto add = [&notes](const std::string &note) {
            if (!notes.contains(theme::text_of(note))) {
                notes << theme::text_of(note);
            }
        };
        const std::vector<std::string> of_page = m_session.page()->content().warnings();
        for (const auto *list : {&m_session.artwork().assumptions(), &m_session.artwork().warnings(),
                                 &of_page, &m_session.opened().warnings}) {
            for (const std::string &note : *list) {
                add(note);
            }
        }
    }
    m_notes->setText(!open             ? tr("No artwork is open.")
                     : notes.isEmpty() ? tr("Nothing beyond the settings above.")
                                       : QStringLiteral("– ") + notes.join(QStringLiteral("\n– ")));
    refreshSlip();
}

void ReadingPanel::refreshSlip()
{
    const std::vector<ChangeEntry> changes =
        m_session.isOpen() ? list_changes(m_session.job()) : std::vector<ChangeEntry>();
    m_slipState->setText(changes.empty() ? tr("Nothing is changed: the file prints as it came.")
                                         : tr("The customer's file itself is kept as it came."));
    while (QLayoutItem *item = m_slip->takeAt(0)) {
        if (item->widget() != nullptr) {
            item->widget()->hide();
            item->widget()->deleteLater(); // it may be the chooser that is telling us
        }
        delete item;
    }
    for (const ChangeEntry &change : changes) {
        auto *line = new QWidget(this);
        auto *column = new QVBoxLayout(line);
        column->setContentsMargins(0, 0, 0, 0);
        column->setSpacing(2);
        QLabel *what = make_label(theme::text_of(change.what), 12, QFont::Normal, false, line);
        what->setWordWrap(true);
        what->setToolTip(theme::text_of(change.why));
        column->addWidget(what);
        auto *state = new QComboBox(line);
        state->setObjectName(QStringLiteral("change ") + theme::text_of(change.key));
        state->setAccessibleName(tr("State of: %1").arg(what->text()));
        for (const ChangeState one : all_change_states) {
            state->addItem(state_name(one));
        }
        state->setCurrentIndex(static_cast<int>(change.state));
        connect(state, &QComboBox::activated, this, [this, key = change.key](int row) {
            Job job = m_session.job();
            job.change_states[key] = all_change_states[row];
            m_session.change(job, tr("Change slip: %1").arg(state_name(all_change_states[row])));
        });
        auto *row = new QHBoxLayout();
        row->addWidget(state);
        row->addStretch();
        if (change.key.starts_with("ask ")) {
            auto *drop = new QPushButton(tr("Drop"), line);
            drop->setToolTip(tr("The customer shall not be asked"));
            connect(drop, &QPushButton::clicked, this, [this, key = change.key] {
                Job job = m_session.job();
                std::erase_if(job.questions,
                              [&](const Question &question) { return key_of(question) == key; });
                job.change_states.erase(key);
                m_session.change(job, tr("Do not ask"));
            });
            row->addWidget(drop);
        }
        column->addLayout(row);
        m_slip->addWidget(line);
    }
}

void ReadingPanel::saveSlip()
{
    const QFileInfo file(m_session.path());
    const QString path = m_prompts.askSaveFile(FileUse::ChangeSlip, file.absolutePath() + QLatin1Char('/') +
                                                                        file.completeBaseName() +
                                                                        QStringLiteral("-changes.pdf"));
    if (path.isEmpty()) {
        return;
    }
    m_saveSlip->setEnabled(false);
    m_tasks.start(
        [path = path.toStdString(), opened = m_session.opened(),
         date = QDate::currentDate().toString(Qt::ISODate).toStdString()](const JobControl &control) -> Done {
            const auto bytes = change_slip_report(opened, date, control);
            return bytes ? write_file(path, *bytes) : Done(bytes.error());
        },
        [this, path](const Done &done) {
            m_saveSlip->setEnabled(true);
            if (done) {
                m_slipState->setText(tr("Change slip written: %1").arg(QFileInfo(path).fileName()));
            } else {
                m_prompts.showError(tr("The change slip was not written"),
                                    theme::text_of(done.error().message()));
            }
        });
}

} // namespace bichrom
