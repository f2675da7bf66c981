/// \file
/// What the light table shows: not part of the job, not undone.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QSet>
#include <QString>

namespace bichrom {

/// The looks of the light table.
enum class Look
{
    Plates,
    Dots
};

class ViewState : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    [[nodiscard]] Look look() const { return m_look; }
    void setLook(Look look);

    [[nodiscard]] bool isShown(const QString &ink) const;
    void setShown(const QString &ink, bool shown);

    /// The ink shown alone as grey film; empty = none.
    [[nodiscard]] const QString &alone() const { return m_alone; }
    void setAlone(const QString &ink);

    /// All plates shown, none alone.
    void reset();

Q_SIGNALS:
    void changed();

private:
    Look m_look = Look::Plates;
    QSet<QString> m_hidden;
    QString m_alone;
};

} // namespace bichrom
