// SPDX-License-Identifier: GPL-3.0-or-later
// Holes and single misread samples.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kSpikeAtLeastK = 5;      // out and back within one sample: faster than heat can move
constexpr double kSpikeOfNoise = 8;       // times the usual step from one reading to the next
constexpr double kPowerMovedShare = 0.2;  // the power moved with it: then it is no misreading
constexpr double kAbsurdPower = 4;        // times what all but one in a hundred readings stay below
constexpr double kGapIntervals = 5;       // contract, "Energy"

double usualStep(const std::vector<double>& values, const std::vector<size_t>& places) {
  const size_t stride = places.size() / 20'000 + 1;
  std::vector<double> steps;
  for (size_t k = 1; k < places.size(); k += stride)
    steps.push_back(std::abs(values[places[k]] - values[places[k - 1]]));
  return medianOf(std::move(steps));
}

// The device's own power or load went the same way at that sample and came back.
bool didPowerMove(const Log& log, const Channel& channel, size_t before, size_t at, size_t after) {
  const auto role = findRole(channel.role);
  if (!role) return false;
  const double direction = channel.values[at] - channel.values[before];
  for (const char* what : {".power", ".load"}) {
    const Channel* other = log.find(role->device + what);
    if (other == nullptr) continue;
    const double out = other->values[at] - other->values[before], back = other->values[at] - other->values[after];
    const double least = kPowerMovedShare * std::max(std::abs(other->values[before]), 5.0);
    if (out * direction > 0 && back * direction > 0 && std::min(std::abs(out), std::abs(back)) > least) return true;
  }
  return false;
}

// What a reading must stand out by to count as misread; infinite for quantities that may jump.
double leastSpike(const Channel& channel, const std::vector<size_t>& places) {
  if (channel.quantity == Quantity::Temperature)
    return std::max(kSpikeAtLeastK, kSpikeOfNoise * usualStep(channel.values, places));
  if (channel.quantity != Quantity::Power || places.size() < 20) return INFINITY;
  std::vector<double> watts;
  for (const size_t i : places) watts.push_back(std::abs(channel.values[i]));
  const auto high = watts.begin() + static_cast<std::ptrdiff_t>(watts.size() * 99 / 100);
  std::nth_element(watts.begin(), high, watts.end());
  return std::max(kAbsurdPower * *high, 1.0);
}

void findGaps(const std::string& name, const SeriesView& series, std::vector<Problem>& problems) {
  const double interval = medianInterval(series.t);
  if (interval <= 0) return;
  for (size_t i = 1; i < series.size(); ++i) {
    const double distance = series.t[i] - series.t[i - 1];
    if (distance <= kGapIntervals * interval) continue;
    problems.push_back(
        {"gap", name, series.t[i - 1], series.t[i],
         fmt::format("{} has no reading for {:.1f} s from {:.1f} s on; the gap is left out, not bridged: "
                     "look after its source.",
                     name, distance, series.t[i - 1])});
  }
}

}  // namespace

std::vector<Problem> findSpikes(const Log& log, const Channel& channel, std::vector<size_t>& leftOut) {
  std::vector<Problem> problems;
  if (channel.quantity != Quantity::Temperature && channel.quantity != Quantity::Power) return problems;
  std::vector<size_t> place;
  place.reserve(channel.values.size());
  for (size_t i = 0; i < channel.values.size(); ++i) {
    if (std::isfinite(channel.values[i])) place.push_back(i);
  }
  const double least = leastSpike(channel, place);
  for (size_t k = 1; k + 1 < place.size(); ++k) {
    const double before = channel.values[place[k - 1]];
    const double here = channel.values[place[k]];
    const double next = channel.values[place[k + 1]];
    const double out = here - before, back = here - next;
    const double height = std::min(std::abs(out), std::abs(back));
    if (out * back <= 0 || height < least || std::abs(before - next) >= height / 3) continue;
    if (!leftOut.empty() && leftOut.back() == place[k - 1]) continue;
    if (didPowerMove(log, channel, place[k - 1], place[k], place[k + 1])) continue;
    leftOut.push_back(place[k]);
    problems.push_back({"spike", channel.name, log.timeS[place[k]], log.timeS[place[k + 1]],
                        fmt::format("{} jumps to {:.1f} {} and back within one sample at {:.1f} s; it is left out: "
                                    "check how it is read if this comes again.",
                                    channel.name, here, channel.unit, log.timeS[place[k]])});
  }
  return problems;
}

std::vector<Problem> findGapProblems(const RunContext& context) {
  std::vector<Problem> problems;
  const auto& times = context.run.log.timeS;
  const double interval = medianInterval(times);
  for (size_t i = 1; i < times.size() && interval > 0; ++i) {
    if (times[i] - times[i - 1] <= kGapIntervals * interval) continue;
    problems.push_back({"gap", "", times[i - 1], times[i],
                        fmt::format("Nothing was logged for {:.1f} s from {:.1f} s on; the gap is left out: repeat the "
                                    "run if it lies in the window.",
                                    times[i] - times[i - 1], times[i - 1])});
  }
  for (const Channel& channel : context.run.log.channels) {
    // A gap of all channels is told once; a channel's own gap is told of the channel.
    std::vector<Problem> own;
    findGaps(channel.name, context.series.at(channel.name), own);
    for (Problem& gap : own) {
      const bool isShared = std::any_of(problems.begin(), problems.end(), [&](const Problem& p) {
        return p.kind == "gap" && p.channel.empty() && p.startS <= gap.endS && p.endS >= gap.startS &&
               gap.endS - gap.startS <= 1.5 * (p.endS - p.startS);
      });
      if (!isShared) problems.push_back(std::move(gap));
    }
  }
  return problems;
}

}  // namespace ash
