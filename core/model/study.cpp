// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/study.h"

#include "model/condition_field.h"

namespace ash {

std::string currencyOf(const Study& study) {
  for (const Setup& setup : study.setups) {
    const auto found = setup.conditions.find(fields::kCurrency);
    if (found != setup.conditions.end() && found->is_string()) return found->get<std::string>();
  }
  return "";
}

}  // namespace ash
