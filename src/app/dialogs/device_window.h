/// \file
/// What a simulated device does, to be watched.
/// Layer: app/dialogs.
#pragma once

#include "app/tasks/task_scope.h"
#include "core/standin/devices.h"

#include <QDialog>
#include <QTimer>

class QCheckBox;
class QLabel;
class QListWidget;
class QPushButton;
class QTreeWidget;

namespace bichrom {

/// A window of its own: settings to change, what became of each file, a picture of the latest. Works off what
/// waits while its tick says so.
class DeviceWindow : public QDialog
{
    Q_OBJECT

public:
    /// One that goes when it is closed. Errors as needs_of_device().
    [[nodiscard]] static Outcome<DeviceWindow *> open(const QString &folder, QWidget *parent);

protected:
    void resizeEvent(QResizeEvent *event) override;

private:
    DeviceWindow(DeviceKind kind, const QString &folder, QWidget *parent);
    void work();
    void showSettings();
    void changeSetting(int row);
    void showPicture();
    void fitPicture();
    void told(const std::vector<DeviceEvent> &events);

    DeviceKind m_kind;
    QString m_folder, m_shown, m_said;
    QLabel *m_picture, *m_caption;
    QTreeWidget *m_settings;
    QListWidget *m_events;
    QCheckBox *m_works;
    QPushButton *m_clear;
    QPixmap m_pixels;
    QTimer m_tick;
    bool m_working = false;
    TaskScope m_tasks;
};

} // namespace bichrom
