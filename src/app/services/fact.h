/// \file
/// Something measured in the background: unknown, under way, a value, or the reason why there is none.
/// Layer: app/services.
#pragma once

#include "core/base/outcome.h"

#include <QString>

#include <optional>
#include <utility>

namespace bichrom {

/// Whoever shows a fact words all four states: an error is not "nothing found".
template <typename T> class Fact
{
public:
    enum class State
    {
        Unknown, ///< nobody has asked
        Running, ///< being measured; value() is of before, if there is one
        Known,
        Failed ///< fault() says why; there is no value
    };

    [[nodiscard]] State state() const { return m_state; }
    /// Null when there is none.
    [[nodiscard]] const T *value() const { return m_value ? &*m_value : nullptr; }
    [[nodiscard]] const QString &fault() const { return m_fault; }

    /// What is under way is not wanted any more.
    void forget()
    {
        const quint64 ticket = m_ticket + 1;
        *this = {};
        m_ticket = ticket;
    }
    /// \return the ticket of this measurement; those of earlier ones are void
    [[nodiscard]] quint64 begin()
    {
        m_state = State::Running;
        m_fault.clear();
        return ++m_ticket;
    }
    /// What came out. Cancelled leaves it under way: whoever stopped it asks again, or forgets.
    /// \return false, and nothing is taken, when the ticket is void
    bool take(quint64 ticket, Outcome<T> &&outcome)
    {
        if (ticket != m_ticket) {
            return false;
        }
        if (outcome) {
            m_value = std::move(*outcome);
            m_state = State::Known;
            m_fault.clear();
        } else if (outcome.error().code != ErrorCode::Cancelled) {
            m_value.reset();
            m_state = State::Failed;
            m_fault = QString::fromStdString(outcome.error().message());
        }
        return true;
    }

private:
    State m_state = State::Unknown;
    std::optional<T> m_value;
    QString m_fault;
    quint64 m_ticket = 0;
};

} // namespace bichrom
