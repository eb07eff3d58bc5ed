// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/spikes.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>
#include <utility>

#include "analysis/series/statistics.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kSpikeAtLeastK = 5;      // out and back within one sample: faster than heat can move
constexpr double kSpikeOfNoise = 8;       // times the usual step from one reading to the next
constexpr double kPowerMovedShare = 0.2;  // the power moved with it: then it is no misreading
constexpr double kLoadMovedPercent = 15;
constexpr double kMostKPerW = 3;
constexpr double kAbsurdPower = 4;   // times what all but one in a hundred readings stay below
constexpr size_t kLookedAt = 4'000;  // readings that tell what is usual

double usualStep(const std::vector<double>& values) {
  const size_t stride = values.size() / kLookedAt + 1;
  std::vector<double> steps;
  for (size_t i = 1; i < values.size(); i += stride) {
    if (std::isfinite(values[i]) && std::isfinite(values[i - 1])) steps.push_back(std::abs(values[i] - values[i - 1]));
  }
  // Every other sample may be missing: then the readings themselves are looked at.
  if (steps.empty()) {
    double last = kMissing;
    for (const double value : values) {
      if (!std::isfinite(value)) continue;
      if (std::isfinite(last)) steps.push_back(std::abs(value - last));
      last = value;
    }
  }
  return medianOf(std::move(steps));
}

// The device's own power or load went the same way at that sample and came back.
bool didPowerMove(const Log& log, const Channel& channel, size_t before, size_t at, size_t after) {
  if (!channel.role.isKnown()) return false;
  const double direction = channel.values[at] - channel.values[before];
  for (const Quantity what : {Quantity::Power, Quantity::Percent}) {
    const Channel* other = log.find(Role(channel.role.device(), what).text());
    if (other == nullptr) continue;
    const double out = other->values[at] - other->values[before], back = other->values[at] - other->values[after];
    // No device warms by more within one sample.
    const double least =
        other->quantity == Quantity::Percent
            ? kLoadMovedPercent
            : std::max(kPowerMovedShare * std::abs(other->values[before]), std::abs(direction) / kMostKPerW);
    if (out * direction > 0 && back * direction > 0 && std::min(std::abs(out), std::abs(back)) > least) return true;
  }
  return false;
}

// What a reading must stand out by to count as misread; infinite for quantities that may jump.
double leastSpike(const Channel& channel) {
  if (channel.quantity == Quantity::Temperature)
    return std::max(kSpikeAtLeastK, kSpikeOfNoise * usualStep(channel.values));
  std::vector<double> watts;
  const size_t stride = channel.values.size() / kLookedAt + 1;
  for (size_t i = 0; i < channel.values.size(); i += stride) {
    if (std::isfinite(channel.values[i])) watts.push_back(std::abs(channel.values[i]));
  }
  if (watts.size() < 20) return INFINITY;
  const auto high = watts.begin() + static_cast<std::ptrdiff_t>(watts.size() * 99 / 100);
  std::nth_element(watts.begin(), high, watts.end());
  return std::max(kAbsurdPower * *high, 1.0);
}

}  // namespace

std::vector<Problem> findSpikes(const Log& log, const Channel& channel, std::vector<size_t>& leftOut) {
  std::vector<Problem> problems;
  if (channel.quantity != Quantity::Temperature && channel.quantity != Quantity::Power) return problems;
  const double least = leastSpike(channel);
  const std::vector<double>& values = channel.values;
  constexpr size_t kNone = static_cast<size_t>(-1);
  size_t first = kNone, middle = kNone;  // the two readings before the one at hand
  for (size_t i = 0; i < values.size(); ++i) {
    if (!std::isfinite(values[i])) continue;
    const size_t before = std::exchange(first, middle), here = std::exchange(middle, i);
    if (before == kNone) continue;
    const double out = values[here] - values[before];
    if (std::abs(out) < least) continue;
    const double back = values[here] - values[i];
    const double height = std::min(std::abs(out), std::abs(back));
    if (out * back <= 0 || height < least || std::abs(values[before] - values[i]) >= height / 3) continue;
    if (!leftOut.empty() && leftOut.back() == before) continue;
    if (didPowerMove(log, channel, before, here, i)) continue;
    leftOut.push_back(here);
    problems.push_back({ProblemKind::Spike, channel.name, log.timeS[here], log.timeS[i],
                        fmt::format("{} jumps to {:.1f} {} and back within one sample at {:.1f} s; it is left out: "
                                    "check how it is read if this comes again.",
                                    channel.name, values[here], channel.unit, log.timeS[here])});
  }
  return problems;
}

}  // namespace ash
