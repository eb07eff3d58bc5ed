// SPDX-License-Identifier: GPL-3.0-or-later
#include <algorithm>
#include <cmath>

#include "analysis/warm_up/settling.h"
#include "model/number_text.h"
#include "model/unit.h"

namespace ash {
namespace {

constexpr double kMhzPerGhz = 1000;
constexpr int kMostOfGhz = 2, kMost = 1;

std::string wordsOf(const HeldForecast& one, double scale, int mostDecimals, const std::string& unit) {
  const int decimals = decimalsFor((one.high - one.low) / 2 / scale, 1);
  return withUnit(one.value / scale, std::clamp(decimals, 0, mostDecimals), unit);
}

}  // namespace

std::vector<Role> deliveredRoles(const Device& device, const Role& work) {
  std::vector<Role> roles = {Role(device, Quantity::Power), Role(device, Quantity::Clock), work};
  std::erase_if(roles, [](const Role& role) { return !role.isKnown(); });
  return roles;
}

std::string heldWords(const std::vector<HeldForecast>& held) {
  std::string clock, power, work;
  for (const HeldForecast& one : held) {
    const Quantity quantity = Role(one.channel).quantity();
    if (!std::isfinite(one.value)) continue;
    if (quantity == Quantity::Clock)
      clock = wordsOf(one, kMhzPerGhz, kMostOfGhz, "GHz");
    else if (quantity == Quantity::Power)
      power = wordsOf(one, 1, kMost, "W");
    else
      work = wordsOf(one, 1, kMost, std::string(unitOf(quantity)));
  }
  if (!clock.empty() && !power.empty()) return clock + " at " + power;
  return !clock.empty() ? clock : !power.empty() ? power : work;
}

}  // namespace ash
