/// \file
/// Errors as values: a reason, the place, and what can be done.
/// Layer: core/base.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace bichrom {

/// Why something did not work. The program translates by code, so codes are stable.
enum class ErrorCode
{
    FileMissing,    ///< no such file
    CannotRead,     ///< the file exists but cannot be read, or is not what it claims to be
    WrongFormat,    ///< not a kind of file this function reads
    PasswordNeeded, ///< encrypted, and no or a wrong password was given
    NoSuchPage,     ///< page number outside the document
    NothingToPrint, ///< the page paints nothing
    OutOfRange,     ///< a number outside its limits
    TakesLong,      ///< more work than usual; it may come to an end with more patience
    TooLarge,       ///< more memory, pixels or bytes than allowed
    CannotWrite,    ///< the target folder or file refuses to be written
    DiskFull,       ///< the disk ran full while writing
    Cancelled,      ///< the caller asked to stop
    NewerVersion,   ///< written by a newer version of this program
    Damaged,        ///< content could not be read whole, and nobody has accepted that
    UnknownInk,     ///< an ink name that the job does not hold
    Internal        ///< a library failed in a way that names no cause
};

/// One failure: what happened, where, and what the user can do about it.
struct Error
{
    ErrorCode code = ErrorCode::Internal;
    std::string reason; ///< what happened, one plain sentence without the file name
    std::string place;  ///< file, page or object; may be empty
    std::string remedy; ///< what to do, one plain sentence; may be empty

    /// "place: reason remedy", leaving out what is empty.
    [[nodiscard]] std::string message() const
    {
        std::string text = place.empty() ? reason : place + ": " + reason;
        return remedy.empty() ? text : text + " " + remedy;
    }
};

/// A value or the reason why there is none.
template <typename T> class [[nodiscard]] Outcome
{
public:
    Outcome(T value) : m_state(std::in_place_index<0>, std::move(value)) {}
    Outcome(Error error) : m_state(std::in_place_index<1>, std::move(error)) {}

    [[nodiscard]] bool ok() const { return m_state.index() == 0; }
    explicit operator bool() const { return ok(); }

    /// The value; only when ok().
    [[nodiscard]] T &value() { return std::get<0>(m_state); }
    [[nodiscard]] const T &value() const { return std::get<0>(m_state); }
    T &operator*() { return value(); }
    const T &operator*() const { return value(); }
    T *operator->() { return &value(); }
    const T *operator->() const { return &value(); }

    /// The error; only when not ok().
    [[nodiscard]] const Error &error() const { return std::get<1>(m_state); }

private:
    std::variant<T, Error> m_state;
};

/// Done, or the reason why not.
template <> class [[nodiscard]] Outcome<void>
{
public:
    Outcome() = default;
    Outcome(Error error) : m_error(std::move(error)) {}

    [[nodiscard]] bool ok() const { return !m_error.has_value(); }
    explicit operator bool() const { return ok(); }
    [[nodiscard]] const Error &error() const { return *m_error; }

private:
    std::optional<Error> m_error;
};

using Done = Outcome<void>;

} // namespace bichrom
