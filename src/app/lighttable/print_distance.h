/// \file
/// How near the print comes to the artwork, over the whole page.
/// Layer: app/lighttable.
#pragma once

#include "app/services/fact.h"
#include "app/services/session.h"
#include "app/tasks/task_scope.h"
#include "core/separate/separate_job.h"

#include <QObject>
#include <QRectF>
#include <QTimer>

class QPainter;

namespace bichrom {

class PrintDistance : public QObject
{
    Q_OBJECT

public:
    explicit PrintDistance(Session &session, QObject *parent = nullptr);

    /// Whether somebody looks: it is measured then, and again whenever the job rests after a change.
    void setWanted(bool wanted);
    [[nodiscard]] const Fact<SeparationReport> &report() const { return m_report; }
    /// Where it is worst, mm of the page; only while that is known and can be seen.
    [[nodiscard]] std::optional<QPointF> worst() const;
    /// In words: median, 95 %, what is far off. One line.
    [[nodiscard]] QString words() const;
    /// The scale of greys that the look Change paints, and words().
    /// \param room  to stay in; \return what was painted over
    QRectF paintLegend(QPainter &painter, const QRectF &room) const;

Q_SIGNALS:
    void changed();

private:
    void measure();
    void start();

    Session &m_session;
    bool m_wanted = false;
    QTimer m_rest;
    Fact<SeparationReport> m_report;
    CancelSwitch m_running;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
