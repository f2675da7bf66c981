/// \file
/// What is printed with the films, what that takes, and the documents about it: proof and job ticket.
/// Layer: app/worktops/release.
#pragma once

#include "app/services/prompts.h"
#include "app/tasks/task_scope.h"
#include "app/worktops/stage_panel.h"
#include "core/report/job_ticket.h"

#include <functional>
#include <optional>
#include <utility>
#include <vector>

class QLabel;
class QLineEdit;
class QPushButton;
class QTreeWidget;

namespace bichrom {

class FactList;
class NumberField;
class WorkStrip;

class TicketPanel : public StagePanel
{
    Q_OBJECT

public:
    TicketPanel(Session &session, ViewState &view, Prompts &prompts, QWidget *parent = nullptr);

private:
    void measure() override;
    void stop() override;
    void forget() override;
    void fill() override;
    void draw() override {}
    void change(const QString &text, const std::function<void(PrintRun &)> &edit);
    void plateChanged(int row, int column);
    void showTicket();
    void write(bool proof);

    Prompts &m_prompts;
    std::vector<std::pair<NumberField *, std::function<double(const PrintRun &)>>> m_numbers;
    QLineEdit *m_currency, *m_note;
    QTreeWidget *m_plates;
    FactList *m_facts;
    QPushButton *m_proof, *m_ticket;
    WorkStrip *m_work;
    std::optional<Outcome<JobTicket>> m_known;
    CancelSwitch m_measuring;
    TaskScope m_tasks;
};

} // namespace bichrom
