/// \file
/// The release: what stands in the way, what it holds, where it goes.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/prompts.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/release/release.h"

#include <optional>
#include <vector>

class QCheckBox;
class QLabel;
class QLineEdit;
class QListWidget;
class QProgressBar;
class QPushButton;

namespace bichrom {

class HandOverPanel : public StagePanel
{
    Q_OBJECT

public:
    HandOverPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

    [[nodiscard]] bool isReleased() const { return m_released; }

Q_SIGNALS:
    void released();

private:
    void measure() override;
    void stop() override;
    void forget() override;
    void fill() override;
    void draw() override {}
    [[nodiscard]] Outcome<std::vector<DeviceNeeds>> devices() const;
    [[nodiscard]] Outcome<PageList> pages() const;
    void addDevice();
    void openDevice();
    void showGate();
    void showLast();
    void release();
    void finish(const Outcome<Release> &made, const QString &sent);
    void setWriting(bool writing);
    void say(const QString &text, bool needs_artist);

    Prompts &m_prompts;
    QLabel *m_gate;
    QLineEdit *m_reason;
    QCheckBox *m_films, *m_pdf, *m_plates;
    QLineEdit *m_folder;
    QWidget *m_pagesRow;
    QLineEdit *m_pages;
    QPushButton *m_browse;
    QListWidget *m_devices;
    QPushButton *m_addDevice, *m_removeDevice, *m_openDevice;
    QPushButton *m_release, *m_cancel;
    QProgressBar *m_progress;
    QLabel *m_result, *m_last;
    std::optional<Outcome<std::vector<GateStop>>> m_stops;
    bool m_folderChosen = false, m_released = false, m_writing = false;
    CancelSwitch m_checking, m_running;
    TaskScope m_tasks;
};

} // namespace bichrom
