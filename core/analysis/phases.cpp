// SPDX-License-Identifier: GPL-3.0-or-later
#include "analysis/phases.h"

#include <algorithm>
#include <array>
#include <cmath>

#include "analysis/statistics.h"

namespace ash {
namespace {

constexpr double kLongestPauseS = 10;  // a shorter dip does not end a load
constexpr double kShortestLoadS = 20;  // a shorter burst is background work
constexpr double kShortestLoadShare = 0.05;

// In the order in which they tell a load from rest best.
constexpr std::array kSignals = {"work.rate", "frame.rate", "cpu.load",      "cpu.power",     "gpu.load",
                                 "gpu.power", "wall.power", "battery.power", "storage.write", "storage.read"};

struct Signal {
  Series series;
  double threshold = 0;
  bool isAlwaysBusy = false;
};

// Half way between rest and work. Empty when the reading does not tell them apart.
std::optional<Signal> usableSignal(const Log& log, const std::string& name) {
  const Channel* channel = log.find(name);
  if (channel == nullptr) return std::nullopt;
  Signal signal{seriesOf(log, *channel), 0, false};
  if (signal.series.size() < 4) return std::nullopt;
  std::vector<double> sorted = signal.series.v;
  std::sort(sorted.begin(), sorted.end());
  const double low = quantileOfSorted(sorted, 0.02);
  const double high = quantileOfSorted(sorted, 0.95);
  const bool isPercent = channel->quantity == Quantity::Percent;
  if (isPercent && low >= 50) {
    signal.isAlwaysBusy = true;
    return signal;
  }
  const bool hasContrast = high > 1.6 * std::max(low, 0.0) && (!isPercent || high - low > 20);
  if (!hasContrast) return std::nullopt;
  signal.threshold = low + (high - low) / 2;
  return signal;
}

std::optional<Signal> bestSignal(const Log& log) {
  for (const char* name : kSignals) {
    if (auto signal = usableSignal(log, name)) return signal;
  }
  return std::nullopt;
}

// Spans above the threshold; short pauses are bridged, short bursts dropped.
std::vector<TimeSpan> busySpans(const Signal& signal) {
  const Series& series = signal.series;
  const double interval = medianInterval(series.t);
  if (signal.isAlwaysBusy) return {{series.t.front(), series.t.back() + interval}};
  std::vector<TimeSpan> spans;
  for (size_t i = 0; i < series.size(); ++i) {
    if (series.v[i] < signal.threshold) continue;
    const double end = i + 1 < series.size() ? series.t[i + 1] : series.t[i] + interval;
    if (!spans.empty() && series.t[i] - spans.back().endS <= kLongestPauseS)
      spans.back().endS = end;
    else
      spans.push_back({series.t[i], end});
  }
  const double shortest = std::max(kShortestLoadS, kShortestLoadShare * (series.t.back() - series.t.front()));
  std::erase_if(spans, [&](const TimeSpan& span) { return span.lengthS() < shortest; });
  return spans;
}

std::vector<PhaseSpan> detectPhases(const Log& log) {
  if (log.timeS.empty()) return {};
  const auto signal = bestSignal(log);
  if (!signal) return {};
  const auto spans = busySpans(*signal);
  if (spans.empty()) return {};
  const double firstS = log.timeS.front();
  const double lastS = log.timeS.back();
  std::vector<PhaseSpan> phases;
  if (spans.front().startS > firstS) phases.push_back({PhaseKind::Idle, firstS, spans.front().startS, false});
  phases.push_back({PhaseKind::Soak, spans.front().startS, spans.back().endS, false});
  if (spans.back().endS <= lastS) phases.push_back({PhaseKind::Cool, spans.back().endS, lastS, false});
  return phases;
}

}  // namespace

std::vector<PhaseSpan> phasesOf(const RunLog& run) {
  if (run.facts.phases.empty()) return detectPhases(run.log);
  std::vector<PhaseSpan> phases = run.facts.phases;
  std::sort(phases.begin(), phases.end(), [](const PhaseSpan& a, const PhaseSpan& b) { return a.startS < b.startS; });
  return phases;
}

std::optional<TimeSpan> loadPhase(const RunLog& run, const std::vector<PhaseSpan>& phases) {
  std::optional<TimeSpan> load;
  for (const PhaseSpan& phase : phases) {
    if (!isUnderLoad(phase.kind)) continue;
    if (!load) load = TimeSpan{phase.startS, phase.endS};
    load->endS = std::max(load->endS, phase.endS);
  }
  if (!load || run.log.timeS.empty()) return std::nullopt;
  // The first sample at or after the given start, so that every figure begins on a sample.
  const auto& times = run.log.timeS;
  const auto first = std::lower_bound(times.begin(), times.end(), load->startS - 1e-9);
  if (first == times.end()) return std::nullopt;
  load->startS = std::max(*first, load->startS);
  const auto signal = phases.front().isGiven ? bestSignal(run.log) : std::nullopt;
  if (signal && !signal->isAlwaysBusy) {
    // A soak without load is allowed and is no load phase: look whether anything was ever busy inside.
    const Series inside = slice(signal->series, *load);
    const bool anyBusy =
        std::any_of(inside.v.begin(), inside.v.end(), [&](double v) { return v >= signal->threshold; });
    if (!inside.empty() && !anyBusy) return std::nullopt;
  }
  return load;
}

std::optional<TimeSpan> idlePhase(const std::vector<PhaseSpan>& phases) {
  for (const PhaseSpan& phase : phases) {
    if (phase.kind == PhaseKind::Idle) return TimeSpan{phase.startS, phase.endS};
  }
  return std::nullopt;
}

}  // namespace ash
