/// \file
/// The plate, and the colour or the objects, that the artist has in hand.
/// Layer: app/models.
#pragma once

#include <QObject>
#include <QString>
#include <QStringList>

#include <utility>
#include <vector>

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
        if (m_plate != ink || !m_others.isEmpty()) {
            m_plate = ink;
            m_others.clear();
            Q_EMIT plateChanged();
        }
    }
    /// Inks of plates chosen besides it, which what is done to plates is done to as well.
    [[nodiscard]] const QStringList &otherPlates() const { return m_others; }
    void chooseOtherPlates(const QStringList &inks)
    {
        m_others = inks;
        m_others.removeAll(m_plate);
        Q_EMIT plateChanged();
    }
    [[nodiscard]] bool isChosen(const QString &ink) const { return ink == m_plate || m_others.contains(ink); }

    /// Number of the chosen colour in the page's scene; −1 = none.
    [[nodiscard]] int colour() const { return m_colour; }
    void chooseColour(int number)
    {
        m_objects.clear();
        if (m_colour != number || !m_otherColours.empty()) {
            m_colour = number;
            m_otherColours.clear();
            Q_EMIT colourChanged();
        }
    }
    /// Colours chosen besides it, which what is done to the colour is done to as well.
    [[nodiscard]] const std::vector<int> &otherColours() const { return m_otherColours; }
    void chooseOtherColours(std::vector<int> numbers)
    {
        m_objects.clear();
        m_otherColours = std::move(numbers);
        Q_EMIT colourChanged();
    }

    /// Objects of the page's scene; they are meant instead of the colour until one is chosen. Empty = none.
    [[nodiscard]] const std::vector<int> &objects() const { return m_objects; }
    void chooseObjects(std::vector<int> objects)
    {
        m_objects = std::move(objects);
        Q_EMIT colourChanged();
    }

Q_SIGNALS:
    void plateChanged();
    void colourChanged(); ///< or the objects

private:
    QString m_plate;
    QStringList m_others;
    int m_colour = -1;
    std::vector<int> m_otherColours;
    std::vector<int> m_objects;
};

} // namespace bichrom
