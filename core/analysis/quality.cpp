// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong with the samples themselves: spikes, gaps, a reading that stands still.
#include <fmt/format.h>

#include <algorithm>
#include <cmath>

#include "analysis/context.h"
#include "model/role.h"

namespace ash {
namespace {

constexpr double kSpikeAtLeastK = 8;  // out and back within one sample: faster than heat can move
constexpr double kGapIntervals = 5;   // contract, "Energy"
constexpr double kStuckAtLeastS = 120;

double neighbourNoise(const Series& series) {
  std::vector<double> steps;
  for (size_t i = 1; i < series.size(); ++i) steps.push_back(std::abs(series.v[i] - series.v[i - 1]));
  return medianOf(std::move(steps));
}

void findGaps(const std::string& name, const Series& series, std::vector<Problem>& problems) {
  const double interval = medianInterval(series.t);
  if (interval <= 0) return;
  for (size_t i = 1; i < series.size(); ++i) {
    const double distance = series.t[i] - series.t[i - 1];
    if (distance <= kGapIntervals * interval) continue;
    problems.push_back(
        {"gap", name, series.t[i - 1], series.t[i],
         fmt::format("{} has no reading for {:.1f} s from {:.1f} s on; the gap is left out, not bridged.", name,
                     distance, series.t[i - 1])});
  }
}

void findStuck(const RunContext& context, const std::string& name, const Series& series,
               std::vector<Problem>& problems) {
  if (!context.load || !isLoadedTemperature(name)) return;
  // A temperature that does not move at all while the load starts is no temperature.
  const Series part = slice(series, {context.load->startS - 1, context.load->startS + kStuckAtLeastS});
  if (part.size() < 20 || part.t.back() - part.t.front() < kStuckAtLeastS / 2) return;
  const auto [low, high] = std::minmax_element(part.v.begin(), part.v.end());
  if (*high > *low || name != context.watched) return;
  problems.push_back(
      {"stuck", name, part.t.front(), part.t.back(),
       fmt::format("{} shows {:.1f} °C without any change while the load starts: it may not be read at all.", name,
                   *low)});
}

}  // namespace

std::vector<Problem> findSpikes(const Log& log, const Channel& channel, std::vector<size_t>& leftOut) {
  std::vector<Problem> problems;
  if (channel.quantity != Quantity::Temperature) return problems;
  std::vector<size_t> place;
  for (size_t i = 0; i < channel.values.size(); ++i) {
    if (std::isfinite(channel.values[i])) place.push_back(i);
  }
  Series series = seriesOf(log, channel);
  const double least = std::max(kSpikeAtLeastK, 8 * neighbourNoise(series));
  for (size_t k = 1; k + 1 < place.size(); ++k) {
    const double before = channel.values[place[k - 1]];
    const double here = channel.values[place[k]];
    const double next = channel.values[place[k + 1]];
    const double out = here - before, back = here - next;
    const bool isOutAndBack = out * back > 0 && std::min(std::abs(out), std::abs(back)) >= least &&
                              std::abs(before - next) < std::min(std::abs(out), std::abs(back)) / 3;
    if (!isOutAndBack || (!leftOut.empty() && leftOut.back() == place[k - 1])) continue;
    leftOut.push_back(place[k]);
    problems.push_back({"spike", channel.name, log.timeS[place[k]], log.timeS[place[k + 1]],
                        fmt::format("{} jumps to {:.1f} °C and back within one sample at {:.1f} s; it is left out.",
                                    channel.name, here, log.timeS[place[k]])});
  }
  return problems;
}

std::vector<Problem> findQualityProblems(const RunContext& context) {
  std::vector<Problem> problems;
  const auto& times = context.run.log.timeS;
  const double interval = medianInterval(times);
  for (size_t i = 1; i < times.size() && interval > 0; ++i) {
    if (times[i] - times[i - 1] <= kGapIntervals * interval) continue;
    problems.push_back(
        {"gap", "", times[i - 1], times[i],
         fmt::format("Nothing was logged for {:.1f} s from {:.1f} s on.", times[i] - times[i - 1], times[i - 1])});
  }
  for (const Channel& channel : context.run.log.channels) {
    const Series& series = context.series.at(channel.name);
    // A gap of all channels is told once; a channel's own gap is told of the channel.
    std::vector<Problem> own;
    findGaps(channel.name, series, own);
    for (Problem& gap : own) {
      const bool isShared = std::any_of(problems.begin(), problems.end(), [&](const Problem& p) {
        return p.kind == "gap" && p.channel.empty() && p.startS <= gap.startS + 1e-9 && p.endS >= gap.endS - 1e-9;
      });
      if (!isShared) problems.push_back(std::move(gap));
    }
    findStuck(context, channel.name, series, problems);
  }
  return problems;
}

}  // namespace ash
