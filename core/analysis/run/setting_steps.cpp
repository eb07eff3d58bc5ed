// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/run/setting_steps.h"

#include <algorithm>
#include <cmath>

#include "analysis/series/series.h"
#include "analysis/series/statistics.h"

namespace ash {
namespace {

constexpr double kOneChangeS = 2, kOfStartS = 5;
constexpr size_t kLeastReadings = 10;

struct Change {
  double atS = 0;
  std::string text;
};

bool isSettingChange(const Event& event) {
  return event.kind == EventKind::Setting || (event.kind == EventKind::Change && event.extra.contains("setting"));
}

// Those inside a load; what is set as it begins is how it was begun.
std::vector<Change> changesIn(const RunLog& run, const TimeSpan& load) {
  std::vector<Change> changes;
  for (const Event& event : run.facts.events) {
    if (!isSettingChange(event) || !(event.atS > load.startS + kOfStartS && event.atS < load.endS)) continue;
    changes.push_back({event.atS, event.text});
  }
  std::stable_sort(changes.begin(), changes.end(), [](const Change& a, const Change& b) { return a.atS < b.atS; });
  std::vector<Change> apart;
  for (const Change& change : changes) {
    if (apart.empty() || change.atS - apart.back().atS > kOneChangeS)
      apart.push_back(change);
    else
      apart.back().text += " " + change.text;
  }
  return apart;
}

// What a change may move: not limits, which are what was changed.
bool isStepped(const Channel& channel) {
  if (channel.role.empty() || channel.role.text().ends_with(".limit")) return false;
  switch (channel.quantity) {
    case Quantity::Temperature:
    case Quantity::Clock:
    case Quantity::Power:
    case Quantity::FanSpeed:
    case Quantity::Noise:
    case Quantity::Rate:
    case Quantity::Points:
    case Quantity::FrameRate:
    case Quantity::Throughput:
      return true;
    default:
      return false;
  }
}

SteppedReading steppedOf(const RunLog& run, const Channel& channel, const SettingStep& step) {
  const Series all = seriesOf(run.log, channel);
  const Stats before = statsOf(viewOf(all, step.before), channel.stepHint),
              after = statsOf(viewOf(all, step.after), channel.stepHint);
  SteppedReading reading{channel.role.text(), channel.unit};
  if (before.n < kLeastReadings || after.n < kLeastReadings) return reading;
  reading.before = before.mean;
  reading.after = after.mean;
  reading.difference = after.mean - before.mean;
  const double half = 1.96 * std::hypot(before.se, after.se);
  reading.low = reading.difference - half;
  reading.high = reading.difference + half;
  return reading;
}

TimeSpan laterHalf(double startS, double endS) { return {startS + (endS - startS) / 2, endS}; }

}  // namespace

std::vector<SettingStep> settingSteps(const RunLog& run, const Figures& figures) {
  std::vector<SettingStep> steps;
  for (const TimeSpan& load : figures.loads) {
    const auto changes = changesIn(run, load);
    for (size_t i = 0; i < changes.size(); ++i) {
      SettingStep step{changes[i].atS, changes[i].text, {}, {}, {}};
      step.before = laterHalf(i == 0 ? load.startS : changes[i - 1].atS, changes[i].atS);
      step.after = laterHalf(changes[i].atS, i + 1 < changes.size() ? changes[i + 1].atS : load.endS);
      for (const Channel& channel : run.log.channels) {
        if (!isStepped(channel)) continue;
        SteppedReading reading = steppedOf(run, channel, step);
        if (std::isfinite(reading.difference)) step.readings.push_back(std::move(reading));
      }
      if (!step.readings.empty()) steps.push_back(std::move(step));
    }
  }
  return steps;
}

}  // namespace ash
