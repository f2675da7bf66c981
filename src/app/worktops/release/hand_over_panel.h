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
class QPushButton;

namespace bichrom {

class FolderRow;
class PagesRow;
class WorkStrip;

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
    /// What a look into the folders told.
    struct Looked
    {
        LastRelease last;
        Outcome<std::vector<GateStop>> stops;
    };
    /// A release, and what each device took of it.
    struct Handed
    {
        Outcome<Release> made;
        std::vector<Outcome<std::vector<std::string>>> sent;
    };
    [[nodiscard]] std::vector<std::filesystem::path> devices() const;
    void keepDevices();
    void addDevice();
    void openDevice();
    void showGate();
    void showLast(const LastRelease &last);
    void release();
    void finish(const Handed &handed, const std::vector<std::filesystem::path> &places);
    void setBusy(bool busy);

    Prompts &m_prompts;
    QLabel *m_gate;
    QLineEdit *m_reason;
    QCheckBox *m_films, *m_pdf, *m_plates;
    FolderRow *m_folder;
    PagesRow *m_pages;
    QListWidget *m_devices;
    QPushButton *m_addDevice, *m_removeDevice, *m_openDevice;
    QPushButton *m_release;
    WorkStrip *m_work;
    QLabel *m_last;
    std::optional<Outcome<std::vector<GateStop>>> m_stops;
    bool m_released = false;
    CancelSwitch m_checking;
    TaskScope m_tasks;
};

} // namespace bichrom
