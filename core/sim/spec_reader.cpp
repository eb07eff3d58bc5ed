// SPDX-License-Identifier: GPL-3.0-or-later
#include "sim/spec_reader.h"

#include <fmt/format.h>

namespace ash::sim {

void SpecReader::fail(const std::string& field, const std::string& why) {
  if (m_error) return;
  m_error = Error::badInput(fmt::format("{}: \"{}\" {}. See docs/bench-format.md.", m_where, field, why));
}

double SpecReader::number(const Json& part, const std::string& key, const std::string& at,
                          std::optional<double> fallback) {
  const std::string field = at.empty() ? key : at + "." + key;
  if (!part.is_object() || !part.contains(key)) {
    if (!fallback) fail(field, "is missing");
    return fallback.value_or(0);
  }
  if (!part[key].is_number()) {
    fail(field, "must be a number");
    return fallback.value_or(0);
  }
  return part[key].get<double>();
}

double SpecReader::positive(const Json& part, const std::string& key, const std::string& at,
                            std::optional<double> fallback) {
  const double value = number(part, key, at, fallback);
  if (!(value > 0)) {
    fail(at.empty() ? key : at + "." + key, "must be above zero");
    return fallback.value_or(1);
  }
  return value;
}

std::string SpecReader::text(const Json& part, const std::string& key, const std::string& at) {
  if (!part.is_object() || !part.contains(key) || !part[key].is_string()) {
    fail(at.empty() ? key : at + "." + key, "must be a text");
    return {};
  }
  return part[key].get<std::string>();
}

Json SpecReader::object(const Json& root, const std::string& key, bool isRequired) {
  if (root.contains(key) && root[key].is_object() && !root[key].empty()) return root[key];
  if (isRequired || root.contains(key)) fail(key, "must be an object with at least one entry");
  return Json::object();
}

}  // namespace ash::sim
