// SPDX-License-Identifier: GPL-3.0-or-later
// Reads fields of a bench description and keeps the first mistake as a sentence, so that the caller can read straight
// on.
#pragma once

#include <limits>
#include <optional>
#include <string>

#include "model/json.h"
#include "model/result.h"

namespace ash::sim {

class SpecReader {
 public:
  explicit SpecReader(std::string where) : m_where(std::move(where)) {}

  bool ok() const { return !m_error.has_value(); }
  const Error& error() const { return *m_error; }
  void fail(const std::string& field, const std::string& why);

  /// A number; `fallback` when the key is missing, a mistake when there is no fallback or it is no number.
  double number(const Json& part, const std::string& key, const std::string& at, std::optional<double> fallback = {});
  /// The same, above zero.
  double positive(const Json& part, const std::string& key, const std::string& at, std::optional<double> fallback = {});
  std::string text(const Json& part, const std::string& key, const std::string& at);
  /// The object under `key`; empty when it is missing and not required.
  Json object(const Json& root, const std::string& key, bool isRequired);

 private:
  std::string m_where;
  std::optional<Error> m_error;
};

}  // namespace ash::sim
