#include "app/worktops/release/hand_over_panel.h"

#include "app/dialogs/device_window.h"
#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "app/worktops/release/folder_row.h"
#include "app/worktops/release/pages_row.h"
#include "app/worktops/release/work_strip.h"
#include "core/release/device_needs.h"

#include <QCheckBox>
#include <QDate>
#include <QFileInfo>
#include <QLineEdit>
#include <QListWidget>
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
    m_release = new QPushButton(tr("Release"), m_body);
    m_release->setObjectName(QStringLiteral("releaseJob"));
    m_release->setProperty("main", true);
    m_column->addWidget(m_release);
    m_work = new WorkStrip("stopRelease", "releaseProgress", "releaseResult", m_body);
    m_column->addWidget(m_work);
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
    m_pages = new PagesRow("releasePages", tr("Pages to release"), {}, session, m_body);
    m_column->addWidget(m_pages);
    connect(m_pages, &PagesRow::chosen, this, &HandOverPanel::measureSoon);
    m_column->addWidget(make_label(tr("Folder of all releases"), 12, QFont::Normal, true, m_body));
    m_folder =
        new FolderRow("releaseFolder", "chooseReleaseFolder", tr("Folder of all releases"), prompts, m_body);
    m_column->addWidget(m_folder);
    m_last = make_label({}, 11, QFont::Normal, true, m_body);
    m_last->setObjectName(QStringLiteral("lastRelease"));
    m_last->setWordWrap(true);
    m_column->addWidget(m_last);
    connect(m_folder, &FolderRow::chosen, this, &HandOverPanel::measureSoon);
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
    connect(m_addDevice, &QPushButton::clicked, this, &HandOverPanel::addDevice);
    connect(m_removeDevice, &QPushButton::clicked, this, [this] {
        delete m_devices->currentItem();
        keepDevices();
        measureSoon();
    });
    connect(m_openDevice, &QPushButton::clicked, this, &HandOverPanel::openDevice);
    connect(m_devices, &QListWidget::itemDoubleClicked, this, &HandOverPanel::openDevice);
    connect(m_release, &QPushButton::clicked, this, &HandOverPanel::release);
    connect(m_work, &WorkStrip::busyChanged, this, &HandOverPanel::setBusy);
    connect(&m_session, &Session::artworkChanged, this, [this] {
        m_released = false;
        m_reason->clear();
        m_pages->clear();
    });
    connect(&m_session, &Session::pathChanged, this, [this] {
        m_folder->forget();
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
        m_work->say(theme::text_of(needs.error().message()), true);
        return;
    }
    if (m_devices->findItems(folder, Qt::MatchExactly).isEmpty()) {
        m_devices->addItem(folder);
        keepDevices();
    }
    m_devices->setCurrentRow(m_devices->count() - 1);
    measureSoon();
}

void HandOverPanel::openDevice()
{
    const QListWidgetItem *item =
        m_devices->currentItem() != nullptr ? m_devices->currentItem() : m_devices->item(0);
    if (item == nullptr) {
        m_work->say(tr("Add a device first: the hot folder of one."), true);
        return;
    }
    auto window = DeviceWindow::open(item->text(), this->window());
    if (!window) {
        m_work->say(theme::text_of(window.error().message()), true);
        return;
    }
    (*window)->show();
}

std::vector<std::filesystem::path> HandOverPanel::devices() const
{
    std::vector<std::filesystem::path> folders;
    for (int i = 0; i < m_devices->count(); ++i) {
        folders.emplace_back(m_devices->item(i)->text().toStdString());
    }
    return folders;
}

void HandOverPanel::keepDevices()
{
    QStringList all;
    for (int i = 0; i < m_devices->count(); ++i) {
        all << m_devices->item(i)->text();
    }
    QSettings().setValue(devices_key, all);
}

void HandOverPanel::fill()
{
    m_pages->refresh();
    m_folder->offer(QFileInfo(m_session.path()).absolutePath() + QLatin1Char('/') + tr("releases"));
    showGate();
}

/// Whether what was released last is still what the job prints.
void HandOverPanel::showLast(const LastRelease &last)
{
    m_last->setText(
        last.number == 0 ? tr("Nothing of this job has been released there.")
        : last.same
            ? tr("Release %1 of %2 is of the job as it is.").arg(last.number).arg(theme::text_of(last.date))
            : tr("The job has changed since release %1 of %2.")
                  .arg(last.number)
                  .arg(theme::text_of(last.date)));
}

/// Folders may lie on a share that is slow, or gone: they are looked into off the window's thread.
void HandOverPanel::measure()
{
    m_checking.cancel();
    m_checking = m_tasks.start(
        [opened = m_session.opened(), pages = m_pages->pages(), places = devices(),
         folder = m_folder->folder().toStdString()](const JobControl &control) {
            Looked looked{last_release(folder, opened), std::vector<GateStop>()};
            const auto needs = needs_of_devices(places);
            looked.stops = !pages   ? Outcome<std::vector<GateStop>>(pages.error())
                           : !needs ? Outcome<std::vector<GateStop>>(needs.error())
                                    : check_gate(opened, *pages, *needs, control);
            if (auto stale = stale_outputs(looked.last); stale && looked.stops) {
                looked.stops->push_back(std::move(*stale));
            }
            return looked;
        },
        [this](Looked looked) {
            if (looked.stops || looked.stops.error().code != ErrorCode::Cancelled) {
                showLast(looked.last);
                m_stops = std::move(looked.stops);
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
    m_last->clear();
    m_work->clear();
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
    m_release->setEnabled(!m_work->isBusy() && (words.isEmpty() || !m_reason->text().trimmed().isEmpty()));
}

void HandOverPanel::release()
{
    const QString folder = m_folder->folder();
    if (folder.isEmpty()) {
        m_work->say(tr("Choose a folder for the releases first."), true);
        return;
    }
    auto wanted = m_pages->pages();
    if (!wanted) {
        m_work->say(theme::text_of(wanted.error().message()), true);
        return;
    }
    ReleaseRequest request;
    request.pages = std::move(*wanted);
    request.folder = folder.toStdString();
    request.date = QDate::currentDate().toString(Qt::ISODate).toStdString();
    request.pass_reason = m_reason->text().trimmed().toStdString();
    request.parts = {m_films->isChecked(), m_pdf->isChecked(), m_plates->isChecked()};
    m_work->run(
        [opened = m_session.opened(), request, places = devices()](const JobControl &control) mutable {
            auto needs = needs_of_devices(places);
            if (!needs) {
                return Handed{needs.error(), {}};
            }
            request.devices = std::move(*needs);
            Handed handed{release_job(opened, request, control), {}};
            for (std::size_t i = 0; handed.made && handed.made->number > 0 && i < places.size(); ++i) {
                handed.sent.push_back(send_release(*handed.made, places[i]));
            }
            return handed;
        },
        [this, places = devices()](const Handed &handed) { finish(handed, places); });
}

void HandOverPanel::finish(const Handed &handed, const std::vector<std::filesystem::path> &places)
{
    const Outcome<Release> &made = handed.made;
    if (!made) {
        m_work->say(made.error().code == ErrorCode::Cancelled ? tr("Stopped. Nothing was released.")
                                                              : theme::text_of(made.error().message()),
                    true);
        return;
    }
    if (made->number == 0) { // the gate found more than was shown
        m_stops = Outcome<std::vector<GateStop>>(made->stops);
        showGate();
        m_work->say(tr("Nothing was released: see what stands in the way."), true);
        return;
    }
    m_released = true;
    QString text = tr("Release %1, %2 files with checksums, in %3")
                       .arg(made->number)
                       .arg(made->files.size())
                       .arg(theme::text_of(made->folder.string()));
    bool all_sent = true;
    for (std::size_t i = 0; i < handed.sent.size(); ++i) {
        const auto &sent = handed.sent[i];
        all_sent = all_sent && sent;
        text += sent ? tr("\n%1 sent to %2")
                           .arg(sent->size() == 1 ? tr("One file") : tr("%1 files").arg(sent->size()),
                                theme::text_of(places[i].string()))
                     : tr("\nNot sent: %1").arg(theme::text_of(sent.error().message()));
    }
    m_work->say(text, !all_sent);
    measureSoon();
    Q_EMIT released();
}

void HandOverPanel::setBusy(bool busy)
{
    for (QWidget *widget : std::initializer_list<QWidget *>{
             m_reason, m_pages, m_films, m_pdf, m_plates, m_folder, m_addDevice, m_removeDevice, m_release}) {
        widget->setEnabled(!busy);
    }
    if (!busy) {
        showGate();
    }
}

} // namespace bichrom
