/// \file
/// The plate and the colour the artist has in hand.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QString>

namespace bichrom {

/// Set by lists and pictures, followed by all of them. Not part of the job.
class Choice : public QObject
{
    Q_OBJECT

public:
    using QObject::QObject;

    /// Ink of the chosen plate; empty = none.
    [[nodiscard]] const QString &plate() const { return m_plate; }
    void choosePlate(const QString &ink)
    {
        if (m_plate != ink) {
            m_plate = ink;
            Q_EMIT plateChanged();
        }
    }

    /// Number of the chosen colour in the page's scene; −1 = none.
    [[nodiscard]] int colour() const { return m_colour; }
    void chooseColour(int number)
    {
        if (m_colour != number) {
            m_colour = number;
            Q_EMIT colourChanged();
        }
    }

Q_SIGNALS:
    void plateChanged();
    void colourChanged();

private:
    QString m_plate;
    int m_colour = -1;
};

} // namespace bichrom
