/// \file
/// What is lit in the artwork: the places of a finding, or a chosen object.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QRectF>
#include <QString>

#include <vector>

namespace bichrom {

/// Set by lists and by clicks, shown by the light table. Areas are mm from the shown page's top left.
class Spotlight : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    [[nodiscard]] const std::vector<QRectF> &areas() const { return m_areas; }
    /// The area in question among several; −1 when nothing is lit.
    [[nodiscard]] int current() const { return m_current; }
    [[nodiscard]] const QString &caption() const { return m_caption; }
    /// The chosen object's index in the scene; −1 when none is.
    [[nodiscard]] int object() const { return m_object; }

    /// Lights \p areas; \p bring asks the light table to show the current one.
    void light(std::vector<QRectF> areas, int current, const QString &caption, int object, bool bring);
    void clear();

Q_SIGNALS:
    void changed();
    void broughtIntoView(const QRectF &area);

private:
    std::vector<QRectF> m_areas;
    int m_current = -1;
    int m_object = -1;
    QString m_caption;
};

} // namespace bichrom
