// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/run_facts.h"

namespace ash {

std::optional<double> RunFacts::limit(const std::string& role, const std::string& which) const {
  const auto limitsOfRole = limits.find(role);
  if (limitsOfRole == limits.end()) return std::nullopt;
  const auto value = limitsOfRole->second.find(which);
  if (value == limitsOfRole->second.end()) return std::nullopt;
  return value->second;
}

std::optional<double> RunFacts::conditionNumber(const std::string& field) const {
  const auto value = conditions.find(field);
  if (value == conditions.end() || !value->is_number()) return std::nullopt;
  return value->get<double>();
}

}  // namespace ash
