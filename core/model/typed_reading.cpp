// SPDX-License-Identifier: GPL-3.0-or-later
#include "model/typed_reading.h"

#include <algorithm>
#include <array>

namespace ash {
namespace {

constexpr std::array kTyped = {TypedReading{"noise", roles::kNoise, "dBA", 0, 140, "noise 38.5 50cm"},
                               TypedReading{"surface", "", "°C", -40, 200, "surface hinge 47.5"},
                               TypedReading{"score", roles::kScore, "", 0, 1e12, "score 11493"},
                               TypedReading{"wall", roles::kWallPower, "W", 0, 10000, "wall 162"},
                               TypedReading{"room", roles::kRoom, "°C", -40, 60, "room 22.4"}};

template <class Fits>
const TypedReading* firstThat(Fits fits) {
  const auto found = std::find_if(kTyped.begin(), kTyped.end(), fits);
  return found == kTyped.end() ? nullptr : &*found;
}

}  // namespace

std::span<const TypedReading> typedReadings() { return kTyped; }

const TypedReading* typedReadingCalled(std::string_view word) {
  return firstThat([&](const TypedReading& one) { return one.word == word; });
}

const TypedReading* typedReadingOf(const Role& role) {
  return firstThat([&](const TypedReading& one) { return one.hasOwnPlace() ? role.isSurface() : role == one.role; });
}

Role TypedReading::roleAt(std::string_view place) const {
  return hasOwnPlace() ? Role(Device(DeviceKind::Surface, place).text()) : Role(role);
}

std::string typedWords(const Role& role) {
  const TypedReading* typed = typedReadingOf(role);
  if (typed == nullptr) return role.text();
  std::string words(typed->word);
  if (typed->hasOwnPlace()) words += " " + role.device().place();
  return words;
}

}  // namespace ash
