#include "app/dialogs/device_window.h"

#include "app/widgets/controls.h"
#include "app/widgets/theme.h"
#include "core/release/device_needs.h"

#include <QCheckBox>
#include <QDir>
#include <QFileInfo>
#include <QHeaderView>
#include <QListWidget>
#include <QPushButton>
#include <QSignalBlocker>
#include <QTreeWidget>

namespace bichrom {

namespace {

QString title_of(DeviceKind kind)
{
    switch (kind) {
    case DeviceKind::Recorder:
        return DeviceWindow::tr("Film recorder");
    case DeviceKind::Press:
        return DeviceWindow::tr("Two-station press");
    case DeviceKind::Cutter:
        break;
    }
    return DeviceWindow::tr("Cutter");
}

/// What settings mean, where their names do not say it.
QString words_of(const QString &key)
{
    static const QMap<QString, QString> words = {
        {QStringLiteral("dpi"), DeviceWindow::tr("resolution, dpi (0 = any)")},
        {QStringLiteral("roll_mm"), DeviceWindow::tr("roll, mm wide")},
        {QStringLiteral("roll_left_mm"), DeviceWindow::tr("left on the roll, mm")},
        {QStringLiteral("used_mm"), DeviceWindow::tr("film used, mm")},
        {QStringLiteral("gap_mm"), DeviceWindow::tr("between films, mm")},
        {QStringLiteral("emulsion"), DeviceWindow::tr("emulsion (up, down)")},
        {QStringLiteral("jam"), DeviceWindow::tr("jams at the next film")},
        {QStringLiteral("jammed"), DeviceWindow::tr("jammed")},
        {QStringLiteral("offline"), DeviceWindow::tr("offline")},
        {QStringLiteral("under"), DeviceWindow::tr("station under, ink")},
        {QStringLiteral("under_kind"), DeviceWindow::tr("loaded with")},
        {QStringLiteral("over"), DeviceWindow::tr("station over, ink")},
        {QStringLiteral("over_kind"), DeviceWindow::tr("loaded with")},
        {QStringLiteral("double_hit"), DeviceWindow::tr("two hits")},
        {QStringLiteral("stock"), DeviceWindow::tr("stock")},
        {QStringLiteral("pages"), DeviceWindow::tr("pages")},
        {QStringLiteral("ink"), DeviceWindow::tr("cuts along ink")}};
    return words.value(key, key);
}

QString text_of(const nlohmann::json &value)
{
    return value.is_string()    ? theme::text_of(value.get<std::string>())
           : value.is_boolean() ? (value.get<bool>() ? DeviceWindow::tr("yes") : DeviceWindow::tr("no"))
                                : theme::text_of(format_number(value.get<double>(), 2));
}

} // namespace

Outcome<DeviceWindow *> DeviceWindow::open(const QString &folder, QWidget *parent)
{
    const auto needs = needs_of_device(folder.toStdString());
    if (!needs) {
        return needs.error();
    }
    for (const DeviceKind kind : {DeviceKind::Recorder, DeviceKind::Press, DeviceKind::Cutter}) {
        if (open_device(kind, folder.toStdString())) {
            return new DeviceWindow(kind, folder, parent);
        }
    }
    return Error{ErrorCode::CannotRead, "The device cannot be opened.", folder.toStdString(), {}};
}

DeviceWindow::DeviceWindow(DeviceKind kind, const QString &folder, QWidget *parent)
    : QDialog(parent), m_kind(kind), m_folder(folder)
{
    setAttribute(Qt::WA_DeleteOnClose);
    setObjectName(QStringLiteral("deviceWindow"));
    setWindowTitle(tr("%1 – stand-in").arg(title_of(kind)));
    resize(900, 560);
    auto *row = new QHBoxLayout(this);
    auto *left = new QVBoxLayout();
    m_picture = new QLabel(this);
    m_picture->setObjectName(QStringLiteral("devicePicture"));
    m_picture->setAlignment(Qt::AlignCenter);
    m_picture->setMinimumSize(200, 160);
    m_picture->setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Ignored);
    m_picture->setStyleSheet(QStringLiteral("background: %1;").arg(theme::surround.name()));
    left->addWidget(m_picture, 1);
    m_caption = make_label({}, 11, QFont::Normal, true, this);
    left->addWidget(m_caption);
    row->addLayout(left, 1);
    auto *right = new QVBoxLayout();
    right->addWidget(make_label(title_of(kind), 15, QFont::DemiBold, false, this));
    QLabel *where = make_label(folder, 11, QFont::Normal, true, this);
    where->setWordWrap(true);
    right->addWidget(where);
    m_settings = new QTreeWidget(this);
    m_settings->setObjectName(QStringLiteral("deviceSettings"));
    m_settings->setAccessibleName(tr("Settings and state"));
    m_settings->setColumnCount(2);
    m_settings->setHeaderHidden(true);
    m_settings->setRootIsDecorated(false);
    m_settings->setStyleSheet(theme::listStyle());
    m_settings->setFont(theme::font(12));
    m_settings->setEditTriggers(QAbstractItemView::DoubleClicked | QAbstractItemView::EditKeyPressed |
                                QAbstractItemView::SelectedClicked);
    m_settings->header()->setSectionResizeMode(0, QHeaderView::ResizeToContents);
    right->addWidget(m_settings, 2);
    right->addWidget(make_label(tr("What became of files"), 12, QFont::Normal, true, this));
    m_events = new QListWidget(this);
    m_events->setObjectName(QStringLiteral("deviceEvents"));
    m_events->setAccessibleName(tr("What became of files"));
    m_events->setWordWrap(true);
    m_events->setFont(theme::font(12));
    right->addWidget(m_events, 3);
    auto *buttons = new QHBoxLayout();
    m_works = new QCheckBox(tr("Works off what waits"), this);
    m_works->setObjectName(QStringLiteral("deviceWorks"));
    m_works->setChecked(true);
    buttons->addWidget(m_works, 1);
    m_clear = make_small_button("clearJam", tr("Clear the jam"), {}, this);
    m_clear->setVisible(kind == DeviceKind::Recorder);
    buttons->addWidget(m_clear);
    right->addLayout(buttons);
    row->addLayout(right);
    m_settings->setFixedWidth(340);
    connect(m_settings, &QTreeWidget::itemChanged, this,
            [this](QTreeWidgetItem *item) { changeSetting(m_settings->indexOfTopLevelItem(item)); });
    connect(m_clear, &QPushButton::clicked, this, [this] {
        if (auto device = open_device(m_kind, m_folder.toStdString()); device) {
            device->state()["jammed"] = false;
            if (const Done kept = device->save(); !kept) {
                m_events->addItem(theme::text_of(kept.error().message()));
            }
        }
        showSettings();
    });
    m_tick.setInterval(1000);
    connect(&m_tick, &QTimer::timeout, this, &DeviceWindow::work);
    m_tick.start();
    showSettings();
    showPicture();
}

void DeviceWindow::work()
{
    if (m_working || !m_works->isChecked()) {
        return;
    }
    m_working = true;
    using Worked = Outcome<std::vector<DeviceEvent>>;
    m_tasks.start(
        [kind = m_kind, folder = m_folder.toStdString()](const JobControl &control) -> Worked {
            auto device = open_device(kind, folder);
            return device ? run_device(kind, *device, control) : Worked(device.error());
        },
        [this](const Worked &worked) {
            m_working = false;
            if (!worked) {
                told({{{}, DeviceEvent::Kind::Waiting, worked.error().message()}});
            } else if (!worked->empty()) {
                told(*worked);
                showSettings();
                showPicture();
            }
        });
}

void DeviceWindow::told(const std::vector<DeviceEvent> &events)
{
    QString all;
    for (const DeviceEvent &event : events) {
        all += theme::text_of(event.file + event.words);
    }
    if (all == m_said) {
        return; // what waits is told of once
    }
    m_said = all;
    for (const DeviceEvent &event : events) {
        m_events->insertItem(0,
                             tr("%1 – %2. %3")
                                 .arg(theme::text_of(event.file), QString::fromLatin1(to_string(event.kind)),
                                      theme::text_of(event.words)));
    }
}

void DeviceWindow::showSettings()
{
    const auto device = open_device(m_kind, m_folder.toStdString());
    if (!device || m_settings->findChild<QWidget *>(QStringLiteral("qt_editing_widget")) != nullptr) {
        return;
    }
    const QSignalBlocker quiet(m_settings);
    m_settings->clear();
    for (const auto &[key, value] : device->state().items()) {
        if (value.is_structured() || key == "device") {
            continue;
        }
        const QString name = QString::fromStdString(key);
        auto *item = new QTreeWidgetItem(m_settings, {words_of(name), text_of(value)});
        item->setData(0, Qt::UserRole, name);
        item->setFlags(item->flags() | Qt::ItemIsEditable);
    }
    m_clear->setEnabled(device->flag("jammed"));
}

void DeviceWindow::changeSetting(int row)
{
    auto device = open_device(m_kind, m_folder.toStdString());
    if (row < 0 || !device) {
        return;
    }
    const QTreeWidgetItem *item = m_settings->topLevelItem(row);
    const std::string text = item->text(1).trimmed().toStdString();
    const Done set = device->set(item->data(0, Qt::UserRole).toString().toStdString(),
                                 text == tr("yes").toStdString()  ? "yes"
                                 : text == tr("no").toStdString() ? "no"
                                                                  : text);
    if (!set) {
        m_events->insertItem(0, theme::text_of(set.error().message()));
    } else if (const Done kept = device->save(); !kept) {
        m_events->insertItem(0, theme::text_of(kept.error().message()));
    }
    m_said.clear();
    QMetaObject::invokeMethod(this, &DeviceWindow::showSettings, Qt::QueuedConnection);
}

/// The roll, or the latest print or cut.
void DeviceWindow::showPicture()
{
    const QString inside = m_kind == DeviceKind::Press    ? QStringLiteral("/printed")
                           : m_kind == DeviceKind::Cutter ? QStringLiteral("/cut")
                                                          : QString();
    const QFileInfoList pictures =
        QDir(m_folder + inside).entryInfoList({QStringLiteral("*.png")}, QDir::Files, QDir::Time);
    if (pictures.isEmpty()) {
        m_picture->setText(tr("Nothing yet. Send a release here, or put files into the folder."));
        return;
    }
    m_pixels = QPixmap(pictures.front().filePath());
    m_caption->setText(m_kind == DeviceKind::Recorder ? tr("The roll as it is exposed, its end to the right")
                                                      : pictures.front().fileName());
    fitPicture();
}

void DeviceWindow::fitPicture()
{
    if (!m_pixels.isNull()) {
        const double ratio = devicePixelRatioF();
        QPixmap scaled =
            m_pixels.scaled(m_picture->size() * ratio, Qt::KeepAspectRatio, Qt::SmoothTransformation);
        scaled.setDevicePixelRatio(ratio);
        m_picture->setPixmap(scaled);
    }
}

void DeviceWindow::resizeEvent(QResizeEvent *event)
{
    QDialog::resizeEvent(event);
    fitPicture();
}

} // namespace bichrom
