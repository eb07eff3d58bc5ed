// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/kernel/hwmon_limits.h"

#include "readings/kernel/found.h"

namespace ash {
namespace {

struct LimitRow {
  const char* suffix;
  const char* name;
};
constexpr LimitRow kLimits[] = {{"_min", "min"},
                                {"_max", "max"},
                                {"_crit", "critical"},
                                {"_emergency", "emergency"},
                                {"_lcrit", "low_critical"},
                                {"_cap", "cap"},
                                {"_cap_max", "cap_max"},
                                {"_max_hyst", "max_hyst"},
                                {"_crit_hyst", "crit_hyst"},
                                {"_rated_max", "rated_max"},
                                {"_rated_min", "rated_min"}};

constexpr double kHighestLimitC = 200;  // above it a limit says "none"

bool isRealLimit(const HwmonKind& kind, const std::string& which, double value) {
  const bool isLower = which == "min" || which == "low_critical" || which == "rated_min";
  if (kind.quantity == Quantity::Temperature)
    return isLower ? value > -100 && value != 0 && value < kHighestLimitC : value > 0 && value < kHighestLimitC;
  return value > 0;
}

void dropWhereUpsideDown(Reading& reading) {
  const auto low = reading.limits.find("min");
  const auto high = reading.limits.find("max");
  if (low == reading.limits.end() || high == reading.limits.end() || high->second > low->second) return;
  reading.limits.erase("min");
  reading.limits.erase("max");
}

}  // namespace

void addHwmonLimits(const std::filesystem::path& folder, const std::string& channel, const HwmonKind& kind,
                    Reading& reading) {
  for (const LimitRow& limit : kLimits) {
    const auto raw = readNumber(folder / (channel + limit.suffix));
    if (!raw) continue;
    const double value = static_cast<double>(*raw) / kind.divisor;
    if (!isRealLimit(kind, limit.name, value)) continue;
    reading.limits[limit.name] = value;
    reading.origins[limit.name] = channel + limit.suffix;
  }
  dropWhereUpsideDown(reading);
}

}  // namespace ash
