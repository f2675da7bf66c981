/// \file
/// Reads what stands on the films at a place of the light table.
/// Layer: app/lighttable.
#pragma once

#include "app/lighttable/tile_source.h"
#include "app/tasks/task_scope.h"

#include <QObject>
#include <QRectF>
#include <QStringList>

#include <functional>
#include <memory>

class QPainter;

namespace bichrom {

class Loupe : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    /// How an ink's plate is looked at.
    enum class Seen
    {
        Not,
        WithOthers,
        Alone
    };
    /// Reads the films around a point, mm of the page, off the window's thread.
    void read(std::shared_ptr<const TileSource> source, QPointF mm,
              const std::function<Seen(const QString &)> &seen);
    void forget();

    /// What is or was read, mm of the page; empty = nothing.
    [[nodiscard]] const QRectF &area() const { return m_area; }
    /// What stands there, a plate a line, the last printed first; empty until it is read.
    [[nodiscard]] const QStringList &lines() const { return m_lines; }

Q_SIGNALS:
    void changed();

private:
    QRectF m_area;
    QStringList m_lines;
    CancelSwitch m_reading;
    TaskScope m_tasks; // last, so that it is destroyed first
};

} // namespace bichrom
