#include "app/worktops/release/hand_over_panel.h"

#include "app/dialogs/device_window.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/release/device_needs.h"

#include <QCheckBox>
#include <QDate>
#include <QDir>
#include <QFileInfo>
#include <QListWidget>
#include <QProgressBar>
#include <QPushButton>
#include <QSettings>

namespace bichrom {

namespace {

const QString devices_key = QStringLiteral("release/devices");

} // namespace

HandOverPanel::HandOverPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent)
    : StagePanel(session, view, tr("Open artwork to release it."), parent), m_prompts(prompts)
{
    setObjectName(QStringLiteral("handOverPanel"));
    m_column->addWidget(make_label(tr("What stands in the way"), 13, QFont::DemiBold, false, m_body));
    m_gate = make_label({}, 12, QFont::Normal, false, m_body);
    m_gate->setObjectName(QStringLiteral("gateWords"));
    m_gate->setWordWrap(true);
    m_gate->setTextFormat(Qt::PlainText);
    m_column->addWidget(m_gate);
    m_reason = new QLineEdit(m_body);
    m_reason->setObjectName(QStringLiteral("gateReason"));
    m_reason->setAccessibleName(tr("Reason to release all the same"));
    m_reason->setPlaceholderText(tr("why it is released all the same"));
    m_reason->setToolTip(tr("Kept with the release and told in its record"));
    m_column->addWidget(m_reason);
    auto *buttons = new QHBoxLayout();
    m_release = new QPushButton(tr("Release"), m_body);
    m_release->setObjectName(QStringLiteral("releaseJob"));
    m_release->setProperty("main", true);
    m_cancel = new QPushButton(tr("Stop"), m_body);
    m_cancel->setObjectName(QStringLiteral("stopRelease"));
    m_cancel->hide();
    buttons->addWidget(m_release, 1);
    buttons->addWidget(m_cancel);
    m_column->addLayout(buttons);
    m_progress = new QProgressBar(m_body);
    m_progress->setObjectName(QStringLiteral("releaseProgress"));
    m_progress->hide();
    m_column->addWidget(m_progress);
    m_result = make_label({}, 12, QFont::Normal, false, m_body);
    m_result->setObjectName(QStringLiteral("releaseResult"));
    m_result->setWordWrap(true);
    m_result->setTextInteractionFlags(Qt::TextSelectableByMouse);
    m_result->hide();
    m_column->addWidget(m_result);
    m_column->addWidget(make_rule(m_body));
    m_column->addWidget(
        make_label(tr("The release holds proof, ticket and job, and"), 12, QFont::Normal, true, m_body));
    auto *parts = new QHBoxLayout();
    const auto tick = [&](const char *object, const QString &text, const QString &tip, bool on) {
        auto *box = new QCheckBox(text, m_body);
        box->setObjectName(QLatin1String(object));
        box->setToolTip(tip);
        box->setChecked(on);
        parts->addWidget(box);
        return box;
    };
    m_films = tick("releaseFilms", tr("films"), tr("As set under Films"), true);
    m_pdf = tick("releasePdf", tr("PDF/X-4"), tr("The plates as PDF/X-4, every ink by its name"), true);
    m_plates = tick("releasePlates", tr("8-bit plates"), tr("Grey TIFFs at 300 dpi"), false);
    parts->addStretch();
    m_column->addLayout(parts);
    m_pagesRow = new QWidget(m_body);
    auto *pages_row = new QHBoxLayout(m_pagesRow);
    pages_row->setContentsMargins(0, 0, 0, 0);
    m_pages = new QLineEdit(m_pagesRow);
    m_pages->setObjectName(QStringLiteral("releasePages"));
    m_pages->setAccessibleName(tr("Pages to release"));
    m_pages->setPlaceholderText(tr("this page"));
    m_pages->setToolTip(tr("1-3,5 or all; empty: the page on the table"));
    m_pages->setFixedWidth(129);
    pages_row->addWidget(make_label(tr("Pages"), 12, QFont::Normal, true, m_pagesRow));
    pages_row->addStretch();
    pages_row->addWidget(m_pages);
    m_column->addWidget(m_pagesRow);
    connect(m_pages, &QLineEdit::editingFinished, this, &HandOverPanel::measureSoon);
    m_column->addWidget(make_label(tr("Folder of all releases"), 12, QFont::Normal, true, m_body));
    auto *folder_row = new QHBoxLayout();
    m_folder = new QLineEdit(m_body);
    m_folder->setObjectName(QStringLiteral("releaseFolder"));
    m_folder->setAccessibleName(tr("Folder of all releases"));
    m_browse = make_small_button("chooseReleaseFolder", tr("Choose …"), {}, m_body);
    folder_row->addWidget(m_folder, 1);
    folder_row->addWidget(m_browse);
    m_column->addLayout(folder_row);
    m_last = make_label({}, 11, QFont::Normal, true, m_body);
    m_last->setObjectName(QStringLiteral("lastRelease"));
    m_last->setWordWrap(true);
    m_column->addWidget(m_last);
    connect(m_folder, &QLineEdit::editingFinished, this, &HandOverPanel::showLast);
    m_column->addWidget(make_label(tr("Devices it is sent to"), 12, QFont::Normal, true, m_body));
    m_devices = new QListWidget(m_body);
    m_devices->setObjectName(QStringLiteral("deviceList"));
    m_devices->setAccessibleName(tr("Devices"));
    m_devices->setStyleSheet(theme::listStyle());
    m_devices->setFont(theme::font(12));
    m_devices->setFixedHeight(64);
    m_devices->addItems(QSettings().value(devices_key).toStringList());
    m_column->addWidget(m_devices);
    auto *device_row = new QHBoxLayout();
    m_addDevice = make_small_button("addDevice", tr("Add …"), tr("The hot folder of a device"), m_body);
    m_removeDevice =
        make_small_button("removeDevice", tr("Remove"), tr("From this list; its folder stays"), m_body);
    m_openDevice = make_small_button("openDevice", tr("Watch …"),
                                     tr("Its window: what it does with what it is sent"), m_body);
    device_row->addWidget(m_addDevice);
    device_row->addWidget(m_removeDevice);
    device_row->addWidget(m_openDevice);
    device_row->addStretch();
    m_column->addLayout(device_row);
    m_column->addStretch();

    connect(m_reason, &QLineEdit::textChanged, this, &HandOverPanel::showGate);
    connect(m_folder, &QLineEdit::textEdited, this, [this] { m_folderChosen = true; });
    connect(m_browse, &QPushButton::clicked, this, [this] {
        const QString folder = m_prompts.askFolder(m_folder->text());
        if (!folder.isEmpty()) {
            m_folder->setText(folder);
            m_folderChosen = true;
        }
    });
    connect(m_addDevice, &QPushButton::clicked, this, &HandOverPanel::addDevice);
    connect(m_removeDevice, &QPushButton::clicked, this, [this] {
        delete m_devices->currentItem();
        QStringList left;
        for (int i = 0; i < m_devices->count(); ++i) {
            left << m_devices->item(i)->text();
        }
        QSettings().setValue(devices_key, left);
        measureSoon();
    });
    connect(m_openDevice, &QPushButton::clicked, this, &HandOverPanel::openDevice);
    connect(m_devices, &QListWidget::itemDoubleClicked, this, &HandOverPanel::openDevice);
    connect(m_release, &QPushButton::clicked, this, &HandOverPanel::release);
    connect(m_cancel, &QPushButton::clicked, this, [this] { m_running.cancel(); });
    connect(&m_session, &Session::artworkChanged, this, [this] {
        m_released = false;
        m_reason->clear();
        m_pages->clear();
    });
    connect(&m_session, &Session::pathChanged, this, [this] {
        m_folderChosen = false;
        refresh();
    });
}

void HandOverPanel::addDevice()
{
    const QString folder = m_prompts.askFolder({});
    if (folder.isEmpty()) {
        return;
    }
    if (const auto needs = needs_of_device(folder.toStdString()); !needs) {
        say(theme::text_of(needs.error().message()), true);
        return;
    }
    if (m_devices->findItems(folder, Qt::MatchExactly).isEmpty()) {
        m_devices->addItem(folder);
        QSettings settings;
        settings.setValue(devices_key, settings.value(devices_key).toStringList() << folder);
    }
    m_devices->setCurrentRow(m_devices->count() - 1);
    measureSoon();
}

void HandOverPanel::openDevice()
{
    const QListWidgetItem *item =
        m_devices->currentItem() != nullptr ? m_devices->currentItem() : m_devices->item(0);
    if (item == nullptr) {
        say(tr("Add a device first: the hot folder of one."), true);
        return;
    }
    auto window = DeviceWindow::open(item->text(), this->window());
    if (!window) {
        say(theme::text_of(window.error().message()), true);
        return;
    }
    (*window)->show();
}

Outcome<std::vector<DeviceNeeds>> HandOverPanel::devices() const
{
    std::vector<DeviceNeeds> all;
    for (int i = 0; i < m_devices->count(); ++i) {
        auto needs = needs_of_device(m_devices->item(i)->text().toStdString());
        if (!needs) {
            return needs.error();
        }
        all.push_back(std::move(*needs));
    }
    return all;
}

Outcome<PageList> HandOverPanel::pages() const
{
    const QString text = m_pages->text().trimmed();
    return text.isEmpty() || m_session.artwork().page_count() == 1
               ? Outcome<PageList>(PageList{m_session.job().page})
               : parse_pages(text.toStdString(), m_session.artwork().page_count());
}

void HandOverPanel::fill()
{
    m_pagesRow->setVisible(m_session.artwork().page_count() > 1);
    if (!m_folderChosen) {
        const QFileInfo file(m_session.path());
        m_folder->setText(QDir::toNativeSeparators(file.absolutePath() + QLatin1Char('/') + tr("releases")));
    }
    showGate();
    showLast();
}

/// Whether what was released last is still what the job prints.
void HandOverPanel::showLast()
{
    const LastRelease last = last_release(m_folder->text().trimmed().toStdString(), m_session.opened());
    m_last->setText(
        last.number == 0 ? tr("Nothing of this job has been released there.")
        : last.same
            ? tr("Release %1 of %2 is of the job as it is.").arg(last.number).arg(theme::text_of(last.date))
            : tr("The job has changed since release %1 of %2: its films and files are of an "
                 "earlier state.")
                  .arg(last.number)
                  .arg(theme::text_of(last.date)));
}

void HandOverPanel::measure()
{
    m_checking.cancel();
    auto needs = devices();
    const auto wanted = pages();
    if (!needs || !wanted) {
        m_stops = Outcome<std::vector<GateStop>>(needs ? wanted.error() : needs.error());
        showGate();
        return;
    }
    m_checking =
        m_tasks.start([opened = m_session.opened(), pages = *wanted, needs = std::move(*needs)](
                          const JobControl &control) { return check_gate(opened, pages, needs, control); },
                      [this](Outcome<std::vector<GateStop>> stops) {
                          if (stops || stops.error().code != ErrorCode::Cancelled) {
                              m_stops = std::move(stops);
                              showGate();
                          }
                      });
}

void HandOverPanel::stop()
{
    m_checking.cancel();
}

void HandOverPanel::forget()
{
    m_stops.reset();
    m_result->hide();
}

void HandOverPanel::showGate()
{
    if (!m_stops) {
        m_gate->setText(tr("Being looked at …"));
        m_gate->setStyleSheet(notice_style(false));
        m_reason->hide();
        return;
    }
    if (!*m_stops) {
        m_gate->setText(
            tr("This could not be found out: %1").arg(theme::text_of(m_stops->error().message())));
        m_gate->setStyleSheet(notice_style(true));
        m_reason->hide();
        return;
    }
    QStringList words;
    for (const GateStop &stop : **m_stops) {
        words << theme::text_of(stop.what + (stop.remedy.empty() ? "" : " " + stop.remedy));
    }
    m_gate->setText(words.isEmpty() ? tr("Nothing.") : words.join(QStringLiteral("\n\n")));
    m_gate->setStyleSheet(notice_style(!words.isEmpty()));
    m_reason->setVisible(!words.isEmpty());
    m_release->setText(words.isEmpty() ? tr("Release") : tr("Release all the same"));
    m_release->setEnabled(!m_writing && (words.isEmpty() || !m_reason->text().trimmed().isEmpty()));
}

void HandOverPanel::release()
{
    const QString folder = m_folder->text().trimmed();
    if (folder.isEmpty()) {
        say(tr("Choose a folder for the releases first."), true);
        return;
    }
    auto needs = devices();
    if (!needs) {
        say(theme::text_of(needs.error().message()), true);
        return;
    }
    auto wanted = pages();
    if (!wanted) {
        say(theme::text_of(wanted.error().message()), true);
        return;
    }
    ReleaseRequest request;
    request.pages = std::move(*wanted);
    request.folder = folder.toStdString();
    request.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    request.pass_reason = m_reason->text().trimmed().toStdString();
    request.devices = std::move(*needs);
    request.parts = {m_films->isChecked(), m_pdf->isChecked(), m_plates->isChecked()};
    std::vector<std::string> places;
    for (int i = 0; i < m_devices->count(); ++i) {
        places.push_back(m_devices->item(i)->text().toStdString());
    }
    m_result->hide();
    m_progress->setRange(0, 0);
    setWriting(true);
    using Both = std::pair<Outcome<Release>, QString>;
    m_running = m_tasks.start(
        [opened = m_session.opened(), request, places](const JobControl &control) {
            Both both{release_job(opened, request, control), {}};
            for (std::size_t i = 0; both.first && both.first->number > 0 && i < places.size(); ++i) {
                const auto sent = send_release(*both.first, places[i]);
                both.second +=
                    sent ? tr("\n%1 sent to %2")
                               .arg(sent->size() == 1 ? tr("One file") : tr("%1 files").arg(sent->size()),
                                    theme::text_of(places[i]))
                         : tr("\nNot sent: %1").arg(theme::text_of(sent.error().message()));
            }
            return both;
        },
        [this](const Both &both) { finish(both.first, both.second); },
        [this](qint64 done, qint64 total) {
            m_progress->setRange(0, static_cast<int>(total));
            m_progress->setValue(static_cast<int>(done));
        });
}

void HandOverPanel::finish(const Outcome<Release> &made, const QString &sent)
{
    setWriting(false);
    if (!made) {
        say(made.error().code == ErrorCode::Cancelled ? tr("Stopped. Nothing was released.")
                                                      : theme::text_of(made.error().message()),
            true);
        return;
    }
    if (made->number == 0) { // the gate found more than was shown
        m_stops = Outcome<std::vector<GateStop>>(made->stops);
        showGate();
        say(tr("Nothing was released: see what stands in the way."), true);
        return;
    }
    m_released = true;
    showLast();
    say(tr("Release %1, %2 files with checksums, in %3")
                .arg(made->number)
                .arg(made->files.size())
                .arg(theme::text_of(made->folder.string())) +
            sent,
        sent.contains(tr("\nNot sent: %1").arg(QString())));
    Q_EMIT released();
}

void HandOverPanel::setWriting(bool writing)
{
    m_writing = writing;
    m_cancel->setVisible(writing);
    m_progress->setVisible(writing);
    for (QWidget *widget : std::initializer_list<QWidget *>{
             m_reason, m_pages, m_films, m_pdf, m_plates, m_folder, m_browse, m_addDevice, m_removeDevice}) {
        widget->setEnabled(!writing);
    }
    m_release->setEnabled(!writing);
    if (!writing) {
        showGate();
    }
}

void HandOverPanel::say(const QString &text, bool needs_artist)
{
    m_result->setText(text);
    m_result->setStyleSheet(notice_style(needs_artist));
    m_result->show();
}

} // namespace bichrom
