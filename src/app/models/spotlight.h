/// \file
/// What is lit in the artwork: the places of a finding, or a chosen object.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QRectF>
#include <QString>
#include <QTimer>

#include <vector>

namespace bichrom {

/// Set by lists and by clicks, shown by the light table. Areas are mm from the shown page's top left.
class Spotlight : public QObject
{
    Q_OBJECT

public:
    explicit Spotlight(QObject *parent = nullptr);

    [[nodiscard]] const std::vector<QRectF> &areas() const { return m_areas; }
    /// The area in question among several; −1 when nothing is lit.
    [[nodiscard]] int current() const { return m_current; }
    [[nodiscard]] const QString &caption() const { return m_caption; }
    /// The chosen object's index in the scene; −1 when none is.
    [[nodiscard]] int object() const { return m_object; }

    /// Lights \p areas, the first 2000 of them; \p bring asks the light table to show the current one.
    void light(std::vector<QRectF> areas, int current, const QString &caption, int object, bool bring);
    void clear();

    /// Lights \p areas on and off a few times, then leaves them lit.
    void blink(std::vector<QRectF> areas, const QString &caption);
    /// Whether what is lit is in the dark half of a blink.
    [[nodiscard]] bool isDark() const { return m_blinks > 0 && m_blinks % 2 == 1; }

Q_SIGNALS:
    void changed();
    void broughtIntoView(const QRectF &area);

private:
    std::vector<QRectF> m_areas;
    int m_current = -1;
    int m_object = -1;
    QString m_caption;
    int m_blinks = 0; ///< halves still to come
    QTimer m_timer;
};

} // namespace bichrom
