// SPDX-License-Identifier: GPL-3.0-or-later
// A value or one sentence that says what went wrong, where, and how to mend it.
#pragma once

#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace ash {

/// What kind of failure it was; the command line turns it into an exit status.
enum class ErrorKind {
  BadInput,     ///< wrong use or an unusable file (exit 2)
  Environment,  ///< no permission, no display, a drive that fails (exit 3)
  DiskFull,     ///< nothing more can be written (exit 3)
};

/// One sentence for a person: what, where, how to mend it.
struct Error {
  ErrorKind kind = ErrorKind::BadInput;
  std::string message;
  bool isDamage = false;  ///< a file that is broken, and not merely something else

  static Error badInput(std::string message) { return {ErrorKind::BadInput, std::move(message), false}; }
  static Error environment(std::string message) { return {ErrorKind::Environment, std::move(message), false}; }
  /// "Cannot `doing` `path`: No space left on device."
  static Error io(const std::string& doing, const std::string& path, int errnoValue);
};

/// A value of type T, or an Error. Never both, never neither.
template <typename T>
class [[nodiscard]] Result {
 public:
  Result(T value) : m_state(std::move(value)) {}
  Result(Error error) : m_state(std::move(error)) {}

  explicit operator bool() const { return std::holds_alternative<T>(m_state); }
  T& value() { return std::get<T>(m_state); }
  const T& value() const { return std::get<T>(m_state); }
  T& operator*() & { return value(); }
  const T& operator*() const& { return value(); }
  /// Of a temporary: moved out, so that it outlives it (`for (x : *book->runs())`).
  T operator*() && { return std::move(value()); }
  T* operator->() { return &value(); }
  const T* operator->() const { return &value(); }
  const Error& error() const { return std::get<Error>(m_state); }

 private:
  std::variant<T, Error> m_state;
};

/// Success, or an Error.
class [[nodiscard]] Status {
 public:
  Status() = default;
  Status(Error error) : m_error(std::move(error)) {}
  explicit operator bool() const { return !m_error.has_value(); }
  const Error& error() const { return *m_error; }

 private:
  std::optional<Error> m_error;
};

}  // namespace ash
