// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/gauges/plausible.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

namespace ash {
namespace {

struct Bounds {
  double low, high;  // stored unit
};

// What the thing itself could have, with room to spare: a bound is no limit of a device.
Bounds boundsOf(Quantity quantity) {
  constexpr double kAny = std::numeric_limits<double>::infinity();
  switch (quantity) {
    case Quantity::Temperature:
      return {-50, 150};
    case Quantity::FanSpeed:
      return {0, 30000};
    case Quantity::Power:
      return {-20000, 20000};
    case Quantity::Voltage:
      return {-500, 500};
    case Quantity::Current:
      return {-2000, 2000};
    case Quantity::Clock:
      return {0, 20000};
    case Quantity::Humidity:
      return {0, 100};
    case Quantity::Percent:
      return {0, 100.001};
    case Quantity::Energy:
      return {0, kAny};
    default:
      return {-kAny, kAny};
  }
}

// Registers of 32 and 64 bits with all bits set, or the largest number they hold.
bool isWideFiller(int64_t raw) {
  constexpr std::array<int64_t, 6> kFillers = {
      std::numeric_limits<int32_t>::max(), std::numeric_limits<int32_t>::min(), 0xFFFFFFFFLL,
      std::numeric_limits<int64_t>::max(), std::numeric_limits<int64_t>::min(), 0xFFFFFFFFFFFFLL};
  return std::find(kFillers.begin(), kFillers.end(), raw) != kFillers.end();
}

// Full scale of the converters in use: 8, 10 and 16 bits.
bool isFullScale(Quantity quantity, int64_t raw) {
  switch (quantity) {
    case Quantity::Temperature:  // millidegrees: signed and unsigned 8 bits, with and without a fraction
      return raw == 127000 || raw == -128000 || raw == -127000 || raw == 127500 || raw == 127750 || raw == 127875;
    case Quantity::FanSpeed:
      return raw == 65535 || raw == 65534;
    case Quantity::Voltage:
    case Quantity::Current:
      return raw == 65535 || raw == -65536 || raw == -32768;
    default:
      return false;
  }
}

}  // namespace

bool isImpossible(Quantity quantity, int64_t raw, double value) {
  const Bounds bounds = boundsOf(quantity);
  if (value < bounds.low || value > bounds.high) return true;
  if (quantity == Quantity::Temperature && raw == 0) return true;
  if (isFullScale(quantity, raw)) return true;
  return quantity != Quantity::Energy && quantity != Quantity::Count && quantity != Quantity::Other &&
         isWideFiller(raw);
}

std::string whyImpossible(Quantity quantity, int64_t raw, double value) {
  if (!isImpossible(quantity, raw, value)) return {};
  const std::string shown = fmt::format("{:g} {}", value, unitOf(quantity));
  if (quantity == Quantity::Temperature && raw == 0) return "exactly 0 °C: most likely nothing is connected";
  if (isFullScale(quantity, raw) || isWideFiller(raw))
    return fmt::format("{} is the end of the converter's scale: most likely nothing is connected", shown);
  return fmt::format("{} is no possible {} here", shown,
                     quantity == Quantity::Temperature ? "temperature"
                     : quantity == Quantity::FanSpeed  ? "fan speed"
                                                       : "value");
}

}  // namespace ash
